package diagnosis

import (
	"fmt"

	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

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
	effects plumbing.Effects
	curves  []loads.Curve // by reading
	rough   bool          // a curve is two points and a line
}

// foretell solves the pad under effects, once.
func (s *survey) foretell(eff plumbing.Effects) (*table, error) {
	if t, ok := s.tables[eff]; ok {
		return t, nil
	}
	t := &table{effects: eff, curves: make([]loads.Curve, len(s.ops))}
	for r := range s.ops {
		c := &t.curves[r]
		c.Media = s.media
		for _, n := range [...]int{0, loads.NodeCount - 1, 1} {
			st, err := s.solved(r, eff, loads.NodeLoads[n])
			if err != nil {
				return nil, err
			}
			c.Text[n] = figuresOf(st)
			c.Flow[n] = c.Text[n][flowMeter]
			c.Left[n] = c.Takes(loads.NodeLoads[n]) * c.Flow[n]
			if st.Cavitating {
				c.Points = []loads.Point{{Load: loads.NodeLoads[0], Text: c.Text[0]}}
				if n > 0 {
					c.Points = append(c.Points, loads.Point{Load: loads.NodeLoads[n], Text: c.Text[n]})
				}
				t.rough = true
				break
			}
		}
		c.Stands = !(c.Flow[0]-c.Flow[loads.NodeCount-1] > 1e-4*c.Flow[0])
		for n := 1; n < loads.NodeCount && c.Points == nil && !c.Stands; n++ {
			if !(c.Flow[n-1]-c.Flow[n] > 1e-6*c.Flow[0]) { // it hardly flows any more
				t.rough = true
			}
		}
		if t.rough && c.Points == nil && !c.Stands {
			for n, load := range loads.NodeLoads {
				c.Points = append(c.Points, loads.Point{Load: load, Text: c.Text[n]})
			}
		}
		c.Lay()
	}
	s.tables[eff] = t
	return t, nil
}

// boilingLoads are the loads between which lines are drawn where the water boils.
var boilingLoads = [...]float64{loads.Low, 0.3, 0.8, 1.4, 2.2, 3.5, 6, 11}

// refine solves a table's rough curves at more loads.
func (s *survey) refine(t *table) error {
	for r := range t.curves {
		c := &t.curves[r]
		if c.Points == nil {
			continue
		}
		c.Points = c.Points[:0]
		for _, load := range boilingLoads {
			st, err := s.solved(r, t.effects, load)
			if err != nil {
				return err
			}
			c.Points = append(c.Points, loads.Point{Load: load, Text: figuresOf(st)})
		}
		c.Lay()
	}
	t.rough = false
	return nil
}

func (s *survey) solved(reading int, eff plumbing.Effects, load float64) (plumbing.State, error) {
	eff.Load = load
	st, err := s.solver.Solve(s.ops[reading], eff)
	if err != nil {
		return st, fmt.Errorf("solving at %v rpm under %+v: %w", s.ops[reading].Speed, eff, err)
	}
	return st, nil
}

func figuresOf(st plumbing.State) (f loads.Figures) {
	for k, m := range pad.AllMeters {
		f[k] = st.Value(m)
	}
	f[loads.PowerDoubt] = float64(st.PowerDoubt)
	return f
}

// at is what the meters of a reading would say at a load; on the grid it is kept.
func (t *table) at(reading int, load float64) loads.Figures {
	c := &t.curves[reading]
	i := loads.Entry(load)
	if i < 0 {
		return c.Solve(load)
	}
	if !c.Asked[i] {
		c.Asked[i], c.Grid[i] = true, c.Solve(load)
	}
	return c.Grid[i]
}
