package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// The procedures on the pump and its suction.
const (
	Baskets  ID = "baskets"
	Priming1 ID = "prime"
	Impeller ID = "impeller"
	LeakTest ID = "leak-tests"
	SpaTest  ID = "spa-test"
	Reset    ID = "valve-reset"
	CoolDown ID = "cool-down"
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
	return join(pumpOff("off", "the pot is opened"), lockOff("lock"),
		Step{ID: "shut", Says: "Close all suction valves", Hint: "{belowMust}", Why: "Shut, the lines keep their water, and the prime is there again at once.", Do: []Action{do(ShutSuction)}},
		Step{ID: "shut-returns", Says: "Close the return valves", Why: "This pad lies below the water.", Do: []Action{do(ShutReturns)}, When: below},
		openBleed("open-bleed"),
		Step{ID: "dry", Says: "Did the pump run dry?", Hint: "Hot lid, no water in the pot, a smell of hot plastic.", Care: []Care{Scald}, Answers: []Answer{{ID: "no", Says: "No"}, {ID: "yes", Says: "Yes: cool first", Do: []Action{do(Cool)}}}},
		Step{ID: "lid", Says: "Take the lid off, and its O-ring", Hint: "Wipe ring and seat clean; look for cuts.", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot)}})
}

// fromPot are the steps until the pump runs again and is watched.
func fromPot() []Step {
	return join(
		Step{ID: "fill", Says: "Fill the pot with water", Hint: "By the bleed, or a bucket; not so high that the basket floats.", Why: "A pump lifts water, not air.", Do: []Action{do(FillPot)}},
		Step{ID: "seal", Says: "O-ring lightly greased, lid on, hand-tight", Do: []Action{do(ClosePot)}, When: func(s *Setup) bool { return s.Ways.Seal != "dry" }},
		Step{ID: "seal-dry", Says: "O-ring clean and dry, lid on, hand-tight", Do: []Action{do(ClosePot)}, When: func(s *Setup) bool { return s.Ways.Seal == "dry" }},
		Step{ID: "reopen", Says: "Open the suction valves as in daily use", Do: []Action{do(OpenSuction)}},
		Step{ID: "reopen-returns", Says: "Open the return valves", Do: []Action{do(OpenReturns)}, When: below},
		powerBack("power"), startBled("re-"))
}

func movement() []Step {
	return []Step{
		{ID: "moves", Says: "Movement at the returns, gauge up, flow lamps on?", Hint: "Gauge, returns, the salt cell's flow lamp.", Answers: []Answer{{ID: "yes", Says: "All there"}, {ID: "weak", Says: "Weak", Sign: fault.WeakAll, Yes: true}}},
		{ID: "auto", Says: "Automation back in AUTO", Why: "Left in service, tonight's programme does not run."},
	}
}

