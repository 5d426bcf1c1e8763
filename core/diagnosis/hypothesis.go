package diagnosis

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/foretell"
	"fairlap/core/loads"
	"fairlap/core/logp"
	"fairlap/core/plumbing"
	"fairlap/core/words"
)

// cause is a fault at a place, as strong as a step of its severities; mild is the
// step before the first.
type cause struct {
	fault *fault.Fault // at its place
	step  int
}

const mild = -1

// air is P(air at the pump).
func (c cause) air() float64 { return c.fault.AirAt(c.step) }

// sign is P(yes) of a sign that follows neither from the flow nor from air. A fault
// too small for the meters shows itself and its history, no symptom.
func (c cause) sign(sg *fault.SignFact) float64 {
	p, listed := c.fault.Signs[sg.ID]
	if !listed || (c.step == mild && !sg.Seen() && !sg.Context) {
		return sg.Base
	}
	return p
}

// hypothesis is one cause with its prior and what it does to the water.
type hypothesis struct {
	cause
	index    int // in fault.Catalogue
	place    words.Message
	gauge    fault.GaugeWay
	effects  plumbing.Effects
	shift    float64 // added load, for faults that are load
	cells    []cell
	logShare float64 // of the fault's prior
	logPrior float64 // share and the fault's prior
	logSigns float64
	quiet    bool // does nothing that a meter or a customer notices
}

// cell is the stretch of severities that one step stands for: from half-way to the
// step before to half-way to the next. Where in it the truth lies is one unknown that
// all meters share.
type cell struct {
	low, high           *foretell.Table
	lowShift, highShift float64
	width               float64 // of the stretch, in distances from low to high
}

// moves is what one deviation within the cell moves the meters of a reading by.
func (c *cell) moves(reading int, load float64) loads.Figures {
	a, b := c.low.At(reading, load+c.lowShift), c.high.At(reading, load+c.highShift)
	for k := range a {
		a[k] = (b[k] - a[k]) * c.width * cellSD
	}
	return a
}

// priors is the chance of each fault of the catalogue in this context, by index;
// Healthy has the rest.
func (s *survey) priors() []float64 {
	out := make([]float64, len(fault.Catalogue))
	healthy := 1 - priorOther
	for i := range fault.Catalogue {
		f := &fault.Catalogue[i]
		if i == 0 || f.Chronic || !f.On(&s.c.Model.Doc) {
			continue
		}
		out[i] = s.priorOf(f)
		healthy -= out[i]
	}
	out[0] = math.Max(healthy, leastHealthy)
	return out
}

// priorOf is a fault's route frequency in this pool's context.
func (s *survey) priorOf(f *fault.Fault) float64 {
	p := f.Prior
	if listed, ok := s.c.Priors[f.ID]; ok {
		p = listed
	}
	p *= f.Seasonal(s.c.Season)
	most := math.Max(p, mostByContext)
	for _, id := range s.c.Open {
		if id == f.ID {
			p *= openFactor
		}
	}
	if share := s.c.Worn[f.ID]; share > 0.8 {
		p *= math.Min(mostWorn, 1+2.5*(share-0.8))
	}
	return math.Min(p, most)
}

// hypotheses lists every fault that this pad can have, at every place and severity.
func (s *survey) hypotheses(priors []float64) []hypothesis {
	var out []hypothesis
	for i := range fault.Catalogue {
		f := &fault.Catalogue[i]
		if priors[i] <= 0 {
			continue
		}
		places := f.Places(&s.c.Model.Doc)
		all := 0.0
		for p := range places {
			all += placeShare(&places[p])
		}
		steps := 0.0
		for _, w := range f.Weights {
			steps += w
		}
		for p := range places {
			pl := &places[p]
			here := f.At(pl)
			share := placeShare(pl) / all
			add := func(step int, eff plumbing.Effects, share float64) {
				h := hypothesis{
					cause:    cause{&here, step},
					index:    i,
					place:    pl.Name,
					gauge:    pl.Gauge,
					effects:  eff,
					logShare: math.Log(share),
				}
				h.logPrior = math.Log(priors[i]) + h.logShare
				if onlyLoad := (plumbing.Effects{Load: eff.Load}); eff == onlyLoad {
					h.shift, h.effects.Load = eff.Load, 0
				}
				h.quiet = i == 0 || step == mild
				h.logSigns = s.signsLog(h.cause)
				out = append(out, h)
			}
			if f.Mild > 0 {
				add(mild, plumbing.Effects{}, share*f.Mild)
			}
			for step, w := range f.Weights {
				add(step, pl.Effects(step), share*(1-f.Mild)*w/steps)
			}
		}
	}
	return out
}

func placeShare(p *fault.Place) float64 {
	if p.Share > 0 {
		return p.Share
	}
	return 1
}

// signsLog is the log likelihood of all answered signs that do not follow from the
// flow, when all the causes are there together; signs of air share one hidden cause.
func (s *survey) signsLog(causes ...cause) float64 {
	none := 1.0
	for _, c := range causes {
		none *= 1 - c.air()
	}
	with, without, sum := math.Log(1-none), math.Log(none), 0.0
	s.answered(func(sg *fault.SignFact, yes bool) {
		switch {
		case sg.FromState:
		case sg.Air:
			with += logp.Answer(sg.GivenAir, yes)
			without += logp.Answer(sg.Base, yes)
		default:
			sum += logp.Answer(togetherSign(sg, causes), yes)
		}
	})
	return sum + logp.Add(with, without)
}

// togetherSign is P(yes) of a sign when all causes are there, each of which moves
// its odds away from the base by itself.
func togetherSign(sg *fault.SignFact, causes []cause) float64 {
	if len(causes) == 1 {
		return causes[0].sign(sg)
	}
	x := logp.Logit(sg.Base)
	for _, c := range causes {
		x += logp.Logit(c.sign(sg)) - logp.Logit(sg.Base)
	}
	return math.Min(0.995, math.Max(sg.Base*0.02, 1/(1+math.Exp(-x))))
}

// stateSigns is the log likelihood of the answered signs that follow from flow.
func (s *survey) stateSigns(c cause, flow float64) float64 {
	sum := 0.0
	for _, id := range [...]fault.Sign{fault.WeakAll, fault.DeviceNoFlow} {
		if yes, ok := s.c.Signs[id]; ok {
			sum += logp.Answer(s.stateSign(c, id, flow), yes)
		}
	}
	return sum
}

// stateSign is P(yes) of a sign that follows from the flow, unless the fault shows
// it whatever flows.
func (s *survey) stateSign(c cause, id fault.Sign, flow float64) float64 {
	if p, listed := c.fault.Signs[id]; listed {
		return p
	}
	if id == fault.WeakAll {
		return weakWithout + (0.97-weakWithout)/(1+math.Exp((flow/s.topFlow-looksWeak)/weakWidth))
	}
	if s.leastFlow == 0 {
		return lampFalse
	}
	return lampFalse + (lampTrue-lampFalse)/(1+math.Exp((flow/s.leastFlow-1)/lampWidth))
}
