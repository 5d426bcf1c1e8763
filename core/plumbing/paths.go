package plumbing

import (
	"math"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
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
func (m *Model) Paths(op pad.Operation, load float64) (*Paths, error) {
	if err := op.Handles.Check(&m.Doc); err != nil {
		return nil, err
	}
	s := m.Solver()
	p := &Paths{Speed: op.Speed}
	var err error
	if m.Doc.Pump.Kind == pad.FlowHolding && op.Speed > 0 && setting(op) == pad.SetFilter {
		p.State, p.Speed, err = s.Hold(op, Effects{Load: load})
	} else {
		p.State, err = s.Solve(op, Effects{Load: load})
	}
	if err != nil {
		return nil, err
	}
	opening := map[int]float64{}
	for _, h := range s.View.handles {
		o := h.opening
		if at, ok := op.Handles[h.id]; ok {
			if o = at; h.port != 0 {
				o = pad.PortOpening(h.port, at)
			}
		}
		opening[h.link] = o
	}
	for i, n := range s.View.names {
		l := &s.View.links[i]
		r := Reach{LinkName: n, Flow: units.Flow(s.View.sol.Flow[i]), Opening: 1,
			From: units.Head(s.View.sol.Head[l.From]), To: units.Head(s.View.sol.Head[l.To])}
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

func (p *Paths) spaMinutes(spa *pad.Spa) {
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
func (s *Solver) Hold(op pad.Operation, e Effects) (State, units.Speed, error) {
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
	What words.Message
	Text words.Message
}

// hazards reads an operation's dangers off its flows; the grave come first.
func (m *Model) hazards(op pad.Operation, p *Paths) []Hazard {
	var out []Hazard
	add := func(mark Mark, id string, what, text words.Message) {
		out = append(out, Hazard{id, mark, what, text})
	}
	set := setting(op)
	running := op.Speed > 0
	if running && !set.MayRun() {
		add(
			MarkStop,
			"never-run",
			"pad.never-run-the-pump-here",
			words.Of("pad.on-the-pump-must-not", "set", words.Msg(set.Words())),
		)
	}
	switch p.State.Condition {
	case hydraulics.DeadHead:
		add(MarkStop, "dead-head", "pad.dead-head", "pad.the-water-has-no-way")
	case hydraulics.DrySource:
		add(MarkStop, "dry", "pad.dry-suction", "pad.every-suction-is-shut-the")
	case hydraulics.NoPath:
		add(MarkStop, "no-path", "pad.shut-on-both-sides", "pad.neither-suction-nor-return-is")
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

type addHazard func(mark Mark, id string, what, text words.Message)

func (m *Model) spaHazards(p *Paths, running bool, add addHazard) {
	spa := m.Doc.Spa
	if spa == nil {
		return
	}
	gain := p.State.SpaGain.GPM()
	pool := false
	for _, r := range p.Reaches {
		pool = pool || (r.Body == pad.PoolBody && r.Flow > spaTrickle)
	}
	switch {
	case p.MinutesToEmpty > 0 && running:
		add(
			MarkStop,
			"spa-drains",
			"pad.spa-drains",
			words.Of(
				"pad.it-loses-more-than-it",
				"gain",
				words.QD("gpm", -gain, 0),
				"minutesToEmpty",
				words.ND(p.MinutesToEmpty, 0),
			),
		)
	case p.MinutesToEmpty > 0:
		add(
			MarkAct,
			"spa-runs-back",
			"pad.spa-runs-back",
			words.Of(
				"pad.with-the-pump-off-run",
				"gain",
				words.QD("gpm", -gain, 1),
				"minutesToEmpty",
				words.ND(p.MinutesToEmpty, 0),
			),
		)
	case gain > spaTrickle.GPM() && spa.Spills:
		add(
			MarkNote,
			"spa-spills",
			"pad.spa-spills-over",
			words.Of(
				"pad.it-gains-and-spills-into",
				"gain",
				words.QD("gpm", gain, 0),
				"minutesToSpill",
				words.Msg(after(p.MinutesToSpill)),
			),
		)
	case gain > spaTrickle.GPM():
		add(
			MarkStop,
			"spa-fills",
			"pad.spa-fills",
			words.Of(
				"pad.it-gains-and-has-no",
				"gain",
				words.QD("gpm", gain, 0),
				"minutesToSpill",
				words.Msg(after(p.MinutesToSpill)),
			),
		)
	case running && !pool && p.State.Flow > spaTrickle:
		add(MarkNote, "spa-only", "pad.spa-alone", "pad.the-pool-gets-no-filtration")
	}
}

func after(minutes float64) words.Message {
	if minutes < 1 {
		return "pad.at-once"
	}
	return words.Of("pad.after-about-minutes", "minutes", words.ND(minutes, 0))
}

func (m *Model) suctionHazards(p *Paths, add addHazard) {
	for _, r := range p.Reaches {
		if r.Line == nil || r.Side != pad.SuctionSide || r.Flow <= stillBelow {
			continue
		}
		share := float64(r.Flow) / float64(p.State.Flow)
		if share > 0.98 && r.Line.CoverCount() <= 1 {
			mark := MarkStop
			if r.Line.Kind == pad.Skimmer {
				mark = MarkAct
			}
			add(
				mark,
				"one-suction",
				"pad.one-suction-takes-the-whole",
				words.Of(
					"pad.all-go-through-the-one",
					"flow",
					words.QD("gpm", r.Flow.GPM(), 0),
					"r",
					words.Name(r.Name),
				),
			)
		}
		if at := CoverFlow(r.Line, r.Flow); r.Line.RatingGPM > 0 && at.GPM() > r.Line.RatingGPM {
			says := "pad.with-one-cover-of-blocked"
			if r.Line.CoverCount() < 2 { // there is no other one
				says = "pad.all-through-its-one-cover"
			}
			add(
				MarkStop,
				"cover-rating",
				"pad.over-the-cover-s-rating",
				words.Of(
					says,
					"r",
					words.Name(r.Name),
					"at",
					words.QD("gpm", at.GPM(), 0),
					"ratingGPM",
					words.QD("gpm", r.Line.RatingGPM, 0),
				),
			)
		}
	}
	if p.State.Cavitating || (p.State.NPSHRequired > 0 && p.State.NPSHAvailable < p.State.NPSHRequired) {
		add(
			MarkAct,
			"cavitation",
			"pad.cavitation",
			words.Of(
				"pad.of-suction-head-are-left",
				"npshAvailable",
				words.QD("ft", p.State.NPSHAvailable.Feet(), 0),
				"npshRequired",
				words.QD("ft", math.Max(p.State.NPSHRequired.Feet(), 1), 0),
			),
		)
	}
}

// CoverFlow is what one cover of a line takes with another of it blocked.
func CoverFlow(l *pad.Line, q units.Flow) units.Flow {
	return q / units.Flow(max(1, l.CoverCount()-1))
}

// VesselLimit is a tank's usual hard limit when nobody read its label (handbook,
// common practice).
var VesselLimit = units.PSI(50)

func (m *Model) VesselLimit() units.Pressure {
	if m.Doc.Filter.LabelPsi > 0 {
		return units.PSI(m.Doc.Filter.LabelPsi)
	}
	return VesselLimit
}

func (m *Model) pressureHazards(p *Paths, add addHazard) {
	switch tank := p.State.Tank; {
	case tank > m.VesselLimit():
		add(
			MarkStop,
			"over-label",
			"pad.over-the-tank-s-limit",
			words.Of(
				"pad.the-tank-would-stand-at",
				"tank",
				words.QD("psi", tank.PSI(), 0),
				"vesselLimit",
				words.QD("psi", m.VesselLimit().PSI(), 0),
			),
		)
	case tank > ServiceCeiling:
		add(
			MarkAct,
			"high-pressure",
			"pad.high-pressure",
			words.Of(
				"pad.the-tank-would-stand-at-2",
				"tank",
				words.QD("psi", tank.PSI(), 0),
				"serviceCeiling",
				words.QD("psi", ServiceCeiling.PSI(), 0),
			),
		)
	}
}

// needHazards says which device or line gets too little.
func (m *Model) needHazards(p *Paths, set pad.Setting, add addHazard) {
	if set != pad.SetFilter && set != pad.SetRecirculate {
		return
	}
	for _, r := range p.Reaches {
		least := 0.0
		why := words.Message("pad.its-flow-switch-may-shut")
		switch {
		case r.Kind == "heater":
			least, why = m.Doc.Heater.LeastGPM, "pad.the-exchanger-overheats-when-it"
			if m.Doc.HeaterBypass != nil && r.Flow < p.State.Flow*9/10 {
				why = "pad.its-bypass-is-open-shut"
			}
		case r.Kind == "cell":
			least = m.Doc.Cell.LeastGPM
		case r.Line != nil && r.Line.LeastGPM > 0 && r.Opening >= ShutBelow:
			least, why = r.Line.LeastGPM, "pad.it-does-not-work-like"
		}
		if least > 0 && r.Flow.GPM() < least {
			add(
				MarkAct,
				"short-"+r.ID,
				words.Of("pad.too-little", "what", words.Msg(r.label())),
				words.Of(
					"pad.of-the-that-it-needs",
					"flow",
					words.QD("gpm", math.Max(0, r.Flow.GPM()), 0),
					"least",
					words.QD("gpm", least, 0),
					"why",
					words.Msg(why),
				),
			)
		}
	}
}

func (n LinkName) label() words.Message {
	switch n.Kind {
	case "heater":
		return "pad.heater"
	case "cell":
		return "pad.salt-cell"
	}
	return words.Named(n.Name)
}

func (m *Model) wasteHazards(p *Paths, set pad.Setting, add addHazard) {
	if set == pad.SetRecirculate {
		add(MarkNote, "unfiltered", "pad.nothing-is-filtered", "pad.the-water-goes-round-past")
	}
	if p.State.ToWaste <= stillBelow {
		return
	}
	add(
		MarkNote,
		"to-waste",
		"pad.water-leaves-the-pool",
		words.Of("pad.go-to-waste-it-may", "toWaste", words.QD("gpm", p.State.ToWaste.GPM(), 0)),
	)
	if set == pad.SetBackwash && m.Doc.Filter.Kind == pad.Sand {
		if e := m.BedRise(p.State.ToWaste); e < WeakBackwash {
			add(
				MarkAct,
				"weak-backwash",
				"pad.too-weak-to-clean-the",
				words.Of(
					"pad.the-bed-rises-it-needs",
					"e",
					words.Share(e),
					"backwashExpansion",
					words.Share(backwashExpansion),
					"backwashFlow",
					words.QD("gpm", m.BackwashFlow().GPM(), 0),
				),
			)
		}
	}
}
