package papers

import (
	"cmp"
	"context"
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
	"fairlap/core/words"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/standing"
)

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
