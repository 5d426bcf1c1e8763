package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/internal/paper"
	"fairlap/internal/store"
)

// PaperKind is what a paper is about.
type PaperKind string

// The papers of a pool.
const (
	VisitPaper      PaperKind = "visit"
	RecordPaper     PaperKind = "report"
	SeasonPaper     PaperKind = "season"
	OwnerPaper      PaperKind = "owner"
	InspectionPaper PaperKind = "inspection"
)

// PaperName is a paper to choose.
type PaperName struct {
	Kind PaperKind `json:"kind" enum:"visit,report,season,owner,inspection"`
	Name string    `json:"name"`
	Of   string    `json:"of" doc:"the visit or inspection that it is of"`
}

// recentVisits is how many visits' reports are offered; recentInspections how many
// inspections'.
const (
	recentVisits      = 6
	recentInspections = 3
)

// papersOf lists a pool's papers.
func (s *Service) papersOf(ctx context.Context, pool uuid.UUID) ([]PaperName, error) {
	out := []PaperName{{Kind: OwnerPaper, Name: "Owner's sheet"}, {Kind: RecordPaper, Name: "Equipment and history"}, {Kind: SeasonPaper, Name: "The last twelve months"}}
	c, err := s.company(ctx)
	if err != nil {
		return nil, err
	}
	inspections, err := s.store.InspectionsOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the inspections: %w", err)
	}
	closed := slices.DeleteFunc(inspections, func(r store.Inspection) bool { return r.ClosedAt == nil })
	for _, r := range closed[:min(len(closed), recentInspections)] {
		out = append(out, PaperName{InspectionPaper, "Inspection of " + r.ClosedAt.In(c.zone).Format("2 January 2006"), r.ID.String()})
	}
	visits, err := s.store.Log(ctx, pool, s.now().AddDate(0, 0, 1), recentVisits)
	if err != nil {
		return nil, fmt.Errorf("listing the visits: %w", err)
	}
	for _, v := range visits {
		out = append(out, PaperName{VisitPaper, "Visit of " + v.ArrivedAt.In(c.zone).Format("2 January 2006"), v.ID.String()})
	}
	return out, nil
}

// Papers lists a pool's papers.
func (s *Service) Papers(ctx context.Context, a Actor, pool uuid.UUID) ([]PaperName, error) {
	if _, err := s.seePool(ctx, a, pool); err != nil {
		return nil, err
	}
	return s.papersOf(ctx, pool)
}

// Paper writes a pool's paper. How to get in is on none of them.
func (s *Service) Paper(ctx context.Context, a Actor, pool uuid.UUID, kind PaperKind, of *uuid.UUID) (paper.Page, error) {
	if _, err := s.seePool(ctx, a, pool); err != nil {
		return paper.Page{}, err
	}
	return s.paper(ctx, pool, kind, of)
}

// SharedPaper writes a paper for whoever holds a pool's link.
func (s *Service) SharedPaper(ctx context.Context, secret string, kind PaperKind, of *uuid.UUID) (paper.Page, error) {
	p, err := s.sharedPool(ctx, secret)
	if err != nil {
		return paper.Page{}, err
	}
	return s.paper(ctx, p.ID, kind, of)
}

// PaperPDF sets a paper as PDF.
func (s *Service) PaperPDF(ctx context.Context, d paper.Page) (PadFile, error) {
	c, err := s.company(ctx)
	if err != nil {
		return PadFile{}, err
	}
	pdf, err := paper.Set(d, c.zone)
	return PadFile{fileName(d.Title) + ".pdf", "application/pdf", pdf}, err
}

// fileName is a title as a file may be called.
func fileName(title string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, title), "-")
}

// writer puts one paper together.
type writer struct {
	*atStop
	doc   paper.Page
	names map[uuid.UUID]string
	units units.System
	now   time.Time
}

