package diagnosis

import (
	"fmt"
	"math"
	"sort"

	"gonum.org/v1/gonum/floats"

	"fairlap/core/fault"
	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Numbers of the likelihood (ours; docs/method.md says why).
const (
	modelShare    = 0.02 // of a predicted value: the network is not the pad
	airShare      = 0.12 // extra spread of a bouncing needle, of its value
	priorOther    = 0.004
	stuckShare    = 0.4  // of bad gauges that show one figure whatever happens
	stormTail     = 0.15 // chance that the load jumped off its forecast, after a storm
	calmTail      = 0.02
	settledSD     = 0.2 // deviation of a forecast some weeks old
	noticedAtAll  = 0.5 // how surely "something else" shows any one sign
	usualBias     = 0.4 // psi, one deviation of a sound gauge's offset
	flowLooksWeak = 0.4 // share of clean top-speed flow under which returns look weak
)

// variant is one fault at one place and severity.
type variant struct {
	fault   int // index in fault.Catalogue
	place   string
	step    int
	logW    float64 // prior and signs, before meters
	table   *table
	shift   float64 // added load, for faults that are load
	effects pad.Effects
	like    []float64 // log likelihood of the meters by load
	logPost float64   // before it is normalised
	post    float64
}

// table holds what the meters would say under one set of effects, by load.
type table struct {
	effects pad.Effects
	nodes   []float64
	// [reading][node][meter]
	values [][][len(pad.AllMeters)]float64
}

// Loads at which the network is solved; between them meters are interpolated.
var (
	wideNodes = []float64{-0.9, -0.5, -0.2, 0.1, 0.4, 0.7, 1, 1.3, 1.7, 2.2, 2.8, 3.6, 4.6}
	faultNode = []float64{-0.2, 0.3, 0.8, 1.3, 1.9, 2.8}
)

type engine struct {
	c         Case
	kind      pad.FilterKind
	ops       []pad.Operation // of each reading, or the programme's one when none
	solver    *pad.Solver
	tables    map[pad.Effects]*table
	variants  []variant
	prior     [loadN]float64 // log prior of the load grid
	expected  []Expected
	spread    [][len(pad.AllMeters)]float64
	condition hydraulics.Condition // of the clean pad as described
	topFlow   float64
	leastFlow float64 // of the neediest device; 0 without one
	other     float64
	otherLog  float64
	best      []int // by catalogue index: variant of the largest posterior, −1 none
	faultPost []float64
	both      []pair  // weighed beside the single faults when they do not explain it
	loaded    float64 // of Healthy's posterior: load at or over the limit
}

func newEngine(c Case) (*engine, error) {
	e, err := prepared(c)
	if err != nil {
		return nil, err
	}
	return e, e.setVariants()
}

// prepared is an engine that knows the pad and the readings, but no suspect yet.
func prepared(c Case) (*engine, error) {
	e := &engine{c: c, kind: c.Model.Doc.Filter.Kind, solver: c.Model.Solver(), tables: map[pad.Effects]*table{}}
	c.Readings = e.held()
	e.c.Readings = c.Readings
	for _, r := range c.Readings {
		op, err := e.operation(r)
		if err != nil {
			return nil, err
		}
		e.ops = append(e.ops, op)
	}
	if len(e.ops) == 0 {
		e.ops = []pad.Operation{{Speed: usualSpeed(c.Model)}}
	}
	top, err := e.solver.Solve(pad.Operation{Speed: c.Model.TopSpeed()}, pad.Effects{})
	if err != nil {
		return nil, fmt.Errorf("solving the clean pad: %w", err)
	}
	// A pad without a path still needs a scale for its flows.
	e.topFlow = math.Max(float64(top.Flow), float64(units.GPM(1)))
	e.condition = top.Condition
	for _, d := range []*pad.Device{c.Model.Doc.Heater, c.Model.Doc.Cell} {
		if d != nil {
			e.leastFlow = math.Max(e.leastFlow, float64(units.GPM(d.LeastGPM)))
		}
	}
	for _, op := range e.ops {
		clean, err := e.solver.Solve(op, pad.Effects{})
		if err != nil {
			return nil, fmt.Errorf("solving the clean line at %v rpm: %w", op.Speed, err)
		}
		limit, err := e.solver.Solve(op, pad.Effects{Load: 1})
		if err != nil {
			return nil, fmt.Errorf("solving the limit at %v rpm: %w", op.Speed, err)
		}
		spread, err := c.Model.Spread(op, math.Max(0, c.Load.Mean))
		if err != nil {
			return nil, fmt.Errorf("spread at %v rpm: %w", op.Speed, err)
		}
		e.spread = append(e.spread, spread)
		if len(c.Readings) > 0 {
			e.expected = append(e.expected, Expected{clean, spread, limit.Tank})
		}
	}
	e.setLoadPrior()
	return e, nil
}

// operation is how the pad was run for a reading.
func (e *engine) operation(r Reading) (pad.Operation, error) {
	if r.Setting != SpaMode {
		return pad.Operation{Speed: r.Speed, Setting: r.Setting}, nil
	}
	handles, ok := e.c.Model.Doc.SpaMode()
	if !ok {
		return pad.Operation{}, &pad.FieldError{Path: "setting", Says: "this pad has no valves that part pool and spa"}
	}
	return pad.Operation{Speed: r.Speed, Setting: pad.SetFilter, Handles: handles}, nil
}

// held gives a flow-holding pump's readings the flow that it holds, where nobody
// read one: below its top speed the pump has found it.
func (e *engine) held() []Reading {
	p := &e.c.Model.Doc.Pump
	out := append([]Reading(nil), e.c.Readings...)
	for i := range out {
		if r := &out[i]; p.Kind == pad.FlowHolding && r.Flow == nil && r.Speed > 0 && float64(r.Speed) < 0.99*p.TopRPM && r.Setting != pad.SetBackwash {
			q := units.GPM(p.HoldGPM)
			r.Flow = &q
		}
	}
	return out
}

// usualSpeed is the programme's longest slot, for signs without a reading.
func usualSpeed(m *pad.Model) units.Speed {
	best, hours := m.TopSpeed(), 0.0
	for _, s := range m.Doc.Programme {
		if s.Hours > hours && s.RPM > 0 {
			best, hours = units.Speed(s.RPM), s.Hours
		}
	}
	return best
}

// setLoadPrior lays the forecast on the grid, with a flat tail for what no
// forecast sees: a storm, a party, a cleaning that was not done.
func (e *engine) setLoadPrior() {
	// A forecast fresh from a cleaning has had less time to go wrong.
	tail := calmTail * math.Max(0.25, math.Min(1, e.c.Load.SD/settledSD))
	if e.c.Signs[fault.Storm] {
		tail = stormTail
	}
	sd := math.Max(e.c.Load.SD, 0.03)
	sum := 0.0
	var p [loadN]float64
	for i := range p {
		z := (LoadAt(i) - e.c.Load.Mean) / sd
		p[i] = math.Exp(-0.5 * z * z)
		sum += p[i]
	}
	for i := range p {
		g := 1.0 / loadN
		if sum > 1e-12 {
			g = p[i] / sum
		}
		e.prior[i] = math.Log((1-tail)*g + tail/loadN)
	}
}

func (e *engine) setVariants() error {
	healthy := 1 - priorOther
	for i, f := range fault.Catalogue {
		if f.Chronic {
			continue
		}
		p := e.priorOf(&f)
		if f.ID != fault.Healthy {
			if len(f.Places(&e.c.Model.Doc)) == 0 {
				continue // this pad can't have it
			}
			healthy -= p
			if err := e.addFault(i, f, math.Log(p)); err != nil {
				return err
			}
		}
	}
	return e.addFault(0, fault.Catalogue[0], math.Log(math.Max(healthy, 0.05)))
}

// openFactor is how much likelier a suspect is that the last visit left open,
// and mostWorn what a part past its life adds at most (ours).
const (
	openFactor = 6
	mostWorn   = 3
	// mostByContext caps what context alone may make of a fault.
	mostByContext = 0.3
)

// priorOf is a fault's route frequency in this pool's context.
func (e *engine) priorOf(f *fault.Fault) float64 {
	p := f.Prior
	if own, ok := e.c.Priors[f.ID]; ok {
		p = own
	}
	p *= f.Seasonal(e.c.Season)
	most := math.Max(p, mostByContext)
	for _, id := range e.c.Open {
		if id == f.ID {
			p *= openFactor
		}
	}
	if share := e.c.Worn[f.ID]; share > 0.8 {
		p *= math.Min(mostWorn, 1+2.5*(share-0.8))
	}
	return math.Min(p, most)
}

func (e *engine) addFault(i int, f fault.Fault, logP float64) error {
	if math.IsInf(logP, -1) {
		return nil
	}
	places := f.Places(&e.c.Model.Doc)
	total := floats.Sum(f.Weights)
	signs := e.signsLog(func(s *fault.SignFact) float64 { return likelihood(f, s) }, f.Air)
	for _, pl := range places {
		for step, w := range f.Weights {
			eff := pl.Effects(step)
			v := variant{fault: i, place: pl.Name, step: step, effects: eff,
				logW: logP + math.Log(w/total/float64(len(places))) + signs}
			if onlyLoad := (pad.Effects{Load: eff.Load}); eff == onlyLoad {
				v.shift, eff.Load = eff.Load, 0
			}
			t, err := e.tableFor(eff)
			if err != nil {
				return err
			}
			v.table = t
			e.variants = append(e.variants, v)
		}
	}
	return nil
}

// likelihood is P(yes | fault) of a sign that does not follow from the state.
func likelihood(f fault.Fault, s *fault.SignFact) float64 {
	if p, ok := f.Signs[s.ID]; ok {
		return p
	}
	return s.Base
}

// signsLog is the log likelihood of all answered signs that do not follow from
// the predicted flow; signs of air share one hidden cause.
func (e *engine) signsLog(p func(*fault.SignFact) float64, air float64) float64 {
	sum := 0.0
	with, without := math.Log(air), math.Log(1-air)
	for id, yes := range e.c.Signs {
		s, ok := fault.LookUpSign(id)
		if !ok || s.FromState {
			continue
		}
		if s.Air {
			with += answer(s.GivenAir, yes)
			without += answer(s.Base, yes)
			continue
		}
		sum += answer(p(s), yes)
	}
	return sum + floats.LogSumExp([]float64{with, without})
}

func answer(p float64, yes bool) float64 {
	if yes {
		return math.Log(p)
	}
	return math.Log(1 - p)
}

// stateSigns is the log likelihood of the answered signs that follow from flow.
func (e *engine) stateSigns(flow float64) float64 {
	sum := 0.0
	for _, id := range [...]fault.Sign{fault.WeakAll, fault.DeviceNoFlow} {
		if yes, ok := e.c.Signs[id]; ok {
			sum += answer(e.stateSign(id, flow), yes)
		}
	}
	return sum
}

func (e *engine) stateSign(id fault.Sign, flow float64) float64 {
	if id == fault.WeakAll {
		return 0.03 + 0.94/(1+math.Exp((flow/e.topFlow-flowLooksWeak)/0.06))
	}
	if e.leastFlow == 0 {
		return 0.01
	}
	return 0.03 + 0.85/(1+math.Exp((flow/e.leastFlow-1)/0.06))
}

func (e *engine) tableFor(eff pad.Effects) (*table, error) {
	if t, ok := e.tables[eff]; ok {
		return t, nil
	}
	t := &table{effects: eff, nodes: faultNode, values: make([][][len(pad.AllMeters)]float64, len(e.ops))}
	if eff == (pad.Effects{}) {
		t.nodes = wideNodes
	}
	for r, op := range e.ops {
		t.values[r] = make([][len(pad.AllMeters)]float64, len(t.nodes))
		for n, load := range t.nodes {
			under := eff
			under.Load = load
			st, err := e.solver.Solve(op, under)
			if err != nil {
				return nil, fmt.Errorf("solving at %v rpm under %+v: %w", op.Speed, under, err)
			}
			for k, m := range pad.AllMeters {
				t.values[r][n][k] = st.Value(m)
			}
		}
	}
	e.tables[eff] = t
	return t, nil
}

// at interpolates what the meters of a reading would say at a load.
func (t *table) at(reading int, load float64) [len(pad.AllMeters)]float64 {
	n := len(t.nodes)
	i := sort.SearchFloat64s(t.nodes, load)
	i = min(max(i, 1), n-1)
	f := (load - t.nodes[i-1]) / (t.nodes[i] - t.nodes[i-1])
	f = math.Max(0, math.Min(1, f))
	a, b := &t.values[reading][i-1], &t.values[reading][i]
	var out [len(pad.AllMeters)]float64
	for k := range out {
		out[k] = a[k] + f*(b[k]-a[k])
	}
	return out
}

// weigh computes every variant's posterior.
func (e *engine) weigh() {
	e.weighMeters()
	logs := make([]float64, 0, len(e.variants)+1)
	joint := make([]float64, loadN)
	for i := range e.variants {
		v := &e.variants[i]
		for l := range joint {
			joint[l] = v.like[l] + e.prior[l]
		}
		v.logPost = v.logW + floats.LogSumExp(joint)
		logs = append(logs, v.logPost)
	}
	e.otherLog = e.somethingElse()
	logs = append(logs, e.otherLog)
	n := floats.LogSumExp(logs)
	e.other = math.Exp(logs[len(logs)-1] - n)
	e.faultPost = make([]float64, len(fault.Catalogue))
	e.best = make([]int, len(fault.Catalogue))
	for i := range e.best {
		e.best[i] = -1
	}
	for i := range e.variants {
		v := &e.variants[i]
		v.post = math.Exp(v.logPost - n)
		e.faultPost[v.fault] += v.post
		if b := e.best[v.fault]; b < 0 || v.post > e.variants[b].post {
			e.best[v.fault] = i
		}
	}
	h := &e.variants[e.best[0]]
	under, over := math.Inf(-1), math.Inf(-1)
	for l := range loadN {
		x := h.like[l] + e.prior[l]
		if l >= loadLimit {
			over = logAdd(over, x)
		} else {
			under = logAdd(under, x)
		}
	}
	e.loaded = 1 / (1 + math.Exp(under-over))
}

func logAdd(a, b float64) float64 {
	if math.IsInf(a, -1) {
		return b
	}
	return floats.LogSumExp([]float64{a, b})
}

// somethingElse is the log joint of a cause outside the catalogue: meters
// anywhere around the clean line, signs by chance.
func (e *engine) somethingElse() float64 {
	sum := math.Log(priorOther)
	for r, rd := range e.c.Readings {
		clean := e.expected[r].Clean
		for k, m := range pad.AllMeters {
			x, ok := rd.Value(m)
			if !ok {
				continue
			}
			wide := [...]float64{float64(units.PSI(6)), float64(units.InHg(4)), 0.3 * e.topFlow, 0.3 * clean.Value(pad.MeterPower)}[k]
			sum += noiseLog(x-clean.Value(m), math.Max(wide, e.sigma(r, k, clean.Value(m), false)))
		}
	}
	for id, yes := range e.c.Signs {
		if s, ok := fault.LookUpSign(id); ok && !s.Context {
			p := noticedAtAll * (s.Base + 0.15)
			sum += answer(p, yes)
		}
	}
	return sum
}

// rank fills the suspects.
func (e *engine) rank(r *Result) {
	r.Other = e.other
	for i, f := range fault.Catalogue {
		b := e.best[i]
		if b < 0 {
			continue
		}
		v := &e.variants[b]
		add := func(f fault.Fault, p float64, from, to int) {
			l := argMax(v.like, e.prior[:], from, to)
			eff := v.effects
			eff.Load += LoadAt(l)
			r.Suspects = append(r.Suspects, Suspect{Fault: f, Place: e.surePlace(i, v.place), P: p, Load: eff.Load, effects: eff,
				Severity: float64(v.step+1) / float64(len(f.Weights)+1)})
		}
		if f.ID == fault.Healthy {
			add(f, e.faultPost[i]*(1-e.loaded), 0, loadLimit)
			add(fault.Loaded(e.kind), e.faultPost[i]*e.loaded, loadLimit, loadN)
			continue
		}
		add(f, e.faultPost[i], 0, loadN)
	}
	sort.SliceStable(r.Suspects, func(a, b int) bool { return r.Suspects[a].P > r.Suspects[b].P })
}

// surePlace names the place only where the evidence tells places apart.
func (e *engine) surePlace(i int, place string) string {
	here := 0.0
	for _, v := range e.variants {
		if v.fault == i && v.place == place {
			here += v.post
		}
	}
	if here < 0.6*e.faultPost[i] {
		return ""
	}
	return place
}

func argMax(like, prior []float64, from, to int) int {
	best := from
	for l := from; l < to; l++ {
		if like[l]+prior[l] > like[best]+prior[best] {
			best = l
		}
	}
	return best
}

// loads fills the posterior of the load and what the readings alone say of it.
func (e *engine) loads(r *Result) {
	r.LoadGrid = make([]float64, loadN)
	observed := make([]float64, loadN)
	for i := range e.variants {
		v := &e.variants[i]
		if v.post < 1e-9 {
			continue
		}
		joint, alone := make([]float64, loadN), make([]float64, loadN)
		for l := range joint {
			joint[l] = v.like[l] + e.prior[l]
		}
		spread(joint, v.like, joint, alone)
		for l := range joint {
			r.LoadGrid[l] += v.post * joint[l]
			observed[l] += v.post * alone[l]
		}
	}
	for _, p := range e.both {
		for l := range r.LoadGrid {
			r.LoadGrid[l] += p.post * p.loads[l]
			observed[l] += p.post * p.loads[l]
		}
	}
	// Something else says nothing of the load: the forecast stands.
	for l := range r.LoadGrid {
		r.LoadGrid[l] += e.other * math.Exp(e.prior[l])
		observed[l] += e.other / loadN
	}
	r.Load = belief(r.LoadGrid)
	r.Observed = belief(observed)
	for _, rd := range e.c.Readings {
		if rd.Speed > 0 && (rd.Tank != nil || rd.Flow != nil || rd.Power != nil) {
			r.Known = true
		}
	}
}

// spread turns log joints into distributions that add to one.
func spread(logJoint, logAlone, joint, alone []float64) {
	a, b := floats.LogSumExp(logJoint), floats.LogSumExp(logAlone)
	for l := range joint {
		alone[l] = math.Exp(logAlone[l] - b)
		joint[l] = math.Exp(logJoint[l] - a)
	}
}

func belief(p []float64) Belief {
	var n, m, s float64
	for i, w := range p {
		n += w
		m += w * LoadAt(i)
	}
	m /= n
	for i, w := range p {
		d := LoadAt(i) - m
		s += w / n * d * d
	}
	return Belief{Mean: m, SD: math.Sqrt(s)}
}
