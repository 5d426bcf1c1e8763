// Package fault is the catalogue: what can be wrong at a pad, what that does to
// the water, how it shows, what settles it and what mends it. It is data; the
// engine that weighs it is core/diagnosis.
//
// Frequencies and probabilities are ours, from common practice on residential
// routes: weekly on a fifty-pool route is 0.02 a pool-visit.
package fault

import (
	"math"

	"fairlap/core/pad"
)

// ID names a fault.
type ID string

// The faults of the catalogue. FilterLoaded is healthy hydraulics with the load
// at or over its limit: it shares Healthy's entry in the engine.
const (
	Healthy          ID = "healthy"
	FilterLoaded     ID = "filter-loaded"
	BasketFullFault  ID = "basket-full"
	SkimmerBlocked   ID = "skimmer-blocked"
	SuctionValve     ID = "suction-valve-wrong"
	WaterLow         ID = "water-low"
	AirLid           ID = "air-lid"
	AirInlet         ID = "air-inlet-fitting"
	ImpellerClogged  ID = "impeller-clogged"
	ImpellerWorn     ID = "impeller-worn"
	PrimeLost        ID = "prime-lost"
	ReturnRestricted ID = "return-restricted"
	MediaFouled      ID = "media-fouled"
	BedChannelled    ID = "bed-channelled"
	GaugeBad         ID = "gauge-bad"

	SuctionLine     ID = "suction-line-blocked"
	AirUpstream     ID = "air-upstream"
	DrainBack       ID = "drain-back"
	MotorHums       ID = "motor-hums"
	NoPower         ID = "no-power"
	MotorHot        ID = "motor-hot"
	SealLeak        ID = "seal-leak"
	HousingLeak     ID = "housing-leak"
	OutletLeak      ID = "outlet-fitting-leak"
	Cavitation      ID = "cavitation"
	SpeedLow        ID = "speed-low"
	WrongMode       ID = "wrong-mode"
	PumpOversized   ID = "pump-oversized"
	PumpUndersized  ID = "pump-undersized"
	MediaInPool     ID = "media-in-pool"
	ValveGasket     ID = "valve-gasket"
	ValvePosition   ID = "valve-position"
	TankLeak        ID = "tank-leak"
	CheckValveStuck ID = "check-valve-stuck"
	BypassOpen      ID = "heater-bypass-open"
	HeaterLowFlow   ID = "heater-low-flow"
	CellNoFlow      ID = "cell-no-flow"
	SpaDraining     ID = "spa-draining"
	SpaFilling      ID = "spa-filling"
	LeftInSpa       ID = "left-in-spa"
	RuntimeShort    ID = "runtime-short"
	AirlockSmall    ID = "airlock-small"
)

// Priors by how often a fault is met, per pool-visit on a fifty-pool route.
const (
	weekly   = 0.02
	monthly  = 0.0046
	fewAYear = 0.00115
	rare     = 0.0002
)

// Action is what a fault acts on.
type Action string

// What faults act on.
const (
	Hydraulic Action = ""      // Effects tell all
	Gauge     Action = "gauge" // the tank gauge reads free of the truth
)

// Season is a time of the year.
type Season string

// The seasons; "" is not known.
const (
	Winter Season = "winter"
	Spring Season = "spring"
	Summer Season = "summer"
	Autumn Season = "autumn"
)

// SeasonOf gives the season of a month, 1 to 12, by whole months; south of the
// equator it is the other half of the year.
func SeasonOf(month int, south bool) Season {
	if month < 1 || month > 12 {
		return ""
	}
	if south {
		month += 6
	}
	return [...]Season{Winter, Spring, Summer, Autumn}[month%12/3]
}

// Seasonal is what a season makes of the fault's prior. Over the four seasons
// the factors' mean is one, so that a year's count stays the prior's.
func (f *Fault) Seasonal(s Season) float64 {
	if s == "" || len(f.In) == 0 {
		return 1
	}
	if x, ok := f.In[s]; ok {
		return x
	}
	sum := 0.0
	for _, x := range f.In {
		sum += x
	}
	return math.Max(0.1, (4-sum)/float64(4-len(f.In)))
}

