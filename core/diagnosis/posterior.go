package diagnosis

import (
	"math"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/foretell"
	"fairlap/core/loads"
	"fairlap/core/logp"
	"fairlap/core/misses"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// weighed is a hypothesis with what the evidence makes of it.
type weighed struct {
	hypothesis
	table   *foretell.Table
	like    []float64 // log likelihood of the meters by load, shared by equals
	kept    *kept     // that it is of, and which version of it meters sums
	version int
	// meters is the log evidence of the meters over all loads.
	meters  float64
	logPost float64
	post    float64
}

// posterior is every hypothesis weighed.
type posterior struct {
	hyps     []weighed
	load     loads.Spread
	other    float64
	otherLog float64
	byFault  []float64
	best     []int // by catalogue index: hypothesis of the largest posterior, −1 none
	pairs    []pair
	loaded   float64 // of Healthy's posterior: load at or over the limit
}

// called is the log weight of a load under a hypothesis in a complaint's context:
// nobody calls because of a pad that shows nothing.
func (s *survey) called(h *hypothesis, entry int) float64 {
	if s.c.Called && h.quiet && entry < loads.Limit {
		return -math.Log(callFactor)
	}
	return 0
}

// weigh computes every hypothesis's posterior, given the chances of the faults and
// of the load before today's evidence.
func (s *survey) weigh(priors []float64, load loads.Spread) (*posterior, error) {
	p := &posterior{load: load}
	hyps := s.hypotheses(priors)
	p.hyps = make([]weighed, len(hyps))
	for i, h := range hyps {
		t, err := s.teller.Under(h.effects)
		if err != nil {
			return nil, err
		}
		p.hyps[i] = weighed{hypothesis: h, table: t}
	}
	p.cells()
	if err := s.weighMeters(p); err != nil {
		return nil, err
	}
	p.settled(s, nil)
	return p, nil
}

// reweigh weighs a stop with one more sign, from what was weighed without it: no sign but the
// flow's own moves what the meters say.
func (s *survey) reweigh(base *posterior, sg *fault.SignFact, yes bool) (*posterior, error) {
	if sg.FromState {
		return s.weigh(s.priors(), base.load)
	}
	p := &posterior{load: base.load, hyps: slices.Clone(base.hyps)}
	for i := range p.hyps {
		w := &p.hyps[i]
		if sg.Air {
			w.logSigns = s.signsLog(w.cause)
		} else {
			w.logSigns += logp.Answer(togetherSign(sg, []cause{w.cause}), yes)
		}
	}
	if err := s.weighMeters(p); err != nil {
		return nil, err
	}
	p.settled(s, base)
	return p, nil
}

// settled sums the evidence and makes chances of it; what another posterior summed of the same
// meters is taken over.
func (p *posterior) settled(s *survey, base *posterior) {
	joint := make([]float64, loads.N)
	logs := make([]float64, 0, len(p.hyps)+1)
	for i := range p.hyps {
		w := &p.hyps[i]
		if base == nil || base.hyps[i].kept != w.kept || base.hyps[i].version != w.kept.version {
			for l := range joint {
				joint[l] = w.like[l] + p.load[l] + s.called(&w.hypothesis, l)
			}
			w.meters, w.version = logp.Sum(joint), w.kept.version
		}
		w.logPost = w.logPrior + w.logSigns + w.meters
		logs = append(logs, w.logPost)
	}
	p.otherLog = s.somethingElse()
	n := logp.Sum(append(logs, p.otherLog))
	p.other = math.Exp(p.otherLog - n)
	p.byFault = make([]float64, len(fault.Catalogue))
	p.best = make([]int, len(fault.Catalogue))
	for i := range p.best {
		p.best[i] = -1
	}
	for i := range p.hyps {
		w := &p.hyps[i]
		w.post = math.Exp(w.logPost - n)
		p.byFault[w.index] += w.post
		if b := p.best[w.index]; b < 0 || above(w.logPost, p.hyps[b].logPost) {
			p.best[w.index] = i
		}
	}
	if base != nil {
		p.loaded = base.loaded
		return
	}
	h := &p.hyps[p.best[0]]
	under, over := math.Inf(-1), math.Inf(-1)
	for l := range loads.N {
		x := h.like[l] + p.load[l] + s.called(&h.hypothesis, l)
		if l >= loads.Limit {
			over = logp.Add(over, x)
		} else {
			under = logp.Add(under, x)
		}
	}
	p.loaded = 1 / (1 + math.Exp(under-over))
}

// cells gives every step of a fault's severities its stretch, by its neighbours at
// the same place.
func (p *posterior) cells() {
	same := func(i, j int) bool {
		if j < 0 || j >= len(p.hyps) {
			return false
		}
		a, b := &p.hyps[i], &p.hyps[j]
		return a.index == b.index && a.place == b.place && a.step != mild && b.step != mild && a.gauge == "" &&
			b.gauge == ""
	}
	for i := range p.hyps {
		low, high, width := i, i, 0.5
		if same(i, i-1) {
			low = i - 1
		}
		if same(i, i+1) {
			high = i + 1
		}
		if low == high {
			continue
		}
		if low == i || high == i {
			width = 1
		}
		a, b := &p.hyps[low], &p.hyps[high]
		p.hyps[i].hypothesis.cells = []cell{{a.table, b.table, a.shift, b.shift, width}}
	}
}

// Meters are first weighed at every sparse-th load; what lies hopeless behind the
// best there (in logs) is left so, with straight lines between. The sound pad is
// weighed everywhere: it also says what the readings alone make of the load.
const (
	sparse   = 7
	hopeless = 10
	farOff   = 60 // so far behind that a rough table is good enough
)

// weighMeters fills every hypothesis's log likelihood of the meters over the load
// grid. Hypotheses that do the same to the water say the same of the meters: solved
// and weighed once.
func (s *survey) weighMeters(p *posterior) error {
	type shared struct {
		kept   *kept
		like   []float64
		w      *weighed
		weight float64 // the most that any hypothesis's prior and signs give it
	}
	if s.asked() {
		s.likes = nil // the flow's own signs are weighed with the meters
	}
	index := make(map[likeKey]int, len(p.hyps))
	var all []shared
	e := new(misses.Errors)
	best := math.Inf(-1)
	for i := range p.hyps {
		w := &p.hyps[i]
		key := likeKey{t: w.table, shift: w.shift, gauge: w.gauge}
		if w.gauge != "" {
			key.step = w.step
		}
		if len(w.hypothesis.cells) > 0 {
			key.cell = w.hypothesis.cells[0]
		}
		if _, listed := w.fault.Signs[fault.DeviceNoFlow]; listed {
			key.lamps = w.fault.ID
		}
		at, ok := index[key]
		if !ok {
			at = len(all)
			index[key] = at
			x := shared{kept: s.likes[key], w: w, weight: math.Inf(-1)}
			if x.kept == nil || x.kept.rough != w.table.Rough {
				x.kept = &kept{like: make([]float64, loads.N), rough: true}
			}
			x.like = x.kept.like
			weighed := func() {
				for l := range coarse {
					x.like[l] = s.metersLog(e, &w.hypothesis, w.table, loads.Grid[l])
				}
			}
			promised := func() (best float64) {
				best = math.Inf(-1)
				for l := range coarse {
					best = math.Max(best, w.logPrior+w.logSigns+x.like[l]+p.load[l])
				}
				return best
			}
			if !x.kept.coarse {
				weighed()
				x.kept.coarse, x.kept.rough = true, w.table.Rough
			}
			if w.table.Rough && promised() > best-farOff {
				if err := s.teller.Refine(w.table); err != nil {
					return err
				}
				weighed()
				x.kept.rough, x.kept.fine = false, [loads.N]bool{}
				x.kept.version++
			}
			if s.likes == nil {
				s.likes = map[likeKey]*kept{}
			}
			s.likes[key] = x.kept
			all = append(all, x)
		}
		x := &all[at]
		w.like, w.kept = x.like, x.kept
		x.weight = math.Max(x.weight, w.logPrior+w.logSigns)
		for l := range coarse {
			best = math.Max(best, w.logPrior+w.logSigns+x.like[l]+p.load[l])
		}
	}
	for i := range all {
		x := &all[i]
		for low := 0; low < loads.N-1; low += sparse {
			high := min(low+sparse, loads.N-1)
			promise := x.weight + math.Max(x.like[low]+p.load[low], x.like[high]+p.load[high])
			fine := x.w.index == 0 || promise > best-hopeless
			if x.kept.fine[low] {
				continue
			}
			x.kept.fine[low] = fine
			if fine {
				x.kept.version++
			}
			for l := low + 1; l < high; l++ {
				if fine {
					x.like[l] = s.metersLog(e, &x.w.hypothesis, x.w.table, loads.Grid[l])
				} else {
					x.like[l] = x.like[low] + (x.like[high]-x.like[low])*float64(l-low)/float64(high-low)
				}
			}
		}
	}
	return nil
}

// coarse yields every sparse-th entry of the load grid, and the last.
// likeKey is what the likelihood of the meters depends on.
type likeKey struct {
	t     *foretell.Table
	shift float64
	gauge fault.GaugeWay
	step  int // of a bad gauge
	cell  cell
	lamps fault.ID // of a fault with lamps of its own
}

// kept is a likelihood of the meters by load, kept for the answers that an open look would get: no
// sign but the flow's own moves it. It is exact at each stretch that is fine, and at its ends.
type kept struct {
	like          []float64
	coarse, rough bool
	version       int           // counts what was weighed finer
	fine          [loads.N]bool // by a stretch's beginning
}

// asked tells that signs of the flow were answered.
func (s *survey) asked() bool {
	_, weak := s.c.Signs[fault.WeakAll]
	return weak || s.asksLamp()
}

func coarse(yield func(int) bool) {
	for l := 0; l < loads.N; l += sparse {
		if !yield(l) {
			return
		}
	}
	if (loads.N-1)%sparse != 0 {
		yield(loads.N - 1)
	}
}

// somethingElse is the log joint of a cause outside the catalogue: meters anywhere
// around the clean line, symptoms by chance.
func (s *survey) somethingElse() float64 {
	sum := math.Log(priorOther)
	for _, it := range s.items {
		clean := s.expected[it.reading].Clean.Value(pad.AllMeters[it.meter])
		wide := [...]float64{float64(units.PSI(6)), float64(units.InHg(4)), 0.3 * s.topFlow, 0.3 * clean}[it.meter]
		sd := math.Max(
			wide,
			math.Max(
				s.c.Model.Doc.Meters.Noise(pad.AllMeters[it.meter], clean),
				s.expected[it.reading].Spread[it.meter],
			),
		)
		z := (it.value - clean) / sd
		// Half as likely again three deviations out as a normal has it.
		sum += math.Log(0.9*math.Exp(-0.5*z*z)+0.1/3*math.Exp(-0.5*z*z/9)+1e-9) - math.Log(sd) - misses.LogRootTwoPi
	}
	s.answered(func(sg *fault.SignFact, yes bool) {
		switch {
		case sg.Context:
		case sg.Seen(): // its own fault, not something else
			sum += logp.Answer(sg.Base, yes)
		default:
			sum += logp.Answer(noticed*(sg.Base+0.15), yes)
		}
	})
	return sum
}

// spread gives a hypothesis's distribution of the load: with the forecast, and by
// the readings alone.
func (p *posterior) spread(s *survey, w *weighed) (joint, alone [loads.N]float64) {
	a, b := math.Inf(-1), math.Inf(-1)
	for l := range joint {
		joint[l] = w.like[l] + p.load[l] + s.called(&w.hypothesis, l)
		alone[l] = w.like[l] + readingsAlone[l]
		a, b = math.Max(a, joint[l]), math.Max(b, alone[l])
	}
	na, nb := 0.0, 0.0
	for l := range joint {
		joint[l], alone[l] = math.Exp(joint[l]-a), math.Exp(alone[l]-b)
		na += joint[l]
		nb += alone[l]
	}
	for l := range joint {
		joint[l] /= na
		alone[l] /= nb
	}
	return joint, alone
}

// byGauge is the load where nothing but the tank gauge was read: what it says of the filter of a
// pad with nothing else amiss, every misreading taken at its word. It never falls while the needle
// rises: a suspect that makes the needle low or impossible says nothing of the dirt, and the
// forecast must not come back in its place. Nil where more was read.
func (p *posterior) byGauge(s *survey) []float64 {
	if !s.gaugeAlone() {
		return nil
	}
	w := &p.hyps[p.best[0]]
	grid := make([]float64, loads.N)
	// One width for all loads: a wider one, far from what was read, would bring the deep ones near.
	fixed, e := new(misses.Errors), new(misses.Errors)
	s.errorsUnder(fixed, &w.hypothesis, w.table, SomeDirt)
	if _, ok := fixed.Invert(); !ok {
		return nil
	}
	top := math.Inf(-1)
	for l := range grid {
		s.errorsUnder(e, &w.hypothesis, w.table, loads.Grid[l])
		grid[l] = p.load[l] - fixed.Far(e)/2
		top = math.Max(top, grid[l])
	}
	sum := 0.0
	for l := range grid {
		grid[l] = math.Exp(grid[l] - top)
		sum += grid[l]
	}
	for l := range grid {
		grid[l] /= sum
	}
	return grid
}

// loads gives the posterior of the load over all suspects, and what the readings
// alone say of it.
func (p *posterior) loads(s *survey) (grid, observed []float64) {
	grid, observed = make([]float64, loads.N), make([]float64, loads.N)
	for i := range p.hyps {
		w := &p.hyps[i]
		if w.post < 1e-9 {
			continue
		}
		joint, alone := p.spread(s, w)
		for l := range joint {
			grid[l] += w.post * joint[l]
			observed[l] += w.post * alone[l]
		}
	}
	for _, x := range p.pairs {
		for l := range grid {
			grid[l] += x.post * x.loads[l]
			observed[l] += x.post * x.loads[l]
		}
	}
	// Something else says nothing of the load: the forecast stands.
	whole := 0.0
	for l := range grid {
		whole += math.Exp(p.load[l])
	}
	for l := range grid {
		grid[l] += p.other * math.Exp(p.load[l]) / whole
		observed[l] += p.other * math.Exp(readingsAlone[l])
	}
	return grid, observed
}

// bestLoad is the grid entry that fits best with the forecast, from up to to.
func (p *posterior) bestLoad(w *weighed, from, to int) int {
	best := from
	for l := from; l < to; l++ {
		if above(w.like[l]+p.load[l], w.like[best]+p.load[best]) {
			best = l
		}
	}
	return best
}
