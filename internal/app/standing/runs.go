package standing

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"fairlap/core/casefile"
	"fairlap/core/judge"
	"fairlap/core/procedure"
	"fairlap/internal/store"
)

// RunsListed is how many runs a pool's list shows.
const RunsListed = 50

// Fold follows a run as it was written out when it started.
func Fold(r store.Run) (*procedure.Run, error) {
	script := new(procedure.Script)
	if err := json.Unmarshal(r.Script, script); err != nil {
		return nil, fmt.Errorf("reading run %s: %w", r.ID, err)
	}
	events := make([]procedure.Event, len(r.Events))
	for i, e := range r.Events {
		events[i] = procedure.Event{
			At:     e.At,
			Act:    procedure.Act(e.Act),
			Turn:   e.Turn,
			Step:   e.Step,
			Option: e.Option,
			Note:   e.Note,
			By:     e.MadeBy.String(),
		}
		if len(e.Reading) > 0 && string(e.Reading) != "null" {
			events[i].Reading = new(casefile.Reading)
			if err := json.Unmarshal(e.Reading, events[i].Reading); err != nil {
				return nil, fmt.Errorf("reading event %d of run %s: %w", e.Seq, r.ID, err)
			}
		}
	}
	f, err := script.Fold(events)
	if err != nil {
		return nil, fmt.Errorf("following run %s: %w", r.ID, err)
	}
	return f, nil
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
