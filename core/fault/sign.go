package fault

import (
	"slices"

	"fairlap/core/pad"
)

// Sign names something seen or heard at a pad.
type Sign string

// SignFact is what is known of a sign: how it is asked, how it is looked for,
// and how often it shows when nothing that explains it is wrong.
type SignFact struct {
	ID      Sign    `json:"id"`
	Name    string  `json:"name"`
	Look    string  `json:"look"` // how to find out
	Where   string  `json:"where" enum:"danger,pot,pump,filter,pool,paths,since"`
	Minutes float64 `json:"minutes"` // that finding out takes
	Base    float64 `json:"-"`       // P(yes) without a cause for it
	Caution string  `json:"caution,omitempty"`
	// Air marks signs of one hidden cause, air at the pump: given that cause they
	// are independent, so three of them do not count as three proofs.
	Air       bool    `json:"-"`
	GivenAir  float64 `json:"-"` // P(yes | air at the pump)
	Context   bool    `json:"context,omitempty"`
	PumpOff   bool    `json:"pumpOff,omitempty"`
	FromState bool    `json:"-"` // P(yes) comes from the predicted flow
	// Mend is what to do about a sign that is its fault seen: there is next to none of
	// it without the fault, and a yes is a finding whatever the gauges say. "" for a
	// symptom, which several faults share.
	Mend string `json:"mend,omitempty"`
	// Danger is what a yes calls for before any thinking; "" for most. Closes tells
	// that the pool is closed to people while the pump may run.
	Danger string `json:"danger,omitempty"`
	Closes bool   `json:"-"`
	// Has tells whether a pad can show it; nil is every pad.
	Has func(*pad.Document) bool `json:"-"`
}

// Seen tells that a sign is its fault seen.
func (s *SignFact) Seen() bool { return s.Mend != "" }

// On tells whether a sign can show on a pad.
func (s *SignFact) On(d *pad.Document) bool { return s.Has == nil || s.Has(d) }

func hasValve(d *pad.Document) bool  { return d.Filter.Valve != pad.NoValve }
func hasHeater(d *pad.Document) bool { return d.Heater != nil }
func hasSpa(d *pad.Document) bool    { return d.Spa != nil }
func hasSpeeds(d *pad.Document) bool { return d.Pump.SpeedIsSet() }
func hasElements(d *pad.Document) bool {
	return d.Filter.Kind != pad.Sand
}
func hasOtherSuction(d *pad.Document) bool {
	_, ok := d.SpaMode()
	return ok || len(d.Suction) > 1
}
func hasDevices(d *pad.Document) bool { return d.Heater != nil || d.Cell != nil }
func hasDrain(d *pad.Document) bool {
	return slices.ContainsFunc(d.Suction, func(l pad.Line) bool { return l.Kind == pad.Drain })
}

// The signs.
const (
	AirInPot      Sign = "air-in-pot"
	Bubbles       Sign = "bubbles"
	NeedleBounces Sign = "needle-bounces"
	PotNotFull    Sign = "pot-not-full"
	PotDrains     Sign = "pot-drains"
	LidTestHolds  Sign = "lid-test-holds"
	Slurping      Sign = "slurping"
	LevelLow      Sign = "level-low"
	BasketFull    Sign = "basket-full"
	NoPull        Sign = "no-pull"
	HandleWrong   Sign = "handle-wrong"
	WeakAll       Sign = "weak-all"
	WeakOne       Sign = "weak-one"
	NeedleAtRest  Sign = "needle-at-rest"
	DebrisFound   Sign = "debris-found"
	DripOutlet    Sign = "drip-outlet"
	SlowDrainTest Sign = "slow-drain-test"
	WaterDull     Sign = "water-dull"
	Gravel        Sign = "gravel"
	DeviceNoFlow  Sign = "device-no-flow"
	Storm         Sign = "storm"
	WorkedHere    Sign = "worked-here"

	SkimmerFull     Sign = "skimmer-full"
	Hums            Sign = "hums"
	Silent          Sign = "silent"
	ShaftFree       Sign = "shaft-free"
	Screech         Sign = "screech"
	CutsOut         Sign = "cuts-out"
	TripsAgain      Sign = "trips-again"
	BurningSmell    Sign = "burning-smell"
	DripLid         Sign = "drip-lid"
	DripInlet       Sign = "drip-inlet"
	DripSeal        Sign = "drip-seal"
	DripSeam        Sign = "drip-seam"
	DripBand        Sign = "drip-band"
	BandShifted     Sign = "band-shifted"
	WasteWet        Sign = "waste-wet"
	BasketCracked   Sign = "basket-cracked"
	FoamDents       Sign = "foam-dents"
	FoamLid         Sign = "foam-lid"
	FoamInlet       Sign = "foam-inlet"
	FoamJoint       Sign = "foam-joint"
	ResetRuns       Sign = "reset-runs"
	AlarmSuction    Sign = "alarm-suction"
	AlarmPrime      Sign = "alarm-prime"
	AlarmCurrent    Sign = "alarm-current"
	AlarmHeat       Sign = "alarm-heat"
	AlarmDrive      Sign = "alarm-drive"
	DrainHidden     Sign = "drain-hidden"
	TestFails       Sign = "protection-test-fails"
	SpaFine         Sign = "spa-fine"
	WaterGreen      Sign = "water-green"
	MediaSeen       Sign = "media-seen"
	HeaterCrackles  Sign = "heater-crackles"
	SpaFalling      Sign = "spa-falling"
	SpaRising       Sign = "spa-rising"
	BackWhenOff     Sign = "back-when-off"
	FilterValveOff  Sign = "filter-valve-off"
	SpeedOff        Sign = "speed-off"
	ModeOff         Sign = "mode-off"
	DisplayAlarm    Sign = "display-alarm"
	ShorterCycles   Sign = "shorter-cycles"
	ElementsDie     Sign = "elements-die"
	NoVents         Sign = "no-vents"
	DrainCoverBad   Sign = "drain-cover-bad"
	ChemicalsWithin Sign = "chemicals"
)

