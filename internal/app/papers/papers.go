package papers

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
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/paper"
	"fairlap/internal/store"
)

// PartWords name a part with its model, and the note that goes with what was done.
func PartWords(kind, model, note string) words.Message {
	if note == "" {
		return words.Of("app.part-model", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(model))
	}
	return words.Of(
		"app.part-model-note",
		"part",
		words.Msg(upkeep.PartName(kind)),
		"model",
		words.Name(model),
		"note",
		words.Msg(company.NoteOf(note)),
	)
}

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
	Kind PaperKind     `json:"kind" enum:"visit,report,season,owner,inspection"`
	Name words.Message `json:"name"`
	Of   string        `json:"of" doc:"the visit or inspection that it is of"`
}

// recentVisits is how many visits' reports are offered; recentInspections how many
// inspections'.
const (
	recentVisits      = 6
	recentInspections = 3
)

// papersOf lists a pool's papers.
func (s *Service) papersOf(ctx context.Context, pool uuid.UUID) ([]PaperName, error) {
	out := []PaperName{
		{Kind: OwnerPaper, Name: "app.owner-s-sheet"},
		{Kind: RecordPaper, Name: "app.equipment-and-history"},
		{Kind: SeasonPaper, Name: "app.the-last-twelve-months"},
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return nil, err
	}
	inspections, err := s.keeper.Store.InspectionsOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the inspections: %w", err)
	}
	closed := slices.DeleteFunc(inspections, func(r store.Inspection) bool { return r.ClosedAt == nil })
	for _, r := range closed[:min(len(closed), recentInspections)] {
		out = append(
			out,
			PaperName{
				Kind: InspectionPaper,
				Name: words.Of("app.inspection-of", "day", words.Date(r.ClosedAt.In(c.Zone))),
				Of:   r.ID.String(),
			},
		)
	}
	visits, err := s.keeper.Store.Log(ctx, pool, s.keeper.Now().AddDate(0, 0, 1), recentVisits)
	if err != nil {
		return nil, fmt.Errorf("listing the visits: %w", err)
	}
	for _, v := range visits {
		out = append(
			out,
			PaperName{
				Kind: VisitPaper,
				Name: words.Of("app.visit-of", "day", words.Date(v.ArrivedAt.In(c.Zone))),
				Of:   v.ID.String(),
			},
		)
	}
	return out, nil
}

// Papers lists a pool's papers.
func (s *Service) Papers(ctx context.Context, a access.Actor, pool uuid.UUID) ([]PaperName, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return nil, err
	}
	return s.papersOf(ctx, pool)
}

// Paper writes a pool's paper. How to get in is on none of them.
func (s *Service) Paper(
	ctx context.Context,
	a access.Actor,
	pool uuid.UUID,
	kind PaperKind,
	of *uuid.UUID,
) (paper.Page, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return paper.Page{}, err
	}
	return s.paper(ctx, a.Printer, pool, kind, of)
}

// SharedPaper writes a paper for whoever holds a pool's link.
func (s *Service) SharedPaper(
	ctx context.Context,
	reader words.Printer,
	secret string,
	kind PaperKind,
	of *uuid.UUID,
) (paper.Page, error) {
	p, err := s.sharedPool(ctx, secret)
	if err != nil {
		return paper.Page{}, err
	}
	return s.paper(ctx, reader, p.ID, kind, of)
}

// PaperPDF sets a paper as PDF.
func (s *Service) PaperPDF(ctx context.Context, d paper.Page) (access.File, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return access.File{}, err
	}
	pdf, err := paper.Set(d, c.Zone)
	return access.File{Name: fileName(d.For.Say(d.Title)) + ".pdf", Type: "application/pdf", Content: pdf}, err
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
	*standing.Site
	doc   paper.Page
	names map[uuid.UUID]string
	p     words.Printer // for what is drawn, not set
	now   time.Time
}

