package padwork

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/speedplan"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// OwnerHours is a programme's slot in words.
func OwnerHours(s pad.Slot) words.Message {
	return words.Hours(s.StartHour, s.StartHour+s.Hours)
}

// PlanView is a pool's speed plan beside its present programme.
type PlanView struct {
	Street   string              `json:"street"`
	Needs    speedplan.Needs     `json:"needs"`
	Own      bool                `json:"own" doc:"the needs are this pool's own, not the usual ones"`
	Version  int                 `json:"version" doc:"of the pool"`
	Present  Programme           `json:"present" doc:"as its pad is described"`
	Plan     *Programme          `json:"plan" doc:"absent where the needs collide"`
	Loss     float64             `json:"loss" doc:"money a month that fitting it into the slots costs"`
	Within   float64             `json:"within" doc:"money a month by which a cheaper plan could exist at the most"`
	Conflict *speedplan.Conflict `json:"conflict"`
	Windows  []JobWindow         `json:"windows" nullable:"false"`
	Prices   []float64           `json:"prices" nullable:"false" doc:"of a kilowatt hour, by hour of the day"`
	TopRPM   float64             `json:"topRpm"`
	Kind     string              `json:"kind" enum:"single,two,variable,holding"`
	FlowSure float64             `json:"flowSure" doc:"one deviation of the plan's flows, as a share: what the pad's calibration leaves open"`
	HasCell  bool                `json:"hasCell"`
	HasHeat  bool                `json:"hasHeater"`
	Asks     []words.Message     `json:"asks" nullable:"false" doc:"what only somebody who knows this pool can say; the plan leaves it out until then"`
	MayEdit  bool                `json:"mayEdit"`
}

// Programme is a day of the pump with what it comes to.
type Programme struct {
	Slots  []PlanSlot         `json:"slots" nullable:"false"`
	Totals speedplan.Totals   `json:"totals"`
	Month  float64            `json:"month" doc:"power of 30.4 days, in money"`
	Starts float64            `json:"starts" doc:"wear of starts in 30.4 days, in money; on no bill"`
	Season float64            `json:"season" doc:"cost of half a year"`
	Broken []speedplan.Broken `json:"broken" nullable:"false"`
	Wrong  []words.Message    `json:"wrong" nullable:"false" doc:"what no pump could run"`
}

// PlanSlot is one slot of a programme.
type PlanSlot struct {
	Start   float64 `json:"start"`
	Hours   float64 `json:"hours"`
	RPM     float64 `json:"rpm"`
	HoldGPM float64 `json:"holdGpm" doc:"of a flow-holding pump: the flow to set"`
	GPM     float64 `json:"gpm"`
	W       float64 `json:"w"`
}

// JobWindow is the span of speeds for one job, with the reason at each edge.
type JobWindow struct {
	Job    string        `json:"job" enum:"filter,gentle,gauge,heater,cell,cleaner,backwash,quiet"`
	Low    float64       `json:"low"`
	Top    float64       `json:"top"`
	LowWhy words.Message `json:"lowWhy"`
	TopWhy words.Message `json:"topWhy"`
	Empty  bool          `json:"empty"`
}

// daysAMonth and monthsASeason turn a day's cost into what people ask for.
const (
	daysAMonth    = 30.4
	monthsASeason = 6
)

// planner is what a pool's plan is made from.
type planner struct {
	pool    store.Pool
	doc     pad.Document
	pad     *speedplan.Pad
	company company.Company
	airF    float64
}

func (s *Service) planner(ctx context.Context, a access.Actor, id uuid.UUID) (*planner, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return nil, err
	}
	cm, _, c, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return nil, err
	}
	solved, err := s.planPad(cm, units.Volume(p.VolumeM3))
	if err != nil {
		return nil, err
	}
	air, known := upkeep.Heat(s.keeper.World.Sky, s.keeper.Now().In(c.Zone))
	if !known {
		air = 80
	}
	return &planner{pool: p, doc: cm.Model.Doc, pad: solved, company: c, airF: math.Round(air)}, nil
}

// planPad solves a pad's ways to run, once for a calibrated pad and a volume.
func (s *Service) planPad(cm *standing.Pad, volume units.Volume) (*speedplan.Pad, error) {
	cm.PlanOnce.Lock()
	defer cm.PlanOnce.Unlock()
	if cm.PlanPad == nil || cm.PlanVolume != volume {
		p, err := speedplan.NewPad(cm.Model, volume)
		if err != nil {
			return nil, judge.Unsolved(err)
		}
		cm.PlanPad, cm.PlanVolume = p, volume
	}
	return cm.PlanPad, nil
}

