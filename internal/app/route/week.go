package route

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// WeekView is one of the weeks to come, with the due work that goes with its stops.
type WeekView struct {
	From  string      `json:"from" doc:"first day of the week"`
	Days  []WeekDay   `json:"days" nullable:"false"`
	Strip []StripDay  `json:"strip" nullable:"false" doc:"the coming five weeks, a line a day"`
	Rows  []WeekRow   `json:"rows" nullable:"false" doc:"whose days are shown"`
	Total int         `json:"total" doc:"whose days there are in all: rows come in pages"`
	Size  int         `json:"size" doc:"rows of a page"`
	Later []LaterWork `json:"later" nullable:"false" doc:"due work that no visit is free for"`
}

// WeekRow is somebody whose days are shown; an empty id is nobody.
type WeekRow struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

// weekRows is how many people's days stand on a page of a week.
const weekRows = 6

// WeekAsk says which of the coming weeks is asked for, and whose.
type WeekAsk struct {
	Week  int        // 1 is the seven days from today
	Page  int        // of the people, weekRows each; from 1
	Whose *uuid.UUID // one of them alone; nil: all
}

// WeekDay is one technician's day.
type WeekDay struct {
	Date         string     `json:"date" doc:"like 2026-11-24"`
	TechnicianID string     `json:"technicianId" doc:"empty: nobody goes yet"`
	Technician   string     `json:"technician"`
	Limit        float64    `json:"limit"`
	Minutes      float64    `json:"minutes"`
	Stops        []WeekStop `json:"stops" nullable:"false"`
	Slid         []Slid     `json:"slid" nullable:"false"`
}

// WeekStop is one pool on a day.
type WeekStop struct {
	PoolID string       `json:"poolId"`
	Street string       `json:"street"`
	On     string       `json:"on" doc:"the day that the pool's weekday gives"`
	Moved  bool         `json:"moved" doc:"not on its own day, or not by the usual hand"`
	Arrive time.Time    `json:"arrive"`
	Drive  float64      `json:"drive" doc:"minutes from the stop before"`
	Base   float64      `json:"base"`
	Due    []upkeep.Due `json:"due" nullable:"false"`
	Usual  string       `json:"usual" doc:"id of whose pool it is; empty: nobody's"`
	Visits []string     `json:"visits" nullable:"false" doc:"the days of this pool's coming visits: where its work can go"`
}

// StripDay is one day of the month ahead, everybody's laps added up.
type StripDay struct {
	Date    string  `json:"date"`
	Stops   int     `json:"stops"`
	Minutes float64 `json:"minutes"`
	Limit   float64 `json:"limit" doc:"of all who are out that day"`
	Clean   int     `json:"clean" doc:"filters to clean"`
	Other   int     `json:"other" doc:"other due work"`
}

// stripWeeks is how far the month strip looks, boardWeeks how far the board does.
const stripWeeks, boardWeeks = 5, 6

// Slid is work that a full day pushed on, and why.
type Slid struct {
	Street string        `json:"street"`
	Name   words.Message `json:"name"`
	To     time.Time     `json:"to"`
	Why    words.Message `json:"why"`
}

// LaterWork is due work without a visit.
type LaterWork struct {
	PoolID string     `json:"poolId"`
	Street string     `json:"street"`
	Due    upkeep.Due `json:"due"`
}

// drivers are the people who have days to plan, in the order of a board: nobody, where there
// are pools that are nobody's, then technicians, then owners who drive.
func (s *Service) drivers(ctx context.Context, a access.Actor) ([]company.Person, []WeekRow, error) {
	people, err := s.keeper.People(ctx, a)
	if err != nil {
		return nil, nil, err
	}
	if a.Role == access.Technician {
		people = slices.DeleteFunc(people, func(p company.Person) bool { return p.ID != a.ID.String() })
		return people, []WeekRow{{ID: a.ID.String(), Name: a.Name}}, nil
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return nil, nil, err
	}
	var owners []uuid.UUID
	for _, p := range people {
		if p.Owns {
			owners = append(owners, uuid.MustParse(p.ID))
		}
	}
	drive, nobodys, err := s.keeper.Store.Drive(ctx, owners, c.Today(s.keeper.Now()))
	if err != nil {
		return nil, nil, fmt.Errorf("finding who drives: %w", err)
	}
	var rows []WeekRow
	if nobodys {
		rows = append(rows, WeekRow{})
	}
	people = slices.DeleteFunc(people, func(p company.Person) bool { return p.Owns && !drive[uuid.MustParse(p.ID)] })
	for _, p := range people {
		rows = append(rows, WeekRow{ID: p.ID, Name: p.Name})
	}
	return people, rows, nil
}

// Drivers are the people who have days to plan, to give stops to.
func (s *Service) Drivers(ctx context.Context, a access.Actor) ([]company.Person, error) {
	people, _, err := s.drivers(ctx, a)
	return people, err
}

