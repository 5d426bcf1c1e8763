package diagnosis

import (
	"math"
	"sort"

	"fairlap/core/fault"
	"fairlap/core/loads"
	"fairlap/core/logp"
	"fairlap/core/misses"
	"fairlap/core/plumbing"
)

// Two faults at once are weighed in two ways. A fault that is known by a sign and
// does nothing to the water yet (a drip, a handle a little off, a basket half full)
// stands beside any other for nothing: the other's weighing of the meters holds. Two
// that both move the water are solved together, when one does not explain what was
// found; otherwise hundreds of pairs would be solved for nothing.

// pair is two faults at once: lead is the one that the meters speak for.
type pair struct {
	lead, beside int // indices of their best hypotheses in posterior.hyps
	logPost      float64
	post         float64
	effects      plumbing.Effects
	load         float64
	cells        []cell
	loads        [loads.N]float64 // how the load lies then; adds to one
}

// weighPairs weighs pairs beside the single faults and makes every chance smaller by
// what they take.
func (s *survey) weighPairs(p *posterior) error {
	s.besides(p)
	if err := s.inTheWater(p); err != nil {
		return err
	}
	if len(p.pairs) == 0 {
		return nil
	}
	logs := make([]float64, 0, len(p.hyps)+len(p.pairs)+1)
	for i := range p.hyps {
		logs = append(logs, p.hyps[i].logPost)
	}
	singles := logp.Sum(append(logs, p.otherLog))
	all := append(logs, p.otherLog)
	for _, x := range p.pairs {
		all = append(all, x.logPost)
	}
	n := logp.Sum(all)
	shrink := math.Exp(singles - n)
	p.other *= shrink
	for i := range p.hyps {
		p.hyps[i].post *= shrink
	}
	for i := range p.byFault {
		p.byFault[i] *= shrink
	}
	kept := p.pairs[:0]
	for _, x := range p.pairs {
		if x.post = math.Exp(x.logPost - n); x.post >= pairCutoff {
			kept = append(kept, x)
			continue
		}
		// Too little to tell: back to the single faults it is made of.
		for _, h := range [...]int{x.lead, x.beside} {
			p.byFault[p.hyps[h].index] += x.post / 2
			p.hyps[h].post += x.post / 2
		}
	}
	p.pairs = kept
	return nil
}

// known lists, in the catalogue's order, the faults that an answered yes makes known
// and that have a quiet step: its best one.
func (s *survey) known(p *posterior) []int {
	var out []int
	for i := range fault.Catalogue {
		if i == 0 || p.best[i] < 0 {
			continue
		}
		seen := false
		s.answered(func(sg *fault.SignFact, yes bool) {
			seen = seen || yes && sg.Seen() && !sg.FromState && !sg.Air && fault.Catalogue[i].Signs[sg.ID] >= knownBy
		})
		if !seen {
			continue
		}
		best := -1
		for h := range p.hyps {
			w := &p.hyps[h]
			if w.index == i && w.effects == (plumbing.Effects{}) && w.shift == 0 && w.gauge == "" &&
				(best < 0 || above(w.logPrior+w.logSigns, p.hyps[best].logPrior+p.hyps[best].logSigns)) {
				best = h
			}
		}
		if best >= 0 {
			out = append(out, best)
		}
	}
	return out
}

