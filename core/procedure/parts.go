package procedure

import (
	"strconv"

	"fairlap/core/pad"
)

// Steps that many procedures share.

func do(v Verb, arg ...string) Action {
	a := Action{Verb: v}
	if len(arg) > 0 {
		a.Arg = arg[0]
	}
	return a
}

func pumpOff(id, before string) Step {
	return Step{ID: id, Says: "Turn the pump OFF", Hint: "Hear it stop before you confirm.", Why: "It must stand still before " + before + ".", Care: []Care{DeadHead}, Do: []Action{do(Stop)}}
}

// heatAsked are the steps before a pump of a pad with a heater stops; cold leads on.
func heatAsked(cold string) []Step {
	return []Step{
		{ID: "heat-asked", Says: "Is the heater firing, or was it within 20 minutes?", Hint: "Its display and its sound say so; the pipe behind it is warm.", Why: "Standing water boils in a hot exchanger.",
			Answers: []Answer{{ID: "hot", Says: "Yes, or not sure", Do: []Action{do(HeatOn)}}, {ID: "cold", Says: "No, it is cold", To: cold}}},
		{ID: "heat-flow", Says: "Turn the heater off at its own switch, and keep the water moving for 20 minutes", Timer: &Timer{Count: CountWait, Low: heatLow, High: heatHigh, Least: heatLow}, Why: "The flow carries the heat out.", Care: []Care{GasWork}, Do: []Action{do(HeatOff)}},
	}
}

// Waits, seconds (common practice; labels rule).
const (
	heatLow, heatHigh = 1200, 1500 // a heater's cool-down: 20 minutes of flow
	potLow, potHigh   = 900, 1800  // a pot that ran dry, until a hand can stay on it
	cakeLow, cakeHigh = 120, 180   // DE on the grids
	driveWait         = 300        // a capacitor's or a drive's charge: the label's time
	primeLeast        = 10         // no pot fills quicker
	drainLeast        = 2          // no element drains quicker
)

// ranDry are the looks that every opening of a pot begins with.
func ranDry(to string) []Step {
	return []Step{
		{ID: "dry", Says: "Did the pump run dry?", Hint: "Hot lid, no water in the pot, a smell of hot plastic.", Care: []Care{Scald}, Answers: []Answer{{ID: "yes", Says: "Yes, or not sure", Do: []Action{do(FoundDry)}}, {ID: "no", Says: "No", To: to}}},
		{ID: "cool", Says: "Let the pot cool until a hand can stay on it", Hint: "Meanwhile: is the water at the middle of the skimmer mouth? Look at the inlet's and the outlet's fitting: heat shrinks their threads.", Care: []Care{Scald}, Timer: &Timer{Count: CountWait, Low: potLow, High: potHigh, Least: potLow}, Do: []Action{do(Cool)}},
	}
}

func turn(id string, to pad.Setting, why string) Step {
	says := "Turn the filter valve to " + string(to)
	return Step{ID: id, Says: says, Hint: "Press the handle down, turn it without force, always the same way round, and let it snap into its notch.", Why: why, Do: []Action{do(Turn, string(to))}}
}

func turnBack(id string) Step {
	return turn(id, pad.SetFilter, "Back to the way that cleans the water.")
}

func lockOff(id string) Step {
	return Step{ID: id, Says: "Lock the power off at the breaker or disconnect", Hint: "Tag it, or keep the key with you. A time-out or service mode is not enough: it ends by itself.", Why: "Timers, automation and freeze protection start pumps without asking.",
		Care: []Care{OffIsNot, Capacitor}, Do: []Action{do(LockOff)}}
}

func openBleed(id string) Step {
	return Step{ID: id, Says: "Open the air bleed on top of the filter", Hint: "No bleed on this one: loosen the plug or the gauge slowly, as its maker says.", Why: "It lets the pressure go, and the air out later.", Care: []Care{Pressure}, Do: []Action{do(OpenBleed)}}
}

// relieved is the look that lets a tank be opened.
func relieved(id string) Step {
	return Step{ID: id, Says: "Is the bleed open and nothing coming out?", Hint: "Wait until neither water nor air comes. The needle on zero is a second witness, not proof.", Care: []Care{Pressure},
		Answers: []Answer{{ID: "still", Says: "Still coming", To: id}, {ID: "nothing", Says: "Nothing comes out", Do: []Action{do(Relieve)}}}}
}

func below(s *Setup) bool    { return s.Rig.Below }
func notBelow(s *Setup) bool { return !s.Rig.Below }
func manyLines(s *Setup) bool {
	return len(s.Rig.Suction) > 1
}

// isolate shuts the lines of a pad that lies below the water.
func isolate(id string) Step {
	return Step{ID: id, Says: "Shut suction and return valves", Hint: "Check valves are not enough.", Why: "This pad lies below the water: the pool would run out here.", Do: []Action{do(ShutSuction), do(ShutReturns)}, When: below}
}