// needs are a pool's: the usual ones, with its own over them.
func (w *planner) needs() (speedplan.Needs, bool, error) {
	n := speedplan.Usual(w.pad, math.Round(units.Volume(w.pool.VolumeM3).Gallons()), w.airF)
	n.Tariff.Flat = w.company.Office.EnergyPerKWh
	if len(w.pool.Needs) == 0 || string(w.pool.Needs) == "{}" {
		return n, false, nil
	}
	if err := json.Unmarshal(w.pool.Needs, &n); err != nil {
		return n, true, fmt.Errorf("the needs of %s: %w", w.pool.Name(), err)
	}
	return n, true, nil
}

func needMistakes(wrong []speedplan.Mistake) error {
	if len(wrong) == 0 {
		return nil
	}
	out := make(figure.FieldErrors, len(wrong))
	for i, m := range wrong {
		out[i] = figure.FieldError{Field: "needs." + m.Field, Text: m.Text}
	}
	return out
}

func programme(p *speedplan.Plan) Programme {
	out := Programme{
		Slots:  []PlanSlot{},
		Totals: p.Totals,
		Month:  p.Totals.PowerCost * daysAMonth,
		Starts: p.Totals.StartsCost * daysAMonth,
		Season: p.Totals.PowerCost * daysAMonth * monthsASeason,
		Broken: append([]speedplan.Broken{}, p.Broken...),
		Wrong:  []words.Message{},
	}
	for _, b := range p.Blocks {
		out.Slots = append(
			out.Slots,
			PlanSlot{
				Start:   b.Start,
				Hours:   b.Hours,
				RPM:     b.Way.RPM,
				HoldGPM: b.Way.HoldGPM,
				GPM:     b.Way.GPM,
				W:       b.Way.W,
			},
		)
	}
	return out
}

func (w *planner) evaluated(n *speedplan.Needs, slots []pad.Slot) Programme {
	plan, wrong := speedplan.Evaluate(w.pad, n, slots)
	out := programme(plan)
	for _, m := range wrong {
		out.Wrong = append(out.Wrong, m.Text)
	}
	return out
}

// SpeedPlan plans a pool's day.
func (s *Service) SpeedPlan(ctx context.Context, a access.Actor, id uuid.UUID) (PlanView, error) {
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return PlanView{}, err
	}
	n, custom, err := w.needs()
	if err != nil {
		return PlanView{}, err
	}
	return w.view(a, n, custom)
}

func (w *planner) view(a access.Actor, n speedplan.Needs, custom bool) (PlanView, error) {
	if err := needMistakes(n.Check(w.pad)); err != nil {
		return PlanView{}, err
	}
	out := PlanView{
		Street:  w.pool.Name(),
		Needs:   n,
		Own:     custom,
		Version: w.pool.Version,
		TopRPM:  w.doc.Pump.TopRPM,
		Kind:    string(w.doc.Pump.Kind),
		HasCell: w.doc.Cell != nil,
		HasHeat: w.doc.Heater != nil,
		MayEdit: a.Role != access.Technician,
		Windows: []JobWindow{},
		Prices:  []float64{},
		Asks:    w.asks(&n),
	}
	out.Present = w.evaluated(&n, w.doc.Programme)
	answer := speedplan.Find(w.pad, &n)
	if answer.Conflict != nil {
		out.Conflict = answer.Conflict
	} else {
		p := programme(answer.Plan)
		out.Plan, out.Loss, out.Within = &p, answer.Loss*daysAMonth, answer.Within*daysAMonth
		if t := answer.Plan.Totals; t.Turnovers > 0 {
			out.FlowSure = t.TurnoversSD / t.Turnovers
		}
	}
	for _, e := range w.pad.Windows(&n) {
		out.Windows = append(
			out.Windows,
			JobWindow{
				Job:    e.Job,
				Low:    e.Low.RPM,
				Top:    e.Top.RPM,
				LowWhy: why(e.Low),
				TopWhy: why(e.Top),
				Empty:  e.Low.RPM > e.Top.RPM,
			},
		)
	}
	for h := range 24 {
		price, _ := n.Tariff.At(h)
		out.Prices = append(out.Prices, price)
	}
	return out, nil
}

// asks are the needs that nobody can guess.
func (w *planner) asks(n *speedplan.Needs) []words.Message {
	out := []words.Message{}
	if w.doc.Heater != nil && n.Heat.None() && !n.Unheated {
		text := words.Message("app.this-pool-has-a-heater")
		if w.doc.Heater.LeastGPM > 0 {
			text = words.Of("app.heater-asks", "least", words.Q("gpm", w.doc.Heater.LeastGPM))
		}
		out = append(out, text)
	}
	return out
}

// why says an edge's reason with its source.
func why(e speedplan.Edge) words.Message {
	return words.Of("app.edge", "name", words.Msg(e.Name), "reason", words.Msg(e.Reason), "source", words.Msg(e.Source))
}