func (s *Service) paper(ctx context.Context, pool uuid.UUID, kind PaperKind, of *uuid.UUID) (paper.Page, error) {
	now := s.now()
	at, err := s.readPool(ctx, pool, now)
	if err != nil {
		return paper.Page{}, err
	}
	w := &writer{atStop: at, units: units.System(at.company.office.Units), now: now.In(at.company.zone)}
	if w.names, err = s.names(ctx); err != nil {
		return paper.Page{}, err
	}
	p := at.record.Pool
	w.doc = paper.Page{Company: at.company.name, Phone: at.company.office.Phone, Made: now, Sub: p.Name(), Blocks: []paper.Block{}}
	switch kind {
	case OwnerPaper:
		err = w.owner()
	case RecordPaper:
		err = s.reportPaper(ctx, w)
	case SeasonPaper:
		err = s.seasonPaper(ctx, w)
	case VisitPaper:
		err = s.visitPaper(ctx, w, of)
	case InspectionPaper:
		err = s.inspectionPaper(ctx, w, of)
	default:
		err = store.ErrNotFound
	}
	if err != nil {
		return paper.Page{}, err
	}
	for i := range w.doc.Blocks {
		w.doc.Blocks[i].Text = w.units.Say(w.doc.Blocks[i].Text)
	}
	return w.doc, nil
}

func (w *writer) add(blocks ...paper.Block) { w.doc.Blocks = append(w.doc.Blocks, blocks...) }

func (w *writer) heading(words string) { w.add(paper.Block{Kind: paper.Heading, Text: words}) }

func (w *writer) say(format string, args ...any) {
	w.add(paper.Block{Kind: paper.Text, Text: fmt.Sprintf(format, args...)})
}

func (w *writer) caution(words string) { w.add(paper.Block{Kind: paper.Caution, Text: words}) }

func (w *writer) facts(pairs ...string) {
	b := paper.Block{Kind: paper.Facts}
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i+1] != "" {
			b.Facts = append(b.Facts, paper.Fact{Name: pairs[i], Value: pairs[i+1]})
		}
	}
	w.add(b)
}

func (w *writer) table(wide int, head []string, rows [][]string) {
	if len(rows) > 0 {
		w.add(paper.Block{Kind: paper.Table, Head: head, Rows: rows, Wide: wide})
	}
}

func (w *writer) picture(says string, jpeg []byte) {
	w.add(paper.Block{Kind: paper.Picture, Text: says, JPEG: jpeg})
}

func (w *writer) day(t time.Time) string { return t.In(w.company.zone).Format("2 January 2006") }

func (w *writer) short(t time.Time) string { return t.In(w.company.zone).Format("2 Jan 2006") }

func (w *writer) money(v float64) string {
	return fmt.Sprintf("%s %.2f", w.company.office.Currency, v)
}

func (w *writer) poolFactsBlock() {
	p := &w.record.Pool
	ground := "in the ground"
	if !p.InGround {
		ground = "above ground"
	}
	d := &w.cached.model.Doc
	w.facts("Pool", strings.Join(slices.DeleteFunc([]string{w.units.Figure(units.Volume(p.VolumeM3).Gallons(), "gal"), p.Surface, ground}, func(x string) bool { return x == "" }), ", "),
		"Pump", d.Pump.Model, "Filter", filterWords(d), "On record since", p.OnRecordSince.Format("2 January 2006"))
}

// ownerHours is a programme's slot in words.
func ownerHours(s pad.Slot) string {
	at := func(h float64) string {
		m := int(math.Round(h*60)) % (24 * 60)
		return fmt.Sprintf("%02d:%02d", m/60, m%60)
	}
	return at(s.StartHour) + "–" + at(s.StartHour+s.Hours)
}

