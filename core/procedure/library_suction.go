package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// The procedures on suction lines, air and the spa's handles.
const (
	LeakTest  ID = "leak-tests"
	LineBlown ID = "drain-bladder"
	SpaTest   ID = "spa-test"
	Reset     ID = "valve-reset"
)

func onSpaHandles(on func(*Setup) bool) func(*Setup) bool {
	return func(s *Setup) bool { return s.Rig.Spa && (on == nil || on(s)) }
}

// handleRead asks where a handle stands, and who may have turned it.
func handleRead(id, which string) Step {
	return Step{ID: id, Says: "Where does the " + which + " handle stand?", Hint: "The closed mark points at the port that is shut.", Answers: []Answer{{ID: "spa", Says: "On the spa", Sign: fault.HandleWrong, Yes: true}, {ID: "between", Says: "Between", Sign: fault.HandleWrong, Yes: true}, {ID: "pool", Says: "On the pool"}}}
}

var suctionLibrary = []Procedure{
	{ID: LeakTest, Name: "Lid and foam leak tests", Aim: "Find where air gets in, joint by joint, and prove it by stopping.", Minutes: 20, On: notSmall, Care: []Care{OffIsNot, Restart, Scald}, Takes: []Take{{Name: "Shaving foam"}, {Name: "O-ring grease"}, {Name: "Plastic wrap"}}, Mends: []fault.ID{fault.AirLid}, Narrows: []fault.ID{fault.AirInlet, fault.AirUpstream, fault.DrainBack}, Checks: []fault.Sign{fault.AirInPot, fault.FoamLid, fault.FoamInlet, fault.FoamJoint, fault.DripOutlet, fault.LidTestHolds},
		Steps: join(
			Step{ID: "air", Says: "Pump running: is there air in the pot?", Answers: []Answer{{ID: "no", Says: "Full of water", Sign: fault.AirInPot}, {ID: "yes", Says: "Air", Sign: fault.AirInPot, Yes: true}}},
			Step{ID: "lid-foam", Says: "Foam round the lid's seam: does it dent or vanish?", Answers: []Answer{{ID: "yes", Says: "It does", Sign: fault.FoamLid, Yes: true}, {ID: "no", Says: "It stays", Sign: fault.FoamLid}}},
			Step{ID: "inlet", Says: "Foam round the inlet's thread: does it dent or vanish?", Answers: []Answer{{ID: "yes", Says: "It does", Sign: fault.FoamInlet, Yes: true}, {ID: "no", Says: "It stays", Sign: fault.FoamInlet}}},
			Step{ID: "valves", Says: "Foam at each suction valve's stem, union and plug: does it dent?", Answers: []Answer{{ID: "yes", Says: "It does", Sign: fault.FoamJoint, Yes: true}, {ID: "no", Says: "All stays", Sign: fault.FoamJoint}}},
			Step{ID: "outlet", Says: "Does the outlet's fitting drip?", Why: "The same heat shrinks both threads: a drip there betrays the inlet, whose damage can't be seen.", Answers: []Answer{{ID: "yes", Says: "It drips", Sign: fault.DripOutlet, Yes: true}, {ID: "no", Says: "Dry", Sign: fault.DripOutlet}}},
			toPot(),
			Step{ID: "ring", Says: "Ring and seat clean, grease all round the ring, lid whole?", Hint: "A sealed ring for this test only, whatever the school.", Answers: []Answer{{ID: "cracked", Says: "Lid cracked: plan a new one", Part: "pump-lid"}, {ID: "cut", Says: "Ring cut or flat: plan a new one", Part: "lid-o-ring"}, {ID: "whole", Says: "Both whole"}}},
			fillPot(), Step{ID: "close", Says: "Lid on, hand-tight", Do: []Action{do(ClosePot)}},
			openFirst("reopen"), returnsBack(), powerBack("power"), startBled("re-"), lineByLine(firstOf),
			Step{ID: "run", Says: "Run it for a minute at a working speed", Timer: &Timer{Count: CountWait, Low: 60, High: 120, Least: 60}},
			Step{ID: "off-2", Says: "Turn the pump OFF and watch the pot", Care: []Care{DeadHead}, Do: []Action{do(Stop)}},
			Step{ID: "holds", Says: "Two minutes: does the pot stay full?", Timer: &Timer{Count: CountWait, Low: 120, High: 180, Least: 60}, Answers: []Answer{{ID: "sinks", Says: "It sinks", Sign: fault.LidTestHolds, To: "valve-test"}, {ID: "full", Says: "It stays full", Sign: fault.LidTestHolds, Yes: true, To: "was-lid"}}},
			Step{ID: "was-lid", Says: "It was the lid: the pot holds since its ring is sealed", Hint: "Keep the ring clean; a new one where it was cut or flat.", Answers: []Answer{{ID: "noted", Says: "Noted", To: "on-2"}}},
			Step{ID: "valve-test", Says: "Shut the suction valves: does the pot hold now?", Hint: "Filled again by the bleed, where it can be.", Why: "Holding now, the air comes in upstream of the valves.", Do: []Action{do(ShutSuction)}, Answers: []Answer{{ID: "holds", Says: "It holds: upstream of the valves", To: "was-up"}, {ID: "sinks", Says: "It still sinks: at the pump's inlet", To: "was-inlet"}}},
			Step{ID: "was-up", Says: "The leak is upstream: a valve's stem, a union or the line. Valves open again", Hint: "A tight plastic wrap round the joint whose foam dented holds till tomorrow: no repair.", Do: []Action{do(OpenSuction)}, Answers: []Answer{{ID: "noted", Says: "Noted, valves open", To: "on-2"}}},
			Step{ID: "was-inlet", Says: "The leak is the inlet's thread. Valves open again", Hint: "A tight plastic wrap round the thread holds till tomorrow; both fittings cut out and replaced where the outlet drips too. Find why it ran dry.", Do: []Action{do(OpenSuction)}, Answers: []Answer{{ID: "noted", Says: "Noted, valves open", To: "on-2"}}},
			Step{ID: "on-2", Says: "Start the pump", Care: []Care{DryRun}, Do: []Action{do(Start)}}, movement())},
	{ID: LineBlown, Name: "Clear a line with a drain bladder", Aim: "Push what blocks the line back out, from the pool's end.", Minutes: 30, On: notSmall, Care: []Care{OffIsNot, Pressure, Entrapment, DryRun}, Takes: []Take{{Name: "Garden hose"}, {"Drain bladder", "of the line's size"}}, Mends: []fault.ID{fault.SuctionLine},
		Steps: join(toPot(),
			Step{ID: "which", Says: "Open the blocked line's valve, the others stay shut", Hint: "The pot stands open: what comes out comes here. Below the water's level only with the other end plugged.", When: notBelow},
			Step{ID: "bladder", Says: "Bladder on the hose, into the line at the skimmer, as far as it goes", Hint: "From the skimmer's end. It swells and holds itself; nobody stands over the open pot.", Care: []Care{Entrapment}},
			Step{ID: "water", Says: "Water on slowly, a minute, off, again", Hint: "Old pipe: half open. No gas, no compressed air: that is a specialist's.", Care: []Care{Pressure}, Answers: []Answer{{ID: "stuck", Says: "Nothing comes: a specialist's gas blow-out"}, {ID: "came", Says: "It came out, the water runs free"}}},
			Step{ID: "clear", Says: "Bladder out, valves shut again, basket emptied and in"},
			fromPot(), movement())},
	{ID: SpaTest, Name: "Spa-mode test", Aim: "The same pump on other pipes: what is well there is not the pump.", Minutes: 10, On: onSpaHandles(nil), Care: []Care{Entrapment}, Checks: []fault.Sign{fault.SpaFine},
		Steps: join(before(), pumpOff("off-1", "the handles turn"),
			Step{ID: "to-spa", Says: "Turn both handles to the spa", Hint: "The closed mark points at the port that is shut.", Do: []Action{do(SuctionTo, "spa"), do(ReturnTo, "spa")}, Why: "One alone would empty one water into the other."},
			Step{ID: "on-1", Says: "Start the pump", Care: []Care{Entrapment}, Do: []Action{do(Start)}},
			Step{ID: "spa-read", Says: "Read at the same speed", Hint: "{speed} rpm, as before.", Read: InSpa},
			Step{ID: "fine", Says: "Are pull and pressure as they should be in the spa?", Answers: []Answer{{ID: "no", Says: "The same trouble", Sign: fault.SpaFine}, {ID: "yes", Says: "All well there", Sign: fault.SpaFine, Yes: true}}},
			pumpOff("off-2", "the handles turn back"),
			Step{ID: "to-pool", Says: "Turn both handles back to the pool", Hint: "Look at each: the closed mark points at the spa.", Do: []Action{do(SuctionTo, "pool"), do(ReturnTo, "pool")}, Why: "Left over, the spa empties or spills tonight."},
			Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}}, after())},
	{ID: Reset, Name: "Valve reset: spa found empty or spilling", Aim: "Both handles back on the pool, the spa filled, and a word on who may have turned them.", Minutes: 25, On: onSpaHandles(nil), Work: "handle", Care: []Care{Entrapment, DryRun, Scald, OffIsNot, Restart}, Mends: []fault.ID{fault.SpaDraining, fault.SpaFilling, fault.LeftInSpa}, Checks: []fault.Sign{fault.HandleWrong},
		From: func(r *Rig) State {
			s := r.Daily()
			s.SuctionTo = pad.SpaBody // apart: that is how it is found
			return s
		},
		Steps: join(Step{ID: "off", Says: "Turn the pump OFF", Why: "As the handles stand, each start empties one water into the other.", Care: []Care{OffIsNot}, Do: []Action{do(Stop)}},
			lockOff("lock"), handleRead("read-suction", "suction"), handleRead("read-return", "return"),
			Step{ID: "who", Says: "Nobody else touched them?", Hint: "An actuator in spa mode, a guest, a cover crew. A handle that moved by itself is a finding.", Answers: []Answer{{ID: "somebody", Says: "Somebody did: into the note"}, {ID: "unknown", Says: "Nobody knows"}}},
			Step{ID: "set", Says: "Turn both handles to the pool", Do: []Action{do(SuctionTo, "pool"), do(ReturnTo, "pool")}},
			Step{ID: "top-up", Says: "Top the spa up, and the pool to the middle of the skimmer mouth", Hint: "Before any start: an empty spa has run the pump dry."},
			Step{ID: "shut", Says: "Close all suction valves", Hint: "{belowMust}", Do: []Action{do(ShutSuction)}},
			Step{ID: "shut-returns", Says: "Close the return valves", Why: "This pad lies below the water.", Do: []Action{do(ShutReturns)}, When: below},
			openBleed("open-bleed"), ranDry("lid"),
			Step{ID: "lid", Says: "Take the lid off: are the pot and its fittings whole?", Hint: "Melted threads and a soft pot are what a dry run leaves.", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot)}, Answers: []Answer{{ID: "melted", Says: "Melted or soft: note it, watch for drips", Part: "pump-fittings"}, {ID: "whole", Says: "Whole"}}},
			fillPot(), sealed(), openFirst("reopen"), returnsBack(), powerBack("power"),
			Step{ID: "on", Says: "Start the pump and watch the pot", Care: []Care{DryRun, Restart}, Do: []Action{do(Start)}},
			catchWater("Not within four minutes: stop, or fittings melt."), steady(), lineByLine(firstOf),
			Step{ID: "watch", Says: "Watch the spa's level for two minutes", Timer: &Timer{Count: CountWait, Low: 120, High: 180, Least: 120}, Answers: []Answer{{ID: "moves", Says: "It still moves: a check valve or a seal", Ends: true, Do: []Action{do(Stop), do(LockOff)}}, {ID: "still", Says: "It stands still"}}},
			movement())},
}