// besides puts every known quiet fault beside every other.
func (s *survey) besides(p *posterior) {
	for _, b := range s.known(p) {
		beside := &p.hyps[b]
		for a := range fault.Catalogue {
			if a == 0 || a == beside.index || p.best[a] < 0 || s.explains(p, a, beside.index) {
				continue
			}
			x := pair{beside: b, logPost: math.Inf(-1)}
			best := math.Inf(-1)
			var logs, wheres []float64
			for h := range p.hyps {
				w := &p.hyps[h]
				if w.index != a {
					continue
				}
				l := w.logPrior + beside.logPrior + s.signsLog(w.cause, beside.cause) + w.meters
				logs, wheres = append(logs, l), append(wheres, float64(h))
				if above(l, best) {
					best, x.lead = l, h
				}
			}
			x.logPost = logp.Sum(logs)
			for i, l := range logs {
				share := math.Exp(l - x.logPost)
				if share < 1e-6 {
					continue
				}
				joint, _ := p.spread(s, &p.hyps[int(wheres[i])])
				for k := range joint {
					x.loads[k] += share * joint[k]
				}
			}
			lead := &p.hyps[x.lead]
			x.effects = lead.effects
			x.load = loads.Grid[p.bestLoad(lead, 0, loads.N)] + lead.shift
			x.cells = lead.hypothesis.cells
			s.order(p, &x)
			p.pairs = append(p.pairs, x)
		}
	}
}

// explains tells that fault a by itself brings every sign that makes b known.
func (s *survey) explains(p *posterior, a, b int) bool {
	all := true
	s.answered(func(sg *fault.SignFact, yes bool) {
		if yes && sg.Seen() && fault.Catalogue[b].Signs[sg.ID] >= knownBy {
			all = all && p.hyps[p.best[a]].sign(sg) >= knownBy
		}
	})
	return all
}

// order puts the one first that the meters speak for; where they speak for neither,
// the likelier one.
func (s *survey) order(p *posterior, x *pair) {
	a, b, sound := &p.hyps[x.lead], &p.hyps[x.beside], &p.hyps[p.best[0]]
	if above(sound.meters+1, a.meters) && above(p.byFault[b.index], p.byFault[a.index]) {
		x.lead, x.beside = x.beside, x.lead
	}
}

// inTheWater solves two faults that both move it.
func (s *survey) inTheWater(p *posterior) error {
	pairable := s.pairable(p)
	for i, a := range pairable {
		for _, b := range pairable[i+1:] {
			x, ok, err := s.weighPair(p, min(a, b), max(a, b))
			if err != nil {
				return err
			}
			if ok {
				p.pairs = append(p.pairs, x)
			}
		}
	}
	return nil
}

// pairable are the faults worth solving together, none when one fault explains
// enough.
func (s *survey) pairable(p *posterior) []int {
	lead := 0
	for i, x := range p.byFault {
		if above(x, p.byFault[lead]) {
			lead = i
		}
	}
	score := append([]float64(nil), p.byFault...)
	asked := p.other > unexplained || s.straysFrom(p, lead) > oddAtLead
	s.answered(func(sg *fault.SignFact, yes bool) {
		if !yes || sg.FromState || sg.Air || sg.Context || p.hyps[p.best[lead]].sign(sg) > strange {
			return
		}
		for i := range fault.Catalogue {
			if f := &fault.Catalogue[i]; !f.Chronic && p.best[i] >= 0 && f.Signs[sg.ID] >= knownBy {
				score[i] += 1 + f.Signs[sg.ID]
				asked = true
			}
		}
	})
	if !asked {
		return nil
	}
	moves := func(i int) bool {
		for h := range p.hyps {
			if w := &p.hyps[h]; w.index == i && (w.effects != (plumbing.Effects{}) || w.shift != 0 || w.gauge != "") {
				return true
			}
		}
		return false
	}
	var out []int
	for i := range fault.Catalogue {
		if i > 0 && p.best[i] >= 0 && score[i] > 1e-9 && moves(i) {
			out = append(out, i)
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return Steady(score[out[a]]) > Steady(score[out[b]]) })
	return out[:min(pairFaults, len(out))]
}

// straysFrom is how many deviations a fault's best fit leaves its worst reading off.
func (s *survey) straysFrom(p *posterior, i int) float64 {
	if p.best[i] < 0 {
		return 0
	}
	w := &p.hyps[p.best[i]]
	load := loads.Grid[p.bestLoad(w, 0, loads.N)]
	e := new(misses.Errors)
	worst := 0.0
	for k, sd := range s.sigmas(e, &w.hypothesis, w.table, load) {
		worst = math.Max(worst, math.Abs(e.Miss[k])/sd)
	}
	return worst
}

