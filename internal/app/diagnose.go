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

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/inspection"
	"fairlap/core/lap"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// TypedReading is one set of meters as typed; "" means not read.
type TypedReading struct {
	Setting string `json:"setting,omitempty" enum:",filter,recirculate,spa" doc:"spa: on Filter, suction and return both on the spa"`
	Speed   string `json:"speed" maxLength:"40"`
	Tank    string `json:"tank" maxLength:"40"`
	Vacuum  string `json:"vacuum" maxLength:"40"`
	Flow    string `json:"flow" maxLength:"40"`
	Power   string `json:"power" maxLength:"40"`
	// At is when it was read, where the device noted it: work done at the stop parts
	// what was read before it from what was read after.
	At *time.Time `json:"at,omitempty"`
}

func (t TypedReading) empty() bool {
	return strings.TrimSpace(t.Tank+t.Vacuum+t.Flow+t.Power) == ""
}

// Findings is what was read and seen at a stop.
type Findings struct {
	Readings []TypedReading  `json:"readings" maxItems:"6" nullable:"false"`
	Signs    map[string]bool `json:"signs" doc:"sign id to yes or no; a sign not looked for is left out"`
	Called   bool            `json:"called,omitempty" doc:"somebody called: no routine visit"`
	// SignsAt is when a sign was answered, where the device noted it.
	SignsAt map[string]time.Time `json:"signsAt,omitempty"`
}

// typed is one reading as it was typed, in trade units as files have it.
type typed struct {
	row int // in Findings.Readings
	at  *time.Time
	casefile.Reading
}

// parse turns what was typed into readings; every mistake is named.
func (f Findings) parse(m *pad.Model) ([]typed, error) {
	var errs FieldErrors
	var out []typed
	for i, t := range f.Readings {
		if t.empty() && strings.TrimSpace(t.Speed) == "" {
			continue
		}
		r, bad := parseReading(fmt.Sprintf("readings[%d]", i), t, m)
		errs = append(errs, bad...)
		if !t.empty() {
			out = append(out, typed{i, t.At, r})
		}
	}
	for id := range f.Signs {
		if _, ok := fault.LookUpSign(fault.Sign(id)); !ok {
			errs = append(errs, FieldError{"signs." + id, "app.this-sign-is-not-known"})
		}
	}
	if len(errs) > 0 {
		return nil, errs
	}
	return out, nil
}

// engine is a reading as the engine takes it.
func engine(r casefile.Reading) diagnosis.Reading {
	return diagnosis.Reading{Reading: r.Meters(), Setting: pad.Setting(r.Setting)}
}

func parseReading(path string, t TypedReading, m *pad.Model) (casefile.Reading, FieldErrors) {
	var errs FieldErrors
	r := casefile.Reading{Setting: t.Setting}
	if r.Setting == "" {
		r.Setting = string(pad.SetFilter)
	}
	take := func(name string, kind figure.Kind, text string) *float64 {
		if strings.TrimSpace(text) == "" {
			return nil
		}
		v, err := figure.Read(kind, text)
		if err != nil {
			errs = append(errs, FieldError{path + "." + name, figure.Problem(err)})
			return nil
		}
		return &v
	}
	top := m.Doc.Pump.TopRPM
	speed := take("speed", figure.Speed, t.Speed)
	switch {
	case speed == nil && len(errs) == 0 && m.Doc.Pump.Kind == pad.SingleSpeed:
		r.RPM = top
	case speed == nil && len(errs) == 0:
		errs = append(errs, FieldError{path + ".speed", "app.type-the-pump-speed-too"})
	case speed != nil && *speed == 0 && strings.TrimSpace(t.Tank) != "" && strings.TrimSpace(t.Vacuum+t.Flow+t.Power) == "":
		r.RPM = 0 // at rest, bleed open: what stands in the tank
	case speed != nil && *speed == 0:
		errs = append(errs, FieldError{path + ".speed", "app.at-0-rpm-the-pump"})
	case speed != nil && *speed > top+1:
		errs = append(errs, FieldError{path + ".speed", words.Of("app.this-pump-s-top-speed", "top", words.QD("rpm", top, 0))})
	case speed != nil:
		r.RPM = min(*speed, top)
	}
	r.TankPsi = take("tank", figure.Tank, t.Tank)
	r.VacuumInHg = take("vacuum", figure.Vacuum, t.Vacuum)
	r.FlowGPM = take("flow", figure.Flow, t.Flow)
	r.PowerW = take("power", figure.Power, t.Power)
	if pad.Setting(r.Setting) == pad.SetRecirculate && m.Doc.Filter.Valve != pad.Multiport {
		errs = append(errs, FieldError{path + ".setting", "app.this-filter-has-no-recirculate"})
	}
	if _, ok := m.Doc.SpaMode(); pad.Setting(r.Setting) == diagnosis.SpaMode && !ok {
		errs = append(errs, FieldError{path + ".setting", "app.this-pad-has-no-valves"})
	}
	return r, errs
}