func (w *writer) owner() error {
	d := &w.cached.model.Doc
	w.doc.Title = "What is what on your pad"
	w.poolFactsBlock()
	w.caution("The filter is under pressure while the pump runs. Never loosen its band, clamp or lid. Never turn the filter valve's handle with the pump on. Gas, wiring and the heater's inside are for licensed trades.")
	w.heading("What you may do, and how")
	var rows [][]string
	for _, m := range d.OwnerMay(d.Pump.Kind == pad.SingleSpeed) {
		rows = append(rows, []string{m[0], m[1]})
	}
	w.table(1, []string{"What", "How"}, rows)
	w.say("Keep the water at the middle of the skimmer's mouth, and look whether it moves at the returns.")
	w.heading("The handles: how they should stand, and why they are ours")
	if len(d.Valves) > 0 {
		var dials []paper.Dial
		for _, v := range d.Valves {
			a, b, angle := d.Dial(v)
			dials = append(dials, paper.Dial{Name: v.Name, A: a, B: b, AngleDeg: angle})
		}
		jpeg, err := paper.Dials(dials)
		if err != nil {
			return err
		}
		w.doc.Blocks = append(w.doc.Blocks, paper.Block{Kind: paper.Picture, Text: "As they should stand. The handle's OFF mark points at the way that is shut. If they look different, turn nothing and call us.", JPEG: jpeg})
	}
	rows = nil
	for _, h := range d.OwnerHandles() {
		rows = append(rows, []string{h.Name, h.Does, h.Usual, h.Why})
	}
	w.table(1, []string{"Handle", "What it does", "Should stand", "Why it is ours"}, rows)
	if len(d.Programme) > 0 {
		w.heading("The pump's day")
		rows = nil
		for _, s := range d.Programme {
			rows = append(rows, []string{ownerHours(s), fmt.Sprintf("%.0f rpm", s.RPM), fmt.Sprintf("%g h", s.Hours)})
		}
		w.table(0, []string{"From, to", "Speed", "Hours"}, rows)
		w.say("If its clock shows another time after a power cut, set the clock and leave the programme as it is.")
	}
	if words := d.SpaWords(); words != nil {
		w.heading("The spa")
		for _, s := range words {
			w.say("%s", s)
		}
	}
	w.heading("When to call at once")
	w.caution("A drain cover that is broken, loose or missing: pump off, nobody in the water, call at once.")
	if w.company.office.Phone != "" {
		w.say("Call %s, %s.", w.company.name, w.company.office.Phone)
	}
	return nil
}

func (s *Service) reportPaper(ctx context.Context, w *writer) error {
	w.doc.Title = "Equipment and history"
	w.poolFactsBlock()
	w.heading("Equipment")
	var rows [][]string
	for _, e := range w.parts {
		p := w.company.part(&e, w.now)
		age, until := "not known", "–"
		if p.AgeYears != nil {
			age = fmt.Sprintf("%.1f y", *p.AgeYears)
			if p.ExpectedYears != nil {
				age += fmt.Sprintf(" of %g", *p.ExpectedYears)
			}
		}
		if e.WarrantyUntil != nil {
			until = e.WarrantyUntil.Format("2 Jan 2006")
		}
		installed := "–"
		if e.InstalledOn != nil {
			installed = e.InstalledOn.Format("2 Jan 2006")
		}
		rows = append(rows, []string{p.Kind, strings.TrimSpace(p.Model + " " + p.Serial), installed, age, until})
	}
	w.table(1, []string{"Part", "Model, serial", "Installed", "Age, of its life", "Warranty until"}, rows)
	events, err := s.partEvents(ctx, w.record.Pool.ID)
	if err != nil {
		return fmt.Errorf("reading what was done to the parts: %w", err)
	}
	rows = nil
	for _, e := range events {
		on, _ := time.Parse(time.DateOnly, e.On)
		cost := ""
		if e.Cost != nil {
			cost = w.money(*e.Cost)
		}
		rows = append(rows, []string{on.Format("2 Jan 2006"), e.Act, strings.TrimSuffix(e.Kind+": "+e.Model+". "+e.Note, ". "), cost})
	}
	if len(rows) > 0 {
		w.heading("What was done to the parts")
		w.table(2, []string{"Day", "What", "Part", "Cost"}, rows)
	}
	w.loadChart(time.Time{})
	if wear := w.history.Worn(w.cached.model.Doc.Filter.Kind); len(wear) > 0 {
		w.heading("What wears")
		for _, x := range wear {
			w.say("%s. %s %s", x.Name, x.Says, x.Plan)
		}
	}
	w.heading("Visits")
	rows = nil
	for _, v := range slices.Backward(w.before) {
		if len(rows) == 40 {
			break
		}
		rows = append(rows, []string{w.short(v.ArrivedAt), w.gauge(&v), w.did(&v)})
	}
	w.table(2, []string{"Day", "Tank gauge", "What was found and done"}, rows)
	if len(w.before) > 40 {
		w.say("The newest forty of %d visits on record.", len(w.before))
	}
	return nil
}

