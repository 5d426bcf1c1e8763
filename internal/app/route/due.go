package route

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// DueView is a pool's due work, what wears, and what was decided about it.
type DueView struct {
	Pool    standing.PoolFacts `json:"pool"`
	Items   []DueItem          `json:"items" nullable:"false"`
	Visits  []time.Time        `json:"visits" nullable:"false" doc:"planned, the next first"`
	Wear    []upkeep.Wear      `json:"wear" nullable:"false"`
	Routine []words.Message    `json:"routine" nullable:"false" doc:"what every visit looks at"`
	RunTime words.Message      `json:"runTime" doc:"what the programme is short of in this week's weather; empty when of nothing"`
	Marks   []MarkView         `json:"marks" nullable:"false" doc:"newest first"`
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

// Due lists a pool's due work.
func (s *Service) Due(ctx context.Context, a access.Actor, id uuid.UUID) (DueView, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, id, now)
	if err != nil {
		return DueView{}, err
	}
	marks, err := s.keeper.Store.DueMarksOf(ctx, []uuid.UUID{id})
	if err != nil {
		return DueView{}, fmt.Errorf("reading what was decided: %w", err)
	}
	c := at.Company
	moves, err := s.keeper.MovesOf(ctx, c, id)
	if err != nil {
		return DueView{}, err
	}
	planned := standing.Planned(c, &at.Record.Pool, moves[id], at.Seen(), now)
	kept, err := at.Amounts(marks[id])
	if err != nil {
		return DueView{}, err
	}
	l := s.keeper.Ledger(c, kept, planned, now)
	out := DueView{
		Pool:    at.PoolFacts(),
		Items:   []DueItem{},
		Visits:  standing.Times(planned),
		Routine: upkeep.EachVisit,
		RunTime: s.keeper.RunTime(at, now),
		Wear:    append([]upkeep.Wear{}, kept.Worn...),
		Marks:   []MarkView{},
	}
	due := l.List()
	for i, v := range upkeep.AtVisit(due, standing.Times(planned),
		func(d *upkeep.Due, at time.Time) bool { return standing.Free(c, d, at) }) {
		item := DueItem{Due: due[i]}
		if v >= 0 {
			item.Visit = &planned[v].At
		}
		out.Items = append(out.Items, item)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return out, fmt.Errorf("reading the people: %w", err)
	}
	for _, m := range slices.Backward(marks[id]) {
		out.Marks = append(
			out.Marks,
			MarkView{
				Item:   m.Item,
				Name:   upkeep.ItemName(m.Item, l.Gear.Kind),
				Act:    m.Act,
				Until:  m.Until,
				Reason: m.Reason,
				By:     names[m.MadeBy],
				At:     m.MadeAt,
			},
		)
	}
	return out, nil
}

// mayPlan finds the day that work is to go on, or says why it can't.
func (s *Service) mayPlan(
	ctx context.Context,
	a access.Actor,
	pool uuid.UUID,
	m DueMark,
) (time.Time, words.Message, error) {
	day, ok := company.Day(m.Day)
	if !ok {
		return day, "app.say-which-day-s-visit", nil
	}
	v, err := s.Due(ctx, a, pool)
	if err != nil {
		return day, "", err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return day, "", err
	}
	at := slices.IndexFunc(v.Items, func(d DueItem) bool { return d.Item == m.Item })
	if at < 0 {
		return day, "app.this-work-is-not-due", nil
	}
	due := &v.Items[at].Due
	for _, visit := range v.Visits {
		if !c.Today(visit).Equal(day) {
			continue
		}
		start := time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, c.Zone)
		switch {
		case standing.Free(c, due, visit):
			return start, "", nil
		case due.Hold != nil && visit.Before(due.Hold.Until):
			return start, words.Of("app.held-that-day", "why", words.Msg(due.Hold.Why)), nil
		}
		return start, "app.no-water-may-be-discharged", nil
	}
	return day, "app.nobody-comes-to-this-pool", nil
}

// MarkDue keeps a decision about due work and gives the list as it then stands.
func (s *Service) MarkDue(ctx context.Context, a access.Actor, pool uuid.UUID, m DueMark) (DueView, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return DueView{}, err
	}
	kind, err := s.keeper.KindOf(ctx, pool)
	if err != nil {
		return DueView{}, err
	}
	now := s.keeper.Now()
	made := a.When(now)
	var errs figure.FieldErrors
	reason := strings.TrimSpace(m.Reason)
	if upkeep.ItemName(m.Item, kind) == "" {
		errs.Add("item", "app.there-is-no-such-work")
	}
	switch upkeep.MarkAct(m.Act) {
	case upkeep.MarkCancel, upkeep.MarkOverride:
		if reason == "" {
			errs.Add("reason", "app.say-why-in-a-few")
		}
	case upkeep.MarkSnooze:
		if m.Until == nil || !m.Until.After(made) || m.Until.After(now.AddDate(1, 0, 0)) {
			errs.Add("until", "app.put-it-off-to-a")
		}
	case upkeep.MarkPlan:
		day, text, err := s.mayPlan(ctx, a, pool, m)
		if err != nil {
			return DueView{}, err
		}
		if text != "" {
			errs.Add("day", text)
		}
		m.Until = &day
	}
	if len(errs) > 0 {
		return DueView{}, errs
	}
	switch upkeep.MarkAct(m.Act) {
	case upkeep.MarkSnooze: // to a day, not to an hour of it
		c, err := s.keeper.Company(ctx)
		if err != nil {
			return DueView{}, err
		}
		y, month, day := m.Until.In(c.Zone).Date()
		start := time.Date(y, month, day, 0, 0, 0, 0, c.Zone)
		m.Until = &start
	case upkeep.MarkPlan:
	default:
		m.Until = nil
	}
	row := store.DueMark{ID: m.ID, PoolID: pool, Item: m.Item, Act: m.Act, Until: m.Until, Reason: reason,
		MadeBy: a.ID, MadeAt: made, ReceivedAt: access.Late(made, now)}
	if err := s.inTx(ctx, func(s *Service) error { return s.keeper.Store.AddDueMark(ctx, row) }); err != nil {
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