// MeterView is one meter of a reading beside what it should have said.
type MeterView struct {
	Meter  string   `json:"meter" enum:"tank,vacuum,flow,power"`
	Unit   string   `json:"unit"`
	Read   *float64 `json:"read"`
	Clean  float64  `json:"clean"`
	Spread float64  `json:"spread" doc:"one standard deviation of clean, from the calibration alone"`
}

// FlowView is one flow by independent ways.
type FlowView struct {
	Mean   float64   `json:"mean"`
	SD     float64   `json:"sd"`
	Agree  bool      `json:"agree"`
	Strays string    `json:"strays" enum:"meter,curve,watts," doc:"the way furthest from the others when they part"`
	Ways   []FlowWay `json:"ways" nullable:"false"`
}

// FlowWay is a flow by one way, gpm with one standard deviation.
type FlowWay struct {
	Way string  `json:"way" enum:"meter,curve,watts"`
	GPM float64 `json:"gpm"`
	SD  float64 `json:"sd"`
}

func flowView(e pad.FlowEstimates) *FlowView {
	if len(e.Ways) < 2 {
		return nil
	}
	v := &FlowView{Mean: e.Mean.GPM(), SD: e.SD.GPM(), Agree: e.Agree, Strays: string(e.Strays)}
	for _, w := range e.Ways {
		v.Ways = append(v.Ways, FlowWay{string(w.Way), w.Flow.GPM(), w.SD.GPM()})
	}
	return v
}

// ReadingView is one reading beside the clean line.
type ReadingView struct {
	Row      int         `json:"row" doc:"of the findings' readings; -1 for one that a run took"`
	RPM      float64     `json:"rpm"`
	Setting  string      `json:"setting"`
	Meters   []MeterView `json:"meters" nullable:"false"`
	LimitPsi float64     `json:"limitPsi" doc:"tank gauge at the cleaning limit at this speed"`
	Flow     *FlowView   `json:"flow" doc:"the flow by two or three independent ways; absent with fewer"`
}

// SuspectView is one suspect with its reasons.
type SuspectView struct {
	ID       string               `json:"id"`
	Name     words.Message        `json:"name"`
	Place    words.Message        `json:"place"`
	P        float64              `json:"p"`
	Severity float64              `json:"severity"`
	For      []diagnosis.Evidence `json:"for" nullable:"false"`
	Against  []diagnosis.Evidence `json:"against" nullable:"false"`
	Settle   words.Message        `json:"settle"`
	Fix      words.Message        `json:"fix"`
	Minutes  float64              `json:"minutes"`
	Caution  words.Message        `json:"caution"`
	Who      words.Message        `json:"who" doc:"who may do it; empty is any technician"`
	With     []WithView           `json:"with" nullable:"false" doc:"the other fault of two at once: the row is both"`
}

// WithView is a fault beside a suspect, and the chance of both.
type WithView struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
}

// FixView is one step of trying the fixes without looking first.
type FixView struct {
	ID      string        `json:"id"`
	Name    words.Message `json:"name"`
	Fix     words.Message `json:"fix"`
	P       float64       `json:"p"`
	Minutes float64       `json:"minutes"`
	Spent   float64       `json:"spent" doc:"mean minutes gone when this step is over"`
	Caution words.Message `json:"caution"`
	Who     words.Message `json:"who"`
}

