package procedure

import (
	"fairlap/core/fault"
)

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
	return Step{
		ID:   id,
		Text: "procedure.test-the-ground-fault-device",
		Hint: "procedure.press-test-it-trips-press",
		Care: []Care{SmallUnit},
		Do:   []Action{do(Unlock)},
	}
}

func unplug(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.switch-off-and-unplug",
		Care: []Care{SmallUnit},
		Do:   []Action{do(Stop), do(LockOff)},
	}
}

func peopleOut() Step {
	return Step{ID: "out", Text: "procedure.out.says", Care: []Care{SmallUnit}, Do: []Action{do(PeopleOut)}}
}

func airValve(id string) Step {
	return Step{ID: id, Text: "procedure.open-the-air-valve-on", Care: []Care{SmallUnit}, Do: []Action{do(OpenBleed)}}
}

func lowerThenUpper() Step {
	return Step{
		ID:   "lower",
		Text: "procedure.lower.says",
		Why:  "procedure.lower.why",
		Do:   []Action{do(OpenSuction), do(OpenReturns)},
	}
}

// closeAir closes the air valve before the plug goes in: the pool's own water fills the unit.
func closeAir() Step {
	return Step{
		ID:   "close-air",
		Text: "procedure.small.close-air.says",
		Hint: "procedure.small.close-air.hint",
		Do:   []Action{do(CloseBleed)},
	}
}

// ringWhole is the look at a housing's ring before its lid goes on: one that is cut is replaced first.
func ringWhole() Step {
	return ask("ring", "procedure.small.ring.says", "procedure.small.ring.hint",
		Answer{ID: "none", Text: "procedure.small.ring.none.says", Part: "tank-o-ring", Do: []Action{do(CloseTank)}, Ends: true},
		Answer{ID: "new", Text: "procedure.seats.new.says"},
		Answer{ID: "whole", Text: "procedure.whole.says"})
}

// unitWhole is the same look at a unit that is set up, before any water comes.
func unitWhole() Step {
	return ask("ring", "procedure.small.unit.says", "procedure.small.unit.hint",
		Answer{ID: "none", Text: "procedure.small.unit.none.says", Part: "tank-o-ring", Ends: true},
		Answer{ID: "whole", Text: "procedure.whole.says"})
}

// wallFlow are the looks after a start: no flow at the wall is air before it is a fault.
func wallFlow() []Step {
	return []Step{
		{
			ID:   "flow",
			Text: "procedure.flow.says",
			Answers: []Answer{
				{ID: "no", Text: "procedure.flow.no.says", Do: []Action{do(Stop), do(LockOff)}, To: "bleed-motor"},
				{ID: "yes", Text: "procedure.flow.yes.says", To: "dry"},
			},
		},
		{
			ID:   "bleed-motor",
			Text: "procedure.bleed-motor.says",
			Hint: "procedure.bleed-motor.hint",
			Care: []Care{SmallUnit},
			Do:   []Action{do(OpenBleed)},
		},
		{ID: "close-2", Text: "procedure.small.close-air.says", Hint: "procedure.small.close-air.hint",
			Do: []Action{do(CloseBleed)}},
		on(plug("plug-2"), nil),
		{ID: "on-2", Text: "procedure.small.on.says", Care: []Care{SmallUnit}, Do: []Action{do(Start)}},
		{
			ID:   "flow-2",
			Text: "procedure.flow-2.says",
			Hint: "procedure.flow-2.hint",
			Answers: []Answer{
				{
					ID:   "again",
					Text: "procedure.flow-2.again.says",
					Do:   []Action{do(Stop), do(LockOff)},
					To:   "bleed-motor",
				},
				{ID: "never", Text: "procedure.flow-2.never.says", Do: []Action{do(Stop), do(LockOff)}, Ends: true},
				{ID: "yes", Text: "procedure.flow-2.yes.says"},
			},
		},
		{
			ID:   "dry",
			Text: "procedure.dry.says",
			Hint: "procedure.dry.hint",
			Answers: []Answer{
				{ID: "wet", Text: "procedure.dry.wet.says", Do: []Action{do(Stop), do(LockOff)}, Ends: true},
				{ID: "dry", Text: "procedure.dry.dry.says"},
			},
		},
	}
}

