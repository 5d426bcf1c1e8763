// Package limits weighs what holds a pad's speeds: standards, labels and good practice as
// data, and the window of speeds that keeps a job's limits.
package limits

import (
	"fmt"
	"math"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/words"
)

// ID names a limit of a pad.
type ID string

// Bound says on which side of its value a limit allows.
type Bound string

// The sides of a limit.
const (
	AtMost  Bound = "most"
	AtLeast Bound = "least"
)

// Job is what a speed is chosen for: one speed can't do both.
type Job string

// The jobs that limits are drawn up for.
const (
	JobFilter   Job = "filter"
	JobBackwash Job = "backwash"
)

// Limit is one rule that a speed must keep, with its standing.
type Limit struct {
	ID     ID
	Job    Job
	Name   words.Message
	Bound  Bound
	Value  float64 // in Unit
	Unit   string
	Reason words.Message
	Source words.Message
	// Advice says that good practice asks for it; false: it breaks something.
	Advice bool
	At     []LimitAt // one a programmed speed, in the programme's order
	// Speed is where the limit is just met: the most or the least speed that keeps
	// it. AtMost limits that the top speed keeps have the top speed; AtLeast limits
	// that no speed meets have +Inf.
	Speed units.Speed
	// SpeedBound is the side of Speed that keeps the limit: mostly Bound, but what
	// falls as the pump speeds up is kept below it; "" where no speed changes it.
	SpeedBound Bound
}

// LimitAt is a limit's figure at one speed.
type LimitAt struct {
	Speed units.Speed
	Value float64
	OK    bool
}

// Window is the span of speeds that keeps every limit of a job.
type Window struct {
	Job      Job
	Low, Top units.Speed
	Empty    bool
	// Collide names the two limits that leave no speed, least first.
	Collide [2]ID
	// Strict is the window without advice; the same when advice costs nothing.
	StrictLow, StrictTop units.Speed
	StrictEmpty          bool
}

// Report is a pad's limits at its programmed speeds.
type Report struct {
	Speeds  []units.Speed
	Limits  []Limit
	Windows []Window
}

// rule is a limit with what it measures: the figure at a speed, in the unit.
type rule struct {
	Limit
	setting pad.Setting
	load    float64
	figure  func(s *plumbing.Solver, rpm units.Speed, st plumbing.State) float64
}

const (
	nsf50     words.Message = "pad.nsf-ansi-50-residential-from"
	calEnergy words.Message = "pad.california-energy-code-150-0"
	common    words.Message = "pad.common-practice"
	label     words.Message = "pad.the-label-rules"
)

