// Package sweep moves the needle of a pad's gauge from nought past what its pump can make, asks for the verdict at
// each step, and counts the answers that break a rule of the verdict. It is a check of the judgment, not a part of it.
package sweep

import (
	"fmt"
	"math"
	"time"

	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/verdict"
)

// Rule is what an answer may not break.
type Rule string

// The rules, which all are the trade's own: docs/method.md.
const (
	LoadFalls   Rule = "load falls"    // while the needle, which is all that was read, rises
	PastIsLeft  Rule = "past is left"  // a filter at its limit is called sound, or left
	CleanIsDone Rule = "clean is done" // a filter whose needle is under its clean line is cleaned
	OverStays   Rule = "over stays"    // a tank over what it carries is not slowed first
	StopIsLost  Rule = "stop is lost"  // work, or a check with the pump on, is offered under a stop
)

// Rules are all of them.
var Rules = []Rule{LoadFalls, PastIsLeft, CleanIsDone, OverStays, StopIsLost}

// Broken is an answer that breaks a rule.
type Broken struct {
	Rule Rule
	At   string // the needle and what was known beside it
}

// Report is what came of a sweep.
type Report struct {
	Needles int // answers asked for
	Over    int // of them at or over what the tank carries, with the pump left running
	Stopped int // of them that stop the pump
	Broken  []Broken
}

// Add takes another report in.
func (r *Report) Add(o Report) {
	r.Needles += o.Needles
	r.Over += o.Over
	r.Stopped += o.Stopped
	r.Broken = append(r.Broken, o.Broken...)
}

// Of is how often a rule is broken.
func (r *Report) Of(rule Rule) int {
	n := 0
	for _, b := range r.Broken {
		if b.Rule == rule {
			n++
		}
	}
	return n
}

// Usual is a pad under a company's usual settings, a week before its next visit, with a filter that is half loaded.
func Usual(p judge.Pack, now time.Time) judge.Pack {
	p.Settings, p.Ways, p.Next = upkeep.Defaults(), procedure.DefaultWays(), now.AddDate(0, 0, 7)
	p.History = upkeep.History{Filter: upkeep.Filter{
		State:       upkeep.State{Load: 0.5, Growth: 0.005, VarLoad: 0.04, VarGrowth: 1e-5},
		HadForecast: true,
	}}
	return p
}

// speeds are shares of the top speed that a needle is read at; a single-speed pump has the first alone.
var speeds = []units.Speed{1, 0.7, 0.4}

// past is how far, psi, a needle goes beyond what the pump can make.
const past = 3

// Pad sweeps a pad: each speed, the gauge alone and with all meters, before and after a wash, in steps of some psi.
// The other meters read what they would with the load that the needle speaks for.
func Pad(p judge.Pack, now time.Time, step float64) (Report, error) {
	var out Report
	p.History.HadForecast, p.History.Chemicals, p.Book = true, nil, nil
	rig := procedure.RigOf(&p.Pad)
	wash := stop.Entry{ID: "wash", At: now.Add(-time.Hour), Kind: stop.Ran, Run: &stop.Run{
		Name: "Backwash", Over: true, State: rig.Daily(),
		Result: procedure.Result{Work: "cleaned", WashSeconds: usualWash, WashUsual: usualWash},
	}}
	for _, washed := range []bool{false, true} {
		if p.Book = nil; washed {
			p.Book = stop.Book{wash}
		}
		s, err := p.Ready()
		if err != nil {
			return out, fmt.Errorf("sweeping %s: %w", p.Pool, err)
		}
		for i, share := range speeds {
			if i > 0 && s.Model.Doc.Pump.Kind == pad.SingleSpeed {
				break
			}
			for _, all := range []bool{false, true} {
				w := way{s: s, now: now, speed: share * s.Model.TopSpeed(), washed: washed, all: all}
				w.held = s.Model.Doc.Pump.HoldsAt(float64(w.speed))
				if err := w.sweep(step, &out); err != nil {
					return out, fmt.Errorf("sweeping %s at %.0f rpm: %w", p.Pool, w.speed, err)
				}
			}
		}
	}
	return out, nil
}

// usualWash is how long, s, the wash before the sweep takes.
const usualWash = 120

// way is one pass of the needle over a pad.
type way struct {
	s           *judge.Stop
	now         time.Time
	speed       units.Speed
	washed, all bool
	held        bool // the speed is one that the pump holds its flow at: a second meter

	clean, limit, ceiling float64 // psi
}

