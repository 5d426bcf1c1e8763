package procedure

import (
	"slices"
	"strconv"

	"fairlap/core/pad"
	"fairlap/core/words"
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
	SetSpeed    Verb = "set-speed" // by hand, off its program
	Program     Verb = "program"   // back on its program, in AUTO
	FoundUsual  Verb = "found-usual"
)

// Action is one thing done.
type Action struct {
	Verb Verb   `json:"verb"`
	Arg  string `json:"arg,omitempty"`
}

// fact is what an action asks of a pad, and what it changes.
type fact struct {
	refuses func(r *Rig, s State, arg string) words.Message // "" is allowed
	does    func(r *Rig, s *State, arg string)
	text    words.Message // what the hand does
}

// running are refusals that many actions share.
func whileRunning(s State, what words.Message) words.Message {
	if s.Running {
		return words.Of("procedure.off-before", "what", words.Msg(what))
	}
	return ""
}

// mayStart are the rules of every start, but for the suction's.
func mayStart(r *Rig, s State) words.Message {
	switch {
	case s.Running:
		return "procedure.the-pump-is-running-already"
	case s.Hand:
		return "procedure.a-hand-or-a-tool"
	case s.Tank:
		return "procedure.the-filter-tank-is-open"
	case s.Pot:
		return "procedure.the-pot-is-open"
	case s.Power != Live:
		return "procedure.the-power-is-off-give"
	case !s.Setting.MayRun() && s.Setting != "":
		return words.Of("procedure.never-start-on-the-water", "setting", words.Msg(s.Setting.Words()))
	case needsReturns(s.Setting) && !s.Returns:
		return "procedure.all-returns-are-shut-the"
	case s.Opened && !s.Bleed:
		return "procedure.it-was-open-open-the"
	case !s.PotFull:
		return "procedure.the-pot-is-empty-fill"
	case r.Spa && s.SuctionTo != s.ReturnTo:
		return words.Of(
			"procedure.the-spa-valves-stand-apart",
			"suctionTo",
			words.Msg(s.SuctionTo.Words()),
			"returnTo",
			words.Msg(s.ReturnTo.Words()),
		)
	case r.Small && s.People:
		return "procedure.people-are-in-the-pool"
	case !s.Filled:
		return "procedure.the-pool-is-not-filled"
	}
	return ""
}

// floods says that an opened line would let the pool run out at the pad.
func floods(r *Rig, s State, _ string) words.Message {
	if r.Below && (s.Tank || s.Pot) {
		return "procedure.this-pad-lies-below-the"
	}
	return ""
}

// fillsByItself tells of a small unit that the pool's own water fills: its air valve is closed before the plug goes in.
func (r *Rig) fillsByItself(s State) bool {
	return r.Small && s.Filled && s.Suction != 0 && s.Returns && !s.Tank && !s.Running
}

func needsReturns(s pad.Setting) bool {
	return s == pad.SetFilter || s == pad.SetRecirculate || s == ""
}

// started is what every start changes.
func started(r *Rig, s *State) {
	s.Running, s.Pressed, s.Opened = true, true, false
	s.ByHand = s.ByHand || !r.Small
}

