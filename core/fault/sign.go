package fault

// Sign names something seen or heard at a pad.
type Sign string

// SignFact is what is known of a sign: how it is asked, how it is looked for,
// and how often it shows when nothing that explains it is wrong.
type SignFact struct {
	ID      Sign    `json:"id"`
	Name    string  `json:"name"`
	Look    string  `json:"look"`    // how to find out
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
)

// Signs lists every sign in the order it is asked. Base rates and minutes are
// ours, from common practice.
var Signs = []SignFact{
	{ID: AirInPot, Name: "Air in the pot", Look: "Look through the pot's lid with the pump running.", Minutes: 0.5, Base: 0.04, Air: true, GivenAir: 0.92},
	{ID: BasketFull, Name: "Basket full", Look: "Look through the lid; when in doubt, pump off and pull the basket.", Minutes: 3, Base: 0.05, PumpOff: true,
		Caution: "Open the pot only with the breaker or disconnect off: timers and freeze protection can start a pump that is merely off."},
	{ID: NeedleBounces, Name: "Needle bounces", Look: "Watch the tank gauge for ten seconds.", Minutes: 0.5, Base: 0.05, Air: true, GivenAir: 0.65},
	{ID: WeakOne, Name: "Weak at one return", Look: "Feel each return with a hand.", Minutes: 2, Base: 0.02},
	{ID: Bubbles, Name: "Bubbles at the returns", Look: "Look at the water over each return.", Minutes: 1, Base: 0.03, Air: true, GivenAir: 0.6},
	{ID: LevelLow, Name: "Water level low", Look: "Look at the skimmer: the water belongs at the middle of its mouth.", Minutes: 1, Base: 0.04},
	{ID: NoPull, Name: "No pull at a skimmer", Look: "Hold a leaf or a hand at each skimmer's mouth; look at its basket and weir.", Minutes: 2, Base: 0.04},
	{ID: WeakAll, Name: "Weak at all returns", Look: "Feel each return with a hand.", Minutes: 2, Base: 0.05, FromState: true},
	{ID: HandleWrong, Name: "Handle found wrong", Look: "Read every handle: the closed mark points at the port that is shut.", Minutes: 2, Base: 0.02,
		Caution: "Move a handle only with the pump off."},
	{ID: Slurping, Name: "Skimmer slurps", Look: "Listen at each skimmer.", Minutes: 1, Base: 0.02},
	{ID: PotNotFull, Name: "Pot not full of water", Look: "Look through the lid with the pump running.", Minutes: 0.5, Base: 0.03},
	{ID: PotDrains, Name: "Pot drains when off", Look: "Stop the pump and watch the pot for a minute.", Minutes: 2, Base: 0.06, PumpOff: true},
	{ID: NeedleAtRest, Name: "Needle wrong at rest", Look: "Pump off, bleed open: the needle should fall to the standing pressure.", Minutes: 3, Base: 0.03, PumpOff: true,
		Caution: "Open the bleed slowly and stand aside. The gauge alone never proves that a tank is relieved."},
	{ID: LidTestHolds, Name: "Pot holds after greasing the lid", Look: "Clean and grease the lid O-ring, run, stop and watch the pot.", Minutes: 6, Base: 0.1, PumpOff: true,
		Caution: "Open the pot only with the breaker or disconnect off."},
	{ID: DebrisFound, Name: "Debris in the impeller", Look: "Power locked off, basket out, a finger or screwdriver into the impeller.", Minutes: 8, Base: 0.01, PumpOff: true,
		Caution: "Power locked off at the disconnect before a hand goes in. Off is not locked off."},
	{ID: DripOutlet, Name: "Drip at the pump's outlet", Look: "Look under the pump's outlet fitting.", Minutes: 1, Base: 0.03},
	{ID: SlowDrainTest, Name: "Element drains slowly", Look: "Fill an element, tip it, and count the seconds against a new one.", Minutes: 25, Base: 0.1, PumpOff: true,
		Caution: "Stored pressure: pump off, power locked off, bleed open and nothing coming out before touching band or lid."},
	{ID: Gravel, Name: "Sounds like gravel", Look: "Listen at the pump.", Minutes: 0.5, Base: 0.02},
	{ID: WaterDull, Name: "Water dull", Look: "Look for the main drain's cover through the water.", Minutes: 0.5, Base: 0.12},
	{ID: DeviceNoFlow, Name: "Heater or cell says no flow", Look: "Read the heater's and the cell's lamps.", Minutes: 1, Base: 0.03, FromState: true},
	{ID: Storm, Name: "Storm since the last visit", Base: 0.1, Context: true},
	{ID: WorkedHere, Name: "Someone worked here since", Base: 0.08, Context: true},
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
