package app

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// StopView is one stop of a lap.
type StopView struct {
	ID        string     `json:"id"`
	PoolID    string     `json:"poolId"`
	Street    string     `json:"street"`
	Equipment string     `json:"equipment"`
	Position  int        `json:"position"`
	PlannedAt time.Time  `json:"plannedAt"`
	Minutes   int        `json:"minutes"`
	State     string     `json:"state" enum:"done,here,ahead"`
	Reason    lap.Reason `json:"reason"`
	Load      float64    `json:"load"`
	Measured  bool       `json:"measured" doc:"the load was read at this stop; else it is expected"`
	VisitID   string     `json:"visitId"`
	Due       []string   `json:"due" nullable:"false" doc:"work that falls due before the visit after this one"`
}

// LapView is a technician's day.
type LapView struct {
	ID           string            `json:"id"`
	Day          string            `json:"day"`
	Technician   string            `json:"technician"`
	StartsAt     time.Time         `json:"startsAt"`
	LimitMinutes int               `json:"limitMinutes"`
	Minutes      int               `json:"minutes" doc:"from the start to the end of the last stop"`
	Stops        []StopView        `json:"stops" nullable:"false"`
	Van          []upkeep.Material `json:"van" nullable:"false" doc:"what the due work of the stops ahead takes"`
}

// Lap shows a technician's lap of a day ("" for today). Office and owner name
// whose; for a technician it is always their own.
func (s *Service) Lap(ctx context.Context, a Actor, day, technician string) (LapView, error) {
	c, err := s.company(ctx)
	if err != nil {
		return LapView{}, err
	}
	now := s.now()
	date := c.today(now)
	if day != "" {
		if date, err = time.Parse(time.DateOnly, day); err != nil {
			return LapView{}, FieldErrors{{"day", "Type the day like 2026-11-24."}}
		}
	}
	who := a.ID
	if technician != "" {
		if who, err = uuid.Parse(technician); err != nil {
			return LapView{}, FieldErrors{{"technician", "This technician is not known."}}
		}
	}
	if !a.maySee(&who) {
		return LapView{}, ErrForbidden
	}
	u, err := s.store.UserByID(ctx, who)
	if err != nil {
		return LapView{}, fmt.Errorf("finding the technician: %w", err)
	}
	l, err := s.store.LapOn(ctx, who, date)
	if err != nil {
		return LapView{}, fmt.Errorf("finding the lap: %w", err)
	}
	return s.lapView(ctx, c, l, u.Name, now)
}

// People lists technicians, for whoever may see their laps.
func (s *Service) People(ctx context.Context, a Actor) ([]Person, error) {
	us, err := s.store.Users(ctx)
	out := []Person{}
	for _, u := range us {
		if Role(u.Role) == Technician && a.maySee(&u.ID) {
			out = append(out, Person{u.ID.String(), u.Name})
		}
	}
	return out, err
}

// Person is somebody by name.
type Person struct {
	ID   string `json:"id"`
	Name string `json:"name"`
}

func (s *Service) lapView(ctx context.Context, c company, l store.Lap, technician string, now time.Time) (LapView, error) {
	out := LapView{ID: l.ID.String(), Day: l.Day.Format(time.DateOnly), Technician: technician, StartsAt: l.StartsAt, LimitMinutes: l.LimitMinutes, Stops: []StopView{}, Van: []upkeep.Material{}}
	pools, stops := make([]uuid.UUID, len(l.Stops)), make([]uuid.UUID, len(l.Stops))
	for i, st := range l.Stops {
		pools[i], stops[i] = st.PoolID, st.ID
	}
	records, err := s.store.PoolRecords(ctx, pools)
	if err != nil {
		return out, fmt.Errorf("reading the lap's pools: %w", err)
	}
	visits, err := s.store.VisitsOf(ctx, pools, now.AddDate(-2, 0, 0))
	if err != nil {
		return out, fmt.Errorf("reading the lap's visits: %w", err)
	}
	logged, err := s.store.VisitOfStops(ctx, stops)
	if err != nil {
		return out, fmt.Errorf("reading what was logged: %w", err)
	}
	parts, err := s.store.EquipmentOf(ctx, pools...)
	if err != nil {
		return out, fmt.Errorf("reading the lap's equipment: %w", err)
	}
	marks, err := s.store.DueMarksOf(ctx, pools)
	if err != nil {
		return out, fmt.Errorf("reading what was decided: %w", err)
	}
	here := false
	var ahead [][]upkeep.Due
	for _, st := range l.Stops {
		r := records[st.PoolID]
		cm, err := s.model(r, c.settings)
		if err != nil {
			return out, err
		}
		kind := cm.model.Doc.Filter.Kind
		v := StopView{ID: st.ID.String(), PoolID: st.PoolID.String(), Street: r.Pool.Street, Equipment: filterWords(&cm.model.Doc),
			Position: st.Position, PlannedAt: st.PlannedAt, Minutes: st.Minutes, Due: []string{}}
		out.Minutes = int(st.PlannedAt.Add(time.Duration(st.Minutes) * time.Minute).Sub(l.StartsAt).Minutes())
		if done, ok := logged[st.ID]; ok {
			v.State, v.VisitID = "done", done.ID.String()
			v.Reason = doneReason(done, kind)
			if beliefOf(done.LoadMean, done.LoadSD).Tells() {
				v.Load, v.Measured = max(0, *done.LoadMean), true
			}
			if done.Cleaned && done.AfterMean != nil {
				v.Load = max(0, *done.AfterMean)
			}
			out.Stops = append(out.Stops, v)
			continue
		}
		v.State = "ahead"
		if !here {
			v.State, here = "here", true
		}
		h := c.historyOf(visits[st.PoolID], cm, st.PlannedAt)
		v.Load = max(0, h.State.Load)
		v.Reason = lap.ReasonFor(aheadOf(c, cm, h, visits[st.PoolID], st, r))
		l := c.ledger(r, cm, &h, parts[st.PoolID], marks[st.PoolID], c.weekly(r.Pool, nil, st.PlannedAt), st.PlannedAt)
		var due []upkeep.Due
		for _, d := range l.List() {
			if d.By.Before(lap.NextVisit(st.PlannedAt)) && d.Snoozed == nil && d.Hold == nil {
				due = append(due, d)
				if !saidBy(v.Reason, &d) {
					v.Due = append(v.Due, d.Name)
				}
			}
		}
		ahead = append(ahead, due)
		out.Stops = append(out.Stops, v)
	}
	out.Van = van(ahead)
	return out, nil
}

