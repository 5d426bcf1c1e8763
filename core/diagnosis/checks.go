package diagnosis

import (
	"fmt"
	"math"
	"sort"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
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
	Name  string
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
	Name string
	Tank units.Pressure
}

// add tells one suspect's figure, beside those that a gauge can't tell from it.
func (rc *ReadingCheck) add(name string, tank units.Pressure) {
	for i, w := range rc.Would {
		if math.Abs(float64(w.Tank-tank)) < float64(units.PSI(1)) {
			rc.Would[i].Name += " or " + strings.ToLower(name[:1]) + name[1:]
			return
		}
	}
	if len(rc.Would) < 3 {
		rc.Would = append(rc.Would, WouldRead{name, tank})
	}
}

// worthBits is the least expected information that makes a check worth naming.
const worthBits = 0.05

// offered is how many checks are named at most.
const offered = 4

// propose ranks the checks not yet made by expected information a minute.
func (e *engine) propose(r *Result) error {
	base := make([]float64, 0, len(r.Suspects)+1)
	for i := range r.Suspects {
		base = append(base, r.Suspects[i].P)
	}
	base = append(base, r.Other)
	e.proposeLooks(r, base)
	if err := e.proposeReadings(r, base); err != nil {
		return err
	}
	sort.SliceStable(r.Next, func(a, b int) bool { return r.Next[a].PerMins > r.Next[b].PerMins })
	if len(r.Next) > offered {
		r.Next = r.Next[:offered]
	}
	return nil
}

func (e *engine) proposeLooks(r *Result, base []float64) {
	flows := make([]float64, len(r.Suspects))
	for i := range r.Suspects {
		flows[i] = e.predicted(&r.Suspects[i])[0][flowMeter]
	}
	h0 := entropy(base)
	for _, f := range fault.Signs {
		if _, done := e.c.Signs[f.ID]; done || f.Context || !f.On(&e.c.Model.Doc) {
			continue
		}
		yes, no := make([]float64, len(base)), make([]float64, len(base))
		var pYes float64
		for i, p := range base {
			given := f.Base
			if i < len(r.Suspects) {
				given = e.signGiven(&r.Suspects[i], &f, flows[i])
			}
			yes[i], no[i] = p*given, p*(1-given)
			pYes += yes[i]
		}
		bits := h0 - pYes*entropy(yes) - (1-pYes)*entropy(no)
		if bits >= worthBits {
			r.Next = append(r.Next, Check{Sign: f, Bits: bits, IfYes: top(r, yes), IfNo: top(r, no), PerMins: bits / f.Minutes})
		}
	}
}

// Minutes that another reading takes: to settle, and for the handle twice.
const (
	speedMinutes       = 3
	recirculateMinutes = 6
)

// proposeReadings weighs reading the tank gauge in another way: with the filter
// out of the path, or at the other end of the speeds.
func (e *engine) proposeReadings(r *Result, base []float64) error {
	if len(e.c.Readings) == 0 || e.c.Readings[0].Tank == nil {
		return nil
	}
	first, topSpeed := e.ops[0], e.c.Model.TopSpeed()
	recirculated, fast, slow := false, false, false
	for _, op := range e.ops {
		recirculated = recirculated || op.Setting == pad.SetRecirculate
		fast = fast || op.Speed > 0.85*topSpeed
		slow = slow || op.Speed < 0.65*topSpeed
	}
	doc := &e.c.Model.Doc
	if doc.Filter.Valve == pad.Multiport && !recirculated {
		f := fault.SignFact{Name: "Recirculate", Minutes: recirculateMinutes, PumpOff: true, Caution: "Pump OFF before the handle moves, and again to move it back.",
			Look: fmt.Sprintf("Pump off, handle to Recirculate, run at %.0f rpm, read the tank gauge.", float64(first.Speed))}
		if err := e.weighReading(r, base, f, pad.Operation{Speed: first.Speed, Setting: pad.SetRecirculate}); err != nil {
			return err
		}
	}
	if doc.Pump.Kind != pad.VariableSpeed || first.Setting != pad.SetFilter {
		return nil
	}
	speed := topSpeed
	if fast && slow {
		return nil
	}
	if fast {
		speed = units.Speed(50 * math.Round(float64(topSpeed)/2/50))
	}
	f := fault.SignFact{Name: "Another speed", Minutes: speedMinutes,
		Look: fmt.Sprintf("Run at %.0f rpm, let it settle, read the tank gauge.", float64(speed))}
	return e.weighReading(r, base, f, pad.Operation{Speed: speed, Setting: pad.SetFilter})
}

// gaugeCells is how finely the tank gauge's possible figures are weighed.
const gaugeCells = 80

// weighReading adds a reading check when it is worth its minutes: the expected
// fall in entropy over what the tank gauge could say.
func (e *engine) weighReading(r *Result, base []float64, f fault.SignFact, op pad.Operation) error {
	type peak struct{ at, sd float64 }
	peaks := make([]peak, len(base))
	low, high := math.Inf(1), math.Inf(-1)
	read := float64(*e.c.Readings[0].Tank)
	for i := range base {
		if i == len(r.Suspects) { // something else: anywhere
			peaks[i] = peak{read, float64(units.PSI(8))}
			break
		}
		s := &r.Suspects[i]
		st, err := e.solver.Solve(op, s.effects)
		if err != nil {
			return fmt.Errorf("weighing a reading at %v rpm: %w", op.Speed, err)
		}
		p := peak{float64(st.Tank), e.sigma(0, tankMeter, float64(st.Tank), s.effects.Air > 0)}
		// The best fit is not the only one: its load and severity stay a little open.
		p.sd = math.Hypot(p.sd, float64(units.PSI(0.5)))
		if s.Fault.Kind == fault.Gauge {
			p.at += read - e.predicted(s)[0][tankMeter]
			p.sd = math.Hypot(p.sd, float64(units.PSI(2)))
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
		left += p * entropy(after)
		total += p
	}
	bits := entropy(base) - left/total
	if bits < worthBits {
		return nil
	}
	rc := &ReadingCheck{Operation: op}
	for i := range r.Suspects {
		if i > 0 && r.Suspects[i].P < 0.02 {
			break
		}
		if units.Pressure(peaks[i].at) >= pad.ServiceCeiling {
			return nil // never ask for a reading over the tank's usual ceiling
		}
		rc.add(r.Suspects[i].Fault.Name, units.Pressure(peaks[i].at))
	}
	if len(rc.Would) < 2 {
		return nil // the gauge would say the same for all of them
	}
	r.Next = append(r.Next, Check{Sign: f, Bits: bits, PerMins: bits / f.Minutes, Reading: rc})
	return nil
}

// entropy of unnormalised weights, in bits.
func entropy(w []float64) float64 {
	n, h := 0.0, 0.0
	for _, x := range w {
		n += x
	}
	if n <= 0 {
		return 0
	}
	for _, x := range w {
		if p := x / n; p > 0 {
			h -= p * math.Log2(p)
		}
	}
	return h
}

func top(r *Result, w []float64) Outcome {
	best, n := 0, 0.0
	for i, x := range w {
		n += x
		if i < len(r.Suspects) && x > w[best] {
			best = i
		}
	}
	s := &r.Suspects[best]
	return Outcome{s.Fault.ID, s.Fault.Name, w[best] / n}
}
