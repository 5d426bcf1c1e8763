package judge

import (
	"fmt"
	"math"
	"time"

	"fairlap/core/amounts"
	"fairlap/core/casefile"
	"fairlap/core/danger"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/pool"
	"fairlap/core/stop"
	"fairlap/core/upkeep"
	"fairlap/core/verdict"
	"fairlap/core/words"
)

// asCase is everything known at a stop as a case.
func (s *Stop) asCase(f *Findings, st *stop.State, now time.Time) casefile.Case {
	load, loss := s.History.State.LoadBelief(), s.Settings.FlowLoss()
	c := casefile.Case{Title: s.Pool, Pad: s.Model.Doc, CleanLine: s.Clean,
		Context: casefile.Context{
			Load:     &load.Mean,
			LoadSD:   load.SD,
			LimitPsi: s.LimitPsi,
			FlowLoss: &loss,
			Called:   f.Called,
			Season: string(
				fault.SeasonOf(int(now.In(s.zone).Month()), s.Settings.South),
			),
			Priors:    byID(s.Priors),
			Worn:      byID(s.Worn),
			Installed: byID(s.Installed),
		}}
	c.Pad.PoolGallons = s.Gallons
	switch {
	case st.Pad.Heat:
		c.Context.Heater = string(diagnosis.HeaterHot)
	case st.Now.Signs[fault.HeaterCrackles]:
		c.Context.Heater = string(diagnosis.HeaterCooled)
	}
	for _, id := range s.Open {
		c.Context.Open = append(c.Context.Open, string(id))
	}
	inStages(&c, st)
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
func (s *Stop) Judge(f Findings, now time.Time, chemicals *time.Time) (Verdict, *diagnosis.Result, error) {
	rows, err := f.Parse(s.Model)
	if err != nil {
		return Verdict{}, nil, err
	}
	entries := s.book(&f, rows)
	st := entries.State(s.rig(), s.Left)
	c := s.asCase(&f, &st, now)
	asked := c.On(s.Model)
	v := Verdict{
		EngineVersion: diagnosis.EngineVersion,
		Dangers:       []danger.Danger{},
		Readings:      []ReadingView{},
		Suspects:      []SuspectView{},
		Next:          []CheckView{},
		FixOrder:      []FixView{},
		Chronic:       []FindingView{},
		Alike:         []words.Message{},
		Found:         []FoundView{},
		Unexplained:   []words.Message{},
		Stop:          s.shown(&st, len(entries), now),
	}
	if s.Model.Doc.Presumed {
		res, err := s.undescribed(&v, &asked, &st, now, chemicals)
		return v, res, err
	}
	res, err := diagnosis.Diagnose(asked)
	if err != nil {
		return Verdict{}, nil, fmt.Errorf("diagnosing %s: %w", s.Pool, Unsolved(err))
	}
	v.Other, v.Load, v.Observed, v.Known = res.Other, res.Load, res.Observed, res.Known
	v.Dangers, v.Alike = append(v.Dangers, res.Dangers...), append(v.Alike, res.Alike...)
	for _, x := range res.Found {
		v.Found = append(v.Found, FoundView{Sign: string(x.Sign.ID), Name: x.Sign.Name, Mend: x.Mend, Text: x.Text})
	}
	for _, sg := range res.Unexplained {
		v.Unexplained = append(v.Unexplained, sg.Name)
	}
	if ch := res.Changed; ch != nil {
		v.Changed = &ChangedView{Work: ch.Work, WasLoad: ch.WasLoad.Mean, TooShort: ch.TooShort, Was: []WasView{}}
		for i, w := range ch.Was {
			v.Changed.Was = append(v.Changed.Was, WasView{ID: string(w.Fault), Name: ch.WasNames[i], P: w.P})
		}
	}
	for _, c := range res.Chronic {
		v.Chronic = append(
			v.Chronic,
			FindingView{ID: string(c.Fault.ID), Name: c.Fault.Name, P: c.P, Text: c.Text, Fix: c.Fault.Fix},
		)
	}
	for i := range st.Before {
		if err := s.view(&v, st.Before[i].Readings, true); err != nil {
			return v, nil, err
		}
	}
	if err := s.view(&v, st.Now.Readings, false); err != nil {
		return v, nil, err
	}
	v.Suspects = suspectViews(res)
	for _, c := range res.Next {
		v.Next = append(v.Next, checkView(c))
	}
	for _, f := range verdict.FixOrder(res) {
		v.FixOrder = append(
			v.FixOrder,
			FixView{
				ID:      string(f.Fault.ID),
				Name:    f.Fault.Name,
				Fix:     f.Fault.Fix,
				P:       f.P,
				Minutes: f.Minutes,
				Spent:   f.Spent,
				Caution: f.Fault.Caution,
				Who:     f.Fault.Who,
			},
		)
	}
	if mf := res.Misfit; mf != nil {
		v.Misfit = misfitWords(asked.Readings, mf)
	}
	v.Grade = gradeView(res.Grade)
	s.advise(&v, res, &st, asked.Readings, now, chemicals)
	said := verdict.Judge(res)
	v.State, v.Text, v.P = string(said.State), said.Text, said.P
	if said.State != verdict.StateStop && said.State != verdict.StateReread {
		v.Text = words.Of("app.verdict", "says", words.Msg(v.Text), "advice", words.Msg(v.Advice.Text))
	}
	return v, res, nil
}

func (s *Stop) advise(
	v *Verdict,
	res *diagnosis.Result,
	st *stop.State,
	readings []diagnosis.Reading,
	now time.Time,
	chemicals *time.Time,
) {
	m, h, gear := s.Model, s.History, upkeep.GearOf(&s.Model.Doc)
	q := upkeep.Question{
		Now:         now.In(s.zone),
		Every:       upkeep.CalendarOf(&gear),
		NextVisit:   s.Next.In(s.zone),
		Settings:    s.Settings.For(&gear),
		Kind:        gear.Kind,
		Loads:       res.LoadGrid,
		LoadAt:      loads.At,
		State:       h.State,
		KGalPerDay:  h.PerDay,
		Observed:    res.Observed,
		Known:       res.Known,
		HadForecast: h.HadForecast,
		SafeSpeed:   m.FastestUnder(plumbing.ServiceCeiling, res.Load.Mean+res.Load.SD),
		DaysSince:   h.DaysSince(now),
	}
	for i, r := range readings {
		if r.Speed > q.ReadSpeed {
			q.ReadSpeed, q.Tank, q.Clean = r.Speed, r.Tank, &res.Expected[i].Clean.Tank
		}
	}
	q.WasteGallons = amounts.ToWaste(m, pool.UsualWater(now.In(s.zone).Month(), s.Settings.South))
	for _, c := range []*time.Time{h.Chemicals, chemicals} {
		if c != nil {
			q.HoldUntil = upkeep.HoldUntil(*c, s.Settings).In(s.zone)
		}
	}
	q.Stopped, q.AtLimit, q.Ceiling = res.Stopped(), res.AtLimit, plumbing.Ceiling(&m.Doc)
	for _, b := range st.Before {
		if w := b.Work; w.Cleaned {
			q.Washed.Ran, q.Washed.Usual = w.Seconds, w.Usual
			if q.Washed.Short = diagnosis.TooShort(w.Seconds, w.Usual); !q.Washed.Short {
				q.Washed.Times++
			}
		}
	}
	lead := res.Suspects[0]
	q.LeadingFault, q.LeadingName, q.LeadingP = lead.Fault.ID, lead.Name(), lead.P
	v.Advice = upkeep.Advise(q)
	v.Forecast = h.State.Ahead(res.Load, h.PerDay, 14)
}

// view shows readings beside what they should have been; before says that work came after
// them, so that they say nothing of the pad as it is.
func (s *Stop) view(v *Verdict, all []stop.Taken, before bool) error {
	for _, t := range all {
		if t.Row < 0 && before {
			continue
		}
		rv, err := s.readingView(t.Row, Engine(t.Reading))
		if err != nil {
			return err
		}
		rv.Before = before
		v.Readings = append(v.Readings, rv)
	}
	return nil
}

func (s *Stop) readingView(row int, r diagnosis.Reading) (ReadingView, error) {
	e, err := diagnosis.Expect(s.Model, r)
	if err != nil {
		return ReadingView{}, fmt.Errorf("what a reading should have been: %w", Unsolved(err))
	}
	out := ReadingView{
		Row:      row,
		RPM:      float64(r.Speed),
		Setting:  string(r.Setting),
		LimitPsi: e.Limit.PSI(),
		Flow:     flowView(s.Model.EstimateFlow(r.Reading)),
	}
	for k, m := range pad.AllMeters {
		mv := MeterView{
			Meter:  string(m),
			Unit:   MeterUnits[m],
			Clean:  InTrade(m, e.Clean.Value(m)),
			Spread: InTrade(m, e.Spread[k]),
		}
		if x, ok := r.Value(m); ok {
			x = InTrade(m, x)
			mv.Read = &x
		}
		out.Meters = append(out.Meters, mv)
	}
	return out, nil
}

// suspectViews are the rows that are shown.
func suspectViews(res *diagnosis.Result) []SuspectView {
	out := []SuspectView{}
	for i, r := range res.Rows() {
		if r.P < 0.005 && i >= 3 {
			break
		}
		row := suspectView(*r.Suspect)
		if row.P = r.P; r.Sound {
			row.Name = diagnosis.SoundName(res)
		}
		out = append(out, row)
	}
	return out
}

func suspectView(s diagnosis.Suspect) SuspectView {
	with := []WithView{}
	for _, w := range s.With {
		with = append(with, WithView{ID: string(w.Fault.ID), Name: w.Fault.Name, P: w.P})
	}
	return SuspectView{ID: string(s.Fault.ID), Name: s.Name(), Place: s.Place, P: s.P, Severity: s.Severity,
		For: append([]diagnosis.Evidence{}, s.For...), Against: append([]diagnosis.Evidence{}, s.Against...),
		Settle: s.Fault.Settle, Fix: s.Fault.Fix, Minutes: s.Fault.Minutes, Caution: s.Fault.Caution, Who: s.Fault.Who,
		With: with}
}

func checkView(c diagnosis.Check) CheckView {
	out := CheckView{
		Sign:    string(c.Sign.ID),
		Name:    c.Sign.Name,
		Look:    c.Sign.Look,
		Minutes: c.Sign.Minutes,
		Caution: c.Sign.Caution,
		PumpOff: c.Sign.PumpOff,
		IfYes:   c.IfYes.Name,
		IfNo:    c.IfNo.Name,
		YesP:    c.IfYes.P,
		NoP:     c.IfNo.P,
		Bits:    c.Bits,
	}
	if rc := c.Reading; rc != nil {
		out.Reading = &ReadingToTake{
			Setting: string(rc.Operation.Setting),
			RPM:     float64(rc.Operation.Speed),
			Would:   []WouldRead{},
		}
		for _, w := range rc.Would {
			out.Reading.Would = append(out.Reading.Would, WouldRead{Name: w.Name, Psi: w.Tank.PSI()})
		}
	}
	return out
}

func misfitWords(rs []diagnosis.Reading, m *diagnosis.Misfit) words.Message {
	x, _ := rs[m.Reading].Value(m.Meter)
	unit := MeterUnits[m.Meter]
	return words.Of(
		"app.misfit",
		"meter",
		words.Msg(diagnosis.MeterName(m.Meter)),
		"read",
		words.Q(unit, InTrade(m.Meter, x)),
		"fits",
		words.Q(unit, InTrade(m.Meter, m.Fits)),
	)
}

func gradeView(g *diagnosis.Grade) *GradeView {
	if g == nil {
		return nil
	}
	out := &GradeView{RPM: float64(g.Speed), Stations: []StationView{}}
	for i, c := range g.Clean {
		t := g.Today[i]
		out.Stations = append(
			out.Stations,
			StationView{
				ID:       string(c.Station),
				CleanIn:  c.In.PSI(),
				CleanOut: c.Out.PSI(),
				TodayIn:  t.In.PSI(),
				TodayOut: t.Out.PSI(),
			},
		)
	}
	if w := g.Worst; w != nil {
		out.Worst = &PartingView{
			Station: string(w.Station),
			Today:   w.Today.PSI(),
			Clean:   w.Clean.PSI(),
			Extra:   math.Abs(w.Extra.PSI()),
		}
	}
	return out
}
