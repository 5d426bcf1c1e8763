package pad

import (
	"fmt"
	"math"

	"fairlap/core/hydraulics"
	"fairlap/core/units"
)

// Reach is one link of the pad as water takes it in an operation.
type Reach struct {
	LinkName
	Flow    units.Flow // along the usual direction; below zero it runs back
	Speed   float64    // of the water, m/s; 0 for a device
	Opening float64    // of its valve, 0 to 1; 1 without one
	// Heads at its ends, against the pool's surface.
	From, To units.Head
}

// Paths is where the water goes under an operation, and what that endangers.
type Paths struct {
	Speed   units.Speed // found by a flow-holding pump, else the one asked for
	State   State
	Reaches []Reach
	Hazards []Hazard
	// MinutesToEmpty is how long a draining spa lasts, MinutesToSpill how long a
	// filling one takes to its lip; 0 when it does neither.
	MinutesToEmpty, MinutesToSpill float64
}

// Paths solves an operation with a filter load and says where the water goes.
func (m *Model) Paths(op Operation, load float64) (*Paths, error) {
	if err := op.Handles.Check(&m.Doc); err != nil {
		return nil, err
	}
	s := m.Solver()
	p := &Paths{Speed: op.Speed}
	var err error
	if m.Doc.Pump.Kind == FlowHolding && op.Speed > 0 && op.setting() == SetFilter {
		p.State, p.Speed, err = s.Hold(op, Effects{Load: load})
	} else {
		p.State, err = s.Solve(op, Effects{Load: load})
	}
	if err != nil {
		return nil, err
	}
	opening := map[int]float64{}
	for _, h := range s.view.handles {
		o := h.opening
		if at, ok := op.Handles[h.id]; ok {
			if o = at; h.port != 0 {
				o = portOpening(h.port, at)
			}
		}
		opening[h.link] = o
	}
	for i, n := range s.view.names {
		l := &s.view.links[i]
		r := Reach{LinkName: n, Flow: units.Flow(s.view.sol.Flow[i]), Opening: 1,
			From: units.Head(s.view.sol.Head[l.From]), To: units.Head(s.view.sol.Head[l.To])}
		if math.Abs(float64(r.Flow)) < float64(stillBelow) {
			r.Flow = 0
		}
		if o, ok := opening[i]; ok {
			r.Opening = o
		}
		if n.Bore > 0 {
			r.Speed = hydraulics.Velocity(r.Flow, units.Inches(n.Bore))
		}
		p.Reaches = append(p.Reaches, r)
	}
	p.spaMinutes(m.Doc.Spa)
	p.Hazards = m.hazards(op, p)
	return p, nil
}

// stillBelow is the flow under which water is called still: a cup a minute.
var stillBelow = units.GPM(0.05)

// spaTrickle is the gain or loss of a spa that is not worth a word.
var spaTrickle = units.GPM(0.5)

func (p *Paths) spaMinutes(spa *Spa) {
	switch {
	case spa == nil:
	case p.State.SpaGain < -spaTrickle:
		p.MinutesToEmpty = TurnoverMinutes(spa.Draw(), -p.State.SpaGain)
	case p.State.SpaGain > spaTrickle:
		p.MinutesToSpill = TurnoverMinutes(units.Gallons(spa.RoomGallons), p.State.SpaGain)
	}
}

// Hold finds the speed at which a flow-holding pump gives its set flow, between
// its least and top speed; at an end of that range the flow is not reached.
func (s *Solver) Hold(op Operation, e Effects) (State, units.Speed, error) {
	want := units.GPM(s.m.Doc.Pump.HoldGPM)
	lo, hi := s.m.Doc.Pump.LeastRPM, s.m.Doc.Pump.TopRPM
	at := func(rpm float64) (State, error) {
		op.Speed = units.Speed(rpm)
		return s.Solve(op, e)
	}
	st, err := at(hi)
	if err != nil || st.Flow <= want {
		return st, units.Speed(hi), err
	}
	for hi-lo > 0.5 {
		mid := (lo + hi) / 2
		if st, err = at(mid); err != nil {
			return st, 0, err
		}
		if st.Flow < want {
			lo = mid
		} else {
			hi = mid
		}
	}
	st, err = at(hi)
	return st, units.Speed(hi), err
}

// Mark is how grave a hazard is.
type Mark string