// FindingView is a chronic weakness beside the suspects.
type FindingView struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
	Text words.Message `json:"says"`
	Fix  words.Message `json:"fix"`
}

// FoundView is a thing seen wrong, to be mended whatever the gauges say.
type FoundView struct {
	Sign string        `json:"sign"`
	Name words.Message `json:"name"`
	Mend words.Message `json:"mend"`
	Text words.Message `json:"says"`
}

// ChangedView is what was thought before a stop's last work.
type ChangedView struct {
	Work     words.Message `json:"work"`
	Was      []WasView     `json:"was" nullable:"false"`
	WasLoad  float64       `json:"wasLoad"`
	TooShort bool          `json:"tooShort" doc:"the wash ran under half its time"`
}

// WasView is a suspect before the work.
type WasView struct {
	ID   string        `json:"id"`
	Name words.Message `json:"name"`
	P    float64       `json:"p"`
}

// CheckView is a look worth taking.
type CheckView struct {
	Sign    string        `json:"sign"`
	Name    words.Message `json:"name"`
	Look    words.Message `json:"look"`
	Minutes float64       `json:"minutes"`
	Caution words.Message `json:"caution"`
	PumpOff bool          `json:"pumpOff"`
	IfYes   words.Message `json:"ifYes"`
	IfNo    words.Message `json:"ifNo"`
	YesP    float64       `json:"yesP"`
	NoP     float64       `json:"noP"`
	Bits    float64       `json:"bits"`
	// Reading is set when the check is another reading of the tank gauge.
	Reading *ReadingToTake `json:"reading"`
}

// ReadingToTake is a reading worth taking and what suspects would have it say.
type ReadingToTake struct {
	Setting string      `json:"setting" enum:"filter,recirculate,spa"`
	RPM     float64     `json:"rpm"`
	Would   []WouldRead `json:"would" nullable:"false"`
}

// WouldRead is one suspect's figure on the tank gauge.
type WouldRead struct {
	Name words.Message `json:"name"`
	Psi  float64       `json:"psi"`
}

// StationView is one station of the grade line, psi above the pool's surface.
type StationView struct {
	ID       string  `json:"id"`
	CleanIn  float64 `json:"cleanIn"`
	CleanOut float64 `json:"cleanOut"`
	TodayIn  float64 `json:"todayIn"`
	TodayOut float64 `json:"todayOut"`
}

// PartingView is where the two lines part.
type PartingView struct {
	Station string  `json:"station"`
	Today   float64 `json:"today"`
	Clean   float64 `json:"clean"`
	Extra   float64 `json:"extra"`
}

// GradeView is the grade line of the first reading.
type GradeView struct {
	RPM      float64       `json:"rpm"`
	Stations []StationView `json:"stations" nullable:"false"`
	Worst    *PartingView  `json:"worst"`
}

// Verdict is everything that the bench shows of a case. It is stored with the
// visit as shown.
type Verdict struct {
	EngineVersion string             `json:"engineVersion"`
	State         string             `json:"state" enum:"stop,reread,sound,dirt,past,suspect,unsure" doc:"what it amounts to"`
	Text          words.Message      `json:"says" doc:"the answer in one line, with what to do about cleaning"`
	P             float64            `json:"p" doc:"the chance of what it says"`
	Found         []FoundView        `json:"found" nullable:"false"`
	Unexplained   []words.Message    `json:"unexplained" nullable:"false" doc:"names of the signs that no suspect brings"`
	Changed       *ChangedView       `json:"changed"`
	Readings      []ReadingView      `json:"readings" nullable:"false"`
	Suspects      []SuspectView      `json:"suspects" nullable:"false"`
	Other         float64            `json:"other"`
	Load          diagnosis.Belief   `json:"load"`
	Observed      diagnosis.Belief   `json:"observed"`
	Known         bool               `json:"known"`
	Next          []CheckView        `json:"next" nullable:"false"`
	FixOrder      []FixView          `json:"fixOrder" nullable:"false" doc:"by probability over minutes"`
	Chronic       []FindingView      `json:"chronic" nullable:"false" doc:"weaknesses of the pad itself, each weighed alone"`
	Alike         []words.Message    `json:"alike" nullable:"false" doc:"leading suspects that these readings can't tell apart"`
	Misfit        words.Message      `json:"misfit"`
	Dangers       []diagnosis.Danger `json:"dangers" nullable:"false"`
	Grade         *GradeView         `json:"grade"`
	Advice        upkeep.Advice      `json:"advice"`
	Forecast      upkeep.Forecast    `json:"forecast"`
}