// Place is one way a fault can sit on a pad: a name for where, "" when there is
// only one, and its effects by severity step.
type Place struct {
	Name    string
	Effects func(step int) pad.Effects
}

// Fault is one entry of the catalogue.
type Fault struct {
	ID      ID
	Name    string
	Prior   float64
	Kind    Action
	Weights []float64 // prior over the severity steps
	Places  func(d *pad.Document) []Place
	Air     float64          // P(air at the pump | fault)
	Signs   map[Sign]float64 // P(yes | fault), where it differs from the sign's base
	// In is how many times likelier than its prior the fault is in a season, and
	// rarer in the others; absent is no season of its own.
	In map[Season]float64
	// Chronic findings (sizing, hours) stand beside the acute suspects, not against
	// them: each is weighed alone.
	Chronic bool
	Who     Who
	Settle  string // the check that settles it
	Fix     string
	Minutes float64 // of the fix
	Caution string
}

// Who may do a fix.
type Who string

// Who may do the fixes; "" is any technician.
const (
	Electrician Who = "licensed electrician"
	Specialist  Who = "leak or line specialist"
)

// Cautions that several faults share; handbook words, kept short.
const (
	cautionPot  = "Open the pot only with the breaker or disconnect off; after a dry run it is scalding."
	cautionTank = "Stored pressure: pump off, power locked off, bleed open and nothing coming out before touching band, clamp or lid."
	cautionTurn = "Move a handle only with the pump off."
	cautionBite = "Power locked off at the disconnect before a hand goes in."
)

// blocked are the severity steps of a passage: the share that is blocked, close
// enough together that no real one falls between two steps.
var blocked = []float64{0.15, 0.30, 0.43, 0.55, 0.65, 0.73, 0.80, 0.86, 0.91, 0.95}

// restriction is the extra head (m, at the element's clean flow at top speed) of
// a passage blocked to a share s: nearly nothing at first, a wall at the end.
func restriction(step int) float64 {
	s := blocked[step]
	x := s / (1 - s)
	return 3 * x * x
}

func one(effects func(int) pad.Effects) func(*pad.Document) []Place {
	return func(*pad.Document) []Place { return []Place{{"", effects}} }
}

// sound is no effect on the water; stopped is a pump that does not turn.
func sound(int) pad.Effects   { return pad.Effects{} }
func stopped(int) pad.Effects { return pad.Effects{Stopped: true} }

var airShares = []float64{0.03, 0.06, 0.10, 0.16, 0.26, 0.42}

func airEffects(step int) pad.Effects { return pad.Effects{Air: airShares[step]} }

var (
	evenly   = []float64{1, 1, 1, 1, 1, 1}
	mostly   = []float64{0.5, 0.8, 1, 1, 1.2, 1.2, 1.2, 1.2, 1.2, 1} // noticed when it is bad
	airMild  = []float64{5, 5, 4, 3, 1.5, 0.5}                       // most leaks are small
	clogHard = []float64{1, 1.2, 1.8, 3, 4, 4}                       // most clogs are found nearly shut
)

// Seasons of their own: leaves come down in autumn, water evaporates and motors
// run hot in summer (common practice; the factors are ours).
var (
	leaves = map[Season]float64{Autumn: 1.9, Winter: 0.7}
	heat   = map[Season]float64{Summer: 2, Winter: 0.4}
)

