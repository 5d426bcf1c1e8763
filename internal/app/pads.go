package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// mistakes puts a document's mistakes under the request's field.
func mistakes(prefix string, errs []pad.FieldError) error {
	if len(errs) == 0 {
		return nil
	}
	out := make(FieldErrors, len(errs))
	for i, e := range errs {
		path := strings.Trim(prefix+"."+e.Path, ".")
		out[i] = FieldError{path, words.Of("app.sentence", "says", words.Msg(e.Text))}
	}
	return out
}

// SketchPad draws the usual pad round the least that somebody can say of one.
func (s *Service) SketchPad(k pad.Sketch) (pad.Document, error) {
	d := k.Document()
	return d, mistakes("document", d.Validate())
}

// PadPreview is what a described pad would do, before it is kept.
type PadPreview struct {
	Speeds []PreviewSpeed `json:"speeds" nullable:"false"`
	Paths  PathsView      `json:"paths" doc:"at the first programmed speed"`
	Limits LimitsView     `json:"limits"`
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
	if err := mistakes("document", doc.Validate()); err != nil {
		return PadPreview{}, err
	}
	c, err := s.company(ctx)
	if err != nil {
		return PadPreview{}, err
	}
	m, err := fitPad(doc, nil, &c.settings)
	if err != nil {
		return PadPreview{}, fmt.Errorf("solving the described pad: %w", err)
	}
	out := PadPreview{Speeds: []PreviewSpeed{}}
	if out.Limits, err = viewLimits(m, units.Gallons(gallons)); err != nil {
		return out, err
	}
	for i, rpm := range out.Limits.Speeds {
		v, err := ViewPaths(m, pad.Operation{Speed: units.Speed(rpm)}, 0)
		if err != nil {
			return out, fmt.Errorf("at %g rpm: %w", rpm, unsolved(err))
		}
		if i == 0 {
			out.Paths = v
		}
		out.Speeds = append(out.Speeds, PreviewSpeed{v.RPM, v.FlowGPM, v.FlowSD, v.TankPsi, v.TankSD, v.PowerW})
	}
	return out, nil
}

// NewPool is a pool to take on.
type NewPool struct {
	ID          uuid.UUID    `json:"id" format:"uuid" doc:"made by whoever writes it, so that a repeated save is one save"`
	Street      string       `json:"street" minLength:"1" maxLength:"120"`
	Town        string       `json:"town,omitempty" maxLength:"120" doc:"the rest of the address"`
	Which       string       `json:"which,omitempty" maxLength:"40" doc:"of the pools at this street; empty where there is one"`
	Gallons     float64      `json:"gallons"`
	Surface     string       `json:"surface" maxLength:"40"`
	AboveGround bool         `json:"aboveGround,omitempty"`
	AccessNote  string       `json:"accessNote" maxLength:"500"`
	Customer    *CustomerOf  `json:"customer,omitempty" doc:"a new one, or one on record by its id"`
	Document    pad.Document `json:"document"`
}

