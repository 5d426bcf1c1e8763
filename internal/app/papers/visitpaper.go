package papers

import (
	"context"
	"errors"
	"fmt"
	"math"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/words"
	"fairlap/internal/app/visit"
	"fairlap/internal/store"
)

// visitPaper tells a customer of one visit; without one named, of the last.
func (s *Service) visitPaper(ctx context.Context, w *writer, id *uuid.UUID) error {
	if id == nil {
		if len(w.Before) == 0 {
			return store.ErrNotFound
		}
		id = &w.Before[len(w.Before)-1].ID
	}
	v, err := s.keeper.Store.VisitByID(ctx, *id)
	if errors.Is(err, store.ErrNotFound) || err == nil && v.PoolID != w.Record.Pool.ID {
		return store.ErrNotFound
	}
	if err != nil {
		return fmt.Errorf("reading the visit: %w", err)
	}
	kind := w.Cached.Model.Doc.Filter.Kind
	r := visit.View(v, w.Record.Pool.Name(), w.names[v.TechnicianID], kind, true)
	w.doc.Title = words.Of("app.visit-of", "day", w.day(v.ArrivedAt))
	facts := []words.Message{
		"app.technician",
		words.Named(r.Technician),
		"app.there-2",
		words.Of(
			"app.there",
			"from",
			words.Clock(v.ArrivedAt.In(w.Company.Zone)),
			"to",
			words.Clock(v.ClosedAt.In(w.Company.Zone)),
		),
		"app.done",
		w.did(&v),
	}
	if v.Note != "" {
		facts = append(facts, "app.note", words.Named(v.Note))
	}
	w.facts(facts...)
	if v.CorrectsID != nil {
		w.say("app.this-visit-corrects-an-earlier")
	}
	var rows [][]words.Message
	value := func(v *float64, unit string) words.Message {
		if v == nil {
			return "–"
		}
		return one(words.Q(unit, *v))
	}
	for _, x := range r.Readings {
		when := words.Message("app.as-found")
		if x.Phase == "after" {
			when = "app.after-cleaning"
		}
		rows = append(
			rows,
			[]words.Message{
				when,
				one(words.Q("rpm", x.RPM)),
				value(x.TankPsi, "psi"),
				value(x.VacuumInHg, "inHg"),
				value(x.FlowGPM, "gpm"),
				value(x.PowerW, "W"),
			},
		)
	}
	if len(rows) > 0 {
		w.heading("app.what-the-gauges-said")
		w.table(
			0,
			[]words.Message{"app.when", "app.pump-speed", "app.tank-gauge", "app.vacuum", "app.flow", "app.power"},
			rows,
		)
	}
	if r.Load != nil {
		loads := words.Of("app.stood-at", "load", words.Share(math.Max(0, *r.Load)))
		if r.LoadAfter != nil {
			loads = words.Of(
				"app.stood-at-after",
				"load",
				words.Share(math.Max(0, *r.Load)),
				"after",
				words.Share(math.Max(0, *r.LoadAfter)),
			)
		}
		w.say(loads)
	}
	if r.Rejudged != nil {
		w.say("app.judged-again")
	}
	if r.LeftOpen != "" {
		w.heading("app.left-open")
		w.say(r.LeftOpen)
	}
	if r.Verdict != nil {
		w.heading("app.what-we-make-of-it")
		if r.ConfirmedAs == "" && len(r.Verdict.Suspects) > 0 && r.Verdict.Suspects[0].ID != string(fault.Healthy) {
			w.say(words.Of("app.most-likely", "name", words.Msg(r.Verdict.Suspects[0].Name)))
		}
		w.say(
			words.Of(
				"app.advice",
				"says",
				words.Msg(r.Verdict.Advice.Text),
				"reason",
				words.Msg(r.Verdict.Advice.Reason),
			),
		)
	}
	return nil
}