// saidBy tells whether a stop's one reason names the work already.
func saidBy(r lap.Reason, d *upkeep.Due) bool {
	return r.Mark == lap.MarkAct && d.Item == string(upkeep.CleanFilter) || r.Mark == lap.MarkJob && d.Item == string(upkeep.TakeCleanLine)
}

func aheadOf(c company, cm *cachedModel, h upkeep.History, visits []store.Visit, st store.Stop, r *store.PoolRecord) lap.Ahead {
	next := lap.NextVisit(st.PlannedAt)
	a := lap.Ahead{Kind: cm.model.Doc.Filter.Kind, CleanAbove: c.settings.CleanAbove, Arrival: st.PlannedAt.In(c.zone),
		FirstVisit: len(visits) == 0, NoCleanLine: r.CleanLine == nil, NextVisit: next.In(c.zone)}
	if h.HadForecast {
		a.Chance = h.State.Ahead(h.State.LoadBelief(), h.PerDay, 7).Days[7].Past
	}
	if h.Chemicals != nil {
		a.HoldUntil = upkeep.HoldUntil(*h.Chemicals, c.settings).In(c.zone)
	}
	if len(cm.shortfalls) > 0 {
		a.Shortfall = &cm.shortfalls[0]
	}
	if n := len(visits); n > 0 {
		_, a.OpenSuspect = openSuspect(visits[n-1], a.Kind)
	}
	return a
}

// openConfirmed marks a visit whose first suspect was not settled.
const openConfirmed = "open:"

// nothingFound marks a visit at which the suspects were looked into in vain.
const nothingFound = "nothing"

func openSuspect(v store.Visit, kind pad.FilterKind) (fault.ID, string) {
	id, ok := strings.CutPrefix(v.Confirmed, openConfirmed)
	if !ok {
		return "", ""
	}
	f, ok := fault.LookUp(fault.ID(id), kind)
	if !ok {
		return "", ""
	}
	return f.ID, strings.ToLower(f.Name[:1]) + f.Name[1:]
}

func doneReason(v store.Visit, kind pad.FilterKind) lap.Reason {
	if v.Cleaned {
		name, _ := fault.Cleaning(kind)
		return lap.Reason{Mark: lap.MarkJob, Word: name, Detail: "cleaned"}
	}
	if _, words := openSuspect(v, kind); words != "" {
		return lap.Reason{Mark: lap.MarkOpen, Word: "Suspect open", Detail: words}
	}
	if f, ok := fault.LookUp(fault.ID(v.Confirmed), kind); ok && f.ID != fault.Healthy {
		return lap.Reason{Mark: lap.MarkJob, Word: f.Name, Detail: "found"}
	}
	return lap.Reason{Mark: lap.MarkFine, Word: "Fine", Detail: "visit logged"}
}

func filterWords(d *pad.Document) string {
	return map[pad.FilterKind]string{pad.Sand: "sand, ", pad.Cartridge: "cartridge, ", pad.DE: "DE, "}[d.Filter.Kind] + d.Filter.Model
}
