package practice

import (
	"fmt"
	"math"
	"slices"
	"strconv"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/words"
)

// does is one thing with a hand, with what comes of breaking a rule.
func (a *Attempt) does(act procedure.Action, st *Step) error {
	minutes, ok := hands[act.Verb]
	if !ok {
		return ErrUnknown
	}
	why := a.rig.Refuses(a.State, act)
	if why == "" {
		a.State = a.rig.Anyhow(a.State, act)
		a.pass(minutes)
		if ids := turned[act]; len(ids) > 0 && a.mends(ids...) {
			st.Told = append(st.Told, "practice.it-stood-wrong")
			a.worked(st.Did, procedure.Result{Mended: ids})
		}
		return nil
	}
	h, known := harmOf(act, why)
	if !known {
		return fmt.Errorf("%w: %s", ErrUnknown, words.Plain.Say(why))
	}
	if h.goes {
		a.State = a.rig.Anyhow(a.State, act)
		a.pass(minutes)
	}
	if h.says == "" {
		if !h.goes {
			st.Told = append(st.Told, why)
		}
		return nil
	}
	a.hurts(st.Did, why, h, st)
	return nil
}

func (a *Attempt) takeDo(e Event, st *Step) error {
	if e.Do == nil {
		return ErrUnknown
	}
	st.Did = a.rig.Instruction(*e.Do)
	if st.Did == "" {
		return ErrUnknown
	}
	return a.does(*e.Do, st)
}

// goes takes the safe way to a state.
func (a *Attempt) goes(to procedure.State, st *Step) error {
	way, ok := a.rig.Back(a.State, to)
	if !ok {
		return ErrUnknown
	}
	for _, act := range way {
		st.Told = append(st.Told, a.rig.Instruction(act))
		if err := a.does(act, st); err != nil {
			return err
		}
	}
	return nil
}

func (a *Attempt) takeReady(e Event, st *Step) error {
	to, ok := a.standing(e.Need)
	if !ok {
		return ErrUnknown
	}
	st.Did = "practice.did.ready"
	if needs[e.Need].met(a.State) {
		return nil
	}
	hand := to.Hand
	to.Hand = false
	if err := a.goes(to, st); err != nil {
		return err
	}
	if hand {
		in := procedure.Action{Verb: procedure.HandIn}
		st.Told = append(st.Told, a.rig.Instruction(in))
		return a.does(in, st)
	}
	return nil
}

// standing is the state that meets a need, as a careful hand reaches it from daily use.
func (a *Attempt) standing(n Need) (procedure.State, bool) {
	s := a.rig.Daily()
	if n == Running || n == Any {
		return s, n == Running
	}
	for i, v := range needs[n].do {
		if i == 1 && a.rig.Below { // or the pool runs out at the pad
			s = a.rig.Anyhow(
				a.rig.Anyhow(s, procedure.Action{Verb: procedure.ShutSuction}),
				procedure.Action{Verb: procedure.ShutReturns},
			)
		}
		s = a.rig.Anyhow(s, procedure.Action{Verb: v})
	}
	return s, len(needs[n].do) > 0
}

func (a *Attempt) takeRestore(_ Event, st *Step) error {
	st.Did = "practice.did.restore"
	return a.goes(a.rig.Daily(), st)
}

func (a *Attempt) takeSpeed(e Event, st *Step) error {
	p := &a.doc.Pump
	if !p.SpeedIsSet() || p.Kind == pad.FlowHolding || p.Nearest(e.RPM) != e.RPM {
		return ErrUnknown
	}
	a.RPM = e.RPM
	st.Did = words.Of("practice.did.speed", "rpm", words.QD("rpm", e.RPM, 0))
	a.pass(0.5)
	return nil
}

// longestWait is how long somebody waits at a pad at once, minutes.
const longestWait = 240

func (a *Attempt) takeWait(e Event, st *Step) error {
	if !(e.Minutes >= 0.5 && e.Minutes <= longestWait) {
		return ErrUnknown
	}
	st.Did = words.Of("practice.did.wait", "minutes", words.N(e.Minutes))
	a.pass(e.Minutes)
	return nil
}

// setting is how a reading's way of running is named; judged tells whether the engine
// knows it.
func (a *Attempt) setting() (name string, judged bool) {
	usual := a.State.Suction == a.rig.Usual && a.State.Returns
	switch {
	case a.rig.Spa && a.State.SuctionTo == pad.SpaBody && a.State.ReturnTo == pad.SpaBody:
		return string(diagnosis.SpaMode), usual && a.State.Setting == pad.SetFilter
	case a.rig.Spa && a.State.SuctionTo != a.State.ReturnTo:
		return string(a.State.Setting), false
	}
	return string(a.State.Setting), usual && (a.State.Setting == pad.SetFilter || a.State.Setting == pad.SetRecirculate)
}