// page are the rows of a page, or the one that is asked for alone.
func (w *WeekAsk) page(rows []WeekRow) []WeekRow {
	if w.Whose != nil {
		return slices.DeleteFunc(slices.Clone(rows), func(r WeekRow) bool { return r.ID != w.Whose.String() })
	}
	from := min(max(0, w.Page-1)*weekRows, len(rows))
	return rows[from:min(from+weekRows, len(rows))]
}

// Week shows one of the coming weeks day by day, and the month in short, of a page of people.
func (s *Service) Week(ctx context.Context, a access.Actor, ask WeekAsk) (WeekView, error) {
	_, rows, err := s.drivers(ctx, a)
	if err != nil {
		return WeekView{}, err
	}
	shown := ask.page(rows)
	whose := theirs(shown)
	b, err := s.board(ctx, whose)
	if err != nil {
		return WeekView{}, err
	}
	now := s.keeper.Now()
	from, until := weeksOn(b.Company, now, ask.Week-1), weeksOn(b.Company, now, ask.Week)
	// A visit of theirs in other hands is on another's row.
	days := slices.DeleteFunc(
		s.days(b, weeksOn(b.Company, now, boardWeeks)),
		func(d lap.Day) bool { return !b.means(d.Technician) },
	)
	out := WeekView{
		From:  from.Format(time.DateOnly),
		Days:  []WeekDay{},
		Strip: strip(days, weeksOn(b.Company, now, stripWeeks)),
		Later: []LaterWork{},
		Rows:  shown,
		Total: len(rows),
		Size:  weekRows,
	}
	usual, at := make(map[uuid.UUID]string, len(b.names)), make(map[string]*store.Pool, len(b.pools))
	for i := range b.pools {
		p := &b.pools[i]
		at[b.routes[i].Pool] = p
		if id := p.TechnicianID; id != nil && usual[*id] == "" {
			usual[*id] = id.String()
		}
	}
	arrive, err := s.onTheRoad(ctx, b.Company, now, whose.People...)
	if err != nil {
		return WeekView{}, err
	}
	for _, d := range days {
		if d.Date.Before(from) {
			continue
		}
		if !d.Date.Before(until) {
			break
		}
		v := WeekDay{
			Date:         d.Date.Format(time.DateOnly),
			TechnicianID: d.Technician,
			Limit:        d.Limit,
			Minutes:      d.Minutes,
			Stops:        make([]WeekStop, 0, len(d.Stops)),
			Slid:         []Slid{},
		}
		if id, err := uuid.Parse(d.Technician); err == nil {
			v.Technician = b.names[id]
		}
		for _, st := range d.Stops {
			due := st.Due
			if due == nil {
				due = []upkeep.Due{}
			}
			p, whose := at[st.Pool], ""
			if p.TechnicianID != nil {
				whose = usual[*p.TechnicianID]
			}
			v.Stops = append(
				v.Stops,
				WeekStop{
					PoolID: st.Pool,
					Street: p.Name(),
					On:     st.Visit.On.Format(time.DateOnly),
					Moved:  st.Visit.Moved(whose),
					Arrive: arrive(&d, &st),
					Drive:  st.Drive,
					Base:   st.Base,
					Due:    due,
					Usual:  whose,
					Visits: b.standings[p.ID].Dates,
				},
			)
		}
		slices.SortStableFunc(
			v.Stops,
			func(x, y WeekStop) int { return x.Arrive.Compare(y.Arrive) },
		) // a day ordered by hand
		for _, sl := range d.Slid {
			v.Slid = append(v.Slid, Slid{Street: at[sl.Pool].Name(), Name: sl.Due.Name, To: sl.To, Why: sl.Why})
		}
		out.Days = append(out.Days, v)
	}
	for _, r := range b.routes {
		if !b.meansPool(at[r.Pool]) {
			continue
		}
		for i, visit := range r.At {
			if visit < 0 {
				out.Later = append(out.Later, LaterWork{PoolID: r.Pool, Street: at[r.Pool].Name(), Due: r.Due[i]})
			}
		}
	}
	return out, nil
}

// strip adds days up over technicians.
func strip(days []lap.Day, until time.Time) []StripDay {
	out := []StripDay{}
	for _, d := range days {
		if !d.Date.Before(until) {
			break
		}
		date := d.Date.Format(time.DateOnly)
		if n := len(out); n == 0 || out[n-1].Date != date {
			out = append(out, StripDay{Date: date})
		}
		s := &out[len(out)-1]
		s.Stops += len(d.Stops)
		s.Minutes += d.Minutes
		s.Limit += d.Limit
		for _, st := range d.Stops {
			for i := range st.Due {
				if st.Due[i].Item == string(upkeep.CleanFilter) {
					s.Clean++
				} else {
					s.Other++
				}
			}
		}
	}
	return out
}