// atStop is what a stop's use cases start from.
type atStop struct {
	*Stop
	company company
	stop    store.Stop
	day     store.Lap
	record  *store.PoolRecord
	cached  *cachedModel
	parts   []store.Equipment
	before  []store.Visit // earlier visits, oldest first, this stop's own left out
	// inspected is the last closed inspection; its zero is none.
	inspected store.Inspection
}

// pack puts what is known of a pool together.
func (at *atStop) pack(h upkeep.History, now time.Time) error {
	found, err := findingsOf(&at.inspected)
	if err != nil {
		return err
	}
	p := Pack{Pool: at.record.Pool.Name(), Gallons: units.Volume(at.record.Pool.VolumeM3).Gallons(), Zone: at.company.zone.String(), Pad: at.cached.Model.Doc, CleanLine: at.cached.Clean,
		Settings: at.company.settings, Ways: at.company.ways, History: h, Worn: at.worn(now), Installed: inspection.Speaks(found), Open: []fault.ID{}, Done: []Done{}}
	if n := len(at.before); n > 0 {
		if id, _ := openSuspect(at.before[n-1], at.cached.Model.Doc.Filter.Kind); id != "" {
			p.Open = append(p.Open, id)
		}
	}
	at.Stop, err = p.On(at.cached.Calibrated)
	return err
}

