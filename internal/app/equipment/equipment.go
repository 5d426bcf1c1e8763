package equipment

import (
	"context"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// PartChange is something done to a pool's parts.
type PartChange struct {
	ID            uuid.UUID  `json:"id" format:"uuid" doc:"made by whoever writes it, so that a repeated save is one save"`
	Act           string     `json:"act" enum:"install,replace,repair,remove"`
	Part          *uuid.UUID `json:"part,omitempty" format:"uuid" doc:"of all but install: the part that is in place"`
	On            string     `json:"on" maxLength:"10" doc:"day it was done, like 2026-11-24"`
	Kind          string     `json:"kind,omitempty" maxLength:"40" doc:"of a part that comes in new"`
	Model         string     `json:"model,omitempty" maxLength:"80" doc:"of the part that comes in"`
	Serial        string     `json:"serial,omitempty" maxLength:"80"`
	WarrantyUntil string     `json:"warrantyUntil,omitempty" maxLength:"10"`
	Cost          *float64   `json:"cost,omitempty" doc:"of the part, or of the repair"`
	Note          string     `json:"note,omitempty" maxLength:"500"`
	PartOf        *uuid.UUID `json:"partOf,omitempty" format:"uuid" doc:"of a part that comes in new: the part that it belongs to"`
}

// PartEvent is one thing that was done to a part.
type PartEvent struct {
	ID    string        `json:"id"`
	On    string        `json:"on"`
	Act   string        `json:"act" enum:"install,replace,repair,remove"`
	Kind  string        `json:"kind" doc:"its id, or what somebody called one of their own"`
	Name  words.Message `json:"name" doc:"what its kind is called"`
	Model string        `json:"model"`
	Was   string        `json:"was" doc:"model of the part that it replaced"`
	Part  string        `json:"part" doc:"id of the part"`
	WasID string        `json:"wasId" doc:"id of the part that it replaced; empty: none"`
	Note  words.Message `json:"note"`
	Cost  *float64      `json:"cost,omitempty"`
	By    string        `json:"by"`
}

// PartLine is one part in a list across pools.
type PartLine struct {
	Part
	PoolID string `json:"poolId"`
	Street string `json:"street"`
	DueOn  string `json:"dueOn" doc:"when its expected life ends; empty where nobody knows"`
}

// View shows a part in place.
func View(c company.Company, e *store.Equipment, now time.Time) Part {
	out := Part{
		ID:     e.ID.String(),
		Kind:   e.Kind,
		Name:   upkeep.PartName(e.Kind),
		Model:  e.Model,
		Own:    e.ExpectedYears != nil,
		Serial: e.Serial,
		PartOf: company.IDOr(e.PartOf),
	}
	if years := standing.Expected(c, e); years > 0 {
		out.ExpectedYears = &years
	}
	if e.InstalledOn != nil {
		out.InstalledOn = e.InstalledOn.Format(time.DateOnly)
		years := math.Max(0, now.Sub(*e.InstalledOn).Hours()/24/365.25)
		out.AgeYears = &years
	}
	if e.WarrantyUntil != nil {
		out.WarrantyUntil = e.WarrantyUntil.Format(time.DateOnly)
	}
	out.Cost = Money(e.CostCents)
	return out
}

// Money is cents in whole units; nil for none.
func Money(cents *int64) *float64 {
	return judge.As(cents, func(v int64) float64 { return float64(v) / 100 })
}

// ChangePart keeps what was done to a part and carries it into the pad. A part that was taken out by somebody else
// meanwhile is store.ErrVersion.
func (s *Service) ChangePart(ctx context.Context, a access.Actor, pool uuid.UUID, in PartChange) error {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return err
	}
	ever, err := s.keeper.Store.PartsEver(ctx, pool)
	if err != nil {
		return fmt.Errorf("reading the parts: %w", err)
	}
	now := s.keeper.Now()
	made := a.When(now)
	event, fresh, out, errs := readPartChange(c, pool, in, ever, now)
	if len(errs) > 0 {
		return errs
	}
	event.MadeBy, event.MadeAt, event.ReceivedAt = a.ID, made, access.Late(made, now)
	part := fresh
	if part == nil && in.Act == "remove" {
		e := ever[*out]
		part = &e
	}
	return s.inTx(ctx, func(s *Service) error {
		if err := s.keeper.Store.ChangeEquipment(ctx, event, fresh, out); err != nil {
			return fmt.Errorf("keeping what was done: %w", err)
		}
		if part == nil {
			return nil
		}
		return s.follow(ctx, a, pool, part.Kind, part.Model, in.Act)
	})
}

