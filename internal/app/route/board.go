package route

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// board is the pools that somebody may see, laid out as routes.
type board struct {
	company.Company
	pools     []store.Pool
	standings map[uuid.UUID]*standing.Standing
	routes    []lap.Route
	names     map[uuid.UUID]string
}

// board reads it in a handful of queries however many pools there are.
func (s *Service) board(ctx context.Context, a access.Actor) (*board, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return nil, err
	}
	var mine *uuid.UUID
	if a.Role == access.Technician {
		mine = &a.ID
	}
	b := &board{Company: c}
	if b.pools, err = s.keeper.Store.Workload(ctx, mine, c.Today(s.keeper.Now())); err != nil {
		return nil, fmt.Errorf("listing pools: %w", err)
	}
	if b.standings, err = s.keeper.Standings(ctx, c, b.pools); err != nil {
		return nil, err
	}
	if b.names, err = s.keeper.Names(ctx); err != nil {
		return nil, fmt.Errorf("reading the people: %w", err)
	}
	b.routes = routesOf(b.pools, b.standings, b.names)
	return b, nil
}

// routesOf lays pools out; a visit of somebody who has left is nobody's.
func routesOf(pools []store.Pool, standings map[uuid.UUID]*standing.Standing, names map[uuid.UUID]string) []lap.Route {
	here := make(map[string]bool, len(names))
	for id := range names {
		here[id.String()] = true
	}
	out := make([]lap.Route, len(pools))
	for i := range pools {
		p := &pools[i]
		st := standings[p.ID]
		visits := st.Planned
		gone := func(v lap.Visit) bool { return v.Technician != "" && !here[v.Technician] }
		if slices.ContainsFunc(visits, gone) {
			visits = slices.Clone(visits)
			for v := range visits {
				if gone(visits[v]) {
					visits[v].Technician = ""
				}
			}
		}
		out[i] = lap.Route{
			Pool:   st.Id,
			Base:   float64(p.BaseMinutes),
			Order:  i,
			Place:  placeOf(p),
			Visits: visits,
			Due:    st.Due,
			At:     st.At,
		}
	}
	return out
}

// until is the midnight some weeks after a time's day.
func weeksOn(c company.Company, now time.Time, weeks int) time.Time {
	n := now.In(c.Zone)
	return time.Date(n.Year(), n.Month(), n.Day()+7*weeks, 0, 0, 0, 0, c.Zone)
}

// days plans a board until a midnight.
func (s *Service) days(b *board, until time.Time) []lap.Day {
	return lap.Plan(b.routes, s.terms(until))
}
