// Package fault is the catalogue: what can be wrong at a pad, what that does to
// the water, how it shows, what settles it and what mends it. It is data; the
// engine that weighs it is core/diagnosis.
//
// Frequencies and probabilities are ours, from common practice on residential
// routes: weekly on a fifty-pool route is 0.02 a pool-visit.
package fault

import "fairlap/core/pad"

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
)

// Priors by how often a fault is met, per pool-visit on a fifty-pool route.
const (
	weekly   = 0.02
	monthly  = 0.0046
	fewAYear = 0.00115
)

// Action is what a fault acts on.
type Action string

// What faults act on.
const (
	Hydraulic Action = ""      // Effects tell all
	Gauge     Action = "gauge" // the tank gauge reads free of the truth
)

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
	Settle  string           // the check that settles it
	Fix     string
	Minutes float64 // of the fix
	Caution string
}

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

var airShares = []float64{0.03, 0.06, 0.10, 0.16, 0.26, 0.42}

func airEffects(step int) pad.Effects { return pad.Effects{Air: airShares[step]} }

var (
	evenly   = []float64{1, 1, 1, 1, 1, 1}
	mostly   = []float64{0.5, 0.8, 1, 1, 1.2, 1.2, 1.2, 1.2, 1.2, 1} // noticed when it is bad
	airMild  = []float64{5, 5, 4, 3, 1.5, 0.5}                       // most leaks are small
	clogHard = []float64{1, 1.2, 1.8, 3, 4, 4}                       // most clogs are found nearly shut
)

