package plumbing

import (
	"math"

	"fairlap/core/pad"
	"fairlap/core/units"
)

// FlowWay is one way to the flow that a pad passes.
type FlowWay string

// The three independent ways to a flow.
const (
	ByMeter FlowWay = "meter"
	ByCurve FlowWay = "curve" // the pump's curve at the head that the gauges show
	ByWatts FlowWay = "watts" // the pad's own power line
)

// FlowEstimate is a flow with its standard deviation.
type FlowEstimate struct {
	Way      FlowWay
	Flow, SD units.Flow
}

// FlowEstimates are the ways that a reading offers, and their weighted mean.
type FlowEstimates struct {
	Ways   []FlowEstimate
	Mean   units.Flow
	SD     units.Flow
	Agree  bool    // no two ways lie over two deviations of their difference apart
	Strays FlowWay // the way furthest from the others when they don't
}

// EstimateFlow gives the flow of a reading by every way that it offers. The tank
// and vacuum gauges give the total dynamic head, to which the pump-to-tank pipe
// and (for a tap before the basket) a clean basket are added back; the curve's
// scale and the power line carry their calibrated uncertainty. Only for a pump
// whose health is not in doubt: worn or airy, the curve's way strays first.
func (m *Model) EstimateFlow(r pad.Reading) FlowEstimates {
	var out FlowEstimates
	ratio := float64(r.Speed) / m.Doc.Pump.TopRPM
	if ratio <= 0 {
		return out
	}
	add := func(way FlowWay, q, sd float64) {
		if q > 0 && sd > 0 && !math.IsInf(sd, 0) && !math.IsNaN(q+sd) {
			out.Ways = append(out.Ways, FlowEstimate{way, units.Flow(q), units.Flow(sd)})
		}
	}
	if r.Flow != nil {
		add(ByMeter, float64(*r.Flow), m.Doc.Meters.Noise(pad.MeterFlow, float64(*r.Flow)))
	}
	if r.Tank != nil && r.Vacuum != nil {
		add(ByCurve, m.flowByCurve(ratio, float64(*r.Tank), float64(*r.Vacuum), 0),
			spread(func(z [3]float64) float64 {
				return m.flowByCurve(ratio, float64(*r.Tank)+z[0]*m.Doc.Meters.Noise(pad.MeterTank, 0),
					float64(*r.Vacuum)+z[1]*m.Doc.Meters.Noise(pad.MeterVacuum, 0), z[2]*math.Sqrt(m.Cov[3][3]))
			}))
	}
	if r.Power != nil && m.power.PerFlow > 0 {
		add(ByWatts, m.flowByWatts(ratio, float64(*r.Power), [3]float64{}),
			spread(func(z [3]float64) float64 {
				return m.flowByWatts(
					ratio,
					float64(*r.Power)+z[0]*m.Doc.Meters.Noise(pad.MeterPower, float64(*r.Power)),
					[3]float64{0, z[1] * math.Sqrt(m.Cov[5][5]), z[2] * math.Sqrt(m.Cov[6][6])},
				)
			}))
	}
	out.combine()
	return out
}

// spread carries three independent standard deviations through f by one-sigma
// steps.
func spread(f func([3]float64) float64) float64 {
	v := 0.0
	for i := range 3 {
		var up, down [3]float64
		up[i], down[i] = 1, -1
		d := (f(up) - f(down)) / 2
		v += d * d
	}
	return math.Sqrt(v)
}

// flowByCurve inverts the pump's curve at the head between the gauges.
func (m *Model) flowByCurve(ratio, tank, vacuum, logHead float64) float64 {
	s := m.Solver()
	v, err := s.viewOf(pad.SetFilter)
	if err != nil {
		return math.NaN()
	}
	between := float64(
		m.Water.Head(units.Pressure(tank+vacuum)),
	) + float64(
		units.FeetHead(m.Doc.GaugeHeightFt-m.Doc.PumpHeightFt),
	)
	c := m.curve.AtSpeed(ratio).Degraded(m.Params.Head*math.Exp(logHead), 1)
	out := v.base[v.Idx.discharge]
	basket := v.base[v.Idx.basket].Quadratic
	if m.Doc.VacuumTap != pad.TapInlet {
		basket = 0
	}
	lo, hi := 0.0, 0.05
	for range 50 {
		q := (lo + hi) / 2
		lost := out.Pipe*math.Pow(q, 1.852) + (out.Quadratic+basket)*q*q
		if float64(c.Head(units.Flow(q)))-lost > between {
			lo = q
		} else {
			hi = q
		}
	}
	return lo
}

func (m *Model) flowByWatts(ratio, watts float64, logs [3]float64) float64 {
	p := m.power
	cube := ratio * ratio * ratio
	return ratio * ((watts-p.Idle)/cube - p.Base*math.Exp(logs[1])) / (p.PerFlow * math.Exp(logs[2]))
}

func (e *FlowEstimates) combine() {
	weight := 0.0
	for _, w := range e.Ways {
		k := 1 / float64(w.SD*w.SD)
		weight += k
		e.Mean += units.Flow(k) * w.Flow
	}
	if weight == 0 {
		return
	}
	e.Mean /= units.Flow(weight)
	e.SD = units.Flow(1 / math.Sqrt(weight))
	e.Agree = true
	far := 0.0
	for i, a := range e.Ways {
		sum := 0.0
		for j, b := range e.Ways {
			if i == j {
				continue
			}
			z := math.Abs(float64(a.Flow-b.Flow)) / math.Hypot(float64(a.SD), float64(b.SD))
			sum += z
			e.Agree = e.Agree && z <= 2
		}
		if sum > far && len(e.Ways) > 2 {
			far, e.Strays = sum, a.Way
		}
	}
	if e.Agree {
		e.Strays = ""
	}
}
