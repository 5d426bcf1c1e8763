package procedure

import (
	"strconv"

	"fairlap/core/pad"
)

// The procedures at the ends of a season (handbook; common practice).
const (
	SeasonClose ID = "season-close"
	SeasonOpen  ID = "season-open"
)

// drainLowers tells whether a pad may lower its pool through the main drain alone.
func drainLowers(s *Setup) bool { return multiport(s) && s.DrainInchSeconds > 0 }

func multiport(s *Setup) bool { return s.Rig.Valve == pad.Multiport }

// submersible tells whether the last inches need a pump of their own.
func submersible(s *Setup) bool { return !drainLowers(s) }

// aboveDrain are the suction lines whose mouth the falling level passes.
func aboveDrain(s *Setup) []Place {
	var out []Place
	for i, name := range s.Rig.Suction {
		if i != s.Rig.Drain && s.Rig.Usual.Has(i) {
			out = append(out, Place{strconv.Itoa(i), name})
		}
	}
	return out
}

func suctionLines(s *Setup) []Place { return places(s.Rig.Suction) }
func returnLines(s *Setup) []Place  { return places(s.Returns) }
func freezeParts(s *Setup) []Place  { return places(s.Freeze) }

func places(names []string) []Place {
	out := make([]Place, len(names))
	for i, n := range names {
		out[i] = Place{strconv.Itoa(i), n}
	}
	return out
}

func winterWay(way string) func(*Setup) bool {
	return func(s *Setup) bool { return s.Ways.Winter == way || s.Ways.Winter == "" && way == "blown" }
}

const blowHint = "With a blower or a wet vacuum, never by mouth, never with compressed air. Bubbles stand at the pool's end: plug it there at once."

