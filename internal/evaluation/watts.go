package evaluation

import (
	"math"
	"math/rand/v2"

	"fairlap/core/pad"
)

// wattLaw is what a real pump draws: a law of its own, drawn for each pad. Shaft power
// has a floor at shut-off and bends with flow; the drive's losses do not follow the
// cube of speed. A pump that lifts less draws less by some share between nothing
// and all of the lift that is lost, drawn anew for each stop.
type wattLaw struct {
	peak  float64 // W of the shaft at full flow and full speed
	floor float64 // share of it at shut-off
	bend  float64 // exponent over the share of full flow
	cube  float64 // exponent of speed
	idle  float64 // W
	drive float64 // W at full speed, with speed itself
}

func drawWatts(fullGPM float64, rng *rand.Rand) wattLaw {
	between := func(a, b float64) float64 { return a + (b-a)*rng.Float64() }
	return wattLaw{
		peak:  fullGPM * between(11, 16),
		floor: between(0.4, 0.55),
		bend:  between(0.75, 1.25),
		cube:  between(2.75, 3),
		idle:  between(10, 25),
		drive: between(10, 60),
	}
}

// at is the power at a speed ratio and a share x of the full flow there; left is the
// share of the head that a sick pump still gives at that flow, follows how much of
// what is lost the motor is spared.
func (w *wattLaw) at(ratio, x, left, follows float64) float64 {
	if ratio <= 0 {
		return 0
	}
	shaft := w.peak * (w.floor + (1-w.floor)*math.Pow(math.Max(0, x), w.bend)) * math.Pow(ratio, w.cube)
	return w.idle + w.drive*ratio + shaft*(1-follows*(1-left))
}

// describe writes the law down as a technician's catalogue would: a straight line
// through two flows at full speed, each figure off by some per cent.
func (w *wattLaw) describe(p *pad.Pump, fullGPM float64, rng *rand.Rand) {
	by := func(share float64) float64 { return 1 + share*(2*rng.Float64()-1) }
	low, high := w.at(1, 0.35, 1, 0), w.at(1, 0.85, 1, 0)
	slope := (high - low) / (0.5 * fullGPM)
	p.IdleW = w.idle * by(0.3)
	p.PerGpmW = slope * by(0.15)
	p.BaseW = math.Max(50, (low-slope*0.35*fullGPM-p.IdleW)*by(0.08))
}
