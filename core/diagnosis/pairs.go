package diagnosis

import (
	"math"
	"sort"

	"gonum.org/v1/gonum/floats"

	"fairlap/core/fault"
	"fairlap/core/pad"
)

// Two faults at once are weighed only when one does not explain what was found:
// the readings fit no single fault, or a sign is there that the leading suspect
// does not bring while another fault is known by it. Otherwise a second fault
// only costs odds, and hundreds of pairs would be solved for nothing.

// Together is a fault that may be there beside a suspect, and the chance of both.
type Together struct {
	Fault fault.Fault
	P     float64
}

// pair is two faults at once at the severities that fit best.
type pair struct {
	a, b    int // in fault.Catalogue, a < b
	logPost float64
	post    float64
	effects pad.Effects
	load    float64
	loads   [loadN]float64 // how the load lies then; adds to one
}

// When pairs are asked for (ours).
const (
	unexplained  = 0.1  // chance of something else
	strange      = 0.05 // P(sign | leading suspect) at which it is not explained
	knownBy      = 0.5  // P(sign | fault) that makes a fault known by a sign
	pairFaults   = 4    // faults that pairs are made of
	oddAtLead    = 3    // deviations of the lead's worst reading
	pairCutoff   = 0.01 // chance under which a pair is not told
	coarseLoads  = 3    // every so many entries of the load grid
	coarseSevere = 3    // every so many severity steps
)

// pairs weighs pairs beside the single faults when the evidence asks for it, and
// makes every chance smaller by what they take.
func (e *engine) pairs() error {
	some := e.pairable()
	if len(some) < 2 {
		return nil
	}
	singles := make([]float64, 0, len(e.variants)+1)
	for i := range e.variants {
		singles = append(singles, e.variants[i].logPost)
	}
	logs := append(singles, e.otherLog)
	for x, a := range some {
		for _, b := range some[x+1:] {
			p, err := e.weighPair(min(a, b), max(a, b))
			if err != nil {
				return err
			}
			if !math.IsInf(p.logPost, -1) {
				e.both = append(e.both, p)
				logs = append(logs, p.logPost)
			}
		}
	}
	n := floats.LogSumExp(logs)
	shrink := math.Exp(floats.LogSumExp(logs[:len(e.variants)+1]) - n)
	e.other *= shrink
	for i := range e.variants {
		e.variants[i].post *= shrink
	}
	for i := range e.faultPost {
		e.faultPost[i] *= shrink
	}
	kept := e.both[:0]
	for _, p := range e.both {
		if p.post = math.Exp(p.logPost - n); p.post >= pairCutoff {
			kept = append(kept, p)
		} else { // too little to tell: back to the single faults it is made of
			e.faultPost[p.a] += p.post / 2
			e.faultPost[p.b] += p.post / 2
			e.variants[e.best[p.a]].post += p.post / 2
			e.variants[e.best[p.b]].post += p.post / 2
		}
	}
	e.both = kept
	return nil
}

// pairable are the faults worth pairing, none when one fault explains enough.
func (e *engine) pairable() []int {
	lead, leadPost := 0, 0.0
	for i, p := range e.faultPost {
		if p > leadPost {
			lead, leadPost = i, p
		}
	}
	score := make([]float64, len(fault.Catalogue))
	for i, p := range e.faultPost {
		score[i] = p
	}
	asked := e.other > unexplained || e.strays(lead) > oddAtLead
	for id, yes := range e.c.Signs {
		sg, ok := fault.LookUpSign(id)
		if !yes || !ok || sg.FromState || sg.Air || sg.Context || likelihood(fault.Catalogue[lead], sg) > strange {
			continue
		}
		for i, f := range fault.Catalogue {
			if p := f.Signs[id]; p >= knownBy && !f.Chronic && e.best[i] >= 0 {
				score[i] += 1 + p
				asked = true
			}
		}
	}
	if !asked {
		return nil
	}
	var out []int
	for i, f := range fault.Catalogue {
		if f.ID != fault.Healthy && e.best[i] >= 0 && score[i] > 1e-6 {
			out = append(out, i)
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return score[out[a]] > score[out[b]] })
	return out[:min(pairFaults, len(out))]
}

// strays is how many deviations a fault's best fit leaves its worst reading off.
func (e *engine) strays(i int) float64 {
	if e.best[i] < 0 || fault.Catalogue[i].Kind == fault.Gauge {
		return 0
	}
	v := &e.variants[e.best[i]]
	l := argMax(v.like, e.prior[:], 0, loadN)
	worst := 0.0
	for r := range e.c.Readings {
		p := v.table.at(r, LoadAt(l)+v.shift)
		for k, m := range pad.AllMeters {
			if x, ok := e.c.Readings[r].Value(m); ok {
				worst = math.Max(worst, math.Abs(x-p[k])/e.sigma(r, k, p[k], v.effects.Air > 0))
			}
		}
	}
	return worst
}

