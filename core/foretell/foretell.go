// Package foretell says what the meters of a pad would read under whatever does something to its
// water, by the filter's load: solved once at a few loads, and laid as curves between them.
package foretell

import (
	"fmt"

	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

// Teller foretells the readings of one stop.
type Teller struct {
	Solver *plumbing.Solver
	Ops    []pad.Operation // how the pad was run, a reading each
	Media  float64         // the clean media's resistance, in loads
	tables map[plumbing.Effects]*Table
}

// Of is what was foretold under effects already; nil where nothing was.
func (s *Teller) Of(eff plumbing.Effects) *Table { return s.tables[eff] }

// Table holds what the meters would say under one set of effects, by load.
//
// Dirt changes one thing of a pad: what head the media takes at a flow. Everything
// else is a smooth function of the flow alone, whatever the load: the head that is
// left for the media, the tank's pressure, the vacuum, the watts. So the network is
// solved at three loads, a parabola in the flow laid through each figure, and any other
// load is the flow at which the media takes just what is left for it. Where the
// water boils at the eye there is no such curve: then straight lines between loads,
// two of them until the meters say that more are worth it.
type Table struct {
	Rough   bool // a curve is two points and a line
	effects plumbing.Effects
	curves  []loads.Curve // by reading
}

// Under solves the pad under effects, once.
func (s *Teller) Under(eff plumbing.Effects) (*Table, error) {
	if t, ok := s.tables[eff]; ok {
		return t, nil
	}
	t := &Table{effects: eff, curves: make([]loads.Curve, len(s.Ops))}
	for r := range s.Ops {
		c := &t.curves[r]
		c.Media = s.Media
		for _, n := range [...]int{0, loads.NodeCount - 1, 1} {
			st, err := s.solved(r, eff, loads.NodeLoads[n])
			if err != nil {
				return nil, err
			}
			c.Text[n] = Figures(st)
			c.Flow[n] = c.Text[n][flow]
			c.Left[n] = c.Takes(loads.NodeLoads[n]) * c.Flow[n]
			if st.Cavitating {
				c.Points = []loads.Point{{Load: loads.NodeLoads[0], Text: c.Text[0]}}
				if n > 0 {
					c.Points = append(c.Points, loads.Point{Load: loads.NodeLoads[n], Text: c.Text[n]})
				}
				t.Rough = true
				break
			}
		}
		c.Stands = !(c.Flow[0]-c.Flow[loads.NodeCount-1] > 1e-4*c.Flow[0])
		for n := 1; n < loads.NodeCount && c.Points == nil && !c.Stands; n++ {
			if !(c.Flow[n-1]-c.Flow[n] > 1e-6*c.Flow[0]) { // it hardly flows any more
				t.Rough = true
			}
		}
		if t.Rough && c.Points == nil && !c.Stands {
			for n, load := range loads.NodeLoads {
				c.Points = append(c.Points, loads.Point{Load: load, Text: c.Text[n]})
			}
		}
		c.Lay()
	}
	if s.tables == nil {
		s.tables = map[plumbing.Effects]*Table{}
	}
	s.tables[eff] = t
	return t, nil
}

// flow is the flow's place in pad.AllMeters.
const flow = 2

// boilingLoads are the loads between which lines are drawn where the water boils.
var boilingLoads = [...]float64{loads.Low, 0.3, 0.8, 1.4, 2.2, 3.5, 6, 11}

// Refine solves a table's rough curves at more loads.
func (s *Teller) Refine(t *Table) error {
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
			c.Points = append(c.Points, loads.Point{Load: load, Text: Figures(st)})
		}
		c.Lay()
	}
	t.Rough = false
	return nil
}

func (s *Teller) solved(reading int, eff plumbing.Effects, load float64) (plumbing.State, error) {
	eff.Load = load
	st, err := s.Solver.Solve(s.Ops[reading], eff)
	if err != nil {
		return st, fmt.Errorf("solving at %v rpm under %+v: %w", s.Ops[reading].Speed, eff, err)
	}
	return st, nil
}

// Figures are what the meters say of a state.
func Figures(st plumbing.State) (f loads.Figures) {
	for k, m := range pad.AllMeters {
		f[k] = st.Value(m)
	}
	f[loads.PowerDoubt] = float64(st.PowerDoubt)
	return f
}

// At is what the meters of a reading would say at a load; on the grid it is kept.
func (t *Table) At(reading int, load float64) loads.Figures {
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
