package procedure

import (
	"fairlap/core/pad"
)

// The procedures on the water's level and on doses (handbook; common practice).
const (
	Vacuum      ID = "vacuum"
	VacuumWaste ID = "vacuum-waste"
	LowerLevel  ID = "lower-level"
	DoseRun     ID = "dose"
)

// Inches of a pool (common practice: a skimmer's mouth is some six inches high, its
// middle is the daily level, returns lie about a foot under it).
const (
	toppedUp    = 2.0 // that may go in a vacuum to waste, the level topped up first
	MouthEdge   = 3.0 // from the middle of the mouth to its lower edge
	rainLook    = 1.0 // between two looks when rain goes out
	BelowReturn = 9.0 // from the mouth's lower edge to below the returns
)

func toWaste() Step { return turn("to-waste", pad.SetWaste, "procedure.past-the-media-and-out") }

func wasteOn(care ...Care) Step {
	return Step{
		ID:   "on-1",
		Text: "procedure.on-1.says",
		Hint: "procedure.on-1.hint",
		Care: append([]Care{HoseEnd, Discharge}, care...),
		Do:   []Action{do(Start)},
	}
}

func backFromWaste() []Step {
	return join(pumpOff("off-2", handleMoves), turnBack("to-filter"))
}

func vacuumLine() Step {
	return Step{ID: "line", Text: "procedure.line.says", Hint: "procedure.line.hint", Care: []Care{Entrapment}}
}

// vacuumLineAlone is the line's handle where no panel is set first.
func vacuumLineAlone() Step {
	s := vacuumLine()
	s.When = func(s *Setup) bool { return !hasPanel(s) }
	return s
}

// timedFull is how long, s, a pump's timed full speed usually lasts before it falls back to its program.
const timedFull = 3600

// vacuuming is the work itself; a timed full speed runs out beside it.
func vacuuming() []Step {
	s := Step{ID: "vacuum", Text: "procedure.vacuum.vacuum.says", Care: []Care{Swimmers, Entrapment}}
	timed, free := s, s
	timed.Timer, timed.When = &Timer{Count: CountWait, Low: 600, High: 1800, Most: timedFull}, hasPanel
	timed.Hint = "procedure.vacuum.vacuum.hint"
	free.When = func(s *Setup) bool { return !hasPanel(s) }
	return []Step{timed, free}
}