// readPartChange checks a change and says which part comes in and which goes out.
func readPartChange(
	c company.Company,
	pool uuid.UUID,
	in PartChange,
	ever map[uuid.UUID]store.Equipment,
	now time.Time,
) (store.EquipmentEvent, *store.Equipment, *uuid.UUID, figure.FieldErrors) {
	var errs figure.FieldErrors
	wrong := func(field string, text words.Message) { errs.Add(field, text) }
	kind, model, note := upkeep.PartKind(in.Kind), strings.TrimSpace(in.Model), strings.TrimSpace(in.Note)
	on, err := time.Parse(time.DateOnly, in.On)
	switch {
	case in.ID == uuid.Nil:
		wrong("id", "app.what-was-done-needs-an")
	case err != nil:
		wrong("on", "app.type-the-day-like-2026")
	case !access.Reasonable(on):
		wrong("on", access.NotReasonable)
	case on.After(c.Today(now)):
		wrong("on", "app.this-day-is-still-to")
	}
	var until *time.Time
	if in.WarrantyUntil != "" {
		day, err := time.Parse(time.DateOnly, in.WarrantyUntil)
		if err != nil {
			wrong("warrantyUntil", "app.type-the-day-like-2026-2")
		} else if !access.Reasonable(day) {
			wrong("warrantyUntil", access.NotReasonable)
		}
		until = &day
	}
	var cents *int64
	if in.Cost != nil {
		if !(*in.Cost >= 0 && *in.Cost <= 1e6) {
			wrong("cost", "app.a-cost-between-0-and")
		}
		v := int64(math.Round(100 * *in.Cost))
		cents = &v
	}
	var old *store.Equipment
	if in.Act != "install" {
		if in.Part != nil {
			if e, ok := ever[*in.Part]; ok {
				old = &e
			}
		}
		switch {
		case old == nil:
			wrong("part", "app.this-part-is-not-one")
		case err == nil && old.InstalledOn != nil && on.Before(*old.InstalledOn):
			wrong("on", words.Of("app.before-it-went-in", "on", words.Date(*old.InstalledOn)))
		}
	}
	switch {
	case in.Act == "install" && in.PartOf != nil &&
		(ever[*in.PartOf].ID == uuid.Nil || ever[*in.PartOf].RemovedOn != nil):
		wrong("partOf", "app.the-part-that-it-belongs")
	case in.Act == "install" && kind == "":
		wrong("kind", "app.say-what-kind-of-part")
	case (in.Act == "install" || in.Act == "replace") && model == "":
		wrong("model", "app.say-which-model-came-in")
	case (in.Act == "repair" || in.Act == "remove") && note == "":
		wrong("note", "app.say-in-a-few-words")
	}
	if len(errs) > 0 {
		return store.EquipmentEvent{}, nil, nil, errs
	}
	event := store.EquipmentEvent{ID: in.ID, PoolID: pool, Act: in.Act, HappenedOn: on, Note: note, CostCents: cents}
	if in.Act == "repair" || in.Act == "remove" {
		event.EquipmentID = old.ID
		if in.Act == "remove" {
			return event, nil, &old.ID, nil
		}
		return event, nil, nil, nil
	}
	fresh := &store.Equipment{
		ID:            uuid.NewSHA1(in.ID, []byte("part")),
		PoolID:        pool,
		Kind:          kind,
		Model:         model,
		InstalledOn:   &on,
		Serial:        strings.TrimSpace(in.Serial),
		WarrantyUntil: until,
		CostCents:     cents,
		PartOf:        in.PartOf,
	}
	event.EquipmentID = fresh.ID
	if in.Act == "install" {
		return event, fresh, nil, nil
	}
	fresh.Kind, fresh.ExpectedYears, fresh.PartOf, event.Replaces = old.Kind, old.ExpectedYears, old.PartOf, &old.ID
	return event, fresh, &old.ID, nil
}

