package app

import (
	"context"
	"encoding/json"
	"fmt"
	"sync"
	"time"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// learnedFor is how long learned priors are kept: new outcomes come a few a day.
const learnedFor = 10 * time.Minute

// learned keeps the company's priors between diagnoses.
type learned struct {
	mu     sync.Mutex
	at     time.Time
	priors map[fault.ID]float64
}

// priors are the route frequencies that the company's own outcomes have made.
func (s *Service) priors(ctx context.Context) (map[fault.ID]float64, error) {
	s.learned.mu.Lock()
	defer s.learned.mu.Unlock()
	if s.learned.priors != nil && s.now().Sub(s.learned.at) < learnedFor {
		return s.learned.priors, nil
	}
	counts, visits, err := s.store.ConfirmedCounts(ctx)
	if err != nil {
		return nil, fmt.Errorf("counting confirmed causes: %w", err)
	}
	by := make(map[fault.ID]int, len(counts))
	for id, n := range counts {
		by[fault.ID(id)] = n
	}
	s.learned.priors, s.learned.at = diagnosis.Learn(by, visits), s.now()
	return s.learned.priors, nil
}

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
	rows, err := s.store.SettledVisits(ctx, recordReach)
	if err != nil {
		return TrackRecord{}, fmt.Errorf("reading settled visits: %w", err)
	}
	var outcomes []diagnosis.Settled
	for _, r := range rows {
		var shown Verdict
		if err := json.Unmarshal(r.Diagnosis, &shown); err != nil {
			return TrackRecord{}, fmt.Errorf("reading a stored diagnosis: %w", err)
		}
		if len(shown.Suspects) == 0 {
			continue // logged without anything to judge
		}
		o := diagnosis.Settled{Was: fault.ID(r.Confirmed)}
		if r.Confirmed == nothingFound {
			o.Was = fault.Healthy
		}
		for _, sp := range shown.Suspects {
			o.Said = append(o.Said, diagnosis.Said{Fault: fault.ID(sp.ID), P: sp.P})
		}
		outcomes = append(outcomes, o)
	}
	priors, err := s.priors(ctx)
	if err != nil {
		return TrackRecord{}, err
	}
	t := diagnosis.Score(outcomes)
	out := TrackRecord{Settled: t.Settled, First: t.First, Three: t.Three, Brier: t.Brier, Calibration: t.Calibration, Faults: []FaultRecord{}, Bins: []ReliabilityBin{}}
	for _, f := range t.Faults {
		known, _ := fault.LookUp(f.Fault, pad.Sand)
		name := known.Name
		if f.Fault == fault.FilterLoaded {
			name = "app.filter-loaded-with-dirt"
		}
		out.Faults = append(out.Faults, FaultRecord{string(f.Fault), name, f.Times, f.First, f.Three, 100 * priors[f.Fault], 100 * known.Prior})
	}
	for _, b := range t.Bins {
		out.Bins = append(out.Bins, ReliabilityBin(b))
	}
	return out, nil
}
