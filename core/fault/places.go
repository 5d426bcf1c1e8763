package fault

import (
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/words"
)

// blocked are the severity steps of a passage: the share that is blocked, close
// enough together that no real one falls between two steps.
var blocked = []float64{0.18, 0.36, 0.52, 0.65, 0.76, 0.84, 0.90, 0.95}

// restriction is the extra head (m, at the element's clean flow at top speed) of
// a passage blocked to a share s: nearly nothing at first, a wall at the end.
func restriction(step int) float64 {
	s := blocked[step]
	x := s / (1 - s)
	return 3 * x * x
}

func one(effects func(int) plumbing.Effects) func(*pad.Document) []Place {
	return func(*pad.Document) []Place { return []Place{{Effects: effects}} }
}

// sound is no effect on the water; stopped is a pump that does not turn.
func sound(int) plumbing.Effects   { return plumbing.Effects{} }
func stopped(int) plumbing.Effects { return plumbing.Effects{Stopped: true} }

var airShares = []float64{0.03, 0.06, 0.10, 0.16, 0.26, 0.42}

// airTwice is one place in two ways: how far a leak draws more when the pump pulls
// harder nobody knows, so half of it goes with the speed and half does not.
func airTwice(p Place) []Place {
	a, b := p, p
	a.Effects = func(step int) plumbing.Effects { return plumbing.Effects{Air: airShares[step]} }
	b.Effects = func(step int) plumbing.Effects { return plumbing.Effects{Air: airShares[step], AirSteady: true} }
	return []Place{a, b}
}

func air(*pad.Document) []Place { return airTwice(Place{}) }

// airBound is a pump that has lost its prime: it churns what is left in the pot,
// whatever its speed.
func airBound(step int) plumbing.Effects {
	return plumbing.Effects{
		Air:          0.2,
		HeadLost:     []float64{0.82, 0.93, 0.985}[step],
		CapacityLost: []float64{0.5, 0.75, 0.93}[step],
	}
}

var (
	fouling  = []float64{1, 1, 1, 1, 1, 1, 0.8, 0.5}
	mostly   = []float64{0.6, 1, 1.2, 1.4, 1.5, 1.5, 1.4, 1.2} // noticed when it is bad
	airMild  = []float64{5, 5, 4, 3, 1.5, 0.5}                 // most leaks are small
	clogHard = []float64{0.6, 0.7, 0.9, 1.2, 1.8, 3, 5, 5}     // most clogs are found nearly shut
)

// Seasons of their own: leaves come down in autumn, water evaporates and motors
// run hot in summer (common practice; the factors are ours).
var (
	leaves = map[Season]float64{Autumn: 1.9, Winter: 0.7}
	heat   = map[Season]float64{Summer: 2, Winter: 0.4}
)

func suctionPlaces(d *pad.Document, kind pad.LineKind, extra func(int) float64, canShut bool) []Place {
	var out []Place
	for i, l := range d.Suction {
		if (kind != "" && l.Kind != kind) || l.Opening == 0 {
			continue
		}
		out = append(out, Place{Name: words.Named(l.Name), Effects: func(step int) plumbing.Effects {
			shut := canShut && step == len(blocked)-1 && len(d.Suction) > 1
			return plumbing.Effects{SuctionLine: i, SuctionExtra: extra(step), SuctionShut: shut}
		}})
	}
	return out
}

func returnPlaces(d *pad.Document) []Place {
	out := []Place{
		{
			Name: "fault.common-run",
			Effects: func(i int) plumbing.Effects {
				return plumbing.Effects{ReturnLine: -1,
					ReturnExtra: restriction(i)}
			},
		},
	}
	for i, l := range d.Returns {
		if l.Opening > 0 {
			out = append(out, Place{Name: words.Named(l.Name), Effects: func(step int) plumbing.Effects {
				return plumbing.Effects{ReturnLine: i, ReturnExtra: 3 * restriction(step)}
			}})
		}
	}
	return out
}

// settingPlaces are the settings that a filter valve may have been left in.
func settingPlaces(d *pad.Document) []Place {
	var out []Place
	for _, set := range d.Settings() {
		if set == pad.SetFilter || set == pad.SetWinter {
			continue
		}
		out = append(
			out,
			Place{
				Name:    words.Of("fault.place.on", "setting", words.Msg(set.Words())),
				Effects: func(int) plumbing.Effects { return plumbing.Effects{Setting: set} },
				Signs:   atWaste[set],
			},
		)
	}
	return out
}