var smallLibrary = []Procedure{
	{
		ID:      SmallSetUp,
		Name:    "procedure.small-set-up.name",
		Aim:     "procedure.small-set-up.aim",
		Minutes: 60,
		On:      small,
		Care:    []Care{SmallUnit, DryRun},
		From: func(r *Rig) State {
			s := unplugged(r)
			s.Pressed, s.Suction, s.Returns, s.Filled, s.People, s.Opened = false, 0, false, false, true, true
			return s
		},
		Steps: join(
			Step{
				ID:   "ground",
				Text: "procedure.small-set-up.ground.says",
				Hint: "procedure.small-set-up.ground.hint",
				Answers: []Answer{
					{ID: "no", Text: "procedure.small-set-up.ground.no.says", Ends: true},
					{ID: "yes", Text: "procedure.small-set-up.ground.yes.says"},
				},
			},
			Step{
				ID:   "fittings",
				Text: "procedure.small-set-up.fittings.says",
				Hint: "procedure.small-set-up.fittings.hint",
			},
			Step{
				ID:   "wrinkles",
				Text: "procedure.small-set-up.wrinkles.says",
				Hint: "procedure.small-set-up.wrinkles.hint",
			},
			Step{
				ID:   "place",
				Text: "procedure.small-set-up.place.says",
				Hint: "procedure.small-set-up.place.hint",
				Care: []Care{SmallUnit},
			},
			unitWhole(),
			Step{ID: "fill", Text: "procedure.small-set-up.fill.says", Do: []Action{do(FillPool)}},
			airValve("bleed"),
			lowerThenUpper(),
			Step{
				ID:   "water",
				Text: "procedure.small-set-up.water.says",
				Answers: []Answer{
					{ID: "not-yet", Text: "procedure.small-set-up.water.not-yet.says", To: "water"},
					{ID: "yes", Text: "procedure.small-set-up.water.yes.says"},
				},
			},
			closeAir(),
			peopleOut(),
			plug("plug"),
			Step{ID: "on", Text: "procedure.small-set-up.on.says", Care: []Care{SmallUnit}, Do: []Action{do(Start)}},
			wallFlow(),
		),
	},
	{
		ID:      SmallBleed,
		Name:    "procedure.small-bleed.name",
		Aim:     "procedure.small-bleed.aim",
		Minutes: 8,
		On:      small,
		Mends:   []fault.ID{fault.AirlockSmall},
		Care:    []Care{SmallUnit},
		Steps: join(
			unplug("unplug"),
			Step{
				ID:   "level",
				Text: "procedure.small-bleed.level.says",
				Answers: []Answer{
					{ID: "low", Text: "procedure.small-bleed.level.low.says", Sign: fault.LevelLow, Yes: true},
					{ID: "yes", Text: "procedure.small-bleed.level.yes.says", Sign: fault.LevelLow},
				},
			},
			airValve("open"),
			lowerThenUpper(),
			Step{ID: "shake", Text: "procedure.small-bleed.shake.says", Hint: "procedure.small-bleed.shake.hint"},
			Step{
				ID:   "water",
				Text: "procedure.small-bleed.water.says",
				Answers: []Answer{
					{ID: "air", Text: "procedure.small-bleed.water.air.says", To: "water"},
					{ID: "water", Text: "procedure.small-bleed.water.water.says"},
				},
			},
			closeAir(),
			peopleOut(),
			plug(
				"plug",
			),
			Step{ID: "on", Text: "procedure.small-bleed.on.says", Care: []Care{SmallUnit}, Do: []Action{do(Start)}},
			wallFlow(),
		),
	},
	{
		ID:      SmallCartridge,
		Name:    "procedure.small-cartridge.name",
		Aim:     "procedure.small-cartridge.aim",
		Minutes: 15,
		On:      small,
		Item:    "clean-filter",
		Work:    "cleaned",
		Mends:   []fault.ID{fault.FilterLoaded},
		Care:    []Care{SmallUnit, Pressure},
		Steps: join(
			unplug("unplug"),
			Step{
				ID:   "shut",
				Text: "procedure.small-cartridge.shut.says",
				Why:  "procedure.small-cartridge.shut.why",
				Do:   []Action{do(ShutSuction), do(ShutReturns)},
			},
			airValve("open-bleed"),
			relieved("relieved"),
			Step{
				ID:   "lid",
				Text: "procedure.small-cartridge.lid.says",
				Care: []Care{Pressure},
				Do:   []Action{do(OpenTank)},
			},
			Step{
				ID:   "rinse",
				Text: "procedure.small-cartridge.rinse.says",
				Hint: "procedure.small-cartridge.rinse.hint",
				Answers: []Answer{
					{ID: "not", Text: "procedure.small-cartridge.rinse.not.says", Part: "cartridge"},
					{ID: "clean", Text: "procedure.small-cartridge.rinse.clean.says"},
				},
			},
			ringWhole(),
			Step{ID: "in", Text: "procedure.small-cartridge.in.says", Do: []Action{do(CloseTank)}},
			lowerThenUpper(),
			closeAir(),
			peopleOut(),
			plug(
				"plug",
			),
			Step{
				ID:   "on",
				Text: "procedure.small-cartridge.on.says",
				Care: []Care{SmallUnit},
				Do:   []Action{do(Start)},
			},
			wallFlow(),
		),
	},
}
