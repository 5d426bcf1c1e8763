// Package backtest lives made-up companies through more than a year and judges
// the forecasts and the three schools of when to clean on it.
//
// What is true (each day's dirt, the pad behind the description, what a cleaning
// leaves) is drawn from laws of its own, wider and otherwise shaped than those
// that the forecast assumes. The forecast sees what a technician sees: one noisy
// reading a week, judged by the diagnosis.
package backtest

import (
	"fmt"
	"math"
	"math/rand/v2"
	"time"

	"fairlap/core/diagnosis"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
)

// Habits are what tells one company from another.
type Habits struct {
	Name  string
	Seed  uint64
	Pools int
	Days  int
	Start time.Time
	Sky   upkeep.Sky
	// Swing is the real year's swing of the dirt, Storm what a stormy day brings in
	// days' dirt, Wild the daily spread, all as shares.
	Swing, Storm, Wild float64
	// Missed is the share of weeks without a visit; Speeds those that pumps are found
	// at.
	Missed float64
	Speeds []float64
	// Kinds are the filters met, by turn.
	Kinds []pad.FilterKind
}

// Pool is one pool's truth: its pad and each day's growth of load, which no
// cleaning changes.
type Pool struct {
	Real, Known *plumbing.Model // the pad as it is, and as a description and a clean line have it
	// TightReal and TightKnown have the first of all limits as their load 1.
	TightReal, TightKnown *plumbing.Model
	Grows                 []float64
	After                 []float64 // load that the n-th cleaning leaves
	RPM                   float64
	Visits                []int // days
	Noise                 uint64
	Cleaned               map[int]bool // days, as somebody's record has it
}

// growths are the real mean growths of load a day by kind, and their spread over
// pools (common practice: cycles of one to two weeks, four to six, about four).
var growths = map[pad.FilterKind]float64{pad.Sand: 1.0 / 11, pad.Cartridge: 1.0 / 38, pad.DE: 1.0 / 30}

// document is a made-up pad of a kind. Eyeballs from small to large give clean
// lines from about 10 to 24 psi at full speed.
func document(kind pad.FilterKind, rng *rand.Rand) pad.Document {
	eye := 0.62 + 0.5*rng.Float64()
	d := pad.Document{
		Pump: pad.Pump{Model: "Backtest pump", Kind: pad.VariableSpeed, TopRPM: 3450, LeastRPM: 600,
			Curve: []pad.CurveFt{
				{GPM: 0, Ft: 88},
				{GPM: 40, Ft: 80},
				{GPM: 80, Ft: 60},
				{GPM: 110, Ft: 36},
			}, IdleW: 16, BaseW: 580, PerGpmW: 8.5},
		Filter: pad.Filter{
			Model:     "Backtest sand",
			Kind:      pad.Sand,
			AreaFt2:   3.14,
			Valve:     pad.Multiport,
			AtGPM:     60,
			MediaPsi:  3,
			VesselPsi: 3.5,
		},
		Suction: []pad.Line{
			{
				ID:      "skimmer",
				Name:    "Skimmer",
				Kind:    pad.Skimmer,
				Run:     pad.Run{BoreIn: 2.067, LengthFt: 30 + 40*rng.Float64(), FittingsK: 3},
				Opening: 1,
			},
		},
		SuctionTrunk: pad.Run{
			BoreIn:    2.067,
			LengthFt:  6,
			FittingsK: 2,
		}, Discharge: pad.Run{BoreIn: 2.067, LengthFt: 4, FittingsK: 2},
		ReturnTrunk: pad.Run{BoreIn: 2.067, LengthFt: 30 + 30*rng.Float64(), FittingsK: 4},
		Returns: []pad.Line{
			{
				ID:        "r1",
				Name:      "Return 1",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 20, FittingsK: 2},
				Opening:   1,
				EyeballIn: eye,
			},
			{
				ID:        "r2",
				Name:      "Return 2",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 30, FittingsK: 2},
				Opening:   1,
				EyeballIn: eye,
			},
		},
		VacuumTap: pad.TapPot, GaugeHeightFt: 3, PumpHeightFt: 1, Meters: pad.UsualMeters(),
		Programme: []pad.Slot{{StartHour: 7, Hours: 4, RPM: 2750}, {StartHour: 11, Hours: 6, RPM: 1750}},
	}
	switch kind {
	case pad.Cartridge:
		d.Filter = pad.Filter{
			Model:     "Backtest cartridge",
			Kind:      kind,
			AreaFt2:   320,
			Valve:     pad.NoValve,
			AtGPM:     60,
			MediaPsi:  0.6,
			VesselPsi: 2.5,
		}
	case pad.DE:
		d.Filter = pad.Filter{
			Model:     "Backtest DE",
			Kind:      kind,
			AreaFt2:   48,
			Valve:     pad.Multiport,
			AtGPM:     60,
			MediaPsi:  1.5,
			VesselPsi: 3,
		}
	}
	return d
}

