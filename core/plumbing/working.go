package plumbing

import (
	"fmt"
	"math"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// MediaRate are residential media rates, gpm/ft² (NSF/ANSI 50; from memory).
var MediaRate = map[pad.FilterKind]float64{pad.Sand: 20, pad.Cartridge: 1, pad.DE: 2}

// The fastest that water should run in pipes, ft/s.
const (
	SuctionFps = 6.0
	ReturnFps  = 8.0
)

// Fastest is the fastest water in a side's pipes, ft/s.
func Fastest(side pad.Side) func(*Solver, units.Speed, State) float64 {
	return func(s *Solver, _ units.Speed, _ State) float64 {
		top := 0.0
		for i, n := range s.View.names {
			if n.Bore > 0 && n.Side == side {
				top = math.Max(top, hydraulics.Velocity(s.FlowOf(i), units.Inches(n.Bore)))
			}
		}
		return units.Length(top).Feet()
	}
}

// backwashExpansion is the bed's rise that a backwash wants, and weakBackwash
// where it is called too weak (handbook: about 20 %).
const (
	backwashExpansion = 0.20
	// workingRise is the rise of a bed at the working backwash speed.
	workingRise = 0.25
	// SandLoss is the rise from which sand leaves with the water.
	SandLoss = 0.5
	// WeakBackwash is the rise of a bed under which it is not cleaned.
	WeakBackwash = 0.12
)

// Bed is the sand as it is lifted by a backwash.
func (m *Model) Bed() hydraulics.Bed {
	grain := m.Doc.Filter.GrainMm
	if grain == 0 {
		grain = 0.5
	}
	return hydraulics.SilicaSand(units.Length(grain / 1000))
}

// FilterArea is the filter's area, m².
func (m *Model) FilterArea() float64 {
	return m.Doc.Filter.AreaFt2 * float64(units.Feet(1)) * float64(units.Feet(1))
}

// BedRise is how far a backwash flow lifts the sand, as a share of its height.
func (m *Model) BedRise(q units.Flow) float64 {
	return m.Bed().Expansion(m.Water, float64(q)/m.FilterArea())
}

// TopBackwash is what this pad sends to waste in backwash at its top speed. Errors are the
// solver's.
func (m *Model) TopBackwash() (units.Flow, error) {
	st, err := m.Solver().Solve(pad.Operation{Speed: m.TopSpeed(), Setting: pad.SetBackwash}, Effects{})
	return st.ToWaste, err
}

// Wash is how a backwash runs on a pad.
type Wash struct {
	Speed units.Speed
	Flow  units.Flow // to waste
	Rise  float64    // of the bed, a share of its height; 0 without sand
	Keeps bool       // the pad's limits, as FastestKeeping has them
	// Held tells of a bed that a faster pump would lift higher, if the pad's limits let it.
	Held bool
}

// WorkingBackwash is how to run a backwash on this pad. Sand: the slowest speed that lifts it by a quarter at the
// water's temperature, and no faster than keeps the covers, the suction head and the tank; full speed where the pump
// has no other or lifts less. Grids: the fastest that keeps all limits, the media's rate and the velocity in the
// suction pipes too. (Twenty to thirty percent clean a bed; at half again its height sand leaves with the water:
// common practice.) Errors are the solver's.
func (m *Model) WorkingBackwash() (Wash, error) {
	op := pad.Operation{Setting: pad.SetBackwash}
	w, err := m.FastestKeeping(op, m.Doc.Filter.Kind != pad.Sand)
	if err != nil || m.Doc.Filter.Kind != pad.Sand {
		return Wash{Speed: w.Speed, Flow: w.Waste, Keeps: w.Keeps}, err
	}
	s := m.Solver()
	out := Wash{Keeps: w.Keeps}
	for _, rpm := range m.speeds() {
		op.Speed = rpm
		st, err := s.Solve(op, Effects{})
		if err != nil {
			return out, fmt.Errorf("solving a backwash at %.0f rpm: %w", float64(rpm), err)
		}
		if w.Keeps && rpm > w.Speed {
			out.Held = true
			break
		}
		out.Speed, out.Flow, out.Rise = rpm, st.ToWaste, m.BedRise(st.ToWaste)
		if out.Rise >= workingRise {
			break
		}
	}
	return out, nil
}

// speeds are those that a hand can set on this pump, slowest first, in 50-rpm steps.
func (m *Model) speeds() []units.Speed {
	p := &m.Doc.Pump
	top := units.Speed(p.TopRPM)
	switch p.Kind {
	case pad.SingleSpeed:
		return []units.Speed{top}
	case pad.TwoSpeed:
		return []units.Speed{units.Speed(p.LeastRPM), top}
	}
	var out []units.Speed
	for rpm := 50 * math.Ceil(math.Max(p.LeastRPM, leastWorking)/50); rpm < p.TopRPM; rpm += 50 {
		out = append(out, units.Speed(rpm))
	}
	return append(out, top)
}

// leastWorking is the slowest speed, rpm, that work at a pad is done at (ours).
const leastWorking = 600

// Working is a speed to work at, and the water at it.
type Working struct {
	Speed units.Speed
	Flow  units.Flow // through the pump
	Waste units.Flow // out of the pool for good
	// Keeps is false where no speed of this pump keeps the limits: it is the slowest.
	Keeps bool
}

// FastestKeeping is the fastest of the pump's speeds at which a way of running keeps
// the pad's upper limits with a clean filter: the covers' ratings with what really
// is open, the suction head, the ceiling of the tank by its label, and where the water goes
// through the media their rate, half of it for a rinse; sand is lifted at another. Gentle keeps
// the velocity in the suction pipes too. The operation's own speed is not looked at. Errors are
// the solver's.
func (m *Model) FastestKeeping(op pad.Operation, gentle bool) (Working, error) {
	s := m.Solver()
	speeds := m.speeds()
	var w Working
	for i := len(speeds) - 1; i >= 0; i-- {
		op.Speed = speeds[i]
		st, err := s.Solve(op, Effects{})
		if err != nil {
			return w, fmt.Errorf("solving %s at %.0f rpm: %w", setting(op), float64(op.Speed), err)
		}
		w = Working{Speed: op.Speed, Flow: st.Flow, Waste: st.ToWaste, Keeps: m.keeps(s, setting(op), st, gentle)}
		if w.Keeps {
			break
		}
	}
	return w, nil
}

// keeps tells whether the state just solved keeps the pad's upper limits.
func (m *Model) keeps(s *Solver, set pad.Setting, st State, gentle bool) bool {
	d := &m.Doc
	most := math.Inf(1)
	switch set {
	case pad.SetFilter:
		most = MediaRate[d.Filter.Kind] * d.Filter.AreaFt2
	case pad.SetBackwash:
		if d.Filter.Kind != pad.Sand {
			most = MediaRate[d.Filter.Kind] * d.Filter.AreaFt2
		}
	case pad.SetRinse:
		most = MediaRate[d.Filter.Kind] * d.Filter.AreaFt2 / 2
	}
	if st.Flow.GPM() > most || st.Tank > Ceiling(d) || st.Cavitating ||
		st.NPSHRequired > 0 && st.NPSHAvailable < st.NPSHRequired ||
		gentle && Fastest(pad.SuctionSide)(s, 0, st) > SuctionFps {
		return false
	}
	for i := range d.Suction {
		l := &d.Suction[i]
		if l.RatingGPM > 0 && CoverFlow(l, s.FlowOf(s.View.Idx.Suction[i])).GPM() > l.RatingGPM {
			return false
		}
	}
	return true
}

// DrainAlone is how water is drawn through the main drain's line alone, to waste, with
// its cover's rating kept: what lowers a pool below its skimmers. False where there is
// no such line, its rating is not known, or no speed keeps the limits. Errors are the solver's.
func (m *Model) DrainAlone(line int) (Working, bool, error) {
	if line < 0 || m.Doc.Filter.Valve != pad.Multiport || m.Doc.Suction[line].RatingGPM <= 0 {
		return Working{}, false, nil
	}
	shut := pad.Handles{}
	for i, l := range m.Doc.Suction {
		if i != line {
			shut[l.ID] = 0
		}
	}
	w, err := m.FastestKeeping(pad.Operation{Setting: pad.SetWaste, Handles: shut}, true)
	return w, err == nil && w.Keeps && w.Waste > stillBelow, err
}

// BackwashFlow is the flow that expands this filter's sand by a fifth at the
// water's temperature.
func (m *Model) BackwashFlow() units.Flow {
	return units.Flow(m.Bed().VelocityFor(m.Water, backwashExpansion) * m.FilterArea())
}
