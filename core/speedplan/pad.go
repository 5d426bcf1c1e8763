package speedplan

import (
	"fmt"
	"math"

	"fairlap/core/limits"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// Way is one way to run the pump for a while. What is promised is promised with the
// filter at its limit, what is limited is held with a clean one, and the bill is that of
// a filter half way.
type Way struct {
	RPM       float64 // 0: off; of a flow-holding pump the speed that it finds
	MostRPM   float64 // of a flow-holding pump the speed that a filter at its limit asks for
	HoldGPM   float64 // of a flow-holding pump: the flow that it is set to
	GPM       float64 // with the filter at its limit
	GPMSD     float64 // what the calibration leaves open, one deviation
	W         float64 // with the filter half way there
	SpaW      float64 // the same with both handles on the spa
	MediaRate float64 // gpm a square foot, the filter clean
	Gauge     float64 // psi at the tank, the filter half way
}

// Off tells the way of standing still.
func (w Way) Off() bool { return w.RPM == 0 }

// Bound is the speed that limits are held at: a pump that holds its flow turns faster as the filter loads.
func (w Way) Bound() float64 { return math.Max(w.RPM, w.MostRPM) }

// serves tells whether a device has its least flow, which a flow-holding pump keeps whatever the filter.
func (w Way) serves(rpm, leastGPM float64) bool {
	if w.HoldGPM > 0 && leastGPM > 0 {
		return w.GPM >= leastGPM-1e-9
	}
	return w.RPM >= rpm-1e-9
}

// Edge is where a job's speeds begin or end, and why.
type Edge struct {
	RPM    float64
	Name   words.Message // of the limit
	Reason words.Message
	Source words.Message
}

// Pad is a pad's ways to run, solved once, with the edges that its jobs have.
type Pad struct {
	Doc    *pad.Document
	Ways   []Way // off first, then by speed
	hard   Edge  // most for filtering
	gentle Edge  // most for filtering gently
	heat   float64
	cell   float64
	clean  float64
	spaTop float64 // fastest with both handles on the spa; 0: no such way
	limits []limits.Limit
	wash   limits.Window
}

// rpmStep is how finely a plan chooses a speed; a flow-holding pump by holdStep.
const (
	rpmStep  = 50
	holdStep = 2 // gpm
	midLoad  = 0.5
	dirty    = 1.0
	readable = 2 // psi that a gauge must show to be read
)

// loads are those that a way is solved at: clean, half way, at the limit.
var loads = [3]float64{0, midLoad, dirty}

// NewPad solves a model at every speed that a plan may choose. Errors are the solver's.
func NewPad(m *plumbing.Model, pool units.Volume) (*Pad, error) {
	p := &Pad{Doc: &m.Doc, Ways: []Way{{}}}
	rep, err := limits.Of(m, pool)
	if err != nil {
		return nil, fmt.Errorf("the pad's limits: %w", err)
	}
	p.limits = rep.Limits
	for _, w := range rep.Windows {
		if w.Job == limits.JobBackwash {
			p.wash = w
		}
	}
	p.edges()
	if err := p.solve(m); err != nil {
		return nil, err
	}
	return p, nil
}

// breaking are the limits that no school of filtering passes over; advice is the
// gentle rate alone, since the others are shown beside the plan.
func (p *Pad) edges() {
	top := Edge{
		RPM:    p.Doc.Pump.TopRPM,
		Name:   "speedplan.top-speed",
		Reason: "speedplan.the-pump-goes-no-faster",
		Source: "speedplan.the-pump-s-own-figure",
	}
	p.hard, p.gentle = top, top
	for _, l := range p.limits {
		if l.Job != limits.JobFilter {
			continue
		}
		rpm := float64(l.Speed)
		edge := Edge{rpm, l.Name, l.Reason, l.Source}
		switch {
		case l.ID == "heater-flow":
			p.heat = rpm
		case l.ID == "cell-flow":
			p.cell = rpm
		case len(l.ID) > 6 && l.ID[:6] == "least-":
			p.clean = math.Max(p.clean, rpm)
		case l.SpeedBound == limits.AtMost && l.ID == "media-gentle":
			if rpm < p.gentle.RPM {
				p.gentle = edge
			}
		case l.SpeedBound == limits.AtMost && !l.Advice && rpm < p.hard.RPM:
			p.hard = edge
		}
	}
	if p.hard.RPM < p.gentle.RPM {
		p.gentle = p.hard
	}
}

// slowest is the least speed that a plan may choose.
func (p *Pad) slowest() float64 { return p.Ways[1].RPM }

// Top is the fastest that a school of the media rate filters at.
func (p *Pad) Top(school MediaWay) float64 { return p.top(school).RPM }

func (p *Pad) top(school MediaWay) Edge {
	if school == MediaGentle {
		return p.gentle
	}
	return p.hard
}

// solve finds what each way gives. A single speed has one way to run, a two-speed two.
func (p *Pad) solve(m *plumbing.Model) error {
	pump := &m.Doc.Pump
	spa, hasSpa := m.Doc.SpaMode()
	if hasSpa {
		w, err := m.FastestKeeping(pad.Operation{Handles: spa}, false)
		if err != nil {
			return fmt.Errorf("on the spa: %w", err)
		}
		p.spaTop = float64(w.Speed)
	}
	add := func(op pad.Operation, rpm, most, hold float64, at [3]plumbing.State) error {
		wide, err := m.Spread(op, dirty)
		if err != nil {
			return fmt.Errorf("the spread at %g rpm: %w", rpm, err)
		}
		clean, half, full := at[0], at[1], at[2]
		spaW := float64(half.Power)
		if hasSpa {
			st, err := m.Solver().Solve(pad.Operation{Speed: op.Speed, Handles: spa}, plumbing.Effects{Load: midLoad})
			if err != nil {
				return fmt.Errorf("on the spa at %g rpm: %w", rpm, err)
			}
			spaW = float64(st.Power)
		}
		p.Ways = append(
			p.Ways,
			Way{
				RPM:       rpm,
				HoldGPM:   hold,
				GPM:       full.Flow.GPM(),
				GPMSD:     units.Flow(wide[2]).GPM(),
				W:         float64(half.Power),
				SpaW:      spaW,
				MostRPM:   most,
				MediaRate: clean.Flow.GPM() / m.Doc.Filter.AreaFt2,
				Gauge:     half.Tank.PSI(),
			},
		)
		return nil
	}
	var speeds []float64
	switch pump.Kind {
	case pad.SingleSpeed:
		speeds = []float64{pump.TopRPM}
	case pad.TwoSpeed:
		speeds = []float64{pump.LeastRPM, pump.TopRPM}
	case pad.FlowHolding:
		return p.solveHolding(m, add)
	default:
		for rpm := math.Ceil(math.Max(pump.LeastRPM, rpmStep)/rpmStep) * rpmStep; rpm <= pump.TopRPM; rpm += rpmStep {
			speeds = append(speeds, rpm)
		}
	}
	s := m.Solver()
	for _, rpm := range speeds {
		op := pad.Operation{Speed: units.Speed(rpm)}
		var at [3]plumbing.State
		for i, load := range loads {
			var err error
			if at[i], err = s.Solve(op, plumbing.Effects{Load: load}); err != nil {
				return fmt.Errorf("at %g rpm: %w", rpm, err)
			}
		}
		if err := add(op, rpm, 0, 0, at); err != nil {
			return err
		}
	}
	return nil
}

// solveHolding chooses set flows instead of speeds.
func (p *Pad) solveHolding(
	m *plumbing.Model,
	add func(pad.Operation, float64, float64, float64, [3]plumbing.State) error,
) error {
	const least, most = 16.0, 110.0
	for gpm := least; gpm <= most; gpm += holdStep {
		doc := m.Doc
		doc.Pump.HoldGPM = gpm
		held, err := plumbing.New(doc, m.Params, m.Water.Temperature, m.LimitRise)
		if err != nil {
			return fmt.Errorf("holding %g gpm: %w", gpm, err)
		}
		st, rpm, err := held.Solver().Hold(pad.Operation{}, plumbing.Effects{Load: midLoad / m.LoadScale()})
		if err != nil {
			return fmt.Errorf("holding %g gpm: %w", gpm, err)
		}
		if st.Flow.GPM() < gpm-0.5 {
			break // past its top speed
		}
		if float64(rpm) <= m.Doc.Pump.LeastRPM+1 && st.Flow.GPM() > gpm+0.5 {
			continue // less than its least speed moves
		}
		at, most := [3]plumbing.State{1: st}, units.Speed(0)
		for i, load := range loads {
			if i == 1 {
				continue
			}
			if at[i], most, err = held.Solver().Hold(pad.Operation{},
				plumbing.Effects{Load: load / m.LoadScale()}); err != nil {
				return fmt.Errorf("holding %g gpm: %w", gpm, err)
			}
		}
		if err := add(pad.Operation{Speed: rpm}, math.Round(float64(rpm)), float64(most), gpm, at); err != nil {
			return err
		}
	}
	return nil
}

// wayAt is the way nearest to a programmed speed, or, of a flow-holding pump, flow.
func (p *Pad) wayAt(s pad.Slot) Way {
	best, off := p.Ways[0], math.Inf(1)
	for _, w := range p.Ways[1:] {
		d := math.Abs(w.RPM - s.RPM)
		if d < off {
			best, off = w, d
		}
	}
	return best
}

// Window is the span of speeds that one job of the pump allows, with the reason at each
// edge.
type Window struct {
	Job      string
	Low, Top Edge
}

// Windows are the jobs' windows, as far as this pad has them.
func (p *Pad) Windows(n *Needs) []Window {
	least := Edge{
		RPM:    p.Doc.Pump.LeastRPM,
		Name:   "speedplan.least-speed",
		Reason: "speedplan.the-pump-goes-no-slower",
		Source: "speedplan.the-pump-s-own-figure",
	}
	top := Edge{
		RPM:    p.Doc.Pump.TopRPM,
		Name:   "speedplan.top-speed",
		Reason: "speedplan.the-pump-goes-no-faster",
		Source: "speedplan.the-pump-s-own-figure",
	}
	filter := least
	if n.SkimRPM > least.RPM {
		filter = Edge{
			n.SkimRPM,
			"speedplan.skimming",
			"speedplan.slower-than-this-the-surface",
			"speedplan.this-pool-s-choice-common",
		}
	}
	out := []Window{{"filter", filter, p.hard}, {"gentle", filter, p.gentle}}
	for _, w := range p.Ways[1:] {
		if w.Gauge >= readable {
			out = append(
				out,
				Window{
					"gauge",
					Edge{
						w.RPM,
						"speedplan.readable-gauge",
						words.Of(
							"speedplan.slower-than-this-the-tank",
							"readable",
							words.QD("psi", float64(readable), -1),
						),
						"speedplan.common-practice-at-1-750",
					},
					top,
				},
			)
			break
		}
	}
	need := func(job string, rpm float64, id limits.ID) {
		if rpm <= 0 {
			return
		}
		low := Edge{
			RPM:    rpm,
			Name:   "speedplan.least-flow",
			Reason: "speedplan.what-it-needs-to-work",
			Source: "speedplan.its-label",
		}
		for _, l := range p.limits {
			if l.ID == id {
				low = Edge{rpm, l.Name, l.Reason, l.Source}
			}
		}
		if math.IsInf(rpm, 1) {
			low.RPM = p.Doc.Pump.TopRPM + rpmStep
		}
		out = append(out, Window{job, low, p.hard})
	}
	if p.Doc.Heater != nil {
		need("heater", p.heat, "heater-flow")
	}
	if p.Doc.Cell != nil {
		need("cell", p.cell, "cell-flow")
	}
	need("cleaner", math.Max(n.CleanRPM, p.clean), "least")
	if w := p.wash; w.Job == limits.JobBackwash {
		low, high := least, top
		low.RPM, high.RPM = float64(w.StrictLow), float64(w.StrictTop)
		for _, l := range p.limits {
			if l.Job == limits.JobBackwash && !l.Advice && l.SpeedBound == limits.AtLeast &&
				float64(l.Speed) >= low.RPM {
				low = Edge{math.Min(float64(l.Speed), p.Doc.Pump.TopRPM+rpmStep), l.Name, l.Reason, l.Source}
			}
			if l.Job == limits.JobBackwash && !l.Advice && l.SpeedBound == limits.AtMost &&
				float64(l.Speed) <= high.RPM {
				high = Edge{float64(l.Speed), l.Name, l.Reason, l.Source}
			}
		}
		out = append(out, Window{"backwash", low, high})
	}
	if !n.Quiet.None() && n.QuietRPM > 0 {
		out = append(
			out,
			Window{
				"quiet",
				least,
				Edge{
					n.QuietRPM,
					"speedplan.quiet-hours-2",
					words.Of("speedplan.near-bedrooms", "span", words.Msg(n.Quiet.Words())),
					"speedplan.this-pool-s-choice",
				},
			},
		)
	}
	return out
}
