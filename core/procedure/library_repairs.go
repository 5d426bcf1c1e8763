package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// The repairs of single faults (handbook, fault catalogue; times common practice).
const (
	LidRing       ID = "lid-ring"
	JointReseal   ID = "joint-reseal"
	InletFitting  ID = "inlet-fitting"
	OutletFitting ID = "outlet-fitting"
	FallBack      ID = "fall-back"
	ShaftSeal     ID = "shaft-seal"
	HousingGasket ID = "housing-gasket"
	WornImpeller  ID = "worn-impeller"
	DeadPump      ID = "dead-pump"
	HotMotor      ID = "hot-motor"
	SlowIt        ID = "slow-it"
	SuctionSet    ID = "suction-set"
	SuctionOpened ID = "suction-opened"
	TopUp         ID = "top-up"
	ReturnsClear  ID = "returns-clear"
	ReturnsOpened ID = "returns-opened"
	ValveTop      ID = "valve-top"
	ValveToFilter ID = "valve-to-filter"
	TankRing      ID = "tank-ring"
	GaugeSwap     ID = "gauge-swap"
	CheckValve    ID = "check-valve"
	FlowSwitch    ID = "flow-switch"
	BypassShut    ID = "bypass-shut"
)

// act is a step that a hand confirms.
func act(id string, text, hint words.Message, care ...Care) Step {
	return Step{ID: id, Text: text, Hint: hint, Care: care}
}

// ask is a look with its answers, the one that goes on last.
func ask(id string, text, hint words.Message, answers ...Answer) Step {
	return Step{ID: id, Text: text, Hint: hint, Answers: answers}
}

// seen is an answer that is a sign, seen or not.
func seen(id string, text words.Message, sign fault.Sign, yes bool) Answer {
	return Answer{ID: id, Text: text, Sign: sign, Yes: yes}
}

// stopFor is an answer that ends the run with the pump off and locked.
func stopFor(a Answer) Answer {
	a.Do, a.Ends = []Action{do(Stop), do(LockOff)}, true
	return a
}

// stillWet is an answer at the end of a repair that did not hold: off and locked.
func stillWet(sign fault.Sign) Answer {
	return stopFor(seen("wet", "procedure.repair.wet.says", sign, true))
}

// dryNow is what a repaired place is looked at for.
func dryNow(sign fault.Sign) Step {
	return ask("dry-now", "procedure.repair.dry-now.says", "procedure.repair.dry-now.hint",
		stillWet(sign), seen("dry", "procedure.repair.dry.says", sign, false))
}

// wetEnd are the steps of a repair behind the pump's housing: the motor half drawn back
// and put on again, with the work on it between.
func wetEnd(work ...Step) []Step {
	return join(
		toPot(),
		driveOff(),
		Step{
			ID:   "draw",
			Text: "procedure.wet-end.draw.says",
			Hint: "procedure.wet-end.draw.hint",
			Care: []Care{OffIsNot, Capacitor},
			Do:   []Action{do(HandIn)},
		},
		work,
		Step{
			ID:   "back",
			Text: "procedure.wet-end.back.says",
			Hint: "procedure.wet-end.back.hint",
			Do:   []Action{do(HandOut)},
		},
		fromPot(),
	)
}

// bearings is the look that decides whether a new seal is worth its work.
func bearings() Step {
	return ask("bearings", "procedure.wet-end.bearings.says", "procedure.wet-end.bearings.hint",
		Answer{ID: "rough", Text: "procedure.wet-end.rough.says", Part: "pump-motor"},
		Answer{ID: "smooth", Text: "procedure.wet-end.smooth.says"})
}

// fitting is the repair of one of the pump's two threaded fittings.
func fitting(sign fault.Sign) []Step {
	return join(
		toPot(),
		ask("other", "procedure.fitting.other.says", "procedure.fitting.other.hint",
			Answer{ID: "both", Text: "procedure.fitting.other.both.says"},
			Answer{ID: "one", Text: "procedure.fitting.other.one.says"}),
		act("cut", "procedure.fitting.cut.says", "procedure.fitting.cut.hint"),
		act("fit", "procedure.fitting.fit.says", "procedure.fitting.fit.hint"),
		Step{
			ID:    "set",
			Text:  "procedure.fitting.set.says",
			Hint:  "procedure.fitting.set.hint",
			Timer: &Timer{Count: CountWait, Low: glueLow, High: glueHigh, Least: glueLow},
		},
		fromPot(),
		dryNow(sign),
		movement(),
	)
}

