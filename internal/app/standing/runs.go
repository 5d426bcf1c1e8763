package standing

import (
	"context"
	"encoding/json"
	"fmt"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/guided"
	"fairlap/core/procedure"
	"fairlap/core/stop"
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

// bookOf is what the record has of a stop's day book: its runs as far as they came.
func (s *Keeper) bookOf(ctx context.Context, planned store.Stop) (stop.Book, error) {
	runs, err := s.Store.RunsOf(ctx, planned.PoolID, &planned.ID, RunsListed)
	if err != nil {
		return nil, fmt.Errorf("reading the stop's runs: %w", err)
	}
	names, err := s.Names(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the people: %w", err)
	}
	out := stop.Book{}
	for _, r := range runs {
		g, err := Guided(r, names)
		if err != nil {
			return nil, err
		}
		e, err := g.Entry()
		if err != nil {
			return nil, err
		}
		out = append(out, e)
	}
	return stop.Merge(out), nil
}

// AsLeft tells a site what happened at a stop of it so far.
func (s *Keeper) AsLeft(ctx context.Context, at *Site, planned store.Stop) (err error) {
	at.Book, err = s.bookOf(ctx, planned)
	return err
}
