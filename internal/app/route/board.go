package route

import (
	"context"
	"fmt"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// board is some people's pools, laid out as routes, with those of whoever shares a day with
// them: what slides from a full day depends on all that is on it.
type board struct {
	company.Company
	whose     map[string]bool // that are meant; nil: everybody and nobody
	pools     []store.Pool
	standings map[uuid.UUID]*standing.Standing
	routes    []lap.Route
	names     map[uuid.UUID]string
}

// seenBy is whose board somebody looks at: a technician at their own, others at everybody's.
func seenBy(a access.Actor) store.Whose {
	if a.Role == access.Technician {
		return store.Whose{People: []uuid.UUID{a.ID}}
	}
	return store.Whose{}
}

// board reads it in a handful of queries however many pools there are.
func (s *Service) board(ctx context.Context, whose store.Whose) (*board, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return nil, err
	}
	b := &board{Company: c, standings: map[uuid.UUID]*standing.Standing{}}
	all := len(whose.People) == 0 && !whose.Nobody
	if !all {
		b.whose = map[string]bool{"": whose.Nobody}
		for _, id := range whose.People {
			b.whose[id.String()] = true
		}
	}
	on := maps.Clone(b.whose)
	for {
		if b.pools, err = s.keeper.Store.Workload(ctx, whose, c.Today(s.keeper.Now())); err != nil {
			return nil, fmt.Errorf("listing pools: %w", err)
		}
		news := slices.DeleteFunc(slices.Clone(b.pools), func(p store.Pool) bool { return b.standings[p.ID] != nil })
		stand, err := s.keeper.Standings(ctx, c, news)
		if err != nil {
			return nil, err
		}
		maps.Copy(b.standings, stand)
		if all || !alsoOn(b.standings, on, &whose) {
			break
		}
	}
	if b.names, err = s.keeper.Names(ctx); err != nil {
		return nil, fmt.Errorf("reading the people: %w", err)
	}
	b.routes = routesOf(b.pools, b.standings, b.names)
	return b, nil
}

// alsoOn adds whoever has a visit of these pools to those whose pools are read, and tells
// whether there were any.
func alsoOn(standings map[uuid.UUID]*standing.Standing, on map[string]bool, whose *store.Whose) bool {
	more := false
	for _, st := range standings {
		for _, v := range st.Planned {
			if on[v.Technician] {
				continue
			}
			more, on[v.Technician] = true, true
			if id, err := uuid.Parse(v.Technician); err == nil {
				whose.People = append(whose.People, id)
			} else {
				whose.Nobody = true
			}
		}
	}
	return more
}

// means tells whether somebody's days are meant.
func (b *board) means(technician string) bool { return b.whose == nil || b.whose[technician] }

// meansPool tells whether a pool is theirs, or theirs for a visit.
func (b *board) meansPool(p *store.Pool) bool {
	return b.means(company.IDOr(p.TechnicianID)) ||
		slices.ContainsFunc(b.standings[p.ID].Planned, func(v lap.Visit) bool { return b.means(v.Technician) })
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