func deisolate(id string) Step {
	return Step{ID: id, Says: "Open the suction and return valves again", Do: []Action{do(OpenSuction), do(OpenReturns)}, When: below}
}

func powerBack(id string) Step {
	return Step{ID: id, Says: "Give the power back", Hint: "Everything is shut and open as it should be: it may start now.", Care: []Care{OffIsNot}, Do: []Action{do(Unlock)}}
}

// openFirst opens the one line that a start after opening begins with.
func openFirst(id string) Step {
	return Step{ID: id, Says: "Open {firstLine} only, the other lines stay shut", Hint: "The nearest one has the least air in it. Nobody in the water.", Care: []Care{Entrapment}, Do: []Action{do(OpenLine, firstLine)}}
}

// startBled are the steps of a start after opening (state rule 6).
func startBled(prefix string) []Step {
	return []Step{
		{ID: prefix + "start", Says: "Start the pump and stand clear of the tank", Hint: "The bleed is open. Stay away until water runs from it steadily.", Care: []Care{Restart, DryRun}, Do: []Action{do(Start)}},
		{ID: prefix + "steady", Says: "Does water run from the bleed steadily?", Hint: "Spitting is air on its way out: wait.", Timer: &Timer{Count: CountBleed, Low: 15, High: 90, Most: 240}, Care: []Care{Restart, DryRun},
			Answers: []Answer{{ID: "spits", Says: "Still spitting", To: prefix + "steady"}, {ID: "steady", Says: "Steady", Do: []Action{do(CloseBleed)}},
				{ID: "never", Says: "Nothing comes: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}}},
		{ID: prefix + "rating", Says: "Is the gauge under the label's pressure?", Hint: "Usual here: {expectPsi} psi clean at {speed} rpm.", Care: []Care{Restart},
			Answers: []Answer{{ID: "under", Says: "Under it"}, {ID: "over", Says: "Over it: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}}},
	}
}

// lineByLine opens the other lines one at a time after a start on one, and sets all as
// in daily use.
func lineByLine(started func(*Rig) int) []Step {
	return []Step{
		{ID: "line", Says: "Open {each} slowly, a little air at a time", Hint: "Half-second jogs on a motor valve. Nearly shut again when the pump labours, and the bleed opened now and then. Quiet means that this line is clear.", Why: "All at once, their air would take the prime.", Care: []Care{DryRun},
			Do: []Action{do(OpenLine, each)}, Each: othersThan(started)},
		{ID: "share", Says: "Set every line to its share of daily use", Hint: "The drain throttled: most of the pull belongs at the skimmers.", Do: []Action{do(OpenSuction)}, When: manyLines},
	}
}

// othersThan are the lines of daily use without the one that a start begins with.
func othersThan(started func(*Rig) int) func(*Setup) []Place {
	return func(s *Setup) []Place {
		var out []Place
		for i, name := range s.Rig.Suction {
			if i != started(&s.Rig) && s.Rig.Usual.Has(i) {
				out = append(out, Place{strconv.Itoa(i), name})
			}
		}
		return out
	}
}

func firstOf(r *Rig) int { return r.First }

func before() Step {
	return Step{ID: "before", Says: "Read the gauges, and note the speed", Hint: "You read {speed} rpm at the bench: stay there. What you read there is filled in.", Why: "Only the same speed before and after says what the cleaning did.", Read: Before}
}

func after() Step {
	return Step{ID: "after", Says: "Read again at the same speed", Hint: "Set {speed} rpm and wait until the needle stands. Clean, this pad should read about {expectPsi} psi.", Why: "It says whether the cleaning worked, and starts the next count.", Read: After}
}

func holdFlow() Step {
	return Step{ID: "reference", Says: "Tell the pump to take its new reference", Hint: "A flow-holding pump counts its alarm from here.", When: func(s *Setup) bool { return s.Figures["holds"] != "" }}
}

func join(parts ...any) []Step {
	var out []Step
	for _, p := range parts {
		switch p := p.(type) {
		case Step:
			out = append(out, p)
		case []Step:
			out = append(out, p...)
		}
	}
	return out
}

func kindIs(k pad.FilterKind) func(*Setup) bool {
	return func(s *Setup) bool { return s.Rig.Kind == k && !s.Rig.Small }
}

func valveIs(v pad.Valve, kinds ...pad.FilterKind) func(*Setup) bool {
	return func(s *Setup) bool {
		if s.Rig.Valve != v {
			return false
		}
		for _, k := range kinds {
			if s.Rig.Kind == k {
				return true
			}
		}
		return len(kinds) == 0
	}
}

func notSmall(s *Setup) bool { return !s.Rig.Small }
func small(s *Setup) bool    { return s.Rig.Small }
