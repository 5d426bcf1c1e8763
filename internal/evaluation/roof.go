package evaluation

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"sort"

	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Roof is what could be known of a stop: a grid over every trouble, its place and strength and
// the filter's load, on the pad as it really is, with the meters' real noise and the signs' real
// rates. Only what happened is hidden from it. Nobody who has a description and a clean line can
// do better than the roof by more than luck.
type Roof struct {
	maker *Maker
	said  map[saidKey]figures
	known map[*built][]candidate
}

// NewRoof is over the stops of a maker.
func NewRoof(m *Maker) *Roof {
	return &Roof{m, map[saidKey]figures{}, map[*built][]candidate{}}
}

// candidate is a trouble as strong as it may be, at a place.
type candidate struct {
	id       fault.ID
	severity int
	weight   float64
	does     func(c *change)
	follows  []float64 // ways that the motor may be spared
	gauge    fault.GaugeWay
	number   int
}

type saidKey struct {
	pad       *built
	candidate int
	follows   int
	load      float64
	run       running
}

// figures are the tank, vacuum, flow and power of a reading without noise.
type figures [4]float64

func (r *Roof) candidates(b *built) ([]candidate, error) {
	if known, ok := r.known[b]; ok {
		return known, nil
	}
	var out []candidate
	var err error
	if b.second != nil {
		out, err = r.graded(b)
	} else {
		out = stepped(b)
	}
	if err != nil {
		return nil, err
	}
	for i := range out {
		out[i].number = i
	}
	r.known[b] = out
	return out, nil
}

// graded are the second world's.
func (r *Roof) graded(b *built) ([]candidate, error) {
	var out []candidate
	can := gradedAt(b)
	for _, g := range can {
		places := g.places(b)
		if g.id == fault.Healthy || g.id == fault.FilterLoaded { // the grid of loads is what it does
			for severity, weight := range [severities]float64{0.25, 0.5, 0.25} {
				out = append(out, candidate{
					id: g.id, severity: severity, weight: weight, does: func(*change) {}, follows: []float64{0},
				})
			}
			continue
		}
		for place := range places {
			for level := range levels {
				t, err := r.maker.strengthAt(b, g, place, level)
				if err != nil {
					return nil, err
				}
				out = append(out, candidate{
					id:       g.id,
					severity: severityOf(level),
					weight:   1 / float64(places) / float64(levels),
					does:     func(c *change) { g.does(b, c, place, t) },
					follows:  []float64{0},
				})
			}
		}
	}
	return lying(out), nil
}

// stepped are the first world's; what a trouble leaves to chance (which line, which setting) is
// drawn often enough to see every way.
func stepped(b *built) []candidate {
	const draws = 24
	var out []candidate
	for i := range troubles {
		t := &troubles[i]
		if !t.on(b) {
			continue
		}
		for severity := range severities {
			ways := map[string]*candidate{}
			var order []string
			for seed := range uint64(draws) {
				does := func(c *change) {
					if t.does != nil {
						t.does(b, c, severity, rand.New(rand.NewPCG(seed, 5)))
					}
				}
				c := change{load: 0.5}
				does(&c)
				name := fmt.Sprintf("%+v", c)
				if ways[name] == nil {
					ways[name] = &candidate{id: t.id, severity: severity, does: does, follows: []float64{0}}
					if c.pumpHead > 0 || c.pumpFlow > 0 {
						ways[name].follows = []float64{1. / 6, 0.5, 5. / 6}
					}
					order = append(order, name)
				}
				ways[name].weight += 1. / draws / float64(severities)
			}
			for _, name := range order {
				out = append(out, *ways[name])
			}
		}
	}
	return lying(out)
}

// lying gives a bad gauge its ways.
func lying(in []candidate) []candidate {
	var out []candidate
	for _, c := range in {
		if c.id != fault.GaugeBad {
			out = append(out, c)
			continue
		}
		for _, way := range gauges { // one of them twice: as often as it is made
			c := c
			c.gauge, c.weight = way, c.weight/float64(len(gauges))
			out = append(out, c)
		}
	}
	return out
}

