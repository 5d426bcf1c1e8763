// Package catalogue holds equipment to describe a pad with: a made-up built-in
// set, and the reading and writing of a company's own as comma-separated values.
package catalogue

import (
	"slices"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// Item is one model of the catalogue; one of its parts is set.
type Item struct {
	Model  string      `json:"model"`
	Pump   *pad.Pump   `json:"pump,omitempty"`
	Filter *pad.Filter `json:"filter,omitempty"`
	Heater *pad.Device `json:"heater,omitempty"`
	Cell   *pad.Device `json:"cell,omitempty"`
}

// Kind is what an item is.
func (i Item) Kind() string {
	switch {
	case i.Pump != nil:
		return "pump"
	case i.Filter != nil:
		return "filter"
	case i.Heater != nil:
		return "heater"
	}
	return "cell"
}

// BuiltIn lists the made-up models: physically sound curves and drops, no
// maker's figures.
func BuiltIn() []Item {
	var out []Item
	for _, p := range pumps {
		p.Curve = slices.Clone(p.Curve) // yours to change
		out = append(out, Item{Model: p.Model, Pump: &p})
	}
	for _, f := range filters {
		out = append(out, Item{Model: f.Model, Filter: &f})
	}
	for _, h := range heaters {
		out = append(out, Item{Model: h.Model, Heater: &h})
	}
	for _, c := range cells {
		out = append(out, Item{Model: c.Model, Cell: &c})
	}
	return out
}

// Find gives a built-in model by its name; it panics on a name that is not
// there, for only the demo and tests call it.
func Find(model string) Item {
	for _, i := range BuiltIn() {
		if i.Model == model {
			return i
		}
	}
	panic(words.Of("catalogue.the-catalogue-has-no", "model", words.Name(model)))
}

func curve(points ...float64) []pad.CurveFt {
	var out []pad.CurveFt
	for i := 0; i+1 < len(points); i += 2 {
		out = append(out, pad.CurveFt{GPM: points[i], Ft: points[i+1]})
	}
	return out
}

var pumps = []pad.Pump{
	{
		Model:    "Brisk 75",
		Kind:     pad.SingleSpeed,
		TopRPM:   3450,
		LeastRPM: 3450,
		Curve:    curve(0, 62, 30, 57, 60, 44, 85, 24),
		IdleW:    40,
		BaseW:    640,
		PerGpmW:  6,
		NPSHrFt:  7,
		NPSHrGPM: 60,
	},
	{
		Model:    "Brisk 75 Two",
		Kind:     pad.TwoSpeed,
		TopRPM:   3450,
		LeastRPM: 1725,
		Curve:    curve(0, 62, 30, 57, 60, 44, 85, 24),
		IdleW:    45,
		BaseW:    640,
		PerGpmW:  6,
		NPSHrFt:  7,
		NPSHrGPM: 60,
	},
	{
		Model:    "Brisk 150 VS",
		Kind:     pad.VariableSpeed,
		TopRPM:   3450,
		LeastRPM: 600,
		Curve:    curve(0, 84, 40, 77, 80, 58, 110, 34),
		IdleW:    16,
		BaseW:    560,
		PerGpmW:  8.5,
		NPSHrFt:  8,
		NPSHrGPM: 80,
	},
	{
		Model:    "Brisk 270 VS",
		Kind:     pad.VariableSpeed,
		TopRPM:   3450,
		LeastRPM: 450,
		Curve:    curve(0, 95, 50, 88, 100, 66, 140, 36),
		IdleW:    18,
		BaseW:    820,
		PerGpmW:  10,
		NPSHrFt:  10,
		NPSHrGPM: 100,
	},
	{
		Model:    "Brisk 270 Hold",
		Kind:     pad.FlowHolding,
		TopRPM:   3450,
		LeastRPM: 450,
		HoldGPM:  45,
		Curve:    curve(0, 95, 50, 88, 100, 66, 140, 36),
		IdleW:    20,
		BaseW:    820,
		PerGpmW:  10,
		NPSHrFt:  10,
		NPSHrGPM: 100,
	},
	{
		Model:    "Brook 25",
		Kind:     pad.SingleSpeed,
		TopRPM:   3450,
		LeastRPM: 3450,
		Curve:    curve(0, 34, 15, 31, 30, 22, 40, 12),
		IdleW:    20,
		BaseW:    260,
		PerGpmW:  4,
	},
}

var filters = []pad.Filter{
	{
		Model:     "Stanchion S20",
		Kind:      pad.Sand,
		AreaFt2:   2.18,
		Valve:     pad.Multiport,
		AtGPM:     40,
		MediaPsi:  2.2,
		VesselPsi: 2,
	},
	{
		Model:     "Stanchion S24",
		Kind:      pad.Sand,
		AreaFt2:   3.14,
		Valve:     pad.Multiport,
		AtGPM:     60,
		MediaPsi:  2.5,
		VesselPsi: 3,
	},
	{
		Model:     "Stanchion S30",
		Kind:      pad.Sand,
		AreaFt2:   4.91,
		Valve:     pad.Multiport,
		AtGPM:     60,
		MediaPsi:  1.6,
		VesselPsi: 2,
	},
	{
		Model:     "Stanchion S24 Slide",
		Kind:      pad.Sand,
		AreaFt2:   3.14,
		Valve:     pad.SlideValve,
		AtGPM:     60,
		MediaPsi:  2.5,
		VesselPsi: 2.4,
	},
	{Model: "Pleat 40", Kind: pad.Cartridge, AreaFt2: 40, Valve: pad.NoValve, AtGPM: 30, MediaPsi: 0.9, VesselPsi: 0.8},
	{Model: "Pleat 150", Kind: pad.Cartridge, AreaFt2: 150, Valve: pad.NoValve, AtGPM: 60, MediaPsi: 0.8, VesselPsi: 2},
	{Model: "Pleat 320", Kind: pad.Cartridge, AreaFt2: 320, Valve: pad.NoValve, AtGPM: 60, MediaPsi: 0.5, VesselPsi: 2},
	{
		Model:     "Pleat 420",
		Kind:      pad.Cartridge,
		AreaFt2:   420,
		Valve:     pad.NoValve,
		AtGPM:     60,
		MediaPsi:  0.4,
		VesselPsi: 1.8,
	},
	{Model: "Lattice 36", Kind: pad.DE, AreaFt2: 36, Valve: pad.Multiport, AtGPM: 60, MediaPsi: 1.6, VesselPsi: 2.5},
	{Model: "Lattice 48", Kind: pad.DE, AreaFt2: 48, Valve: pad.Multiport, AtGPM: 60, MediaPsi: 1.2, VesselPsi: 2.5},
}

var heaters = []pad.Device{
	{Model: "Ember 250", DropPsi: 2.4, AtGPM: 60, LeastGPM: 30},
	{Model: "Ember 400", DropPsi: 2.0, AtGPM: 60, LeastGPM: 40},
}

var cells = []pad.Device{
	{Model: "Halide 40", DropPsi: 1.2, AtGPM: 60, LeastGPM: 25},
	{Model: "Halide 20", DropPsi: 1.6, AtGPM: 60, LeastGPM: 18},
}
