package app

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
)

// WeekView is the days to come, with the due work that goes with their stops.
type WeekView struct {
	Days  []WeekDay   `json:"days" nullable:"false"`
	Later []LaterWork `json:"later" nullable:"false" doc:"due work that no visit of these weeks is free for"`
}

// WeekDay is one technician's day.
type WeekDay struct {
	Date       time.Time  `json:"date"`
	Technician string     `json:"technician"`
	Limit      float64    `json:"limit"`
	Minutes    float64    `json:"minutes"`
	Stops      []WeekStop `json:"stops" nullable:"false"`
	Slid       []Slid     `json:"slid" nullable:"false"`
}

// WeekStop is one pool on a day.
type WeekStop struct {
	PoolID string       `json:"poolId"`
	Street string       `json:"street"`
	Base   float64      `json:"base"`
	Due    []upkeep.Due `json:"due" nullable:"false"`
	Next   *time.Time   `json:"next" doc:"the pool's visit after this one, within these weeks"`
}

// Slid is work that a full day pushed on, and why.
type Slid struct {
	Street string    `json:"street"`
	Name   string    `json:"name"`
	To     time.Time `json:"to"`
	Why    string    `json:"why"`
}

// LaterWork is due work without a visit.
type LaterWork struct {
	PoolID string     `json:"poolId"`
	Street string     `json:"street"`
	Due    upkeep.Due `json:"due"`
}

// dayMinutes is a technician's day (the laps' own limit, as they are planned).
const dayMinutes = 450

// routes are the pools that somebody may see, with their visits and due work, in a
// handful of queries however many pools there are.
func (s *Service) routes(ctx context.Context, a Actor) ([]lap.Route, map[string]string, company, error) {
	c, err := s.company(ctx)
	if err != nil {
		return nil, nil, c, err
	}
	var mine *uuid.UUID
	if a.Role == Technician {
		mine = &a.ID
	}
	pools, err := s.store.Pools(ctx, mine)
	if err != nil {
		return nil, nil, c, fmt.Errorf("listing pools: %w", err)
	}
	ids := make([]uuid.UUID, len(pools))
	for i, p := range pools {
		ids[i] = p.ID
	}
	now := s.now()
	records, err := s.store.PoolRecords(ctx, ids)
	if err != nil {
		return nil, nil, c, fmt.Errorf("reading pads: %w", err)
	}
	visits, err := s.store.VisitsOf(ctx, ids, now.AddDate(-2, 0, 0))
	if err != nil {
		return nil, nil, c, fmt.Errorf("reading visits: %w", err)
	}
	parts, err := s.store.EquipmentOf(ctx, ids...)
	if err != nil {
		return nil, nil, c, fmt.Errorf("reading the equipment: %w", err)
	}
	marks, err := s.store.DueMarksOf(ctx, ids)
	if err != nil {
		return nil, nil, c, fmt.Errorf("reading what was decided: %w", err)
	}
	names, err := s.names(ctx)
	if err != nil {
		return nil, nil, c, err
	}
	out, streets := make([]lap.Route, 0, len(pools)), make(map[string]string, len(pools))
	for _, p := range pools {
		cm, err := s.model(records[p.ID], c.settings)
		if err != nil {
			return nil, nil, c, err
		}
		h := c.historyOf(visits[p.ID], cm, now)
		planned := c.weekly(p, visits[p.ID], now)
		l := c.ledger(records[p.ID], cm, &h, parts[p.ID], marks[p.ID], planned, now)
		r := lap.Route{Pool: p.ID.String(), Base: float64(p.BaseMinutes), Visits: planned, Due: l.List()}
		if p.TechnicianID != nil {
			r.Technician = names[*p.TechnicianID]
		}
		r.At = upkeep.AtVisit(r.Due, r.Visits, c.free)
		streets[r.Pool] = p.Street
		out = append(out, r)
	}
	return out, streets, c, nil
}

// Week shows the coming weeks (1 to 6) day by day.
func (s *Service) Week(ctx context.Context, a Actor, weeks int) (WeekView, error) {
	routes, streets, c, err := s.routes(ctx, a)
	if err != nil {
		return WeekView{}, err
	}
	n := s.now().In(c.zone)
	until := time.Date(n.Year(), n.Month(), n.Day()+7*weeks, 0, 0, 0, 0, c.zone)
	out := WeekView{Days: []WeekDay{}, Later: []LaterWork{}}
	for _, d := range lap.Plan(routes, dayMinutes, until) {
		v := WeekDay{Date: d.Date, Technician: d.Technician, Limit: d.Limit, Minutes: d.Minutes, Stops: []WeekStop{}, Slid: []Slid{}}
		for _, st := range d.Stops {
			next := lap.NextVisit(d.Date)
			stop := WeekStop{st.Pool, streets[st.Pool], st.Base, append([]upkeep.Due{}, st.Due...), nil}
			if next.Before(until) {
				stop.Next = &next
			}
			v.Stops = append(v.Stops, stop)
		}
		for _, sl := range d.Slid {
			v.Slid = append(v.Slid, Slid{streets[sl.Pool], sl.Due.Name, sl.To, sl.Why})
		}
		out.Days = append(out.Days, v)
	}
	for _, r := range routes {
		for i, at := range r.At {
			if at < 0 {
				out.Later = append(out.Later, LaterWork{r.Pool, streets[r.Pool], r.Due[i]})
			}
		}
	}
	return out, nil
}

// DueFile is all due work as CSV, soonest first.
func (s *Service) DueFile(ctx context.Context, a Actor) (PadFile, error) {
	routes, streets, c, err := s.routes(ctx, a)
	if err != nil {
		return PadFile{}, err
	}
	type line struct {
		by    time.Time
		cells []string
	}
	var lines []line
	for _, r := range routes {
		for i, d := range r.Due {
			visit, held := "", ""
			if at := r.At[i]; at >= 0 {
				visit = r.Visits[at].Format(time.DateOnly)
			}
			if d.Hold != nil {
				held = d.Hold.Why
			}
			lines = append(lines, line{d.By, []string{d.By.In(c.zone).Format(time.DateOnly), visit, r.Technician, streets[r.Pool], d.Name, fmt.Sprintf("%.0f", d.Minutes), string(d.Ground), d.Reason, held}})
		}
	}
	slices.SortStableFunc(lines, func(a, b line) int { return cmp.Or(a.by.Compare(b.by), strings.Compare(a.cells[3], b.cells[3])) })
	var text strings.Builder
	w := csv.NewWriter(&text)
	_ = w.Write([]string{"by", "visit", "technician", "pool", "work", "minutes", "ground", "reason", "held"})
	for _, l := range lines {
		for i, cell := range l.cells {
			l.cells[i] = plainCell(cell)
		}
		_ = w.Write(l.cells)
	}
	w.Flush()
	return PadFile{Name: "due-work.csv", Type: "text/csv; charset=utf-8", Content: []byte(text.String())}, w.Error()
}

// plainCell keeps a spreadsheet from taking words for a formula.
func plainCell(s string) string {
	if s != "" && strings.ContainsRune("=+-@\t\r", rune(s[0])) {
		return "'" + s
	}
	return s
}