// How long solvent cement sets before it takes pressure, seconds: the can rules.
const glueLow, glueHigh = 900, 7200

// opened are the steps of a repair on what holds the tank's pressure: relieved, worked
// on while the power is locked, and started again with the bleed open.
func opened(text, hint words.Message, shut Step, work ...Step) []Step {
	return join(
		pumpOff("off", "procedure.repair.before-it-opens"),
		lockOff("lock"),
		isolate("isolate"),
		openBleed("open-bleed"),
		relieved("relieved"),
		Step{ID: "open", Text: text, Hint: hint, Care: []Care{Pressure}, Do: []Action{do(OpenTank)}},
		work,
		shut,
		deisolate("deisolate"),
		powerBack("power"),
		startBled("re-"),
	)
}

// shut is the step that closes what was opened.
func shut(text, hint words.Message) Step {
	return Step{ID: "close", Text: text, Hint: hint, Care: []Care{Pressure}, Do: []Action{do(CloseTank)}}
}

// startAgain are the steps from a pump that was only off to one that runs.
func startAgain() []Step {
	return join(
		Step{ID: "on", Text: "procedure.start-the-pump", Care: []Care{Restart, DryRun}, Do: []Action{do(Start)}},
		movement(),
	)
}

func hasPanel(s *Setup) bool { return notSmall(s) && s.Figures["panel"] != "" }

func hasMultiport(s *Setup) bool { return s.Rig.Valve == pad.Multiport }

func hasSlide(s *Setup) bool { return s.Rig.Valve == pad.SlideValve }

func hasPart(is func(*Rig) bool) func(*Setup) bool {
	return func(s *Setup) bool { return notSmall(s) && is(&s.Rig) }
}

func standsStill(r *Rig) State {
	s := r.Daily()
	s.Running = false
	return s
}

