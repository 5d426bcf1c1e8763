package procedure

import (
	"fmt"
	"slices"
	"strconv"

	"fairlap/core/pad"
)

// Verb is a kind of thing that a hand does at a pad.
type Verb string

// The verbs. What they ask for and change is in facts.
const (
	Start       Verb = "start"
	StartShut   Verb = "start-shut" // the timed exception: on shut suction lines
	Stop        Verb = "stop"
	RunDry      Verb = "run-dry"   // it was seen to have run dry
	FoundDry    Verb = "found-dry" // hot from a dry run that nobody watched
	Cool        Verb = "cool"
	SetTimeOut  Verb = "time-out"
	LockOff     Verb = "lock-off"
	Unlock      Verb = "unlock"
	Turn        Verb = "turn" // the filter valve, to Arg
	OpenBleed   Verb = "open-bleed"
	Relieve     Verb = "relieve" // looked: nothing comes out of the open bleed
	CloseBleed  Verb = "close-bleed"
	ShutSuction Verb = "shut-suction" // all of it
	OpenLine    Verb = "open-line"    // suction line Arg
	ShutLine    Verb = "shut-line"
	OpenSuction Verb = "open-suction" // as in daily use
	ShutReturns Verb = "shut-returns"
	OpenReturns Verb = "open-returns"
	OpenTank    Verb = "open-tank"
	CloseTank   Verb = "close-tank"
	OpenPot     Verb = "open-pot"
	FillPot     Verb = "fill-pot"
	ClosePot    Verb = "close-pot"
	HandIn      Verb = "hand-in"
	HandOut     Verb = "hand-out"
	SuctionTo   Verb = "suction-to" // pool or spa
	ReturnTo    Verb = "return-to"
	BathWater   Verb = "bath-water"
	AddDegrease Verb = "add-degreaser"
	AddAcid     Verb = "add-acid"
	EmptyBath   Verb = "empty-bath"
	RinseOff    Verb = "rinse-elements"
	MixSlurry   Verb = "mix-slurry"
	PourDE      Verb = "pour-de"
	PutDEAway   Verb = "put-de-away"
	Dose        Verb = "dose"
	HeatOn      Verb = "heat-on"  // it is found hot
	HeatOff     Verb = "heat-off" // and its cool-down is over
	PeopleOut   Verb = "people-out"
	FillPool    Verb = "fill-pool"
)

// Action is one thing done.
type Action struct {
	Verb Verb   `json:"verb"`
	Arg  string `json:"arg,omitempty"`
}

// fact is what an action asks of a pad, and what it changes.
type fact struct {
	refuses func(r *Rig, s State, arg string) string // "" is allowed
	does    func(r *Rig, s *State, arg string)
	says    string // what the hand does
}

// running are refusals that many actions share.
func whileRunning(s State, what string) string {
	if s.Running {
		return "The pump is running: turn it OFF before " + what + "."
	}
	return ""
}

// mayStart are the rules of every start, but for the suction's.
func mayStart(r *Rig, s State) string {
	switch {
	case s.Running:
		return "The pump is running already."
	case s.Hand:
		return "A hand or a tool is in the pump."
	case s.Tank:
		return "The filter tank is open."
	case s.Pot:
		return "The pot is open."
	case s.Power != Live:
		return "The power is off: give it back first."
	case !s.Setting.MayRun() && s.Setting != "":
		return fmt.Sprintf("Never start on %s: the water has no way out.", s.Setting)
	case needsReturns(s.Setting) && !s.Returns:
		return "All returns are shut: the pump would push against a dead end."
	case s.Opened && !s.Bleed:
		return "It was open: open the bleed first, so that the air comes out there and not with the lid."
	case !s.PotFull:
		return "The pot is empty: fill it with water first."
	case r.Spa && s.SuctionTo != s.ReturnTo:
		return fmt.Sprintf("The spa valves stand apart: it would draw from the %s and fill the %s.", s.SuctionTo, s.ReturnTo)
	case r.Small && s.People:
		return "People are in the pool: this pump never runs with anybody in the water."
	case !s.Filled:
		return "The pool is not filled over its suction yet: the pump would run dry."
	}
	return ""
}