// rules draws up the limits that apply to a pad.
func rules(m *plumbing.Model, pool units.Volume) []rule {
	d := &m.Doc
	var out []rule
	add := func(r rule) { out = append(out, r) }
	flow := func(_ *plumbing.Solver, _ units.Speed, st plumbing.State) float64 { return st.Flow.GPM() }
	most := plumbing.MediaRate[d.Filter.Kind] * d.Filter.AreaFt2
	add(
		rule{
			Limit{ID: "media-rate", Name: "pad.media-rate.name", Bound: AtMost, Value: most, Unit: "gpm", Source: nsf50,
				Reason: words.Of(
					"pad.on-over-it-dirt-is",
					"kind",
					words.QD("gpm/ft²", plumbing.MediaRate[d.Filter.Kind], -1),
					"areaFt2",
					words.QD("ft²", d.Filter.AreaFt2, -1),
				)},
			pad.SetFilter,
			0,
			flow,
		},
	)
	add(
		rule{
			Limit{
				ID:     "media-gentle",
				Name:   "pad.media-gentle.name",
				Bound:  AtMost,
				Value:  most / 2,
				Unit:   "gpm",
				Source: common,
				Advice: true,
				Reason: "pad.media-gentle.reason",
			},
			pad.SetFilter,
			0,
			flow,
		},
	)
	add(
		rule{
			Limit{
				ID:     "suction-velocity",
				Name:   "pad.suction-velocity.name",
				Bound:  AtMost,
				Value:  plumbing.SuctionFps,
				Unit:   "ft/s",
				Source: calEnergy,
				Advice: true,
				Reason: "pad.suction-velocity.reason",
			},
			pad.SetFilter,
			0,
			plumbing.Fastest(pad.SuctionSide),
		},
	)
	add(
		rule{
			Limit{
				ID:     "return-velocity",
				Name:   "pad.return-velocity.name",
				Bound:  AtMost,
				Value:  plumbing.ReturnFps,
				Unit:   "ft/s",
				Source: calEnergy,
				Advice: true,
				Reason: "pad.return-velocity.reason",
			},
			pad.SetFilter,
			0,
			plumbing.Fastest(pad.ReturnSide),
		},
	)
	if pool > 0 {
		six := units.Flow(float64(pool) / 6 / 3600).GPM()
		add(
			rule{
				Limit{
					ID:     "filtration-rate",
					Name:   "pad.filtration-rate.name",
					Bound:  AtMost,
					Value:  math.Max(six, 36),
					Unit:   "gpm",
					Source: calEnergy,
					Advice: true,
					Reason: "pad.filtration-rate.reason",
				},
				pad.SetFilter,
				0,
				flow,
			},
		)
	}
	add(
		rule{
			Limit{
				ID:     "tank-ceiling",
				Name:   "pad.tank-ceiling.name",
				Bound:  AtMost,
				Value:  plumbing.ServiceCeiling.PSI(),
				Unit:   "psi",
				Source: common,
				Advice: true,
				Reason: "pad.tank-ceiling.reason",
			},
			pad.SetFilter,
			1,
			func(_ *plumbing.Solver, _ units.Speed, st plumbing.State) float64 { return st.Tank.PSI() },
		},
	)
	add(
		rule{
			Limit{
				ID:     "tank-label",
				Name:   "pad.tank-label.name",
				Bound:  AtMost,
				Value:  m.VesselLimit().PSI(),
				Unit:   "psi",
				Source: label,
				Reason: "pad.tank-label.reason",
			},
			pad.SetFilter,
			1,
			func(_ *plumbing.Solver, _ units.Speed, st plumbing.State) float64 { return st.Tank.PSI() },
		},
	)
	if d.Pump.NPSHrFt > 0 {
		add(
			rule{
				Limit{
					ID:         "npsh",
					Name:       "pad.npsh.name",
					Bound:      AtLeast,
					SpeedBound: AtMost,
					Value:      0,
					Unit:       "ft",
					Source:     "pad.npsh.source",
					Reason:     "pad.npsh.reason",
				},
				pad.SetFilter,
				0,
				func(_ *plumbing.Solver, _ units.Speed, st plumbing.State) float64 {
					return (st.NPSHAvailable - st.NPSHRequired).Feet()
				},
			},
		)
	}
	out = append(out, needRules(m)...)
	return append(out, coverAndBackwashRules(m)...)
}

// needRules are the least flows of devices and lines, with the filter dirty.
func needRules(m *plumbing.Model) []rule {
	d := &m.Doc
	var out []rule
	need := func(id string, name words.Message, least float64, reason words.Message,
		link func(*plumbing.LinkIndex) int) {
		if least > 0 {
			out = append(
				out,
				rule{
					Limit{
						ID:     ID(id),
						Name:   name,
						Bound:  AtLeast,
						Value:  least,
						Unit:   "gpm",
						Source: label,
						Reason: reason,
					},
					pad.SetFilter,
					1,
					func(s *plumbing.Solver, _ units.Speed, _ plumbing.State) float64 {
						return s.FlowOf(link(&s.View.Idx)).GPM()
					},
				},
			)
		}
	}
	if d.Heater != nil {
		need(
			"heater-flow",
			"pad.heater-s-least-flow",
			d.Heater.LeastGPM,
			"pad.below-it-the-exchanger-overheats",
			func(x *plumbing.LinkIndex) int { return x.Heater },
		)
	}
	if d.Cell != nil {
		need(
			"cell-flow",
			"pad.salt-cell-s-least-flow",
			d.Cell.LeastGPM,
			"pad.below-it-the-flow-switch",
			func(x *plumbing.LinkIndex) int { return x.Cell },
		)
	}
	for i, l := range d.Suction {
		if l.Opening >= plumbing.ShutBelow {
			need(
				"least-"+l.ID,
				words.Of("pad.line-least-flow", "line", words.Name(l.Name)),
				l.LeastGPM,
				"pad.what-it-needs-to-work",
				func(x *plumbing.LinkIndex) int { return x.Suction[i] },
			)
		}
	}
	for i, l := range d.Returns {
		if l.Opening >= plumbing.ShutBelow {
			need(
				"least-"+l.ID,
				words.Of("pad.line-least-flow", "line", words.Name(l.Name)),
				l.LeastGPM,
				"pad.what-it-needs-to-work",
				func(x *plumbing.LinkIndex) int { return x.Returns[i] },
			)
		}
	}
	return out
}

