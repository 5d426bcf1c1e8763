package visit

import (
	"context"
	"fairlap/internal/app/standing"
	"fmt"

	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// FaultRecord is how often one cause was met and named.
type FaultRecord struct {
	ID    string        `json:"id"`
	Name  words.Message `json:"name"`
	Times int           `json:"times"`
	First int           `json:"first" doc:"times that it was the first suspect"`
	Three int           `json:"three" doc:"times that it was among the first three"`
	// PerHundred is how often it is now expected, and Shipped how often before the
	// company's own outcomes, in a hundred visits.
	PerHundred float64 `json:"perHundred"`
	Shipped    float64 `json:"shipped"`
}

// ReliabilityBin is a tenth of the shown chances.
type ReliabilityBin struct {
	N    int     `json:"n"`
	Said float64 `json:"said"`
	Was  float64 `json:"was"`
}

// TrackRecord is how often the shown diagnoses were right.
type TrackRecord struct {
	Settled     int              `json:"settled"`
	First       int              `json:"first"`
	Three       int              `json:"three"`
	Brier       float64          `json:"brier"`
	Calibration float64          `json:"calibration"`
	Faults      []FaultRecord    `json:"faults" nullable:"false"`
	Bins        []ReliabilityBin `json:"bins" nullable:"false"`
}

// recordReach is how many settled visits the record looks back over.
const recordReach = 5000

// TrackRecord scores the diagnoses as they were shown against what was confirmed.
func (s *Service) TrackRecord(ctx context.Context) (TrackRecord, error) {
	rows, err := s.keeper.Store.SettledVisits(ctx, recordReach)
	if err != nil {
		return TrackRecord{}, fmt.Errorf("reading settled visits: %w", err)
	}
	var outcomes []learning.Settled
	for _, r := range rows {
		o := learning.Settled{Was: fault.ID(r.Was)}
		if r.Was == standing.NothingFound {
			o.Was = fault.Healthy
		}
		for i, id := range r.Faults {
			o.Said = append(o.Said, learning.Said{Fault: fault.ID(id), P: r.Odds[i]})
		}
		outcomes = append(outcomes, o)
	}
	priors, err := s.keeper.Priors(ctx)
	if err != nil {
		return TrackRecord{}, err
	}
	t := learning.Score(outcomes)
	out := TrackRecord{
		Settled:     t.Settled,
		First:       t.First,
		Three:       t.Three,
		Brier:       t.Brier,
		Calibration: t.Calibration,
		Faults:      []FaultRecord{},
		Bins:        []ReliabilityBin{},
	}
	for _, f := range t.Faults {
		known, _ := fault.LookUp(f.Fault, pad.Sand)
		name := known.Name
		if f.Fault == fault.FilterLoaded {
			name = "app.filter-loaded-with-dirt"
		}
		out.Faults = append(
			out.Faults,
			FaultRecord{
				ID:         string(f.Fault),
				Name:       name,
				Times:      f.Times,
				First:      f.First,
				Three:      f.Three,
				PerHundred: 100 * priors[f.Fault],
				Shipped:    100 * known.Prior,
			},
		)
	}
	for _, b := range t.Bins {
		out.Bins = append(out.Bins, ReliabilityBin(b))
	}
	return out, nil
}
