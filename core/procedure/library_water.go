package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// The procedures on the water's level, doses and seasons, and on small units.
const (
	Vacuum         ID = "vacuum"
	VacuumWaste    ID = "vacuum-waste"
	LowerLevel     ID = "lower-level"
	DoseRun        ID = "dose"
	SeasonClose    ID = "season-close"
	SeasonOpen     ID = "season-open"
	SmallSetUp     ID = "small-set-up"
	SmallBleed     ID = "small-bleed"
	SmallCartridge ID = "small-cartridge"
)

// unplugged is a small unit at rest.
func unplugged(r *Rig) State {
	s := r.Daily()
	s.Running, s.Power, s.Pressed = false, Locked, true
	return s
}

func plug(id string) Step {
	return Step{ID: id, Says: "Test the ground-fault device, then plug in", Hint: "Press test: it trips. Press reset. No extension cord.", Care: []Care{SmallUnit}, Do: []Action{do(Unlock)}}
}

func unplug(id string) Step {
	return Step{ID: id, Says: "Switch off and unplug", Care: []Care{SmallUnit}, Do: []Action{do(Stop), do(LockOff)}}
}

// Library is every procedure.
var Library = append(append(append([]Procedure{}, filterLibrary...), pumpLibrary...), waterLibrary...)

