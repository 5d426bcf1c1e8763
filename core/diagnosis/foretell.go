package diagnosis

import (
	"fmt"
	"math"

	"fairlap/core/pad"
)

// figures is what every meter of one reading would say, in the order of
// pad.AllMeters, SI, and last the doubt of the power's law.
type figures [len(pad.AllMeters) + 1]float64

const powerDoubt = len(pad.AllMeters)

// table holds what the meters would say under one set of effects, by load.
//
// Dirt changes one thing of a pad: what head the media takes at a flow. Everything
// else is a smooth function of the flow alone, whatever the load: the head that is
// left for the media, the tank's pressure, the vacuum, the watts. So the network is
// solved at three loads, a parabola in the flow laid through each figure, and any other
// load is the flow at which the media takes just what is left for it. Where the
// water boils at the eye there is no such curve: then straight lines between loads,
// two of them until the meters say that more are worth it.
type table struct {
	effects pad.Effects
	curves  []curve // by reading
	rough   bool    // a curve is two points and a line
}

// curve is a reading's figures as parabolas in the flow.
type curve struct {
	media  float64            // the clean media's part of the resistance, in loads
	flow   [nodeCount]float64 // falling with the load
	left   [nodeCount]float64 // takes·flow: the head left for the media
	text   [nodeCount]figures // at each node
	leftBy [nodeCount]float64 // the parabolas, in the flow over the least one
	by     [len(figures{})][nodeCount]float64
	grid   [loadN]figures // at the loads of the grid that were asked for
	asked  [loadN]bool
	stands bool    // the load changes nothing
	points []point // instead of all that, where the water boils
}

// point is a curve's figures at one load.
type point struct {
	load float64
	text figures
}

const nodeCount = 3

// nodeLoads are the loads at which the network is solved.
var nodeLoads = [nodeCount]float64{loadLow, 1.2, 11}

// foretell solves the pad under effects, once.
func (s *survey) foretell(eff pad.Effects) (*table, error) {
	if t, ok := s.tables[eff]; ok {
		return t, nil
	}
	t := &table{effects: eff, curves: make([]curve, len(s.ops))}
	for r := range s.ops {
		c := &t.curves[r]
		c.media = s.media
		for _, n := range [...]int{0, nodeCount - 1, 1} {
			st, err := s.solved(r, eff, nodeLoads[n])
			if err != nil {
				return nil, err
			}
			c.text[n] = figuresOf(st)
			c.flow[n] = c.text[n][flowMeter]
			c.left[n] = c.takes(nodeLoads[n]) * c.flow[n]
			if st.Cavitating {
				c.points = []point{{nodeLoads[0], c.text[0]}}
				if n > 0 {
					c.points = append(c.points, point{nodeLoads[n], c.text[n]})
				}
				t.rough = true
				break
			}
		}
		c.stands = !(c.flow[0]-c.flow[nodeCount-1] > 1e-4*c.flow[0])
		for n := 1; n < nodeCount && c.points == nil && !c.stands; n++ {
			if !(c.flow[n-1]-c.flow[n] > 1e-6*c.flow[0]) { // it hardly flows any more
				t.rough = true
			}
		}
		if t.rough && c.points == nil && !c.stands {
			for n, load := range nodeLoads {
				c.points = append(c.points, point{load, c.text[n]})
			}
		}
		c.lay()
	}
	s.tables[eff] = t
	return t, nil
}

// boilingLoads are the loads between which lines are drawn where the water boils.
var boilingLoads = [...]float64{loadLow, 0.3, 0.8, 1.4, 2.2, 3.5, 6, 11}

// refine solves a table's rough curves at more loads.
func (s *survey) refine(t *table) error {
	for r := range t.curves {
		c := &t.curves[r]
		if c.points == nil {
			continue
		}
		c.points = c.points[:0]
		for _, load := range boilingLoads {
			st, err := s.solved(r, t.effects, load)
			if err != nil {
				return err
			}
			c.points = append(c.points, point{load, figuresOf(st)})
		}
		c.lay()
	}
	t.rough = false
	return nil
}

