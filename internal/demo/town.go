// Package demo is the made-up town: pools, people, equipment and a history that
// the product's own physics wrote. Everything is invented and follows from one
// seed and one day.
package demo

import (
	"fairlap/core/catalogue"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
)

// The town's equipment, from the built-in catalogue.
var (
	brisk75  = *catalogue.Find("Brisk 75").Pump
	brisk150 = *catalogue.Find("Brisk 150 VS").Pump
	brisk270 = *catalogue.Find("Brisk 270 VS").Pump
	hold270  = *catalogue.Find("Brisk 270 Hold").Pump
	brook25  = *catalogue.Find("Brook 25").Pump

	filters = map[string]pad.Filter{
		"S20": *catalogue.Find("Stanchion S20").Filter, "S24": *catalogue.Find("Stanchion S24").Filter, "S30": *catalogue.Find("Stanchion S30").Filter,
		"P150": *catalogue.Find("Pleat 150").Filter, "P320": *catalogue.Find("Pleat 320").Filter, "P420": *catalogue.Find("Pleat 420").Filter,
		"L36": *catalogue.Find("Lattice 36").Filter, "L48": *catalogue.Find("Lattice 48").Filter,
		"P40": *catalogue.Find("Pleat 40").Filter, "S24L": *catalogue.Find("Stanchion S24 Slide").Filter,
	}
	ember   = catalogue.Find("Ember 250").Heater
	halide  = catalogue.Find("Halide 40").Cell
	working = []pad.Slot{{StartHour: 8, Hours: 4, RPM: 2400}, {StartHour: 12, Hours: 8, RPM: 1900}}
)

// event is what was true and seen in one week, counted back from today.
type event struct {
	week    int // weeks ago; 0 is today
	effects plumbing.Effects
	signs   map[fault.Sign]bool
	confirm string // as logged; "" nothing
	work    string
}

// place is one pool of the town.
type place struct {
	street    string
	mine      bool // on the demo technician's lap
	gallons   float64
	surface   string
	access    string
	pump      pad.Pump
	filter    string
	heater    *pad.Device
	cell      *pad.Device
	programme []pad.Slot
	suctionFt float64
	returnFt  float64
	minutes   int
	since     string
	weekly    float64 // load grown in a week
	cleaned   []int   // weeks ago, at the visit
	newcomer  bool    // no record yet
	rpmToday  float64
	chemicals bool // went in yesterday at 14:00
	events    []event
	noMeters  bool // tank gauge only
	spa       bool // raised, on the same pad, with a valve on each side

	// Of the pools that round makes up.
	hand   int     // whose it is, by users
	offset int     // days from today to its next visit
	habit  float64 // load at which it is cleaned
	creep  float64 // load that each cleaning leaves on top of the one before
	stuck  string  // what its gauge says whatever the water does
	aged   map[string]float64
}