// Catalogue lists every fault, Healthy first.
var Catalogue = []Fault{
	{ID: Healthy, Name: "Nothing wrong", Weights: []float64{1}, Places: one(func(int) pad.Effects { return pad.Effects{} }),
		Air: 0.02, Settle: "Readings on the clean line at another speed too.", Fix: "Nothing to do."},
	{ID: BasketFullFault, In: leaves, Name: "Pump basket full", Prior: weekly, Weights: mostly,
		Places: one(func(i int) pad.Effects { return pad.Effects{Basket: restriction(i)} }), Air: 0.10,
		Signs:  map[Sign]float64{BasketFull: 0.95, Storm: 0.3, Gravel: 0.08, BasketCracked: 0.1, SpaFine: 0.04},
		Settle: "Pump off, pull the basket and look.", Fix: "Empty it and look for cracks at the back.", Minutes: 4, Caution: cautionPot},
	{ID: SkimmerBlocked, In: leaves, Name: "Skimmer blocked", Prior: weekly, Weights: mostly, Air: 0.06,
		Places: func(d *pad.Document) []Place { return suctionPlaces(d, pad.Skimmer, restriction, false) },
		Signs:  map[Sign]float64{SkimmerFull: 0.985, NoPull: 0.85, Storm: 0.3, BasketFull: 0.08, Slurping: 0.05, SpaFine: 0.93},
		Settle: "Look at the skimmer's basket and weir.", Fix: "Empty the skimmer basket, free the weir.", Minutes: 3},
	{ID: SuctionValve, Name: "Suction valve wrong", Prior: monthly, Weights: mostly, Air: 0.06,
		Places: func(d *pad.Document) []Place { return suctionPlaces(d, "", restriction, true) },
		Signs:  map[Sign]float64{HandleWrong: 0.92, NoPull: 0.45, WorkedHere: 0.35, Gravel: 0.08, SpaFine: 0.85},
		Settle: "Read each suction handle: the closed mark points at the shut port.", Fix: "Pump off, set the handle.", Minutes: 2, Caution: cautionTurn},
	// The buried line: baskets look clean, and the other suction runs fine.
	{ID: SuctionLine, Name: "Suction line blocked", Prior: fewAYear, Weights: mostly, Air: 0.08,
		Places: func(d *pad.Document) []Place { return suctionPlaces(d, "", restriction, false) },
		Signs:  map[Sign]float64{SpaFine: 0.93, NoPull: 0.6, BasketFull: 0.04, Gravel: 0.1},
		Settle: "Switch to another suction line or the spa: full prime and pressure there, and it is this line.",
		Fix:    "Drain bladder on a garden hose from the skimmer's end; gas by a specialist.", Minutes: 40, Who: Specialist, Caution: cautionTurn},
	{ID: WaterLow, In: heat, Name: "Water level low", Prior: weekly, Weights: airMild, Places: one(airEffects), Air: 0.92,
		Signs:  map[Sign]float64{LevelLow: 0.97, Slurping: 0.7, PotNotFull: 0.3, PotDrains: 0.08, NoPull: 0.3, SpaFine: 0.9},
		Settle: "Look at the level against the skimmer's mouth.", Fix: "Fill; look at the auto-fill and for a leak.", Minutes: 3},
	{ID: AirLid, Name: "Air at the pot lid", Prior: weekly, Weights: airMild, Places: one(airEffects), Air: 0.95,
		Signs:  map[Sign]float64{PotDrains: 0.65, PotNotFull: 0.3, LidTestHolds: 0.9, WorkedHere: 0.15, DripLid: 0.15, FoamDents: 0.6, SpaFine: 0.05},
		Settle: "Grease the O-ring, run, stop and watch: does the pot now hold?", Fix: "Clean and grease the lid O-ring with a product made for O-rings; replace it when cracks show on bending.", Minutes: 6, Caution: cautionPot},
	{ID: AirInlet, Name: "Air at the inlet fitting", Prior: monthly, Weights: airMild, Places: one(airEffects), Air: 0.95,
		Signs:  map[Sign]float64{PotDrains: 0.65, PotNotFull: 0.3, LidTestHolds: 0.05, DripOutlet: 0.55, DripInlet: 0.3, FoamDents: 0.7, SpaFine: 0.05},
		Settle: "Foam at the thread with the pump running; look for a drip at the outlet.", Fix: "Cut out and replace the fitting (both, if both cooked); find why it ran dry.", Minutes: 60},
	// Foam finds it; the lid test does not help, no drip betrays it.
	{ID: AirUpstream, Name: "Air at a valve, union or line", Prior: fewAYear, Weights: airMild, Places: one(airEffects), Air: 0.95,
		Signs:  map[Sign]float64{FoamDents: 0.8, PotDrains: 0.6, PotNotFull: 0.3, LidTestHolds: 0.05, SpaFine: 0.5, WorkedHere: 0.15},
		Settle: "Foam on each joint in turn, pump on.", Fix: "Reseal or replace the joint.", Minutes: 40},
	// Nothing wrong while it runs: only the rest and the slow start tell.
	{ID: DrainBack, Name: "Water falls back when off", Prior: monthly, Weights: []float64{1}, Places: one(sound), Air: 0.25,
		Signs:  map[Sign]float64{PotDrains: 0.96, BackWhenOff: 0.6, LidTestHolds: 0.15},
		Settle: "Stop the pump, then shut the suction valve: if the pot now holds, the leak is upstream of it.", Fix: "Mend the leak found; a check valve.", Minutes: 30, Caution: cautionTurn},
	{ID: ImpellerClogged, In: leaves, Name: "Impeller clogged", Prior: weekly, Weights: clogHard, Air: 0.85,
		Places: one(func(i int) pad.Effects {
			return pad.Effects{CapacityLost: []float64{0.2, 0.35, 0.5, 0.68, 0.84, 0.96}[i]}
		}),
		Signs:  map[Sign]float64{DebrisFound: 0.92, PotNotFull: 0.35, BasketFull: 0.06, Storm: 0.2, BasketCracked: 0.3, SpaFine: 0.04},
		Settle: "Finger in the impeller, power locked off: debris, then a free spin.", Fix: "Pull the debris; mend the basket that let it by.", Minutes: 15, Caution: cautionBite},
	{ID: ImpellerWorn, Name: "Impeller worn", Prior: fewAYear, Weights: []float64{3, 3, 2, 1}, Air: 0.03,
		Places: one(func(i int) pad.Effects { return pad.Effects{HeadLost: []float64{0.1, 0.2, 0.32, 0.5}[i]} }),
		Signs:  map[Sign]float64{DebrisFound: 0.02, SpaFine: 0.04},
		Settle: "Readings at several speeds, against the record of the last months.", Fix: "Rebuild the wet end.", Minutes: 90, Caution: cautionBite},
	// A hum without a turn: a jam is far more common than a dead capacitor.
	{ID: MotorHums, Name: "Motor hums: jammed, or its start gone", Prior: monthly, Weights: []float64{1}, Places: one(stopped), Air: 0.02,
		Signs:  map[Sign]float64{Hums: 0.95, ShaftFree: 0.3, Silent: 0.02, CutsOut: 0.3, TripsAgain: 0.15, DebrisFound: 0.4, Screech: 0.1},
		Settle: "Power locked off: does the shaft turn by hand? Jammed, it is the impeller; free, the start capacitor or the bearings.",
		Fix:    "Free a jammed impeller. Capacitor, windings and bearings: licensed electrician.", Minutes: 25, Who: Electrician, Caution: cautionBite + " Capacitors stay charged."},
	{ID: NoPower, Name: "No power, or held off", Prior: monthly, Weights: []float64{1}, Places: one(stopped), Air: 0.02,
		Signs:  map[Sign]float64{Silent: 0.97, Hums: 0.01, DisplayAlarm: 0.4, ModeOff: 0.1, SpeedOff: 0.15, TripsAgain: 0.1},
		Settle: "Read the display, timer and breaker; one reset only.", Fix: "Set the schedule, clear the alarm's cause, reset once. If it trips again stop.", Minutes: 10, Who: Electrician, Caution: "Reset a tripped breaker once at most."},
	{ID: MotorHot, In: heat, Name: "Motor starved of air", Prior: fewAYear, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{CutsOut: 0.92, NoVents: 0.85, Screech: 0.1},
		Settle: "Look at the enclosure.", Fix: "Ventilate it and leave room to work.", Minutes: 20, Caution: "Hot case; rotating parts."},
	{ID: SealLeak, Name: "Shaft seal leaks", Prior: monthly, Weights: []float64{1}, Places: one(sound), Air: 0.03,
		Signs:  map[Sign]float64{DripSeal: 0.96, Screech: 0.12},
		Settle: "Look between wet end and motor.", Fix: "Replace the seal before the bearings go.", Minutes: 60, Caution: cautionBite},
	{ID: HousingLeak, Name: "Housing gasket leaks", Prior: monthly, Weights: []float64{1}, Places: one(sound), Air: 0.03,
		Signs:  map[Sign]float64{DripSeam: 0.95},
		Settle: "Look at the seam at start-up.", Fix: "Replace the gasket.", Minutes: 45, Caution: cautionBite},
	{ID: OutletLeak, Name: "Outlet fitting leaks", Prior: monthly, Weights: []float64{1}, Places: one(sound), Air: 0.05,
		Signs:  map[Sign]float64{DripOutlet: 0.97, DripInlet: 0.15},
		Settle: "Look at the outlet fitting.", Fix: "Replace it, add a union and a support. If heat did it, the inlet is burnt too.", Minutes: 60, Caution: cautionBite},
	// The eye boils: gravel, and a slower pump goes quiet.
	{ID: Cavitation, Name: "Cavitation: suction too tight for the speed", Prior: fewAYear, Weights: []float64{2, 1}, Air: 0.08,
		Places: one(func(i int) pad.Effects { return pad.Effects{HeadLost: []float64{0.06, 0.15}[i]} }),
		Signs:  map[Sign]float64{Gravel: 0.93},
		Settle: "Slow the pump: it goes away.", Fix: "Open the suction; lower the speed.", Minutes: 5, Caution: cautionTurn},
	{ID: SpeedLow, Name: "Speed or hours below the plan", Prior: monthly, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{SpeedOff: 0.95, WaterDull: 0.3, ModeOff: 0.05},
		Settle: "Read the programmes and the clock.", Fix: "Restore the speed plan.", Minutes: 5},
	{ID: WrongMode, Name: "Left in manual, vacuum or service mode", Prior: fewAYear, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{ModeOff: 0.95, DisplayAlarm: 0.4, SpeedOff: 0.3, WorkedHere: 0.4},
		Settle: "Read the display.", Fix: "Set it back to automatic; reset the alarm's reference after a backwash.", Minutes: 3},
	{ID: PrimeLost, Name: "Prime lost", Prior: monthly, Weights: []float64{1, 1}, Air: 0.97,
		Places: one(func(i int) pad.Effects { return pad.Effects{Air: 0.9, HeadLost: []float64{0.5, 0.9}[i]} }),
		Signs:  map[Sign]float64{PotNotFull: 0.96, PotDrains: 0.5, WorkedHere: 0.25, Bubbles: 0.1},
		Settle: "Fill the pot and watch.", Fix: "Prime it; if it comes again, look for the leak.", Minutes: 10, Caution: "Watch the prime: dry running melts fittings in minutes, and the pot may be scalding."},
	{ID: ReturnRestricted, Name: "Return side shut or plugged", Prior: monthly, Weights: mostly, Air: 0.02,
		Places: returnPlaces, Signs: map[Sign]float64{WeakOne: 0.75, HandleWrong: 0.5, WorkedHere: 0.25},
		Settle: "Feel each return and read the return handles.", Fix: "Pump off, open the valve or clear the fitting.", Minutes: 5, Caution: cautionTurn},
	{ID: MediaFouled, Name: "Filter media fouled", Prior: monthly, Weights: evenly, Air: 0.02,
		Places: one(func(i int) pad.Effects { return pad.Effects{Load: []float64{0.25, 0.45, 0.65, 0.9, 1.2, 1.6}[i]} }),
		Signs:  map[Sign]float64{SlowDrainTest: 0.9, WaterDull: 0.25, ShorterCycles: 0.75, ElementsDie: 0.2},
		Settle: "Drain test on an element; the reading straight after a cleaning.", Fix: "Soak: degreaser, rinse well, then acid. Replace when it does not recover.", Minutes: 45,
		Caution: cautionTank + " Detergent and acid must never meet."},
	{ID: BedChannelled, Name: "Filter letting water past", Prior: fewAYear, Weights: []float64{1, 1, 1}, Air: 0.02,
		Places: one(func(i int) pad.Effects { return pad.Effects{Load: []float64{-0.3, -0.5, -0.8}[i]} }),
		Signs:  map[Sign]float64{WaterDull: 0.6},
		Settle: "Look inside: channels, too little sand, a bare grid, a torn pleat.", Fix: "Deep clean, top up or recharge; replace what is torn.", Minutes: 60, Caution: cautionTank},
	// Past the media: less pressure, more flow, and the media on the pool's floor.
	{ID: MediaInPool, Name: "Media gets into the pool", Prior: fewAYear, Weights: []float64{2, 1}, Air: 0.02,
		Places: one(func(i int) pad.Effects { return pad.Effects{Past: []float64{0.08, 0.25}[i]} }),
		Signs:  map[Sign]float64{MediaSeen: 0.96, WaterDull: 0.3},
		Settle: "Look under a return just after a start; powder after a DE charge.", Fix: "Tear down; replace the lateral, grid or cartridge.", Minutes: 120, Caution: cautionTank + " Mask against dust, wet it before moving it."},
	{ID: ValveGasket, Name: "Filter valve's gasket torn", Prior: fewAYear, Weights: []float64{2, 2, 1}, Air: 0.02,
		Places: func(d *pad.Document) []Place {
			if d.Filter.Valve == pad.NoValve {
				return nil
			}
			return []Place{{"", func(i int) pad.Effects { return pad.Effects{Past: []float64{0.12, 0.28, 0.5}[i]} }}}
		},
		Signs:  map[Sign]float64{WasteWet: 0.7, WaterDull: 0.4, MediaSeen: 0.1, WorkedHere: 0.2},
		Settle: "Watch the waste line on Filter.", Fix: "New gasket; the cause is usually a turn under flow.", Minutes: 45, Caution: cautionTank},
	{ID: ValvePosition, Name: "Filter valve in the wrong setting", Prior: monthly, Weights: []float64{1}, Air: 0.03, Places: settingPlaces,
		Signs:  map[Sign]float64{FilterValveOff: 0.97, WorkedHere: 0.35, WaterDull: 0.3, WasteWet: 0.25},
		Settle: "Read the handle.", Fix: "Pump off, set it to Filter.", Minutes: 2, Caution: "Pump OFF before the handle moves. Never run on Closed."},
	{ID: TankLeak, Name: "Tank's O-ring leaks", Prior: fewAYear, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{DripBand: 0.95, BandShifted: 0.1},
		Settle: "Look, standing aside; never tighten under pressure.", Fix: "Relieve the pressure, clean both seats, lubricate, new O-ring.", Minutes: 30, Caution: cautionTank},
	{ID: GaugeBad, Name: "Tank gauge wrong", Prior: monthly, Kind: Gauge, Weights: []float64{1}, Places: one(func(int) pad.Effects { return pad.Effects{} }), Air: 0.02,
		Signs:  map[Sign]float64{NeedleAtRest: 0.7},
		Settle: "Pump off, bleed open: does the needle fall to the standing pressure? Then another speed.", Fix: "Replace the gauge.", Minutes: 5, Caution: "Open the bleed slowly; change a gauge only on a relieved tank."},
	{ID: CheckValveStuck, Name: "Check valve stuck", Prior: fewAYear, Weights: mostly, Air: 0.02,
		Places: func(d *pad.Document) []Place {
			if !d.CheckValve {
				return nil
			}
			return returnPlaces(d)[:1]
		},
		Signs:  map[Sign]float64{BackWhenOff: 0.4, HandleWrong: 0.01},
		Settle: "Look through its lid.", Fix: "Clean or replace it.", Minutes: 25, Caution: cautionTank},
	{ID: BypassOpen, Name: "Heater's bypass open", Prior: fewAYear, Weights: []float64{1, 1}, Air: 0.02,
		Places: func(d *pad.Document) []Place {
			if d.HeaterBypass == nil {
				return nil
			}
			return []Place{{"", func(i int) pad.Effects { return pad.Effects{HeaterBypass: []float64{0.5, 1}[i]} }}}
		},
		Signs:  map[Sign]float64{HeaterCrackles: 0.7, HandleWrong: 0.8, WorkedHere: 0.2},
		Settle: "Read the bypass handle.", Fix: "Shut the bypass before heating.", Minutes: 2, Caution: "Look and flow only: gas work is licensed."},
	{ID: SpaDraining, Name: "Spa is being drained", Prior: monthly, Weights: []float64{1}, Air: 0.3, Places: spaPlaces(pad.SpaBody, pad.PoolBody),
		Signs:  map[Sign]float64{SpaFalling: 0.96, HandleWrong: 0.9, WorkedHere: 0.2},
		Settle: "Read both valves: suction from the spa, return to the pool.", Fix: "Pump off, set both to the pool.", Minutes: 3, Caution: "The pump runs dry when the spa is empty. " + cautionTurn},
	{ID: SpaFilling, Name: "Spa is being filled", Prior: fewAYear, Weights: []float64{1}, Air: 0.02, Places: spaPlaces(pad.PoolBody, pad.SpaBody),
		Signs:  map[Sign]float64{SpaRising: 0.96, HandleWrong: 0.9},
		Settle: "Read both valves: suction from the pool, return to the spa.", Fix: "Pump off, set both to the pool.", Minutes: 3, Caution: cautionTurn},
	{ID: LeftInSpa, Name: "Left in spa mode", Prior: monthly, Weights: []float64{1}, Air: 0.02, Places: spaPlaces(pad.SpaBody, pad.SpaBody),
		Signs:  map[Sign]float64{WaterDull: 0.85, WaterGreen: 0.35, HandleWrong: 0.9},
		Settle: "Read both valves.", Fix: "Pump off, set both to the pool; clear the pool.", Minutes: 5, Caution: cautionTurn},
	{ID: AirlockSmall, Name: "Air held in a small unit", Prior: monthly, Weights: []float64{1, 1}, Air: 0.6,
		Places: func(d *pad.Document) []Place {
			if d.PumpHeightFt >= 0 || d.Filter.Kind != pad.Cartridge || d.Filter.AreaFt2 > 100 {
				return nil
			}
			return []Place{{"", func(i int) pad.Effects { return pad.Effects{Air: 0.9, HeadLost: []float64{0.4, 0.8}[i]} }}}
		},
		Signs:  map[Sign]float64{PotNotFull: 0.8, WorkedHere: 0.5, Bubbles: 0.1},
		Settle: "Open the bleed, shake the hoses.", Fix: "Bleed it: lower valve open first, then the upper.", Minutes: 8, Caution: "Watch the prime: dry running melts fittings in minutes."},
	// Chronic: what the pad is, not what has gone wrong with it. The engine takes
	// each prior from the pad's own limits (see diagnosis.chronic).
	{ID: PumpOversized, Name: "Pump too strong for the filter", Prior: fewAYear, Chronic: true, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{ElementsDie: 0.8, ShorterCycles: 0.5, WaterDull: 0.4, MediaSeen: 0.05},
		Settle: "Flow at the set speed against the media's rate.", Fix: "Slow it, or a smaller pump: the harm builds over a month or two, unseen.", Minutes: 10},
	{ID: PumpUndersized, Name: "Pump too weak to backwash", Prior: rare, Chronic: true, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{ShorterCycles: 0.6, WaterDull: 0.3},
		Settle: "Backwash flow against the rate that lifts the bed.", Fix: "A higher backwash speed, or another pump.", Minutes: 10},
	{ID: HeaterLowFlow, Name: "Too little flow for the heater", Prior: monthly, Chronic: true, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{HeaterCrackles: 0.5, DisplayAlarm: 0.3},
		Settle: "Flow against the heater's least.", Fix: "Raise the speed in heating hours.", Minutes: 5, Caution: "Look and flow only: gas work is licensed."},
	{ID: CellNoFlow, Name: "Too little flow for the salt cell", Prior: monthly, Chronic: true, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{WaterDull: 0.3, WaterGreen: 0.1},
		Settle: "Flow against the cell's least; straight run before and after; is the switch backwards?", Fix: "Raise the speed, move or clean the switch.", Minutes: 10},
	{ID: RuntimeShort, Name: "Runs too few hours", Prior: weekly, Chronic: true, Weights: []float64{1}, Places: one(sound), Air: 0.02,
		Signs:  map[Sign]float64{WaterDull: 0.6, WaterGreen: 0.3, SpeedOff: 0.2},
		Settle: "Hours × flow against the volume, in the heat.", Fix: "Two to four hours more, or the speed plan.", Minutes: 5},
}