// Minutes of a reading: the needle is let settle.
const readMinutes = 1

func (a *Attempt) takeRead(_ Event, st *Step) error {
	st.Check = true
	if !a.State.Running {
		return a.readsRest(st)
	}
	solved, rpm, err := a.found()
	if err != nil {
		return fmt.Errorf("reading the pad: %w", err)
	}
	a.pass(readMinutes)
	set, judged := a.setting()
	way := fmt.Sprintf("%s/%.0f/%v", set, rpm, a.Present)
	a.taken[way]++
	name := way + "/" + strconv.Itoa(a.taken[way])
	r := reading{judged: judged, minutes: a.Minutes}
	r.Setting, r.Speed = set, fmt.Sprintf("%.0f", rpm)
	says := []words.Message{}
	for _, m := range a.doc.MetersRead() {
		v := a.noisy(m, solved.Value(m), name)
		if m == pad.MeterTank {
			v = a.gauge(solved.Value(m), v)
		}
		n := read(m, v)
		says = append(
			says,
			words.Of(
				"practice.meter",
				"meter",
				words.Msg(diagnosis.MeterName(m)),
				"value",
				diagnosis.InTrade(m, si(m, n)),
			),
		)
		typed := strconv.FormatFloat(n, 'g', -1, 64)
		switch m {
		case pad.MeterTank:
			r.Tank = typed
		case pad.MeterVacuum:
			r.Vacuum = typed
		case pad.MeterFlow:
			r.Flow = typed
		case pad.MeterPower:
			r.Power = typed
		}
	}
	st.Did = words.Of("practice.did.read", "rpm", words.QD("rpm", float64(rpm), 0))
	st.Told = append(st.Told, words.Join(words.Comma, says...))
	a.readings = append(a.readings, r)
	return nil
}

// readsRest is the tank gauge with the pump off.
func (a *Attempt) readsRest(st *Step) error {
	solved, err := a.truth.Solver().Solve(pad.Operation{}, plumbing.Effects{})
	if err != nil {
		return fmt.Errorf("reading the pad at rest: %w", err)
	}
	a.pass(readMinutes)
	a.taken["rest"]++
	n := read(
		pad.MeterTank,
		a.gauge(
			float64(solved.Tank),
			a.noisy(pad.MeterTank, float64(solved.Tank), "rest/"+strconv.Itoa(a.taken["rest"])),
		),
	)
	st.Did = "practice.did.rest"
	st.Told = append(
		st.Told,
		words.Of(
			"practice.meter",
			"meter",
			words.Msg(diagnosis.MeterName(pad.MeterTank)),
			"value",
			diagnosis.InTrade(pad.MeterTank, si(pad.MeterTank, n)),
		),
	)
	r := reading{judged: a.State.Bleed && !a.State.Pressed, minutes: a.Minutes}
	r.Setting, r.Speed, r.Tank = string(pad.SetFilter), "0", strconv.FormatFloat(n, 'g', -1, 64)
	a.readings = append(a.readings, r)
	return nil
}

func si(m pad.Meter, trade float64) float64 {
	switch m {
	case pad.MeterTank:
		return float64(units.PSI(trade))
	case pad.MeterVacuum:
		return float64(units.InHg(trade))
	case pad.MeterFlow:
		return float64(units.GPM(trade))
	}
	return trade
}

// Deviations of a bad gauge (ours; those of the evaluation's stops).
var (
	offsets = []float64{3, 5.5, 9} // psi
	scales  = []float64{0.2, 0.3, 0.45}
)

// gauge is what a tank gauge shows of a pressure, SI: v with its noise, which a bad one
// does not show.
func (a *Attempt) gauge(truth, v float64) float64 {
	for _, h := range a.there() {
		way := chance(a.Seed, "gauge/way")
		step := min(max(h.Step, 0), len(offsets)-1)
		switch h.place.Gauge {
		case fault.Offset:
			by := float64(units.PSI(offsets[step]))
			if way < 0.5 {
				by = -by
			}
			return v + by
		case fault.Scale:
			if way < 0.7 {
				return v * (1 - scales[step])
			}
			return v * (1 + scales[step])
		case fault.Stuck:
			return float64(units.PSI(2 + 30*way))
		case fault.Plugged:
			return truth * (0.4 + 0.3*way)
		}
	}
	return v
}

