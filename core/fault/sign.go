package fault

import (
	"slices"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// Sign names something seen or heard at a pad.
type Sign string

// SignFact is what is known of a sign: how it is asked, how it is looked for,
// and how often it shows when nothing that explains it is wrong.
type SignFact struct {
	ID      Sign          `json:"id"`
	Name    words.Message `json:"name"`
	Look    words.Message `json:"look"` // how to find out
	Where   string        `json:"where" enum:"danger,pot,pump,filter,pool,paths,since"`
	Minutes float64       `json:"minutes"` // that finding out takes
	Base    float64       `json:"-"`       // P(yes) without a cause for it
	Caution words.Message `json:"caution,omitempty"`
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
	Mend words.Message `json:"mend,omitempty"`
	// Danger is what a yes calls for before any thinking; "" for most. Closes tells
	// that the pool is closed to people while the pump may run.
	Danger words.Message `json:"danger,omitempty"`
	Closes bool          `json:"-"`
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