// facts are the rules (handbook, state rules 1 to 7).
var facts = map[Verb]fact{
	Start: {text: "procedure.start-the-pump",
		refuses: func(r *Rig, s State, _ string) words.Message {
			if text := mayStart(r, s); text != "" {
				return text
			}
			if s.Suction == 0 {
				return "procedure.no-suction-line-is-open"
			}
			return ""
		},
		does: func(r *Rig, s *State, _ string) { started(r, s) }},
	StartShut: {text: "procedure.start-the-pump-on-shut",
		refuses: func(r *Rig, s State, _ string) words.Message {
			if text := mayStart(r, s); text != "" {
				return text
			}
			if s.Suction != 0 {
				return "procedure.a-suction-line-is-open"
			}
			if !s.Bleed {
				return "procedure.open-the-bleed-first"
			}
			return ""
		},
		does: func(r *Rig, s *State, _ string) { started(r, s); s.Prime = Priming }},
	Stop: {text: "procedure.turn-the-pump-off",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if !s.Running {
				return "procedure.the-pump-is-off-already"
			}
			return ""
		},
		does: func(r *Rig, s *State, _ string) {
			s.Running, s.Prime = false, NotPriming
			s.ByHand = s.ByHand || !r.Small // a small unit has no program beside its plug
		}},
	RunDry: {text: "procedure.it-ran-dry",
		does: func(_ *Rig, s *State, _ string) {
			s.Running, s.Prime, s.Hot, s.PotFull = false, NotPriming, true, false
		}},
	FoundDry: {text: "procedure.find-the-pot-hot-from",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			return whileRunning(s, "procedure.a-hand-feels-the-pot")
		},
		does: func(_ *Rig, s *State, _ string) { s.Hot = true }},
	Cool: {text: "procedure.let-the-pot-cool-until",
		refuses: func(_ *Rig, s State, _ string) words.Message { return whileRunning(s, "procedure.letting-it-cool") },
		does:    func(_ *Rig, s *State, _ string) { s.Hot = false }},
	SetTimeOut: {text: "procedure.set-the-automation-s-time",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if s.Power == Locked {
				return "procedure.the-power-is-locked-off"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Power = TimeOut }},
	LockOff: {text: "procedure.lock-the-power-off-at",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			return whileRunning(s, "procedure.the-power-is-locked-off-2")
		},
		does: func(_ *Rig, s *State, _ string) { s.Power = Locked }},
	Unlock: {text: "procedure.give-the-power-back",
		refuses: func(r *Rig, s State, _ string) words.Message {
			// A timer may start the pump the moment that it has power.
			s.Power = Live
			if s.Suction == 0 && s.Prime == NotPriming && !s.Bleed {
				return "procedure.no-suction-line-is-open-2"
			}
			return mayStart(r, s)
		},
		does: func(_ *Rig, s *State, _ string) { s.Power = Live }},
	Turn: {text: "procedure.turn-the-filter-valve",
		refuses: func(r *Rig, s State, to string) words.Message {
			if text := whileRunning(s, "procedure.the-handle-moves"); text != "" {
				return text
			}
			if !slices.Contains(settingsOf(r.Valve), pad.Setting(to)) {
				return "procedure.this-filter-has-no-such"
			}
			return ""
		},
		does: func(_ *Rig, s *State, to string) { s.Setting = pad.Setting(to) }},
	OpenBleed: {text: "procedure.open-the-air-bleed",
		does: func(_ *Rig, s *State, _ string) { s.Bleed = true }},
	Relieve: {text: "procedure.see-that-nothing-comes-out",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if !s.Bleed {
				return "procedure.the-bleed-is-shut-a"
			}
			return whileRunning(s, "procedure.the-pressure-can-go")
		},
		does: func(_ *Rig, s *State, _ string) { s.Pressed = false }},
	CloseBleed: {text: "procedure.close-the-bleed",
		refuses: func(r *Rig, s State, _ string) words.Message {
			if s.Opened && !s.Running && !r.fillsByItself(s) {
				return "procedure.it-was-open-the-bleed"
			}
			return ""
		},
		does: func(r *Rig, s *State, _ string) {
			if s.Bleed = false; r.fillsByItself(*s) {
				s.Opened = false
			}
		}},
	ShutSuction: {text: "procedure.close-all-suction-valves",
		refuses: func(_ *Rig, s State, _ string) words.Message { return whileRunning(s, "procedure.its-suction-is-shut") },
		does:    func(_ *Rig, s *State, _ string) { s.Suction = 0 }},
	OpenLine: {text: "procedure.open-a-suction-line",
		refuses: func(r *Rig, s State, arg string) words.Message {
			if _, ok := r.line(arg); !ok {
				return "procedure.this-pad-has-no-such"
			}
			return floods(r, s, arg)
		},
		does: func(r *Rig, s *State, arg string) {
			i, _ := r.line(arg)
			s.Suction |= 1 << i
			s.Prime = NotPriming
		}},
	ShutLine: {text: "procedure.close-a-suction-line",
		refuses: func(r *Rig, s State, arg string) words.Message {
			i, ok := r.line(arg)
			if !ok {
				return "procedure.this-pad-has-no-such"
			}
			if s.Running && s.Suction&^(1<<i) == 0 {
				return "procedure.it-is-the-last-open"
			}
			return ""
		},
		does: func(r *Rig, s *State, arg string) {
			i, _ := r.line(arg)
			s.Suction &^= 1 << i
		}},
	OpenSuction: {text: "procedure.set-the-suction-lines-as", refuses: floods,
		does: func(r *Rig, s *State, _ string) { s.Suction, s.Prime = r.Usual, NotPriming }},
	ShutReturns: {text: "procedure.close-the-return-valves",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			return whileRunning(s, "procedure.its-returns-are-shut")
		},
		does: func(_ *Rig, s *State, _ string) { s.Returns = false }},
	OpenReturns: {text: "procedure.open-the-return-valves", refuses: floods,
		does: func(_ *Rig, s *State, _ string) { s.Returns = true }},
	OpenTank: {text: "procedure.open-the-filter-tank",
		refuses: func(r *Rig, s State, _ string) words.Message {
			switch {
			case s.Running:
				return whileRunning(s, "procedure.the-band-is-touched")
			case s.Power != Locked:
				return "procedure.lock-the-power-off-at-2"
			case !s.Bleed:
				return "procedure.open-the-bleed-first"
			case s.Pressed:
				return "procedure.the-tank-may-be-under"
			case r.Below && (s.Suction != 0 || s.Returns):
				return "procedure.this-pad-lies-below-the-2"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Tank, s.Opened = true, true }},
	CloseTank: {text: "procedure.close-the-filter-tank",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if s.Elements == Acid || s.Elements == Degreaser {
				return "procedure.rinse-the-elements-first-what"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Tank = false }},
	OpenPot: {text: "procedure.take-the-pot-s-lid",
		refuses: func(r *Rig, s State, _ string) words.Message {
			switch {
			case s.Running:
				return whileRunning(s, "procedure.the-lid-comes-off")
			case s.Power != Locked:
				return "procedure.the-power-is-not-locked"
			case s.Hot:
				return "procedure.it-ran-dry-the-pot"
			case r.Below && (s.Suction != 0 || s.Returns):
				return "procedure.this-pad-lies-below-the-2"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Pot, s.Opened, s.PotFull = true, true, false }},
	FillPot: {text: "procedure.fill-the-pot-with-water",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if !s.Pot {
				return "procedure.the-pot-is-shut"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.PotFull = true }},
	ClosePot: {text: "procedure.put-the-lid-on",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if s.Hand {
				return "procedure.a-hand-or-a-tool-2"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Pot = false }},
	HandIn: {text: "procedure.reach-to-the-impeller",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			switch {
			case s.Power != Locked || s.Running:
				return "procedure.no-hand-goes-near-the"
			case !s.Pot:
				return "procedure.the-pot-is-shut"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.Hand = true }},
	HandOut: {text: "procedure.take-hand-and-tool-out", does: func(_ *Rig, s *State, _ string) { s.Hand = false }},
	SuctionTo: {
		text:    "procedure.turn-the-suction-handle",
		refuses: turnsSpa,
		does:    func(_ *Rig, s *State, to string) { s.SuctionTo = pad.Body(to) },
	},
	ReturnTo: {
		text:    "procedure.turn-the-return-handle",
		refuses: turnsSpa,
		does:    func(_ *Rig, s *State, to string) { s.ReturnTo = pad.Body(to) },
	},
	BathWater: {text: "procedure.put-the-water-in-the", refuses: func(_ *Rig, s State, _ string) words.Message {
		switch s.Bath {
		case Acid:
			return "procedure.acid-stands-in-the-bath"
		case Degreaser:
			return "procedure.degreaser-still-stands-in-the"
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Bath = Water }},
	AddDegrease: {text: "procedure.stir-degreaser-in", refuses: func(_ *Rig, s State, _ string) words.Message {
		switch {
		case s.Elements == Acid || s.Bath == Acid:
			return "procedure.acid-is-still-on-the"
		case s.Bath != Water:
			return "procedure.fill-the-bath-with-water"
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Bath, s.Elements = Degreaser, Degreaser }},
	AddAcid: {text: "procedure.pour-the-acid-into-the", refuses: func(_ *Rig, s State, _ string) words.Message {
		switch {
		case s.Elements == Degreaser || s.Bath == Degreaser:
			return "procedure.detergent-is-still-on-the"
		case s.Bath != Water:
			return "procedure.water-first-acid-goes-into"
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Bath, s.Elements = Acid, Acid }},
	EmptyBath: {text: "procedure.empty-the-bath-by-the", does: func(_ *Rig, s *State, _ string) { s.Bath = Nothing }},
	RinseOff: {text: "procedure.rinse-the-elements", refuses: func(_ *Rig, s State, _ string) words.Message {
		if s.Bath != Nothing && s.Bath != Water {
			return "procedure.empty-the-bath-first"
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Elements = Nothing }},
	MixSlurry: {text: "procedure.mix-the-de-into-a", does: func(_ *Rig, s *State, _ string) { s.Powder = Slurry }},
	PourDE: {text: "procedure.pour-the-slurry-in-at", refuses: func(_ *Rig, s State, _ string) words.Message {
		switch {
		case s.Powder != Slurry:
			return "procedure.never-dry-mix-the-de"
		case !s.Running:
			return "procedure.the-pump-is-off-the"
		case s.Setting != pad.SetFilter:
			return "procedure.the-valve-is-not-on"
		}
		return ""
	}, does: func(_ *Rig, s *State, _ string) { s.Powder = NoPowder }},
	PutDEAway: {
		text: "procedure.close-the-slurry-bucket-and",
		does: func(_ *Rig, s *State, _ string) { s.Powder = NoPowder },
	},
	Dose: {text: "procedure.put-the-chemicals-in", refuses: func(_ *Rig, s State, _ string) words.Message {
		switch {
		case !s.Running:
			return "procedure.the-pump-is-off-never"
		case s.People:
			return "procedure.swimmers-are-in-the-water"
		}
		return ""
	}, does: func(_ *Rig, _ *State, _ string) {}},
	HeatOn:  {text: "procedure.find-the-heater-hot", does: func(_ *Rig, s *State, _ string) { s.Heat = true }},
	HeatOff: {text: "procedure.turn-the-heater-off-and", does: func(_ *Rig, s *State, _ string) { s.Heat = false }},
	PeopleOut: {
		text: "procedure.everybody-out-of-the-water",
		does: func(_ *Rig, s *State, _ string) { s.People = false },
	},
	SetSpeed: {text: "procedure.set-the-speed-by-hand", does: func(_ *Rig, s *State, _ string) { s.ByHand = true }},
	Program: {text: "procedure.program.says",
		refuses: func(_ *Rig, s State, _ string) words.Message {
			if s.Power != Live {
				return "procedure.the-power-is-off-give"
			}
			return ""
		},
		does: func(_ *Rig, s *State, _ string) { s.ByHand = false }},
	FoundUsual: {text: "procedure.find-it-as-usual", does: func(r *Rig, s *State, _ string) { *s = r.Daily() }},
	FillPool:   {text: "procedure.fill-the-pool-over-its", does: func(_ *Rig, s *State, _ string) { s.Filled = true }},
}

func turnsSpa(r *Rig, s State, to string) words.Message {
	if !r.Spa || (to != string(pad.PoolBody) && to != string(pad.SpaBody)) {
		return "procedure.this-pad-s-handles-don"
	}
	return whileRunning(s, "procedure.a-spa-valve-turns")
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
func (r *Rig) Refuses(s State, a Action) words.Message {
	f, ok := facts[a.Verb]
	if !ok {
		return "procedure.there-is-no-such-action"
	}
	if s.Prime == Priming && a.Verb != OpenLine && a.Verb != OpenSuction && a.Verb != Stop && a.Verb != RunDry {
		return "procedure.the-pump-runs-on-shut"
	}
	if s.Heat && a.Verb == Stop {
		return "procedure.the-heater-is-still-hot"
	}
	if f.refuses == nil {
		return ""
	}
	return f.refuses(r, s, a.Arg)
}

// Refusal is an action that the pad's state forbids.
type Refusal struct {
	Action Action
	Text   words.Message
}

func (e *Refusal) Error() string { return words.Plain.Say(e.Text) }

// Do gives the state after actions done in order, or the *Refusal of the first that
// may not be done.
func (r *Rig) Do(s State, actions ...Action) (State, error) {
	for _, a := range actions {
		if text := r.Refuses(s, a); text != "" {
			return s, &Refusal{a, text}
		}
		facts[a.Verb].does(r, &s, a.Arg)
	}
	return s, nil
}

// Anyhow is the state after an action whatever the rules say: what practice shows the
// price of. An action that does not exist changes nothing.
func (r *Rig) Anyhow(s State, a Action) State {
	if f, ok := facts[a.Verb]; ok {
		f.does(r, &s, a.Arg)
	}
	return s
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
var verbs = []Verb{
	HandOut,
	OpenLine,
	Stop,
	Cool,
	LockOff,
	OpenBleed,
	Relieve,
	EmptyBath,
	RinseOff,
	PutDEAway,
	ClosePot,
	CloseTank,
	OpenReturns,
	OpenSuction,
	Turn,
	SuctionTo,
	ReturnTo,
	Unlock,
	Start,
	CloseBleed,
	SetTimeOut,
	ShutSuction,
	ShutLine,
	ShutReturns,
	OpenTank,
	OpenPot,
	FillPot,
	HandIn,
	StartShut,
	BathWater,
	AddDegrease,
	AddAcid,
	MixSlurry,
	PourDE,
	Dose,
	HeatOn,
	HeatOff,
	PeopleOut,
	FillPool,
	FoundDry,
	RunDry,
	Program,
	SetSpeed,
}

// Instruction names an action for a hand at this rig.
func (r *Rig) Instruction(a Action) words.Message {
	switch a.Verb {
	case Turn:
		return turnValve(pad.Setting(a.Arg))
	case OpenLine, ShutLine:
		if i, ok := r.line(a.Arg); ok {
			key := "procedure.open-line"
			if a.Verb == ShutLine {
				key = "procedure.close-line"
			}
			return words.Of(key, "line", words.Name(r.Suction[i]))
		}
	case SuctionTo:
		return words.Of("procedure.suction-handle-to", "body", words.Msg(pad.Body(a.Arg).Words()))
	case ReturnTo:
		return words.Of("procedure.return-handle-to", "body", words.Msg(pad.Body(a.Arg).Words()))
	}
	if text, ok := smallActs[a.Verb]; ok && r.Small {
		return text
	}
	return facts[a.Verb].text
}

// smallActs are what a hand does at a unit with a plug.
var smallActs = map[Verb]words.Message{
	Stop:    "procedure.small.off",
	LockOff: "procedure.small.unplug",
	Unlock:  "procedure.test-the-ground-fault-device",
}
