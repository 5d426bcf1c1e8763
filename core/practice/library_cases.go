package practice

import (
	"cmp"
	"maps"
	"slices"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// written is a case of the library, a field a line; its words stand under practice.case.<id>.
type written struct {
	id       string
	level    Level
	theme    Theme
	pad      string
	month    int
	load     float64
	forecast float64
	hidden   []Hidden
	called   bool
	told     map[fault.Sign]bool
	parts    Parts
	seed     uint64 // 0: its place here
}

func one(id fault.ID, place, step int) []Hidden { return []Hidden{{id, place, step}} }

func is(ids ...fault.Sign) map[fault.Sign]bool {
	out := map[fault.Sign]bool{}
	for _, id := range ids {
		out[id] = true
	}
	return out
}

func at(set pad.Setting, rpm float64) []Way { return []Way{{string(set), rpm}} }

// library is written to teach one discrimination a case, easiest first.
var library = []written{
	{
		id:       "bubbles-after-the-weekend",
		level:    FirstWeek,
		theme:    Air,
		pad:      SandSpeeds,
		month:    6,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.AirLid, 0, 3),
		told:     is(fault.Bubbles),
		parts:    Parts{This: fault.AirLid, That: fault.WaterLow, Signs: []fault.Sign{fault.LevelLow, fault.FoamLid}},
	},
	{
		id:       "gulping-by-the-steps",
		level:    FirstWeek,
		theme:    Air,
		pad:      Cartridge,
		month:    8,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.WaterLow, 0, 3),
		told:     is(fault.Bubbles),
		parts:    Parts{This: fault.WaterLow, That: fault.AirLid, Signs: []fault.Sign{fault.LevelLow}},
	},
	{
		id:       "air-that-the-lid-does-not-let-in",
		level:    Season,
		theme:    Air,
		pad:      SandSpeeds,
		month:    5,
		load:     0.5,
		forecast: 0.5,
		hidden:   one(fault.AirInlet, 0, 3),
		told:     is(fault.AirInPot),
		parts:    Parts{This: fault.AirInlet, That: fault.AirLid, Signs: []fault.Sign{fault.FoamLid, fault.FoamInlet}},
	},
	{
		id:       "air-from-further-back",
		level:    Season,
		theme:    Air,
		pad:      GridsDE,
		month:    7,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.AirUpstream, 0, 3),
		told:     is(fault.AirInPot),
		parts: Parts{
			This:  fault.AirUpstream,
			That:  fault.AirInlet,
			Signs: []fault.Sign{fault.FoamInlet, fault.FoamJoint},
		},
	},
	{
		id:       "it-runs-and-nothing-comes",
		level:    Season,
		theme:    Air,
		pad:      Cartridge,
		month:    4,
		load:     0.2,
		forecast: 0.2,
		hidden:   one(fault.PrimeLost, 0, 1),
		called:   true,
		parts: Parts{
			This:  fault.PrimeLost,
			That:  fault.ImpellerClogged,
			Signs: []fault.Sign{fault.PotNotFull, fault.DebrisFound},
		},
	},
	{
		id:       "an-empty-pot-each-morning",
		level:    Season,
		theme:    Air,
		pad:      SandSpeeds,
		month:    9,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.DrainBack, 0, 0),
		told:     is(fault.PotDrains),
		parts: Parts{
			This:  fault.DrainBack,
			That:  fault.AirLid,
			Signs: []fault.Sign{fault.BackWhenOff, fault.LidTestHolds},
		},
	},
	{
		id:       "after-the-storm",
		level:    FirstWeek,
		theme:    Suction,
		pad:      SandSpeeds,
		month:    10,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.BasketFullFault, 0, 2),
		told:     is(fault.Storm),
		parts: Parts{
			This:  fault.BasketFullFault,
			That:  fault.SkimmerBlocked,
			Signs: []fault.Sign{fault.SkimmerFull, fault.BasketFull},
		},
	},
	{
		id:       "leaves-at-the-mouth",
		level:    FirstWeek,
		theme:    Suction,
		pad:      Cartridge,
		month:    11,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.SkimmerBlocked, 0, 6),
		parts: Parts{
			This:  fault.SkimmerBlocked,
			That:  fault.BasketFullFault,
			Signs: []fault.Sign{fault.SkimmerFull},
		},
	},
	{
		id:       "somebody-was-at-the-handles",
		level:    FirstWeek,
		theme:    Suction,
		pad:      GridsDE,
		month:    6,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.SuctionValve, 0, 5),
		told:     is(fault.WorkedHere),
		parts:    Parts{This: fault.SuctionValve, That: fault.SkimmerBlocked, Signs: []fault.Sign{fault.HandleWrong}},
	},
	{
		id:       "the-spa-pulls-well",
		level:    Season,
		theme:    Suction,
		pad:      SandSpa,
		month:    7,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.SuctionLine, 0, 7),
		parts: Parts{
			This:  fault.SuctionLine,
			That:  fault.SkimmerBlocked,
			Signs: []fault.Sign{fault.SkimmerFull, fault.SpaFine},
		},
	},
	{
		id:       "basket-work-the-day-before",
		level:    FirstWeek,
		theme:    Suction,
		pad:      SandSingle,
		month:    5,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.SuctionAllShut, 0, 0),
		called:   true,
		told:     is(fault.WorkedHere),
		parts: Parts{
			This:  fault.SuctionAllShut,
			That:  fault.BasketFullFault,
			Signs: []fault.Sign{fault.HandleWrong},
		},
	},
	{
		id:       "a-pump-that-moves-little",
		level:    Season,
		theme:    Suction,
		pad:      SandSpeeds,
		month:    10,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.ImpellerClogged, 0, 3),
		parts:    Parts{This: fault.ImpellerClogged, That: fault.AirLid, Signs: []fault.Sign{fault.DebrisFound}},
	},
	{
		id:       "weak-at-every-speed",
		level:    OldHand,
		theme:    Suction,
		pad:      GridsDE,
		month:    7,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.ImpellerWorn, 0, 2),
		called:   true,
		told:     map[fault.Sign]bool{fault.AirInPot: false, fault.WeakAll: true},
		parts: Parts{
			This:  fault.ImpellerWorn,
			That:  fault.ImpellerClogged,
			Signs: []fault.Sign{fault.DebrisFound},
		},
	},
	{
		id:       "ten-pounds-over",
		level:    FirstWeek,
		theme:    Filter,
		pad:      SandSpeeds,
		month:    6,
		load:     1.7,
		forecast: 0.45,
		hidden:   one(fault.FilterLoaded, 0, 0),
		told:     is(fault.WorkedHere),
		parts: Parts{
			This:  fault.FilterLoaded,
			That:  fault.ReturnRestricted,
			Reads: at(pad.SetRecirculate, 2600),
		},
	},
	{
		id:       "as-dirty-as-it-looks",
		level:    FirstWeek,
		theme:    Filter,
		pad:      SandSpeeds,
		month:    6,
		load:     0.2,
		forecast: 0.25,
		hidden:   one(fault.ReturnRestricted, 0, 6),
		told:     is(fault.WorkedHere),
		parts: Parts{
			This:  fault.ReturnRestricted,
			That:  fault.FilterLoaded,
			Reads: at(pad.SetRecirculate, 2600),
		},
	},
	{
		id:       "clean-last-week-and-high-again",
		level:    Season,
		theme:    Filter,
		pad:      Cartridge,
		month:    8,
		load:     0.1,
		forecast: 0.15,
		hidden:   one(fault.MediaFouled, 0, 4),
		told:     is(fault.ShorterCycles),
		parts:    Parts{This: fault.MediaFouled, That: fault.FilterLoaded, Signs: []fault.Sign{fault.SlowDrainTest}},
	},
	{
		id:       "easy-water-dull-pool",
		level:    OldHand,
		theme:    Filter,
		pad:      SandSpeeds,
		month:    8,
		load:     0.7,
		forecast: 0.7,
		hidden:   one(fault.BedChannelled, 0, 2),
		told:     is(fault.WaterDull),
		parts: Parts{
			This:  fault.BedChannelled,
			That:  fault.ValvePosition,
			Signs: []fault.Sign{fault.FilterValveOff},
		},
	},
	{
		id:       "a-gauge-that-never-sleeps",
		level:    FirstWeek,
		theme:    Filter,
		pad:      SandSpeeds,
		month:    6,
		load:     0.4,
		forecast: 0.85,
		seed:     33,
		hidden:   one(fault.GaugeBad, 0, 2),
		parts:    Parts{This: fault.GaugeBad, That: fault.FilterLoaded, Signs: []fault.Sign{fault.NeedleAtRest}},
	},
	{
		id:       "one-figure-at-both-speeds",
		level:    Season,
		theme:    Filter,
		pad:      SlideTwo,
		month:    5,
		load:     0.4,
		forecast: 0.85,
		seed:     37,
		hidden:   one(fault.GaugeBad, 2, 0),
		parts:    Parts{This: fault.GaugeBad, That: fault.FilterLoaded, Reads: at(pad.SetFilter, 1725)},
	},
	{
		id:       "powder-at-the-returns",
		level:    Season,
		theme:    Filter,
		pad:      GridsDE,
		month:    6,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.MediaInPool, 0, 1),
		called:   true,
		told:     is(fault.WaterDull),
		parts: Parts{
			This:  fault.MediaInPool,
			That:  fault.ValveGasket,
			Signs: []fault.Sign{fault.MediaSeen},
		},
	},
	{
		id:       "a-trickle-at-the-waste",
		level:    Season,
		theme:    Filter,
		pad:      SandSpeeds,
		month:    7,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.ValveGasket, 0, 2),
		told:     is(fault.WasteWet),
		parts:    Parts{This: fault.ValveGasket, That: fault.ValvePosition, Signs: []fault.Sign{fault.FilterValveOff}},
	},
	{
		id:       "left-on-recirculate",
		level:    FirstWeek,
		theme:    Filter,
		pad:      SandSpeeds,
		month:    6,
		load:     0.4,
		forecast: 0.4,
		hidden:   one(fault.ValvePosition, 3, 0),
		told:     is(fault.WorkedHere),
		parts: Parts{
			This:  fault.ValvePosition,
			That:  fault.BedChannelled,
			Signs: []fault.Sign{fault.FilterValveOff},
		},
	},
	{
		id:       "the-spa-found-empty",
		level:    FirstWeek,
		theme:    SpaValves,
		pad:      SandSpa,
		month:    4,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.SpaDraining, 0, 0),
		called:   true,
		told:     is(fault.WorkedHere),
		parts: Parts{
			This:  fault.SpaDraining,
			That:  fault.LeftInSpa,
			Signs: []fault.Sign{fault.SpaFalling},
		},
	},
	{
		id:       "used-on-sunday",
		level:    FirstWeek,
		theme:    SpaValves,
		pad:      SandSpa,
		month:    12,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.LeftInSpa, 0, 0),
		called:   true,
		told:     is(fault.WaterDull),
		parts: Parts{
			This:  fault.LeftInSpa,
			That:  fault.SpaDraining,
			Signs: []fault.Sign{fault.SpaFalling, fault.HandleWrong},
		},
	},
	{
		id:       "over-the-edge",
		level:    Season,
		theme:    SpaValves,
		pad:      SandSpa,
		month:    5,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.SpaFilling, 0, 0),
		called:   true,
		parts: Parts{
			This:  fault.SpaFilling,
			That:  fault.SpaDraining,
			Signs: []fault.Sign{fault.SpaRising},
		},
	},
	{
		id:       "a-hum-and-no-turn",
		level:    FirstWeek,
		theme:    Electrical,
		pad:      SandSingle,
		month:    10,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.MotorHums, 0, 0),
		called:   true,
		parts:    Parts{This: fault.MotorHums, That: fault.NoPower, Signs: []fault.Sign{fault.Hums}},
	},
	{
		id:       "the-shaft-turns-by-hand",
		level:    Season,
		theme:    Electrical,
		pad:      SlideTwo,
		month:    7,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.MotorHums, 1, 0),
		called:   true,
		told:     is(fault.Hums),
		parts: Parts{
			This:      fault.MotorHums,
			That:      fault.MotorHums,
			ThatPlace: 0,
			Signs:     []fault.Sign{fault.ShaftFree},
		},
	},
	{
		id:       "nothing-stirs",
		level:    FirstWeek,
		theme:    Electrical,
		pad:      SandSpeeds,
		month:    2,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.NoPower, 0, 0),
		called:   true,
		parts:    Parts{This: fault.NoPower, That: fault.MotorHums, Signs: []fault.Sign{fault.Silent, fault.Hums}},
	},
	{
		id:       "off-every-afternoon",
		level:    Season,
		theme:    Electrical,
		pad:      SandSingle,
		month:    8,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.MotorHot, 0, 0),
		called:   true,
		parts:    Parts{This: fault.MotorHot, That: fault.Healthy, Signs: []fault.Sign{fault.CutsOut, fault.NoVents}},
	},
	{
		id:       "it-holds-its-flow-and-hides-it",
		level:    OldHand,
		theme:    Holding,
		pad:      HoldsFlow,
		month:    7,
		load:     1.6,
		forecast: 0.9,
		hidden:   one(fault.FilterLoaded, 0, 0),
		parts:    Parts{This: fault.FilterLoaded, That: fault.Healthy, Reads: at(pad.SetFilter, 2600)},
	},
	{
		id:       "a-hose-full-of-air",
		level:    FirstWeek,
		theme:    Small,
		pad:      SmallUnit,
		month:    6,
		load:     0.3,
		forecast: 0.3,
		hidden:   one(fault.AirlockSmall, 0, 0),
		called:   true,
		told:     is(fault.WorkedHere),
		parts:    Parts{This: fault.AirlockSmall, That: fault.ImpellerClogged, Signs: []fault.Sign{fault.DebrisFound}},
	},
	{
		id:       "a-plug-from-last-autumn",
		level:    Season,
		theme:    Opening,
		pad:      SandSpeeds,
		month:    4,
		load:     0.1,
		forecast: 0.1,
		hidden:   one(fault.ReturnRestricted, 1, 7),
		told:     is(fault.WorkedHere),
		parts: Parts{
			This:  fault.ReturnRestricted,
			That:  fault.Healthy,
			Signs: []fault.Sign{fault.WeakOne},
			Reads: at(pad.SetFilter, 3450),
		},
	},
	{
		id:       "dirty-and-drawing-air",
		level:    OldHand,
		theme:    Opening,
		pad:      SandSpeeds,
		month:    4,
		load:     1.7,
		forecast: 0.8,
		hidden:   []Hidden{{fault.FilterLoaded, 0, 0}, {fault.AirLid, 0, 2}},
		parts:    Parts{This: fault.AirLid, That: fault.WaterLow, Signs: []fault.Sign{fault.LevelLow, fault.FoamLid}},
	},
}

// Library are the written cases, easiest first.
func Library() []*Case {
	out := make([]*Case, 0, len(library))
	for i := range library {
		w := &library[i]
		parts := w.parts
		out = append(out, &Case{
			ID:       w.id,
			Title:    words.Message("practice.case." + w.id + ".title"),
			Story:    words.Message("practice.case." + w.id + ".story"),
			Lesson:   words.Message("practice.case." + w.id + ".lesson"),
			Level:    w.level,
			Theme:    w.theme,
			Pad:      w.pad,
			Month:    w.month,
			Load:     w.load,
			Forecast: w.forecast,
			Hidden:   slices.Clone(w.hidden),
			Called:   w.called,
			Told:     maps.Clone(w.told),
			Typical:  true,
			Parts:    &parts,
			Seed:     cmp.Or(w.seed, uint64(i+1)),
		})
	}
	return out
}

// Find is a written case by its id.
func Find(id string) (*Case, bool) {
	all := Library()
	i := slices.IndexFunc(all, func(c *Case) bool { return c.ID == id })
	if i < 0 {
		return nil, false
	}
	return all[i], true
}