func (r *Roof) figures(s *Stop, c *candidate, follows int, load float64, run running) (figures, error) {
	key := saidKey{s.Pad.built, c.number, follows, load, run}
	if f, ok := r.said[key]; ok {
		return f, nil
	}
	ch := change{load: load}
	c.does(&ch)
	read, _, err := r.maker.water(s.Pad.built, float64(run.speed), run.setting, &ch, c.follows[follows])
	if err != nil {
		return figures{}, err
	}
	f := figures{float64(*read.Tank), float64(*read.Vacuum), float64(*read.Flow), float64(*read.Power)}
	r.said[key] = f
	return f, nil
}

// weighedLoad is a load with its chance before anything was read.
type weighedLoad struct{ load, weight float64 }

// loads are those of the grid; a loaded filter's are its own.
func loadsOf(s *Stop, id fault.ID) []weighedLoad {
	var out []weighedLoad
	sum := 0.0
	add := func(load, weight float64) {
		out, sum = append(out, weighedLoad{load, weight}), sum+weight
	}
	if id == fault.FilterLoaded {
		for load := 1.025; load < 4.5; load *= 1.05 {
			sd := 0.15 * load
			drawn := 0.3 / 3 * 0.05 * load
			if load < 1.5 {
				drawn = 0.7 / 0.5 * 0.05 * load
			}
			if s.Pad.built.second != nil { // 1 + 3t², t evenly
				drawn = 0.05 * load / math.Sqrt(12*(load-1)) / 1
			}
			z := (s.Load.Mean - load) / sd
			add(load, drawn*(0.9*math.Exp(-z*z/2)/sd+0.1))
		}
	} else {
		for load := -0.05; load < 0.98; load += 0.06 {
			z := (load - s.Load.Mean) / 0.15
			add(load, math.Exp(-z*z/2)+1e-6)
		}
	}
	for i := range out {
		out[i].weight /= sum
	}
	return out
}

// slacks are where a sound gauge's own offset may lie, with their weights (Gauss–Hermite of five).
var slacks = [...][2]float64{
	{-2.8570, 0.01126}, {-1.3556, 0.22208}, {0, 0.53333}, {1.3556, 0.22208}, {2.8570, 0.01126},
}

// Judge is a Judge.
func (r *Roof) Judge(s *Stop, seen Seen) ([]learning.Said, error) {
	cands, err := r.candidates(s.Pad.built)
	if err != nil {
		return nil, err
	}
	runs := []running{plain(s.first)}
	if _, ok := s.read[s.other()]; ok && seen.Speeds > 1 {
		runs = append(runs, s.other())
	}
	chance := map[fault.ID]float64{}
	for i := range cands {
		c := &cands[i]
		prior := s.priors[c.id]
		if s.priors == nil {
			f, _ := fault.LookUp(c.id, s.Pad.Model.Doc.Filter.Kind)
			prior = f.Prior
		}
		if c.id == fault.Healthy && prior == 0 {
			prior = 0.83
		}
		sum := 0.0
		for _, l := range loadsOf(s, c.id) {
			for follows := range c.follows {
				p, err := r.meters(s, c, follows, l.load, runs, seen.Meters)
				if err != nil {
					return nil, err
				}
				sum += l.weight * p / float64(len(c.follows))
			}
		}
		signs, err := r.signs(s, c, seen.Looks)
		if err != nil {
			return nil, err
		}
		chance[c.id] += prior * c.weight * sum * signs
	}
	total := 0.0
	for _, p := range chance {
		total += p
	}
	var out []learning.Said
	for id, p := range chance {
		out = append(out, learning.Said{Fault: id, P: p / math.Max(total, 1e-300)})
	}
	sort.Slice(out, func(a, b int) bool {
		return out[a].P > out[b].P || out[a].P == out[b].P && out[a].Fault < out[b].Fault
	})
	return out, nil
}

// meters is the likelihood of the readings.
func (r *Roof) meters(
	s *Stop,
	c *candidate,
	follows int,
	load float64,
	runs []running,
	meters Meters,
) (float64, error) {
	noise := &s.Pad.built.doc.Meters
	p := 1.0
	var tanks, truths []float64 // psi
	for _, run := range runs {
		f, err := r.figures(s, c, follows, load, run)
		if err != nil {
			return 0, err
		}
		got := visible(s.read[run], meters)
		for k, meter := range pad.AllMeters {
			x, ok := got.Value(meter)
			if !ok {
				continue
			}
			if meter == pad.MeterTank {
				tanks = append(tanks, units.Pressure(x).PSI())
				truths = append(truths, units.Pressure(f[k]).PSI())
				continue
			}
			sd := math.Max(noise.Noise(meter, f[k]), 1e-12)
			z := (x - f[k]) / sd
			if meter == pad.MeterVacuum && x == 0 && z > -3 { // read no lower than nought
				p *= 0.5
				continue
			}
			p *= r.maker.misses.density(z) / sd * scaleOf(meter)
		}
	}
	return p * r.tank(noise, c, tanks, truths), nil
}

