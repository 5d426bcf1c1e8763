package procedure

import (
	"fairlap/core/fault"
)

// The procedures at the pump (handbook; times and amounts common practice).
const (
	Baskets   ID = "baskets"
	Priming1  ID = "prime"
	Impeller  ID = "impeller"
	Humming   ID = "hum"
	PumpPanel ID = "pump-panel"
	CoolDown  ID = "cool-down"
)

// primeWay tells whether a pad is primed this way: without a drain that can be shut
// apart only the first line is left to begin with.
func primeWay(way string) func(*Setup) bool {
	return func(s *Setup) bool {
		chosen := s.Ways.Prime
		if s.Rig.Drain < 0 {
			chosen = "skimmer"
		}
		return chosen == way
	}
}

func notPrimeShut(s *Setup) bool { return !primeWay("shut")(s) }

// toPot are the steps until the pot stands open.
func toPot() []Step {
	return join(pumpOff("off", "the pot is opened"), shutIn(),
		Step{ID: "lid", Says: "Take the lid off, and its O-ring", Hint: "Wipe ring and seat clean.", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot)}})
}

// shutIn are the steps from a pump that stands still to a pot that may be opened.
func shutIn() []Step {
	return join(lockOff("lock"),
		Step{ID: "shut", Says: "Close all suction valves", Hint: "{belowMust}", Why: "Shut, the lines keep their water, and the prime is there again at once.", Do: []Action{do(ShutSuction)}},
		Step{ID: "shut-returns", Says: "Close the return valves", Why: "This pad lies below the water.", Do: []Action{do(ShutReturns)}, When: below},
		openBleed("open-bleed"), ranDry("lid"))
}

func fillPot() Step {
	return Step{ID: "fill", Says: "Fill the pot with water", Hint: "By the bleed, or a bucket; not so high that the basket floats.", Why: "A pump lifts water, not air.", Do: []Action{do(FillPot)}}
}

// sealed puts the lid on, by the company's school.
func sealed() []Step {
	ring := []Answer{{ID: "worn", Says: "Cut, flat or hard: plan a new one", Part: "lid-o-ring"}, {ID: "whole", Says: "Whole"}}
	return []Step{
		{ID: "seal", Says: "O-ring whole? Lightly greased, lid on, hand-tight", Do: []Action{do(ClosePot)}, Answers: ring, When: func(s *Setup) bool { return s.Ways.Seal != "dry" }},
		{ID: "seal-dry", Says: "O-ring whole? Clean and dry, lid on, hand-tight", Do: []Action{do(ClosePot)}, Answers: ring, When: func(s *Setup) bool { return s.Ways.Seal == "dry" }},
	}
}

func returnsBack() Step {
	return Step{ID: "reopen-returns", Says: "Open the return valves", Do: []Action{do(OpenReturns)}, When: below}
}

// fromPot are the steps until the pump runs again on all its lines.
func fromPot() []Step {
	return join(fillPot(), sealed(), openFirst("reopen"), returnsBack(), powerBack("power"), startBled("re-"), lineByLine(firstOf))
}

func movement() []Step {
	return []Step{
		{ID: "moves", Says: "Movement at the returns, gauge up, flow lamps on?", Hint: "Gauge, returns, the salt cell's flow lamp.", Answers: []Answer{{ID: "weak", Says: "Weak", Sign: fault.WeakAll, Yes: true}, {ID: "yes", Says: "All there"}}},
		{ID: "auto", Says: "Automation back in AUTO", Why: "Left in service, tonight's programme does not run."},
	}
}

var basketAnswers = []Answer{
	{ID: "cracked", Says: "Cracked: plan a new one", Sign: fault.BasketCracked, Yes: true, Part: "pump-basket"},
	{ID: "full", Says: "Full, and whole", Sign: fault.BasketFull, Yes: true},
	{ID: "little", Says: "Little in it, and whole", Sign: fault.BasketFull},
}

