package visit

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"fairlap/core/diagnosis"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/plumbing"
	"fairlap/core/upkeep"
	"fairlap/internal/app/access"
	"fairlap/internal/store"
)

// TakenOver is a visit of an earlier record: as a draft, by whom, and of which stop
// (none when its lap was never written here).
type TakenOver struct {
	VisitDraft
	Technician uuid.UUID
}

// TakeOver writes a pool's earlier visits in, all or none, with the load that each
// reading shows if nothing else was amiss. Nobody is asked what was wrong then: no
// diagnosis goes with them, and they teach no priors.
func (s *Service) TakeOver(ctx context.Context, a access.Actor, pool uuid.UUID, visits []TakenOver) error {
	if a.Role == access.Technician {
		return access.ErrForbidden
	}
	cm, rec, _, err := s.keeper.PadOf(ctx, pool)
	if err != nil {
		return err
	}
	observe := func(m *plumbing.Model, r diagnosis.Reading) (upkeep.Belief, error) {
		b, err := diagnosis.Observe(m, []diagnosis.Reading{r})
		if err != nil {
			return b, fmt.Errorf("judging a reading of an earlier record: %w", err)
		}
		return b, nil
	}
	rows := make([]store.Visit, len(visits))
	now := s.keeper.Now()
	var errs figure.FieldErrors
	for i, t := range visits {
		d, at := t.VisitDraft, fmt.Sprintf("[%d].", i)
		if !access.Reasonable(d.ArrivedAt) {
			errs.Add(at+"arrivedAt", access.NotReasonable)
			continue
		}
		if d.ClosedAt.Before(d.ArrivedAt) || d.ClosedAt.After(now) {
			errs.Add(at+"closedAt", "app.an-earlier-visit-ends-after")
			continue
		}
		v := &rows[i]
		*v = store.Visit{
			ID:           d.ID,
			PoolID:       pool,
			TechnicianID: t.Technician,
			ArrivedAt:    d.ArrivedAt,
			ClosedAt:     d.ClosedAt,
			Note:         d.Note,
			Confirmed:    d.Confirmed,
			ConfirmedHow: d.ConfirmedHow,
			ChemicalsAt:  d.ChemicalsAt,
			PlumbingID:   rec.Plumbing.ID,
			Diagnosis:    json.RawMessage("{}"),
			ContentHash:  d.hash(),
			RecordedAt:   now.Truncate(time.Microsecond),
		}
		cm.Unit(v)
		if d.StopID != uuid.Nil {
			v.StopID = &d.StopID
		}
		if rec.CleanLine != nil {
			v.CleanLineID = &rec.CleanLine.ID
		}
		if err := fill(v, d, cm.Model, observe); err != nil {
			return fmt.Errorf("visit %d of %s: %w", i+1, rec.Pool.Name(), err)
		}
		rows, err := d.Findings.Parse(cm.Model)
		if err != nil {
			return err
		}
		readings := make([]diagnosis.Reading, len(rows))
		for i, t := range rows {
			readings[i] = judge.Engine(t.Reading)
		}
		if len(readings) == 0 {
			continue
		}
		load, err := diagnosis.Observe(cm.Model, readings)
		if err != nil {
			return fmt.Errorf("judging a reading of an earlier record: %w", err)
		}
		v.LoadMean, v.LoadSD = &load.Mean, &load.SD
	}
	if len(errs) > 0 {
		return errs
	}
	return s.inTx(ctx, func(s *Service) error { return s.keeper.Store.AddVisits(ctx, rows) })
}