const limitPsi = 8

func (h *Habits) pool(i int) (*Pool, error) {
	rng := rand.New(rand.NewPCG(h.Seed, uint64(i)))
	kind := h.Kinds[i%len(h.Kinds)]
	doc := document(kind, rng)
	off := func(sd float64) float64 { return math.Exp(sd * rng.NormFloat64()) }
	warm := units.Fahrenheit(80)
	real, err := plumbing.New(
		doc,
		plumbing.Parameters{
			Suction: off(0.25),
			Return:  off(0.2),
			Media:   off(0.2),
			Head:    off(0.04),
			Idle:    off(0.1),
			Base:    off(0.06),
			PerFlow: off(0.1),
		},
		warm,
		units.PSI(limitPsi),
	)
	if err != nil {
		return nil, fmt.Errorf("pool %d: %w", i, err)
	}
	p := &Pool{Real: real, RPM: h.Speeds[i%len(h.Speeds)], Noise: rng.Uint64()}
	var clean []pad.Reading
	for _, rpm := range []float64{1500, 2400, 3250} {
		r, err := p.read(rpm, 0, rng)
		if err != nil {
			return nil, err
		}
		clean = append(clean, r)
	}
	if p.Known, err = plumbing.Calibrate(doc, clean, warm, units.PSI(limitPsi)); err != nil {
		return nil, fmt.Errorf("pool %d: %w", i, err)
	}
	if err := p.Tighten(); err != nil {
		return nil, fmt.Errorf("pool %d: %w", i, err)
	}
	mean := growths[kind] * off(0.35)
	phase := 10 * rng.NormFloat64()
	mood := 0.0 // weeks are wild together, not days
	for day := range h.Days + 200 {
		date := h.Start.AddDate(0, 0, day)
		mood = 0.8*mood + 0.6*h.Wild*rng.NormFloat64()
		g := mean * (1 + h.Swing*math.Cos(2*math.Pi*(float64(date.YearDay())-200-phase)/365.25)) * math.Exp(mood)
		if w, ok := h.Sky(date); ok && w.Storm() {
			g += mean * h.Storm * (0.4 + 1.2*rng.Float64())
		}
		p.Grows = append(p.Grows, g)
	}
	for range 200 {
		p.After = append(p.After, 0.02+0.08*rng.Float64())
	}
	for day := i % 5; day < h.Days; day += 7 {
		if day < 7 || rng.Float64() >= h.Missed {
			p.Visits = append(p.Visits, day)
		}
	}
	return p, nil
}

// Tighten makes the pads that have the first of all limits.
func (p *Pool) Tighten() (err error) {
	if p.TightReal, err = p.Real.Within(upkeep.Defaults().FlowLoss()); err != nil {
		return err
	}
	p.TightKnown, err = p.Known.Within(upkeep.Defaults().FlowLoss())
	return err
}

// read reads the real pad's meters at a load of the rise, as a technician does.
func (p *Pool) read(rpm, load float64, rng *rand.Rand) (pad.Reading, error) {
	st, err := p.Real.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, plumbing.Effects{Load: load})
	if err != nil {
		return pad.Reading{}, fmt.Errorf("reading at %.0f rpm: %w", rpm, err)
	}
	noise := p.Real.Doc.Meters
	off := func(m pad.Meter) float64 {
		v := st.Value(m)
		return v + noise.Noise(m, v)*rng.NormFloat64()
	}
	tank := units.PSI(0.5 * math.Round(units.Pressure(off(pad.MeterTank)).PSI()/0.5))
	flow, power := units.Flow(math.Max(0, off(pad.MeterFlow))), units.Power(math.Max(0, off(pad.MeterPower)))
	r := pad.Reading{Speed: units.Speed(rpm), Tank: &tank}
	if noise.HasFlow {
		r.Flow = &flow
	}
	if noise.HasPower {
		r.Power = &power
	}
	return r, nil
}

// observe is what the diagnosis makes of a reading: the load as the readings
// alone have it, and with the forecast.
func (p *Pool) observe(m *plumbing.Model, forecast upkeep.Belief, readings ...pad.Reading) (*diagnosis.Result, error) {
	c := diagnosis.Case{Model: m, Load: forecast}
	for _, r := range readings {
		c.Readings = append(c.Readings, diagnosis.Reading{Reading: r, Setting: pad.SetFilter})
	}
	return diagnosis.Diagnose(c)
}
