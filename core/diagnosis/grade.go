package diagnosis

import (
	"fmt"
	"math"

	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// Grade is pressure along the water's path at the first reading: on the clean
// line, and as the leading suspect has it today.
type Grade struct {
	Speed        units.Speed
	Clean, Today []plumbing.GradePoint
	// Worst is the station whose loss grew most (or whose lift fell most), with
	// its loss today and when clean. Nil when nothing moved by half a psi.
	Worst *Parting
}

// Parting is where the two lines part.
type Parting struct {
	Station      plumbing.StationID
	Today, Clean units.Pressure // loss across it; for the pump its lift
	Extra        units.Pressure // more lost, or less lifted
}

func (s *survey) grade(r *Result) (*Grade, error) {
	if len(s.readings) == 0 || len(r.Suspects) == 0 {
		return nil, nil
	}
	lead := r.Suspects[0].effects()
	first := 0
	for first < len(s.ops)-1 && s.ops[first].Speed == 0 {
		first++ // standing water has no grade
	}
	op := s.ops[first]
	if op.Speed == 0 {
		return nil, nil
	}
	g := &Grade{Speed: op.Speed}
	if _, err := s.solver.Solve(op, plumbing.Effects{}); err != nil {
		return nil, fmt.Errorf("grade line, clean: %w", err)
	}
	g.Clean = s.solver.Grade()
	if _, err := s.solver.Solve(op, lead); err != nil {
		return nil, fmt.Errorf("grade line, today: %w", err)
	}
	g.Today = s.solver.Grade()
	worst := Parting{Extra: units.PSI(0.5)}
	for i, c := range g.Clean {
		loss, was := g.Today[i].In-g.Today[i].Out, c.In-c.Out
		extra := loss - was
		if c.Station == plumbing.StationPump {
			loss, was = -loss, -was
			// Lift also falls along the curve; name the pump only when the lift is
			// lost to the pump itself.
			if lead.HeadLost == 0 && lead.CapacityLost == 0 && lead.Air == 0 {
				continue
			}
			extra = was - loss
		}
		if float64(extra) > math.Abs(float64(worst.Extra)) {
			worst = Parting{c.Station, loss, was, extra}
		}
	}
	if worst.Station != "" {
		g.Worst = &worst
	}
	return g, nil
}
