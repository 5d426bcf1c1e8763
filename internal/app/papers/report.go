package papers

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/visit"
	"fairlap/internal/paper"
	"fairlap/internal/store"
)

func (s *Service) reportPaper(ctx context.Context, w *writer) error {
	w.doc.Title = "app.equipment-and-history"
	w.poolFactsBlock()
	w.heading("app.equipment")
	var rows [][]words.Message
	for _, e := range w.Parts {
		p := equipment.View(w.Company, &e, w.now)
		age, until := words.Message("app.not-known"), words.Message("–")
		if p.AgeYears != nil {
			age = words.Of("app.age", "years", words.ND(*p.AgeYears, 1))
			if p.ExpectedYears != nil {
				age = words.Of("app.age-of", "years", words.ND(*p.AgeYears, 1), "of", words.N(*p.ExpectedYears))
			}
		}
		if e.WarrantyUntil != nil {
			until = dateOf(*e.WarrantyUntil)
		}
		installed := words.Message("–")
		if e.InstalledOn != nil {
			installed = dateOf(*e.InstalledOn)
		}
		rows = append(
			rows,
			[]words.Message{
				upkeep.PartName(p.Kind),
				words.Named(strings.TrimSpace(p.Model + " " + p.Serial)),
				installed,
				age,
				until,
			},
		)
	}
	w.table(
		1,
		[]words.Message{"app.part", "app.model-serial", "app.installed", "app.age-of-its-life", "app.warranty-until"},
		rows,
	)
	events, err := equipment.New(s.keeper).PartEvents(ctx, w.Record.Pool.ID)
	if err != nil {
		return fmt.Errorf("reading what was done to the parts: %w", err)
	}
	rows = nil
	for _, e := range events {
		on, _ := time.Parse(time.DateOnly, e.On)
		cost := words.Message("")
		if e.Cost != nil {
			cost = one(w.money(*e.Cost))
		}
		rows = append(
			rows,
			[]words.Message{
				dateOf(on),
				words.Message("app.act-" + e.Act),
				PartWords(e.Kind, e.Model, string(e.Note)),
				cost,
			},
		)
	}
	if len(rows) > 0 {
		w.heading("app.what-was-done-to-the")
		w.table(2, []words.Message{"app.day-2", "app.what", "app.part", "app.cost"}, rows)
	}
	w.loadChart(time.Time{})
	if wear := w.History.Worn(w.Cached.Model.Doc.Filter.Kind); len(wear) > 0 {
		w.heading("app.what-wears")
		for _, x := range wear {
			w.say(words.Of("app.wear", "name", words.Msg(x.Name), "says", words.Msg(x.Text), "plan", words.Msg(x.Plan)))
		}
	}
	w.heading("app.visits")
	rows = nil
	for _, v := range slices.Backward(w.Before) {
		if len(rows) == 40 {
			break
		}
		rows = append(rows, []words.Message{w.short(v.ArrivedAt), w.gauge(&v), w.did(&v)})
	}
	w.table(2, []words.Message{"app.day-2", "app.tank-gauge", "app.what-was-found-and-done"}, rows)
	if len(w.Before) > 40 {
		w.say(words.Of("app.newest-forty", "visits", words.N(len(w.Before))))
	}
	return nil
}

// loadChart draws the filter's load since a time.
func (w *writer) loadChart(since time.Time) {
	c := paper.Chart{
		Name:   "app.filter-load-cleaned-at-each",
		Unit:   "app.of-its-limit",
		Limit:  100,
		Points: []paper.Point{},
	}
	for i, p := range w.History.Points {
		if p.At.Before(since) {
			continue
		}
		next := i+1 < len(w.History.Points) && w.History.Points[i+1].After
		c.Points = append(
			c.Points,
			paper.Point{At: p.At, Value: math.Round(100 * math.Max(0, p.Load)), Cut: next || p.Cleaned && !p.After},
		)
	}
	if len(c.Points) > 1 {
		w.heading("app.the-filter")
		w.add(paper.Block{Kind: paper.Trend, Chart: &c})
	}
}

// gauge is a visit's tank reading, before and after a cleaning.
func (w *writer) gauge(v *store.Visit) words.Message {
	read := map[string]*store.VisitReading{}
	for i := range v.Readings {
		if r := &v.Readings[i]; r.TankPa != nil && read[r.Phase] == nil {
			read[r.Phase] = r
		}
	}
	at := func(r *store.VisitReading) words.Message {
		return words.Of(
			"app.tank-at",
			"tank",
			words.Q("psi", units.Pressure(*r.TankPa).PSI()),
			"speed",
			words.Q("rpm", r.SpeedRPM),
		)
	}
	before, after := read["found"], read["after"]
	switch {
	case before == nil && after == nil:
		return "app.not-read"
	case before == nil:
		return at(after)
	case after == nil:
		return at(before)
	}
	return words.Of(
		"app.tank-from-to",
		"before",
		words.Q("psi", units.Pressure(*before.TankPa).PSI()),
		"after",
		words.Msg(at(after)),
	)
}

// WorkWords are kinds of work as a customer reads them.
var WorkWords = map[string]words.Message{
	"cleaned":  "app.filter-cleaned",
	"basket":   "app.pump-basket-emptied",
	"skimmer":  "app.skimmer-emptied",
	"lid-seal": "app.lid-ring-greased",
	"handle":   "app.a-valve-set-right",
	"level":    "app.water-topped-up",
	"part":     "app.a-part-replaced",
	"other":    "app.other-work",
}

// did is what a visit found and did, in words.
func (w *writer) did(v *store.Visit) words.Message {
	var out []words.Message
	if r := visit.View(*v, "", "", w.Cached.Model.Doc.Filter.Kind, false); r.ConfirmedAs != "" {
		out = append(out, r.ConfirmedAs)
	}
	for _, k := range v.Works {
		did := WorkWords[k.Kind]
		if k.Note != "" {
			did = words.Of("app.work-noted", "work", words.Msg(did), "note", words.Name(k.Note))
		}
		out = append(out, did)
	}
	if v.ChemicalsAt != nil {
		out = append(out, "app.chemicals-added")
	}
	if len(out) == 0 {
		return "app.read-and-looked-over"
	}
	return words.Of("app.did", "what", words.List(words.Comma, out...))
}