// most is a load at which next to nothing flows.
const most = 60

func (w *way) sweep(step float64, out *Report) error {
	clean, err := w.at(0)
	if err != nil {
		return err
	}
	dirty, err := w.at(1)
	if err != nil {
		return err
	}
	shut, err := w.at(most)
	if err != nil {
		return err
	}
	w.ceiling = plumbing.Ceiling(&w.s.Model.Doc).PSI()
	w.clean, w.limit = clean.Tank.PSI(), math.Min(w.ceiling, dirty.Tank.PSI())
	last := math.Inf(-1)
	for psi := 0.0; psi <= shut.Tank.PSI()+past; psi += step {
		v, err := w.judge(psi)
		if err != nil {
			return err
		}
		out.Needles++
		out.Broken = append(out.Broken, w.broken(psi, last, v)...)
		last = v.Load.Mean
		switch {
		case v.State == string(verdict.StateStop):
			out.Stopped++
		case psi >= w.ceiling:
			out.Over++
		}
	}
	return nil
}

func (w *way) at(load float64) (plumbing.State, error) {
	return w.s.Model.Solver().Solve(pad.Operation{Speed: w.speed}, plumbing.Effects{Load: load})
}

// judge asks for the verdict on a needle.
func (w *way) judge(psi float64) (*judge.Verdict, error) {
	r := judge.TypedReading{Speed: fmt.Sprintf("%.0f", w.speed), Tank: fmt.Sprint(psi), At: &w.now}
	if w.all {
		st, err := w.at(w.loadOf(psi))
		if err != nil {
			return nil, err
		}
		r.Vacuum = fmt.Sprintf("%.1f", st.Vacuum.InHg())
		r.Flow = fmt.Sprintf("%.0f", st.Flow.GPM())
		r.Power = fmt.Sprintf("%.0f", float64(st.Power))
	}
	v, _, err := w.s.Judge(judge.Findings{Readings: []judge.TypedReading{r}}, w.now, nil)
	if err != nil {
		return nil, fmt.Errorf("a needle at %g psi: %w", psi, err)
	}
	return &v, nil
}

// loadOf is the load that a needle speaks for by itself; 0 under the clean line.
func (w *way) loadOf(psi float64) float64 {
	low, high := 0.0, float64(most)
	for range 40 {
		mid := (low + high) / 2
		if st, err := w.at(mid); err == nil && st.Tank.PSI() < psi {
			low = mid
		} else {
			high = mid
		}
	}
	return low
}

// a needle's own step, and how much of a load is nothing.
const (
	hairPsi  = 0.01
	hairLoad = 0.005
)

// broken are the rules that an answer breaks; last is the load of the needle before it.
func (w *way) broken(psi, last float64, v *judge.Verdict) []Broken {
	var out []Broken
	add := func(rule Rule) {
		meters := "gauge"
		switch {
		case w.all:
			meters = "all meters"
		case w.held:
			meters = "gauge and held flow"
		}
		out = append(out, Broken{rule, fmt.Sprintf(
			"%s, %.0f rpm, %g psi (clean %.1f, limit %.1f), %s, washed %v: %s, %s, load %.3f",
			w.s.Pool, w.speed, psi, w.clean, w.limit, meters, w.washed, v.State, v.Advice.Action, v.Load.Mean,
		)})
	}
	stopped := v.State == string(verdict.StateStop)
	if !w.all && !w.held && v.Load.Mean < last-hairLoad {
		add(LoadFalls)
	}
	if psi > w.limit+hairPsi && (soundStates[v.State] || v.Advice.Action == upkeep.LeaveIt) {
		add(PastIsLeft)
	}
	if psi < w.clean && !w.washed && v.Advice.Action == upkeep.CleanNow {
		add(CleanIsDone)
	}
	if psi >= w.ceiling && !stopped && !v.Advice.SlowsFirst() {
		add(OverStays)
	}
	if stopped && (v.Advice.Action != upkeep.StopFirst || len(v.FixOrder) > 0 || runs(v.Next)) {
		add(StopIsLost)
	}
	return out
}

// soundStates are verdicts that ask nothing of the filter.
var soundStates = map[string]bool{
	string(verdict.StateSound): true,
	string(verdict.StateDirt):  true,
	string(verdict.StateFix):   true,
}

// runs tells of checks of which one needs the pump on.
func runs(checks []judge.CheckView) bool {
	for _, c := range checks {
		if c.Reading != nil {
			return true
		}
	}
	return false
}