var seasonLibrary = []Procedure{
	{ID: SeasonClose, Name: "Close for the season", Aim: "Nothing that can freeze holds water.", Minutes: 120, On: notSmall, Item: "season-close", Discharges: true, Care: []Care{OffIsNot, Discharge, Ground, Pressure, Entrapment, DryRun},
		Takes: []Take{{Name: "Blower or wet vacuum"}, {Name: "Line plugs"}, {"Submersible pump", "{subGal} gal to lower"}}, Ends: func(_ *Rig, s State) bool { return !s.Running && s.Power == Locked },
		Steps: join(
			Step{ID: "filter", Says: "Is the filter clean, and the baskets?", Why: "What is left in it all winter sets hard.", Answers: []Answer{{ID: "no", Says: "No: clean it first", Ends: true}, {ID: "yes", Says: "Clean"}}},
			Step{ID: "where", Says: "May this water go where the hose ends?", Hint: "{closeInches} in come off this pool, about {closeGal} gal.", Care: []Care{Discharge, Ground}, Answers: []Answer{{ID: "no", Says: "No: not today", Ends: true}, {ID: "yes", Says: "Yes, by the local rules"}}},
			pumpOff("off-1", "anything else"),
			Step{ID: "to-waste", Says: "Turn the filter valve to waste", Hint: "Always the same way round.", Do: []Action{do(Turn, string(pad.SetWaste))}, When: multiport},
			on(wasteOn(Ground), multiport),
			Step{ID: "down", Says: "Is the water at the lower edge of the skimmer mouth?", Hint: "Just above it: below, the skimmers draw air.", Level: &Level{Inches: mouthEdge, Most: 2 * mouthEdge}, Care: []Care{Ground, HoseEnd, DryRun}, When: multiport, Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "down"}, {ID: "there", Says: "It is"}}},
			Step{ID: "shut", Says: "Shut {each}: the level passes it", Hint: "Nobody in the water.", Care: []Care{Entrapment, DryRun}, Do: []Action{do(ShutLine, each)}, Each: aboveDrain, When: drainLowers},
			Step{ID: "drain", Says: "{drainLine} alone now: set {drainSpeed} rpm", Hint: "{drainGpm} gpm through a cover rated {coverRating} gpm.", Care: []Care{Entrapment}, When: drainLowers},
			Step{ID: "down-2", Says: "Is the water below the returns?", Hint: "Nine inches more, looked at every three. Never further: with high ground water an empty shell can float.", Level: &Level{Inches: belowReturn / 3, Most: belowReturn + mouthEdge, Drain: true}, Care: []Care{Ground, HoseEnd, Entrapment}, When: drainLowers, Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "down-2"}, {ID: "there", Says: "It is"}}},
			Step{ID: "off-2", Says: "Turn the pump OFF", Care: []Care{DeadHead}, Do: []Action{do(Stop)}, When: multiport},
			Step{ID: "submersible", Says: "Lower the rest with a submersible pump, to below the returns", Hint: "{subInches} in, about {subGal} gal. Its cord through a ground-fault device, its hose where the water may go. Never far down.", Why: "Below the skimmers this pad's own pump would draw air, or through one cover alone.", Care: []Care{Ground, Discharge}, When: submersible},
			lockOff("lock"),
			Step{ID: "gas", Says: "Heater: gas cock shut, its power off", Hint: "By hand, at the cock outside the cabinet. Nothing inside is opened.", Care: []Care{GasWork}, When: func(s *Setup) bool { return s.Rig.Heater }},
			Step{ID: "isolate", Says: "Shut suction and return valves", Why: "This pad lies below the water.", Do: []Action{do(ShutSuction), do(ShutReturns)}, When: below},
			openBleed("open-bleed"), relieved("relieved"),
			Step{ID: "lid", Says: "Lid off the pot", Care: []Care{OffIsNot}, Do: []Action{do(OpenPot)}},
			Step{ID: "part", Says: "Drain {each}: plugs out, and left out", Hint: "Low plugs first, tip what holds water. Plugs and gaskets go into the pump's basket.", Care: []Care{Pressure}, Each: freezeParts},
			Step{ID: "suction", Says: "Blow out {each}, and plug it at the pool", Hint: blowHint, Each: suctionLines},
			Step{ID: "return", Says: "Blow out {each}, and plug it at the pool", Hint: blowHint, Each: returnLines},
			Step{ID: "antifreeze", Says: "Pool antifreeze into each line at the pad, by its label", Hint: "Pool antifreeze only: the car's is poison.", When: winterWay("antifreeze")},
			Step{ID: "winter", Says: "Turn the filter valve to winter", Hint: "Part-open, all ports drain.", Do: []Action{do(Turn, string(pad.SetWinter))}, When: multiport},
			Step{ID: "tag", Says: "Leave it locked off, with a tag; note the inches and where the plugs are", Why: "A start now would run it dry on an open pot."})},
	{ID: SeasonOpen, Name: "Open for the season", Aim: "Plugs and gaskets in, then water through it line by line.", Minutes: 90, On: notSmall, Item: "season-open", Care: []Care{OffIsNot, DryRun, Restart, Entrapment},
		From: func(r *Rig) State {
			s := r.Daily()
			s.Running, s.Power, s.Pressed, s.Bleed, s.Opened, s.Pot, s.PotFull, s.Suction, s.Returns, s.Filled = false, Locked, false, true, true, true, false, 0, false, false
			if r.Valve == pad.Multiport {
				s.Setting = pad.SetWinter
			}
			return s
		},
		Steps: join(
			Step{ID: "covers", Says: "Are all drain covers whole and in date?", Care: []Care{Entrapment}, Answers: []Answer{{ID: "no", Says: "No: the pool stays closed", Ends: true}, {ID: "yes", Says: "All"}}},
			Step{ID: "unplug", Says: "Plugs out of {each}", Each: func(s *Setup) []Place { return append(suctionLines(s), prefixed("r", returnLines(s))...) }},
			Step{ID: "level", Says: "Fill the pool to the middle of the skimmer mouth", Do: []Action{do(FillPool)}},
			Step{ID: "part", Says: "Plugs and gaskets into {each}", Hint: "They wait in the pump's basket. Hand-tight, greased.", Each: freezeParts},
			Step{ID: "to-filter", Says: "Turn the filter valve to filter", Do: []Action{do(Turn, string(pad.SetFilter))}, When: multiport},
			Step{ID: "fill", Says: "Fill the pot and the line by hose", Hint: "Two to three minutes after a long stop.", Timer: &Timer{Count: CountWait, Low: 120, High: 180, Most: 360}, Do: []Action{do(FillPot)}},
			sealed(), Step{ID: "returns", Says: "Open the return valves", Do: []Action{do(OpenReturns)}}, openFirst("first"), powerBack("power"),
			Step{ID: "start", Says: "Start the pump and watch the pot", Care: []Care{DryRun, Restart}, Do: []Action{do(Start)}},
			catchWater("Not within four minutes: stop."), steady(), lineByLine(firstOf),
			Step{ID: "leaks", Says: "Is every plug and union dry?", Answers: []Answer{{ID: "wet", Says: "One weeps: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "dry", Says: "Dry"}}},
			Step{ID: "gas", Says: "Heater: leave it off until the water runs clear and steady, then its own start", Care: []Care{GasWork}, When: func(s *Setup) bool { return s.Rig.Heater }},
			movement())},
}

// on is a step for some pads only.
func on(s Step, when func(*Setup) bool) Step {
	s.When = when
	return s
}

func prefixed(by string, in []Place) []Place {
	for i := range in {
		in[i].Arg = by + in[i].Arg
	}
	return in
}