func (s *Service) paper(
	ctx context.Context,
	p words.Printer,
	pool uuid.UUID,
	kind PaperKind,
	of *uuid.UUID,
) (paper.Page, error) {
	now := s.keeper.Now()
	at, err := s.keeper.ReadPool(ctx, pool, now)
	if err != nil {
		return paper.Page{}, err
	}
	p.Units = units.System(at.Company.Office.Units) // a customer's, whoever prints it
	if p.Lang, err = s.langOf(ctx, &at.Record.Pool, p.Lang); err != nil {
		return paper.Page{}, err
	}
	w := &writer{Site: at, p: p, now: now.In(at.Company.Zone)}
	if w.names, err = s.keeper.Names(ctx); err != nil {
		return paper.Page{}, err
	}
	w.doc = paper.Page{
		Company: at.Company.Name,
		Phone:   at.Company.Office.Phone,
		Made:    words.Of("paper.made", "on", words.Date(w.now), "at", words.Clock(w.now)),
		Sub:     at.Record.Pool.Name(),
		Blocks:  []paper.Block{},
		For:     p,
	}
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
	return w.doc, nil
}

// langOf is the language of a pool's papers: its customer's, where one is noted.
func (s *Service) langOf(ctx context.Context, p *store.Pool, reader words.Lang) (words.Lang, error) {
	if p.CustomerID == nil {
		return reader, nil
	}
	known, err := s.keeper.Store.Customers(ctx, []uuid.UUID{*p.CustomerID})
	if err != nil {
		return reader, fmt.Errorf("reading the customer: %w", err)
	}
	return cmp.Or(words.Lang(known[*p.CustomerID].Lang), reader), nil
}

func (w *writer) add(blocks ...paper.Block) { w.doc.Blocks = append(w.doc.Blocks, blocks...) }

func (w *writer) heading(text words.Message) { w.add(paper.Block{Kind: paper.Heading, Text: text}) }

func (w *writer) say(text words.Message) {
	w.add(paper.Block{Kind: paper.Text, Text: text})
}

func (w *writer) caution(text words.Message) { w.add(paper.Block{Kind: paper.Caution, Text: text}) }

func (w *writer) facts(pairs ...words.Message) {
	b := paper.Block{Kind: paper.Facts}
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i+1] != "" {
			b.Facts = append(b.Facts, paper.Fact{Name: pairs[i], Value: pairs[i+1]})
		}
	}
	w.add(b)
}

func (w *writer) table(wide int, head []words.Message, rows [][]words.Message) {
	if len(rows) > 0 {
		w.add(paper.Block{Kind: paper.Table, Head: head, Rows: rows, Wide: wide})
	}
}

func (w *writer) picture(text words.Message, jpeg []byte) {
	w.add(paper.Block{Kind: paper.Picture, Text: text, JPEG: jpeg})
}

func (w *writer) day(t time.Time) words.Arg { return words.Date(t.In(w.Company.Zone)) }

func (w *writer) short(t time.Time) words.Message { return words.Of("app.day", "day", w.day(t)) }

// dateOf is a day without a zone.
func dateOf(t time.Time) words.Message { return words.Of("app.day", "day", words.Date(t)) }

// one is a quantity as a cell of a table.
func one(a words.Arg) words.Message { return words.Of("app.of-one", "one", a) }

func (w *writer) money(v float64) words.Arg {
	return words.Name(w.Company.Office.Currency + units.Grouped(v, 2))
}

func (w *writer) poolFactsBlock() {
	p := &w.Record.Pool
	ground := words.Message("app.in-the-ground")
	if !p.InGround {
		ground = "app.above-ground"
	}
	d := &w.Cached.Model.Doc
	facts := []words.Message{one(words.Q("gal", units.Volume(p.VolumeM3).Gallons()))}
	if p.Surface != "" {
		facts = append(facts, words.Named(p.Surface))
	}
	gear := upkeep.GearOf(d)
	w.facts(
		"app.pool",
		words.Join(words.Comma, append(facts, ground)...),
		"app.pump",
		words.Named(d.Pump.Model),
		"app.filter-2",
		standing.FilterWords(&gear),
		"app.on-record-since",
		dateOf(p.OnRecordSince),
	)
}

