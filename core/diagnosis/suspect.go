package diagnosis

import (
	"math"
	"sort"

	"fairlap/core/fault"
	"fairlap/core/loads"
	"fairlap/core/misses"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/words"
)

// suspects are the rows of the answer: every fault by itself, Healthy on either side
// of the filter's limit, and every two at once.
func (s *survey) suspects(p *posterior) []Suspect {
	var out []Suspect
	add := func(w *weighed, f fault.Fault, chance float64, from, to int) {
		load := loads.Grid[p.bestLoad(w, from, to)]
		c := w.cause
		if f.ID == fault.FilterLoaded {
			c.fault = &f
		}
		out = append(
			out,
			Suspect{Fault: f, Place: s.surePlace(p, w), P: chance, Load: load + w.shift, Severity: severity(w),
				Quiet: p.quiet(w.index), causes: []cause{c}, fit: w.hypothesis, table: w.table},
		)
	}
	for i := range fault.Catalogue {
		if p.best[i] < 0 {
			continue
		}
		w := &p.hyps[p.best[i]]
		if i > 0 {
			add(w, s.surely(p, w), p.byFault[i], 0, loads.N)
			continue
		}
		loaded := fault.Loaded(s.kind)
		loaded.Air, loaded.Weights = w.fault.Air, w.fault.Weights
		add(w, *w.fault, p.byFault[i]*(1-p.loaded), 0, loads.Limit)
		add(w, loaded, p.byFault[i]*p.loaded, loads.Limit, loads.N)
	}
	for _, x := range p.pairs {
		a, b := &p.hyps[x.lead], &p.hyps[x.beside]
		both := Suspect{Fault: s.surely(p, a), Place: s.surePlace(p, a), P: x.post, Load: x.load, Severity: severity(a),
			With: []Together{
				{s.surely(p, b), x.post},
			}, causes: []cause{a.cause, b.cause}, fit: a.hypothesis, table: s.teller.Of(x.effects)}
		both.fit.effects, both.fit.shift, both.fit.cells = x.effects, a.shift+b.shift, x.cells
		if b.gauge != "" {
			both.fit.gauge, both.fit.step = b.gauge, b.step
		}
		out = append(out, both)
	}
	sort.SliceStable(out, func(a, b int) bool { return Steady(out[a].P) > Steady(out[b].P) })
	for i := range out {
		s.settle(&out[i])
	}
	return out
}

// quiet is the chance of a fault in which it moves no meter.
func (p *posterior) quiet(index int) float64 {
	out := 0.0
	for i := range p.hyps {
		if w := &p.hyps[i]; w.index == index && w.gauge == "" && w.shift == 0 && w.effects == (plumbing.Effects{}) {
			out += w.post
		}
	}
	return out
}

func severity(w *weighed) float64 {
	return float64(w.step+1) / float64(len(w.fault.Weights)+1)
}

// surely is a fault as it sits at its place, or as the catalogue has it where the
// evidence does not tell places apart.
func (s *survey) surely(p *posterior, w *weighed) fault.Fault {
	if w.place != "" && s.surePlace(p, w) == "" {
		return fault.Catalogue[w.index]
	}
	return *w.fault
}

// surePlace names the place only where the evidence tells places apart.
func (s *survey) surePlace(p *posterior, w *weighed) words.Message {
	here := 0.0
	for i := range p.hyps {
		if x := &p.hyps[i]; x.index == w.index && x.place == w.place {
			here += x.post
		}
	}
	if here < 0.6*p.byFault[w.index] {
		return ""
	}
	return w.place
}

// settle finds where within its steps a suspect fits best: the mean of the unknown
// places given the misses.
func (s *survey) settle(x *Suspect) {
	x.within = [2]float64{}
	if len(x.fit.cells) == 0 || len(s.items) == 0 {
		return
	}
	h := x.fit
	h.shift = 0
	e := new(misses.Errors)
	s.errorsUnder(e, &h, x.table, x.Load)
	if _, ok := e.Invert(); !ok {
		return
	}
	for c := range h.cells[:min(2, len(h.cells))] {
		for i := range e.N {
			pull := 0.0
			for j := range e.N {
				pull += e.Prec[i*misses.Most+j] * e.Miss[j]
			}
			x.within[c] += e.Within[i][c] * pull
		}
		x.within[c] = math.Max(-2, math.Min(2, x.within[c]))
	}
}

// reads is what every meter of a reading would say under a suspect's best fit.
func (x *Suspect) reads(reading int) loads.Figures {
	f := x.table.At(reading, x.Load)
	for c := range x.fit.cells[:min(2, len(x.fit.cells))] {
		m := x.fit.cells[c].moves(reading, x.Load-x.fit.shift)
		for k := range f {
			f[k] += m[k] * x.within[c]
		}
	}
	if x.fit.gauge == fault.Plugged {
		f[tankMeter] *= pluggedMean
	}
	return f
}

// effects is what a suspect does to the water at its best fit.
func (x *Suspect) effects() plumbing.Effects {
	e := x.fit.effects
	e.Load = x.Load
	return e
}