var pumpLibrary = []Procedure{
	{ID: Baskets, Name: "Empty the baskets", Aim: "Pot and skimmers free, the prime kept.", Minutes: 10, On: notSmall, Work: "basket", Care: []Care{OffIsNot, Scald, DryRun, Restart}, Mends: []fault.ID{fault.BasketFullFault, fault.SkimmerBlocked}, Checks: []fault.Sign{fault.BasketFull, fault.BasketCracked},
		Steps: join(toPot(),
			Step{ID: "found", Says: "How full was the basket?", Answers: []Answer{{ID: "full", Says: "Full", Sign: fault.BasketFull, Yes: true}, {ID: "little", Says: "Little in it", Sign: fault.BasketFull}}},
			Step{ID: "cracks", Says: "Is the basket cracked?", Hint: "Look at its back: debris then reaches the impeller.", Answers: []Answer{{ID: "yes", Says: "Cracked: plan a new one", Sign: fault.BasketCracked, Yes: true, Part: "pump-basket"}, {ID: "no", Says: "Whole", Sign: fault.BasketCracked}}},
			Step{ID: "finger", Says: "Feel into the impeller's eye with a finger", Care: []Care{OffIsNot}, Do: []Action{do(HandIn)}},
			Step{ID: "finger-out", Says: "Hand and tool out again", Do: []Action{do(HandOut)}},
			Step{ID: "basket", Says: "Basket in, its one way round"},
			Step{ID: "skimmers", Says: "Empty the skimmer baskets, weirs free"},
			fromPot(), movement()),
		Short: join(
			Step{ID: "off", Says: "Pump OFF, power locked off at the breaker", Hint: "Hear it stop before you lock it. A service mode is not enough.", Why: "Timers, automation and freeze protection start pumps.", Care: []Care{OffIsNot}, Do: []Action{do(Stop), do(LockOff)}},
			Step{ID: "shut", Says: "Suction valves shut, bleed open", Hint: "{belowMust}", Why: "The lines keep their prime.", Do: []Action{do(ShutSuction), do(OpenBleed)}, When: notBelow},
			Step{ID: "shut-below", Says: "Suction and return valves shut, bleed open", Why: "This pad lies below the water: the pool would run out here.", Do: []Action{do(ShutSuction), do(ShutReturns), do(OpenBleed)}, When: below},
			ranDry("basket"),
			Step{ID: "basket", Says: "Lid off, basket out: how is it?", Hint: "A finger into the impeller's eye, then out; basket in its one way round; skimmers emptied, weirs free.", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot), do(HandIn), do(HandOut)}, Answers: basketAnswers},
			Step{ID: "close", Says: "Pot filled with water, ring clean, lid hand-tight", Hint: "Not so high that the basket floats.", Do: []Action{do(FillPot), do(ClosePot)}},
			Step{ID: "reopen", Says: "Open {firstLine} only, returns open, power back", Care: []Care{OffIsNot, Entrapment}, Do: []Action{do(OpenLine, firstLine), do(OpenReturns), do(Unlock)}},
			startBled("re-"),
			Step{ID: "share", Says: "Open the other lines slowly, one at a time", Hint: "Nearly shut again when the pump labours. Quiet means clear.", Do: []Action{do(OpenSuction)}, When: manyLines},
			Step{ID: "moves", Says: "Movement at the returns, gauge up, lamps on, AUTO?", Answers: []Answer{{ID: "weak", Says: "Weak", Sign: fault.WeakAll, Yes: true}, {ID: "yes", Says: "All there"}}})},
	{ID: Priming1, Name: "Prime line by line", Aim: "Water through every line, the air out of one at a time.", Minutes: 20, On: notSmall, Mends: []fault.ID{fault.PrimeLost}, Narrows: []fault.ID{fault.DrainBack}, Care: []Care{DryRun, Restart, Entrapment, OffIsNot}, Takes: []Take{{Name: "Hose"}},
		Steps: join(
			Step{ID: "level", Says: "Is the water at the middle of the skimmer mouth?", Answers: []Answer{{ID: "low", Says: "Low: filled up first", Sign: fault.LevelLow, Yes: true}, {ID: "yes", Says: "It is", Sign: fault.LevelLow}}},
			toPot(),
			Step{ID: "fill", Says: "Fill the pot and the line by hose", Hint: "30 to 60 seconds; two to three minutes after a long stop.", Timer: &Timer{Count: CountWait, Low: 30, High: 60, Most: 240}, Do: []Action{do(FillPot)}},
			sealed(), returnsBack(),
			Step{ID: "first-skimmer", Says: "Open {firstLine} only", Hint: "The nearest one has the least air in it. Nobody in the water.", Care: []Care{Entrapment}, Do: []Action{do(OpenLine, firstLine)}, When: primeWay("skimmer")},
			Step{ID: "first-drain", Says: "Open {drainLine} only", Hint: "It lies lowest. Alone it draws {coverFlow} gpm; its cover is rated {coverRating} gpm. Nobody in the water.", Care: []Care{Entrapment}, Do: []Action{do(OpenLine, drainLine)}, When: primeWay("drain")},
			powerBack("power"),
			Step{ID: "start", Says: "Start the pump and watch the pot", Care: []Care{DryRun, Restart}, Do: []Action{do(Start)}, When: notPrimeShut},
			Step{ID: "start-shut", Says: "Start the pump, and at once open {drainLine}", Hint: "Ten seconds at most: else stop.", Care: []Care{DryRun, Entrapment}, Do: []Action{do(StartShut)}, When: primeWay("shut")},
			Step{ID: "open-now", Says: "Open {drainLine} NOW", Timer: &Timer{Count: CountWait, Low: 0, High: 5, Most: 10}, Care: []Care{DryRun}, When: primeWay("shut"),
				Answers: []Answer{{ID: "stop", Says: "It won't open: pump stopped", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "open", Says: "It is open", Do: []Action{do(OpenLine, drainLine)}}}},
			catchWater("Usual here {primeUsual} s. Not within four minutes: stop, or fittings melt."), steady(),
			linesAfter("skimmer", firstOf), linesAfter("drain", drainOf), linesAfter("shut", drainOf), movement())},
	{ID: Impeller, Name: "Clear the impeller", Aim: "Debris out of the vanes.", Minutes: 15, On: notSmall, Work: "basket", Care: []Care{OffIsNot, Capacitor, Scald, DryRun}, Mends: []fault.ID{fault.ImpellerClogged}, Narrows: []fault.ID{fault.MotorHums, fault.ImpellerWorn, fault.AirLid, fault.PrimeLost}, Checks: []fault.Sign{fault.DebrisFound, fault.ShaftFree},
		Steps: join(toPot(), driveOff(),
			Step{ID: "in", Says: "Reach in: finger or tool through the eye", Hint: "Pull, don't push it further. A wire hook for hair.", Care: []Care{OffIsNot}, Do: []Action{do(HandIn)}},
			Step{ID: "found", Says: "What came out?", Answers: []Answer{{ID: "nothing", Says: "Nothing", Sign: fault.DebrisFound}, {ID: "debris", Says: "Debris", Sign: fault.DebrisFound, Yes: true}}},
			Step{ID: "free", Says: "Does it spin free?", Answers: []Answer{{ID: "no", Says: "Stuck", Sign: fault.ShaftFree}, {ID: "yes", Says: "Free", Sign: fault.ShaftFree, Yes: true}}},
			Step{ID: "out", Says: "Hand and tool out", Do: []Action{do(HandOut)}},
			Step{ID: "basket", Says: "Basket in, its one way round: is it whole?", Why: "A cracked one let the debris by.", Answers: []Answer{{ID: "cracked", Says: "Cracked: plan a new one", Sign: fault.BasketCracked, Yes: true, Part: "pump-basket"}, {ID: "whole", Says: "Whole", Sign: fault.BasketCracked}}},
			fromPot(),
			Step{ID: "gurgle", Says: "Did it gurgle, then pull hard?", Hint: "A gurgle at the restart is good.", Answers: []Answer{{ID: "no", Says: "No better"}, {ID: "yes", Says: "It pulls"}}}, movement())},
	{ID: Humming, Name: "Motor hums or trips", Aim: "Free or jammed: what a technician may find out, and where the licensed trade begins.", Minutes: 15, On: notSmall, Care: []Care{OffIsNot, Capacitor, Scald}, Narrows: []fault.ID{fault.MotorHums, fault.ImpellerClogged}, Checks: []fault.Sign{fault.ShaftFree},
		From: func(r *Rig) State { // it hums: it does not turn
			s := r.Daily()
			s.Running = false
			return s
		},
		Ends: func(_ *Rig, s State) bool { return !s.Running && s.Power == Locked },
		Steps: join(
			Step{ID: "smell", Says: "Does it smell burnt, or did the breaker trip again after one reset?", Hint: "One reset at most, ever.", Care: []Care{Capacitor}, Answers: []Answer{{ID: "yes", Says: "Yes: locked off, electrician", Do: []Action{do(LockOff)}, Ends: true}, {ID: "no", Says: "Neither"}}},
			shutIn(), Step{ID: "lid", Says: "Take the lid off, and the basket out", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot)}}, driveOff(),
			Step{ID: "in", Says: "Turn the shaft by hand, through the eye or at the fan end", Hint: "Fan end: only behind its own cover's opening, with a tool.", Care: []Care{OffIsNot}, Do: []Action{do(HandIn)}},
			Step{ID: "free", Says: "Does it turn?", Answers: []Answer{{ID: "free", Says: "Free", Sign: fault.ShaftFree, Yes: true, To: "electric"}, {ID: "jammed", Says: "Jammed", Sign: fault.ShaftFree, To: "jam"}}},
			Step{ID: "jam", Says: "Pull out what jams it, and turn it round by hand", Hint: "Nothing there, and it still does not turn: bearings. Then it stays locked off.", Answers: []Answer{{ID: "stuck", Says: "Still stuck: bearings", Do: []Action{do(HandOut)}, To: "trade"}, {ID: "freed", Says: "It turns now", Do: []Action{do(HandOut)}, To: "fill"}}},
			Step{ID: "electric", Says: "It turns and hums: start capacitor or motor. Hand and tool out", Do: []Action{do(HandOut)}, Answers: []Answer{{ID: "trade", Says: "Hand is out", To: "trade"}}},
			Step{ID: "trade", Says: "Pot filled and shut, power stays locked off: a licensed electrician's, or a motor shop's", Hint: "Tag it. The owner is told that the pool stands still.", Care: []Care{Capacitor}, Do: []Action{do(FillPot), do(ClosePot)}, Answers: []Answer{{ID: "locked", Says: "Locked off, tagged, owner told", Ends: true}}},
			fromPot(), movement())},
	{ID: PumpPanel, Name: "Set the pump's panel", Aim: "The mode, the slots and what runs by itself, so that tonight's programme is the one that was meant.", Minutes: 8, On: func(s *Setup) bool { return s.Figures["panel"] != "" }, Care: []Care{OffIsNot, Restart}, Mends: []fault.ID{fault.WrongMode, fault.SpeedLow},
		Steps: []Step{
			{ID: "mode", Says: "In which mode does it stand?", Hint: "Manual holds one speed until somebody changes it; service or time-out ends by itself and starts the pump; with automation the pump's own slots don't count.", Answers: []Answer{{ID: "other", Says: "Manual, service or time-out: set to its schedule", Sign: fault.ModeOff, Yes: true}, {ID: "auto", Says: "On its schedule", Sign: fault.ModeOff}}},
			{ID: "alarm", Says: "Is an alarm on the display?", Hint: "Note its words first. Its cause, then one reset: an alarm that comes again is a finding.", Care: []Care{Capacitor}, Answers: []Answer{{ID: "yes", Says: "Yes: noted, cause looked for, reset once", Sign: fault.DisplayAlarm, Yes: true}, {ID: "no", Says: "None", Sign: fault.DisplayAlarm}}},
			{ID: "features", Says: "Do a timed full speed or a feature timer run over the slots?", Hint: "A vacuum speed ends after its time, 60 minutes usually. Spa, cleaner, freeze and feature timers win over the slot: which of them are set?", Answers: []Answer{{ID: "yes", Says: "Yes: noted which, and until when"}, {ID: "no", Says: "None"}}},
			{ID: "slots", Says: "Key the slots in as the plan's card has them, in the order of this pump's keys", Hint: "Start and length on some, start and stop on others. The clock first: AM or PM."},
			{ID: "saved", Says: "Saved: stand clear, it primes at full speed now", Hint: "Some minutes on most pumps; that is no fault. Then look that it falls to the slot of this hour.", Care: []Care{Restart}},
		}},
	{ID: CoolDown, Name: "Heater cool-down", Aim: "Carry the heat out before the flow stops.", Minutes: 22, On: func(s *Setup) bool { return s.Rig.Heater }, Care: []Care{GasWork},
		From: func(r *Rig) State {
			s := r.Daily()
			s.Heat = true
			return s
		},
		Steps: []Step{
			{ID: "heater-off", Says: "Turn the heater off at its own switch", Care: []Care{GasWork}},
			{ID: "flow", Says: "Keep the water moving for 20 minutes", Timer: &Timer{Count: CountWait, Low: heatLow, High: heatHigh, Least: heatLow}, Why: "Standing water boils in a hot exchanger."},
			{ID: "cool", Says: "The heater is cool", Do: []Action{do(HeatOff)}},
		}},
}

