package work

import (
	"context"
	"fmt"
	"slices"
	"time"

	"fairlap/core/procedure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// RunLine is one run of the list.
type RunLine struct {
	ID        string        `json:"id"`
	Name      words.Message `json:"name"`
	PoolID    string        `json:"poolId"`
	Street    string        `json:"street"`
	By        string        `json:"by"`
	StartedAt time.Time     `json:"startedAt"`
	Step      int           `json:"step" doc:"of the script, from 0; as many as it has when all are done"`
	Of        int           `json:"of"`
	Left      *time.Time    `json:"left" doc:"for a while, with the pad made safe"`
	Ended     *time.Time    `json:"ended"`
	Why       words.Message `json:"why" doc:"why it ended without its aim; empty: it reached it, or goes on"`
}

// Runs lists the runs that somebody may see, newest first; every word that is looked for
// is in what the pool is called or in what the work is called.
func (s *Service) Runs(
	ctx context.Context, a access.Actor, find string, w access.Window,
) (access.Page[RunLine], error) {
	none := access.Page[RunLine]{}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return none, err
	}
	ask := store.RunsAsk{From: c.Today(s.keeper.Now()), Limit: w.Size, Offset: w.Offset()}
	if a.Role == access.Technician {
		ask.Technician = &a.ID
	}
	for _, word := range company.Sought(find) {
		ask.Find = append(ask.Find, store.SoughtRun{Word: word, Procedures: procedure.Called(word)})
	}
	rows, total, err := s.keeper.Store.Runs(ctx, ask)
	if err != nil {
		return none, fmt.Errorf("listing the runs: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return none, fmt.Errorf("reading the people: %w", err)
	}
	out := access.Page[RunLine]{Items: make([]RunLine, 0, len(rows)), Total: total}
	for _, r := range rows {
		f, err := standing.Fold(r.Run)
		if err != nil {
			return none, err
		}
		at := store.Pool{Street: r.Street, Which: r.Which}
		line := RunLine{
			ID:        r.ID.String(),
			Name:      f.Script.Name,
			PoolID:    r.PoolID.String(),
			Street:    at.Name(),
			By:        names[r.StartedBy],
			StartedAt: r.StartedAt,
			Of:        len(f.Script.Steps),
			Left:      f.Left,
			Ended:     f.Ended,
			Why:       f.Why,
		}
		line.Step = slices.IndexFunc(f.Script.Steps, func(s procedure.ScriptStep) bool { return s.ID == f.At })
		if line.Step < 0 {
			line.Step = line.Of
		}
		out.Items = append(out.Items, line)
	}
	return out, nil
}