// PlanTry is needs, and slots where somebody edits them, to look at without keeping.
type PlanTry struct {
	Needs speedplan.Needs `json:"needs"`
	Slots []PlanSlotEdit  `json:"slots,omitempty" maxItems:"24"`
}

// PlanSlotEdit is a slot as it is edited.
type PlanSlotEdit struct {
	Start float64 `json:"start" minimum:"0" maximum:"24"`
	Hours float64 `json:"hours" minimum:"0" maximum:"24"`
	RPM   float64 `json:"rpm" minimum:"0" maximum:"4000"`
}

func slotsOf(in []PlanSlotEdit) []pad.Slot {
	out := make([]pad.Slot, len(in))
	for i, s := range in {
		out[i] = pad.Slot{StartHour: s.Start, Hours: s.Hours, RPM: s.RPM}
	}
	return out
}

// TryPlan plans a day for other needs without keeping them.
func (s *Service) TryPlan(ctx context.Context, a access.Actor, id uuid.UUID, in PlanTry) (PlanView, error) {
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return PlanView{}, err
	}
	return w.view(a, in.Needs, true)
}

// TrySlots adds edited slots up and says what they break.
func (s *Service) TrySlots(ctx context.Context, a access.Actor, id uuid.UUID, in PlanTry) (Programme, error) {
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return Programme{}, err
	}
	if err := needMistakes(in.Needs.Check(w.pad)); err != nil {
		return Programme{}, err
	}
	return w.evaluated(&in.Needs, slotsOf(in.Slots)), nil
}

// SaveNeeds keeps a pool's own needs; nil is the usual ones again. When somebody else
// changed the pool meanwhile, the error is store.ErrVersion and the plan comes as it now
// stands.
func (s *Service) SaveNeeds(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	version int,
	in *speedplan.Needs,
) (PlanView, error) {
	if a.Role == access.Technician {
		return PlanView{}, access.ErrForbidden
	}
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return PlanView{}, err
	}
	text := []byte("{}")
	if in != nil {
		if err := needMistakes(in.Check(w.pad)); err != nil {
			return PlanView{}, err
		}
		if text, err = json.Marshal(in); err != nil {
			return PlanView{}, fmt.Errorf("writing the needs: %w", err)
		}
	}
	err = s.keeper.Audited(ctx, a, "pool", &id, "app.changed-what-the-pump-s", func(st *store.Store) error {
		_, err := st.ChangePool(ctx, id, version, map[string]any{"needs": text})
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return PlanView{}, fmt.Errorf("keeping the needs: %w", err)
	}
	out, bad := s.SpeedPlan(ctx, a, id)
	return out, errors.Join(err, bad)
}

// SetProgramme records what the pump runs now, as a revision of the pad's description.
func (s *Service) SetProgramme(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	slots []PlanSlotEdit,
) (PlanView, error) {
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return PlanView{}, err
	}
	n, _, err := w.needs()
	if err != nil {
		return PlanView{}, err
	}
	if p := w.evaluated(&n, slotsOf(slots)); len(p.Wrong) > 0 {
		return PlanView{}, figure.Wrong("slots", p.Wrong[0])
	}
	pool, err := s.PoolPad(ctx, a, id)
	if err != nil {
		return PlanView{}, err
	}
	doc := pool.Document
	doc.Programme = slotsOf(slots)
	if _, err := s.SavePad(ctx, a, id, PadChange{BasedOn: pool.Revision, Reason: store.ReasonDescription,
		Note: "app.pad-follows.programme", Document: doc}); err != nil {
		return PlanView{}, err
	}
	return s.SpeedPlan(ctx, a, id)
}

// SeasonMonth is what the plan should become in a month.
type SeasonMonth struct {
	Month     int             `json:"month"`
	AirF      float64         `json:"airF"`
	Turnovers float64         `json:"turnovers" doc:"asked for"`
	Hours     float64         `json:"hours"`
	KWh       float64         `json:"kwh" doc:"a day"`
	Cost      float64         `json:"cost" doc:"a month"`
	Text      words.Message   `json:"says" doc:"why there is no plan"`
	Slots     []words.Message `json:"slots" nullable:"false"`
}