// loadChart draws the filter's load since a time.
func (w *writer) loadChart(since time.Time) {
	c := paper.Chart{Name: "Filter load, cleaned at each break", Unit: "% of its limit", Limit: 100, Points: []paper.Point{}}
	for i, p := range w.history.Points {
		if p.At.Before(since) {
			continue
		}
		next := i+1 < len(w.history.Points) && w.history.Points[i+1].After
		c.Points = append(c.Points, paper.Point{At: p.At, Value: math.Round(100 * math.Max(0, p.Load)), Cut: next || p.Cleaned && !p.After})
	}
	if len(c.Points) > 1 {
		w.heading("The filter")
		w.add(paper.Block{Kind: paper.Trend, Chart: &c})
	}
}

// gauge is a visit's tank reading, before and after a cleaning.
func (w *writer) gauge(v *store.Visit) string {
	read := map[string]string{}
	for _, r := range v.Readings {
		if r.TankPa != nil && read[r.Phase] == "" {
			read[r.Phase] = fmt.Sprintf("%s at %.0f rpm", w.units.Figure(units.Pressure(*r.TankPa).PSI(), "psi"), r.SpeedRPM)
		}
	}
	switch {
	case read["found"] == "":
		return cmp.Or(read["after"], "not read")
	case read["after"] == "":
		return read["found"]
	}
	before, _, _ := strings.Cut(read["found"], " at")
	return before + " → " + read["after"]
}

// workWords are kinds of work as a customer reads them.
var workWords = map[string]string{"cleaned": "filter cleaned", "basket": "pump basket emptied", "skimmer": "skimmer emptied", "lid-seal": "lid ring greased", "handle": "a valve set right", "level": "water topped up", "part": "a part replaced", "other": "other work"}

// did is what a visit found and did, in words.
func (w *writer) did(v *store.Visit) string {
	var out []string
	if r := visitRecord(*v, "", "", w.cached.model.Doc.Filter.Kind, false); r.ConfirmedAs != "" {
		out = append(out, r.ConfirmedAs)
	}
	for _, k := range v.Works {
		words := workWords[k.Kind]
		if k.Note != "" {
			words += " (" + k.Note + ")"
		}
		out = append(out, words)
	}
	if v.ChemicalsAt != nil {
		out = append(out, "chemicals added")
	}
	if len(out) == 0 {
		return "read and looked over"
	}
	words := strings.Join(out, ", ")
	return strings.ToUpper(words[:1]) + words[1:]
}