// PartEvents lists what was done to a pool's parts, newest first.
func (s *Service) PartEvents(ctx context.Context, pool uuid.UUID) ([]PartEvent, error) {
	events, err := s.keeper.Store.EquipmentEventsOf(ctx, pool)
	if err != nil || len(events) == 0 {
		return []PartEvent{}, err
	}
	ever, err := s.keeper.Store.PartsEver(ctx, pool)
	if err != nil {
		return nil, err
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]PartEvent, len(events))
	for i, e := range events {
		p := ever[e.EquipmentID]
		out[i] = PartEvent{
			ID:    e.ID.String(),
			On:    e.HappenedOn.Format(time.DateOnly),
			Act:   e.Act,
			Kind:  p.Kind,
			Name:  upkeep.PartName(p.Kind),
			Model: p.Model,
			Note:  company.NoteOf(e.Note),
			Cost:  Money(e.CostCents),
			By:    names[e.MadeBy],
			Part:  e.EquipmentID.String(),
		}
		if e.Replaces != nil {
			out[i].WasID = e.Replaces.String()
			out[i].Was = ever[*e.Replaces].Model
		}
	}
	return out, nil
}

// PartsAsk says which parts are listed.
type PartsAsk struct {
	Find, Sort string    // Sort: due, part, pool, age or cost, with a minus in front from the last
	Since      time.Time // put in on this day or later; zero: whenever
	access.Window
}

// PartsPage is a window on the parts in place.
type PartsPage struct {
	access.Page[PartLine]
	Late  int      `json:"late" doc:"parts whose expected life is over"`
	Worth *float64 `json:"worth,omitempty" doc:"what the parts whose cost is known have cost together"`
}

// PartsAcross lists the parts in place at every pool that somebody may see, the one
// whose life ends first first where nothing else is asked for.
func (s *Service) PartsAcross(ctx context.Context, a access.Actor, ask PartsAsk) (PartsPage, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PartsPage{}, err
	}
	now := s.keeper.Now()
	sort, down := strings.CutPrefix(ask.Sort, "-")
	in := store.PartsAsk{
		From:   c.Today(now),
		Lives:  c.Settings.Lives(),
		Since:  ask.Since,
		Sort:   sort,
		Down:   down,
		Limit:  ask.Size,
		Offset: ask.Offset(),
	}
	if a.Role == access.Technician {
		in.Technician = &a.ID
	}
	for _, w := range company.Sought(ask.Find) {
		in.Find = append(in.Find, store.Sought{Word: w, Kinds: upkeep.KindsCalled(w)})
	}
	found, err := s.keeper.Store.PartsInPlace(ctx, in)
	if err != nil {
		return PartsPage{}, err
	}
	out := PartsPage{
		Page: access.Page[PartLine]{Items: make([]PartLine, len(found.Parts)), Total: found.Total},
		Late: found.Late,
	}
	if found.WorthCents > 0 {
		out.Worth = Money(&found.WorthCents)
	}
	for i, e := range found.Parts {
		line := PartLine{Part: View(c, &e.Equipment, now), PoolID: e.PoolID.String(), Street: e.At()}
		if line.ExpectedYears != nil && e.InstalledOn != nil {
			line.DueOn = upkeep.LifeEnds(*e.InstalledOn, *line.ExpectedYears).Format(time.DateOnly)
		}
		out.Items[i] = line
	}
	return out, nil
}

// PoolsAtOnce keeps a list of pools under the protocol's parameters.
const PoolsAtOnce = 5000

// Part is a part with its life.
type Part struct {
	ID            string        `json:"id"`
	Kind          string        `json:"kind" doc:"its id, or what somebody called one of their own"`
	Name          words.Message `json:"name" doc:"what its kind is called"`
	Model         string        `json:"model"`
	InstalledOn   string        `json:"installedOn"`
	AgeYears      *float64      `json:"ageYears"`
	ExpectedYears *float64      `json:"expectedYears"`
	Own           bool          `json:"own" doc:"the expected life is this part's own, not its kind's"`
	Serial        string        `json:"serial"`
	WarrantyUntil string        `json:"warrantyUntil" doc:"day; empty: none known"`
	Cost          *float64      `json:"cost,omitempty"`
	PartOf        string        `json:"partOf" doc:"id of the part that it belongs to; empty: none"`
}
