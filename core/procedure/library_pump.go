package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/words"
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
	return join(
		pumpOff("off", "procedure.the-pot-is-opened"),
		shutIn(),
		Step{
			ID:   "lid",
			Text: "procedure.lid.says",
			Hint: "procedure.lid.hint",
			Care: []Care{OffIsNot, Scald},
			Do:   []Action{do(OpenPot)},
		},
	)
}

// shutIn are the steps from a pump that stands still to a pot that may be opened.
func shutIn() []Step {
	return join(
		lockOff("lock"),
		Step{
			ID:   "shut",
			Text: "procedure.shut.says",
			Hint: "procedure.shut.hint",
			Why:  "procedure.shut.why",
			Do:   []Action{do(ShutSuction)},
		},
		Step{
			ID:   "shut-returns",
			Text: "procedure.shut-returns.says",
			Why:  "procedure.shut-returns.why",
			Do:   []Action{do(ShutReturns)},
			When: below,
		},
		openBleed("open-bleed"),
		ranDry("lid"),
	)
}

func fillPot() Step {
	return Step{
		ID:   "fill",
		Text: "procedure.fill.says",
		Hint: "procedure.fill.hint",
		Why:  "procedure.fill.why",
		Do:   []Action{do(FillPot)},
	}
}

// sealed puts the lid on, by the company's school.
func sealed() []Step {
	lidOn := []Action{do(ClosePot)}
	ring := []Answer{
		{ID: "none", Text: "procedure.seal.none.says", Part: "lid-o-ring", Do: lidOn, Ends: true},
		{ID: "worn", Text: "procedure.worn.says", Part: "lid-o-ring", Do: lidOn},
		{ID: "new", Text: "procedure.seats.new.says", Do: lidOn},
		{ID: "whole", Text: "procedure.whole.says", Do: lidOn},
	}
	return []Step{
		{
			ID:      "seal",
			Text:    "procedure.seal.says",
			Answers: ring,
			When:    func(s *Setup) bool { return s.Ways.Seal != "dry" },
		},
		{
			ID:      "seal-dry",
			Text:    "procedure.seal-dry.says",
			Answers: ring,
			When:    func(s *Setup) bool { return s.Ways.Seal == "dry" },
		},
	}
}

func returnsBack() Step {
	return Step{ID: "reopen-returns", Text: "procedure.reopen-returns.says", Do: []Action{do(OpenReturns)}, When: below}
}

// fromPot are the steps until the pump runs again on all its lines.
func fromPot() []Step {
	return join(
		fillPot(),
		sealed(),
		openFirst("reopen"),
		returnsBack(),
		powerBack("power"),
		startBled("re-"),
		lineByLine(firstOf),
	)
}

func movement() []Step {
	return []Step{
		{
			ID:   "moves",
			Text: "procedure.moves.says",
			Hint: "procedure.moves.hint",
			Answers: []Answer{
				{ID: "weak", Text: "procedure.moves.weak.says", Sign: fault.WeakAll, Yes: true},
				{ID: "yes", Text: "procedure.moves.yes.says"},
			},
		},
	}
}

var basketAnswers = []Answer{
	{ID: "cracked", Text: "procedure.cracked.says", Sign: fault.BasketCracked, Yes: true, Part: "pump-basket"},
	{ID: "full", Text: "procedure.full.says", Sign: fault.BasketFull, Yes: true},
	{ID: "little", Text: "procedure.little.says", Sign: fault.BasketFull},
}