// seasonPaper sums twelve months up: what was done, what it took, what it cost.
func (s *Service) seasonPaper(ctx context.Context, w *writer) error {
	since := w.now.AddDate(-1, 0, 0)
	w.doc.Title = "The last twelve months"
	m := w.cached.model
	visits, cleanings, days := 0, 0, 0.0
	causes := map[string]int{}
	var last *time.Time
	for i := range w.before {
		v := &w.before[i]
		if v.ArrivedAt.Before(since) {
			continue
		}
		visits++
		if v.Cleaned {
			cleanings++
			if last != nil {
				days += v.ArrivedAt.Sub(*last).Hours() / 24
			}
			last = &v.ArrivedAt
		}
		if c := v.Confirmed; c != "" && c != nothingFound && !strings.HasPrefix(c, openConfirmed) {
			if f, ok := fault.LookUp(fault.ID(c), m.Doc.Filter.Kind); ok {
				causes[f.Name]++
			}
		}
	}
	between := "–"
	if cleanings > 1 {
		between = fmt.Sprintf("%.0f", days/float64(cleanings-1))
	}
	waste := 0.0
	if m.Doc.Filter.Valve != pad.NoValve {
		q, err := m.TopBackwash()
		if err != nil {
			return fmt.Errorf("solving the backwash: %w", unsolved(err))
		}
		waste = float64(cleanings) * q.GPM() * backwashMinutes
	}
	wasteWords := ""
	if waste > 0 {
		wasteWords = fmt.Sprintf("about %s, %s", w.units.Figure(math.Round(waste/50)*50, "gal"), w.money(waste/1000*w.company.office.WaterPerKGal))
	}
	kwh, err := s.dayEnergy(w.cached)
	if err != nil {
		return err
	}
	w.facts("Visits", fmt.Sprint(visits), "Filter cleaned", fmt.Sprintf("%d times", cleanings), "Days between cleanings, mean", between, "Water that took to waste", wasteWords,
		"Water filtered a day, by the pump's present programme", w.units.Figure(w.cached.kgalPerDay*1000, "gal"),
		"Power that takes", fmt.Sprintf("about %.1f kWh a day, %s a month", kwh, w.money(kwh*30.4*w.company.office.EnergyPerKWh)))
	w.loadChart(since)
	if len(causes) > 0 {
		w.heading("What was found")
		var rows [][]string
		for name, n := range causes {
			rows = append(rows, []string{name, fmt.Sprint(n)})
		}
		slices.SortFunc(rows, func(a, b []string) int { return strings.Compare(a[0], b[0]) })
		w.table(0, []string{"Cause", "Times"}, rows)
	}
	events, err := s.partEvents(ctx, w.record.Pool.ID)
	if err != nil {
		return fmt.Errorf("reading what was done to the parts: %w", err)
	}
	var rows [][]string
	total := 0.0
	for _, e := range events {
		on, _ := time.Parse(time.DateOnly, e.On)
		if on.Before(since) {
			continue
		}
		cost := ""
		if e.Cost != nil {
			cost, total = w.money(*e.Cost), total+*e.Cost
		}
		rows = append(rows, []string{on.Format("2 Jan 2006"), strings.TrimSuffix(e.Kind+": "+e.Model+". "+e.Note, ". "), e.Act, cost})
	}
	if len(rows) > 0 {
		w.heading("Parts")
		if total > 0 {
			rows = append(rows, []string{"", "Together", "", w.money(total)})
		}
		w.table(1, []string{"Day", "Part", "What", "Cost"}, rows)
	}
	due, err := s.comingWork(ctx, w)
	if err != nil {
		return err
	}
	if len(due) > 0 {
		w.heading("What comes next")
		w.table(2, []string{"By", "Work", "Why"}, due)
	}
	return nil
}

// backwashMinutes is how long a backwash runs (common practice: about two minutes) with
// its rinse.
const backwashMinutes = 2.25

// dayEnergy is what a pool's programme takes a day, kWh, with the filter half loaded.
func (s *Service) dayEnergy(cm *cachedModel) (float64, error) {
	solver := cm.model.Solver()
	kwh := 0.0
	for _, slot := range cm.model.Doc.Programme {
		op, load := pad.Operation{Speed: units.Speed(slot.RPM)}, pad.Effects{Load: 0.5}
		st, err := solver.Solve(op, load)
		if cm.model.Doc.Pump.Kind == pad.FlowHolding {
			st, _, err = solver.Hold(op, load)
		}
		if err != nil {
			return 0, fmt.Errorf("solving at %g rpm: %w", slot.RPM, unsolved(err))
		}
		kwh += float64(st.Power) / 1000 * slot.Hours
	}
	return kwh, nil
}

