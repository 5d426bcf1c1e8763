package app

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/upkeep"
	"fairlap/core/words"
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

// part shows a part in place.
func (c company) part(e *store.Equipment, now time.Time) Part {
	out := Part{ID: e.ID.String(), Kind: e.Kind, Name: upkeep.PartName(e.Kind), Model: e.Model, Own: e.ExpectedYears != nil, Serial: e.Serial, PartOf: idOr(e.PartOf)}
	if years := c.expected(e); years > 0 {
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
	out.Cost = money(e.CostCents)
	return out
}

func money(cents *int64) *float64 {
	return as(cents, func(v int64) float64 { return float64(v) / 100 })
}

// ChangePart keeps what was done to a part and gives the pool's record as it then
// stands. A part that was taken out by somebody else meanwhile is store.ErrVersion.
func (s *Service) ChangePart(ctx context.Context, a Actor, pool uuid.UUID, in PartChange) (PoolRecordView, error) {
	if _, err := s.seePool(ctx, a, pool); err != nil {
		return PoolRecordView{}, err
	}
	c, err := s.company(ctx)
	if err != nil {
		return PoolRecordView{}, err
	}
	ever, err := s.store.PartsEver(ctx, pool)
	if err != nil {
		return PoolRecordView{}, fmt.Errorf("reading the parts: %w", err)
	}
	now := s.now()
	event, fresh, out, errs := c.readPartChange(pool, in, ever, now)
	if len(errs) > 0 {
		return PoolRecordView{}, errs
	}
	event.MadeBy, event.MadeAt = a.ID, now
	part := fresh
	if part == nil && in.Act == "remove" {
		e := ever[*out]
		part = &e
	}
	if err := s.inTx(ctx, func(s *Service) error {
		if err := s.store.ChangeEquipment(ctx, event, fresh, out); err != nil {
			return fmt.Errorf("keeping what was done: %w", err)
		}
		if part == nil {
			return nil
		}
		return s.follow(ctx, a, pool, part.Kind, part.Model, in.Act)
	}); err != nil {
		return PoolRecordView{}, err
	}
	return s.PoolView(ctx, a, pool)
}

// readPartChange checks a change and says which part comes in and which goes out.
func (c company) readPartChange(pool uuid.UUID, in PartChange, ever map[uuid.UUID]store.Equipment, now time.Time) (store.EquipmentEvent, *store.Equipment, *uuid.UUID, FieldErrors) {
	var errs FieldErrors
	wrong := func(field string, text words.Message) { errs = append(errs, FieldError{field, text}) }
	kind, model, note := upkeep.PartKind(in.Kind), strings.TrimSpace(in.Model), strings.TrimSpace(in.Note)
	on, err := time.Parse(time.DateOnly, in.On)
	switch {
	case in.ID == uuid.Nil:
		wrong("id", "app.what-was-done-needs-an")
	case err != nil:
		wrong("on", "app.type-the-day-like-2026")
	case on.After(c.today(now)):
		wrong("on", "app.this-day-is-still-to")
	}
	var until *time.Time
	if in.WarrantyUntil != "" {
		day, err := time.Parse(time.DateOnly, in.WarrantyUntil)
		if err != nil {
			wrong("warrantyUntil", "app.type-the-day-like-2026-2")
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
	case in.Act == "install" && in.PartOf != nil && (ever[*in.PartOf].ID == uuid.Nil || ever[*in.PartOf].RemovedOn != nil):
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
	fresh := &store.Equipment{ID: uuid.NewSHA1(in.ID, []byte("part")), PoolID: pool, Kind: kind, Model: model, InstalledOn: &on, Serial: strings.TrimSpace(in.Serial), WarrantyUntil: until, CostCents: cents, PartOf: in.PartOf}
	event.EquipmentID = fresh.ID
	if in.Act == "install" {
		return event, fresh, nil, nil
	}
	fresh.Kind, fresh.ExpectedYears, fresh.PartOf, event.Replaces = old.Kind, old.ExpectedYears, old.PartOf, &old.ID
	return event, fresh, &old.ID, nil
}

// partEvents lists what was done to a pool's parts, newest first.
func (s *Service) partEvents(ctx context.Context, pool uuid.UUID) ([]PartEvent, error) {
	events, err := s.store.EquipmentEventsOf(ctx, pool)
	if err != nil || len(events) == 0 {
		return []PartEvent{}, err
	}
	ever, err := s.store.PartsEver(ctx, pool)
	if err != nil {
		return nil, err
	}
	names, err := s.names(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]PartEvent, len(events))
	for i, e := range events {
		p := ever[e.EquipmentID]
		out[i] = PartEvent{ID: e.ID.String(), On: e.HappenedOn.Format(time.DateOnly), Act: e.Act, Kind: p.Kind, Name: upkeep.PartName(p.Kind), Model: p.Model, Note: noteOf(e.Note), Cost: money(e.CostCents), By: names[e.MadeBy]}
		if e.Replaces != nil {
			out[i].Was = ever[*e.Replaces].Model
		}
	}
	return out, nil
}

// PartsAcross lists the parts in place at every pool that somebody may see, the one
// whose life ends first first.
func (s *Service) PartsAcross(ctx context.Context, a Actor) ([]PartLine, error) {
	c, err := s.company(ctx)
	if err != nil {
		return nil, err
	}
	var mine *uuid.UUID
	if a.Role == Technician {
		mine = &a.ID
	}
	now := s.now()
	pools, err := s.store.Workload(ctx, mine, c.today(now))
	if err != nil {
		return nil, fmt.Errorf("listing pools: %w", err)
	}
	ids := make([]uuid.UUID, len(pools))
	for i := range pools {
		ids[i] = pools[i].ID
	}
	out := []PartLine{}
	for from := 0; from < len(ids); from += poolsAtOnce {
		parts, err := s.store.EquipmentOf(ctx, ids[from:min(from+poolsAtOnce, len(ids))]...)
		if err != nil {
			return nil, fmt.Errorf("reading the equipment: %w", err)
		}
		for i := from; i < min(from+poolsAtOnce, len(ids)); i++ {
			for _, e := range parts[ids[i]] {
				line := PartLine{Part: c.part(&e, now), PoolID: ids[i].String(), Street: pools[i].Name()}
				if line.ExpectedYears != nil && e.InstalledOn != nil {
					line.DueOn = upkeep.LifeEnds(*e.InstalledOn, *line.ExpectedYears).Format(time.DateOnly)
				}
				out = append(out, line)
			}
		}
	}
	never := "9999"
	slices.SortStableFunc(out, func(x, y PartLine) int {
		return cmp.Or(cmp.Compare(cmp.Or(x.DueOn, never), cmp.Or(y.DueOn, never)), cmp.Compare(x.Street, y.Street))
	})
	return out, nil
}

// poolsAtOnce keeps a list of pools under the protocol's parameters.
const poolsAtOnce = 5000