var pumpLibrary = []Procedure{
	{ID: Baskets, Name: "Empty the baskets", Aim: "Pot and skimmers free, the prime kept.", Minutes: 10, On: notSmall, Work: "basket", Care: []Care{OffIsNot, Scald, DryRun}, Mends: []fault.ID{fault.BasketFullFault, fault.SkimmerBlocked}, Checks: []fault.Sign{fault.BasketFull, fault.BasketCracked},
		Steps: join(toPot(),
			Step{ID: "found", Says: "How full was the basket?", Answers: []Answer{{ID: "little", Says: "Little in it", Sign: fault.BasketFull}, {ID: "full", Says: "Full", Sign: fault.BasketFull, Yes: true}}},
			Step{ID: "cracks", Says: "Is the basket cracked?", Answers: []Answer{{ID: "no", Says: "Whole", Sign: fault.BasketCracked}, {ID: "yes", Says: "Cracked: replace it", Sign: fault.BasketCracked, Yes: true}}},
			Step{ID: "finger", Says: "Feel into the impeller's eye with a finger", Care: []Care{OffIsNot}, Do: []Action{do(HandIn)}},
			Step{ID: "finger-out", Says: "Hand and tool out again", Do: []Action{do(HandOut)}},
			Step{ID: "basket", Says: "Basket in, its one way round"},
			Step{ID: "skimmers", Says: "Empty the skimmer baskets, weirs free"},
			fromPot(), movement())},
	{ID: Priming1, Name: "Prime line by line", Aim: "Water through every line, the air out of one at a time.", Minutes: 20, On: notSmall, Mends: []fault.ID{fault.PrimeLost}, Narrows: []fault.ID{fault.DrainBack}, Care: []Care{DryRun, Restart, Entrapment, OffIsNot}, Takes: []Take{{Name: "Hose"}},
		Steps: join(pumpOff("off", "the pot is opened"), lockOff("lock"),
			Step{ID: "shut", Says: "Close all suction valves", Do: []Action{do(ShutSuction)}},
			Step{ID: "shut-returns", Says: "Close the return valves", Do: []Action{do(ShutReturns)}, When: below},
			openBleed("open-bleed"),
			Step{ID: "dry", Says: "Did the pump run dry?", Hint: "Hot lid, no water in the pot, a smell of hot plastic.", Care: []Care{Scald}, Answers: []Answer{{ID: "no", Says: "No"}, {ID: "yes", Says: "Yes: cool first", Do: []Action{do(Cool)}}}},
			Step{ID: "lid", Says: "Take the lid off", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot)}},
			Step{ID: "fill", Says: "Fill the pot and the line by hose", Hint: "30 to 60 seconds; two to three minutes after a long stop.", Timer: &Timer{Count: CountWait, Low: 30, High: 60, Most: 240}, Do: []Action{do(FillPot)}},
			Step{ID: "seal", Says: "Lid on, hand-tight", Do: []Action{do(ClosePot)}},
			Step{ID: "reopen-returns", Says: "Open the return valves", Do: []Action{do(OpenReturns)}, When: below},
			Step{ID: "first-skimmer", Says: "Open {firstLine} only", Hint: "The nearest one has the least air in it. Nobody in the water.", Care: []Care{Entrapment}, Do: []Action{do(OpenLine, firstLine)}, When: primeWay("skimmer")},
			Step{ID: "first-drain", Says: "Open {drainLine} only", Hint: "It lies lowest. Alone it draws {coverFlow} gpm; its cover is rated {coverRating} gpm. Nobody in the water.", Care: []Care{Entrapment}, Do: []Action{do(OpenLine, drainLine)}, When: primeWay("drain")},
			powerBack("power"),
			Step{ID: "start", Says: "Start the pump and watch the pot", Care: []Care{DryRun, Restart}, Do: []Action{do(Start)}, When: notPrimeShut},
			Step{ID: "start-shut", Says: "Start the pump, and at once open {drainLine}", Hint: "Ten seconds at most: else stop.", Care: []Care{DryRun, Entrapment}, Do: []Action{do(StartShut)}, When: primeWay("shut")},
			Step{ID: "open-now", Says: "Open {drainLine} NOW", Timer: &Timer{Count: CountWait, Low: 0, High: 5, Most: 10}, Care: []Care{DryRun}, When: primeWay("shut"),
				Answers: []Answer{{ID: "open", Says: "It is open", Do: []Action{do(OpenLine, drainLine)}}, {ID: "stop", Says: "It won't open: pump stopped", Do: []Action{do(Stop), do(LockOff)}, Ends: true}}},
			Step{ID: "catch", Says: "Is the pot full of water?", Hint: "Usual here {primeUsual} s. Not within four minutes: stop, or fittings melt.", Timer: &Timer{Count: CountPrime, Low: 30, High: 120, Most: 240}, Care: []Care{DryRun},
				Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "catch"}, {ID: "full", Says: "Full"}, {ID: "never", Says: "Four minutes, no water: stop", Do: []Action{do(RunDry), do(LockOff)}, Ends: true, Sign: fault.PotNotFull, Yes: true}}},
			Step{ID: "steady", Says: "Does water run from the bleed steadily?", Care: []Care{Restart}, Answers: []Answer{{ID: "spits", Says: "Still spitting", To: "steady"}, {ID: "steady", Says: "Steady", Do: []Action{do(CloseBleed)}}}},
			Step{ID: "others", Says: "Open each other line slowly, a little air at a time", Hint: "Half-second jogs on a motor valve. Nearly shut again when the pump labours; the bleed opened now and then. It goes quiet when a line is clear.", Do: []Action{do(OpenSuction)}, When: manyLines},
			Step{ID: "share", Says: "Throttle the drain to its usual share", Hint: "Most of the pull belongs at the skimmers.", When: manyLines},
			movement())},
	{ID: Impeller, Name: "Clear the impeller", Aim: "Debris out of the vanes.", Minutes: 15, On: notSmall, Work: "basket", Care: []Care{OffIsNot, Capacitor, Scald, DryRun}, Mends: []fault.ID{fault.ImpellerClogged}, Narrows: []fault.ID{fault.MotorHums}, Checks: []fault.Sign{fault.DebrisFound, fault.ShaftFree},
		Steps: join(toPot(),
			Step{ID: "in", Says: "Reach in: finger or tool through the eye", Hint: "Pull, don't push it further. A wire hook for hair.", Care: []Care{OffIsNot}, Do: []Action{do(HandIn)}},
			Step{ID: "found", Says: "What came out?", Answers: []Answer{{ID: "debris", Says: "Debris", Sign: fault.DebrisFound, Yes: true}, {ID: "nothing", Says: "Nothing", Sign: fault.DebrisFound}}},
			Step{ID: "free", Says: "Does it spin free?", Answers: []Answer{{ID: "yes", Says: "Free", Sign: fault.ShaftFree, Yes: true}, {ID: "no", Says: "Stuck", Sign: fault.ShaftFree}}},
			Step{ID: "out", Says: "Hand and tool out", Do: []Action{do(HandOut)}},
			Step{ID: "basket", Says: "Basket in, its one way round"},
			fromPot(),
			Step{ID: "gurgle", Says: "Does it gurgle, then pull hard?", Hint: "A gurgle at the restart is good.", Answers: []Answer{{ID: "yes", Says: "It pulls"}, {ID: "no", Says: "No better"}}}, movement())},
	{ID: LeakTest, Name: "Lid and foam leak tests", Aim: "Find where air gets in, joint by joint.", Minutes: 15, On: notSmall, Care: []Care{OffIsNot}, Takes: []Take{{Name: "Shaving foam"}, {Name: "O-ring grease"}}, Mends: []fault.ID{fault.AirLid}, Narrows: []fault.ID{fault.AirInlet, fault.AirUpstream}, Checks: []fault.Sign{fault.AirInPot, fault.FoamInlet, fault.FoamJoint, fault.LidTestHolds},
		Steps: []Step{
			{ID: "air", Says: "Pump running: is there air in the pot?", Answers: []Answer{{ID: "yes", Says: "Air", Sign: fault.AirInPot, Yes: true}, {ID: "no", Says: "Full of water", Sign: fault.AirInPot}}},
			{ID: "lid", Says: "Foam or grease round the lid: does the air stop?", Hint: "A minute is enough.", Timer: &Timer{Count: CountWait, Low: 30, High: 60, Most: 300}, Answers: []Answer{{ID: "stops", Says: "It stops: the lid", Sign: fault.LidTestHolds, Yes: true}, {ID: "stays", Says: "It stays", Sign: fault.LidTestHolds}}},
			{ID: "inlet", Says: "Foam round the inlet union: does it dent or vanish?", Answers: []Answer{{ID: "yes", Says: "It does", Sign: fault.FoamInlet, Yes: true}, {ID: "no", Says: "It stays", To: "valves", Sign: fault.FoamInlet}}},
			{ID: "inlet-note", Says: "Tighten it by hand, or plan its O-ring"},
			{ID: "valves", Says: "Foam at each suction valve's stem and plugs: does it dent?", Answers: []Answer{{ID: "yes", Says: "It does", Sign: fault.FoamJoint, Yes: true}, {ID: "no", Says: "All stays", Sign: fault.FoamJoint}}},
		}},
	{ID: SpaTest, Name: "Spa-mode test", Aim: "The same pump on other pipes: what is well there is not the pump.", Minutes: 10, On: func(s *Setup) bool { return s.Rig.Spa }, Care: []Care{Entrapment}, Checks: []fault.Sign{fault.SpaFine},
		Steps: join(before(), pumpOff("off-1", "the handles turn"),
			Step{ID: "to-spa", Says: "Turn both handles to the spa", Hint: "The closed mark points at the port that is shut.", Do: []Action{do(SuctionTo, "spa"), do(ReturnTo, "spa")}, Why: "One alone would empty one water into the other."},
			Step{ID: "on-1", Says: "Start the pump", Care: []Care{Entrapment}, Do: []Action{do(Start)}},
			Step{ID: "spa-read", Says: "Read at the same speed", Hint: "{speed} rpm, as before.", Read: InSpa},
			Step{ID: "fine", Says: "Are pull and pressure as they should be in the spa?", Answers: []Answer{{ID: "yes", Says: "All well there", Sign: fault.SpaFine, Yes: true}, {ID: "no", Says: "The same trouble", Sign: fault.SpaFine}}},
			pumpOff("off-2", "the handles turn back"),
			Step{ID: "to-pool", Says: "Turn both handles back to the pool", Hint: "Look at each: the closed mark points at the spa.", Do: []Action{do(SuctionTo, "pool"), do(ReturnTo, "pool")}, Why: "Left over, the spa empties or spills tonight."},
			Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}})},
	{ID: Reset, Name: "Valve reset: spa found empty or spilling", Aim: "Both handles back on the pool, the spa filled, and a word on who may have turned them.", Minutes: 15, On: func(s *Setup) bool { return s.Rig.Spa }, Work: "handle", Care: []Care{Entrapment, DryRun}, Mends: []fault.ID{fault.SpaDraining, fault.SpaFilling, fault.LeftInSpa}, Checks: []fault.Sign{fault.HandleWrong},
		From: func(r *Rig) State {
			s := r.Daily()
			s.SuctionTo = pad.SpaBody // apart: that is how it is found
			return s
		},
		Steps: join(Step{ID: "off", Says: "Turn the pump OFF and lock its power off", Why: "As the handles stand, each start empties one water into the other.", Care: []Care{OffIsNot}, Do: []Action{do(Stop), do(LockOff)}},
			Step{ID: "read-suction", Says: "Where does the suction handle stand?", Hint: "The closed mark points at the port that is shut.", Answers: []Answer{{ID: "spa", Says: "On the spa", Sign: fault.HandleWrong, Yes: true}, {ID: "between", Says: "Between", Sign: fault.HandleWrong, Yes: true}, {ID: "pool", Says: "On the pool"}}},
			Step{ID: "read-return", Says: "Where does the return handle stand?", Answers: []Answer{{ID: "spa", Says: "On the spa", Sign: fault.HandleWrong, Yes: true}, {ID: "between", Says: "Between", Sign: fault.HandleWrong, Yes: true}, {ID: "pool", Says: "On the pool"}}},
			Step{ID: "set", Says: "Turn both handles to the pool", Do: []Action{do(SuctionTo, "pool"), do(ReturnTo, "pool")}},
			powerBack("power"),
			Step{ID: "top-up", Says: "Top the spa up, and the pool to the middle of the skimmer mouth"},
			Step{ID: "on", Says: "Start the pump", Care: []Care{DryRun}, Do: []Action{do(Start)}},
			Step{ID: "watch", Says: "Watch the spa's level for two minutes", Timer: &Timer{Count: CountWait, Low: 120, High: 180}, Answers: []Answer{{ID: "still", Says: "It stands still"}, {ID: "moves", Says: "It still moves: a check valve or a seal", Ends: true, Do: []Action{do(Stop), do(LockOff)}}}},
			Step{ID: "who", Says: "Who may have pressed or turned something? Write it in the note", Hint: "An actuator in spa mode, a guest, a cover crew."})},
	{ID: CoolDown, Name: "Heater cool-down", Aim: "Carry the heat out before the flow stops.", Minutes: 22, On: func(s *Setup) bool { return s.Rig.Heater }, Care: []Care{GasWork},
		From: func(r *Rig) State {
			s := r.Daily()
			s.Heat = true
			return s
		},
		Steps: []Step{
			{ID: "heater-off", Says: "Turn the heater off at its own switch", Care: []Care{GasWork}},
			{ID: "flow", Says: "Keep the water moving for 20 minutes", Timer: &Timer{Count: CountWait, Low: heatLow, High: heatHigh}, Why: "Standing water boils in a hot exchanger."},
			{ID: "cool", Says: "The heater is cool", Do: []Action{do(HeatOff)}},
		}},
}