// comingWork are the rows of work due within the coming year.
func (s *Service) comingWork(ctx context.Context, w *writer) ([][]string, error) {
	id := w.record.Pool.ID
	marks, err := s.store.DueMarksOf(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading what was decided: %w", err)
	}
	moves, err := s.movesOf(ctx, w.company, id)
	if err != nil {
		return nil, err
	}
	planned := w.company.planned(&w.record.Pool, moves[id], w.before, w.now)
	work, err := inspectedOf(w.inspected)
	if err != nil {
		return nil, err
	}
	l := w.company.ledger(w.record, w.cached, &w.history, w.parts, marks[id], work, planned, w.now)
	var out [][]string
	for _, d := range l.List() {
		if d.By.Before(w.now.AddDate(1, 0, 0)) {
			out = append(out, []string{w.short(d.By), d.Name, w.units.Say(d.Reason)})
		}
	}
	return out, nil
}

// visitPaper tells a customer of one visit; without one named, of the last.
func (s *Service) visitPaper(ctx context.Context, w *writer, id *uuid.UUID) error {
	if id == nil {
		if len(w.before) == 0 {
			return store.ErrNotFound
		}
		id = &w.before[len(w.before)-1].ID
	}
	v, err := s.store.VisitByID(ctx, *id)
	if errors.Is(err, store.ErrNotFound) || err == nil && v.PoolID != w.record.Pool.ID {
		return store.ErrNotFound
	}
	if err != nil {
		return fmt.Errorf("reading the visit: %w", err)
	}
	kind := w.cached.model.Doc.Filter.Kind
	r := visitRecord(v, w.record.Pool.Name(), w.names[v.TechnicianID], kind, true)
	w.doc.Title = "Visit of " + w.day(v.ArrivedAt)
	w.facts("Technician", r.Technician, "There", v.ArrivedAt.In(w.company.zone).Format("15:04")+" to "+v.ClosedAt.In(w.company.zone).Format("15:04"), "Done", w.did(&v), "Note", v.Note)
	if v.CorrectsID != nil {
		w.say("This visit corrects an earlier record of the same day.")
	}
	var rows [][]string
	value := func(v *float64, unit string) string {
		if v == nil {
			return "–"
		}
		return w.units.Figure(*v, unit)
	}
	for _, x := range r.Readings {
		when := "as found"
		if x.Phase == "after" {
			when = "after cleaning"
		}
		rows = append(rows, []string{when, fmt.Sprintf("%.0f rpm", x.RPM), value(x.TankPsi, "psi"), value(x.VacuumInHg, "inHg"), value(x.FlowGPM, "gpm"), value(x.PowerW, "W")})
	}
	if len(rows) > 0 {
		w.heading("What the gauges said")
		w.table(0, []string{"When", "Pump speed", "Tank gauge", "Vacuum", "Flow", "Power"}, rows)
	}
	if r.Load != nil {
		left := ""
		if r.LoadAfter != nil {
			left = fmt.Sprintf(" and at %.0f %% after the cleaning", 100*math.Max(0, *r.LoadAfter))
		}
		w.say("The filter stood at %.0f %% of its cleaning limit%s.", 100*math.Max(0, *r.Load), left)
	}
	if r.Verdict != nil {
		w.heading("What we make of it")
		if r.ConfirmedAs == "" && len(r.Verdict.Suspects) > 0 && r.Verdict.Suspects[0].ID != string(fault.Healthy) {
			w.say("Most likely: %s.", r.Verdict.Suspects[0].Name)
		}
		w.say("%s: %s", r.Verdict.Advice.Says, r.Verdict.Advice.Reason)
	}
	return nil
}
