package loads

import (
	"math"

	"fairlap/core/pad"
)

// Figures is what every meter of one reading would say, in the order of
// pad.AllMeters, SI, and last the doubt of the power's law.
type Figures [len(pad.AllMeters) + 1]float64

const PowerDoubt = len(pad.AllMeters)

// Curve is a reading's figures as parabolas in the flow.
type Curve struct {
	Media  float64            // the clean media's part of the resistance, in loads
	Flow   [NodeCount]float64 // falling with the load
	Left   [NodeCount]float64 // takes·flow: the head left for the media
	Text   [NodeCount]Figures // at each node
	leftBy [NodeCount]float64 // the parabolas, in the flow over the least one
	by     [len(Figures{})][NodeCount]float64
	Grid   [N]Figures // at the loads of the grid that were asked for
	Asked  [N]bool
	Stands bool    // the load changes nothing
	Points []Point // instead of all that, where the water boils
}

// Point is a curve's figures at one load.
type Point struct {
	Load float64
	Text Figures
}

const NodeCount = 3

// NodeLoads are the loads at which the network is solved.
var NodeLoads = [NodeCount]float64{Low, 1.2, 11}

// Lay draws the curve.
func (c *Curve) Lay() {
	c.Asked = [N]bool{}
	if c.Points != nil || c.Stands {
		return
	}
	c.leftBy = c.through(func(n int) float64 { return c.Left[n] })
	for k := range c.by {
		c.by[k] = c.through(func(n int) float64 { return c.Text[n][k] })
	}
}

// lines are the figures along straight lines between the points.
func (c *Curve) lines(load float64) Figures {
	i := 1
	for i < len(c.Points)-1 && load > c.Points[i].Load {
		i++
	}
	if len(c.Points) == 1 {
		return c.Points[0].Text
	}
	a, b := &c.Points[i-1], &c.Points[i]
	f := math.Max(0, math.Min(1, (load-a.Load)/(b.Load-a.Load)))
	out := a.Text
	for k := range out {
		out[k] += f * (b.Text[k] - out[k])
	}
	return out
}

// Takes is the media's resistance at a load, in loads: dirt on top of the clean
// media, of which a twentieth is always left.
func (c *Curve) Takes(load float64) float64 { return math.Max(0.05*c.Media, c.Media+load) }

// Solve finds the figures at a load.
func (c *Curve) Solve(load float64) Figures {
	if c.Points != nil {
		return c.lines(load)
	}
	if c.Stands {
		return c.Text[0]
	}
	q := c.crossing(load, (c.Flow[0]+c.Flow[NodeCount-1])/2)
	return c.figuresAt(q)
}

// crossing is the flow at which the media takes just what is left for it, by Newton's
// steps from a first guess: what is left falls as the flow grows, what it takes
// rises.
func (c *Curve) crossing(load, q float64) float64 {
	low, high := c.Flow[NodeCount-1], c.Flow[0]
	want := c.Takes(load)
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

func (c *Curve) figuresAt(q float64) (out Figures) {
	for k := range out {
		out[k], _ = horner(&c.by[k], q-c.Flow[NodeCount-1])
	}
	out[PowerDoubt] = math.Max(0, out[PowerDoubt])
	return out
}

// horner is a parabola and its slope.
func horner(by *[NodeCount]float64, x float64) (f, slope float64) {
	f = by[NodeCount-1]
	for i := NodeCount - 2; i >= 0; i-- {
		slope = slope*x + f
		f = f*x + by[i]
	}
	return f, slope
}

// through is the parabola through the nodes in the flow over the least one: Newton's
// divided differences, multiplied out.
func (c *Curve) through(value func(n int) float64) (by [NodeCount]float64) {
	var x, d [NodeCount]float64
	for n := range d {
		x[n], d[n] = c.Flow[n]-c.Flow[NodeCount-1], value(n)
	}
	for level := 1; level < NodeCount; level++ {
		for n := NodeCount - 1; n >= level; n-- {
			d[n] = (d[n] - d[n-1]) / (x[n] - x[n-level])
		}
	}
	by[0] = d[NodeCount-1]
	for n := NodeCount - 2; n >= 0; n-- {
		for i := NodeCount - 1; i > 0; i-- {
			by[i] = by[i-1] - x[n]*by[i]
		}
		by[0] = d[n] - x[n]*by[0]
	}
	return by
}
