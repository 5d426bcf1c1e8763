package procedure

import "fairlap/core/fault"

// The procedures on small above-ground units (handbook; the maker's sheet rules).
const (
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
	return Step{ID: id, Says: "Test the ground-fault device, then plug in", Hint: "Press test: it trips. Press reset. It does not trip: nobody plugs in, an electrician comes. No extension cord.", Care: []Care{SmallUnit}, Do: []Action{do(Unlock)}}
}

func unplug(id string) Step {
	return Step{ID: id, Says: "Switch off and unplug", Care: []Care{SmallUnit}, Do: []Action{do(Stop), do(LockOff)}}
}

func peopleOut() Step {
	return Step{ID: "out", Says: "Everybody out of the pool", Care: []Care{SmallUnit}, Do: []Action{do(PeopleOut)}}
}

func airValve(id string) Step {
	return Step{ID: id, Says: "Open the air valve on top, unplugged", Care: []Care{SmallUnit}, Do: []Action{do(OpenBleed)}}
}

func lowerThenUpper() Step {
	return Step{ID: "lower", Says: "Open the lower valve, then the upper", Why: "From below, the water pushes the air out on top.", Do: []Action{do(OpenSuction), do(OpenReturns)}}
}

// wallFlow are the looks after a start: no flow at the wall is air before it is a fault.
func wallFlow() []Step {
	return []Step{
		{ID: "flow", Says: "Does water come from the inlet at the wall?", Answers: []Answer{{ID: "no", Says: "None: air, most likely", Do: []Action{do(Stop), do(LockOff)}, To: "bleed-motor"}, {ID: "yes", Says: "It does", To: "dry"}}},
		{ID: "bleed-motor", Says: "Unplugged: open the air valve, bleed it at the motor, shake both hoses", Hint: "Lower valve shut and opened again, then the upper. Water only must come on top.", Care: []Care{SmallUnit}, Do: []Action{do(OpenBleed)}},
		on(plug("plug-2"), nil),
		{ID: "on-2", Says: "Switch on, and close the air valve when water only comes", Care: []Care{SmallUnit}, Do: []Action{do(Start), do(CloseBleed)}},
		{ID: "flow-2", Says: "Does water come from the inlet now?", Hint: "Still none after two tries: the unit, its cartridge or a kinked hose is the fault.", Answers: []Answer{{ID: "again", Says: "None: once more", Do: []Action{do(Stop), do(LockOff)}, To: "bleed-motor"}, {ID: "never", Says: "None after two tries: stop", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "yes", Says: "It does"}}},
		{ID: "dry", Says: "Are hoses, fittings and the lid dry?", Hint: "Hand-tight only: a tool breaks them.", Answers: []Answer{{ID: "wet", Says: "One weeps: unplugged, set anew", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "dry", Says: "Dry"}}},
	}
}

var smallLibrary = []Procedure{
	{ID: SmallSetUp, Name: "Set the small pool and its unit up", Aim: "Ground, wall fittings, hoses, water, bleed and first start.", Minutes: 60, On: small, Care: []Care{SmallUnit, DryRun},
		From: func(r *Rig) State {
			s := unplugged(r)
			s.Pressed, s.Suction, s.Returns, s.Filled, s.People, s.Opened = false, 0, false, false, true, true
			return s
		},
		Steps: join(
			Step{ID: "ground", Says: "Is the ground level and firm, with nothing sharp on it?", Hint: "Out of level by an inch, the water leans on one wall.", Answers: []Answer{{ID: "no", Says: "Not yet: levelled first, not filled", Ends: true}, {ID: "yes", Says: "Level and clean"}}},
			Step{ID: "fittings", Says: "Wall fittings in: the flat washer inside the liner, jelly on the threads, finger-tight", Hint: "Strainer on the lower one, inlet nozzle on the upper."},
			Step{ID: "wrinkles", Says: "Fill three centimetres, smooth the wrinkles out to the wall, then go on", Hint: "An inch and a quarter: with more, no hand moves the liner."},
			Step{ID: "place", Says: "Stand the pump as far from the pool as the hoses allow", Hint: "Sediment valve shut, hoses on, fittings hand-tight only.", Care: []Care{SmallUnit}},
			Step{ID: "fill", Says: "Fill the pool at least 1¼ in (3 cm) over the upper fitting", Do: []Action{do(FillPool)}},
			airValve("bleed"), lowerThenUpper(),
			Step{ID: "water", Says: "Does water only come from the air valve?", Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "water"}, {ID: "yes", Says: "It does"}}},
			peopleOut(), plug("plug"), Step{ID: "on", Says: "Switch on", Care: []Care{SmallUnit}, Do: []Action{do(Start)}},
			Step{ID: "close-air", Says: "Water only from the air valve: close it", Do: []Action{do(CloseBleed)}}, wallFlow())},
	{ID: SmallBleed, Name: "Bleed the small unit", Aim: "The air out of its top, its motor and its hoses.", Minutes: 8, On: small, Mends: []fault.ID{fault.AirlockSmall}, Care: []Care{SmallUnit},
		Steps: join(unplug("unplug"),
			Step{ID: "level", Says: "Does the water stand over the upper fitting, by an inch and a quarter?", Answers: []Answer{{ID: "low", Says: "Low: filled up first", Sign: fault.LevelLow, Yes: true}, {ID: "yes", Says: "It does", Sign: fault.LevelLow}}},
			airValve("open"), lowerThenUpper(),
			Step{ID: "shake", Says: "Shake both hoses, and let the air out at the motor", Hint: "Until no bubbles come."},
			Step{ID: "water", Says: "Does water only come out?", Answers: []Answer{{ID: "air", Says: "Still air", To: "water"}, {ID: "water", Says: "Water only"}}},
			Step{ID: "close", Says: "Close the air valve", Do: []Action{do(CloseBleed)}}, peopleOut(),
			plug("plug"), Step{ID: "on", Says: "Switch on", Care: []Care{SmallUnit}, Do: []Action{do(Start)}}, wallFlow())},
	{ID: SmallCartridge, Name: "Rinse or replace the small unit's cartridge", Aim: "One that will not rinse clean is replaced.", Minutes: 15, On: small, Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Care: []Care{SmallUnit, Pressure},
		Steps: join(unplug("unplug"),
			Step{ID: "shut", Says: "Close both hose valves or plug the fittings", Why: "The pool runs out here else.", Do: []Action{do(ShutSuction), do(ShutReturns)}},
			airValve("open-bleed"), relieved("relieved"),
			Step{ID: "lid", Says: "Take the lid off and the cartridge out", Care: []Care{Pressure}, Do: []Action{do(OpenTank)}},
			Step{ID: "rinse", Says: "Rinse it from all sides: does it come clean?", Hint: "Hose only, from the top down, turning it.", Answers: []Answer{{ID: "not", Says: "It does not: a new one goes in", Part: "cartridge"}, {ID: "clean", Says: "Clean"}}},
			Step{ID: "in", Says: "Cartridge in, ring clean, lid hand-tight", Do: []Action{do(CloseTank)}},
			lowerThenUpper(), peopleOut(),
			plug("plug"), Step{ID: "on", Says: "Switch on", Care: []Care{SmallUnit, Restart}, Do: []Action{do(Start)}},
			Step{ID: "close-air", Says: "Water only from the air valve: close it", Do: []Action{do(CloseBleed)}}, wallFlow())},
}