func (w *writer) owner() error {
	d := &w.Cached.Model.Doc
	w.doc.Title = "app.what-is-what-on-your"
	w.poolFactsBlock()
	w.caution("app.the-filter-is-under-pressure")
	w.heading("app.what-you-may-do-and")
	var rows [][]words.Message
	for _, m := range d.OwnerMay(d.Pump.Kind == pad.SingleSpeed) {
		rows = append(rows, []words.Message{m[0], m[1]})
	}
	w.table(1, []words.Message{"app.what", "app.how"}, rows)
	w.say("app.keep-the-water-at-the")
	w.heading("app.the-handles-how-they-should")
	if len(d.Valves) > 0 {
		var dials []paper.Dial
		for _, v := range d.Valves {
			a, b, angle := d.Dial(v)
			dials = append(dials, paper.Dial{Name: v.Name, A: w.p.Say(a), B: w.p.Say(b), AngleDeg: angle})
		}
		jpeg, err := paper.Dials(dials, w.p)
		if err != nil {
			return err
		}
		w.doc.Blocks = append(
			w.doc.Blocks,
			paper.Block{Kind: paper.Picture, Text: "app.as-they-should-stand-the", JPEG: jpeg},
		)
	}
	rows = nil
	for _, h := range d.OwnerHandles() {
		rows = append(rows, []words.Message{h.Name, h.Does, h.Usual, h.Why})
	}
	w.table(1, []words.Message{"app.handle", "app.what-it-does", "app.should-stand", "app.why-it-is-ours"}, rows)
	if len(d.Programme) > 0 {
		w.heading("app.the-pump-s-day")
		rows = nil
		for _, s := range d.Programme {
			rows = append(
				rows,
				[]words.Message{padwork.OwnerHours(s), one(words.Q("rpm", s.RPM)), one(words.QD("h", s.Hours, -1))},
			)
		}
		w.table(0, []words.Message{"app.from-to-2", "app.speed", "app.hours"}, rows)
		w.say("app.if-its-clock-shows-another")
	}
	if spa := d.SpaWords(); spa != nil {
		w.heading("app.the-spa")
		for _, s := range spa {
			w.say(s)
		}
	}
	w.heading("app.when-to-call-at-once")
	w.caution("app.a-drain-cover-that-is")
	if w.Company.Office.Phone != "" {
		w.say(words.Of("app.call", "company", words.Name(w.Company.Name), "phone", words.Name(w.Company.Office.Phone)))
	}
	return nil
}

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