// weighPair sums the evidence over coarse severities of both and the load.
func (s *survey) weighPair(p *posterior, ia, ib int) (pair, bool, error) {
	out := pair{lead: p.best[ia], beside: p.best[ib], logPost: math.Inf(-1)}
	priors := p.faultPrior(ia) + p.faultPrior(ib)
	var logs []float64
	byLoad := [loads.N]float64{}
	for l := range byLoad {
		byLoad[l] = math.Inf(-1)
	}
	e := new(misses.Errors)
	bestFit := math.Inf(-1)
	for _, x := range p.steps(ia) {
		for _, y := range p.steps(ib) {
			a, b := &p.hyps[x.hyp], &p.hyps[y.hyp]
			eff, ok := a.effects.Plus(b.effects)
			if !ok || (a.gauge != "" && b.gauge != "") {
				continue
			}
			t, err := s.teller.Under(eff)
			if err != nil {
				return out, false, err
			}
			if t.Rough {
				if err := s.teller.Refine(t); err != nil {
					return out, false, err
				}
			}
			both := hypothesis{cause: a.cause, effects: eff, shift: a.shift + b.shift, gauge: a.gauge}
			if b.gauge != "" {
				both.cause, both.gauge = b.cause, b.gauge
			}
			for _, h := range [...]*weighed{a, b} {
				for _, c := range h.hypothesis.cells {
					c.width *= float64(coarseSevere) / 1.5
					both.cells = append(both.cells, c)
				}
			}
			w := priors + x.share + y.share + s.signsLog(a.cause, b.cause)
			for l := 0; l < loads.N; l += coarseLoads {
				like := w + s.metersLog(
					e,
					&both,
					t,
					loads.Grid[l],
				) + p.load[l] + math.Log(
					float64(min(coarseLoads, loads.N-l)),
				)
				logs = append(logs, like)
				byLoad[l] = logp.Add(byLoad[l], like)
				if above(like, bestFit) {
					bestFit, out.effects, out.load, out.cells = like, eff, loads.Grid[l]+both.shift, both.cells
					out.lead, out.beside = x.hyp, y.hyp
				}
			}
		}
	}
	if len(logs) == 0 {
		return out, false, nil
	}
	out.logPost = logp.Sum(logs)
	for l := range out.loads { // each coarse entry stands for its neighbours
		near := l / coarseLoads * coarseLoads
		out.loads[l] = math.Exp(byLoad[near]-out.logPost) / float64(min(coarseLoads, loads.N-near))
	}
	s.order(p, &out)
	return out, !math.IsInf(out.logPost, -1), nil
}

// faultPrior is the log prior of a fault over all its places and steps.
func (p *posterior) faultPrior(i int) float64 {
	w := &p.hyps[p.best[i]]
	return w.logPrior - w.logShare
}

// coarseStep is one severity of a fault in a pair, with its log share of the prior.
type coarseStep struct {
	hyp   int
	share float64
}

// steps lists a fault's severities for pairing: every third at its likeliest place,
// and the one that fits best; their shares add to one.
func (p *posterior) steps(i int) []coarseStep {
	best := &p.hyps[p.best[i]]
	last := len(best.fault.Weights) - 1
	var out []coarseStep
	var logs []float64
	for h := range p.hyps {
		w := &p.hyps[h]
		if w.index == i && w.place == best.place && w.step != mild &&
			(w.step%coarseSevere == last%coarseSevere || h == p.best[i]) {
			out = append(out, coarseStep{h, w.logShare})
			logs = append(logs, w.logShare)
		}
	}
	n := logp.Sum(logs)
	for k := range out {
		out[k].share -= n
	}
	return out
}
