// Package fault is the catalogue: what can be wrong at a pad, what that does to
// the water, how it shows, what settles it and what mends it. It is data; the
// engine that weighs it is core/diagnosis.
//
// Frequencies and probabilities are ours, from common practice on residential
// routes: weekly on a fifty-pool route is 0.02 a pool-visit.
package fault

import (
	"maps"
	"math"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/words"
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
	CellSwitch      ID = "cell-switch"
	SuctionAllShut  ID = "suction-all-shut"
	ReturnAllShut   ID = "return-all-shut"
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

// GaugeWay is how a tank gauge lies; "" is a sound one.
type GaugeWay string

// The ways of a bad gauge.
const (
	Offset  GaugeWay = "offset"  // the same error at every speed, and at rest
	Scale   GaugeWay = "scale"   // the same factor at every speed, right at rest: a tired spring
	Stuck   GaugeWay = "stuck"   // one figure whatever happens
	Plugged GaugeWay = "plugged" // slow and short of the truth
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
// only one, and its effects by severity step. What it says of itself takes the
// place of what the fault says; empty leaves the fault's.
type Place struct {
	Name    words.Message
	Effects func(step int) plumbing.Effects
	Gauge   GaugeWay
	Share   float64          // of the fault's prior against other places'; 0 is 1
	Signs   map[Sign]float64 // beside the fault's
	Air     float64
	Settle  words.Message
	Fix     words.Message
	Minutes float64
	Who     Who
	Caution words.Message
}

// Fault is one entry of the catalogue.
type Fault struct {
	ID      ID
	Name    words.Message
	Prior   float64
	Weights []float64 // prior over the severity steps
	// Mild is the share of the prior in a step before the first: there to be seen, too
	// small for any meter. Then it shows only itself, none of its symptoms.
	Mild    float64
	MildAir float64 // P(air at the pump) in that step; 0 is a sound pad's
	Places  func(d *pad.Document) []Place
	Air     float64          // P(air at the pump | fault)
	Airs    []float64        // the same by severity step, where it depends on it
	Signs   map[Sign]float64 // P(yes | fault), where it differs from the sign's base
	// In is how many times likelier than its prior the fault is in a season, and
	// rarer in the others; absent is no season of its own.
	In map[Season]float64
	// Chronic findings (sizing, hours) stand beside the acute suspects, not against
	// them: each is weighed alone.
	Chronic bool
	Who     Who
	Settle  words.Message // the check that settles it
	Fix     words.Message
	Minutes float64 // of the fix
	Caution words.Message
}

// Who may do a fix.
type Who = words.Message

// Who may do the fixes; "" is any technician. Anybody says so at a place whose
// fault is otherwise a licensed trade's.
const (
	Anybody     Who = "fault.who.anybody"
	Electrician Who = "fault.who.electrician"
	Specialist  Who = "fault.who.specialist"
)

// At is the fault as it sits at a place.
func (f *Fault) At(p *Place) Fault {
	out := *f
	if len(p.Signs) > 0 {
		out.Signs = maps.Clone(f.Signs)
		if out.Signs == nil {
			out.Signs = map[Sign]float64{}
		}
		maps.Copy(out.Signs, p.Signs)
	}
	if p.Air > 0 {
		out.Air = p.Air
	}
	for _, x := range []struct{ to, by *words.Message }{{&out.Settle, &p.Settle}, {&out.Fix, &p.Fix},
		{&out.Caution, &p.Caution}} {
		if *x.by != "" {
			*x.to = *x.by
		}
	}
	if p.Minutes > 0 {
		out.Minutes = p.Minutes
	}
	switch p.Who {
	case Anybody:
		out.Who = ""
	case "":
	default:
		out.Who = p.Who
	}
	return out
}

// AirAt is P(air at the pump | fault) at a severity step; below zero is the mild
// step.
func (f *Fault) AirAt(step int) float64 {
	switch {
	case step < 0 && f.MildAir > 0:
		return f.MildAir
	case step < 0:
		return Catalogue[0].Air
	case len(f.Airs) > 0:
		return f.Airs[step]
	}
	return f.Air
}

// On tells whether a pad can have it.
func (f *Fault) On(d *pad.Document) bool { return len(f.Places(d)) > 0 }

// WearsInto says which faults a part past its expected life brings on, by the
// kind that a pool's equipment is recorded under.
var WearsInto = map[string][]ID{
	"lid-o-ring": {AirLid}, "multiport-gasket": {ValveGasket}, "tank-gauge": {GaugeBad}, "pump": {SealLeak, MotorHums},
	"sand": {MediaFouled}, "cartridge": {MediaFouled, MediaInPool}, "grids": {MediaInPool}, "filter-tank": {TankLeak},
}

// Names of what Healthy becomes when its load is at the limit, by filter kind.
var loadedNames = map[pad.FilterKind]words.Message{
	pad.Sand: "fault.sand-loaded-with-dirt", pad.Cartridge: "fault.cartridge-loaded-with-dirt",
	pad.DE: "fault.de-grids-loaded-with-dirt", pad.Unknown: "fault.filter-loaded-with-dirt",
}

// cleaning is how each kind of filter is cleaned, with its usual minutes.
var cleaning = map[pad.FilterKind]struct {
	Name    words.Message
	Minutes float64
}{
	pad.Sand: {
		"fault.backwash-and-rinse",
		10,
	}, pad.Cartridge: {"fault.hose-off-the-cartridge", 30}, pad.DE: {"fault.backwash-and-recharge-with-de", 25},
	pad.Unknown: {"fault.clean-the-filter", 20},
}

// Loaded is the catalogue's entry for a filter at its limit.
func Loaded(kind pad.FilterKind) Fault {
	c := cleaning[kind]
	return Fault{ID: FilterLoaded, Name: loadedNames[kind], Settle: "fault.filter-loaded.settle",
		Fix: words.Of(
			"fault.filter-loaded.fix",
			"cleaning",
			words.Msg(c.Name),
		), Minutes: c.Minutes, Caution: cautionTank}
}

// Cleaning names the cleaning of a filter kind and its usual minutes.
func Cleaning(kind pad.FilterKind) (name words.Message, minutes float64) {
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