var pumpLibrary = []Procedure{
	{
		ID:      Baskets,
		Name:    "procedure.baskets.name",
		Aim:     "procedure.baskets.aim",
		Minutes: 10,
		On:      notSmall,
		Work:    "basket",
		Care:    []Care{OffIsNot, Scald, DryRun, Restart},
		Mends:   []fault.ID{fault.BasketFullFault, fault.SkimmerBlocked},
		Checks:  []fault.Sign{fault.BasketFull, fault.BasketCracked},
		Steps: join(
			toPot(),
			Step{
				ID:   "found",
				Text: "procedure.baskets.found.says",
				Answers: []Answer{
					{ID: "full", Text: "procedure.baskets.found.full.says", Sign: fault.BasketFull, Yes: true},
					{ID: "little", Text: "procedure.baskets.found.little.says", Sign: fault.BasketFull},
				},
			},
			Step{
				ID:   "cracks",
				Text: "procedure.baskets.cracks.says",
				Hint: "procedure.baskets.cracks.hint",
				Answers: []Answer{
					{
						ID:   "yes",
						Text: "procedure.baskets.cracks.yes.says",
						Sign: fault.BasketCracked,
						Yes:  true,
						Part: "pump-basket",
					},
					{ID: "no", Text: "procedure.baskets.cracks.no.says", Sign: fault.BasketCracked},
				},
			},
			Step{ID: "finger", Text: "procedure.baskets.finger.says", Care: []Care{OffIsNot}, Do: []Action{do(HandIn)}},
			Step{ID: "finger-out", Text: "procedure.baskets.finger-out.says", Do: []Action{do(HandOut)}},
			Step{ID: "basket", Text: "procedure.baskets.basket.says"},
			Step{ID: "skimmers", Text: "procedure.baskets.skimmers.says"},
			fromPot(),
			movement(),
		),
		Short: join(
			Step{
				ID:   "off",
				Text: "procedure.baskets.off.says",
				Hint: "procedure.baskets.off.hint",
				Why:  "procedure.baskets.off.why",
				Care: []Care{OffIsNot},
				Do:   []Action{do(Stop), do(LockOff)},
			},
			Step{
				ID:   "shut",
				Text: "procedure.baskets.shut.says",
				Hint: "procedure.baskets.shut.hint",
				Why:  "procedure.baskets.shut.why",
				Do:   []Action{do(ShutSuction), do(OpenBleed)},
				When: notBelow,
			},
			Step{
				ID:   "shut-below",
				Text: "procedure.baskets.shut-below.says",
				Why:  "procedure.baskets.shut-below.why",
				Do:   []Action{do(ShutSuction), do(ShutReturns), do(OpenBleed)},
				When: below,
			},
			ranDry("basket"),
			Step{
				ID:      "basket",
				Text:    "procedure.baskets.basket.says-2",
				Hint:    "procedure.baskets.basket.hint",
				Care:    []Care{OffIsNot, Scald},
				Do:      []Action{do(OpenPot), do(HandIn), do(HandOut)},
				Answers: basketAnswers,
			},
			Step{
				ID:   "close",
				Text: "procedure.baskets.close.says",
				Hint: "procedure.baskets.close.hint",
				Do:   []Action{do(FillPot), do(ClosePot)},
			},
			Step{
				ID:   "reopen",
				Text: "procedure.baskets.reopen.says",
				Care: []Care{OffIsNot, Entrapment},
				Do:   []Action{do(OpenLine, firstLine), do(OpenReturns), do(Unlock)},
			},
			startBled("re-"),
			Step{
				ID:   "share",
				Text: "procedure.baskets.share.says",
				Hint: "procedure.baskets.share.hint",
				Do:   []Action{do(OpenSuction)},
				When: manyLines,
			},
			Step{
				ID:   "moves",
				Text: "procedure.baskets.moves.says",
				Answers: []Answer{
					{ID: "weak", Text: "procedure.baskets.moves.weak.says", Sign: fault.WeakAll, Yes: true},
					{ID: "yes", Text: "procedure.baskets.moves.yes.says"},
				},
			},
		),
	},
	{
		ID:      Priming1,
		Name:    "procedure.prime.name",
		Aim:     "procedure.prime.aim",
		Minutes: 20,
		On:      notSmall,
		Mends:   []fault.ID{fault.PrimeLost},
		Narrows: []fault.ID{fault.DrainBack},
		Care:    []Care{DryRun, Restart, Entrapment, OffIsNot},
		Takes:   []Take{{Name: "procedure.prime.name-2"}},
		Steps: join(
			Step{
				ID:   "level",
				Text: "procedure.prime.level.says",
				Answers: []Answer{
					{ID: "low", Text: "procedure.prime.level.low.says", Sign: fault.LevelLow, Yes: true},
					{ID: "yes", Text: "procedure.prime.level.yes.says", Sign: fault.LevelLow},
				},
			},
			toPot(),
			Step{
				ID:    "fill",
				Text:  "procedure.prime.fill.says",
				Hint:  "procedure.prime.fill.hint",
				Timer: &Timer{Count: CountWait, Low: 30, High: 60, Most: 240},
				Do:    []Action{do(FillPot)},
			},
			sealed(),
			returnsBack(),
			Step{
				ID:   "first-skimmer",
				Text: "procedure.prime.first-skimmer.says",
				Hint: "procedure.prime.first-skimmer.hint",
				Care: []Care{Entrapment},
				Do:   []Action{do(OpenLine, firstLine)},
				When: primeWay("skimmer"),
			},
			Step{
				ID:   "first-drain",
				Text: "procedure.prime.first-drain.says",
				Hint: "procedure.prime.first-drain.hint",
				Care: []Care{Entrapment},
				Do:   []Action{do(OpenLine, drainLine)},
				When: primeWay("drain"),
			},
			powerBack("power"),
			Step{
				ID:   "start",
				Text: "procedure.prime.start.says",
				Care: []Care{DryRun, Restart},
				Do:   []Action{do(Start)},
				When: notPrimeShut,
			},
			Step{
				ID:   "start-shut",
				Text: "procedure.prime.start-shut.says",
				Hint: "procedure.prime.start-shut.hint",
				Care: []Care{DryRun, Entrapment},
				Do:   []Action{do(StartShut)},
				When: primeWay("shut"),
			},
			Step{
				ID:    "open-now",
				Text:  "procedure.prime.open-now.says",
				Timer: &Timer{Count: CountWait, Low: 0, High: 5, Most: 10},
				Care:  []Care{DryRun},
				When:  primeWay("shut"),
				Answers: []Answer{
					{
						ID:   "stop",
						Text: "procedure.prime.open-now.stop.says",
						Do:   []Action{do(Stop), do(LockOff)},
						Ends: true,
					},
					{ID: "open", Text: "procedure.prime.open-now.open.says", Do: []Action{do(OpenLine, drainLine)}},
				},
			},
			catchWater("procedure.usual-here-not-within-four"),
			steady(),
			linesAfter("skimmer", firstOf),
			linesAfter("drain", drainOf),
			linesAfter("shut", drainOf),
			movement(),
		),
	},
	{
		ID:      Impeller,
		Name:    "procedure.impeller.name",
		Aim:     "procedure.impeller.aim",
		Minutes: 15,
		On:      notSmall,
		Work:    "basket",
		Care:    []Care{OffIsNot, Scald, DryRun},
		Mends:   []fault.ID{fault.ImpellerClogged},
		Narrows: []fault.ID{fault.MotorHums, fault.ImpellerWorn, fault.AirLid, fault.PrimeLost},
		Checks:  []fault.Sign{fault.DebrisFound, fault.ShaftFree},
		Steps: join(
			toPot(),
			Step{
				ID:   "in",
				Text: "procedure.impeller.in.says",
				Hint: "procedure.impeller.in.hint",
				Care: []Care{OffIsNot},
				Do:   []Action{do(HandIn)},
			},
			Step{
				ID:   "found",
				Text: "procedure.impeller.found.says",
				Answers: []Answer{
					{ID: "nothing", Text: "procedure.impeller.found.nothing.says", Sign: fault.DebrisFound},
					{ID: "debris", Text: "procedure.impeller.found.debris.says", Sign: fault.DebrisFound, Yes: true},
				},
			},
			Step{
				ID:   "free",
				Text: "procedure.impeller.free.says",
				Answers: []Answer{
					{ID: "no", Text: "procedure.impeller.free.no.says", Sign: fault.ShaftFree},
					{ID: "yes", Text: "procedure.impeller.free.yes.says", Sign: fault.ShaftFree, Yes: true},
				},
			},
			Step{ID: "out", Text: "procedure.impeller.out.says", Do: []Action{do(HandOut)}},
			Step{
				ID:   "basket",
				Text: "procedure.impeller.basket.says",
				Why:  "procedure.impeller.basket.why",
				Answers: []Answer{
					{
						ID:   "cracked",
						Text: "procedure.impeller.basket.cracked.says",
						Sign: fault.BasketCracked,
						Yes:  true,
						Part: "pump-basket",
					},
					{ID: "whole", Text: "procedure.impeller.basket.whole.says", Sign: fault.BasketCracked},
				},
			},
			fromPot(),
			Step{
				ID:   "gurgle",
				Text: "procedure.impeller.gurgle.says",
				Hint: "procedure.impeller.gurgle.hint",
				Answers: []Answer{
					{ID: "no", Text: "procedure.impeller.gurgle.no.says"},
					{ID: "yes", Text: "procedure.impeller.gurgle.yes.says"},
				},
			},
			movement(),
		),
	},
	{
		ID:      Humming,
		Name:    "procedure.hum.name",
		Aim:     "procedure.hum.aim",
		Minutes: 15,
		On:      notSmall,
		Care:    []Care{OffIsNot, Capacitor, Scald},
		Mends:   []fault.ID{fault.MotorHums},
		Narrows: []fault.ID{fault.ImpellerClogged},
		Checks:  []fault.Sign{fault.ShaftFree},
		From: func(r *Rig) State { // it hums: it does not turn
			s := r.Daily()
			s.Running = false
			return s
		},
		Ends: func(_ *Rig, s State) bool { return !s.Running && s.Power == Locked },
		Steps: join(
			Step{
				ID:   "smell",
				Text: "procedure.hum.smell.says",
				Hint: "procedure.hum.smell.hint",
				Care: []Care{Capacitor},
				Answers: []Answer{
					{ID: "yes", Text: "procedure.hum.smell.yes.says", Do: []Action{do(LockOff)}, Ends: true},
					{ID: "no", Text: "procedure.hum.smell.no.says"},
				},
			},
			shutIn(),
			Step{ID: "lid", Text: "procedure.hum.lid.says", Care: []Care{OffIsNot, Scald}, Do: []Action{do(OpenPot)}},
			driveOff(),
			Step{
				ID:   "in",
				Text: "procedure.hum.in.says",
				Hint: "procedure.hum.in.hint",
				Care: []Care{OffIsNot},
				Do:   []Action{do(HandIn)},
			},
			Step{
				ID:   "free",
				Text: "procedure.hum.free.says",
				Answers: []Answer{
					{
						ID:   "free",
						Text: "procedure.hum.free.free.says",
						Sign: fault.ShaftFree,
						Yes:  true,
						To:   "electric",
					},
					{ID: "jammed", Text: "procedure.hum.free.jammed.says", Sign: fault.ShaftFree, To: "jam"},
				},
			},
			Step{
				ID:   "jam",
				Text: "procedure.hum.jam.says",
				Hint: "procedure.hum.jam.hint",
				Answers: []Answer{
					{ID: "stuck", Text: "procedure.hum.jam.stuck.says", Do: []Action{do(HandOut)}, To: "trade"},
					{ID: "freed", Text: "procedure.hum.jam.freed.says", Do: []Action{do(HandOut)}, To: "fill"},
				},
			},
			Step{
				ID:      "electric",
				Text:    "procedure.hum.electric.says",
				Do:      []Action{do(HandOut)},
				Answers: []Answer{{ID: "trade", Text: "procedure.hum.electric.trade.says", To: "trade"}},
			},
			Step{
				ID:      "trade",
				Text:    "procedure.hum.trade.says",
				Hint:    "procedure.hum.trade.hint",
				Care:    []Care{Capacitor},
				Do:      []Action{do(FillPot), do(ClosePot)},
				Answers: []Answer{{ID: "locked", Text: "procedure.hum.trade.locked.says", Ends: true}},
			},
			fromPot(),
			movement(),
		),
	},
	{
		ID:      PumpPanel,
		Name:    "procedure.pump-panel.name",
		Aim:     "procedure.pump-panel.aim",
		Minutes: 8,
		On:      func(s *Setup) bool { return s.Figures["panel"] != "" },
		Care:    []Care{OverLabel},
		Mends:   []fault.ID{fault.WrongMode, fault.SpeedLow},
		Steps: []Step{
			{
				ID:   "mode",
				Text: "procedure.pump-panel.mode.says",
				Hint: "procedure.pump-panel.mode.hint",
				Answers: []Answer{
					{ID: "other", Text: "procedure.pump-panel.mode.other.says", Sign: fault.ModeOff, Yes: true},
					{ID: "auto", Text: "procedure.pump-panel.mode.auto.says", Sign: fault.ModeOff},
				},
			},
			{
				ID:   "alarm",
				Text: "procedure.pump-panel.alarm.says",
				Hint: "procedure.pump-panel.alarm.hint",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.pump-panel.alarm.yes.says", Sign: fault.DisplayAlarm, Yes: true},
					{ID: "no", Text: "procedure.pump-panel.alarm.no.says", Sign: fault.DisplayAlarm},
				},
			},
			{
				ID:   "features",
				Text: "procedure.pump-panel.features.says",
				Hint: "procedure.pump-panel.features.hint",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.pump-panel.features.yes.says"},
					{ID: "no", Text: "procedure.pump-panel.features.no.says"},
				},
			},
			{ID: "slots", Text: "procedure.pump-panel.slots.says", Hint: "procedure.pump-panel.slots.hint"},
			{
				ID:   "saved",
				Text: "procedure.pump-panel.saved.says",
				Hint: "procedure.pump-panel.saved.hint",
				Care: []Care{OverLabel},
			},
		},
	},
	{
		ID:      CoolDown,
		Name:    "procedure.cool-down.name",
		Aim:     "procedure.cool-down.aim",
		Minutes: 22,
		On:      func(s *Setup) bool { return s.Rig.Heater },
		Care:    []Care{GasWork},
		From: func(r *Rig) State {
			s := r.Daily()
			s.Heat = true
			return s
		},
		Steps: []Step{
			{ID: "heater-off", Text: "procedure.cool-down.heater-off.says", Care: []Care{GasWork}},
			{
				ID:    "flow",
				Text:  "procedure.cool-down.flow.says",
				Timer: &Timer{Count: CountWait, Low: heatLow, High: heatHigh, Least: heatLow},
				Why:   "procedure.cool-down.flow.why",
			},
			{ID: "cool", Text: "procedure.cool-down.cool.says", Do: []Action{do(HeatOff)}},
		},
	},
}