// seasonPaper sums twelve months up: what was done, what it took, what it cost.
func (s *Service) seasonPaper(ctx context.Context, w *writer) error {
	since := w.now.AddDate(-1, 0, 0)
	w.doc.Title = "app.the-last-twelve-months"
	m := w.Cached.Model
	visits, cleanings, days := 0, 0, 0.0
	causes := map[words.Message]int{}
	var last *time.Time
	for i := range w.Before {
		v := &w.Before[i]
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
		if c := v.Confirmed; c != "" && c != standing.NothingFound && !strings.HasPrefix(c, standing.OpenConfirmed) {
			if f, ok := fault.LookUp(fault.ID(c), m.Doc.Filter.Kind); ok {
				causes[f.Name]++
			}
		}
	}
	between := words.Message("–")
	if cleanings > 1 {
		between = one(words.ND(days/float64(cleanings-1), 0))
	}
	waste := 0.0
	if m.Doc.Filter.Valve != pad.NoValve {
		q, err := m.TopBackwash()
		if err != nil {
			return fmt.Errorf("solving the backwash: %w", judge.Unsolved(err))
		}
		waste = float64(cleanings) * q.GPM() * backwashMinutes
	}
	wasteWords := words.Message("")
	if waste > 0 {
		wasteWords = words.Of(
			"app.about-waste",
			"waste",
			words.Q("gal", math.Round(waste/50)*50),
			"cost",
			w.money(waste/1000*w.Company.Office.WaterPerKGal),
		)
	}
	kwh, err := s.dayEnergy(w.Cached)
	if err != nil {
		return err
	}
	w.facts(
		"app.visits",
		one(words.N(visits)),
		"app.filter-cleaned-2",
		words.Of("app.times", "cleanings", words.N(cleanings)),
		"app.days-between-cleanings-mean",
		between,
		"app.water-that-took-to-waste",
		wasteWords,
		"app.water-filtered-a-day-by",
		one(words.Q("gal", w.Cached.KGalPerDay*1000)),
		"app.power-that-takes",
		words.Of(
			"app.about-a-day-a-month",
			"kwh",
			words.QD("kWh", kwh, 1),
			"cost",
			w.money(kwh*30.4*w.Company.Office.EnergyPerKWh),
		),
	)
	w.loadChart(since)
	if len(causes) > 0 {
		w.heading("app.what-was-found")
		var rows [][]words.Message
		for name, n := range causes {
			rows = append(rows, []words.Message{name, one(words.N(n))})
		}
		slices.SortFunc(rows, func(a, b []words.Message) int { return cmp.Compare(a[0], b[0]) })
		w.table(0, []words.Message{"app.cause", "app.times-2"}, rows)
	}
	events, err := equipment.New(s.keeper).PartEvents(ctx, w.Record.Pool.ID)
	if err != nil {
		return fmt.Errorf("reading what was done to the parts: %w", err)
	}
	var rows [][]words.Message
	total := 0.0
	for _, e := range events {
		on, _ := time.Parse(time.DateOnly, e.On)
		if on.Before(since) {
			continue
		}
		cost := words.Message("")
		if e.Cost != nil {
			cost, total = one(w.money(*e.Cost)), total+*e.Cost
		}
		rows = append(
			rows,
			[]words.Message{
				dateOf(on),
				PartWords(e.Kind, e.Model, string(e.Note)),
				words.Message("app.act-" + e.Act),
				cost,
			},
		)
	}
	if len(rows) > 0 {
		w.heading("app.parts")
		if total > 0 {
			rows = append(rows, []words.Message{"", "app.together", "", one(w.money(total))})
		}
		w.table(1, []words.Message{"app.day-2", "app.part", "app.what", "app.cost"}, rows)
	}
	due, err := s.comingWork(ctx, w)
	if err != nil {
		return err
	}
	if len(due) > 0 {
		w.heading("app.what-comes-next")
		w.table(2, []words.Message{"app.by", "app.work", "app.why"}, due)
	}
	return nil
}

// backwashMinutes is how long a backwash runs (common practice: about two minutes) with
// its rinse.
const backwashMinutes = 2.25

// dayEnergy is what a pool's programme takes a day, kWh, with the filter half loaded.
func (s *Service) dayEnergy(cm *standing.Pad) (float64, error) {
	solver := cm.Model.Solver()
	kwh := 0.0
	for _, slot := range cm.Model.Doc.Programme {
		op, load := pad.Operation{Speed: units.Speed(slot.RPM)}, plumbing.Effects{Load: 0.5}
		st, err := solver.Solve(op, load)
		if cm.Model.Doc.Pump.Kind == pad.FlowHolding {
			st, _, err = solver.Hold(op, load)
		}
		if err != nil {
			return 0, fmt.Errorf("solving at %g rpm: %w", slot.RPM, judge.Unsolved(err))
		}
		kwh += float64(st.Power) / 1000 * slot.Hours
	}
	return kwh, nil
}

// comingWork are the rows of work due within the coming year.
func (s *Service) comingWork(ctx context.Context, w *writer) ([][]words.Message, error) {
	id := w.Record.Pool.ID
	marks, err := s.keeper.Store.DueMarksOf(ctx, []uuid.UUID{id})
	if err != nil {
		return nil, fmt.Errorf("reading what was decided: %w", err)
	}
	moves, err := s.keeper.MovesOf(ctx, w.Company, id)
	if err != nil {
		return nil, err
	}
	planned := standing.Planned(w.Company, &w.Record.Pool, moves[id], w.Seen(), w.now)
	kept, err := w.Amounts(marks[id])
	if err != nil {
		return nil, err
	}
	l := s.keeper.Ledger(w.Company, kept, planned, w.now)
	var out [][]words.Message
	for _, d := range l.List() {
		if d.By.Before(w.now.AddDate(1, 0, 0)) {
			out = append(out, []words.Message{w.short(d.By), d.Name, d.Reason})
		}
	}
	return out, nil
}

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
