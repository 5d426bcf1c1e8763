package app

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// DueView is a pool's due work, what wears, and what was decided about it.
type DueView struct {
	Pool    PoolFacts       `json:"pool"`
	Items   []DueItem       `json:"items" nullable:"false"`
	Visits  []time.Time     `json:"visits" nullable:"false" doc:"planned, the next first"`
	Wear    []upkeep.Wear   `json:"wear" nullable:"false"`
	Routine []words.Message `json:"routine" nullable:"false" doc:"what every visit looks at"`
	RunTime words.Message   `json:"runTime" doc:"what the programme is short of in this week's weather; empty when of nothing"`
	Marks   []MarkView      `json:"marks" nullable:"false" doc:"newest first"`
}

// DueItem is one piece of due work with the visit that it goes to.
type DueItem struct {
	upkeep.Due
	Visit *time.Time `json:"visit" doc:"the planned visit at or just before its date; absent when none is free in time"`
}

// MarkView is one decision about due work.
type MarkView struct {
	Item   string        `json:"item"`
	Name   words.Message `json:"name"`
	Act    string        `json:"act" enum:"done,snooze,plan,resume,cancel,override,owe"`
	Until  *time.Time    `json:"until"`
	Reason string        `json:"reason"`
	By     string        `json:"by"`
	At     time.Time     `json:"at"`
}

// DueMark is a decision to keep.
type DueMark struct {
	ID     uuid.UUID  `json:"id"`
	Item   string     `json:"item" minLength:"1" maxLength:"80"`
	Act    string     `json:"act" enum:"done,snooze,plan,resume,cancel,override"`
	Until  *time.Time `json:"until,omitempty" doc:"of a snooze"`
	Day    string     `json:"day,omitempty" maxLength:"10" doc:"of a plan: the day of the visit, like 2026-12-01"`
	Reason string     `json:"reason" maxLength:"300"`
}

// ledger is what a pool's due work follows from.
func (c company) ledger(r *store.PoolRecord, cm *cachedModel, h *upkeep.History, parts []store.Equipment, marks []store.DueMark, inspected []upkeep.Inspected, planned []lap.Visit, now time.Time) upkeep.Ledger {
	l := upkeep.Ledger{Now: now.In(c.zone), Doc: &cm.Model.Doc, Kind: cm.Model.Doc.Filter.Kind, Settings: c.settings, History: h, Since: r.Pool.OnRecordSince, KGalPerDay: cm.KGalPerDay, NoDischarge: c.settings.NoDischargeOn}
	if r.CleanLine != nil {
		l.CleanLine = &r.CleanLine.TakenAt
	}
	l.Later = planned[1].At
	for _, e := range parts {
		p := upkeep.Part{Kind: e.Kind, Model: e.Model}
		if e.InstalledOn != nil {
			p.Installed = *e.InstalledOn
		}
		if e.ExpectedYears != nil {
			p.Years = *e.ExpectedYears
		}
		l.Parts = append(l.Parts, p)
	}
	l.Marks, l.Inspected = c.marks(marks), inspected
	return l
}

// marks are decisions as the core has them.
func (c company) marks(marks []store.DueMark) []upkeep.Mark {
	var out []upkeep.Mark
	for _, m := range marks {
		k := upkeep.Mark{Item: m.Item, Act: upkeep.MarkAct(m.Act), At: m.MadeAt}
		if m.Until != nil {
			k.Until = m.Until.In(c.zone)
		}
		out = append(out, k)
	}
	return out
}

// free tells whether held work may be done at a visit.
func (c company) free(d *upkeep.Due, at time.Time) bool {
	if d.Item != string(upkeep.CleanFilter) {
		return true
	}
	if d.Hold != nil && at.Before(d.Hold.Until) {
		return false
	}
	return !c.settings.NoDischargeOn(at) || d.Freed != nil && c.today(*d.Freed).Equal(c.today(at))
}

// Due lists a pool's due work.
func (s *Service) Due(ctx context.Context, a Actor, id uuid.UUID) (DueView, error) {
	now := s.now()
	at, err := s.atPool(ctx, a, id, now)
	if err != nil {
		return DueView{}, err
	}
	marks, err := s.store.DueMarksOf(ctx, []uuid.UUID{id})
	if err != nil {
		return DueView{}, fmt.Errorf("reading what was decided: %w", err)
	}
	c, h := at.company, &at.History
	if h.Watts, err = wattsOf(at.before, at.cached); err != nil {
		return DueView{}, err
	}
	moves, err := s.movesOf(ctx, c, id)
	if err != nil {
		return DueView{}, err
	}
	planned := c.planned(&at.record.Pool, moves[id], at.before, now)
	work, err := inspectedOf(at.inspected)
	if err != nil {
		return DueView{}, err
	}
	l := c.ledger(at.record, at.cached, h, at.parts, marks[id], work, planned, now)
	out := DueView{Pool: at.poolFacts(), Items: []DueItem{}, Visits: times(planned), Routine: upkeep.EachVisit, RunTime: s.runTime(at, now), Wear: append([]upkeep.Wear{}, h.Worn(l.Kind)...), Marks: []MarkView{}}
	due := l.List()
	for i, v := range upkeep.AtVisit(due, times(planned), func(d *upkeep.Due, at time.Time) bool { return c.free(d, at) }) {
		item := DueItem{Due: due[i]}
		if v >= 0 {
			item.Visit = &planned[v].At
		}
		out.Items = append(out.Items, item)
	}
	names, err := s.names(ctx)
	if err != nil {
		return out, fmt.Errorf("reading the people: %w", err)
	}
	for _, m := range slices.Backward(marks[id]) {
		out.Marks = append(out.Marks, MarkView{m.Item, upkeep.ItemName(m.Item, l.Kind), m.Act, m.Until, m.Reason, names[m.MadeBy], m.MadeAt})
	}
	return out, nil
}