// bothSign is P(yes) of a sign when two faults are there, each of which moves its
// odds away from the base by itself.
func bothSign(a, b fault.Fault, s *fault.SignFact) float64 {
	logit := func(p float64) float64 { return math.Log(p / (1 - p)) }
	x := logit(likelihood(a, s)) + logit(likelihood(b, s)) - logit(s.Base)
	return math.Min(0.995, math.Max(s.Base*0.02, 1/(1+math.Exp(-x))))
}

// weighPair sums the evidence over coarse severities of both and the load.
func (e *engine) weighPair(ia, ib int) (pair, error) {
	a, b := fault.Catalogue[ia], fault.Catalogue[ib]
	out := pair{a: ia, b: ib, logPost: math.Inf(-1)}
	air := 1 - (1-a.Air)*(1-b.Air)
	base := math.Log(e.priorOf(&a)) + math.Log(e.priorOf(&b)) +
		e.signsLog(func(s *fault.SignFact) float64 { return bothSign(a, b, s) }, air)
	va, vb := e.coarse(ia), e.coarse(ib)
	if len(va) == 0 || len(vb) == 0 {
		return out, nil
	}
	bestFit, logs := math.Inf(-1), []float64{}
	byLoad := [loadN]float64{}
	for l := range byLoad {
		byLoad[l] = math.Inf(-1)
	}
	for _, x := range va {
		for _, y := range vb {
			eff, ok := x.effects.Plus(y.effects)
			if !ok {
				continue
			}
			t, err := e.tableFor(eff)
			if err != nil {
				return out, err
			}
			v := variant{fault: ia, table: t, effects: eff, shift: x.shift + y.shift}
			if b.Kind == fault.Gauge {
				v.fault = ib
			}
			w := base + x.share + y.share
			for l := 0; l < loadN; l += coarseLoads {
				p := w + e.metersLog(&v, LoadAt(l)) + e.prior[l] + math.Log(coarseLoads)
				logs = append(logs, p)
				byLoad[l] = logAdd(byLoad[l], p)
				if p > bestFit {
					bestFit, out.effects, out.load = p, eff, LoadAt(l)+v.shift
				}
			}
		}
	}
	if len(logs) > 0 {
		out.logPost = floats.LogSumExp(logs)
	}
	for l := range out.loads { // each coarse entry stands for its neighbours
		near := l / coarseLoads * coarseLoads
		out.loads[l] = math.Exp(byLoad[near]-out.logPost) / float64(min(coarseLoads, loadN-near))
	}
	return out, nil
}

// part is one fault's coarse severity step at a place, with its share of the
// fault's prior.
type part struct {
	effects      pad.Effects
	shift, share float64
}

// coarse lists a fault's steps for pairing: every third severity at its likeliest
// place; the sum of their shares is one.
func (e *engine) coarse(i int) []part {
	place := e.variants[e.best[i]].place
	var out []part
	total := 0.0
	for j := range e.variants {
		v := &e.variants[j]
		if v.fault != i || v.place != place || v.step%coarseSevere != (len(fault.Catalogue[i].Weights)-1)%coarseSevere {
			continue
		}
		w := fault.Catalogue[i].Weights[v.step]
		total += w
		x := part{v.effects, v.shift, w}
		if v.shift != 0 { // counted by its shift
			x.effects.Load = 0
		}
		out = append(out, x)
	}
	for k := range out {
		out[k].share = math.Log(out[k].share / total)
	}
	return out
}

// joinPairs adds to each suspect the chance of its pairs, and names the other.
func (e *engine) joinPairs(r *Result) {
	for i := range r.Suspects {
		s := &r.Suspects[i]
		alone := s.P
		for _, p := range e.both {
			other := -1
			switch s.Fault.ID {
			case fault.Catalogue[p.a].ID:
				other = p.b
			case fault.Catalogue[p.b].ID:
				other = p.a
			default:
				continue
			}
			s.P += p.post
			s.With = append(s.With, Together{fault.Catalogue[other], p.post})
			if p.post > alone { // the pair says better what the meters would say
				alone = p.post
				s.effects, s.Load = p.effects, p.load
				s.effects.Load = p.load
			}
		}
		sort.SliceStable(s.With, func(a, b int) bool { return s.With[a].P > s.With[b].P })
	}
	sort.SliceStable(r.Suspects, func(a, b int) bool { return r.Suspects[a].P > r.Suspects[b].P })
}