func (a *Attempt) takeLook(e Event, st *Step) error {
	sg, ok := fault.LookUpSign(e.Sign)
	if !ok || !sg.On(&a.doc) || sg.Context {
		return ErrUnknown
	}
	st.Did = words.Of("practice.did.look", "sign", words.Msg(sg.Name))
	if need := needs[looks[e.Sign]]; !need.met(a.State) {
		a.pass(0.2)
		st.Told = append(st.Told, need.lack)
		return nil
	}
	yes, err := a.shows(sg)
	if err != nil {
		return err
	}
	a.pass(sg.Minutes)
	st.Check = true
	a.seen[e.Sign] = looked{yes, a.Minutes}
	st.Told = append(st.Told, answered(yes))
	if yes && sg.Danger != "" {
		st.Told = append(st.Told, sg.Danger)
	}
	return nil
}

func answered(yes bool) words.Message {
	if yes {
		return "practice.yes"
	}
	return "practice.no"
}

// shows is whether a sign shows: chance has one number in store for each, so that what is
// mended stops showing and nothing else changes.
func (a *Attempt) shows(sg *fault.SignFact) (bool, error) {
	if yes, ok := a.Shows[sg.ID]; ok && len(a.remains()) > 0 {
		return yes, nil
	}
	var causes []diagnosis.Cause
	for _, h := range a.there() {
		causes = append(causes, h.Cause)
	}
	flow := units.Flow(0)
	if sg.FromState && a.turning() > 0 {
		st, err := a.water()
		if err != nil {
			return false, fmt.Errorf("what shows: %w", err)
		}
		flow = st.Flow
	}
	shown := func(p float64, name string) bool {
		if a.Typical {
			return p >= 0.5
		}
		return chance(a.Seed, name) < p
	}
	airy := shown(air(causes), "air")
	return shown(a.telling.Shows(sg, causes, airy, flow), "sign/"+string(sg.ID)), nil
}

// air is P(air at the pump) with some causes there together.
func air(causes []diagnosis.Cause) float64 {
	none := 1 - fault.Catalogue[0].Air
	for _, c := range causes {
		none *= 1 - c.Fault.AirAt(c.Step)
	}
	return 1 - none
}

// worked keeps a piece of work for the engine, which weighs what comes after it anew.
func (a *Attempt) worked(name words.Message, r procedure.Result) {
	r.Signs = map[fault.Sign]bool{} // they were answered before it, and may be asked anew
	for id, l := range a.seen {
		r.Signs[id] = l.yes
	}
	clear(a.seen)
	a.works = append(a.works, stop.Entry{
		ID: fmt.Sprintf("work-%d", len(a.works)), At: a.at(a.Minutes), Kind: stop.Ran,
		Run: &stop.Run{Name: name, Over: true, State: a.State, Result: r},
	})
	a.Minutes += 0.1 // what is found after it was found after it
}

func (a *Attempt) takeRun(e Event, st *Step) error {
	p := procedure.Find(e.Run)
	if p == nil || !slices.ContainsFunc(a.runs(), func(o *procedure.Procedure) bool { return o.ID == e.Run }) {
		return ErrUnknown
	}
	st.Did = words.Of("practice.did.run", "run", words.Msg(p.Name))
	if a.rig.Unlike(a.State) != "" {
		st.Told = append(st.Told, "practice.lack.daily")
		return nil
	}
	a.State = a.rig.Daily() // it starts and ends there, the pump running by its programme
	script, err := p.Write(a.setup)
	if err != nil {
		return fmt.Errorf("writing %s out: %w", p.ID, err)
	}
	a.Minutes += p.Minutes
	for _, s := range script.Steps {
		if s.Timer != nil && s.Timer.GPM > 0 {
			a.Gallons += s.Timer.GPM * (s.Timer.Low + s.Timer.High) / 2 / 60
		}
	}
	for _, id := range p.Checks {
		if sg, ok := fault.LookUpSign(id); ok && sg.On(&a.doc) {
			yes, err := a.shows(sg)
			if err != nil {
				return err
			}
			a.seen[id] = looked{yes, a.Minutes}
			st.Check = true
			st.Told = append(
				st.Told,
				words.Of("practice.told", "sign", words.Msg(sg.Name), "answer", words.Msg(answered(yes))),
			)
		}
	}
	mended := a.mends(
		slices.DeleteFunc(slices.Clone(p.Mends), func(id fault.ID) bool { return id == fault.FilterLoaded })...)
	if p.Work == "cleaned" {
		mended = mended || a.Load >= dirty
		a.Load = math.Min(a.Load, cleanLoad)
		a.mends(fault.FilterLoaded)
	}
	if len(p.Mends) > 0 {
		a.worked(p.Name, procedure.Result{Work: p.Work, Mended: p.Mends})
		st.Told = append(st.Told, came(mended))
		if !mended && len(p.Checks) == 0 {
			a.Wrong = append(a.Wrong, p.Mends[0])
		}
	}
	return nil
}

func came(mended bool) words.Message {
	if mended {
		return "practice.that-was-it"
	}
	return "practice.that-was-not-it"
}