func (s *survey) solved(reading int, eff pad.Effects, load float64) (pad.State, error) {
	eff.Load = load
	st, err := s.solver.Solve(s.ops[reading], eff)
	if err != nil {
		return st, fmt.Errorf("solving at %v rpm under %+v: %w", s.ops[reading].Speed, eff, err)
	}
	return st, nil
}

func figuresOf(st pad.State) (f figures) {
	for k, m := range pad.AllMeters {
		f[k] = st.Value(m)
	}
	f[powerDoubt] = float64(st.PowerDoubt)
	return f
}

// lay draws the curve.
func (c *curve) lay() {
	c.asked = [loadN]bool{}
	if c.points != nil || c.stands {
		return
	}
	c.leftBy = c.through(func(n int) float64 { return c.left[n] })
	for k := range c.by {
		c.by[k] = c.through(func(n int) float64 { return c.text[n][k] })
	}
}

// lines are the figures along straight lines between the points.
func (c *curve) lines(load float64) figures {
	i := 1
	for i < len(c.points)-1 && load > c.points[i].load {
		i++
	}
	if len(c.points) == 1 {
		return c.points[0].text
	}
	a, b := &c.points[i-1], &c.points[i]
	f := math.Max(0, math.Min(1, (load-a.load)/(b.load-a.load)))
	out := a.text
	for k := range out {
		out[k] += f * (b.text[k] - out[k])
	}
	return out
}

// takes is the media's resistance at a load, in loads: dirt on top of the clean
// media, of which a twentieth is always left.
func (c *curve) takes(load float64) float64 { return math.Max(0.05*c.media, c.media+load) }

// solve finds the figures at a load.
func (c *curve) solve(load float64) figures {
	if c.points != nil {
		return c.lines(load)
	}
	if c.stands {
		return c.text[0]
	}
	q := c.crossing(load, (c.flow[0]+c.flow[nodeCount-1])/2)
	return c.figuresAt(q)
}

// crossing is the flow at which the media takes just what is left for it, by Newton's
// steps from a first guess: what is left falls as the flow grows, what it takes
// rises.
func (c *curve) crossing(load, q float64) float64 {
	low, high := c.flow[nodeCount-1], c.flow[0]
	want := c.takes(load)
	for range 20 {
		f, slope := horner(&c.leftBy, q-low)
		step := (f - want*q) / (slope - want)
		next := math.Max(low, math.Min(high, q-step))
		if math.Abs(next-q) < 1e-7*high {
			return next
		}
		q = next
	}
	return q
}

func (c *curve) figuresAt(q float64) (out figures) {
	for k := range out {
		out[k], _ = horner(&c.by[k], q-c.flow[nodeCount-1])
	}
	out[powerDoubt] = math.Max(0, out[powerDoubt])
	return out
}

// horner is a parabola and its slope.
func horner(by *[nodeCount]float64, x float64) (f, slope float64) {
	f = by[nodeCount-1]
	for i := nodeCount - 2; i >= 0; i-- {
		slope = slope*x + f
		f = f*x + by[i]
	}
	return f, slope
}

// through is the parabola through the nodes in the flow over the least one: Newton's
// divided differences, multiplied out.
func (c *curve) through(value func(n int) float64) (by [nodeCount]float64) {
	var x, d [nodeCount]float64
	for n := range d {
		x[n], d[n] = c.flow[n]-c.flow[nodeCount-1], value(n)
	}
	for level := 1; level < nodeCount; level++ {
		for n := nodeCount - 1; n >= level; n-- {
			d[n] = (d[n] - d[n-1]) / (x[n] - x[n-level])
		}
	}
	by[0] = d[nodeCount-1]
	for n := nodeCount - 2; n >= 0; n-- {
		for i := nodeCount - 1; i > 0; i-- {
			by[i] = by[i-1] - x[n]*by[i]
		}
		by[0] = d[n] - x[n]*by[0]
	}
	return by
}

// at is what the meters of a reading would say at a load; on the grid it is kept.
func (t *table) at(reading int, load float64) figures {
	c := &t.curves[reading]
	i := gridEntry(load)
	if i < 0 {
		return c.solve(load)
	}
	if !c.asked[i] {
		c.asked[i], c.grid[i] = true, c.solve(load)
	}
	return c.grid[i]
}
