package route

import (
	"cmp"
	"context"
	"encoding/csv"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

// WeekView is one of the weeks to come, with the due work that goes with its stops.
type WeekView struct {
	From   string           `json:"from" doc:"first day of the week"`
	Days   []WeekDay        `json:"days" nullable:"false"`
	Strip  []StripDay       `json:"strip" nullable:"false" doc:"the coming five weeks, a line a day"`
	People []company.Person `json:"people" nullable:"false" doc:"technicians to give stops to"`
	Later  []LaterWork      `json:"later" nullable:"false" doc:"due work that no visit is free for"`
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

// Week shows one of the coming weeks (1 is the seven days from today) day by day,
// and the month in short.
func (s *Service) Week(ctx context.Context, a access.Actor, week int) (WeekView, error) {
	b, err := s.board(ctx, a)
	if err != nil {
		return WeekView{}, err
	}
	now := s.keeper.Now()
	from, until := weeksOn(b.Company, now, week-1), weeksOn(b.Company, now, week)
	days := s.days(b, weeksOn(b.Company, now, boardWeeks))
	if a.Role == access.Technician {
		days = slices.DeleteFunc(slices.Clone(days), func(d lap.Day) bool {
			return d.Technician != a.ID.String() // a visit of theirs in other hands is on another's board
		})
	}
	out := WeekView{
		From:   from.Format(time.DateOnly),
		Days:   []WeekDay{},
		Strip:  strip(days, weeksOn(b.Company, now, stripWeeks)),
		Later:  []LaterWork{},
		People: []company.Person{},
	}
	usual, at := make(map[uuid.UUID]string, len(b.names)), make(map[string]*store.Pool, len(b.pools))
	for i := range b.pools {
		p := &b.pools[i]
		at[b.routes[i].Pool] = p
		if id := p.TechnicianID; id != nil && usual[*id] == "" {
			usual[*id] = id.String()
		}
	}
	arrive, err := s.onTheRoad(ctx, b.Company, now)
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
		slices.SortStableFunc(v.Stops, func(x, y WeekStop) int { return x.Arrive.Compare(y.Arrive) }) // a day ordered by hand
		for _, sl := range d.Slid {
			v.Slid = append(v.Slid, Slid{Street: at[sl.Pool].Name(), Name: sl.Due.Name, To: sl.To, Why: sl.Why})
		}
		out.Days = append(out.Days, v)
	}
	for _, r := range b.routes {
		for i, visit := range r.At {
			if visit < 0 {
				out.Later = append(out.Later, LaterWork{PoolID: r.Pool, Street: at[r.Pool].Name(), Due: r.Due[i]})
			}
		}
	}
	people, err := s.keeper.People(ctx, a)
	for _, p := range people {
		drives := func(d WeekDay) bool { return d.TechnicianID == p.ID && len(d.Stops) > 0 }
		if !p.Owns || slices.ContainsFunc(out.Days, drives) { // an owner who has pools to drive to
			out.People = append(out.People, p)
		}
	}
	return out, err
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

// DueFile is all due work as CSV, soonest first.
func (s *Service) DueFile(ctx context.Context, a access.Actor) (access.File, error) {
	b, err := s.board(ctx, a)
	if err != nil {
		return access.File{}, err
	}
	type line struct {
		by    time.Time
		cells []string
	}
	var lines []line
	for i, p := range b.pools {
		r := &b.routes[i]
		technician := ""
		if p.TechnicianID != nil {
			technician = b.names[*p.TechnicianID]
		}
		for i, d := range r.Due {
			visit, held := "", words.Message("")
			if at := r.At[i]; at >= 0 {
				visit = r.Visits[at].At.Format(time.DateOnly)
			}
			if d.Hold != nil {
				held = d.Hold.Why
			}
			lines = append(
				lines,
				line{
					d.By,
					[]string{
						d.By.In(b.Zone).Format(time.DateOnly),
						visit,
						technician,
						p.Name(),
						a.Printer.Say(d.Name),
						fmt.Sprintf("%.0f", d.Minutes),
						string(d.Ground),
						a.Printer.Say(d.Reason),
						a.Printer.Say(held),
					},
				},
			)
		}
	}
	slices.SortStableFunc(
		lines,
		func(a, b line) int { return cmp.Or(a.by.Compare(b.by), strings.Compare(a.cells[3], b.cells[3])) },
	)
	var text strings.Builder
	w := csv.NewWriter(&text)
	_ = w.Write([]string{"by", "visit", "technician", "pool", "work", "minutes", "ground", "reason", "held"})
	for _, l := range lines {
		for i, cell := range l.cells {
			l.cells[i] = sheet.Plain(cell)
		}
		_ = w.Write(l.cells)
	}
	w.Flush()
	return access.File{Name: "due-work.csv", Type: "text/csv; charset=utf-8", Content: []byte(text.String())}, w.Error()
}
