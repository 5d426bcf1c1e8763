// Package padtest holds pads for tests.
package padtest

import (
	"pgregory.net/rapid"

	"fairlap/core/pad"
)

// DrawnSketch is a believable bare minimum.
func DrawnSketch(t *rapid.T) pad.Sketch {
	k := pad.Sketch{Pump: SandPad().Pump, Filter: SandPad().Filter,
		PipeIn:   rapid.SampledFrom([]float64{1.5, 2, 2.5, 3}).Draw(t, "pipe"),
		LengthFt: rapid.Float64Range(5, 200).Draw(t, "length"),
		Spa: rapid.Bool().
			Draw(t, "spa"),
		HasVacuum: rapid.Bool().Draw(t, "vacuum"), HasFlow: rapid.Bool().Draw(t, "flow")}
	if rapid.Bool().Draw(t, "heater") {
		k.Heater = &pad.Device{Model: "Ember 250", DropPsi: 2.4, AtGPM: 60, LeastGPM: 30}
	}
	if rapid.Bool().Draw(t, "cell") {
		k.Cell = &pad.Device{Model: "Halide 40", DropPsi: 1.2, AtGPM: 60, LeastGPM: 25}
	}
	return k
}

// SandPad is a plain variable-speed sand pad.
func SandPad() pad.Document {
	return pad.Document{
		Pump: pad.Pump{Model: "Brisk 150 VS", Kind: pad.VariableSpeed, TopRPM: 3450, LeastRPM: 600,
			Curve: []pad.CurveFt{
				{GPM: 0, Ft: 92},
				{GPM: 40, Ft: 84},
				{GPM: 80, Ft: 64},
				{GPM: 110, Ft: 40},
			}, IdleW: 16, BaseW: 600, PerGpmW: 9},
		Filter: pad.Filter{
			Model:     "Stanchion S24",
			Kind:      pad.Sand,
			AreaFt2:   3.14,
			Valve:     pad.Multiport,
			AtGPM:     60,
			MediaPsi:  3,
			VesselPsi: 4,
		},
		Suction: []pad.Line{
			{
				ID:      "skimmer",
				Name:    "Skimmer",
				Kind:    pad.Skimmer,
				Run:     pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 3},
				Opening: 1,
			},
			{
				ID:      "drain",
				Name:    "Main drain",
				Kind:    pad.Drain,
				Run:     pad.Run{BoreIn: 2.067, LengthFt: 55, FittingsK: 3},
				Opening: 0.5,
			},
		},
		SuctionTrunk: pad.Run{
			BoreIn:    2.067,
			LengthFt:  6,
			FittingsK: 2,
		}, Discharge: pad.Run{BoreIn: 2.067, LengthFt: 4, FittingsK: 2},
		ReturnTrunk: pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 4},
		Returns: []pad.Line{
			{
				ID:        "return-1",
				Name:      "Return by the steps",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 20, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.9,
			},
			{
				ID:        "return-2",
				Name:      "Deep-end return",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: 1.61, LengthFt: 35, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.9,
			},
		},
		VacuumTap: pad.TapPot, GaugeHeightFt: 3, PumpHeightFt: 1, Meters: pad.UsualMeters(),
		Programme: []pad.Slot{{StartHour: 8, Hours: 8, RPM: 1750}},
	}
}

// SpaPad is a sand pad with nearly everything: a raised spa that spills, valves
// on both sides, a heater with a bypass, in-floor heads and a feature.
func SpaPad() pad.Document {
	d := SandPad()
	d.Heater, d.HeaterBypass = &pad.Device{
		Model:    "Ember 250",
		DropPsi:  2.4,
		AtGPM:    60,
		LeastGPM: 30,
	}, &pad.Bypass{
		BoreIn:  2.067,
		Opening: 0,
	}
	d.Cell, d.CheckValve = &pad.Device{Model: "Halide 40", DropPsi: 1.2, AtGPM: 60, LeastGPM: 25}, true
	d.Spa = &pad.Spa{SurfaceFt: 1.5, Gallons: 600, DrawGallons: 450, Spills: true}
	d.Waste = &pad.WasteLine{Run: pad.Run{BoreIn: 2.067, LengthFt: 40, FittingsK: 4}, OutletFt: -1}
	d.Valves = []pad.Diverter{
		{ID: "suction-valve", Name: "Suction valve", Side: pad.SuctionSide, BoreIn: 2.067, AngleDeg: 180},
		{
			ID:       "skimmer-valve",
			Name:     "Skimmer and drain",
			Side:     pad.SuctionSide,
			On:       "suction-valve:a",
			BoreIn:   2.067,
			AngleDeg: 120,
		},
		{ID: "return-valve", Name: "Return valve", Side: pad.ReturnSide, BoreIn: 2.067, AngleDeg: 180},
	}
	d.Suction[0].On, d.Suction[1].On, d.Suction[1].RatingGPM = "skimmer-valve:a", "skimmer-valve:b", 60
	d.Suction = append(
		d.Suction,
		pad.Line{
			ID:        "spa-drain",
			Name:      "Spa drain",
			Kind:      pad.SpaDrain,
			Run:       pad.Run{BoreIn: 2.067, LengthFt: 30, FittingsK: 3},
			Opening:   1,
			On:        "suction-valve:b",
			RatingGPM: 100,
		},
	)
	d.Returns = []pad.Line{
		{
			ID:        "return-1",
			Name:      "Pool returns",
			Kind:      pad.Return,
			Run:       pad.Run{BoreIn: 1.61, LengthFt: 30, FittingsK: 3},
			Opening:   1,
			EyeballIn: 1.4,
			On:        "return-valve:a",
		},
		{
			ID:        "heads",
			Name:      "Floor heads",
			Kind:      pad.InFloor,
			Run:       pad.Run{BoreIn: 1.61, LengthFt: 40, FittingsK: 5},
			Opening:   1,
			EyeballIn: 0.8,
			On:        "return-valve:a",
			LeastGPM:  20,
		},
		{
			ID:        "sheet-fall",
			Name:      "Sheet fall",
			Kind:      pad.Feature,
			Run:       pad.Run{BoreIn: 1.61, LengthFt: 25, FittingsK: 3},
			Opening:   0.4,
			EyeballIn: 1,
			OutletFt:  2,
			On:        "return-valve:a",
		},
		{
			ID:         "jets",
			Name:       "Spa jets",
			Kind:       pad.SpaJets,
			Run:        pad.Run{BoreIn: 2.067, LengthFt: 30, FittingsK: 4},
			Opening:    1,
			EyeballIn:  1.5,
			On:         "return-valve:b",
			CheckValve: true,
		},
	}
	return d
}