func coverAndBackwashRules(m *plumbing.Model) []rule {
	d := &m.Doc
	var out []rule
	for i := range d.Suction {
		l := &d.Suction[i]
		if l.RatingGPM <= 0 || l.Opening < plumbing.ShutBelow {
			continue
		}
		out = append(
			out,
			rule{
				Limit{
					ID:     ID("cover-" + l.ID),
					Name:   words.Of("pad.line-cover-rating", "line", words.Name(l.Name)),
					Bound:  AtMost,
					Value:  l.RatingGPM,
					Unit:   "gpm",
					Source: label,
					Reason: "pad.every-other-suction-of-its",
				},
				pad.SetFilter,
				0,
				alone(m, i),
			},
		)
	}
	if slidesOrTurns := d.Filter.Valve != pad.NoValve; slidesOrTurns && d.Filter.Kind == pad.Sand {
		q := func(_ *plumbing.Solver, _ units.Speed, st plumbing.State) float64 { return st.ToWaste.GPM() }
		out = append(
			out,
			rule{
				Limit{
					ID:     "backwash-lift",
					Job:    JobBackwash,
					Name:   "pad.backwash-lift.name",
					Bound:  AtLeast,
					Value:  m.BackwashFlow().GPM(),
					Unit:   "gpm",
					Source: "pad.backwash-lift.source",
					Reason: "pad.backwash-lift.reason",
				},
				pad.SetBackwash,
				0,
				q,
			},
			rule{
				Limit{
					ID:     "backwash-rate",
					Job:    JobBackwash,
					Name:   "pad.backwash-rate.name",
					Bound:  AtLeast,
					Value:  15 * d.Filter.AreaFt2,
					Unit:   "gpm",
					Source: nsf50,
					Advice: true,
					Reason: "pad.backwash-rate.reason",
				},
				pad.SetBackwash,
				0,
				q,
			},
			rule{
				Limit{
					ID:     "backwash-washout",
					Job:    JobBackwash,
					Name:   "pad.backwash-washout.name",
					Bound:  AtMost,
					Value:  m.Bed().VelocityFor(m.Water, 0.5) * m.FilterArea() / float64(units.GPM(1)),
					Unit:   "gpm",
					Source: "pad.backwash-washout.source",
					Reason: "pad.backwash-washout.reason",
				},
				pad.SetBackwash,
				0,
				q,
			},
		)
	}
	return out
}

// alone measures one cover's flow when every other suction of the same water is
// blocked.
func alone(m *plumbing.Model, line int) func(*plumbing.Solver, units.Speed, plumbing.State) float64 {
	l := &m.Doc.Suction[line]
	shut := pad.Handles{}
	for i, o := range m.Doc.Suction {
		if i != line && o.OfSpa() == l.OfSpa() {
			shut[o.ID] = 0
		}
	}
	return func(s *plumbing.Solver, rpm units.Speed, _ plumbing.State) float64 {
		if _, err := s.Solve(pad.Operation{Speed: rpm, Handles: shut}, plumbing.Effects{}); err != nil {
			return math.Inf(1)
		}
		return plumbing.CoverFlow(l, s.FlowOf(s.View.Idx.Suction[line])).GPM()
	}
}

// CoverAlone is what one cover of a suction line draws when every other suction of
// the same water is shut; +Inf where that can't be solved.
func CoverAlone(m *plumbing.Model, line int, rpm units.Speed) units.Flow {
	return units.GPM(alone(m, line)(m.Solver(), rpm, plumbing.State{}))
}

// Of evaluates every limit at every programmed speed and finds the speeds
// that keep them all. pool is the pool's volume, 0 when not known.
func Of(m *plumbing.Model, pool units.Volume) (*Report, error) { return of(m, pool, true) }

// Figures evaluates the limits at the programmed speeds and at the top speed
// alone: no Speed, no windows, and a hundredth of the work.
//
// A model never changes, so they are worked out once for a pool; callers leave them
// as they are.
func Figures(m *plumbing.Model, pool units.Volume) ([]Limit, error) {
	if kept, ok := m.Figures.Load(pool); ok {
		return kept.([]Limit), nil
	}
	rep, err := of(m, pool, false)
	if err != nil {
		return nil, err
	}
	m.Figures.Store(pool, rep.Limits)
	return rep.Limits, nil
}

