package diagnosis

import (
	"fmt"
	"math"
	"slices"
	"sort"

	"fairlap/core/fault"
	"fairlap/core/logp"
	"fairlap/core/misses"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Check is a look or a reading worth taking.
type Check struct {
	Sign    fault.SignFact // of a look; for a reading only its words and minutes
	Bits    float64        // expected fall in entropy
	PerMins float64        // bits a minute
	// IfYes and IfNo are what a look's answers would leave on top.
	IfYes, IfNo Outcome
	// Reading is set when the check is another reading of the tank gauge.
	Reading *ReadingCheck
}

// Outcome is what an answer would leave on top.
type Outcome struct {
	Fault fault.ID
	Name  words.Message
	P     float64
}

// ReadingCheck is a reading to take, and what the leading suspects would have
// the tank gauge say there.
type ReadingCheck struct {
	Operation pad.Operation
	Would     []WouldRead
}

// WouldRead is the figure of one suspect, or of several that it can't tell apart.
type WouldRead struct {
	Name words.Message
	Tank units.Pressure
}

// add tells one suspect's figure, beside those that a gauge can't tell from it.
func (rc *ReadingCheck) add(name words.Message, tank units.Pressure) {
	for i, w := range rc.Would {
		if math.Abs(float64(w.Tank-tank)) < float64(units.PSI(1)) {
			rc.Would[i].Name = words.Of("diagnosis.one-or-other", "one", words.Msg(w.Name), "other", words.Msg(name))
			return
		}
	}
	if len(rc.Would) < 3 {
		rc.Would = append(rc.Would, WouldRead{name, tank})
	}
}

// offered is how many checks are named at most.
const offered = 4

// outcome is one thing that the answer could turn out to be: a suspect, or one place
// of a fault whose places are told apart by signs and mended apart.
type outcome struct {
	p       float64
	suspect *Suspect // nil is something else
	cause   []cause
	name    words.Message
}

// outcomes part the suspects by place where the place makes a difference.
func (s *survey) outcomes(r *Result, p *posterior) []outcome {
	var out []outcome
	for i := range r.Suspects {
		x := &r.Suspects[i]
		if places := p.places(x); len(x.With) == 0 && len(places) > 1 {
			for _, w := range places {
				out = append(out, outcome{w.p, x, []cause{w.cause}, w.name})
			}
			continue
		}
		name := x.Name()
		if len(x.With) == 0 && x.Fault.ID == fault.Healthy {
			name = SoundName(r) // as its row is called
		}
		out = append(out, outcome{x.P, x, x.causes, name})
	}
	return append(out, outcome{p: r.Other})
}

type placed struct {
	p     float64
	cause cause
	name  words.Message
}

// places are those of a suspect that signs of their own tell apart, each with its
// chance.
func (p *posterior) places(x *Suspect) []placed {
	var out []placed
	best := map[words.Message]float64{}
	for i := range p.hyps {
		w := &p.hyps[i]
		if w.fault.ID != x.Fault.ID || w.place == "" || !tellsPlaces[w.fault.ID] {
			continue
		}
		at := -1
		for k := range out {
			if out[k].name == w.place {
				at = k
			}
		}
		if at < 0 {
			at = len(out)
			out = append(out, placed{name: w.place, cause: w.cause})
		}
		out[at].p += w.post
		if above(w.post, best[w.place]) {
			best[w.place], out[at].cause = w.post, w.cause
		}
	}
	for k := range out {
		out[k].name = words.Of("diagnosis.fault-at", "fault", words.Msg(x.Fault.Name), "place", words.Msg(out[k].name))
	}
	return out
}

// tellsPlaces are the faults whose places have signs and fixes of their own.
var tellsPlaces = map[fault.ID]bool{fault.MotorHums: true, fault.GaugeBad: true}

// propose ranks the checks not yet made by expected information a minute; where the
// trade has an order for the situation, its looks come first.
func (s *survey) propose(r *Result, p *posterior) ([]Check, error) {
	all := s.outcomes(r, p)
	next, first := s.looks(all)
	readings, err := s.readingsWorth(r)
	if err != nil {
		return nil, err
	}
	next = append(next, readings...)
	sort.SliceStable(next, func(a, b int) bool { return Steady(next[a].PerMins) > Steady(next[b].PerMins) })
	out := first
	for _, c := range next {
		if !slices.ContainsFunc(first, func(x Check) bool { return x.Sign.ID != "" && x.Sign.ID == c.Sign.ID }) {
			out = append(out, c)
		}
	}
	out = out[:min(offered, len(out))]
	if err := s.promised(p, out); err != nil {
		return nil, err
	}
	return out, nil
}

// looks weighs every look not yet made, and gives those of the trade's own order
// apart.
func (s *survey) looks(all []outcome) (worth, ordered []Check) {
	base := make([]float64, len(all))
	flows := make([]float64, len(all))
	for i, o := range all {
		base[i] = o.p
		if o.suspect != nil {
			flows[i] = o.suspect.reads(0)[flowMeter]
		}
	}
	h0 := logp.Entropy(base)
	order := fault.OrderFor(s.c.Signs, leadOf(all))
	found := map[fault.Sign]Check{}
	for i := range fault.Signs {
		sg := &fault.Signs[i]
		if !sg.Open(&s.c.Model.Doc, s.c.Signs, s.running()) {
			continue
		}
		yes, no := make([]float64, len(base)), make([]float64, len(base))
		pYes := 0.0
		for k, o := range all {
			given := sg.Base
			if o.suspect != nil {
				x := *o.suspect
				x.causes = o.cause
				given = s.signGiven(&x, sg, flows[k])
			}
			yes[k], no[k] = o.p*given, o.p*(1-given)
			pYes += yes[k]
		}
		bits := h0 - pYes*logp.Entropy(yes) - (1-pYes)*logp.Entropy(no)
		c := Check{Sign: *sg, Bits: bits, PerMins: bits / sg.Minutes}
		if slices.Contains(order, sg.ID) {
			found[sg.ID] = c
		}
		if bits >= worthBits {
			worth = append(worth, c)
		}
	}
	for _, id := range order {
		if c, ok := found[id]; ok {
			ordered = append(ordered, c)
		}
	}
	return worth, ordered
}

func leadOf(all []outcome) fault.ID {
	best := 0
	for i := range all {
		if all[i].suspect != nil && all[i].p > all[best].p {
			best = i
		}
	}
	return all[best].suspect.Fault.ID
}

// Minutes that another reading takes: to settle, and for the handle twice.
const (
	speedMinutes       = 3
	recirculateMinutes = 6
)

// readingsWorth weighs reading the tank gauge in another way: with the filter
// out of the path, or at the other end of the speeds.
func (s *survey) readingsWorth(r *Result) ([]Check, error) {
	if len(s.readings) == 0 || s.readings[0].Tank == nil || s.readings[0].Speed == 0 {
		return nil, nil
	}
	// The hardly likely go with something else.
	var base []float64
	rest := r.Other
	for i := range r.Suspects {
		if p := r.Suspects[i].P; i < 3 || p > hardly {
			base = append(base, p)
		} else {
			rest += p
		}
	}
	base = append(base, rest)
	var out []Check
	first, topSpeed := s.ops[0], s.c.Model.TopSpeed()
	recirculated, fast, slow := false, false, false
	for _, op := range s.ops {
		recirculated = recirculated || op.Setting == pad.SetRecirculate
		fast = fast || op.Speed > 0.85*topSpeed
		slow = slow || op.Speed < 0.65*topSpeed
	}
	doc := &s.c.Model.Doc
	if doc.Filter.Valve == pad.Multiport && !recirculated {
		f := fault.SignFact{
			Name:    "diagnosis.recirculate",
			Minutes: recirculateMinutes,
			PumpOff: true,
			Caution: "diagnosis.pump-off-before-the-handle",
			Look: words.Of(
				"diagnosis.pump-off-handle-to-recirculate",
				"speed",
				words.QD("rpm", float64(first.Speed), 0),
			),
		}
		c, err := s.weighReading(r, base, f, pad.Operation{Speed: first.Speed, Setting: pad.SetRecirculate})
		if err != nil {
			return nil, err
		}
		out = append(out, c...)
	}
	if doc.Pump.Kind != pad.VariableSpeed || (first.Setting != pad.SetFilter && first.Setting != "") || (fast && slow) {
		return out, nil
	}
	speed := topSpeed
	if fast {
		speed = units.Speed(50 * math.Round(float64(topSpeed)/2/50))
	}
	f := fault.SignFact{Name: "diagnosis.another-speed", Minutes: speedMinutes,
		Look: words.Of("diagnosis.run-at-let-it-settle", "speed", words.QD("rpm", float64(speed), 0))}
	c, err := s.weighReading(r, base, f, pad.Operation{Speed: speed, Setting: pad.SetFilter})
	return append(out, c...), err
}

// gaugeCells is how finely the tank gauge's possible figures are weighed.
const gaugeCells = 80

// weighReading gives a reading check when it is worth its minutes: the expected
// fall in entropy over what the tank gauge could say.
func (s *survey) weighReading(r *Result, base []float64, f fault.SignFact, op pad.Operation) ([]Check, error) {
	type peak struct{ at, sd float64 }
	peaks := make([]peak, len(base))
	low, high := math.Inf(1), math.Inf(-1)
	read := float64(*s.readings[0].Tank)
	for i := range base {
		if i == len(base)-1 { // something else: anywhere
			peaks[i] = peak{read, float64(units.PSI(8))}
			break
		}
		x := &r.Suspects[i]
		st, err := s.solver.Solve(op, x.effects())
		if err != nil {
			return nil, fmt.Errorf("weighing a reading at %v rpm: %w", op.Speed, err)
		}
		p := peak{float64(st.Tank), float64(units.PSI(0.7))}
		// The best fit is not the only one: its load and severity stay a little open.
		if sd, _ := s.under(new(misses.Errors), x); !math.IsNaN(sd[0]) && x.fit.gauge == "" {
			p.sd = math.Hypot(sd[0], float64(units.PSI(0.5)))
		}
		switch was := x.reads(0)[tankMeter]; x.fit.gauge {
		case fault.Stuck:
			p = peak{read, float64(units.PSI(0.5))}
		case fault.Offset:
			p = peak{p.at + read - was, float64(units.PSI(1.2))}
		case fault.Scale, fault.Plugged:
			if was > psi {
				p = peak{p.at * read / was, float64(units.PSI(1.5))}
			}
		}
		peaks[i] = p
		low, high = math.Min(low, p.at-4*p.sd), math.Max(high, p.at+4*p.sd)
	}
	step := (high - low) / gaugeCells
	after := make([]float64, len(base))
	left, total := 0.0, 0.0
	for c := range gaugeCells {
		x := low + (float64(c)+0.5)*step
		p := 0.0
		for i := range base {
			z := (x - peaks[i].at) / peaks[i].sd
			after[i] = base[i] * math.Exp(-0.5*z*z) / peaks[i].sd
			p += after[i]
		}
		left += p * logp.Entropy(after)
		total += p
	}
	bits := logp.Entropy(base) - left/total
	if bits < worthBits {
		return nil, nil
	}
	rc := &ReadingCheck{Operation: op}
	for i := range base[:len(base)-1] {
		if i > 0 && r.Suspects[i].P < 0.02 {
			break
		}
		if units.Pressure(peaks[i].at) >= plumbing.ServiceCeiling {
			return nil, nil // never ask for a reading over the tank's usual ceiling
		}
		rc.add(r.Suspects[i].Name(), units.Pressure(peaks[i].at))
	}
	if len(rc.Would) < 2 {
		return nil, nil // the gauge would say the same for all of them
	}
	return []Check{{Sign: f, Bits: bits, PerMins: bits / f.Minutes, Reading: rc}}, nil
}