// mayPlan finds the day that work is to go on, or says why it can't.
func (s *Service) mayPlan(ctx context.Context, a Actor, pool uuid.UUID, m DueMark) (time.Time, words.Message, error) {
	day, err := time.Parse(time.DateOnly, m.Day)
	if err != nil {
		return day, "app.say-which-day-s-visit", nil
	}
	v, err := s.Due(ctx, a, pool)
	if err != nil {
		return day, "", err
	}
	c, err := s.company(ctx)
	if err != nil {
		return day, "", err
	}
	at := slices.IndexFunc(v.Items, func(d DueItem) bool { return d.Item == m.Item })
	if at < 0 {
		return day, "app.this-work-is-not-due", nil
	}
	due := &v.Items[at].Due
	for _, visit := range v.Visits {
		if !c.today(visit).Equal(day) {
			continue
		}
		start := time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, c.zone)
		switch {
		case c.free(due, visit):
			return start, "", nil
		case due.Hold != nil && visit.Before(due.Hold.Until):
			return start, words.Of("app.held-that-day", "why", words.Msg(due.Hold.Why)), nil
		}
		return start, "app.no-water-may-be-discharged", nil
	}
	return day, "app.nobody-comes-to-this-pool", nil
}

// wattsOf are the power readings of visits over what the model has at the same
// speed and load. Readings under a settled fault say nothing of wear.
func wattsOf(visits []store.Visit, cm *cachedModel) ([]upkeep.WattsPoint, error) {
	solver := cm.Model.Solver()
	var out []upkeep.WattsPoint
	for _, v := range visits {
		load := cm.load(&v, v.LoadMean, v.LoadSD)
		if !load.Tells() || (v.Confirmed != "" && v.Confirmed != nothingFound) {
			continue
		}
		for _, r := range v.Readings {
			if r.PowerW == nil || r.SpeedRPM <= 0 || r.Phase != "found" || r.Setting != string(pad.SetFilter) {
				continue
			}
			st, err := solver.Solve(pad.Operation{Speed: units.Speed(r.SpeedRPM)}, pad.Effects{Load: load.Mean})
			if err != nil {
				return nil, fmt.Errorf("solving at %v rpm: %w", r.SpeedRPM, unsolved(err))
			}
			out = append(out, upkeep.WattsPoint{At: v.ArrivedAt, Ratio: *r.PowerW / float64(st.Power)})
		}
	}
	return out, nil
}

// MarkDue keeps a decision about due work and gives the list as it then stands.
func (s *Service) MarkDue(ctx context.Context, a Actor, pool uuid.UUID, m DueMark) (DueView, error) {
	if _, err := s.seePool(ctx, a, pool); err != nil {
		return DueView{}, err
	}
	kind, err := s.kindOf(ctx, pool)
	if err != nil {
		return DueView{}, err
	}
	now := s.now()
	var errs FieldErrors
	reason := strings.TrimSpace(m.Reason)
	if upkeep.ItemName(m.Item, kind) == "" {
		errs = append(errs, FieldError{"item", "app.there-is-no-such-work"})
	}
	switch upkeep.MarkAct(m.Act) {
	case upkeep.MarkCancel, upkeep.MarkOverride:
		if reason == "" {
			errs = append(errs, FieldError{"reason", "app.say-why-in-a-few"})
		}
	case upkeep.MarkSnooze:
		if m.Until == nil || !m.Until.After(now) || m.Until.After(now.AddDate(1, 0, 0)) {
			errs = append(errs, FieldError{"until", "app.put-it-off-to-a"})
		}
	case upkeep.MarkPlan:
		day, text, err := s.mayPlan(ctx, a, pool, m)
		if err != nil {
			return DueView{}, err
		}
		if text != "" {
			errs = append(errs, FieldError{"day", text})
		}
		m.Until = &day
	}
	if len(errs) > 0 {
		return DueView{}, errs
	}
	switch upkeep.MarkAct(m.Act) {
	case upkeep.MarkSnooze: // to a day, not to an hour of it
		c, err := s.company(ctx)
		if err != nil {
			return DueView{}, err
		}
		y, month, day := m.Until.In(c.zone).Date()
		start := time.Date(y, month, day, 0, 0, 0, 0, c.zone)
		m.Until = &start
	case upkeep.MarkPlan:
	default:
		m.Until = nil
	}
	if err := s.store.AddDueMark(ctx, store.DueMark{ID: m.ID, PoolID: pool, Item: m.Item, Act: m.Act, Until: m.Until, Reason: reason, MadeBy: a.ID, MadeAt: now}); err != nil {
		return DueView{}, fmt.Errorf("keeping the decision: %w", err)
	}
	return s.Due(ctx, a, pool)
}

// van adds up what the due work of a lap's stops takes.
func van(stops [][]upkeep.Due) []upkeep.Material {
	out := []upkeep.Material{}
	for _, due := range stops {
		for _, d := range due {
			for _, m := range d.Materials {
				i := slices.IndexFunc(out, func(x upkeep.Material) bool { return x.Name == m.Name && x.Unit == m.Unit })
				if i < 0 {
					out = append(out, m)
				} else {
					out[i].Amount += m.Amount
				}
			}
		}
	}
	slices.SortFunc(out, func(a, b upkeep.Material) int { return cmp.Compare(a.Name, b.Name) })
	return out
}
