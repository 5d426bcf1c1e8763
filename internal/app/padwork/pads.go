package padwork

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// SketchPad draws the usual pad round the least that somebody can say of one.
func (s *Service) SketchPad(k pad.Sketch) (pad.Document, error) {
	d := k.Document()
	return d, access.Mistakes("document", d.Validate())
}

// PadPreview is what a described pad would do, before it is kept.
type PadPreview struct {
	Speeds []PreviewSpeed   `json:"speeds" nullable:"false"`
	Paths  judge.PathsView  `json:"paths" doc:"at the first programmed speed"`
	Limits judge.LimitsView `json:"limits"`
}

// PreviewSpeed is the clean pad at one speed, with one standard deviation of what
// the description leaves open.
type PreviewSpeed struct {
	RPM     float64 `json:"rpm"`
	FlowGPM float64 `json:"flowGpm"`
	FlowSD  float64 `json:"flowSd"`
	TankPsi float64 `json:"tankPsi"`
	TankSD  float64 `json:"tankSd"`
	PowerW  float64 `json:"powerW"`
}

// PreviewPad solves a described pad without keeping it.
func (s *Service) PreviewPad(ctx context.Context, doc pad.Document, gallons float64) (PadPreview, error) {
	if err := access.Mistakes("document", doc.Validate()); err != nil {
		return PadPreview{}, err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return PadPreview{}, err
	}
	m, err := judge.Fit(doc, nil, &c.Settings)
	if err != nil {
		return PadPreview{}, fmt.Errorf("solving the described pad: %w", err)
	}
	out := PadPreview{Speeds: []PreviewSpeed{}}
	if out.Limits, err = judge.ViewLimits(m, units.Gallons(gallons)); err != nil {
		return out, err
	}
	for i, rpm := range out.Limits.Speeds {
		v, err := judge.ViewPaths(m, pad.Operation{Speed: units.Speed(rpm)}, 0)
		if err != nil {
			return out, fmt.Errorf("at %g rpm: %w", rpm, judge.Unsolved(err))
		}
		if i == 0 {
			out.Paths = v
		}
		out.Speeds = append(
			out.Speeds,
			PreviewSpeed{
				RPM:     v.RPM,
				FlowGPM: v.FlowGPM,
				FlowSD:  v.FlowSD,
				TankPsi: v.TankPsi,
				TankSD:  v.TankSD,
				PowerW:  v.PowerW,
			},
		)
	}
	return out, nil
}

// PartsOf lists a described pad's equipment; nobody knows its age yet.
func PartsOf(pool uuid.UUID, d pad.Document) []store.Equipment {
	var out []store.Equipment
	add := func(kind, model string, of *uuid.UUID) *uuid.UUID {
		id := uuid.Must(uuid.NewV7())
		out = append(out, store.Equipment{ID: id, PoolID: pool, Kind: kind, Model: model, PartOf: of})
		return &id
	}
	pump, tank := add("pump", d.Pump.Model, nil), add("filter-tank", d.Filter.Model, nil)
	add("lid-o-ring", d.Pump.Model, pump)
	add("tank-gauge", "", tank)
	add("tank-o-ring", d.Filter.Model, tank)
	media := map[pad.FilterKind][2]string{pad.Sand: {"sand", "No. 20 silica"},
		pad.Cartridge: {"cartridge", d.Filter.Model}, pad.DE: {"grids", d.Filter.Model}}[d.Filter.Kind]
	add(media[0], media[1], tank)
	if d.Filter.Valve == pad.Multiport {
		add("multiport-gasket", d.Filter.Model, tank)
	}
	if d.Heater != nil {
		add("heater", d.Heater.Model, nil)
	}
	if d.Cell != nil {
		add("zinc-anode", "", add("salt-cell", d.Cell.Model, nil))
	}
	return out
}

// PadOnRecord is a pool's pad as described now, with how it came about.
type PadOnRecord struct {
	PoolID    string        `json:"poolId"`
	Street    string        `json:"street"`
	Gallons   float64       `json:"gallons"`
	Revision  int           `json:"revision"`
	Document  pad.Document  `json:"document"`
	Settings  []string      `json:"settings" nullable:"false" doc:"what the filter valve can be set to"`
	Revisions []PadRevision `json:"revisions" nullable:"false" doc:"newest first"`
}