// The marks of a hazard.
const (
	MarkStop Mark = "stop" // never do this
	MarkAct  Mark = "act"  // look before you do
	MarkNote Mark = "open" // good to know
)

// Hazard is something that an operation endangers, in words.
type Hazard struct {
	ID   string
	Mark Mark
	What string
	Says string
}

// hazards reads an operation's dangers off its flows; the grave come first.
func (m *Model) hazards(op Operation, p *Paths) []Hazard {
	var out []Hazard
	add := func(mark Mark, id, what, says string, args ...any) {
		out = append(out, Hazard{id, mark, what, fmt.Sprintf(says, args...)})
	}
	set := op.setting()
	running := op.Speed > 0
	if running && !set.MayRun() {
		add(MarkStop, "never-run", "Never run the pump here", "On %s the pump must not run: minutes melt fittings or burst parts.", set)
	}
	switch p.State.Condition {
	case hydraulics.DeadHead:
		add(MarkStop, "dead-head", "Dead head", "The water has no way out. Minutes of this melt fittings or burst parts; never start on it.")
	case hydraulics.DrySource:
		add(MarkStop, "dry", "Dry suction", "Every suction is shut. The pump runs dry within minutes and the pot can hold boiling water afterwards.")
	case hydraulics.NoPath:
		add(MarkStop, "no-path", "Shut on both sides", "Neither suction nor return is open. Never start the pump like this.")
	case hydraulics.Flowing, hydraulics.Still:
	}
	m.spaHazards(p, running, add)
	if running && p.State.Condition == hydraulics.Flowing {
		m.suctionHazards(p, add)
		m.pressureHazards(p, add)
		m.needHazards(p, set, add)
		m.wasteHazards(p, set, add)
	}
	return gravestFirst(out)
}

func gravestFirst(in []Hazard) []Hazard {
	out := make([]Hazard, 0, len(in))
	for _, mark := range []Mark{MarkStop, MarkAct, MarkNote} {
		for _, h := range in {
			if h.Mark == mark {
				out = append(out, h)
			}
		}
	}
	return out
}

type addHazard func(mark Mark, id, what, says string, args ...any)

func (m *Model) spaHazards(p *Paths, running bool, add addHazard) {
	spa := m.Doc.Spa
	if spa == nil {
		return
	}
	gain := p.State.SpaGain.GPM()
	pool := false
	for _, r := range p.Reaches {
		pool = pool || (r.Body == PoolBody && r.Flow > spaTrickle)
	}
	switch {
	case p.MinutesToEmpty > 0 && running:
		add(MarkStop, "spa-drains", "Spa drains", "It loses %.0f gpm more than it gets: down to its suction in about %.0f minutes, then the pump runs dry.", -gain, p.MinutesToEmpty)
	case p.MinutesToEmpty > 0:
		add(MarkAct, "spa-runs-back", "Spa runs back", "With the pump off, %.1f gpm run from the spa to the pool through open valves: down to its suction in about %.0f minutes. A check valve or a shut handle holds it.", -gain, p.MinutesToEmpty)
	case gain > spaTrickle.GPM() && spa.Spills:
		add(MarkNote, "spa-spills", "Spa spills over", "It gains %.0f gpm and spills into the pool%s.", gain, after(p.MinutesToSpill))
	case gain > spaTrickle.GPM():
		add(MarkStop, "spa-fills", "Spa fills", "It gains %.0f gpm and has no spillway: over its edge%s.", gain, after(p.MinutesToSpill))
	case running && !pool && p.State.Flow > spaTrickle:
		add(MarkNote, "spa-only", "Spa alone", "The pool gets no filtration like this; left so it turns dull in days.")
	}
}

func after(minutes float64) string {
	if minutes < 1 {
		return " at once"
	}
	return fmt.Sprintf(" after about %.0f minutes", minutes)
}