func suctionPlaces(d *pad.Document, kind pad.LineKind, extra func(int) float64, canShut bool) []Place {
	var out []Place
	for i, l := range d.Suction {
		if (kind != "" && l.Kind != kind) || l.Opening == 0 {
			continue
		}
		out = append(out, Place{l.Name, func(step int) pad.Effects {
			shut := canShut && step == len(blocked)-1 && len(d.Suction) > 1
			return pad.Effects{SuctionLine: i, SuctionExtra: extra(step), SuctionShut: shut}
		}})
	}
	return out
}

func returnPlaces(d *pad.Document) []Place {
	out := []Place{{"common run", func(i int) pad.Effects { return pad.Effects{ReturnLine: -1, ReturnExtra: restriction(i)} }}}
	for i, l := range d.Returns {
		if l.Opening > 0 {
			out = append(out, Place{l.Name, func(step int) pad.Effects { return pad.Effects{ReturnLine: i, ReturnExtra: 3 * restriction(step)} }})
		}
	}
	return out
}

// WearsInto says which faults a part past its expected life brings on, by the
// kind that a pool's equipment is recorded under.
var WearsInto = map[string][]ID{
	"Lid O-ring": {AirLid}, "Multiport gasket": {ValveGasket}, "Tank gauge": {GaugeBad}, "Pump": {SealLeak, MotorHums},
	"Sand": {MediaFouled}, "Cartridge": {MediaFouled, MediaInPool}, "Grids": {MediaInPool}, "Filter tank": {TankLeak},
}