// PadRevision is one revision and what it changed.
type PadRevision struct {
	Revision int           `json:"revision"`
	At       time.Time     `json:"at"`
	By       string        `json:"by"`
	Reason   string        `json:"reason" enum:"description,work"`
	Note     words.Message `json:"note"`
	Changes  []pad.Change  `json:"changes" nullable:"false"`
}

// PoolPad shows a pool's pad and its revisions.
func (s *Service) PoolPad(ctx context.Context, a access.Actor, id uuid.UUID) (PadOnRecord, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return PadOnRecord{}, err
	}
	rows, err := s.keeper.Store.PlumbingOf(ctx, id)
	if err != nil {
		return PadOnRecord{}, fmt.Errorf("reading the revisions: %w", err)
	}
	if len(rows) == 0 {
		return PadOnRecord{}, store.ErrNotFound
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return PadOnRecord{}, err
	}
	docs := make([]pad.Document, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal(r.Document, &docs[i]); err != nil {
			return PadOnRecord{}, fmt.Errorf("reading revision %d of %s: %w", r.Revision, p.Name(), err)
		}
	}
	out := PadOnRecord{
		PoolID:    id.String(),
		Street:    p.Name(),
		Gallons:   units.Volume(p.VolumeM3).Gallons(),
		Revision:  rows[0].Revision,
		Document:  docs[0],
		Settings:  []string{},
		Revisions: []PadRevision{},
	}
	for _, set := range docs[0].Settings() {
		out.Settings = append(out.Settings, string(set))
	}
	for i, r := range rows {
		rev := PadRevision{
			Revision: r.Revision,
			At:       r.CreatedAt,
			Reason:   r.Reason,
			Note:     company.NoteOf(r.Note),
			Changes:  []pad.Change{},
		}
		if r.CreatedBy != nil {
			rev.By = names[*r.CreatedBy]
		}
		if i+1 < len(rows) {
			rev.Changes = append(rev.Changes, pad.Diff(docs[i+1], docs[i])...)
		}
		out.Revisions = append(out.Revisions, rev)
	}
	return out, nil
}

// PadChange is a new revision of a pool's pad.
type PadChange struct {
	BasedOn  int          `json:"basedOn" minimum:"1" doc:"the revision that was changed"`
	Reason   string       `json:"reason" enum:"description,work" doc:"work on the plumbing ends the clean line; mended words keep it"`
	Note     string       `json:"note" maxLength:"500"`
	Document pad.Document `json:"document"`
}

// SavePad writes a new revision. When somebody else wrote one meanwhile the error
// is store.ErrVersion and the pad comes as it now stands.
func (s *Service) SavePad(ctx context.Context, a access.Actor, id uuid.UUID, ch PadChange) (PadOnRecord, error) {
	was, err := s.PoolPad(ctx, a, id)
	if err != nil {
		return was, err
	}
	ch.Document.Presumed = false // somebody describes it
	if err := access.Mistakes("document", ch.Document.Validate()); err != nil {
		return was, err
	}
	if ch.BasedOn != was.Revision {
		return was, store.ErrVersion
	}
	if len(pad.Diff(was.Document, ch.Document)) == 0 {
		return was, nil // nothing to keep
	}
	doc, err := json.Marshal(ch.Document)
	if err != nil {
		return was, fmt.Errorf("writing the pad down: %w", err)
	}
	next := store.Plumbing{ID: uuid.Must(uuid.NewV7()), PoolID: id, Revision: was.Revision + 1, Document: doc,
		Reason: ch.Reason, Note: ch.Note, CreatedBy: &a.ID, CreatedAt: s.keeper.Now()}
	err = s.inTx(ctx, func(s *Service) error {
		if err := s.keeper.Store.AddPlumbing(ctx, next); err != nil || !was.Document.Presumed {
			return err
		}
		parts := PartsOf(id, ch.Document) // the first description: now its parts have names
		rows := make([]any, len(parts))
		for i := range parts {
			rows[i] = &parts[i]
		}
		return s.keeper.Store.Insert(ctx, rows...)
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return was, fmt.Errorf("keeping the revision: %w", err)
	}
	now, readErr := s.PoolPad(ctx, a, id)
	return now, errors.Join(err, readErr)
}