func (m *Model) suctionHazards(p *Paths, add addHazard) {
	for _, r := range p.Reaches {
		if r.Line == nil || r.Side != SuctionSide || r.Flow <= stillBelow {
			continue
		}
		share := float64(r.Flow) / float64(p.State.Flow)
		if share > 0.98 && r.Line.covers() <= 1 {
			mark := MarkStop
			if r.Line.Kind == Skimmer {
				mark = MarkAct
			}
			add(mark, "one-suction", "One suction takes the whole pull", "All %.0f gpm go through the one cover of %s: a body or hair can be held there. Open a second suction.", r.Flow.GPM(), r.Name)
		}
		if at := coverFlow(r.Line, r.Flow); r.Line.RatingGPM > 0 && at.GPM() > r.Line.RatingGPM {
			add(MarkStop, "cover-rating", "Over the cover's rating", "With one cover of %s blocked the other takes %.0f gpm; it is rated %.0f gpm.", r.Name, at.GPM(), r.Line.RatingGPM)
		}
	}
	if p.State.Cavitating || (p.State.NPSHRequired > 0 && p.State.NPSHAvailable < p.State.NPSHRequired) {
		add(MarkAct, "cavitation", "Cavitation", "%.0f ft of suction head are left and the pump needs %.0f ft: gravel noise, falling head, a worn impeller.",
			p.State.NPSHAvailable.Feet(), math.Max(p.State.NPSHRequired.Feet(), 1))
	}
}

// coverFlow is what one cover of a line takes with another of it blocked.
func coverFlow(l *Line, q units.Flow) units.Flow {
	return q / units.Flow(max(1, l.covers()-1))
}

// VesselLimit is a tank's usual hard limit when nobody read its label (handbook,
// common practice).
var VesselLimit = units.PSI(50)

func (m *Model) vesselLimit() units.Pressure {
	if m.Doc.Filter.LabelPsi > 0 {
		return units.PSI(m.Doc.Filter.LabelPsi)
	}
	return VesselLimit
}

func (m *Model) pressureHazards(p *Paths, add addHazard) {
	switch tank := p.State.Tank; {
	case tank > m.vesselLimit():
		add(MarkStop, "over-label", "Over the tank's limit", "The tank would stand at %.0f psi, its limit is %.0f psi: stop.", tank.PSI(), m.vesselLimit().PSI())
	case tank > ServiceCeiling:
		add(MarkAct, "high-pressure", "High pressure", "The tank would stand at %.0f psi; %.0f psi is the usual ceiling in service.", tank.PSI(), ServiceCeiling.PSI())
	}
}

// needHazards says which device or line gets too little.
func (m *Model) needHazards(p *Paths, set Setting, add addHazard) {
	if set != SetFilter && set != SetRecirculate {
		return
	}
	for _, r := range p.Reaches {
		least := 0.0
		why := "Its flow switch may shut it down."
		switch {
		case r.Kind == "heater":
			least, why = m.Doc.Heater.LeastGPM, "The exchanger overheats when it fires: a crackling sound."
			if m.Doc.HeaterBypass != nil && r.Flow < p.State.Flow*9/10 {
				why = "Its bypass is open: shut it before heating."
			}
		case r.Kind == "cell":
			least = m.Doc.Cell.LeastGPM
		case r.Line != nil && r.Line.LeastGPM > 0 && r.Opening >= shutBelow:
			least, why = r.Line.LeastGPM, "It does not work like this."
		}
		if least > 0 && r.Flow.GPM() < least {
			add(MarkAct, "short-"+r.ID, r.label()+" gets too little", "%.0f gpm of the %.0f gpm that it needs. %s", math.Max(0, r.Flow.GPM()), least, why)
		}
	}
}

func (n LinkName) label() string {
	switch n.Kind {
	case "heater":
		return "Heater"
	case "cell":
		return "Salt cell"
	}
	return n.Name
}

func (m *Model) wasteHazards(p *Paths, set Setting, add addHazard) {
	if set == SetRecirculate {
		add(MarkNote, "unfiltered", "Nothing is filtered", "The water goes round past the media.")
	}
	if p.State.ToWaste <= stillBelow {
		return
	}
	add(MarkNote, "to-waste", "Water leaves the pool", "%.0f gpm go to waste. It may be chlorinated, salty or carry DE: local rules decide where it goes.", p.State.ToWaste.GPM())
	if set == SetBackwash && m.Doc.Filter.Kind == Sand {
		if e := m.BedRise(p.State.ToWaste); e < WeakBackwash {
			add(MarkAct, "weak-backwash", "Too weak to clean the bed", "The bed rises %.0f %%; it needs about %.0f %%, some %.0f gpm on this filter. Run it faster.",
				100*e, 100*backwashExpansion, m.BackwashFlow().GPM())
		}
	}
}
