package practice

import (
	"maps"
	"slices"

	"fairlap/core/catalogue"
	"fairlap/core/pad"
)

// Pads of the library, made up from the built-in catalogue.
const (
	SandSpeeds = "sand-speeds"
	SandSingle = "sand-single"
	Cartridge  = "cartridge"
	GridsDE    = "grids"
	SandSpa    = "sand-spa"
	HoldsFlow  = "holds-flow"
	SlideTwo   = "slide-two"
	SmallUnit  = "small-unit"
)

// bench is one pad of the library: what it is made of, and how much water it serves.
type bench struct {
	sketch  pad.Sketch
	gallons float64
	change  func(*pad.Document)
}

var working = []pad.Slot{{StartHour: 8, Hours: 4, RPM: 2600}, {StartHour: 12, Hours: 8, RPM: 1900}}

var pads = map[string]bench{
	SandSpeeds: {
		sketch: pad.Sketch{
			Pump:      *catalogue.Find("Brisk 150 VS").Pump,
			Filter:    *catalogue.Find("Stanchion S24").Filter,
			Heater:    catalogue.Find("Ember 250").Heater,
			Cell:      catalogue.Find("Halide 40").Cell,
			PipeIn:    2,
			LengthFt:  45,
			HasVacuum: true,
			HasPower:  true,
		},
		gallons: 18000,
		change:  func(d *pad.Document) { d.Programme = working },
	},
	SandSingle: {
		sketch: pad.Sketch{
			Pump:     *catalogue.Find("Brisk 75").Pump,
			Filter:   *catalogue.Find("Stanchion S20").Filter,
			PipeIn:   1.5,
			LengthFt: 35,
		},
		gallons: 14000,
		change:  func(d *pad.Document) { d.VacuumTap, d.Meters.HasVacuum = pad.TapPot, true },
	},
	Cartridge: {
		sketch: pad.Sketch{
			Pump:      *catalogue.Find("Brisk 150 VS").Pump,
			Filter:    *catalogue.Find("Pleat 320").Filter,
			PipeIn:    2,
			LengthFt:  40,
			HasVacuum: true,
			HasFlow:   true,
		},
		gallons: 16000,
		change:  func(d *pad.Document) { d.Programme = working },
	},
	GridsDE: {
		sketch: pad.Sketch{
			Pump:      *catalogue.Find("Brisk 270 VS").Pump,
			Filter:    *catalogue.Find("Lattice 48").Filter,
			Heater:    catalogue.Find("Ember 400").Heater,
			PipeIn:    2,
			LengthFt:  55,
			HasVacuum: true,
			HasPower:  true,
		},
		gallons: 25000,
		change:  func(d *pad.Document) { d.Programme = working },
	},
	SandSpa: {
		sketch: pad.Sketch{
			Pump:      *catalogue.Find("Brisk 270 VS").Pump,
			Filter:    *catalogue.Find("Stanchion S30").Filter,
			Heater:    catalogue.Find("Ember 400").Heater,
			PipeIn:    2,
			LengthFt:  40,
			Spa:       true,
			HasVacuum: true,
		},
		gallons: 20000,
		change: func(d *pad.Document) {
			d.Programme = working
			d.Spa.DrawGallons, d.Spa.RoomGallons = 400, 120
		},
	},
	HoldsFlow: {
		sketch: pad.Sketch{
			Pump:      *catalogue.Find("Brisk 270 Hold").Pump,
			Filter:    *catalogue.Find("Pleat 420").Filter,
			Cell:      catalogue.Find("Halide 40").Cell,
			PipeIn:    2,
			LengthFt:  50,
			HasVacuum: true,
			HasPower:  true,
		},
		gallons: 22000,
		change:  func(d *pad.Document) { d.Programme = working },
	},
	SlideTwo: {
		sketch: pad.Sketch{
			Pump:      *catalogue.Find("Brisk 75 Two").Pump,
			Filter:    *catalogue.Find("Stanchion S24 Slide").Filter,
			PipeIn:    2,
			LengthFt:  40,
			HasVacuum: true,
		},
		gallons: 15000,
	},
	SmallUnit: {
		sketch: pad.Sketch{
			Pump:     *catalogue.Find("Brook 25").Pump,
			Filter:   *catalogue.Find("Pleat 40").Filter,
			PipeIn:   1.5,
			LengthFt: 10,
		},
		gallons: 5000,
		change: func(d *pad.Document) {
			d.Unit, d.PumpHeightFt, d.GaugeHeightFt = pad.AboveGround, -1.5, -1
			d.Suction, d.Returns = d.Suction[:1], d.Returns[:1]
		},
	},
}

// PadNames are the pads that a case may stand on, in order.
func PadNames() []string { return slices.Sorted(maps.Keys(pads)) }

// document describes a pad of the library.
func (b bench) document() pad.Document {
	d := b.sketch.Document()
	d.PoolGallons = b.gallons
	if b.change != nil {
		b.change(&d)
	}
	return d
}