var waterLibrary = []Procedure{
	{
		ID:      Vacuum,
		Name:    "procedure.vacuum.name",
		Aim:     "procedure.vacuum.aim",
		Minutes: 40,
		On:      notSmall,
		Care:    []Care{Entrapment, DryRun, Swimmers, OffIsNot},
		Steps: join(
			Step{
				ID:   "full",
				Text: "procedure.vacuum.full.says",
				Hint: "procedure.vacuum.full.hint",
				Do:   []Action{do(SetSpeed)},
				When: hasPanel,
			},
			vacuumLine(), vacuuming(),
			Step{ID: "back", Text: "procedure.vacuum.back.says", Care: []Care{Entrapment}},
			toPot(), Step{ID: "empty", Text: "procedure.vacuum.empty.says"}, fromPot(), movement()),
		Short: join(
			Step{
				ID:   "full",
				Text: "procedure.vacuum.full.says-2",
				Hint: "procedure.vacuum.full.hint-2",
				Care: []Care{Entrapment},
				Do:   []Action{do(SetSpeed)},
				When: hasPanel,
			},
			vacuumLineAlone(),
			vacuuming(),
			Step{
				ID:   "back",
				Text: "procedure.vacuum.back.says-2",
				Hint: "procedure.vacuum.back.hint",
				Care: []Care{Entrapment},
				Do:   []Action{do(Program)},
			},
			Step{
				ID:   "moves",
				Text: "procedure.vacuum.moves.says",
				Answers: []Answer{
					{ID: "weak", Text: "procedure.vacuum.moves.weak.says"},
					{ID: "yes", Text: "procedure.vacuum.moves.yes.says"},
				},
			},
		),
	},
	{
		ID:         VacuumWaste,
		Name:       "procedure.vacuum-waste.name",
		Aim:        "procedure.vacuum-waste.aim",
		Minutes:    40,
		On:         valveIs(pad.Multiport),
		Discharges: true,
		Care:       []Care{Discharge, HoseEnd, DeadHead, Entrapment},
		Steps: join(
			Step{ID: "top-up", Text: "procedure.vacuum-waste.top-up.says", Hint: "procedure.vacuum-waste.top-up.hint"},
			Step{
				ID:   "hose",
				Text: "procedure.vacuum-waste.hose.says",
				Care: []Care{Discharge, HoseEnd},
				Answers: []Answer{
					{ID: "no", Text: "procedure.vacuum-waste.hose.no.says", Ends: true},
					{ID: "yes", Text: "procedure.vacuum-waste.hose.yes.says"},
				},
			},
			vacuumLine(),
			pumpOff("off-1", handleMoves),
			toWaste(),
			wasteOn(Entrapment),
			Step{
				ID:    "vacuum",
				Text:  "procedure.vacuum-waste.vacuum.says",
				Hint:  "procedure.vacuum-waste.vacuum.hint",
				Level: &Level{Inches: toppedUp, Most: MouthEdge},
				Care:  []Care{HoseEnd, Entrapment},
				Answers: []Answer{
					{ID: "on", Text: "procedure.vacuum-waste.vacuum.on.says", To: "vacuum"},
					{ID: "stop", Text: "procedure.vacuum-waste.vacuum.stop.says"},
				},
			},
			backFromWaste(),
			Step{
				ID:   "level",
				Text: "procedure.vacuum-waste.level.says",
				Answers: []Answer{
					{ID: "no", Text: "procedure.vacuum-waste.level.no.says"},
					{ID: "yes", Text: "procedure.vacuum-waste.level.yes.says"},
				},
			},
			Step{ID: "line-back", Text: "procedure.vacuum-waste.line-back.says", Care: []Care{Entrapment}},
			Step{ID: "on-2", Text: "procedure.vacuum-waste.on-2.says", Do: []Action{do(Start)}},
			movement(),
		),
	},
	{
		ID:         LowerLevel,
		Name:       "procedure.lower-level.name",
		Aim:        "procedure.lower-level.aim",
		Minutes:    30,
		On:         valveIs(pad.Multiport),
		Discharges: true,
		Care:       []Care{Discharge, Ground, DeadHead, HoseEnd},
		Steps: join(
			Step{
				ID:   "hose",
				Text: "procedure.lower-level.hose.says",
				Hint: "procedure.lower-level.hose.hint",
				Care: []Care{Discharge, HoseEnd},
				Answers: []Answer{
					{ID: "no", Text: "procedure.lower-level.hose.no.says", Ends: true},
					{ID: "yes", Text: "procedure.lower-level.hose.yes.says"},
				},
			},
			pumpOff("off-1", handleMoves),
			toWaste(),
			wasteOn(Ground),
			Step{
				ID:    "down",
				Text:  "procedure.lower-level.down.says",
				Hint:  "procedure.lower-level.down.hint",
				Level: &Level{Inches: rainLook, Most: 2 * MouthEdge},
				Care:  []Care{Ground, HoseEnd},
				Answers: []Answer{
					{ID: "not-yet", Text: "procedure.lower-level.down.not-yet.says", To: "down"},
					{ID: "there", Text: "procedure.lower-level.down.there.says"},
				},
			},
			backFromWaste(),
			Step{ID: "on-2", Text: "procedure.lower-level.on-2.says", Do: []Action{do(Start)}},
			movement(),
		),
	},
	{
		ID:      DoseRun,
		Name:    "procedure.dose.name",
		Aim:     "procedure.dose.aim",
		Minutes: 15,
		On:      valveIs(pad.Multiport),
		Care:    []Care{Swimmers, NeverMeet, Fumes, DeadHead},
		From: func(r *Rig) State {
			s := r.Daily()
			s.People = true // until somebody has looked
			return s
		},
		Steps: join(
			Step{ID: "out", Text: "procedure.dose.out.says", Care: []Care{Swimmers}, Do: []Action{do(PeopleOut)}},
			pumpOff(
				"off-1",
				handleMoves,
			),
			turn("to-recirculate", pad.SetRecirculate, "procedure.what-the-filter-should-not"),
			Step{ID: "on-1", Text: "procedure.dose.on-1.says", Do: []Action{do(Start)}},
			Step{
				ID:   "dose",
				Text: "procedure.dose.dose.says",
				Hint: "procedure.dose.dose.hint",
				Why:  "procedure.dose.dose.why",
				Care: []Care{NeverMeet, Swimmers, Fumes},
				Do:   []Action{do(Dose)},
			},
			Step{
				ID:    "round",
				Text:  "procedure.dose.round.says",
				Hint:  "procedure.dose.round.hint",
				Timer: &Timer{Count: CountWait, Low: 600, High: 1800, Least: 600},
			},
			pumpOff(
				"off-2",
				handleMoves,
			),
			turnBack("to-filter"),
			Step{ID: "on-2", Text: "procedure.dose.on-2.says", Do: []Action{do(Start)}},
		),
	},
}