// scaleOf makes densities of all meters alike in size: it cancels.
func scaleOf(meter pad.Meter) float64 {
	switch meter {
	case pad.MeterVacuum:
		return float64(units.InHg(1))
	case pad.MeterFlow:
		return float64(units.GPM(5))
	}
	return 50
}

// tank is the likelihood of the gauge's figures, psi, over its own offset and over what a bad
// one makes of the truth.
func (r *Roof) tank(noise *pad.Meters, c *candidate, tanks, truths []float64) float64 {
	density := func(x, at float64) float64 {
		sd := math.Hypot(noise.Noise(pad.MeterTank, at*float64(units.PSI(1)))/float64(units.PSI(1)), 0.15)
		return r.maker.misses.density((x-at)/sd) / sd
	}
	over := func(at func(truth float64) float64) float64 {
		sum := 0.0
		for _, w := range slacks {
			p := w[1]
			for i, x := range tanks {
				p *= density(x, math.Max(-10, at(truths[i])+0.4*w[0]))
			}
			sum += p
		}
		return sum
	}
	switch c.gauge {
	case fault.Offset:
		off := [severities]float64{3, 5, 9}[c.severity]
		return over(func(x float64) float64 { return x + off })/2 + over(func(x float64) float64 { return x - off })/2
	case fault.Scale:
		by := [severities]float64{0.18, 0.3, 0.5}[c.severity]
		return over(func(x float64) float64 { return x * (1 + by) })/2 +
			over(func(x float64) float64 { return x * (1 - by) })/2
	case fault.Stuck:
		p, n := 0.0, 60
		for k := range n {
			at, one := 30*(float64(k)+0.5)/float64(n), 1.0
			for _, x := range tanks {
				one *= density(x, at)
			}
			p += one / float64(n)
		}
		return p
	case fault.Plugged:
		p := 1.0
		for i, x := range tanks {
			one, n := 0.0, 30
			for k := range n {
				one += density(x, truths[i]*(0.2+0.7*(float64(k)+0.5)/float64(n))) / float64(n)
			}
			p *= one
		}
		return p
	}
	return over(func(x float64) float64 { return x })
}

// signs is the likelihood of the looks.
func (r *Roof) signs(s *Stop, c *candidate, looks map[fault.Sign]bool) (float64, error) {
	if len(looks) == 0 {
		return 1, nil
	}
	mid := 0.5
	if c.id == fault.FilterLoaded {
		mid = 1.4
	}
	now, err := r.figures(s, c, 0, mid, plain(s.first))
	if err != nil {
		return 0, err
	}
	healthy := candidate{does: func(*change) {}, follows: []float64{0}, number: -1}
	sound, err := r.figures(s, &healthy, 0, mid, plain(s.first))
	if err != nil {
		return 0, err
	}
	as := *s
	as.Truth, as.Severity, as.gauge = c.id, c.severity, c.gauge
	as.flowShare = now[2] / math.Max(sound[2], 1e-9)
	draws := math.Max(0.02, airRates[c.id][c.severity])
	order := make([]fault.Sign, 0, len(looks))
	for id := range looks {
		order = append(order, id)
	}
	slices.Sort(order)
	sum := 0.0
	for _, air := range [...]bool{true, false} {
		p := draws
		if !air {
			p = 1 - draws
		}
		for _, id := range order {
			sg, ok := fault.LookUpSign(id)
			if !ok {
				continue
			}
			yes, _ := r.maker.rate(&as, sg, air)
			yes = yes*(1-r.maker.mistapped) + (1-yes)*r.maker.mistapped
			if !looks[id] {
				yes = 1 - yes
			}
			p *= yes
		}
		sum += p
	}
	return sum, nil
}
