package standing

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/core/procedure"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// RunsListed is how many runs a pool's list shows.
const RunsListed = 50

// Guided is a run on record with what happened in it; of whoever is not in names by their id.
func Guided(r store.Run, names map[uuid.UUID]string) (*guided.Run, error) {
	by := func(id uuid.UUID) string {
		if name, ok := names[id]; ok {
			return name
		}
		return id.String()
	}
	out := &guided.Run{
		ID:        r.ID.String(),
		PoolID:    r.PoolID.String(),
		StopID:    company.IDOr(r.StopID),
		By:        by(r.StartedBy),
		StartedAt: r.StartedAt,
		Script:    new(procedure.Script),
		Events:    make([]procedure.Event, len(r.Events)),
	}
	if err := json.Unmarshal(r.Script, out.Script); err != nil {
		return nil, fmt.Errorf("reading run %s: %w", r.ID, err)
	}
	for i, e := range r.Events {
		out.Events[i] = procedure.Event{
			At:     e.At,
			Act:    procedure.Act(e.Act),
			Turn:   e.Turn,
			Step:   e.Step,
			Option: e.Option,
			Note:   e.Note,
			By:     by(e.MadeBy),
		}
		if len(e.Reading) > 0 && string(e.Reading) != "null" {
			out.Events[i].Reading = new(casefile.Reading)
			if err := json.Unmarshal(e.Reading, out.Events[i].Reading); err != nil {
				return nil, fmt.Errorf("reading event %d of run %s: %w", e.Seq, r.ID, err)
			}
		}
	}
	return out, nil
}

// Fold follows a run on record.
func Fold(r store.Run) (*procedure.Run, error) {
	g, err := Guided(r, nil)
	if err != nil {
		return nil, err
	}
	return g.Fold()
}

// endedRuns are the runs of a stop that are over, oldest first.
func (s *Keeper) endedRuns(ctx context.Context, stop store.Stop) ([]judge.Done, error) {
	runs, err := s.Store.RunsOf(ctx, stop.PoolID, &stop.ID, RunsListed)
	if err != nil {
		return nil, fmt.Errorf("reading the stop's runs: %w", err)
	}
	out := []judge.Done{}
	for _, r := range runs {
		f, err := Fold(r)
		if err != nil {
			return nil, err
		}
		if f.Ended != nil {
			out = append(out, judge.Done{Name: f.Script.Name, Ended: *f.Ended, Result: f.Result()})
		}
	}
	slices.SortStableFunc(out, func(a, b judge.Done) int { return a.Ended.Compare(b.Ended) })
	return out, nil
}