func of(m *plumbing.Model, pool units.Volume, windows bool) (*Report, error) {
	rep := &Report{Speeds: programmedSpeeds(m)}
	s := m.Solver()
	for _, r := range rules(m, pool) {
		if r.Job == "" {
			r.Job = JobFilter
		}
		if r.SpeedBound == "" {
			r.SpeedBound = r.Bound
		}
		at := func(rpm units.Speed) (float64, error) {
			st, err := s.Solve(pad.Operation{Speed: rpm, Setting: r.setting}, plumbing.Effects{Load: r.load})
			if err != nil {
				return 0, err
			}
			return r.figure(s, rpm, st), nil
		}
		for _, rpm := range rep.Speeds {
			v, err := at(rpm)
			if err != nil {
				return nil, fmt.Errorf("%s at %g rpm: %w", r.Name, rpm, err)
			}
			r.At = append(r.At, LimitAt{rpm, v, r.keeps(v)})
		}
		if windows {
			var err error
			if r.Speed, err = crossing(m, &r, at); err != nil {
				return nil, fmt.Errorf("%s: %w", r.Name, err)
			}
		}
		rep.Limits = append(rep.Limits, r.Limit)
	}
	if in := m.Doc.StraightIn; in > 0 {
		rep.Limits = append(rep.Limits, straightPipe(m, in, rep.Speeds))
	}
	if !windows {
		return rep, nil
	}
	for _, job := range []Job{JobFilter, JobBackwash} {
		if w, ok := window(m, job, rep.Limits); ok {
			rep.Windows = append(rep.Windows, w)
		}
	}
	return rep, nil
}

// straightPipe is the one limit that no speed changes.
func straightPipe(m *plumbing.Model, in float64, speeds []units.Speed) Limit {
	l := Limit{
		ID:     "straight-pipe",
		Job:    JobFilter,
		Name:   "pad.straight-pipe.name",
		Bound:  AtLeast,
		Value:  4 * m.Doc.SuctionTrunk.BoreIn,
		Unit:   "in",
		Source: calEnergy,
		Advice: true,
		Reason: "pad.straight-pipe.reason",
	}
	for _, rpm := range speeds {
		l.At = append(l.At, LimitAt{rpm, in, in >= l.Value})
	}
	return l
}

func (l *Limit) keeps(v float64) bool {
	if l.Bound == AtMost {
		return v <= l.Value*(1+1e-9)
	}
	return v >= l.Value*(1-1e-9)
}

// crossing finds the speed where a limit is just met; every figure is monotone
// in speed.
func crossing(m *plumbing.Model, r *rule, at func(units.Speed) (float64, error)) (units.Speed, error) {
	lo, hi := units.Speed(m.Doc.Pump.LeastRPM), m.TopSpeed()
	keepsBelow := r.SpeedBound == AtMost
	inside := func(v float64) bool { // on the low-speed side of the crossing
		return r.keeps(v) == keepsBelow
	}
	top, err := at(hi)
	if err != nil {
		return 0, err
	}
	if inside(top) {
		if keepsBelow {
			return hi, nil
		}
		return units.Speed(math.Inf(1)), nil
	}
	low, err := at(lo)
	if err != nil {
		return 0, err
	}
	if !inside(low) {
		if keepsBelow {
			return 0, nil
		}
		return lo, nil
	}
	for hi-lo > 1 {
		mid := (lo + hi) / 2
		v, err := at(mid)
		if err != nil {
			return 0, err
		}
		if inside(v) {
			lo = mid
		} else {
			hi = mid
		}
	}
	if keepsBelow {
		return lo, nil
	}
	return hi, nil
}

// window is where a job's limits all hold.
func window(m *plumbing.Model, job Job, limits []Limit) (Window, bool) {
	w := Window{Job: job}
	any := false
	span := func(strict bool) (low, top units.Speed, by [2]ID) {
		low, top = units.Speed(m.Doc.Pump.LeastRPM), m.TopSpeed()
		for _, l := range limits {
			if l.Job != job || l.SpeedBound == "" || (strict && l.Advice) {
				continue
			}
			any = true
			if l.SpeedBound == AtMost {
				if l.Speed < top {
					top, by[1] = l.Speed, l.ID
				}
			} else if l.Speed > low {
				low, by[0] = l.Speed, l.ID
			}
		}
		return low, top, by
	}
	w.Low, w.Top, w.Collide = span(false)
	w.Empty = w.Low > w.Top
	if !w.Empty {
		w.Collide = [2]ID{}
	}
	var hard [2]ID
	w.StrictLow, w.StrictTop, hard = span(true)
	if w.StrictEmpty = w.StrictLow > w.StrictTop; w.StrictEmpty {
		w.Collide = hard // what is only advised is never named before what is a limit
	}
	return w, any
}

func programmedSpeeds(m *plumbing.Model) []units.Speed {
	var out []units.Speed
	seen := map[float64]bool{}
	for _, slot := range m.Doc.Programme {
		if slot.RPM > 0 && !seen[slot.RPM] {
			seen[slot.RPM] = true
			out = append(out, units.Speed(slot.RPM))
		}
	}
	if !seen[m.Doc.Pump.TopRPM] { // every priming and every manual run
		out = append(out, m.TopSpeed())
	}
	return out
}