// today lists the pools of the day that the demo stands on; the first nine are its
// lap, in order.
var today = []place{
	{
		street:    "14 Quince Court",
		mine:      true,
		gallons:   18500,
		surface:   "plaster",
		access:    "Side gate sticks, lift the latch. Dog in on Tuesdays.",
		pump:      brisk150,
		filter:    "S24",
		heater:    ember,
		cell:      halide,
		programme: working,
		suctionFt: 40,
		returnFt:  45,
		minutes:   40,
		since:     "2017-05-04",
		weekly:    0.41,
		cleaned:   []int{8, 6, 4, 2},
	},
	{
		street:    "5 Bayberry Close",
		mine:      true,
		gallons:   16000,
		surface:   "pebble",
		access:    "Key box by the meter.",
		pump:      brisk150,
		filter:    "P320",
		programme: working,
		suctionFt: 35,
		returnFt:  50,
		minutes:   28,
		since:     "2019-03-18",
		weekly:    0.08,
		cleaned:   []int{5},
		rpmToday:  3050,
		events: []event{
			{week: 0, signs: map[fault.Sign]bool{fault.WorkedHere: true, fault.AirInPot: false, fault.WeakOne: false}},
		},
	},
	{
		street:    "3 Larkspur Lane",
		mine:      true,
		gallons:   21000,
		surface:   "plaster",
		access:    "Ring first.",
		pump:      brisk270,
		filter:    "S30",
		heater:    ember,
		programme: working,
		suctionFt: 55,
		returnFt:  60,
		minutes:   32,
		since:     "2018-06-11",
		weekly:    0.24,
		cleaned:   []int{7, 4, 1},
		events: []event{
			{
				week:    0,
				effects: plumbing.Effects{ReturnLine: -1, ReturnExtra: 70},
				signs: map[fault.Sign]bool{
					fault.WeakOne:    true,
					fault.WorkedHere: true,
					fault.AirInPot:   false,
					fault.BasketFull: false,
				},
			},
		},
	},
	{
		street:    "40 Fennel Walk",
		mine:      true,
		gallons:   15000,
		surface:   "plaster",
		access:    "Through the garage, code at the desk.",
		pump:      brisk150,
		filter:    "S20",
		programme: working,
		suctionFt: 45,
		returnFt:  40,
		minutes:   30,
		since:     "2020-04-02",
		weekly:    0.20,
		cleaned:   []int{6, 2},
		events: []event{
			{
				week:    1,
				effects: plumbing.Effects{Basket: 4},
				signs:   map[fault.Sign]bool{fault.BasketFull: true, fault.Storm: true, fault.AirInPot: false},
				confirm: "basket-full",
				work:    "basket",
			},
			{
				week:    0,
				effects: plumbing.Effects{CapacityLost: 0.92},
				signs: map[fault.Sign]bool{
					fault.AirInPot:   true,
					fault.BasketFull: false,
					fault.WeakAll:    true,
					fault.LevelLow:   false,
				},
			},
		},
	},
	{
		street:    "27 Juniper Rise",
		mine:      true,
		gallons:   19500,
		surface:   "tile",
		access:    "Gate on the left, close it: small children.",
		pump:      brisk150,
		filter:    "S24",
		programme: working,
		suctionFt: 50,
		returnFt:  45,
		minutes:   30,
		since:     "2016-08-23",
		weekly:    0.31,
		cleaned:   []int{6, 3},
		chemicals: true,
	},
	{
		street:    "8 Heron Reach",
		mine:      true,
		gallons:   24000,
		surface:   "plaster",
		access:    "",
		pump:      brisk270,
		filter:    "S24",
		cell:      halide,
		programme: working,
		suctionFt: 60,
		returnFt:  55,
		minutes:   36,
		since:     "2021-02-15",
		weekly:    0.12,
		cleaned:   []int{5},
		events: []event{
			{
				week:    1,
				effects: plumbing.Effects{Air: 0.08},
				signs:   map[fault.Sign]bool{fault.AirInPot: true, fault.Bubbles: true, fault.LevelLow: false},
				confirm: "open:air-lid",
			},
			{
				week:    0,
				effects: plumbing.Effects{Air: 0.12},
				signs: map[fault.Sign]bool{
					fault.AirInPot:      true,
					fault.Bubbles:       true,
					fault.NeedleBounces: true,
					fault.PotDrains:     true,
					fault.LevelLow:      false,
					fault.BasketFull:    false,
				},
			},
		},
	},
	{
		street:  "12 Mistral Way",
		mine:    true,
		gallons: 17000,
		surface: "fibreglass",
		access:  "Dog, friendly.",
		pump:    brisk150,
		filter:  "P420",
		cell:    halide,
		programme: []pad.Slot{
			{StartHour: 8, Hours: 4, RPM: 2400},
			{StartHour: 12, Hours: 9, RPM: 950},
		},
		suctionFt: 40,
		returnFt:  70,
		minutes:   26,
		since:     "2022-05-30",
		weekly:    0.07,
		cleaned:   []int{6},
		events:    []event{{week: 0, signs: map[fault.Sign]bool{fault.DeviceNoFlow: false}}},
	},
	{
		street:    "61 Tamarack Street",
		mine:      true,
		gallons:   22000,
		surface:   "plaster",
		access:    "Alarm panel inside the door, ask the desk.",
		pump:      brisk270,
		filter:    "L48",
		heater:    ember,
		spa:       true,
		programme: working,
		suctionFt: 45,
		returnFt:  50,
		minutes:   45,
		since:     "2015-09-09",
		weekly:    0.22,
		cleaned:   []int{8, 4},
	},
	{
		street:  "19 Sorrel Bend",
		mine:    true,
		gallons: 13500,
		surface: "vinyl",
		access:  "New customer, ring first.",
		pump:    brisk75,
		filter:  "P150",
		programme: []pad.Slot{
			{StartHour: 9, Hours: 8, RPM: 3450},
		},
		suctionFt: 30,
		returnFt:  30,
		minutes:   40,
		newcomer:  true,
		noMeters:  true,
	},
	{
		street:    "2 Alder Steps",
		gallons:   20500,
		surface:   "plaster",
		access:    "Code at the desk.",
		pump:      brisk150,
		filter:    "L36",
		programme: working,
		suctionFt: 40,
		returnFt:  45,
		minutes:   30,
		since:     "2019-07-01",
		weekly:    0.25,
		cleaned:   []int{6, 2},
	},
	{
		street:    "33 Coomb Lane",
		gallons:   14500,
		surface:   "vinyl",
		access:    "",
		pump:      brisk75,
		filter:    "S20",
		programme: []pad.Slot{{StartHour: 9, Hours: 8, RPM: 3450}},
		suctionFt: 30,
		returnFt:  35,
		minutes:   25,
		since:     "2020-10-12",
		weekly:    0.40,
		cleaned:   []int{7, 5, 3, 1},
		noMeters:  true,
	},
	{
		street:    "9 Wicket Green",
		gallons:   26000,
		surface:   "pebble",
		access:    "Park in the lane.",
		pump:      brisk270,
		filter:    "P420",
		heater:    ember,
		programme: working,
		suctionFt: 65,
		returnFt:  60,
		minutes:   34,
		since:     "2018-04-27",
		weekly:    0.06,
		cleaned:   []int{7},
	},
}