// Catalogue lists every fault, Healthy first.
var Catalogue = []Fault{
	{ID: Healthy, Name: "Nothing wrong", Weights: []float64{1}, Places: one(func(int) pad.Effects { return pad.Effects{} }),
		Air: 0.02, Settle: "Readings on the clean line at another speed too.", Fix: "Nothing to do."},
	{ID: BasketFullFault, Name: "Pump basket full", Prior: weekly, Weights: mostly,
		Places: one(func(i int) pad.Effects { return pad.Effects{Basket: restriction(i)} }), Air: 0.10,
		Signs:  map[Sign]float64{BasketFull: 0.95, Storm: 0.3, Gravel: 0.08},
		Settle: "Pump off, pull the basket and look.", Fix: "Empty it and look for cracks at the back.", Minutes: 4, Caution: cautionPot},
	{ID: SkimmerBlocked, Name: "Skimmer blocked", Prior: weekly, Weights: mostly, Air: 0.06,
		Places: func(d *pad.Document) []Place { return suctionPlaces(d, pad.Skimmer, restriction, false) },
		Signs:  map[Sign]float64{NoPull: 0.85, Storm: 0.3, BasketFull: 0.08, Slurping: 0.05},
		Settle: "Look at the skimmer's basket and weir.", Fix: "Empty the skimmer basket, free the weir.", Minutes: 3},
	{ID: SuctionValve, Name: "Suction valve wrong", Prior: monthly, Weights: mostly, Air: 0.06,
		Places: func(d *pad.Document) []Place { return suctionPlaces(d, "", restriction, true) },
		Signs:  map[Sign]float64{HandleWrong: 0.92, NoPull: 0.45, WorkedHere: 0.35, Gravel: 0.08},
		Settle: "Read each suction handle: the closed mark points at the shut port.", Fix: "Pump off, set the handle.", Minutes: 2, Caution: cautionTurn},
	{ID: WaterLow, Name: "Water level low", Prior: weekly, Weights: airMild, Places: one(airEffects), Air: 0.92,
		Signs:  map[Sign]float64{LevelLow: 0.97, Slurping: 0.7, PotNotFull: 0.3, PotDrains: 0.08, NoPull: 0.3},
		Settle: "Look at the level against the skimmer's mouth.", Fix: "Fill; look at the auto-fill and for a leak.", Minutes: 3},
	{ID: AirLid, Name: "Air at the pot lid", Prior: weekly, Weights: airMild, Places: one(airEffects), Air: 0.95,
		Signs:  map[Sign]float64{PotDrains: 0.65, PotNotFull: 0.3, LidTestHolds: 0.9, WorkedHere: 0.15},
		Settle: "Grease the O-ring, run, stop and watch: does the pot now hold?", Fix: "Clean and grease the lid O-ring with a product made for O-rings; replace it when cracks show on bending.", Minutes: 6, Caution: cautionPot},
	{ID: AirInlet, Name: "Air at the inlet fitting", Prior: monthly, Weights: airMild, Places: one(airEffects), Air: 0.95,
		Signs:  map[Sign]float64{PotDrains: 0.65, PotNotFull: 0.3, LidTestHolds: 0.05, DripOutlet: 0.55},
		Settle: "Foam at the thread with the pump running; look for a drip at the outlet.", Fix: "Cut out and replace the fitting (both, if both cooked); find why it ran dry.", Minutes: 60},
	{ID: ImpellerClogged, Name: "Impeller clogged", Prior: weekly, Weights: clogHard, Air: 0.85,
		Places: one(func(i int) pad.Effects {
			return pad.Effects{CapacityLost: []float64{0.2, 0.35, 0.5, 0.68, 0.84, 0.96}[i]}
		}),
		Signs:  map[Sign]float64{DebrisFound: 0.92, PotNotFull: 0.35, BasketFull: 0.06, Storm: 0.2},
		Settle: "Finger in the impeller, power locked off: debris, then a free spin.", Fix: "Pull the debris; mend the basket that let it by.", Minutes: 15, Caution: cautionBite},
	{ID: ImpellerWorn, Name: "Impeller worn", Prior: fewAYear, Weights: []float64{3, 3, 2, 1}, Air: 0.03,
		Places: one(func(i int) pad.Effects { return pad.Effects{HeadLost: []float64{0.1, 0.2, 0.32, 0.5}[i]} }),
		Signs:  map[Sign]float64{DebrisFound: 0.02},
		Settle: "Readings at several speeds, against the record of the last months.", Fix: "Rebuild the wet end.", Minutes: 90, Caution: cautionBite},
	{ID: PrimeLost, Name: "Prime lost", Prior: monthly, Weights: []float64{1, 1}, Air: 0.97,
		Places: one(func(i int) pad.Effects { return pad.Effects{Air: 0.9, HeadLost: []float64{0.5, 0.9}[i]} }),
		Signs:  map[Sign]float64{PotNotFull: 0.96, PotDrains: 0.5, WorkedHere: 0.25, Bubbles: 0.1},
		Settle: "Fill the pot and watch.", Fix: "Prime it; if it comes again, look for the leak.", Minutes: 10, Caution: "Watch the prime: dry running melts fittings in minutes, and the pot may be scalding."},
	{ID: ReturnRestricted, Name: "Return side shut or plugged", Prior: monthly, Weights: mostly, Air: 0.02,
		Places: returnPlaces, Signs: map[Sign]float64{WeakOne: 0.75, HandleWrong: 0.5, WorkedHere: 0.25},
		Settle: "Feel each return and read the return handles.", Fix: "Pump off, open the valve or clear the fitting.", Minutes: 5, Caution: cautionTurn},
	{ID: MediaFouled, Name: "Filter media fouled", Prior: monthly, Weights: evenly, Air: 0.02,
		Places: one(func(i int) pad.Effects { return pad.Effects{Load: []float64{0.25, 0.45, 0.65, 0.9, 1.2, 1.6}[i]} }),
		Signs:  map[Sign]float64{SlowDrainTest: 0.9, WaterDull: 0.25},
		Settle: "Drain test on an element; the reading straight after a cleaning.", Fix: "Soak: degreaser, rinse well, then acid. Replace when it does not recover.", Minutes: 45,
		Caution: cautionTank + " Detergent and acid must never meet."},
	{ID: BedChannelled, Name: "Filter letting water past", Prior: fewAYear, Weights: []float64{1, 1, 1}, Air: 0.02,
		Places: one(func(i int) pad.Effects { return pad.Effects{Load: []float64{-0.3, -0.5, -0.8}[i]} }),
		Signs:  map[Sign]float64{WaterDull: 0.6},
		Settle: "Look inside: channels, too little sand, a bare grid, a torn pleat.", Fix: "Deep clean, top up or recharge; replace what is torn.", Minutes: 60, Caution: cautionTank},
	{ID: GaugeBad, Name: "Tank gauge wrong", Prior: monthly, Kind: Gauge, Weights: []float64{1}, Places: one(func(int) pad.Effects { return pad.Effects{} }), Air: 0.02,
		Signs:  map[Sign]float64{NeedleAtRest: 0.7},
		Settle: "Pump off, bleed open: does the needle fall to the standing pressure? Then another speed.", Fix: "Replace the gauge.", Minutes: 5, Caution: "Open the bleed slowly; change a gauge only on a relieved tank."},
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