// Names of what Healthy becomes when its load is at the limit, by filter kind.
var loadedNames = map[pad.FilterKind]string{
	pad.Sand: "Sand loaded with dirt", pad.Cartridge: "Cartridge loaded with dirt", pad.DE: "DE grids loaded with dirt",
}

// cleaning is how each kind of filter is cleaned, with its usual minutes.
var cleaning = map[pad.FilterKind]struct {
	Name    string
	Minutes float64
}{
	pad.Sand: {"Backwash and rinse", 10}, pad.Cartridge: {"Hose off the cartridge", 30}, pad.DE: {"Backwash and recharge with DE", 25},
}

// Loaded is the catalogue's entry for a filter at its limit.
func Loaded(kind pad.FilterKind) Fault {
	c := cleaning[kind]
	return Fault{ID: FilterLoaded, Name: loadedNames[kind], Settle: "Clean it and read again at the same speed: back on the clean line or not.",
		Fix: c.Name + ".", Minutes: c.Minutes, Caution: cautionTank}
}

// Cleaning names the cleaning of a filter kind and its usual minutes.
func Cleaning(kind pad.FilterKind) (name string, minutes float64) {
	c := cleaning[kind]
	return c.Name, c.Minutes
}

// LookUp finds a fault by id; FilterLoaded is found under the given filter kind.
func LookUp(id ID, kind pad.FilterKind) (Fault, bool) {
	if id == FilterLoaded {
		return Loaded(kind), true
	}
	for _, f := range Catalogue {
		if f.ID == id {
			return f, true
		}
	}
	return Fault{}, false
}

// settingPlaces are the settings that a filter valve may have been left in.
func settingPlaces(d *pad.Document) []Place {
	var out []Place
	for _, set := range d.Settings() {
		if set == pad.SetFilter || set == pad.SetWinter {
			continue
		}
		out = append(out, Place{"on " + string(set), func(int) pad.Effects { return pad.Effects{Setting: set} }})
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
		return []Place{{"", func(int) pad.Effects { return pad.Effects{SpaSuction: suction, SpaReturn: back} }}}
	}
}
