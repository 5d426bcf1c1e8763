// Package evaluation judges the diagnosis on made-up stops whose water an
// independent engine moves (EPANET, US EPA), beside plain rivals; on stops of a second
// world with laws of its own (second.go, second_stops.go); and beside a grid that knows
// each pad (roof.go), which is the best that anybody could say.
//
// Nothing of ours computes what the meters say: the network is written here with
// Darcy–Weisbach friction, every length, fitting, curve and media strays from
// the description that the diagnosis is given, what the motor draws follows another
// law, drawn for each pad, and the faults are what they are in a pipe (an orifice, a
// passage round the filter, a pump that moves less), not the catalogue's effects.
// How often a fault shows a sign stands in a table of its own (rates.go); nobody
// publishes such rates, and the same hands wrote both tables. The diagnosis knows a pad as a technician does:
// by its description and a clean line read with noisy meters.
package evaluation

import (
	"fmt"
	"math"
	"math/rand/v2"

	"fairlap/core/pad"
)

// kind of plumbing that pads are made after.
type kind struct {
	name      string
	filter    pad.FilterKind
	valve     pad.Valve
	pump      pad.PumpKind
	bore      float64 // in, of the common pipes
	returns   int
	heater    bool
	bypass    bool
	cell      bool
	check     bool
	spa       bool
	drain     bool // a second suction
	fullFlow  float64
	clean     float64 // gpm at which the media's clean drop is stated
	limitRise float64 // psi
}

// kinds are the plumbings; none is the demo's.
var kinds = []kind{
	{
		name:      "1½ in, one speed, sand",
		filter:    pad.Sand,
		valve:     pad.Multiport,
		pump:      pad.SingleSpeed,
		bore:      1.61,
		returns:   2,
		drain:     true,
		fullFlow:  75,
		clean:     50,
		limitRise: 10,
	},
	{
		name:      "2 in, sand and heater",
		filter:    pad.Sand,
		valve:     pad.Multiport,
		pump:      pad.VariableSpeed,
		bore:      2.067,
		returns:   3,
		heater:    true,
		drain:     true,
		fullFlow:  110,
		clean:     60,
		limitRise: 8,
	},
	{
		name:      "2 in, cartridge, heater with bypass, cell",
		filter:    pad.Cartridge,
		valve:     pad.NoValve,
		pump:      pad.VariableSpeed,
		bore:      2.067,
		returns:   3,
		heater:    true,
		bypass:    true,
		cell:      true,
		check:     true,
		drain:     true,
		fullFlow:  125,
		clean:     80,
		limitRise: 8,
	},
	{
		name:      "2 in, DE with a slide valve",
		filter:    pad.DE,
		valve:     pad.SlideValve,
		pump:      pad.VariableSpeed,
		bore:      2.067,
		returns:   2,
		drain:     true,
		fullFlow:  105,
		clean:     60,
		limitRise: 8,
	},
	{
		name:      "2½ in, DE, spa and check valve",
		filter:    pad.DE,
		valve:     pad.Multiport,
		pump:      pad.VariableSpeed,
		bore:      2.469,
		returns:   2,
		heater:    true,
		check:     true,
		spa:       true,
		drain:     true,
		fullFlow:  140,
		clean:     80,
		limitRise: 8,
	},
	{
		name:      "2 in, sand, a pump that holds its flow",
		filter:    pad.Sand,
		valve:     pad.Multiport,
		pump:      pad.FlowHolding,
		bore:      2.067,
		returns:   3,
		drain:     true,
		heater:    true,
		fullFlow:  115,
		clean:     60,
		limitRise: 8,
	},
	{
		name:      "1½ in, one speed, cartridge",
		filter:    pad.Cartridge,
		valve:     pad.NoValve,
		pump:      pad.SingleSpeed,
		bore:      1.61,
		returns:   1,
		cell:      true,
		fullFlow:  70,
		clean:     50,
		limitRise: 8,
	},
}

// built is one pad: as it is described, and as it really is.
type built struct {
	kind
	doc  pad.Document
	real pad.Document
	// bend is the exponent of the real pump's curve, H = A − B·Q^bend.
	bend   float64
	watts  wattLaw
	second *secondPad // as it is in the second world
	// loadOne is the real filter's extra head per flow at load 1, m per m³/s.
	loadOne float64
}