// driveOff waits for what a capacitor or a drive keeps.
func driveOff() Step {
	return Step{
		ID:    "charge",
		Text:  "procedure.charge.says",
		Hint:  "procedure.charge.hint",
		Care:  []Care{Capacitor},
		Timer: &Timer{Count: CountWait, Low: driveWait, High: 2 * driveWait, Least: driveWait},
	}
}

// catchWater is the look whether the pot fills after a start.
func catchWater(hint words.Message) Step {
	return Step{
		ID:    "catch",
		Text:  "procedure.catch.says",
		Hint:  hint,
		Timer: &Timer{Count: CountPrime, Low: 30, High: 120, Most: 240, Least: primeLeast},
		Care:  []Care{DryRun},
		Answers: []Answer{
			{ID: "not-yet", Text: "procedure.catch.not-yet.says", To: "catch"},
			{ID: "full", Text: "procedure.catch.full.says"},
			{
				ID:   "never",
				Text: "procedure.catch.never.says",
				Do:   []Action{do(Stop), do(RunDry), do(LockOff)},
				Ends: true,
				Sign: fault.PotNotFull,
				Yes:  true,
			},
		},
	}
}

func steady() Step {
	return Step{
		ID:   "steady",
		Text: "procedure.steady.says",
		Care: []Care{Restart},
		Answers: []Answer{
			{ID: "spits", Text: "procedure.steady.spits.says", To: "steady"},
			{ID: "steady", Text: "procedure.steady.steady.says", Do: []Action{do(CloseBleed)}},
		},
	}
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