// document writes a place's pad down as a technician would describe it.
func (p *place) document() pad.Document {
	inch2, inch15 := 2.067, 1.61
	d := pad.Document{
		Pump: p.pump, Filter: filters[p.filter], Heater: p.heater, Cell: p.cell, CheckValve: p.heater != nil,
		Suction: []pad.Line{
			{
				ID:      "skimmer",
				Name:    "Skimmer",
				Kind:    pad.Skimmer,
				Run:     pad.Run{BoreIn: inch2, LengthFt: p.suctionFt, FittingsK: 3},
				Opening: 1,
			},
			{
				ID:      "drain",
				Name:    "Main drain",
				Kind:    pad.Drain,
				Run:     pad.Run{BoreIn: inch2, LengthFt: p.suctionFt + 15, FittingsK: 3},
				Opening: 0.5,
			}},
		SuctionTrunk: pad.Run{
			BoreIn:    inch2,
			LengthFt:  5,
			FittingsK: 1.5,
		}, Discharge: pad.Run{BoreIn: inch2, LengthFt: 4, FittingsK: 2},
		ReturnTrunk: pad.Run{BoreIn: inch2, LengthFt: p.returnFt, FittingsK: 4},
		Returns: []pad.Line{
			{
				ID:        "return-1",
				Name:      "Return by the steps",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: inch15, LengthFt: 15, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.85,
			},
			{
				ID:        "return-2",
				Name:      "Deep-end return",
				Kind:      pad.Return,
				Run:       pad.Run{BoreIn: inch15, LengthFt: 30, FittingsK: 2},
				Opening:   1,
				EyeballIn: 0.85,
			}},
		VacuumTap: pad.TapPot, GaugeHeightFt: 2.5, PumpHeightFt: 1, Programme: p.programme, Meters: pad.UsualMeters(),
	}
	if p.spa {
		d.Spa = &pad.Spa{SurfaceFt: 1.2, Gallons: 620, DrawGallons: 470, Spills: true}
		d.HeaterBypass = &pad.Bypass{BoreIn: inch2}
		d.Valves = []pad.Diverter{
			{ID: "suction-valve", Name: "Suction valve", Side: pad.SuctionSide, BoreIn: inch2, AngleDeg: 180},
			{ID: "return-valve", Name: "Return valve", Side: pad.ReturnSide, BoreIn: inch2, AngleDeg: 180},
		}
		for i := range d.Suction {
			d.Suction[i].On = "suction-valve:a"
		}
		for i := range d.Returns {
			d.Returns[i].On = "return-valve:a"
		}
		d.Suction = append(
			d.Suction,
			pad.Line{
				ID:        "spa-drain",
				Name:      "Spa drain",
				Kind:      pad.SpaDrain,
				Run:       pad.Run{BoreIn: inch2, LengthFt: p.suctionFt, FittingsK: 3},
				Opening:   1,
				RatingGPM: 105,
				On:        "suction-valve:b",
			},
		)
		d.Returns = append(
			d.Returns,
			pad.Line{
				ID:         "spa-jets",
				Name:       "Spa jets",
				Kind:       pad.SpaJets,
				Run:        pad.Run{BoreIn: inch2, LengthFt: p.returnFt, FittingsK: 4},
				Opening:    1,
				EyeballIn:  1.4,
				On:         "return-valve:b",
				CheckValve: true,
			},
		)
	}
	if filters[p.filter].Valve != pad.NoValve {
		d.Waste = &pad.WasteLine{Run: pad.Run{BoreIn: inch2, LengthFt: 35, FittingsK: 3}}
	}
	if p.pump.Model == brook25.Model { // pump and cartridge in one, on hoses, beside the pool
		hose := pad.Run{BoreIn: 1.25, LengthFt: 6, FittingsK: 2}
		d.Unit, d.PumpHeightFt, d.GaugeHeightFt = pad.AboveGround, -1.5, -1
		d.Suction = []pad.Line{{ID: "lower", Name: "Lower hose", Kind: pad.Skimmer, Run: hose, Opening: 1}}
		d.Returns = []pad.Line{{ID: "upper", Name: "Upper hose", Kind: pad.Return, Run: hose, Opening: 1, EyeballIn: 1}}
		d.SuctionTrunk, d.Discharge, d.ReturnTrunk = pad.Run{
			BoreIn:   1.25,
			LengthFt: 1,
		}, pad.Run{
			BoreIn:   1.25,
			LengthFt: 1,
		}, pad.Run{
			BoreIn:   1.25,
			LengthFt: 1,
		}
	}
	if p.noMeters {
		d.Meters.HasVacuum, d.Meters.HasFlow, d.Meters.HasPower, d.VacuumTap = false, false, false, pad.NoTap
	}
	return d
}