// sigmas are one deviation of each item under a suspect, and what each misses by;
// both are by item, NaN for an item that says nothing under it.
func (s *survey) under(e *misses.Errors, x *Suspect) (sd, miss []float64) {
	h := x.fit
	h.shift = 0
	s.errorsUnder(e, &h, x.table, x.Load)
	sd, miss = make([]float64, len(s.items)), make([]float64, len(s.items))
	k := 0
	for i, it := range s.items {
		if it.meter == tankMeter && h.gauge == fault.Stuck || k >= e.N {
			sd[i], miss[i] = math.NaN(), math.NaN()
			continue
		}
		sd[i], miss[i] = math.Sqrt(e.Cov[k*misses.Most+k]), e.Miss[k]
		for c := range h.cells[:min(2, len(h.cells))] {
			miss[i] -= e.Within[k][c] * x.within[c]
		}
		k++
	}
	return sd, miss
}

// signGiven is P(yes) of one sign alone under a suspect.
func (s *survey) signGiven(x *Suspect, sg *fault.SignFact, flow float64) float64 {
	switch {
	case sg.FromState:
		return s.stateSign(x.causes[0], sg.ID, flow)
	case sg.Air:
		none := 1.0
		for _, c := range x.causes {
			none *= 1 - c.air()
		}
		return (1-none)*sg.GivenAir + none*sg.Base
	}
	return togetherSign(sg, x.causes)
}

// misfit looks for a reading that every suspect worth the name leaves far off.
func (s *survey) misfit(r *Result) *Misfit {
	if len(s.items) == 0 {
		return nil
	}
	least := make([]float64, len(s.items))
	fits := make([]float64, len(s.items))
	for i := range least {
		least[i] = math.Inf(1)
	}
	e := new(misses.Errors)
	for i := range r.Suspects {
		x := &r.Suspects[i]
		if i > 0 && x.P < worthMisfit {
			break
		}
		sd, miss := s.under(e, x)
		for k := range s.items {
			z := math.Abs(miss[k]) / sd[k]
			if math.IsNaN(z) {
				z = 0
			}
			if z < least[k] {
				least[k], fits[k] = z, s.items[k].value-miss[k]
			}
		}
	}
	worst := 0
	for k := range least {
		if least[k] > least[worst] {
			worst = k
		}
	}
	if least[worst] > misfitSigmas || (r.Other > 0.5 && least[worst] > 2) {
		return &Misfit{s.items[worst].reading, pad.AllMeters[s.items[worst].meter], fits[worst], least[worst]}
	}
	return nil
}

// Misfit names the reading that would have to be wrong.
type Misfit struct {
	Reading int
	Meter   pad.Meter
	Fits    float64 // what the suspect that comes nearest would have it read, SI
	Sigmas  float64
}

// alike names the leading suspects that no meter of these readings parts.
func (s *survey) alike(r *Result) []words.Message {
	if len(s.items) == 0 || len(r.Suspects) < 2 || r.Suspects[0].fit.gauge != "" {
		return nil
	}
	lead := &r.Suspects[0]
	e := new(misses.Errors)
	sd, _ := s.under(e, lead)
	var out []words.Message
	for i := 1; i < len(r.Suspects) && r.Suspects[i].P > 0.1; i++ {
		x := &r.Suspects[i]
		same := x.fit.gauge == "" && !oneFilter(lead.Fault.ID, x.Fault.ID)
		for k, it := range s.items {
			if math.Abs(lead.reads(it.reading)[it.meter]-x.reads(it.reading)[it.meter]) > apart*sd[k] {
				same = false
			}
		}
		if same {
			out = append(out, x.Name())
		}
	}
	if len(out) > 0 {
		out = append([]words.Message{lead.Name()}, out...)
	}
	return out
}

// Name is the fault's, with the other's of two at once.
func (x *Suspect) Name() words.Message {
	if len(x.With) == 0 {
		return x.Fault.Name
	}
	return words.Of("diagnosis.two-at-once", "one", words.Msg(x.Fault.Name), "other", words.Msg(x.With[0].Fault.Name))
}

// oneFilter tells that two suspects are one filter on either side of its limit.
func oneFilter(a, b fault.ID) bool { return Sound(a) && Sound(b) }

// Sound tells a pad with nothing wrong but, perhaps, dirt.
func Sound(id fault.ID) bool { return id == fault.Healthy || id == fault.FilterLoaded }

// SomeDirt is the load from which a sound pad is called dirty.
const SomeDirt = 0.4

// SoundName names the one state of a sound pad with whatever dirt, for a row of the
// answer.
func SoundName(r *Result) words.Message {
	load := 100 * math.Max(0, r.Load.Mean)
	clean, loaded := 0.0, 0.0
	for _, s := range r.Suspects {
		switch {
		case len(s.With) > 0:
		case s.Fault.ID == fault.Healthy:
			clean = s.P
		case s.Fault.ID == fault.FilterLoaded:
			loaded = s.P
		}
	}
	switch {
	case loaded > clean:
		return "diagnosis.filter-past-its-limit"
	case r.Load.Mean > SomeDirt:
		return words.Of("diagnosis.only-dirt-of-the-limit", "load", words.Q("%", load))
	}
	return "diagnosis.nothing-wrong"
}

// MeterName is what a meter is called within a sentence.
func MeterName(m pad.Meter) words.Message { return MeterNamesLow[m] }

// MeterNamesLow are the meters' names within a sentence.
var MeterNamesLow = map[pad.Meter]words.Message{
	pad.MeterTank:   "diagnosis.tank-gauge-2",
	pad.MeterVacuum: "diagnosis.vacuum-2",
	pad.MeterFlow:   "diagnosis.flow-2",
	pad.MeterPower:  "diagnosis.power-2",
}