// build makes a pad of a kind: described with the trade's round numbers, really a
// little otherwise in every one of them.
func build(k kind, rng *rand.Rand) *built {
	between := func(a, b float64) float64 { return a + (b-a)*rng.Float64() }
	round := func(x, to float64) float64 { return to * math.Round(x/to) }
	b := &built{kind: k, bend: between(1.7, 2.2), watts: drawWatts(k.fullFlow, rng)}
	shutoff := between(70, 92)
	d := pad.Document{
		Pump: pad.Pump{Model: "Evaluation pump", Kind: k.pump, TopRPM: 3450},
		Filter: pad.Filter{
			Model:   "Evaluation filter",
			Kind:    k.filter,
			AreaFt2: map[pad.FilterKind]float64{pad.Sand: 3.14, pad.Cartridge: 200, pad.DE: 48}[k.filter],
			Valve:   k.valve,
			AtGPM:   k.clean,
			MediaPsi: map[pad.FilterKind]float64{pad.Sand: 3, pad.Cartridge: 0.8, pad.DE: 1.5}[k.filter] * between(
				0.8,
				1.2,
			),
			VesselPsi: between(2, 4),
		},
		SuctionTrunk: pad.Run{BoreIn: k.bore, LengthFt: round(between(4, 10), 1), FittingsK: round(between(1, 3), 0.1)},
		Discharge:    pad.Run{BoreIn: k.bore, LengthFt: round(between(3, 8), 1), FittingsK: round(between(1, 3), 0.1)},
		ReturnTrunk: pad.Run{
			BoreIn:    k.bore,
			LengthFt:  round(between(20, 70), 5),
			FittingsK: round(between(2, 6), 0.1),
		},
		CheckValve: k.check, VacuumTap: pad.TapPot, GaugeHeightFt: round(between(1, 4), 0.5),
		PumpHeightFt: round(between(0.5, 2.5), 0.5),
		PoolGallons:  round(between(12000, 28000), 500), Meters: pad.UsualMeters(),
		Programme: []pad.Slot{{StartHour: 8, Hours: 10, RPM: 2400}},
	}
	b.watts.describe(&d.Pump, k.fullFlow, rng)
	if k.pump == pad.SingleSpeed {
		d.Programme[0].RPM = 3450
	} else {
		d.Pump.LeastRPM = 600
	}
	if k.pump == pad.FlowHolding {
		d.Pump.HoldGPM = 45
	}
	for _, share := range []float64{0, 0.3, 0.55, 0.8, 0.95} {
		d.Pump.Curve = append(
			d.Pump.Curve,
			pad.CurveFt{GPM: round(share*k.fullFlow, 1), Ft: round(shutoff*(1-0.82*math.Pow(share, b.bend)), 0.5)},
		)
	}
	line := func(id, name string, lk pad.LineKind, bore, low, high float64) pad.Line {
		return pad.Line{
			ID:   id,
			Name: name,
			Kind: lk,
			Run: pad.Run{
				BoreIn:    bore,
				LengthFt:  round(between(low, high), 5),
				FittingsK: round(between(1.5, 4), 0.1),
			},
			Opening: 1,
		}
	}
	d.Suction = []pad.Line{line("skimmer", "Skimmer", pad.Skimmer, k.bore, 25, 70)}
	if k.drain {
		d.Suction = append(d.Suction, line("drain", "Main drain", pad.Drain, k.bore, 35, 80))
	}
	for i := range k.returns {
		l := line(fmt.Sprintf("return-%d", i+1), fmt.Sprintf("Return %d", i+1), pad.Return, 1.61, 10, 40)
		l.EyeballIn = round(between(0.75, 1.25)*math.Sqrt(2/float64(k.returns)), 0.05)
		d.Returns = append(d.Returns, l)
	}
	if k.heater {
		d.Heater = &pad.Device{
			Model:    "Evaluation heater",
			DropPsi:  round(between(1.5, 3.5), 0.1),
			AtGPM:    60,
			LeastGPM: 30,
		}
	}
	if k.bypass {
		d.HeaterBypass = &pad.Bypass{BoreIn: k.bore}
	}
	if k.cell {
		d.Cell = &pad.Device{Model: "Evaluation cell", DropPsi: round(between(0.5, 1.5), 0.1), AtGPM: 60, LeastGPM: 25}
	}
	if k.valve == pad.Multiport {
		d.Waste = &pad.WasteLine{Run: pad.Run{BoreIn: k.bore, LengthFt: 30, FittingsK: 4}, OutletFt: -1}
	}
	if k.spa {
		d.Spa = &pad.Spa{SurfaceFt: 1, Gallons: 500}
		d.Valves = []pad.Diverter{
			{ID: "suction-valve", Name: "Suction valve", Side: pad.SuctionSide, BoreIn: k.bore, AngleDeg: 180},
			{ID: "return-valve", Name: "Return valve", Side: pad.ReturnSide, BoreIn: k.bore, AngleDeg: 180},
		}
		for i := range d.Suction {
			d.Suction[i].On = "suction-valve:a"
		}
		for i := range d.Returns {
			d.Returns[i].On = "return-valve:a"
		}
		drain := line("spa-drain", "Spa drain", pad.SpaDrain, k.bore, 20, 40)
		jets := line("jets", "Spa jets", pad.SpaJets, k.bore, 20, 40)
		drain.On, jets.On, jets.EyeballIn = "suction-valve:b", "return-valve:b", 1.4
		d.Suction, d.Returns = append(d.Suction, drain), append(d.Returns, jets)
	}
	b.doc = d
	b.real = stray(d, rng)
	return b
}

// stray is the pad as it really is: nobody measured the buried lengths.
func stray(d pad.Document, rng *rand.Rand) pad.Document {
	by := func(share float64) float64 { return 1 + share*(2*rng.Float64()-1) }
	run := func(r *pad.Run) {
		r.LengthFt *= by(0.2)
		r.FittingsK *= by(0.35)
	}
	run(&d.SuctionTrunk)
	run(&d.Discharge)
	run(&d.ReturnTrunk)
	d.Suction, d.Returns = append([]pad.Line(nil), d.Suction...), append([]pad.Line(nil), d.Returns...)
	for _, lines := range [][]pad.Line{d.Suction, d.Returns} {
		for i := range lines {
			run(&lines[i].Run)
			lines[i].EyeballIn *= by(0.06)
		}
	}
	for _, dev := range []**pad.Device{&d.Heater, &d.Cell} {
		if *dev != nil {
			c := **dev
			c.DropPsi *= by(0.25)
			*dev = &c
		}
	}
	d.Pump.Curve = append([]pad.CurveFt(nil), d.Pump.Curve...)
	lift := by(0.04)
	for i := range d.Pump.Curve {
		d.Pump.Curve[i].Ft *= lift
	}
	d.Filter.MediaPsi *= by(0.25)
	d.Filter.VesselPsi *= by(0.25)
	return d
}