func (s *Service) atStop(ctx context.Context, a Actor, id uuid.UUID, now time.Time) (*atStop, error) {
	c, err := s.company(ctx)
	if err != nil {
		return nil, err
	}
	stop, l, err := s.store.StopByID(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("finding the stop: %w", err)
	}
	if !a.maySee(&l.TechnicianID) {
		return nil, ErrForbidden
	}
	records, err := s.store.PoolRecords(ctx, []uuid.UUID{stop.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the pool: %w", err)
	}
	r := records[stop.PoolID]
	if c, err = c.forPool(&r.Pool); err != nil {
		return nil, err
	}
	cm, err := s.model(r, c.settings)
	if err != nil {
		return nil, err
	}
	visits, err := s.store.VisitsOf(ctx, []uuid.UUID{stop.PoolID}, now.AddDate(-remembered, 0, 0))
	if err != nil {
		return nil, fmt.Errorf("reading the visits: %w", err)
	}
	others := visits[stop.PoolID][:0:0]
	for _, v := range visits[stop.PoolID] { // a stop already logged is judged as it was found
		if v.StopID == nil || *v.StopID != stop.ID {
			others = append(others, v)
		}
	}
	doses, err := s.store.LastDoses(ctx, []uuid.UUID{stop.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the doses: %w", err)
	}
	parts, err := s.store.EquipmentOf(ctx, stop.PoolID)
	if err != nil {
		return nil, fmt.Errorf("reading the equipment: %w", err)
	}
	priors, err := s.priors(ctx)
	if err != nil {
		return nil, err
	}
	inspected, err := s.store.LastInspections(ctx, []uuid.UUID{stop.PoolID})
	if err != nil {
		return nil, fmt.Errorf("reading the last inspection: %w", err)
	}
	runs, err := s.endedRuns(ctx, stop)
	if err != nil {
		return nil, err
	}
	at := &atStop{company: c, stop: stop, day: l, record: r, cached: cm, parts: parts[stop.PoolID], before: others, inspected: inspected[stop.PoolID]}
	if err := at.pack(s.historyOf(c, others, doses[stop.PoolID], cm, now), now); err != nil {
		return nil, err
	}
	at.Priors, at.Next, at.Done = priors, lap.NextVisit(stop.PlannedAt), runs
	return at, nil
}

// worn is, by what they wear into, how much of their expected life parts have
// behind them.
func (at *atStop) worn(now time.Time) map[fault.ID]float64 {
	out := map[fault.ID]float64{}
	for _, e := range at.parts {
		years := at.company.expected(&e)
		if e.InstalledOn == nil || years <= 0 {
			continue
		}
		share := now.Sub(*e.InstalledOn).Hours() / 24 / 365.25 / years
		for _, id := range fault.WearsInto[e.Kind] {
			out[id] = max(out[id], share)
		}
	}
	return out
}

// Diagnose judges findings at a stop without keeping them.
func (s *Service) Diagnose(ctx context.Context, a Actor, stop uuid.UUID, f Findings) (Verdict, error) {
	now := s.now()
	at, err := s.atStop(ctx, a, stop, now)
	if err != nil {
		return Verdict{}, err
	}
	v, _, err := at.Judge(f, now, nil)
	return v, err
}

// Case is everything known at a stop as a case: a stop is judged as the command line
// judges its file.
func (s *Stop) Case(f Findings, now time.Time) (casefile.Case, error) {
	rows, err := f.parse(s.Model)
	if err != nil {
		return casefile.Case{}, err
	}
	return s.asCase(f, rows, now), nil
}

func (s *Stop) asCase(f Findings, rows []typed, now time.Time) casefile.Case {
	load, loss := s.History.State.LoadBelief(), s.Settings.FlowLoss()
	c := casefile.Case{Title: s.Pool, Pad: s.Model.Doc, CleanLine: s.Clean,
		Context: casefile.Context{Load: &load.Mean, LoadSD: load.SD, LimitPsi: s.LimitPsi, FlowLoss: &loss, Called: f.Called,
			Season: string(fault.SeasonOf(int(now.In(s.zone).Month()), s.Settings.South)), Priors: byID(s.Priors), Worn: byID(s.Worn), Installed: byID(s.Installed)}}
	c.Pad.PoolGallons = s.Gallons
	for _, id := range s.Open {
		c.Context.Open = append(c.Context.Open, string(id))
	}
	s.inStages(&c, f, rows)
	return c
}

func byID[T any](in map[fault.ID]T) map[string]T {
	out := make(map[string]T, len(in))
	for id, x := range in {
		out[string(id)] = x
	}
	return out
}

// Judge says what findings at a stop amount to; chemicals that went in today hold too. It
// asks nobody: the server and a device without a line answer alike.
func (at *Stop) Judge(f Findings, now time.Time, chemicals *time.Time) (Verdict, *diagnosis.Result, error) {
	rows, err := f.parse(at.Model)
	if err != nil {
		return Verdict{}, nil, err
	}
	c := at.asCase(f, rows, now)
	asked := c.On(at.Model)
	res, err := diagnosis.Diagnose(asked)
	if err != nil {
		return Verdict{}, nil, fmt.Errorf("diagnosing %s: %w", at.Pool, unsolved(err))
	}
	v := Verdict{EngineVersion: diagnosis.EngineVersion, Other: res.Other, Load: res.Load, Observed: res.Observed, Known: res.Known,
		Dangers: append([]diagnosis.Danger{}, res.Dangers...), Readings: []ReadingView{}, Suspects: []SuspectView{}, Next: []CheckView{}, FixOrder: []FixView{},
		Chronic: []FindingView{}, Alike: append([]words.Message{}, res.Alike...), Found: []FoundView{}, Unexplained: []words.Message{}}
	for _, x := range res.Found {
		v.Found = append(v.Found, FoundView{string(x.Sign.ID), x.Sign.Name, x.Mend, x.Text})
	}
	for _, sg := range res.Unexplained {
		v.Unexplained = append(v.Unexplained, sg.Name)
	}
	if ch := res.Changed; ch != nil {
		v.Changed = &ChangedView{Work: ch.Work, WasLoad: ch.WasLoad.Mean, TooShort: ch.TooShort, Was: []WasView{}}
		for i, w := range ch.Was {
			v.Changed.Was = append(v.Changed.Was, WasView{string(w.Fault), ch.WasNames[i], w.P})
		}
	}
	for _, c := range res.Chronic {
		v.Chronic = append(v.Chronic, FindingView{string(c.Fault.ID), c.Fault.Name, c.P, c.Text, c.Fault.Fix})
	}
	for _, t := range rows {
		rv, err := at.readingView(t.row, engine(t.Reading))
		if err != nil {
			return v, nil, err
		}
		v.Readings = append(v.Readings, rv)
	}
	v.Suspects = suspectViews(res)
	for _, c := range res.Next {
		v.Next = append(v.Next, checkView(c))
	}
	for _, f := range res.FixOrder() {
		v.FixOrder = append(v.FixOrder, FixView{string(f.Fault.ID), f.Fault.Name, f.Fault.Fix, f.P, f.Minutes, f.Spent, f.Fault.Caution, f.Fault.Who})
	}
	if mf := res.Misfit; mf != nil {
		v.Misfit = misfitWords(asked.Readings, mf)
	}
	v.Grade = gradeView(res.Grade)
	at.advise(&v, res, asked.Readings, now, chemicals)
	said := diagnosis.Judge(res)
	v.State, v.Text, v.P = string(said.State), said.Text, said.P
	if said.State != diagnosis.StateStop && said.State != diagnosis.StateReread {
		v.Text = words.Of("app.verdict", "says", words.Msg(v.Text), "advice", words.Msg(v.Advice.Text))
	}
	return v, res, nil
}

func (at *Stop) advise(v *Verdict, res *diagnosis.Result, readings []diagnosis.Reading, now time.Time, chemicals *time.Time) {
	m, h := at.Model, at.History
	q := upkeep.Question{Now: now.In(at.zone), Every: upkeep.CalendarOf(&m.Doc), NextVisit: at.Next.In(at.zone), Settings: at.Settings.For(&m.Doc),
		Kind: m.Doc.Filter.Kind, Loads: res.LoadGrid, LoadAt: diagnosis.LoadAt, State: h.State, KGalPerDay: h.PerDay,
		Observed: res.Observed, Known: res.Known, HadForecast: h.HadForecast, SafeSpeed: m.FastestUnder(pad.ServiceCeiling, res.Load.Mean+res.Load.SD), DaysSince: h.DaysSince(now)}
	for i, r := range readings {
		if r.Speed > q.ReadSpeed {
			q.ReadSpeed, q.Tank, q.Clean = r.Speed, r.Tank, &res.Expected[i].Clean.Tank
		}
	}
	if m.Doc.Filter.Valve != pad.NoValve {
		if _, flow, _, err := m.WorkingBackwash(); err == nil {
			q.WasteGallons = procedure.BackwashGallons(flow)
		}
	}
	for _, c := range []*time.Time{h.Chemicals, chemicals} {
		if c != nil {
			q.HoldUntil = upkeep.HoldUntil(*c, at.Settings).In(at.zone)
		}
	}
	q.Stopped = res.Stopped()
	lead := res.Suspects[0]
	q.LeadingFault, q.LeadingName, q.LeadingP = lead.Fault.ID, lead.Name(), lead.P
	v.Advice = upkeep.Advise(q)
	v.Forecast = h.State.Ahead(res.Load, h.PerDay, 14)
}

// meterUnits are the trade's units by meter.
var meterUnits = map[pad.Meter]string{pad.MeterTank: "psi", pad.MeterVacuum: "inHg", pad.MeterFlow: "gpm", pad.MeterPower: "W"}

// inTrade turns a meter's SI value into its trade unit.
func inTrade(m pad.Meter, v float64) float64 {
	switch m {
	case pad.MeterTank:
		return units.Pressure(v).PSI()
	case pad.MeterVacuum:
		return units.Pressure(v).InHg()
	case pad.MeterFlow:
		return units.Flow(v).GPM()
	}
	return v
}

func (at *Stop) readingView(row int, r diagnosis.Reading) (ReadingView, error) {
	e, err := diagnosis.Expect(at.Model, r)
	if err != nil {
		return ReadingView{}, fmt.Errorf("what a reading should have been: %w", unsolved(err))
	}
	out := ReadingView{Row: row, RPM: float64(r.Speed), Setting: string(r.Setting), LimitPsi: e.Limit.PSI(), Flow: flowView(at.Model.EstimateFlow(r.Reading))}
	for k, m := range pad.AllMeters {
		mv := MeterView{Meter: string(m), Unit: meterUnits[m], Clean: inTrade(m, e.Clean.Value(m)), Spread: inTrade(m, e.Spread[k])}
		if x, ok := r.Value(m); ok {
			x = inTrade(m, x)
			mv.Read = &x
		}
		out.Meters = append(out.Meters, mv)
	}
	return out, nil
}

// suspectViews are the rows that are shown: a sound pad and a loaded filter are one
// state, told by its load.
func suspectViews(res *diagnosis.Result) []SuspectView {
	out := []SuspectView{}
	state := -1
	for _, sp := range res.Suspects {
		row := suspectView(sp)
		if id := sp.Fault.ID; len(sp.With) == 0 && (id == fault.Healthy || id == fault.FilterLoaded) {
			if state >= 0 {
				out[state].P += row.P
				continue
			}
			state = len(out)
			row.Name = diagnosis.SoundName(res)
		}
		out = append(out, row)
	}
	slices.SortStableFunc(out, func(a, b SuspectView) int { return cmp.Compare(b.P, a.P) })
	for i := range out {
		if out[i].P < 0.005 && i >= 3 {
			return out[:i]
		}
	}
	return out
}

func suspectView(s diagnosis.Suspect) SuspectView {
	with := []WithView{}
	for _, w := range s.With {
		with = append(with, WithView{string(w.Fault.ID), w.Fault.Name, w.P})
	}
	return SuspectView{string(s.Fault.ID), s.Name(), s.Place, s.P, s.Severity,
		append([]diagnosis.Evidence{}, s.For...), append([]diagnosis.Evidence{}, s.Against...),
		s.Fault.Settle, s.Fault.Fix, s.Fault.Minutes, s.Fault.Caution, s.Fault.Who, with}
}

func checkView(c diagnosis.Check) CheckView {
	out := CheckView{Sign: string(c.Sign.ID), Name: c.Sign.Name, Look: c.Sign.Look, Minutes: c.Sign.Minutes, Caution: c.Sign.Caution, PumpOff: c.Sign.PumpOff,
		IfYes: c.IfYes.Name, IfNo: c.IfNo.Name, YesP: c.IfYes.P, NoP: c.IfNo.P, Bits: c.Bits}
	if rc := c.Reading; rc != nil {
		out.Reading = &ReadingToTake{Setting: string(rc.Operation.Setting), RPM: float64(rc.Operation.Speed), Would: []WouldRead{}}
		for _, w := range rc.Would {
			out.Reading.Would = append(out.Reading.Would, WouldRead{w.Name, w.Tank.PSI()})
		}
	}
	return out
}

func misfitWords(rs []diagnosis.Reading, m *diagnosis.Misfit) words.Message {
	x, _ := rs[m.Reading].Value(m.Meter)
	unit := meterUnits[m.Meter]
	return words.Of("app.misfit", "meter", words.Msg(diagnosis.MeterName(m.Meter)), "read", words.Q(unit, inTrade(m.Meter, x)), "fits", words.Q(unit, inTrade(m.Meter, m.Fits)))
}

func gradeView(g *diagnosis.Grade) *GradeView {
	if g == nil {
		return nil
	}
	out := &GradeView{RPM: float64(g.Speed), Stations: []StationView{}}
	for i, c := range g.Clean {
		t := g.Today[i]
		out.Stations = append(out.Stations, StationView{string(c.Station), c.In.PSI(), c.Out.PSI(), t.In.PSI(), t.Out.PSI()})
	}
	if w := g.Worst; w != nil {
		out.Worst = &PartingView{string(w.Station), w.Today.PSI(), w.Clean.PSI(), math.Abs(w.Extra.PSI())}
	}
	return out
}