// runs are the guided runs that this pad's case may take.
func (a *Attempt) runs() []*procedure.Procedure {
	return slices.DeleteFunc(procedure.For(a.setup), func(p *procedure.Procedure) bool {
		return p.From != nil || p.Ends != nil || len(p.Mends)+len(p.Checks) == 0
	})
}

// mendable is a fault as somebody may try to put it right: what is there as it sits,
// everything else as the catalogue has it.
func (a *Attempt) mendable(id fault.ID) (fault.Fault, bool) {
	f, ok := known(id, &a.doc)
	if !ok || id == fault.FilterLoaded {
		return f, false
	}
	for _, h := range a.there() {
		if h.Fault.ID == id {
			return h.Fault, true
		}
	}
	return f, true
}

func (a *Attempt) takeMend(e Event, st *Step) error {
	f, ok := a.mendable(e.Fault)
	fix, listed := fixes[e.Fault]
	if !ok || !listed {
		return ErrUnknown
	}
	st.Did = words.Of("practice.did.mend", "fault", words.Msg(f.Name))
	if need := needs[fix.need]; !need.met(a.State) {
		a.pass(0.2)
		st.Told = append(st.Told, need.lack)
		return nil
	}
	if f.Who != "" && f.Who != fault.Anybody {
		a.hurts(
			st.Did,
			words.Of("practice.not-yours", "who", words.Msg(f.Who)),
			harm{says: "practice.harm.not-yours", minutes: f.Minutes},
			st,
		)
	} else {
		a.pass(f.Minutes)
	}
	a.Dollars += fix.dollars
	there := a.mends(e.Fault)
	if !there {
		a.Wrong = append(a.Wrong, e.Fault)
	}
	a.worked(st.Did, procedure.Result{Mended: []fault.ID{e.Fault}})
	st.Told = append(st.Told, came(there))
	return nil
}

func (a *Attempt) takeRefer(e Event, st *Step) error {
	f, ok := a.mendable(e.Fault)
	if !ok {
		return ErrUnknown
	}
	st.Did = words.Of("practice.did.refer", "fault", words.Msg(f.Name))
	a.pass(referMinutes)
	licensed := f.Who != "" && f.Who != fault.Anybody
	there := a.mends(e.Fault)
	switch {
	case !there:
		a.Dollars += wildDollars
		a.Wrong = append(a.Wrong, e.Fault)
		st.Told = append(st.Told, "practice.they-found-nothing")
	case licensed:
		a.Dollars += tradeDollars
		a.Handed = append(a.Handed, e.Fault)
		st.Told = append(st.Told, words.Of("practice.rightly-left", "who", words.Msg(f.Who)))
	default:
		a.Dollars += wildDollars
		st.Told = append(st.Told, "practice.it-was-yours")
	}
	a.worked(st.Did, procedure.Result{Mended: []fault.ID{e.Fault}})
	return nil
}

func (a *Attempt) takeOdds(e Event, st *Step) error {
	sum := 0.0
	for id, p := range e.Odds {
		if _, ok := known(id, &a.doc); !ok && id != fault.Healthy || !(p >= 0 && p <= 1) {
			return ErrUnknown
		}
		sum += p
	}
	if sum > 1+1e-9 || len(e.Odds) > 12 {
		return ErrUnknown
	}
	truth := a.remains()
	if len(truth) == 0 {
		truth = []fault.ID{fault.Healthy}
	}
	a.Sayings = append(a.Sayings, Saying{Turn: a.Turn, Odds: e.Odds, True: truth})
	a.Held = false
	st.Did = "practice.did.odds"
	return nil
}

func (a *Attempt) takeLeave(_ Event, st *Step) error {
	st.Did = "practice.did.leave"
	a.Over = true
	if why := a.rig.Unlike(a.State); why != "" {
		a.hurts(st.Did, why, harm{says: "practice.harm.left"}, st)
	}
	return nil
}

// Solved tells that nothing hidden is left and nobody was hurt.
func (a *Attempt) Solved() bool { return a.Over && !a.Hurt && len(a.remains()) == 0 }

// What a wasted step is worth in minutes, to lay ways side by side (ours).
const (
	dollarsAMinute = 1.6 // of a technician's time
	gallonsAMinute = 60
	harmMinutes    = 60
	leftMinutes    = 120 // somebody drives back
)

// Cost is everything that an attempt cost, in minutes.
func (a *Attempt) Cost() float64 {
	c := a.Minutes + a.Dollars/dollarsAMinute + a.Gallons/gallonsAMinute +
		harmMinutes*float64(len(a.Harms)) + leftMinutes*float64(len(a.remains()))
	if a.Hurt {
		c += 10 * harmMinutes
	}
	return c
}