// CreatePool takes a pool on. A technician's new pool is their own.
func (s *Service) CreatePool(ctx context.Context, a Actor, n NewPool) (PoolRecordView, error) {
	var errs FieldErrors
	if strings.TrimSpace(n.Street) == "" {
		errs = append(errs, FieldError{"street", "app.type-the-street-and-number"})
	}
	if !(n.Gallons >= 100 && n.Gallons <= 1e6) {
		errs = append(errs, FieldError{"gallons", "app.a-pool-holds-between-100"})
	}
	if n.Customer != nil && (n.Customer.ID == uuid.Nil || n.Customer.Version == 0 && strings.TrimSpace(n.Customer.Name) == "") {
		errs = append(errs, FieldError{"customer.name", "app.type-the-customer-s-name-2"})
	}
	var typed FieldErrors
	if errors.As(mistakes("document", n.Document.Validate()), &typed) {
		errs = append(errs, typed...)
	}
	if len(errs) > 0 {
		return PoolRecordView{}, errs
	}
	doc, err := json.Marshal(n.Document)
	if err != nil {
		return PoolRecordView{}, fmt.Errorf("writing the pad down: %w", err)
	}
	c, err := s.company(ctx)
	if err != nil {
		return PoolRecordView{}, err
	}
	now := s.now()
	p := store.Pool{ID: n.ID, Street: strings.TrimSpace(n.Street), Town: strings.TrimSpace(n.Town), Which: strings.TrimSpace(n.Which), VolumeM3: float64(units.Gallons(n.Gallons)), Surface: n.Surface, AccessNote: n.AccessNote,
		InGround: !n.AboveGround, Weekday: int(now.In(c.zone).Weekday()), BaseMinutes: 25, OnRecordSince: c.today(now), Version: 1}
	if a.Role == Technician {
		p.TechnicianID = &a.ID
	}
	if n.Customer != nil {
		p.CustomerID = &n.Customer.ID
	}
	first := store.Plumbing{ID: uuid.Must(uuid.NewV7()), PoolID: n.ID, Revision: 1, Document: doc, Reason: store.ReasonDescription, CreatedBy: &a.ID, CreatedAt: now}
	var kept store.Pool
	err = s.inTx(ctx, func(s *Service) (err error) {
		if who := n.Customer; who != nil && who.Version == 0 {
			if _, err := s.store.PutCustomer(ctx, store.Customer{ID: who.ID, Name: strings.TrimSpace(who.Name), Phone: strings.TrimSpace(who.Phone), Email: strings.TrimSpace(who.Email), Version: 1, CreatedAt: now}); err != nil && !errors.Is(err, store.ErrVersion) {
				return fmt.Errorf("writing the customer down: %w", err)
			}
		}
		kept, err = s.store.CreatePool(ctx, p, first, partsOf(n.ID, n.Document))
		return err
	})
	if errors.Is(err, store.ErrTaken) {
		return PoolRecordView{}, FieldErrors{sameAddress(p.Which)}
	}
	if err != nil {
		return PoolRecordView{}, fmt.Errorf("taking the pool on: %w", err)
	}
	return s.PoolView(ctx, a, kept.ID)
}

// sameAddress tells that a pool of this name is on record.
func sameAddress(which string) FieldError {
	if which == "" {
		return FieldError{"which", "app.there-is-a-pool-at"}
	}
	return FieldError{"which", "app.there-is-a-pool-of"}
}

// partsOf lists a described pad's equipment; nobody knows its age yet.
func partsOf(pool uuid.UUID, d pad.Document) []store.Equipment {
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
	media := map[pad.FilterKind][2]string{pad.Sand: {"sand", "No. 20 silica"}, pad.Cartridge: {"cartridge", d.Filter.Model}, pad.DE: {"grids", d.Filter.Model}}[d.Filter.Kind]
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
func (s *Service) PoolPad(ctx context.Context, a Actor, id uuid.UUID) (PadOnRecord, error) {
	p, err := s.seePool(ctx, a, id)
	if err != nil {
		return PadOnRecord{}, err
	}
	rows, err := s.store.PlumbingOf(ctx, id)
	if err != nil {
		return PadOnRecord{}, fmt.Errorf("reading the revisions: %w", err)
	}
	if len(rows) == 0 {
		return PadOnRecord{}, store.ErrNotFound
	}
	names, err := s.names(ctx)
	if err != nil {
		return PadOnRecord{}, err
	}
	docs := make([]pad.Document, len(rows))
	for i, r := range rows {
		if err := json.Unmarshal(r.Document, &docs[i]); err != nil {
			return PadOnRecord{}, fmt.Errorf("reading revision %d of %s: %w", r.Revision, p.Name(), err)
		}
	}
	out := PadOnRecord{PoolID: id.String(), Street: p.Name(), Gallons: units.Volume(p.VolumeM3).Gallons(), Revision: rows[0].Revision, Document: docs[0], Settings: []string{}, Revisions: []PadRevision{}}
	for _, set := range docs[0].Settings() {
		out.Settings = append(out.Settings, string(set))
	}
	for i, r := range rows {
		rev := PadRevision{Revision: r.Revision, At: r.CreatedAt, Reason: r.Reason, Note: noteOf(r.Note), Changes: []pad.Change{}}
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
func (s *Service) SavePad(ctx context.Context, a Actor, id uuid.UUID, ch PadChange) (PadOnRecord, error) {
	was, err := s.PoolPad(ctx, a, id)
	if err != nil {
		return was, err
	}
	if err := mistakes("document", ch.Document.Validate()); err != nil {
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
	err = s.store.AddPlumbing(ctx, store.Plumbing{ID: uuid.Must(uuid.NewV7()), PoolID: id, Revision: was.Revision + 1, Document: doc,
		Reason: ch.Reason, Note: ch.Note, CreatedBy: &a.ID, CreatedAt: s.now()})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return was, fmt.Errorf("keeping the revision: %w", err)
	}
	now, readErr := s.PoolPad(ctx, a, id)
	return now, errors.Join(err, readErr)
}