// PlanSeason plans a pool's year month by month, by the air of the year before.
func (s *Service) PlanSeason(ctx context.Context, a access.Actor, id uuid.UUID) ([]SeasonMonth, error) {
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return nil, err
	}
	n, _, err := w.needs()
	if err != nil {
		return nil, err
	}
	out := []SeasonMonth{}
	if err := needMistakes(n.Check(w.pad)); err != nil {
		return out, err
	}
	for _, m := range speedplan.Season(w.pad, &n, s.monthsAir(w)) {
		row := SeasonMonth{
			Month:     int(m.Month),
			AirF:      math.Round(m.AirF),
			Turnovers: m.Needs.Turnovers,
			Slots:     []words.Message{},
		}
		if m.Answer.Conflict != nil {
			row.Text = m.Answer.Conflict.Text
		} else {
			t := m.Answer.Plan.Totals
			row.Hours, row.KWh, row.Cost = t.RunHours, t.KWh, t.PowerCost*daysAMonth
			for _, sl := range m.Answer.Plan.Slots() {
				row.Slots = append(row.Slots,
					words.Of("app.slot-at", "hours", words.Msg(OwnerHours(sl)), "speed", words.Q("rpm", sl.RPM)))
			}
		}
		out = append(out, row)
	}
	return out, nil
}

// monthsAir is the mean air of each month of the last year, as far as the weather is
// known; else a mild year.
func (s *Service) monthsAir(w *planner) func(time.Month) float64 {
	now := s.keeper.Now().In(w.company.Zone)
	return func(m time.Month) float64 {
		sum, n := 0.0, 0
		if s.keeper.World.Sky != nil {
			for d := range 366 {
				day := now.AddDate(0, 0, -d)
				if day.Month() != m {
					continue
				}
				if x, known := s.keeper.World.Sky(time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0,
					w.company.Zone)); known {
					sum, n = sum+x.AirF, n+1
				}
			}
		}
		if n == 0 {
			swing := math.Cos(2 * math.Pi * (float64(m) - 7) / 12)
			if w.company.Settings.South {
				swing = -swing
			}
			return 68 + 16*swing
		}
		return sum / float64(n)
	}
}

// SchoolRow is what a school of running a pump would come to here.
type SchoolRow struct {
	Name      words.Message `json:"name"`
	Turnovers float64       `json:"turnovers"`
	KWh       float64       `json:"kwh" doc:"a day"`
	Month     float64       `json:"month"`
	Media     float64       `json:"mediaRate"`
	Text      words.Message `json:"says" doc:"why it can't be had"`
}

// PlanSchools sets the schools side by side for a pool.
func (s *Service) PlanSchools(ctx context.Context, a access.Actor, id uuid.UUID) ([]SchoolRow, error) {
	w, err := s.planner(ctx, a, id)
	if err != nil {
		return nil, err
	}
	n, _, err := w.needs()
	if err != nil {
		return nil, err
	}
	out := []SchoolRow{}
	if err := needMistakes(n.Check(w.pad)); err != nil {
		return out, err
	}
	for _, x := range []struct {
		name   words.Message
		change func(*speedplan.Needs)
	}{
		{"app.as-asked-for", func(*speedplan.Needs) {}},
		{"app.water-round-once-a-day", func(m *speedplan.Needs) { m.Turnovers = 1 }},
		{"app.water-round-twice-a-day", func(m *speedplan.Needs) { m.Turnovers = 2 }},
		{"app.water-round-three-times-a", func(m *speedplan.Needs) { m.Turnovers = 3 }},
		{"app.gentle-to-the-media-half", func(m *speedplan.Needs) {
			m.Media, m.HighRPM = speedplan.MediaGentle,
				math.Min(m.HighRPM, math.Floor(w.pad.Top(speedplan.MediaGentle)/50)*50)
		}},
		{"app.off-in-the-utility-s", func(m *speedplan.Needs) { m.PeakWay = speedplan.PeakOff }},
		{"app.the-peak-s-price-alone", func(m *speedplan.Needs) { m.PeakWay = speedplan.PeakFree }},
		{"app.at-least-twelve-hours", func(m *speedplan.Needs) { m.LeastRun = 12 }},
		{"app.round-the-clock", func(m *speedplan.Needs) { m.LeastRun = 24 }},
	} {
		m := n
		x.change(&m)
		row := SchoolRow{Name: x.name}
		if answer := speedplan.Find(w.pad, &m); answer.Conflict != nil {
			row.Text = answer.Conflict.Text
		} else {
			t := answer.Plan.Totals
			row.Turnovers, row.KWh, row.Month, row.Media = t.Turnovers, t.KWh, t.PowerCost*daysAMonth, t.MediaRate
		}
		out = append(out, row)
	}
	return out, nil
}

// ReadTariffFile reads a tariff's file.
func (s *Service) ReadTariffFile(text string) (speedplan.Tariff, error) {
	t, wrong := speedplan.ReadTariff(strings.NewReader(text))
	if len(wrong) == 0 {
		return t, nil
	}
	out := make(figure.FieldErrors, len(wrong))
	for i, m := range wrong {
		out[i] = figure.FieldError{Field: "text." + m.Field, Text: m.Text}
	}
	return t, out
}
