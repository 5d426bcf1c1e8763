package procedure

import (
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
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
func handleRead(id string, asks words.Message) Step {
	return Step{
		ID:   id,
		Text: asks,
		Hint: "procedure.the-closed-mark-points-at",
		Answers: []Answer{
			{ID: "spa", Text: "procedure.spa.says", Sign: fault.HandleWrong, Yes: true},
			{ID: "between", Text: "procedure.between.says", Sign: fault.HandleWrong, Yes: true},
			{ID: "pool", Text: "procedure.pool.says"},
		},
	}
}

var suctionLibrary = []Procedure{
	{
		ID:      LeakTest,
		Name:    "procedure.leak-tests.name",
		Aim:     "procedure.leak-tests.aim",
		Minutes: 20,
		On:      notSmall,
		Care:    []Care{OffIsNot, Restart, Scald},
		Takes: []Take{
			{Name: "procedure.leak-tests.name-2"},
			{Name: "procedure.leak-tests.name-3"},
			{Name: "procedure.leak-tests.name-4"},
		},
		Mends:   []fault.ID{fault.AirLid},
		Narrows: []fault.ID{fault.AirInlet, fault.AirUpstream, fault.DrainBack},
		Checks: []fault.Sign{
			fault.AirInPot,
			fault.FoamLid,
			fault.FoamInlet,
			fault.FoamJoint,
			fault.DripOutlet,
			fault.LidTestHolds,
		},
		Steps: join(
			Step{
				ID:   "air",
				Text: "procedure.leak-tests.air.says",
				Answers: []Answer{
					{ID: "no", Text: "procedure.leak-tests.air.no.says", Sign: fault.AirInPot},
					{ID: "yes", Text: "procedure.leak-tests.air.yes.says", Sign: fault.AirInPot, Yes: true},
				},
			},
			Step{
				ID:   "lid-foam",
				Text: "procedure.leak-tests.lid-foam.says",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.leak-tests.lid-foam.yes.says", Sign: fault.FoamLid, Yes: true},
					{ID: "no", Text: "procedure.leak-tests.lid-foam.no.says", Sign: fault.FoamLid},
				},
			},
			Step{
				ID:   "inlet",
				Text: "procedure.leak-tests.inlet.says",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.leak-tests.inlet.yes.says", Sign: fault.FoamInlet, Yes: true},
					{ID: "no", Text: "procedure.leak-tests.inlet.no.says", Sign: fault.FoamInlet},
				},
			},
			Step{
				ID:   "valves",
				Text: "procedure.leak-tests.valves.says",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.leak-tests.valves.yes.says", Sign: fault.FoamJoint, Yes: true},
					{ID: "no", Text: "procedure.leak-tests.valves.no.says", Sign: fault.FoamJoint},
				},
			},
			Step{
				ID:   "outlet",
				Text: "procedure.leak-tests.outlet.says",
				Why:  "procedure.leak-tests.outlet.why",
				Answers: []Answer{
					{ID: "yes", Text: "procedure.leak-tests.outlet.yes.says", Sign: fault.DripOutlet, Yes: true},
					{ID: "no", Text: "procedure.leak-tests.outlet.no.says", Sign: fault.DripOutlet},
				},
			},
			toPot(),
			Step{
				ID:   "ring",
				Text: "procedure.leak-tests.ring.says",
				Hint: "procedure.leak-tests.ring.hint",
				Answers: []Answer{
					{ID: "none", Text: "procedure.leak-tests.ring.none.says", Part: "lid-o-ring", Do: []Action{do(ClosePot)},
						Ends: true},
					{ID: "cracked", Text: "procedure.leak-tests.ring.cracked.says", Part: "pump-lid"},
					{ID: "cut", Text: "procedure.leak-tests.ring.cut.says"},
					{ID: "whole", Text: "procedure.leak-tests.ring.whole.says"},
				},
			},
			fillPot(),
			Step{ID: "close", Text: "procedure.leak-tests.close.says", Do: []Action{do(ClosePot)}},
			openFirst("reopen"),
			returnsBack(),
			powerBack("power"),
			startBled("re-"),
			lineByLine(firstOf),
			Step{
				ID:    "run",
				Text:  "procedure.leak-tests.run.says",
				Timer: &Timer{Count: CountWait, Low: 60, High: 120, Least: 60},
			},
			Step{ID: "off-2", Text: "procedure.leak-tests.off-2.says", Do: []Action{do(Stop)}},
			Step{
				ID:    "holds",
				Text:  "procedure.leak-tests.holds.says",
				Timer: &Timer{Count: CountWait, Low: 120, High: 180, Least: 60},
				Answers: []Answer{
					{
						ID:   "sinks",
						Text: "procedure.leak-tests.holds.sinks.says",
						Sign: fault.LidTestHolds,
						To:   "valve-test",

						Settles: true,
					},
					{
						ID:   "full",
						Text: "procedure.leak-tests.holds.full.says",
						Sign: fault.LidTestHolds,
						Yes:  true,
						To:   "was-lid",
					},
				},
			},
			Step{
				ID:      "was-lid",
				Text:    "procedure.leak-tests.was-lid.says",
				Hint:    "procedure.leak-tests.was-lid.hint",
				Answers: []Answer{{ID: "noted", Text: "procedure.leak-tests.was-lid.noted.says", To: "on-2"}},
			},
			Step{
				ID:   "valve-test",
				Text: "procedure.leak-tests.valve-test.says",
				Hint: "procedure.leak-tests.valve-test.hint",
				Why:  "procedure.leak-tests.valve-test.why",
				Do:   []Action{do(ShutSuction)},
				Answers: []Answer{
					{ID: "holds", Text: "procedure.leak-tests.valve-test.holds.says", To: "was-up"},
					{ID: "sinks", Text: "procedure.leak-tests.valve-test.sinks.says", To: "was-inlet"},
				},
			},
			Step{
				ID:      "was-up",
				Text:    "procedure.leak-tests.was-up.says",
				Hint:    "procedure.leak-tests.was-up.hint",
				Do:      []Action{do(OpenSuction)},
				Answers: []Answer{{ID: "noted", Text: "procedure.leak-tests.was-up.noted.says", To: "on-2"}},
			},
			Step{
				ID:      "was-inlet",
				Text:    "procedure.leak-tests.was-inlet.says",
				Hint:    "procedure.leak-tests.was-inlet.hint",
				Do:      []Action{do(OpenSuction)},
				Answers: []Answer{{ID: "noted", Text: "procedure.leak-tests.was-inlet.noted.says", To: "on-2"}},
			},
			Step{
				ID:   "on-2",
				Text: "procedure.leak-tests.on-2.says",
				Care: []Care{DryRun},
				Do:   []Action{do(Start)},
			},
			movement(),
		),
	},
	{
		ID:      LineBlown,
		Name:    "procedure.drain-bladder.name",
		Aim:     "procedure.drain-bladder.aim",
		Minutes: 30,
		On:      notSmall,
		Care:    []Care{OffIsNot, Pressure, Entrapment, DryRun},
		Takes: []Take{
			{Name: "procedure.drain-bladder.name-2"},
			{"procedure.drain-bladder", "procedure.of-the-line-s-size"},
		},
		Mends: []fault.ID{fault.SuctionLine},
		Steps: join(
			toPot(),
			Step{
				ID:   "which",
				Text: "procedure.drain-bladder.which.says",
				Hint: "procedure.drain-bladder.which.hint",
				When: notBelow,
			},
			Step{
				ID:   "bladder",
				Text: "procedure.drain-bladder.bladder.says",
				Hint: "procedure.drain-bladder.bladder.hint",
				Care: []Care{Entrapment},
			},
			Step{
				ID:   "water",
				Text: "procedure.drain-bladder.water.says",
				Hint: "procedure.drain-bladder.water.hint",
				Care: []Care{Pressure},
				Answers: []Answer{
					{ID: "stuck", Text: "procedure.drain-bladder.water.stuck.says"},
					{ID: "came", Text: "procedure.drain-bladder.water.came.says"},
				},
			},
			Step{ID: "clear", Text: "procedure.drain-bladder.clear.says"},
			fromPot(),
			movement(),
		),
	},
	{
		ID:      SpaTest,
		Name:    "procedure.spa-test.name",
		Aim:     "procedure.spa-test.aim",
		Minutes: 10,
		On:      onSpaHandles(nil),
		Care:    []Care{Entrapment},
		Checks:  []fault.Sign{fault.SpaFine},
		Steps: join(
			before(),
			pumpOff("off-1", "procedure.the-handles-turn"),
			Step{
				ID:   "to-spa",
				Text: "procedure.spa-test.to-spa.says",
				Hint: "procedure.spa-test.to-spa.hint",
				Do:   []Action{do(SuctionTo, "spa"), do(ReturnTo, "spa")},
				Why:  "procedure.spa-test.to-spa.why",
			},
			Step{ID: "on-1", Text: "procedure.spa-test.on-1.says", Care: []Care{Entrapment}, Do: []Action{do(Start)}},
			Step{
				ID:   "spa-read",
				Text: "procedure.spa-test.spa-read.says",
				Hint: "procedure.spa-test.spa-read.hint",
				Read: InSpa,
			},
			Step{
				ID:   "fine",
				Text: "procedure.spa-test.fine.says",
				Answers: []Answer{
					{ID: "no", Text: "procedure.spa-test.fine.no.says", Sign: fault.SpaFine},
					{ID: "yes", Text: "procedure.spa-test.fine.yes.says", Sign: fault.SpaFine, Yes: true},
				},
			},
			pumpOff("off-2", "procedure.the-handles-turn-back"),
			Step{
				ID:   "to-pool",
				Text: "procedure.spa-test.to-pool.says",
				Hint: "procedure.spa-test.to-pool.hint",
				Do:   []Action{do(SuctionTo, "pool"), do(ReturnTo, "pool")},
				Why:  "procedure.spa-test.to-pool.why",
			},
			Step{ID: "on-2", Text: "procedure.spa-test.on-2.says", Do: []Action{do(Start)}},
			after(),
		),
	},
	{
		ID:      Reset,
		Name:    "procedure.valve-reset.name",
		Aim:     "procedure.valve-reset.aim",
		Minutes: 25,
		On:      onSpaHandles(nil),
		Work:    "handle",
		Care:    []Care{Entrapment, DryRun, Scald, OffIsNot, Restart},
		Mends:   []fault.ID{fault.SpaDraining, fault.SpaFilling, fault.LeftInSpa},
		Checks:  []fault.Sign{fault.HandleWrong},
		From: func(r *Rig) State {
			s := r.Daily()
			s.SuctionTo = pad.SpaBody // apart: that is how it is found
			return s
		},
		Steps: join(
			Step{
				ID:   "off",
				Text: "procedure.valve-reset.off.says",
				Why:  "procedure.valve-reset.off.why",
				Care: []Care{OffIsNot},
				Do:   []Action{do(Stop)},
			},
			lockOff(
				"lock",
			),
			handleRead("read-suction", "procedure.where-does-the-suction-handle"),
			handleRead("read-return", "procedure.where-does-the-return-handle"),
			Step{
				ID:   "who",
				Text: "procedure.valve-reset.who.says",
				Hint: "procedure.valve-reset.who.hint",
				Answers: []Answer{
					{ID: "somebody", Text: "procedure.valve-reset.who.somebody.says"},
					{ID: "unknown", Text: "procedure.valve-reset.who.unknown.says"},
				},
			},
			Step{
				ID:   "set",
				Text: "procedure.valve-reset.set.says",
				Do:   []Action{do(SuctionTo, "pool"), do(ReturnTo, "pool")},
			},
			Step{ID: "top-up", Text: "procedure.valve-reset.top-up.says", Hint: "procedure.valve-reset.top-up.hint"},
			Step{
				ID:   "shut",
				Text: "procedure.valve-reset.shut.says",
				Hint: "procedure.valve-reset.shut.hint",
				Do:   []Action{do(ShutSuction)},
			},
			Step{
				ID:   "shut-returns",
				Text: "procedure.valve-reset.shut-returns.says",
				Why:  "procedure.valve-reset.shut-returns.why",
				Do:   []Action{do(ShutReturns)},
				When: below,
			},
			openBleed("open-bleed"),
			ranDry("lid"),
			Step{
				ID:   "lid",
				Text: "procedure.valve-reset.lid.says",
				Hint: "procedure.valve-reset.lid.hint",
				Care: []Care{OffIsNot, Scald},
				Do:   []Action{do(OpenPot)},
				Answers: []Answer{
					{ID: "melted", Text: "procedure.valve-reset.lid.melted.says", Part: "pump-fittings"},
					{ID: "whole", Text: "procedure.valve-reset.lid.whole.says"},
				},
			},
			fillPot(),
			sealed(),
			openFirst("reopen"),
			returnsBack(),
			powerBack("power"),
			Step{
				ID:   "on",
				Text: "procedure.valve-reset.on.says",
				Care: []Care{DryRun, Restart},
				Do:   []Action{do(Start)},
			},
			catchWater("procedure.not-within-four-minutes-stop-2"),
			steady(),
			lineByLine(firstOf),
			Step{
				ID:    "watch",
				Text:  "procedure.valve-reset.watch.says",
				Timer: &Timer{Count: CountWait, Low: 120, High: 180, Least: 120},
				Answers: []Answer{
					{
						ID:   "moves",
						Text: "procedure.valve-reset.watch.moves.says",
						Ends: true,
						Do:   []Action{do(Stop), do(LockOff)},
					},
					{ID: "still", Text: "procedure.valve-reset.watch.still.says"},
				},
			},
			movement(),
		),
	},
}