var waterLibrary = []Procedure{
	{ID: Vacuum, Name: "Vacuum the pool", Aim: "The floor clean, all through the filter.", Minutes: 40, On: notSmall, Care: []Care{Entrapment, DryRun},
		Steps: join(Step{ID: "full", Says: "Pump to its timed full speed"},
			Step{ID: "line", Says: "Suction to the vacuum line; the drain opened more if one skimmer pulls too hard", Hint: "Never the vacuum line alone with the drain shut.", Care: []Care{Entrapment}},
			Step{ID: "vacuum", Says: "Vacuum, slowly, in lanes", Care: []Care{Swimmers}},
			Step{ID: "back", Says: "Valves back as in daily use, the vacuum port covered", Care: []Care{Entrapment}},
			toPot(), Step{ID: "empty", Says: "Empty the pot's and the skimmers' baskets"}, fromPot(), movement())},
	{ID: VacuumWaste, Name: "Vacuum to waste", Aim: "What would clog the filter goes past it.", Minutes: 40, On: valveIs(pad.Multiport), Discharges: true, Care: []Care{Discharge, HoseEnd, DeadHead, Entrapment},
		Steps: join(Step{ID: "top-up", Says: "Top the level up first", Hint: "About {wasteGpm} gpm leave the pool: an inch in {inchMinutes} min."},
			pumpOff("off-1", "the handle moves"), turn("to-waste", pad.SetWaste, "Past the media and out."),
			Step{ID: "on-1", Says: "Start the pump", Care: []Care{HoseEnd, Discharge}, Do: []Action{do(Start)}},
			Step{ID: "vacuum", Says: "Vacuum, and watch the level", Hint: "Stop at the lower edge of the skimmer mouth.", Timer: &Timer{Count: CountWaste, Low: 300, High: 1200, Most: 3600}, Care: []Care{HoseEnd, Entrapment}},
			pumpOff("off-2", "the handle moves"), turnBack("to-filter"),
			Step{ID: "level", Says: "Is the level at the middle of the skimmer mouth?", Answers: []Answer{{ID: "yes", Says: "It is"}, {ID: "no", Says: "Low: topped up now"}}},
			Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}})},
	{ID: LowerLevel, Name: "Lower the level after rain", Aim: "Down to the middle of the skimmer mouth, no further.", Minutes: 30, On: valveIs(pad.Multiport), Discharges: true, Care: []Care{Discharge, Ground, DeadHead, HoseEnd},
		Steps: join(pumpOff("off-1", "the handle moves"), turn("to-waste", pad.SetWaste, "Past the media and out."),
			Step{ID: "on-1", Says: "Start the pump", Care: []Care{HoseEnd, Discharge}, Do: []Action{do(Start)}},
			Step{ID: "down", Says: "Is the water at the middle of the skimmer mouth?", Hint: "An inch takes about {inchMinutes} min at {wasteGpm} gpm.", Timer: &Timer{Count: CountWaste, Low: 300, High: 1800, Most: 7200}, Care: []Care{Ground, HoseEnd}, Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "down"}, {ID: "there", Says: "It is"}}},
			pumpOff("off-2", "the handle moves"), turnBack("to-filter"), Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}})},
	{ID: DoseRun, Name: "Dose in recirculate", Aim: "Chemicals round the pool and past the media.", Minutes: 15, On: valveIs(pad.Multiport), Care: []Care{Swimmers, NeverMeet, Fumes, DeadHead},
		From: func(r *Rig) State {
			s := r.Daily()
			s.People = true // until somebody has looked
			return s
		},
		Steps: join(Step{ID: "out", Says: "Everybody out of the water", Care: []Care{Swimmers}, Do: []Action{do(PeopleOut)}},
			pumpOff("off-1", "the handle moves"), turn("to-recirculate", pad.SetRecirculate, "What the filter should not catch goes past it."),
			Step{ID: "on-1", Says: "Start the pump", Do: []Action{do(Start)}},
			Step{ID: "dose", Says: "Put the chemicals in, by their label", Hint: "From here no backwash for {holdHours} h.", Why: "A backwash would throw them away.", Care: []Care{NeverMeet, Swimmers, Fumes}, Do: []Action{do(Dose)}},
			Step{ID: "round", Says: "Let it go round", Hint: "By the label; the least is ten minutes.", Timer: &Timer{Count: CountWait, Low: 600, High: 1800}},
			pumpOff("off-2", "the handle moves"), turnBack("to-filter"), Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}})},
	{ID: SeasonClose, Name: "Close for the season", Aim: "Nothing that can freeze holds water.", Minutes: 120, On: notSmall, Item: "season-close", Discharges: true, Care: []Care{OffIsNot, Discharge, Ground, Pressure},
		Steps: join(pumpOff("off-1", "the handle moves"),
			Step{ID: "to-waste", Says: "Turn the filter valve to waste", Do: []Action{do(Turn, string(pad.SetWaste))}, When: valveIs(pad.Multiport)},
			Step{ID: "on-1", Says: "Start the pump", Care: []Care{HoseEnd, Ground}, Do: []Action{do(Start)}, When: valveIs(pad.Multiport)},
			Step{ID: "down", Says: "Is the water below the returns?", Hint: "An inch takes about {inchMinutes} min.", Timer: &Timer{Count: CountWaste, Low: 1800, High: 5400, Most: 14400}, Care: []Care{Ground, HoseEnd}, When: valveIs(pad.Multiport), Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "down"}, {ID: "there", Says: "It is"}}},
			Step{ID: "off-2", Says: "Turn the pump OFF", Care: []Care{DeadHead}, Do: []Action{do(Stop)}, When: valveIs(pad.Multiport)},
			lockOff("lock"),
			Step{ID: "shut", Says: "Shut suction and return valves", Do: []Action{do(ShutSuction), do(ShutReturns)}, When: below},
			openBleed("open-bleed"), relieved("relieved"),
			Step{ID: "lid", Says: "Lid off; pull the pot's drain plugs", Care: []Care{OffIsNot}, Do: []Action{do(OpenPot)}},
			Step{ID: "plugs", Says: "Pull the drain plugs of filter, heater and cell; blow the lines by mouth or wet vacuum and plug them", Hint: "Never compressed air in a filter tank. Plugs and gaskets go into the pump's basket.", Care: []Care{Pressure}},
			Step{ID: "winter", Says: "Turn the filter valve to winter", Hint: "Part-open, all ports drain.", Do: []Action{do(Turn, string(pad.SetWinter))}, When: valveIs(pad.Multiport)},
			Step{ID: "tag", Says: "Leave it locked off, with a tag", Why: "A start now would run it dry on an open pot."})},
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
			Step{ID: "covers", Says: "Are all drain covers whole and in date?", Care: []Care{Entrapment}, Answers: []Answer{{ID: "yes", Says: "All"}, {ID: "no", Says: "No: the pool stays closed", Ends: true}}},
			Step{ID: "level", Says: "Fill the pool to the middle of the skimmer mouth", Do: []Action{do(FillPool)}},
			Step{ID: "plugs", Says: "Plugs and gaskets in: pump, filter, heater, cell", Hint: "They wait in the pump's basket. Hand-tight, greased."},
			Step{ID: "to-filter", Says: "Turn the filter valve to filter", Do: []Action{do(Turn, string(pad.SetFilter))}, When: valveIs(pad.Multiport)},
			Step{ID: "fill", Says: "Fill the pot and the line by hose", Hint: "Two to three minutes after a long stop.", Timer: &Timer{Count: CountWait, Low: 120, High: 180, Most: 360}, Do: []Action{do(FillPot)}},
			Step{ID: "lid", Says: "Lid on, hand-tight", Do: []Action{do(ClosePot)}},
			Step{ID: "returns", Says: "Open the return valves", Do: []Action{do(OpenReturns)}},
			Step{ID: "first", Says: "Open {firstLine} only", Care: []Care{Entrapment}, Do: []Action{do(OpenLine, firstLine)}},
			powerBack("power"),
			Step{ID: "start", Says: "Start the pump and watch the pot", Care: []Care{DryRun, Restart}, Do: []Action{do(Start)}},
			Step{ID: "catch", Says: "Is the pot full of water?", Hint: "Not within four minutes: stop.", Timer: &Timer{Count: CountBleed, Low: 30, High: 180, Most: 240}, Care: []Care{DryRun}, Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "catch"}, {ID: "full", Says: "Full"}, {ID: "never", Says: "Four minutes, no water: stop", Do: []Action{do(RunDry), do(LockOff)}, Ends: true}}},
			Step{ID: "steady", Says: "Does water run from the bleed steadily?", Care: []Care{Restart}, Answers: []Answer{{ID: "spits", Says: "Still spitting", To: "steady"}, {ID: "steady", Says: "Steady", Do: []Action{do(CloseBleed)}}}},
			Step{ID: "others", Says: "Open each other line slowly", Hint: "It goes quiet when a line is clear.", Do: []Action{do(OpenSuction)}},
			Step{ID: "leaks", Says: "Is every plug and union dry?", Answers: []Answer{{ID: "dry", Says: "Dry"}, {ID: "wet", Says: "One weeps: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}}},
			movement())},
	{ID: SmallSetUp, Name: "Set the small unit up", Aim: "Hoses, bleed and first start of an above-ground unit.", Minutes: 30, On: small, Care: []Care{SmallUnit, DryRun},
		From: func(r *Rig) State {
			s := unplugged(r)
			s.Pressed, s.Suction, s.Returns, s.Filled, s.People, s.Opened = false, 0, false, false, true, true
			return s
		},
		Steps: join(
			Step{ID: "place", Says: "Stand the pump as far from the pool as the hoses allow", Hint: "Plugs in, fittings hand-tight only, sediment valve shut.", Care: []Care{SmallUnit}},
			Step{ID: "fill", Says: "Fill the pool at least 1¼ in (3 cm) over the upper fitting", Do: []Action{do(FillPool)}},
			Step{ID: "bleed", Says: "Open the air valve on top, unplugged", Do: []Action{do(OpenBleed)}},
			Step{ID: "lower", Says: "Open the lower valve, then the upper", Do: []Action{do(OpenSuction), do(OpenReturns)}},
			Step{ID: "water", Says: "Does water come from the air valve?", Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "water"}, {ID: "yes", Says: "It does"}}},
			Step{ID: "out", Says: "Everybody out of the pool", Care: []Care{SmallUnit}, Do: []Action{do(PeopleOut)}},
			plug("plug"), Step{ID: "on", Says: "Switch on", Care: []Care{SmallUnit}, Do: []Action{do(Start)}},
			Step{ID: "close-air", Says: "Water only from the air valve: close it", Do: []Action{do(CloseBleed)}},
			Step{ID: "flow", Says: "Does water come from the inlet?", Answers: []Answer{{ID: "yes", Says: "It does"}, {ID: "no", Says: "None: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}}})},
	{ID: SmallBleed, Name: "Bleed the small unit", Aim: "The air out of its top.", Minutes: 5, On: small, Mends: []fault.ID{fault.AirlockSmall}, Care: []Care{SmallUnit},
		Steps: join(unplug("unplug"), Step{ID: "open", Says: "Open the air valve on top", Do: []Action{do(OpenBleed)}},
			Step{ID: "water", Says: "Does water only come out?", Answers: []Answer{{ID: "air", Says: "Still air", To: "water"}, {ID: "water", Says: "Water only"}}},
			Step{ID: "close", Says: "Close the air valve", Do: []Action{do(CloseBleed)}}, Step{ID: "out", Says: "Everybody out of the pool", Care: []Care{SmallUnit}, Do: []Action{do(PeopleOut)}},
			plug("plug"), Step{ID: "on", Says: "Switch on", Do: []Action{do(Start)}})},
	{ID: SmallCartridge, Name: "Rinse or replace the small unit's cartridge", Aim: "One that will not rinse clean is replaced.", Minutes: 15, On: small, Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Care: []Care{SmallUnit, Pressure},
		Steps: join(before(), unplug("unplug"),
			Step{ID: "shut", Says: "Close both hose valves or plug the fittings", Why: "The pool runs out here else.", Do: []Action{do(ShutSuction), do(ShutReturns)}},
			Step{ID: "open-bleed", Says: "Open the air valve on top", Do: []Action{do(OpenBleed)}}, relieved("relieved"),
			Step{ID: "lid", Says: "Take the lid off and the cartridge out", Care: []Care{Pressure}, Do: []Action{do(OpenTank)}},
			Step{ID: "rinse", Says: "Rinse it from all sides: does it come clean?", Answers: []Answer{{ID: "clean", Says: "Clean"}, {ID: "not", Says: "It does not: a new one goes in"}}},
			Step{ID: "in", Says: "Cartridge in, ring clean, lid hand-tight", Do: []Action{do(CloseTank)}},
			Step{ID: "valves", Says: "Open the lower valve, then the upper", Do: []Action{do(OpenSuction), do(OpenReturns)}},
			Step{ID: "out", Says: "Everybody out of the pool", Care: []Care{SmallUnit}, Do: []Action{do(PeopleOut)}},
			plug("plug"), Step{ID: "on", Says: "Switch on", Care: []Care{Restart}, Do: []Action{do(Start)}},
			Step{ID: "close-air", Says: "Water only from the air valve: close it", Do: []Action{do(CloseBleed)}}, after())},
}