// parts are the made-up equipment and how old it is, years; what it lasts is its
// kind's.
func (p *place) parts() []part {
	out := []part{
		{"pump", p.pump.Model, 4.7},
		{"filter-tank", filters[p.filter].Model, 9.5},
		{"lid-o-ring", p.pump.Model, 0.4},
		{"tank-gauge", "0–60 psi", 3},
	}
	switch filters[p.filter].Kind {
	case pad.Sand:
		out = append(out, part{"sand", "No. 20 silica", 3.4}, part{"multiport-gasket", "spoked", 3.5})
	case pad.Cartridge:
		out = append(out, part{"cartridge", filters[p.filter].Model, 1.6})
	case pad.DE:
		out = append(out, part{"grids", filters[p.filter].Model, 3.1}, part{"multiport-gasket", "spoked", 2.2})
	}
	if p.heater != nil {
		out = append(out, part{"heater", p.heater.Model, 7.1})
	}
	if p.cell != nil {
		out = append(out, part{"salt-cell", p.cell.Model, 3.2}, part{"zinc-anode", "bar", 1.4})
	}
	for i := range out {
		if age, ok := p.aged[out[i].kind]; ok {
			out[i].age = age
		}
	}
	return out
}

type part struct {
	kind, model string
	age         float64
}