// driveOff waits for what a capacitor or a drive keeps.
func driveOff() Step {
	return Step{ID: "charge", Says: "Wait for the label's time: capacitor and drive stay charged", Hint: "Five minutes where no label says.", Care: []Care{Capacitor}, Timer: &Timer{Count: CountWait, Low: driveWait, High: 2 * driveWait, Least: driveWait}}
}

// catchWater is the look whether the pot fills after a start.
func catchWater(hint string) Step {
	return Step{ID: "catch", Says: "Is the pot full of water?", Hint: hint, Timer: &Timer{Count: CountPrime, Low: 30, High: 120, Most: 240, Least: primeLeast}, Care: []Care{DryRun},
		Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "catch"}, {ID: "full", Says: "Full"}, {ID: "never", Says: "Four minutes, no water: stop", Do: []Action{do(RunDry), do(LockOff)}, Ends: true, Sign: fault.PotNotFull, Yes: true}}}
}

func steady() Step {
	return Step{ID: "steady", Says: "Does water run from the bleed steadily?", Care: []Care{Restart}, Answers: []Answer{{ID: "spits", Says: "Still spitting", To: "steady"}, {ID: "steady", Says: "Steady", Do: []Action{do(CloseBleed)}}}}
}

func drainOf(r *Rig) int { return r.Drain }

// linesAfter are the other lines after a prime of one way.
func linesAfter(way string, started func(*Rig) int) []Step {
	steps := lineByLine(started)
	for i := range steps {
		has := steps[i].When
		steps[i].When = func(s *Setup) bool { return primeWay(way)(s) && (has == nil || has(s)) }
	}
	return steps
}