// spaPlaces are the valves between pool and spa standing so, on a pad that has
// them.
func spaPlaces(suction, back pad.Body) func(*pad.Document) []Place {
	return func(d *pad.Document) []Place {
		if _, ok := d.SpaMode(); !ok {
			return nil
		}
		return []Place{
			{Effects: func(int) plumbing.Effects { return plumbing.Effects{SpaSuction: suction, SpaReturn: back} }},
		}
	}
}

// atWaste is what each setting shows at the end of the waste line, and at the
// pool's level.
var atWaste = map[pad.Setting]map[Sign]float64{
	pad.SetBackwash:    {WasteWet: 0.95, LevelLow: 0.4},
	pad.SetRinse:       {WasteWet: 0.95, LevelLow: 0.4},
	pad.SetWaste:       {WasteWet: 0.97, LevelLow: 0.5},
	pad.SetRecirculate: {WasteWet: 0.003},
	pad.SetClosed:      {WasteWet: 0.01},
}

// fouled are the loads that stay after a cleaning.
var fouled = []float64{0.25, 0.45, 0.65, 0.9, 1.2, 1.6, 2.3, 3.4}

// fouledPlaces: elements are soaked; sand never is.
func fouledPlaces(d *pad.Document) []Place {
	p := Place{Effects: func(i int) plumbing.Effects { return plumbing.Effects{Load: fouled[i]} }}
	if d.Filter.Kind == pad.Sand {
		p.Settle = "fault.the-reading-straight-after-a"
		p.Fix = "fault.look-at-depth-and-channels"
		p.Minutes = 60
		return []Place{p}
	}
	p.Settle = "fault.drain-test-on-an-element"
	p.Fix = "fault.soak-degreaser-rinse-well-then"
	p.Caution = "fault.stored-pressure-pump-off-power"
	return []Place{p}
}

// gaugePlaces are the ways in which a gauge lies (shares ours).
func gaugePlaces(*pad.Document) []Place {
	return []Place{
		{
			Name:    "fault.offset",
			Gauge:   Offset,
			Effects: sound,
			Share:   3,
			Signs:   map[Sign]float64{NeedleAtRest: 0.93},
			Settle:  "fault.pump-off-bleed-open-the",
		},
		{
			Name:    "fault.scale",
			Gauge:   Scale,
			Effects: sound,
			Share:   2,
			Signs:   map[Sign]float64{NeedleAtRest: 0.03},
			Settle:  "fault.right-at-rest-wrong-by",
		},
		{
			Name:    "fault.stuck",
			Gauge:   Stuck,
			Effects: sound,
			Share:   2.5,
			Signs:   map[Sign]float64{NeedleAtRest: 0.85, NeedleBounces: 0.005},
			Settle:  "fault.it-does-not-move-between",
		},
		{
			Name:    "fault.plugged",
			Gauge:   Plugged,
			Effects: sound,
			Share:   1,
			Signs:   map[Sign]float64{NeedleAtRest: 0.5, NeedleBounces: 0.005},
			Settle:  "fault.it-creeps-after-a-change",
		},
	}
}

// humPlaces are the two reasons of a hum: a jam is far more common than a dead
// start capacitor, and only the first is ours.
func humPlaces(*pad.Document) []Place {
	return []Place{
		{
			Name:    "fault.impeller-jammed",
			Effects: stopped,
			Share:   3,
			Signs:   map[Sign]float64{ShaftFree: 0.04, DebrisFound: 0.75, Screech: 0.02},
			Fix:     "fault.power-locked-off-pull-the",
			Who:     Anybody,
		},
		{
			Name:    "fault.start-capacitor-or-bearings",
			Effects: stopped,
			Share:   1.3,
			Signs:   map[Sign]float64{ShaftFree: 0.9, DebrisFound: 0.02, Screech: 0.3},
			Fix:     "fault.start-capacitor-windings-and-bearings",
			Who:     Electrician,
			Minutes: 15,
		},
	}
}

// airPlaces is air at a joint near the pump. Below the water's surface the same
// joint drips where another draws air.
func airPlaces(drip Sign) func(*pad.Document) []Place {
	return func(d *pad.Document) []Place {
		var p Place
		if d.PumpHeightFt < 0 {
			p.Air, p.Signs = 0.3, map[Sign]float64{drip: 0.85, PotDrains: 0.02}
		}
		return airTwice(p)
	}
}
