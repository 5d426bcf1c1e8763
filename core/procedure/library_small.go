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
	return Step{ID: id, Says: "procedure.test-the-ground-fault-device", Hint: "procedure.press-test-it-trips-press", Care: []Care{SmallUnit}, Do: []Action{do(Unlock)}}
}

func unplug(id string) Step {
	return Step{ID: id, Says: "procedure.switch-off-and-unplug", Care: []Care{SmallUnit}, Do: []Action{do(Stop), do(LockOff)}}
}

func peopleOut() Step {
	return Step{ID: "out", Says: "procedure.out.says", Care: []Care{SmallUnit}, Do: []Action{do(PeopleOut)}}
}

func airValve(id string) Step {
	return Step{ID: id, Says: "procedure.open-the-air-valve-on", Care: []Care{SmallUnit}, Do: []Action{do(OpenBleed)}}
}

func lowerThenUpper() Step {
	return Step{ID: "lower", Says: "procedure.lower.says", Why: "procedure.lower.why", Do: []Action{do(OpenSuction), do(OpenReturns)}}
}

// wallFlow are the looks after a start: no flow at the wall is air before it is a fault.
func wallFlow() []Step {
	return []Step{
		{ID: "flow", Says: "procedure.flow.says", Answers: []Answer{{ID: "no", Says: "procedure.flow.no.says", Do: []Action{do(Stop), do(LockOff)}, To: "bleed-motor"}, {ID: "yes", Says: "procedure.flow.yes.says", To: "dry"}}},
		{ID: "bleed-motor", Says: "procedure.bleed-motor.says", Hint: "procedure.bleed-motor.hint", Care: []Care{SmallUnit}, Do: []Action{do(OpenBleed)}},
		on(plug("plug-2"), nil),
		{ID: "on-2", Says: "procedure.on-2.says", Care: []Care{SmallUnit}, Do: []Action{do(Start), do(CloseBleed)}},
		{ID: "flow-2", Says: "procedure.flow-2.says", Hint: "procedure.flow-2.hint", Answers: []Answer{{ID: "again", Says: "procedure.flow-2.again.says", Do: []Action{do(Stop), do(LockOff)}, To: "bleed-motor"}, {ID: "never", Says: "procedure.flow-2.never.says", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "yes", Says: "procedure.flow-2.yes.says"}}},
		{ID: "dry", Says: "procedure.dry.says", Hint: "procedure.dry.hint", Answers: []Answer{{ID: "wet", Says: "procedure.dry.wet.says", Do: []Action{do(Stop), do(LockOff)}, Ends: true}, {ID: "dry", Says: "procedure.dry.dry.says"}}},
	}
}

var smallLibrary = []Procedure{
	{ID: SmallSetUp, Name: "procedure.small-set-up.name", Aim: "procedure.small-set-up.aim", Minutes: 60, On: small, Care: []Care{SmallUnit, DryRun},
		From: func(r *Rig) State {
			s := unplugged(r)
			s.Pressed, s.Suction, s.Returns, s.Filled, s.People, s.Opened = false, 0, false, false, true, true
			return s
		},
		Steps: join(
			Step{ID: "ground", Says: "procedure.small-set-up.ground.says", Hint: "procedure.small-set-up.ground.hint", Answers: []Answer{{ID: "no", Says: "procedure.small-set-up.ground.no.says", Ends: true}, {ID: "yes", Says: "procedure.small-set-up.ground.yes.says"}}},
			Step{ID: "fittings", Says: "procedure.small-set-up.fittings.says", Hint: "procedure.small-set-up.fittings.hint"},
			Step{ID: "wrinkles", Says: "procedure.small-set-up.wrinkles.says", Hint: "procedure.small-set-up.wrinkles.hint"},
			Step{ID: "place", Says: "procedure.small-set-up.place.says", Hint: "procedure.small-set-up.place.hint", Care: []Care{SmallUnit}},
			Step{ID: "fill", Says: "procedure.small-set-up.fill.says", Do: []Action{do(FillPool)}},
			airValve("bleed"), lowerThenUpper(),
			Step{ID: "water", Says: "procedure.small-set-up.water.says", Answers: []Answer{{ID: "not-yet", Says: "procedure.small-set-up.water.not-yet.says", To: "water"}, {ID: "yes", Says: "procedure.small-set-up.water.yes.says"}}},
			peopleOut(), plug("plug"), Step{ID: "on", Says: "procedure.small-set-up.on.says", Care: []Care{SmallUnit}, Do: []Action{do(Start)}},
			Step{ID: "close-air", Says: "procedure.small-set-up.close-air.says", Do: []Action{do(CloseBleed)}}, wallFlow())},
	{ID: SmallBleed, Name: "procedure.small-bleed.name", Aim: "procedure.small-bleed.aim", Minutes: 8, On: small, Mends: []fault.ID{fault.AirlockSmall}, Care: []Care{SmallUnit},
		Steps: join(unplug("unplug"),
			Step{ID: "level", Says: "procedure.small-bleed.level.says", Answers: []Answer{{ID: "low", Says: "procedure.small-bleed.level.low.says", Sign: fault.LevelLow, Yes: true}, {ID: "yes", Says: "procedure.small-bleed.level.yes.says", Sign: fault.LevelLow}}},
			airValve("open"), lowerThenUpper(),
			Step{ID: "shake", Says: "procedure.small-bleed.shake.says", Hint: "procedure.small-bleed.shake.hint"},
			Step{ID: "water", Says: "procedure.small-bleed.water.says", Answers: []Answer{{ID: "air", Says: "procedure.small-bleed.water.air.says", To: "water"}, {ID: "water", Says: "procedure.small-bleed.water.water.says"}}},
			Step{ID: "close", Says: "procedure.small-bleed.close.says", Do: []Action{do(CloseBleed)}}, peopleOut(),
			plug("plug"), Step{ID: "on", Says: "procedure.small-bleed.on.says", Care: []Care{SmallUnit}, Do: []Action{do(Start)}}, wallFlow())},
	{ID: SmallCartridge, Name: "procedure.small-cartridge.name", Aim: "procedure.small-cartridge.aim", Minutes: 15, On: small, Item: "clean-filter", Work: "cleaned", Mends: []fault.ID{fault.FilterLoaded}, Care: []Care{SmallUnit, Pressure},
		Steps: join(unplug("unplug"),
			Step{ID: "shut", Says: "procedure.small-cartridge.shut.says", Why: "procedure.small-cartridge.shut.why", Do: []Action{do(ShutSuction), do(ShutReturns)}},
			airValve("open-bleed"), relieved("relieved"),
			Step{ID: "lid", Says: "procedure.small-cartridge.lid.says", Care: []Care{Pressure}, Do: []Action{do(OpenTank)}},
			Step{ID: "rinse", Says: "procedure.small-cartridge.rinse.says", Hint: "procedure.small-cartridge.rinse.hint", Answers: []Answer{{ID: "not", Says: "procedure.small-cartridge.rinse.not.says", Part: "cartridge"}, {ID: "clean", Says: "procedure.small-cartridge.rinse.clean.says"}}},
			Step{ID: "in", Says: "procedure.small-cartridge.in.says", Do: []Action{do(CloseTank)}},
			lowerThenUpper(), peopleOut(),
			plug("plug"), Step{ID: "on", Says: "procedure.small-cartridge.on.says", Care: []Care{SmallUnit, Restart}, Do: []Action{do(Start)}},
			Step{ID: "close-air", Says: "procedure.small-cartridge.close-air.says", Do: []Action{do(CloseBleed)}}, wallFlow())},
}