// floods says that an opened line would let the pool run out at the pad.
func floods(r *Rig, s State, _ string) string {
	if r.Below && (s.Tank || s.Pot) {
		return "This pad lies below the water and stands open: close it first, or the pool runs out here."
	}
	return ""
}

func needsReturns(s pad.Setting) bool {
	return s == pad.SetFilter || s == pad.SetRecirculate || s == ""
}

// started is what every start changes.
func started(s *State) {
	s.Running, s.Pressed, s.Opened = true, true, false
}

// facts are the rules (handbook, state rules 1 to 7).
var facts = map[Verb]fact{
	Start: {says: "Start the pump",
		refuses: func(r *Rig, s State, _ string) string {
			if says := mayStart(r, s); says != "" {
				return says
			}
			if s.Suction == 0 {
				return "No suction line is open: the pump would run dry."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { started(s) }},
	StartShut: {says: "Start the pump on shut lines",
		refuses: func(r *Rig, s State, _ string) string {
			if says := mayStart(r, s); says != "" {
				return says
			}
			if s.Suction != 0 {
				return "A suction line is open: start as usual."
			}
			if !s.Bleed {
				return "Open the bleed first."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { started(s); s.Prime = Priming }},
	Stop: {says: "Turn the pump OFF",
		refuses: func(_ *Rig, s State, _ string) string {
			if !s.Running {
				return "The pump is off already."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Running, s.Prime = false, NotPriming }},
	RunDry: {says: "It ran dry",
		does: func(_ *Rig, s *State, _ string) {
			s.Running, s.Prime, s.Hot, s.PotFull = false, NotPriming, true, false
		}},
	FoundDry: {says: "Find the pot hot from a dry run",
		refuses: func(_ *Rig, s State, _ string) string { return whileRunning(s, "a hand feels the pot") },
		does:    func(_ *Rig, s *State, _ string) { s.Hot = true }},
	Cool: {says: "Let the pot cool until a hand can stay on it",
		refuses: func(_ *Rig, s State, _ string) string { return whileRunning(s, "letting it cool") },
		does:    func(_ *Rig, s *State, _ string) { s.Hot = false }},
	SetTimeOut: {says: "Set the automation's time-out or service mode",
		refuses: func(_ *Rig, s State, _ string) string {
			if s.Power == Locked {
				return "The power is locked off, which is more."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Power = TimeOut }},
	LockOff: {says: "Lock the power off at the breaker or disconnect",
		refuses: func(_ *Rig, s State, _ string) string { return whileRunning(s, "the power is locked off") },
		does:    func(_ *Rig, s *State, _ string) { s.Power = Locked }},
	Unlock: {says: "Give the power back",
		refuses: func(r *Rig, s State, _ string) string {
			// A timer may start the pump the moment that it has power.
			s.Power = Live
			if s.Suction == 0 && s.Prime == NotPriming && !s.Bleed {
				return "No suction line is open, and a timer may start the pump as soon as it has power."
			}
			return mayStart(r, s)
		},
		does: func(_ *Rig, s *State, _ string) { s.Power = Live }},
	Turn: {says: "Turn the filter valve",
		refuses: func(r *Rig, s State, to string) string {
			if says := whileRunning(s, "the handle moves"); says != "" {
				return says
			}
			if !slices.Contains(settingsOf(r.Valve), pad.Setting(to)) {
				return "This filter has no such setting."
			}
			return ""
		},
		does: func(_ *Rig, s *State, to string) { s.Setting = pad.Setting(to) }},
	OpenBleed: {says: "Open the air bleed",
		does: func(_ *Rig, s *State, _ string) { s.Bleed = true }},
	Relieve: {says: "See that nothing comes out of the open bleed",
		refuses: func(_ *Rig, s State, _ string) string {
			if !s.Bleed {
				return "The bleed is shut: a needle on zero alone proves nothing."
			}
			return whileRunning(s, "the pressure can go")
		},
		does: func(_ *Rig, s *State, _ string) { s.Pressed = false }},
	CloseBleed: {says: "Close the bleed",
		refuses: func(_ *Rig, s State, _ string) string {
			if s.Opened && !s.Running {
				return "It was open: the bleed stays open until water runs from it steadily."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Bleed = false }},
	ShutSuction: {says: "Close all suction valves",
		refuses: func(_ *Rig, s State, _ string) string { return whileRunning(s, "its suction is shut") },
		does:    func(_ *Rig, s *State, _ string) { s.Suction = 0 }},
	OpenLine: {says: "Open a suction line",
		refuses: func(r *Rig, s State, arg string) string {
			if _, ok := r.line(arg); !ok {
				return "This pad has no such line."
			}
			return floods(r, s, arg)
		},
		does: func(r *Rig, s *State, arg string) {
			i, _ := r.line(arg)
			s.Suction |= 1 << i
			s.Prime = NotPriming
		}},
	ShutLine: {says: "Close a suction line",
		refuses: func(r *Rig, s State, arg string) string {
			i, ok := r.line(arg)
			if !ok {
				return "This pad has no such line."
			}
			if s.Running && s.Suction&^(1<<i) == 0 {
				return "It is the last open line: the pump would run dry."
			}
			return ""
		},
		does: func(r *Rig, s *State, arg string) {
			i, _ := r.line(arg)
			s.Suction &^= 1 << i
		}},
	OpenSuction: {says: "Set the suction lines as in daily use", refuses: floods,
		does: func(r *Rig, s *State, _ string) { s.Suction, s.Prime = r.Usual, NotPriming }},
	ShutReturns: {says: "Close the return valves",
		refuses: func(_ *Rig, s State, _ string) string { return whileRunning(s, "its returns are shut") },
		does:    func(_ *Rig, s *State, _ string) { s.Returns = false }},
	OpenReturns: {says: "Open the return valves", refuses: floods,
		does: func(_ *Rig, s *State, _ string) { s.Returns = true }},
	OpenTank: {says: "Open the filter tank",
		refuses: func(r *Rig, s State, _ string) string {
			switch {
			case s.Running:
				return whileRunning(s, "the band is touched")
			case s.Power != Locked:
				return "Lock the power off at the breaker or disconnect first: off, or a time-out, is not locked off."
			case !s.Bleed:
				return "Open the bleed first."
			case s.Pressed:
				return "The tank may be under pressure: the bleed must be open and nothing come out before the band is touched."
			case r.Below && (s.Suction != 0 || s.Returns):
				return "This pad lies below the water: shut suction and returns first, or the pool runs out here."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Tank, s.Opened = true, true }},
	CloseTank: {says: "Close the filter tank",
		refuses: func(_ *Rig, s State, _ string) string {
			if s.Elements == Acid || s.Elements == Degreaser {
				return "Rinse the elements first: what is on them would go into the pool."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Tank = false }},
	OpenPot: {says: "Take the pot's lid off",
		refuses: func(r *Rig, s State, _ string) string {
			switch {
			case s.Running:
				return whileRunning(s, "the lid comes off")
			case s.Power != Locked:
				return "The power is not locked off: a time-out ends by itself, and timers and freeze protection start pumps. Switch the breaker or disconnect off."
			case s.Hot:
				return "It ran dry: the pot may hold boiling water. Let it cool first."
			case r.Below && (s.Suction != 0 || s.Returns):
				return "This pad lies below the water: shut suction and returns first, or the pool runs out here."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Pot, s.Opened, s.PotFull = true, true, false }},
	FillPot: {says: "Fill the pot with water",
		refuses: func(_ *Rig, s State, _ string) string {
			if !s.Pot {
				return "The pot is shut."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.PotFull = true }},
	ClosePot: {says: "Put the lid on",
		refuses: func(_ *Rig, s State, _ string) string {
			if s.Hand {
				return "A hand or a tool is still in the pump."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Pot = false }},
	HandIn: {says: "Reach to the impeller",
		refuses: func(_ *Rig, s State, _ string) string {
			switch {
			case s.Power != Locked || s.Running:
				return "No hand goes near the impeller before the power is locked off at the breaker or disconnect."
			case !s.Pot:
				return "The pot is shut."
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Hand = true }},
	HandOut:   {says: "Take hand and tool out", does: func(_ *Rig, s *State, _ string) { s.Hand = false }},
	SuctionTo: {says: "Turn the suction handle", refuses: turnsSpa, does: func(_ *Rig, s *State, to string) { s.SuctionTo = pad.Body(to) }},
	ReturnTo:  {says: "Turn the return handle", refuses: turnsSpa, does: func(_ *Rig, s *State, to string) { s.ReturnTo = pad.Body(to) }},
	BathWater: {says: "Put the water in the bath", refuses: func(_ *Rig, s State, _ string) string {
		switch s.Bath {
		case Acid:
			return "Acid stands in the bath: acid goes into water, never water into acid."
		case Degreaser:
			return "Degreaser still stands in the bath: empty it first."
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Bath = Water }},
	AddDegrease: {says: "Stir degreaser in", refuses: func(_ *Rig, s State, _ string) string {
		switch {
		case s.Elements == Acid || s.Bath == Acid:
			return "Acid is still on the elements: detergent and acid must not meet. Rinse well first."
		case s.Bath != Water:
			return "Fill the bath with water first."
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Bath, s.Elements = Degreaser, Degreaser }},
	AddAcid: {says: "Pour the acid into the water", refuses: func(_ *Rig, s State, _ string) string {
		switch {
		case s.Elements == Degreaser || s.Bath == Degreaser:
			return "Detergent is still on the elements: acid and detergent must not meet. Empty the bath and rinse well first."
		case s.Bath != Water:
			return "Water first: acid goes into water, never water into acid."
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Bath, s.Elements = Acid, Acid }},
	EmptyBath: {says: "Empty the bath by the local rule", does: func(_ *Rig, s *State, _ string) { s.Bath = Nothing }},
	RinseOff: {says: "Rinse the elements", refuses: func(_ *Rig, s State, _ string) string {
		if s.Bath != Nothing && s.Bath != Water {
			return "Empty the bath first."
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Elements = Nothing }},
	MixSlurry: {says: "Mix the DE into a bucket of water", does: func(_ *Rig, s *State, _ string) { s.Powder = Slurry }},
	PourDE: {says: "Pour the slurry in at the skimmer", refuses: func(_ *Rig, s State, _ string) string {
		switch {
		case s.Powder != Slurry:
			return "Never dry: mix the DE into a bucket of water first."
		case !s.Running:
			return "The pump is off: the DE would settle in the pipe."
		case s.Setting != pad.SetFilter:
			return "The valve is not on filter: the DE would not reach the grids."
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Powder = NoPowder }},
	PutDEAway: {says: "Close the slurry bucket and put it away", does: func(_ *Rig, s *State, _ string) { s.Powder = NoPowder }},
	Dose: {says: "Put the chemicals in", refuses: func(_ *Rig, s State, _ string) string {
		switch {
		case !s.Running:
			return "The pump is off: never dose into a skimmer or pot of an idle pump."
		case s.People:
			return "Swimmers are in the water."
		}
		return ""
	}, does: func(_ *Rig, _ *State, _ string) {}},
	HeatOn:    {says: "Find the heater hot", does: func(_ *Rig, s *State, _ string) { s.Heat = true }},
	HeatOff:   {says: "Turn the heater off and let the water cool it", does: func(_ *Rig, s *State, _ string) { s.Heat = false }},
	PeopleOut: {says: "Everybody out of the water", does: func(_ *Rig, s *State, _ string) { s.People = false }},
	FillPool:  {says: "Fill the pool over its suction", does: func(_ *Rig, s *State, _ string) { s.Filled = true }},
}

func turnsSpa(r *Rig, s State, to string) string {
	if !r.Spa || (to != string(pad.PoolBody) && to != string(pad.SpaBody)) {
		return "This pad's handles don't part pool and spa."
	}
	return whileRunning(s, "a spa valve turns")
}

// settingsOf are the settings of a kind of filter valve.
func settingsOf(v pad.Valve) []pad.Setting {
	d := pad.Document{Filter: pad.Filter{Valve: v}}
	return d.Settings()
}

// The lines that procedures name without knowing the pad.
const (
	firstLine = "first"
	drainLine = "drain"
)

// line finds a suction line by its place, written as a number, or by its part.
func (r *Rig) line(arg string) (int, bool) {
	switch arg {
	case firstLine:
		return r.First, len(r.Suction) > 0
	case drainLine:
		return r.Drain, r.Drain >= 0
	}
	i, err := strconv.Atoi(arg)
	return i, err == nil && i >= 0 && i < len(r.Suction)
}

// Refuses says why an action may not be done in a state; "" when it may.
func (r *Rig) Refuses(s State, a Action) string {
	f, ok := facts[a.Verb]
	if !ok {
		return "There is no such action."
	}
	if s.Prime == Priming && a.Verb != OpenLine && a.Verb != OpenSuction && a.Verb != Stop && a.Verb != RunDry {
		return "The pump runs on shut lines: open one now, or stop it."
	}
	if s.Heat && a.Verb == Stop {
		return "The heater is still hot: keep the water moving until it has cooled."
	}
	if f.refuses == nil {
		return ""
	}
	return f.refuses(r, s, a.Arg)
}

// Refusal is an action that the pad's state forbids.
type Refusal struct {
	Action Action
	Says   string
}

func (e *Refusal) Error() string { return e.Says }

// Do gives the state after actions done in order, or the *Refusal of the first that
// may not be done.
func (r *Rig) Do(s State, actions ...Action) (State, error) {
	for _, a := range actions {
		if says := r.Refuses(s, a); says != "" {
			return s, &Refusal{a, says}
		}
		facts[a.Verb].does(r, &s, a.Arg)
	}
	return s, nil
}

// Actions lists everything that a hand could try at a rig.
func (r *Rig) Actions() []Action {
	var out []Action
	for _, v := range verbs {
		switch v {
		case Turn:
			for _, to := range settingsOf(r.Valve) {
				out = append(out, Action{v, string(to)})
			}
		case OpenLine, ShutLine:
			for i := range r.Suction {
				out = append(out, Action{v, strconv.Itoa(i)})
			}
		case SuctionTo, ReturnTo:
			if r.Spa {
				out = append(out, Action{v, string(pad.PoolBody)}, Action{v, string(pad.SpaBody)})
			}
		default:
			out = append(out, Action{Verb: v})
		}
	}
	return out
}

// verbs in the order that a hand thinks of them: what makes safe comes first.
var verbs = []Verb{HandOut, OpenLine, Stop, Cool, LockOff, OpenBleed, Relieve, EmptyBath, RinseOff, PutDEAway, ClosePot, CloseTank, OpenReturns, OpenSuction,
	Turn, SuctionTo, ReturnTo, Unlock, Start, CloseBleed, SetTimeOut, ShutSuction, ShutLine, ShutReturns, OpenTank, OpenPot, FillPot, HandIn, StartShut,
	BathWater, AddDegrease, AddAcid, MixSlurry, PourDE, Dose, HeatOn, HeatOff, PeopleOut, FillPool, FoundDry, RunDry}

// Says names an action for a hand at this rig.
func (r *Rig) Says(a Action) string {
	switch a.Verb {
	case Turn:
		return "Turn the filter valve to " + a.Arg
	case OpenLine, ShutLine:
		if i, ok := r.line(a.Arg); ok {
			return map[Verb]string{OpenLine: "Open ", ShutLine: "Close "}[a.Verb] + r.Suction[i]
		}
	case SuctionTo:
		return "Turn the suction handle to the " + a.Arg
	case ReturnTo:
		return "Turn the return handle to the " + a.Arg
	}
	return facts[a.Verb].says
}