// Signs lists every sign in the order it is asked. Base rates and minutes are
// ours, from common practice. A sign that is its fault seen (a drip at the seal,
// a handle on the wrong setting) has next to no base: without the fault it is not
// there. What every pad shows now and then (a dull pool, a little air) has a high
// one.
var Signs = []SignFact{
	{
		ID:       AirInPot,
		Where:    "pot",
		Name:     "Air in the pot",
		Look:     "Look through the pot's lid with the pump running.",
		Minutes:  0.5,
		Base:     0.006,
		Air:      true,
		GivenAir: 0.92,
	},
	{
		ID:      BasketFull,
		Where:   "pot",
		Name:    "Basket full",
		Look:    "Look through the lid; when in doubt, pump off and pull the basket.",
		Minutes: 3,
		Base:    0.0003,
		PumpOff: true,
		Caution: "Open the pot only with the breaker or disconnect off: timers and freeze protection can start a pump that is merely off.",
		Mend:    "Power off at the breaker, empty the pump basket and look for cracks at its back.",
	},
	{
		ID:       NeedleBounces,
		Where:    "filter",
		Name:     "Needle bounces",
		Look:     "Watch the tank gauge for ten seconds.",
		Minutes:  0.5,
		Base:     0.02,
		Air:      true,
		GivenAir: 0.65,
	},
	{
		ID:      WeakOne,
		Where:   "pool",
		Name:    "Weak at one return",
		Look:    "Feel each return with a hand.",
		Minutes: 2,
		Base:    0.02,
	},
	{
		ID:       Bubbles,
		Where:    "pool",
		Name:     "Bubbles at the returns",
		Look:     "Look at the water over each return.",
		Minutes:  1,
		Base:     0.01,
		Air:      true,
		GivenAir: 0.6,
	},
	{
		ID:      LevelLow,
		Where:   "pool",
		Name:    "Water level low",
		Look:    "Look at the skimmer: the water belongs at the middle of its mouth.",
		Minutes: 1,
		Base:    0.0003,
		Mend:    "Fill to the middle of the skimmer's mouth; look at the auto-fill and for a leak.",
	},
	{
		ID:      NoPull,
		Where:   "pool",
		Name:    "No pull at a skimmer",
		Look:    "Hold a leaf or a hand at each skimmer's mouth; look at its basket and weir.",
		Minutes: 2,
		Base:    0.03,
	},
	{
		ID:      SkimmerFull,
		Where:   "pool",
		Name:    "Skimmer basket full, weir stuck",
		Look:    "Lift the skimmer's lid and its basket.",
		Minutes: 2,
		Base:    0.0003,
		Mend:    "Empty the skimmer basket and free the weir.",
	},
	{
		ID:        WeakAll,
		Where:     "pool",
		Name:      "Weak at all returns",
		Look:      "Feel each return with a hand.",
		Minutes:   2,
		Base:      0.05,
		FromState: true,
	},
	{
		ID:      HandleWrong,
		Where:   "paths",
		Name:    "Handle found wrong",
		Look:    "Read every handle: the closed mark points at the port that is shut.",
		Minutes: 2,
		Base:    0.0003,
		Caution: "Move a handle only with the pump off.",
		Mend:    "Pump off, set the handle as this pad wants it, and ask who moved it.",
	},
	{
		ID:      Slurping,
		Where:   "pool",
		Name:    "Skimmer slurps",
		Look:    "Listen at each skimmer.",
		Minutes: 1,
		Base:    0.02,
	},
	{
		ID:      PotNotFull,
		Where:   "pot",
		Name:    "Pot not full of water",
		Look:    "Look through the lid with the pump running.",
		Minutes: 0.5,
		Base:    0.03,
	},
	{
		ID:      PotDrains,
		Where:   "pot",
		Name:    "Pot drains when off",
		Look:    "Stop the pump and watch the pot for a minute.",
		Minutes: 2,
		Base:    0.06,
		PumpOff: true,
	},
	{
		ID:      NeedleAtRest,
		Where:   "filter",
		Name:    "Needle wrong at rest",
		Look:    "Pump off, bleed open: the needle should fall to the standing pressure.",
		Minutes: 3,
		Base:    0.004,
		PumpOff: true,
		Caution: "Open the bleed slowly and stand aside. The gauge alone never proves that a tank is relieved.",
		Mend:    "Replace the tank gauge on a relieved tank.",
	},
	{
		ID:      LidTestHolds,
		Where:   "pot",
		Name:    "Pot holds after greasing the lid",
		Look:    "Clean and grease the lid O-ring, run, stop and watch the pot.",
		Minutes: 6,
		Base:    0.03,
		PumpOff: true,
		Caution: "Open the pot only with the breaker or disconnect off.",
	},
	{
		ID:      DebrisFound,
		Where:   "pump",
		Name:    "Debris in the impeller",
		Look:    "Power locked off, basket out, a finger or screwdriver into the impeller.",
		Minutes: 8,
		Base:    0.0002,
		PumpOff: true,
		Caution: "Power locked off at the disconnect before a hand goes in. Off is not locked off.",
		Mend:    "Power locked off, pull the debris, spin it free, and mend the basket that let it by.",
	},
	{
		ID:      DripOutlet,
		Where:   "pump",
		Name:    "Drip at the pump's outlet",
		Look:    "Look under the pump's outlet fitting.",
		Minutes: 1,
		Base:    0.0005,
		Mend:    "Replace the outlet fitting, add a union and a support; if heat did it, the inlet is burnt too.",
	},
	{
		ID:      SlowDrainTest,
		Where:   "filter",
		Has:     hasElements,
		Name:    "Element drains slowly",
		Look:    "Fill an element, tip it, and count the seconds against a new one.",
		Minutes: 25,
		Base:    0.05,
		PumpOff: true,
		Caution: "Stored pressure: pump off, power locked off, bleed open and nothing coming out before touching band or lid.",
	},
	{
		ID:      Gravel,
		Where:   "pump",
		Name:    "Sounds like gravel",
		Look:    "Listen at the pump.",
		Minutes: 0.5,
		Base:    0.0005,
	},
	{
		ID:      WaterDull,
		Where:   "pool",
		Name:    "Water dull",
		Look:    "Look for the main drain's cover through the water.",
		Minutes: 0.5,
		Base:    0.12,
	},
	{
		ID:        DeviceNoFlow,
		Where:     "paths",
		Has:       hasDevices,
		Name:      "Heater or cell says no flow",
		Look:      "Read the heater's and the cell's lamps.",
		Minutes:   1,
		Base:      0.03,
		FromState: true,
	},
	{
		ID:      Hums,
		Where:   "pump",
		Name:    "Hums, will not turn",
		Look:    "Switch on and listen, one try only.",
		Minutes: 1,
		Base:    0.0002,
		Caution: "One try: a stalled motor burns. Wiring, capacitors and motors are a licensed electrician's.",
		Mend:    "Power locked off: does the shaft turn by hand?",
	},
	{
		ID:      Silent,
		Where:   "pump",
		Name:    "Silent, nothing happens",
		Look:    "Switch on and listen; read the display, the timer and the breaker.",
		Minutes: 2,
		Base:    0.0003,
		Caution: "Reset a tripped breaker once at most.",
		Mend:    "Read display, timer and breaker; one reset only.",
	},
	{
		ID:      ShaftFree,
		Where:   "pump",
		Name:    "Shaft turns by hand",
		Look:    "Power locked off; turn the shaft from the motor's back or the impeller.",
		Minutes: 6,
		Base:    0.45,
		PumpOff: true,
		Caution: "Power locked off at the disconnect before a hand goes in. Capacitors stay charged.",
	},
	{
		ID:      Screech,
		Where:   "pump",
		Name:    "Screeches",
		Look:    "Listen at the motor.",
		Minutes: 0.5,
		Base:    0.004,
		Mend:    "Bearings: a licensed electrician before they seize.",
	},
	{
		ID:      CutsOut,
		Where:   "pump",
		Name:    "Cuts out hot, restarts cold",
		Look:    "Ask, and feel the motor's case with the back of a hand.",
		Minutes: 2,
		Base:    0.0003,
		Mend:    "Look at the motor's air and load before it runs again.",
	},
	{
		ID:      TripsAgain,
		Where:   "danger",
		Name:    "Breaker tripped again",
		Look:    "Only what has happened: never reset it a second time.",
		Minutes: 0.5,
		Base:    0.00002,
		Danger:  "Stop: it tripped twice. Leave the breaker off and lock it. Wiring, bonding, motors and GFCI faults are a licensed electrician's.",
	},
	{
		ID:      BurningSmell,
		Where:   "danger",
		Name:    "Smell of burning",
		Look:    "From where you stand.",
		Minutes: 0.2,
		Base:    0.00002,
		Danger:  "Stop: smell of burning. Power off at the disconnect, stand clear, and leave it to a licensed electrician.",
	},
	{
		ID:      DrainCoverBad,
		Where:   "danger",
		Name:    "Drain cover broken or missing",
		Look:    "Look at every suction cover through the water.",
		Minutes: 1,
		Base:    0.00002,
		Danger:  "Stop: a broken or missing suction cover can hold a person under. Pump off, pool closed, now.",
	},
	{
		ID:      BandShifted,
		Where:   "danger",
		Name:    "Filter lid or band shifted",
		Look:    "Look at the band and the lid, standing aside.",
		Minutes: 0.5,
		Base:    0.00002,
		Danger:  "Stop: a lid or band under pressure can kill. Pump off and power locked off from a distance, nobody near; never adjust it under pressure.",
	},
	{
		ID:      DripLid,
		Where:   "pot",
		Name:    "Drip at the pot lid",
		Look:    "Look under the lid's rim.",
		Minutes: 0.5,
		Base:    0.002,
		Mend:    "Clean and grease the lid O-ring; replace it when cracks show on bending.",
	},
	{
		ID:      DripInlet,
		Where:   "pot",
		Name:    "Drip at the pump's inlet",
		Look:    "Look under the inlet fitting, pump off.",
		Minutes: 0.5,
		Base:    0.0008,
		Mend:    "Mend the inlet fitting: where water drips when off, air goes in when it runs.",
	},
	{
		ID:      DripSeal,
		Where:   "pump",
		Name:    "Drip under the shaft seal",
		Look:    "Look under the pump, between wet end and motor.",
		Minutes: 1,
		Base:    0.0003,
		Mend:    "Replace the shaft seal before the bearings go.",
	},
	{
		ID:      DripSeam,
		Where:   "pump",
		Name:    "Spray at the housing's seam",
		Look:    "Look at the seam at start-up.",
		Minutes: 1,
		Base:    0.0002,
		Mend:    "Replace the housing's gasket.",
	},
	{
		ID:      DripBand,
		Where:   "filter",
		Name:    "Drip at the filter's band",
		Look:    "Look at the band and the dump cap, standing aside.",
		Minutes: 0.5,
		Base:    0.0002,
		Caution: "Never tighten a band under pressure.",
		Mend:    "Relieve the tank, clean both seats, lubricate, new O-ring. Never tighten under pressure.",
	},
	{
		ID:      WasteWet,
		Where:   "filter",
		Has:     hasValve,
		Name:    "Water at waste while on Filter",
		Look:    "Look at the end of the waste line or its sight glass.",
		Minutes: 1,
		Base:    0.0002,
		Mend:    "Look whether the filter valve's handle stands between settings; if not, its gasket is torn.",
	},
	{
		ID:      BasketCracked,
		Where:   "pot",
		Name:    "Basket cracked",
		Look:    "Power locked off, basket out: look at its back.",
		Minutes: 3,
		Base:    0.0005,
		PumpOff: true,
		Caution: "Open the pot only with the breaker or disconnect off.",
		Mend:    "Replace the basket: debris goes past it into the impeller.",
	},
	{
		ID:      FoamDents,
		Where:   "pot",
		Name:    "Foam dents at a suction joint",
		Look:    "Shaving foam on each suction joint in turn, pump on.",
		Minutes: 6,
		Base:    0.006,
	},
	{
		ID:      SpaFine,
		Where:   "pot",
		Has:     hasOtherSuction,
		Name:    "Runs fine on the other suction",
		Look:    "Pump off, turn to the spa or another suction line, run, look at the pot and the gauge.",
		Minutes: 5,
		Base:    0.5,
		PumpOff: true,
		Caution: "Move a handle only with the pump off. Never leave one suction taking the whole pull.",
	},
	{
		ID:      WaterGreen,
		Where:   "pool",
		Name:    "Water green",
		Look:    "Look at the water.",
		Minutes: 0.2,
		Base:    0.03,
	},
	{
		ID:      MediaSeen,
		Where:   "pool",
		Name:    "Sand or powder in the pool",
		Look:    "Look at the floor under a return, just after a start.",
		Minutes: 1,
		Base:    0.0002,
		Mend:    "Find the broken lateral, grid or cartridge, and replace it.",
	},
	{
		ID:      HeaterCrackles,
		Where:   "paths",
		Has:     hasHeater,
		Name:    "Heater crackles",
		Look:    "Listen at the heater while it fires.",
		Minutes: 1,
		Base:    0.0005,
	},
	{
		ID:      SpaFalling,
		Where:   "pool",
		Has:     hasSpa,
		Name:    "Spa level falls",
		Look:    "Look at the spa against its mark, pump running.",
		Minutes: 2,
		Base:    0.001,
	},
	{
		ID:      SpaRising,
		Where:   "pool",
		Has:     hasSpa,
		Name:    "Spa rises or spills too much",
		Look:    "Look at the spillway, pump running.",
		Minutes: 1,
		Base:    0.0006,
	},
	{
		ID:      BackWhenOff,
		Where:   "paths",
		Name:    "Water runs back when off",
		Look:    "Stop the pump and listen at the check valve; look at the levels.",
		Minutes: 2,
		Base:    0.002,
		PumpOff: true,
		Mend:    "Clean or replace the check valve.",
	},
	{
		ID:      FilterValveOff,
		Where:   "filter",
		Has:     hasValve,
		Name:    "Filter valve off its setting",
		Look:    "Read the filter valve's handle.",
		Minutes: 0.5,
		Base:    0.0002,
		Caution: "Pump OFF before the handle moves.",
		Mend:    "Pump off, set the filter valve to Filter.",
	},
	{
		ID:      SpeedOff,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Speed or clock not as planned",
		Look:    "Read the programmes and the clock on the display.",
		Minutes: 2,
		Base:    0.0004,
		Mend:    "Restore the speed plan and the clock.",
	},
	{
		ID:      ModeOff,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Left in manual, vacuum or service",
		Look:    "Read the display's mode.",
		Minutes: 0.5,
		Base:    0.0002,
		Mend:    "Set the pump back to automatic.",
	},
	{
		ID:      DisplayAlarm,
		Where:   "pump",
		Name:    "Display shows an alarm",
		Look:    "Read the display; say which alarm below, if it is one of those.",
		Minutes: 0.5,
		Base:    0.004,
		Mend:    "Read which alarm it is, clear its cause, then reset once.",
	},
	{
		ID:      ShorterCycles,
		Where:   "filter",
		Name:    "Needs cleaning ever sooner",
		Look:    "Look at the record's cleaning dates.",
		Minutes: 1,
		Base:    0.06,
	},
	{
		ID:      ElementsDie,
		Where:   "filter",
		Has:     hasElements,
		Name:    "Elements die in months",
		Look:    "Ask, and look at the record.",
		Minutes: 1,
		Base:    0.02,
	},
	{
		ID:      NoVents,
		Where:   "pump",
		Name:    "Pump boxed in without vents",
		Look:    "Look at the enclosure.",
		Minutes: 1,
		Base:    0.002,
		Mend:    "Give the motor vents and room to work: boxed in, one motor after another is lost.",
	},
	{
		ID:      FoamLid,
		Where:   "pot",
		Name:    "Foam dents at the lid",
		Look:    "Shaving foam round the lid's seam, pump on.",
		Minutes: 2,
		Base:    0.0005,
		Mend:    "Clean and grease the lid O-ring; replace it when cracks show on bending.",
	},
	{
		ID:      FoamInlet,
		Where:   "pot",
		Name:    "Foam dents at the pump's inlet",
		Look:    "Shaving foam round the inlet's thread and union, pump on.",
		Minutes: 2,
		Base:    0.0003,
		Mend:    "Cut out and replace the inlet fitting; a tight plastic wrap holds it for a day.",
	},
	{
		ID:      FoamJoint,
		Where:   "pot",
		Name:    "Foam dents at a valve, plug or union",
		Look:    "Shaving foam on each valve stem, plug and union of the suction side, pump on.",
		Minutes: 4,
		Base:    0.0003,
		Mend:    "Reseal or replace the joint where the foam dented.",
	},
	{
		ID:      ResetRuns,
		Where:   "pump",
		Name:    "Runs after one reset",
		Look:    "Reset the breaker once, and once only; stand clear and listen.",
		Minutes: 1,
		Base:    0.02,
		Caution: "One reset at most. If it trips again, leave it off and lock it: licensed electrician.",
	},
	{
		ID:      AlarmSuction,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Alarm: suction blocked",
		Look:    "Read the display.",
		Minutes: 0.5,
		Base:    0.0003,
		Mend:    "Stop, open the suction and empty the baskets; then clear the alarm at the pump, once.",
	},
	{
		ID:      AlarmPrime,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Alarm: no prime",
		Look:    "Read the display.",
		Minutes: 0.5,
		Base:    0.0003,
		Mend:    "Fill the pot and find the air; then clear the alarm, which starts the priming minutes again.",
	},
	{
		ID:      AlarmCurrent,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Alarm: over-current",
		Look:    "Read the display.",
		Minutes: 0.5,
		Base:    0.0002,
		Mend:    "Power locked off: does the shaft turn free? Reset once; again, and it is a licensed electrician's.",
	},
	{
		ID:      AlarmHeat,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Alarm: over-heat",
		Look:    "Read the display.",
		Minutes: 0.5,
		Base:    0.0003,
		Mend:    "Give it air and shade and let it cool: the alarm clears by itself or with one reset.",
	},
	{
		ID:      AlarmDrive,
		Where:   "pump",
		Has:     hasSpeeds,
		Name:    "Alarm: drive fault",
		Look:    "Read the display and note the code.",
		Minutes: 0.5,
		Base:    0.0002,
		Mend:    "Power off for the label's time, on once; again, and the drive is a licensed electrician's.",
	},
	{
		ID:      DrainHidden,
		Where:   "danger",
		Has:     hasDrain,
		Closes:  true,
		Name:    "Main drain can't be seen",
		Look:    "Look for the main drain's cover through the water.",
		Minutes: 0.2,
		Base:    0.001,
		Danger:  "Pool closed: water that hides the main drain hides a swimmer too. Nobody in until its cover can be seen clearly.",
	},
	{
		ID:      TestFails,
		Where:   "danger",
		Name:    "Ground-fault protection does not trip when tested",
		Look:    "Only when somebody has pressed its test button.",
		Minutes: 0.5,
		Base:    0.00002,
		Danger:  "Stop: the ground-fault protection does not trip. Power off at the disconnect, nobody in the water, until a licensed electrician has been.",
	},
	{
		ID:      Storm,
		Where:   "since",
		Name:    "Storm since the last visit",
		Base:    0.1,
		Context: true,
	},
	{
		ID:      WorkedHere,
		Where:   "since",
		Name:    "Someone worked here since",
		Base:    0.08,
		Context: true,
	},
	{
		ID:      ChemicalsWithin,
		Where:   "since",
		Name:    "Chemicals added in the last day",
		Base:    0.15,
		Context: true,
	},
}

var signIndex = func() map[Sign]*SignFact {
	m := make(map[Sign]*SignFact, len(Signs))
	for i := range Signs {
		m[Signs[i].ID] = &Signs[i]
	}
	return m
}()

// LookUpSign finds a sign's facts.
func LookUpSign(id Sign) (*SignFact, bool) {
	f, ok := signIndex[id]
	return f, ok
}

// SignsOn lists the signs that a pad can show.
func SignsOn(d *pad.Document) []SignFact {
	var out []SignFact
	for _, s := range Signs {
		if s.On(d) {
			out = append(out, s)
		}
	}
	return out
}