var repairLibrary = []Procedure{
	{
		ID:      LidRing,
		Name:    "procedure.lid-ring.name",
		Aim:     "procedure.lid-ring.aim",
		Minutes: 8,
		On:      notSmall,
		Care:    []Care{OffIsNot, Scald, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.leak-tests.name-3"}},
		Mends:   []fault.ID{fault.AirLid},
		Steps: join(
			toPot(),
			act("wipe", "procedure.lid-ring.wipe.says", "procedure.lid-ring.wipe.hint"),
			ask("lid-look", "procedure.lid-ring.look.says", "",
				Answer{ID: "cracked", Text: "procedure.lid-ring.look.cracked.says", Part: "pump-lid"},
				Answer{ID: "whole", Text: "procedure.lid-ring.look.whole.says"}),
			fromPot(),
			Step{
				ID:    "watch",
				Text:  "procedure.lid-ring.watch.says",
				Timer: &Timer{Count: CountWait, Low: 60, High: 120},
				Answers: []Answer{
					seen("air", "procedure.lid-ring.watch.air.says", fault.AirInPot, true),
					seen("none", "procedure.lid-ring.watch.none.says", fault.AirInPot, false),
				},
			},
		),
	},
	{
		ID:      JointReseal,
		Name:    "procedure.joint-reseal.name",
		Aim:     "procedure.joint-reseal.aim",
		Minutes: 35,
		On:      notSmall,
		Care:    []Care{OffIsNot, Scald, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.leak-tests.name-2"}, {Name: "procedure.joint-reseal.takes"}},
		Mends:   []fault.ID{fault.AirUpstream, fault.DrainBack},
		Steps: join(
			ask("find", "procedure.joint-reseal.find.says", "procedure.joint-reseal.find.hint",
				Answer{ID: "none", Text: "procedure.joint-reseal.find.none.says", Sign: fault.FoamJoint, Ends: true},
				seen("found", "procedure.joint-reseal.find.found.says", fault.FoamJoint, true)),
			toPot(),
			act("reseal", "procedure.joint-reseal.reseal.says", "procedure.joint-reseal.reseal.hint"),
			fromPot(),
			ask("again", "procedure.joint-reseal.again.says", "",
				seen("still", "procedure.joint-reseal.again.still.says", fault.FoamJoint, true),
				seen("none", "procedure.joint-reseal.again.none.says", fault.FoamJoint, false)),
			movement(),
		),
	},
	{
		ID:      InletFitting,
		Name:    "procedure.inlet-fitting.name",
		Aim:     "procedure.inlet-fitting.aim",
		Minutes: 60,
		On:      notSmall,
		Care:    []Care{OffIsNot, Scald, Fumes, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.fitting.takes"}, {Name: "procedure.fitting.takes-2"}},
		Mends:   []fault.ID{fault.AirInlet},
		Steps:   fitting(fault.DripInlet),
	},
	{
		ID:      OutletFitting,
		Name:    "procedure.outlet-fitting.name",
		Aim:     "procedure.outlet-fitting.aim",
		Minutes: 60,
		On:      notSmall,
		Care:    []Care{OffIsNot, Scald, Fumes, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.fitting.takes"}, {Name: "procedure.fitting.takes-2"}},
		Mends:   []fault.ID{fault.OutletLeak},
		Steps:   fitting(fault.DripOutlet),
	},
	{
		ID:      FallBack,
		Name:    "procedure.fall-back.name",
		Aim:     "procedure.fall-back.aim",
		Minutes: 12,
		On:      notSmall,
		Care:    []Care{DryRun},
		Narrows: []fault.ID{fault.DrainBack, fault.AirLid, fault.AirUpstream},
		Checks:  []fault.Sign{fault.PotDrains},
		Steps: join(
			pumpOff("off", "procedure.fall-back.before"),
			Step{
				ID:    "watch",
				Text:  "procedure.fall-back.watch.says",
				Timer: &Timer{Count: CountWait, Low: 120, High: 300},
				Answers: []Answer{
					{ID: "full", Text: "procedure.fall-back.full.says", Sign: fault.PotDrains, To: "open-again"},
					seen("sinks", "procedure.fall-back.sinks.says", fault.PotDrains, true),
				},
			},
			act("refill", "procedure.fall-back.refill.says", "procedure.fall-back.refill.hint", DryRun),
			ask("shut-test", "procedure.fall-back.shut.says", "procedure.fall-back.shut.hint",
				Answer{ID: "sinks", Text: "procedure.fall-back.shut.sinks.says", To: "open-again"},
				Answer{ID: "holds", Text: "procedure.fall-back.shut.holds.says", To: "open-again"}),
			Step{ID: "open-again", Text: "procedure.fall-back.open.says", Do: []Action{do(OpenSuction)}},
			startAgain(),
		),
	},
	{
		ID:      ShaftSeal,
		Name:    "procedure.shaft-seal.name",
		Aim:     "procedure.shaft-seal.aim",
		Minutes: 60,
		On:      notSmall,
		Care:    []Care{OffIsNot, Capacitor, Scald, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.shaft-seal.takes"}},
		Mends:   []fault.ID{fault.SealLeak},
		Steps: join(
			wetEnd(
				bearings(),
				act("old", "procedure.shaft-seal.old.says", "procedure.shaft-seal.old.hint"),
				act("new", "procedure.shaft-seal.new.says", "procedure.shaft-seal.new.hint"),
			),
			dryNow(fault.DripSeal),
			movement(),
		),
	},
	{
		ID:      HousingGasket,
		Name:    "procedure.housing-gasket.name",
		Aim:     "procedure.housing-gasket.aim",
		Minutes: 45,
		On:      notSmall,
		Care:    []Care{OffIsNot, Capacitor, Scald, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.housing-gasket.takes"}},
		Mends:   []fault.ID{fault.HousingLeak},
		Steps: join(
			wetEnd(act("gasket", "procedure.housing-gasket.gasket.says", "procedure.housing-gasket.gasket.hint")),
			dryNow(fault.DripSeam),
			movement(),
		),
	},
	{
		ID:      WornImpeller,
		Name:    "procedure.worn-impeller.name",
		Aim:     "procedure.worn-impeller.aim",
		Minutes: 90,
		On:      notSmall,
		Care:    []Care{OffIsNot, Capacitor, Scald, DryRun, Restart},
		Takes:   []Take{{Name: "procedure.worn-impeller.takes"}, {Name: "procedure.shaft-seal.takes"}},
		Mends:   []fault.ID{fault.ImpellerWorn},
		Steps: join(
			before(),
			wetEnd(
				ask("vanes", "procedure.worn-impeller.vanes.says", "procedure.worn-impeller.vanes.hint",
					Answer{ID: "good", Text: "procedure.worn-impeller.vanes.good.says", To: "back"},
					Answer{ID: "worn", Text: "procedure.worn-impeller.vanes.worn.says"}),
				act("change", "procedure.worn-impeller.change.says", "procedure.worn-impeller.change.hint"),
			),
			dryNow(fault.DripSeal),
			after(),
		),
	},
	{
		ID:      DeadPump,
		Name:    "procedure.dead-pump.name",
		Aim:     "procedure.dead-pump.aim",
		Minutes: 10,
		On:      notSmall,
		Care:    []Care{Capacitor, Restart, DryRun},
		From:    standsStill,
		Mends:   []fault.ID{fault.NoPower},
		Checks:  []fault.Sign{fault.DisplayAlarm, fault.TripsAgain, fault.Hums},
		Steps: join(
			ask("hum", "procedure.dead-pump.hum.says", "procedure.dead-pump.hum.hint",
				Answer{ID: "hums", Text: "procedure.dead-pump.hum.hums.says", Sign: fault.Hums, Yes: true,
					Do: []Action{do(LockOff)}, Ends: true},
				seen("silent", "procedure.dead-pump.hum.silent.says", fault.Hums, false)),
			ask("display", "procedure.dead-pump.display.says", "procedure.dead-pump.display.hint",
				Answer{ID: "alarm", Text: "procedure.dead-pump.display.alarm.says", Sign: fault.DisplayAlarm, Yes: true,
					Do: []Action{do(LockOff)}, Ends: true},
				Answer{ID: "dark", Text: "procedure.dead-pump.display.dark.says"},
				Answer{ID: "standby", Text: "procedure.dead-pump.display.standby.says"}),
			ask("timer", "procedure.dead-pump.timer.says", "procedure.dead-pump.timer.hint",
				Answer{ID: "other", Text: "procedure.dead-pump.timer.other.says"},
				Answer{ID: "off", Text: "procedure.dead-pump.timer.off.says"}),
			ask("breaker", "procedure.dead-pump.breaker.says", "procedure.dead-pump.breaker.hint",
				Answer{ID: "again", Text: "procedure.dead-pump.breaker.again.says", Sign: fault.TripsAgain, Yes: true,
					Do: []Action{do(LockOff)}, Ends: true},
				Answer{ID: "held", Text: "procedure.dead-pump.breaker.held.says", Sign: fault.ResetRuns, Yes: true},
				Answer{ID: "on", Text: "procedure.dead-pump.breaker.on.says"}),
			ask("water", "procedure.dead-pump.water.says", "procedure.dead-pump.water.hint",
				Answer{ID: "empty", Text: "procedure.dead-pump.water.empty.says", Sign: fault.PotNotFull, Yes: true,
					Do: []Action{do(LockOff)}, Ends: true},
				seen("full", "procedure.dead-pump.water.full.says", fault.PotNotFull, false)),
			Step{ID: "on", Text: "procedure.start-the-pump", Care: []Care{Restart, DryRun}, Do: []Action{do(Start)}},
			ask("turns", "procedure.dead-pump.turns.says", "",
				stopFor(Answer{ID: "no", Text: "procedure.dead-pump.turns.no.says"}),
				Answer{ID: "yes", Text: "procedure.dead-pump.turns.yes.says"}),
			movement(),
		),
	},
	{
		ID:      HotMotor,
		Name:    "procedure.hot-motor.name",
		Aim:     "procedure.hot-motor.aim",
		Minutes: 20,
		On:      notSmall,
		Care:    []Care{OffIsNot, Capacitor, Restart},
		Mends:   []fault.ID{fault.MotorHot},
		Steps: join(
			pumpOff("off", "procedure.hot-motor.before"),
			lockOff("lock"),
			ask("vents", "procedure.hot-motor.vents.says", "procedure.hot-motor.vents.hint",
				seen("boxed", "procedure.hot-motor.vents.boxed.says", fault.NoVents, true),
				seen("free", "procedure.hot-motor.vents.free.says", fault.NoVents, false)),
			act("clear", "procedure.hot-motor.clear.says", "procedure.hot-motor.clear.hint"),
			powerBack("power"),
			startAgain(),
			act("tell", "procedure.hot-motor.tell.says", "procedure.hot-motor.tell.hint"),
		),
	},
	{
		ID:      SlowIt,
		Name:    "procedure.slow-it.name",
		Aim:     "procedure.slow-it.aim",
		Minutes: 8,
		On:      hasPanel,
		Care:    []Care{DryRun},
		Mends:   []fault.ID{fault.Cavitation},
		Steps: join(
			ask("hear", "procedure.slow-it.hear.says", "",
				Answer{ID: "none", Text: "procedure.slow-it.hear.none.says", Sign: fault.Gravel, Ends: true},
				seen("gravel", "procedure.slow-it.hear.gravel.says", fault.Gravel, true)),
			Step{
				ID:   "slow",
				Text: "procedure.slow-it.slow.says",
				Hint: "procedure.slow-it.slow.hint",
				Do:   []Action{do(SetSpeed)},
			},
			act("suction", "procedure.slow-it.suction.says", "procedure.slow-it.suction.hint"),
			act("slot", "procedure.slow-it.slot.says", "procedure.slow-it.slot.hint"),
		),
	},
	{
		ID:      SuctionSet,
		Name:    "procedure.suction-set.name",
		Aim:     "procedure.suction-set.aim",
		Minutes: 5,
		On:      notSmall,
		Care:    []Care{Entrapment, DryRun},
		Mends:   []fault.ID{fault.SuctionValve},
		Narrows: []fault.ID{fault.Cavitation, fault.SuctionLine},
		Checks:  []fault.Sign{fault.HandleWrong},
		Steps: join(
			ask("read", "procedure.suction-set.read.says", "procedure.the-closed-mark-points-at",
				seen("wrong", "procedure.suction-set.read.wrong.says", fault.HandleWrong, true),
				seen("right", "procedure.suction-set.read.right.says", fault.HandleWrong, false)),
			pumpOff("off", "procedure.the-handles-turn"),
			Step{
				ID:   "set",
				Text: "procedure.suction-set.set.says",
				Hint: "procedure.suction-set.set.hint",
				Care: []Care{Entrapment},
				Do:   []Action{do(OpenSuction)},
			},
			startAgain(),
		),
	},
	{
		ID:      SuctionOpened,
		AtOnce:  true,
		Name:    "procedure.suction-opened.name",
		Aim:     "procedure.suction-opened.aim",
		Minutes: 30,
		On:      notSmall,
		Care:    []Care{DryRun, OffIsNot, Scald, Entrapment, Restart},
		Mends:   []fault.ID{fault.SuctionAllShut},
		Steps: join(
			toPot(),
			ask("melted", "procedure.valve-reset.lid.says", "procedure.valve-reset.lid.hint",
				Answer{ID: "melted", Text: "procedure.valve-reset.lid.melted.says", Part: "pump-fittings"},
				Answer{ID: "whole", Text: "procedure.valve-reset.lid.whole.says"}),
			fromPot(),
			movement(),
		),
	},
	{
		ID:      TopUp,
		Name:    "procedure.top-up.name",
		Aim:     "procedure.top-up.aim",
		Minutes: 30,
		On:      notSmall,
		Care:    []Care{DryRun},
		Mends:   []fault.ID{fault.WaterLow},
		Steps: join(
			ask("level", "procedure.top-up.level.says", "procedure.top-up.level.hint",
				Answer{ID: "right", Text: "procedure.top-up.level.right.says", Sign: fault.LevelLow, Ends: true},
				Answer{ID: "low", Text: "procedure.top-up.level.low.says", Sign: fault.LevelLow, Yes: true, To: "fill-on"},
				Answer{ID: "air", Text: "procedure.top-up.level.air.says", Sign: fault.LevelLow, Yes: true}),
			pumpOff("off", "procedure.top-up.before"),
			act("fill-off", "procedure.top-up.fill.says", "procedure.top-up.fill.hint"),
			Step{
				ID:   "on",
				Text: "procedure.top-up.on.says",
				Care: []Care{Restart, DryRun},
				Do:   []Action{do(Start), do(Program)},
				Answers: []Answer{
					stopFor(seen("empty", "procedure.top-up.on.empty.says", fault.PotNotFull, true)),
					{ID: "full", Text: "procedure.top-up.on.full.says", To: "cause"},
				},
			},
			act("fill-on", "procedure.top-up.fill.says", "procedure.top-up.fill.hint"),
			ask("cause", "procedure.top-up.cause.says", "procedure.top-up.cause.hint",
				Answer{ID: "leak", Text: "procedure.top-up.cause.leak.says"},
				Answer{ID: "fill", Text: "procedure.top-up.cause.fill.says"},
				Answer{ID: "usual", Text: "procedure.top-up.cause.usual.says"}),
		),
	},
	{
		ID:      ReturnsClear,
		Name:    "procedure.returns-clear.name",
		Aim:     "procedure.returns-clear.aim",
		Minutes: 12,
		On:      notSmall,
		Care:    []Care{DryRun},
		Mends:   []fault.ID{fault.ReturnRestricted},
		Checks:  []fault.Sign{fault.WeakOne, fault.HandleWrong},
		Steps: join(
			before(),
			ask("feel", "procedure.returns-clear.feel.says", "procedure.returns-clear.feel.hint",
				seen("one", "procedure.returns-clear.feel.one.says", fault.WeakOne, true),
				seen("all", "procedure.returns-clear.feel.all.says", fault.WeakOne, false)),
			pumpOff("off", "procedure.the-handles-turn"),
			ask("read", "procedure.returns-clear.read.says", "procedure.the-closed-mark-points-at",
				seen("wrong", "procedure.returns-clear.read.wrong.says", fault.HandleWrong, true),
				seen("right", "procedure.returns-clear.read.right.says", fault.HandleWrong, false)),
			act("clear", "procedure.returns-clear.clear.says", "procedure.returns-clear.clear.hint"),
			startAgain(),
			after(),
		),
	},
	{
		ID:      ReturnsOpened,
		AtOnce:  true,
		Name:    "procedure.returns-opened.name",
		Aim:     "procedure.returns-opened.aim",
		Minutes: 10,
		On:      notSmall,
		Care:    []Care{Pressure, OffIsNot, Restart, Scald},
		Mends:   []fault.ID{fault.ReturnAllShut},
		Steps: join(
			pumpOff("off", "procedure.the-handles-turn"),
			lockOff("lock"),
			openBleed("open-bleed"),
			relieved("relieved"),
			ask("read", "procedure.returns-opened.read.says", "procedure.the-closed-mark-points-at",
				seen("wrong", "procedure.returns-opened.read.wrong.says", fault.HandleWrong, true),
				seen("right", "procedure.returns-opened.read.right.says", fault.HandleWrong, false)),
			Step{
				ID:   "open",
				Text: "procedure.returns-opened.open.says",
				Hint: "procedure.returns-opened.open.hint",
				Do:   []Action{do(OpenReturns)},
			},
			powerBack("power"),
			startBled("re-"),
			movement(),
		),
	},
	{
		ID:      ValveTop,
		Name:    "procedure.valve-top.name",
		Aim:     "procedure.valve-top.aim",
		Minutes: 45,
		On:      func(s *Setup) bool { return hasMultiport(s) || hasSlide(s) },
		Care:    []Care{Pressure, OffIsNot, Restart, DeadHead},
		Takes:   []Take{{Name: "procedure.valve-top.takes"}},
		Mends:   []fault.ID{fault.ValveGasket},
		Steps: join(
			opened(
				"procedure.valve-top.open.says", "procedure.valve-top.open.hint",
				shut("procedure.valve-top.close.says", "procedure.valve-top.close.hint"),
				Step{
					ID:   "gasket",
					Text: "procedure.valve-top.gasket.says",
					Hint: "procedure.valve-top.gasket.hint",
					When: hasMultiport,
				},
				Step{
					ID:   "rings",
					Text: "procedure.valve-top.rings.says",
					Hint: "procedure.valve-top.rings.hint",
					When: hasSlide,
				},
			),
			ask("waste", "procedure.valve-top.waste.says", "procedure.valve-top.waste.hint",
				stopFor(seen("wet", "procedure.valve-top.waste.wet.says", fault.WasteWet, true)),
				seen("dry", "procedure.valve-top.waste.dry.says", fault.WasteWet, false)),
			movement(),
		),
	},
	{
		ID:      ValveToFilter,
		Name:    "procedure.valve-to-filter.name",
		Aim:     "procedure.valve-to-filter.aim",
		Minutes: 4,
		On:      func(s *Setup) bool { return hasMultiport(s) || hasSlide(s) },
		Care:    []Care{DeadHead, Restart},
		Mends:   []fault.ID{fault.ValvePosition},
		Checks:  []fault.Sign{fault.FilterValveOff},
		Steps: join(
			ask("read", "procedure.valve-to-filter.read.says", "",
				seen("other", "procedure.valve-to-filter.read.other.says", fault.FilterValveOff, true),
				seen("filter", "procedure.valve-to-filter.read.filter.says", fault.FilterValveOff, false)),
			pumpOff("off", handleMoves),
			turnBack("to-filter"),
			bandClear(),
			Step{ID: "on", Text: "procedure.start-the-pump-and-stand", Care: []Care{Restart, DeadHead},
				Do: []Action{do(Start)}},
			ask("rating", "procedure.is-the-gauge-under-the", "procedure.usual-here-clean-at",
				stopFor(Answer{ID: "over", Text: "procedure.over.says"}),
				Answer{ID: "under", Text: "procedure.under.says"}),
			movement(),
		),
	},
	{
		ID:      TankRing,
		Name:    "procedure.tank-ring.name",
		Aim:     "procedure.tank-ring.aim",
		Minutes: 30,
		On:      notSmall,
		Care:    []Care{Pressure, OffIsNot, Restart},
		Takes:   []Take{{Name: "procedure.tank-ring.takes"}, {Name: "procedure.tank-o-ring-lubricant"}},
		Mends:   []fault.ID{fault.TankLeak},
		Steps: join(
			opening(),
			act("both", "procedure.tank-ring.both.says", "procedure.tank-ring.both.hint"),
			seats(),
			closing(),
			startBled("re-"),
			dryNow(fault.DripBand),
			movement(),
		),
	},
	{
		ID:      GaugeSwap,
		Name:    "procedure.gauge-swap.name",
		Aim:     "procedure.gauge-swap.aim",
		Minutes: 12,
		On:      notSmall,
		Care:    []Care{Pressure, OffIsNot, Restart},
		Takes:   []Take{{Name: "procedure.gauge-swap.takes"}},
		Mends:   []fault.ID{fault.GaugeBad},
		Steps: join(
			before(),
			opened(
				"procedure.gauge-swap.out.says", "procedure.gauge-swap.out.hint",
				shut("procedure.gauge-swap.in.says", "procedure.gauge-swap.in.hint"),
				ask("rest", "procedure.gauge-swap.rest.says", "procedure.gauge-swap.rest.hint",
					seen("off", "procedure.gauge-swap.rest.off.says", fault.NeedleAtRest, true),
					seen("zero", "procedure.gauge-swap.rest.zero.says", fault.NeedleAtRest, false)),
				act("plugged", "procedure.gauge-swap.plugged.says", "procedure.gauge-swap.plugged.hint"),
			),
			after(),
		),
	},
	{
		ID:      CheckValve,
		Name:    "procedure.check-valve.name",
		Aim:     "procedure.check-valve.aim",
		Minutes: 25,
		On:      hasPart(func(r *Rig) bool { return r.CheckValve }),
		Care:    []Care{Pressure, OffIsNot, Restart},
		Takes:   []Take{{Name: "procedure.check-valve.takes"}},
		Mends:   []fault.ID{fault.CheckValveStuck, fault.DrainBack},
		Steps: join(
			before(),
			opened(
				"procedure.check-valve.open.says", "procedure.check-valve.open.hint",
				shut("procedure.check-valve.close.says", "procedure.check-valve.close.hint"),
				ask("flap", "procedure.check-valve.flap.says", "",
					Answer{ID: "broken", Text: "procedure.check-valve.flap.broken.says", Part: "check-valve"},
					Answer{ID: "cleaned", Text: "procedure.check-valve.flap.cleaned.says"}),
			),
			after(),
			movement(),
		),
	},
	{
		ID:      FlowSwitch,
		Name:    "procedure.flow-switch.name",
		Aim:     "procedure.flow-switch.aim",
		Minutes: 15,
		On:      hasPart(func(r *Rig) bool { return r.Cell }),
		Care:    []Care{Pressure, OffIsNot, Restart},
		Mends:   []fault.ID{fault.CellSwitch},
		Steps: join(
			act("arrow", "procedure.flow-switch.arrow.says", "procedure.flow-switch.arrow.hint"),
			opened(
				"procedure.flow-switch.out.says", "procedure.flow-switch.out.hint",
				shut("procedure.flow-switch.in.says", "procedure.flow-switch.in.hint"),
				act("paddle", "procedure.flow-switch.paddle.says", "procedure.flow-switch.paddle.hint"),
			),
			ask("lamp", "procedure.flow-switch.lamp.says", "procedure.flow-switch.lamp.hint",
				seen("none", "procedure.flow-switch.lamp.none.says", fault.DeviceNoFlow, true),
				seen("flow", "procedure.flow-switch.lamp.flow.says", fault.DeviceNoFlow, false)),
		),
	},
	{
		ID:      BypassShut,
		Name:    "procedure.bypass-shut.name",
		Aim:     "procedure.bypass-shut.aim",
		Minutes: 5,
		On:      hasPart(func(r *Rig) bool { return r.Bypass }),
		Care:    []Care{GasWork, Scald},
		Mends:   []fault.ID{fault.BypassOpen},
		Narrows: []fault.ID{fault.HeaterLowFlow},
		Steps: []Step{
			ask("hears", "procedure.bypass-shut.hears.says", "",
				Answer{ID: "crackles", Text: "procedure.bypass-shut.hears.crackles.says", Sign: fault.HeaterCrackles,
					Yes: true, Do: []Action{do(HeatOn)}},
				Answer{ID: "quiet", Text: "procedure.bypass-shut.hears.quiet.says", Sign: fault.HeaterCrackles,
					To: "read"}),
			heatAsked("")[1],
			ask("read", "procedure.bypass-shut.read.says", "procedure.the-closed-mark-points-at",
				seen("open", "procedure.bypass-shut.read.open.says", fault.HandleWrong, true),
				seen("shut", "procedure.bypass-shut.read.shut.says", fault.HandleWrong, false)),
			act("close", "procedure.bypass-shut.close.says", "procedure.bypass-shut.close.hint"),
			ask("fires", "procedure.bypass-shut.fires.says", "",
				Answer{ID: "crackles", Text: "procedure.bypass-shut.fires.crackles.says", Sign: fault.HeaterCrackles,
					Yes: true, Do: []Action{do(HeatOn)}, To: "heat-flow"},
				seen("quiet", "procedure.bypass-shut.fires.quiet.says", fault.HeaterCrackles, false)),
		},
	},
}
