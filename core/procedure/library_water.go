package procedure

import "fairlap/core/pad"

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
	mouthEdge   = 3.0 // from the middle of the mouth to its lower edge
	rainLook    = 1.0 // between two looks when rain goes out
	belowReturn = 9.0 // from the mouth's lower edge to below the returns
)

func toWaste() Step { return turn("to-waste", pad.SetWaste, "Past the media and out.") }

func wasteOn(care ...Care) Step {
	return Step{ID: "on-1", Says: "Start the pump. Set {wasteSpeed} rpm.", Hint: "About {wastePathGpm} gpm leave the pool there: an inch in {inchMinutes} min. {wasteNote}", Care: append([]Care{HoseEnd, Discharge}, care...), Do: []Action{do(Start)}}
}

func backFromWaste() []Step {
	return join(pumpOff("off-2", "the handle moves"), turnBack("to-filter"))
}

func vacuumLine() Step {
	return Step{ID: "line", Says: "Suction to the vacuum line; the drain opened more if one skimmer pulls too hard", Hint: "Never the vacuum line alone with the drain shut.", Care: []Care{Entrapment}}
}

var waterLibrary = []Procedure{
	{ID: Vacuum, Name: "Vacuum the pool", Aim: "The floor clean, all through the filter.", Minutes: 40, On: notSmall, Care: []Care{Entrapment, DryRun, Swimmers, OffIsNot},
		Steps: join(Step{ID: "full", Says: "Pump to its timed full speed: {vacuumSpeed} rpm", Hint: "It ends by itself, after 60 minutes usually. {vacuumNote}"},
			vacuumLine(), Step{ID: "vacuum", Says: "Vacuum, slowly, in lanes", Care: []Care{Swimmers, Entrapment}},
			Step{ID: "back", Says: "Valves back as in daily use, the vacuum port covered", Care: []Care{Entrapment}},
			toPot(), Step{ID: "empty", Says: "Empty the pot's and the skimmers' baskets"}, fromPot(), movement()),
		Short: join(Step{ID: "full", Says: "Pump to its timed full speed: {vacuumSpeed} rpm. Suction to the vacuum line", Hint: "The drain opened more if one skimmer pulls too hard; never the vacuum line alone. {vacuumNote}", Care: []Care{Entrapment}},
			Step{ID: "vacuum", Says: "Vacuum, slowly, in lanes", Care: []Care{Swimmers, Entrapment}},
			Step{ID: "back", Says: "Valves back, the vacuum port covered, back in AUTO", Hint: "Baskets next: a run of their own.", Care: []Care{Entrapment}},
			Step{ID: "moves", Says: "Movement at the returns, gauge as before?", Answers: []Answer{{ID: "weak", Says: "Weak"}, {ID: "yes", Says: "All there"}}})},
	{ID: VacuumWaste, Name: "Vacuum to waste", Aim: "What would clog the filter goes past it.", Minutes: 40, On: valveIs(pad.Multiport), Discharges: true, Care: []Care{Discharge, HoseEnd, DeadHead, Entrapment},
		Steps: join(Step{ID: "top-up", Says: "Top the level up first, to the top of the skimmer mouth", Hint: "About {wastePathGpm} gpm leave the pool: an inch in {inchMinutes} min, two inches to work with."},
			Step{ID: "hose", Says: "Lay the hose out, its end held: may this water go there?", Care: []Care{Discharge, HoseEnd}, Answers: []Answer{{ID: "no", Says: "No: not today", Ends: true}, {ID: "yes", Says: "Yes, by the local rules"}}},
			vacuumLine(), pumpOff("off-1", "the handle moves"), toWaste(), wasteOn(Entrapment),
			Step{ID: "vacuum", Says: "Vacuum: is it clean, or the level down two inches?", Hint: "Stop well above the lower edge of the skimmer mouth: there the pump draws air.", Level: &Level{Inches: toppedUp, Most: mouthEdge}, Care: []Care{HoseEnd, Entrapment},
				Answers: []Answer{{ID: "on", Says: "Not yet", To: "vacuum"}, {ID: "stop", Says: "Clean, or down two inches"}}},
			backFromWaste(),
			Step{ID: "level", Says: "Is the level at the middle of the skimmer mouth?", Answers: []Answer{{ID: "no", Says: "Low: topped up now"}, {ID: "yes", Says: "It is"}}},
			Step{ID: "line-back", Says: "Valves back as in daily use, the vacuum port covered", Care: []Care{Entrapment}},
			Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}}, movement())},
	{ID: LowerLevel, Name: "Lower the level after rain", Aim: "Down to the middle of the skimmer mouth, no further.", Minutes: 30, On: valveIs(pad.Multiport), Discharges: true, Care: []Care{Discharge, Ground, DeadHead, HoseEnd},
		Steps: join(Step{ID: "hose", Says: "Lay the hose out, its end held: may this water go there?", Hint: "About {inchGal} gal an inch.", Care: []Care{Discharge, HoseEnd}, Answers: []Answer{{ID: "no", Says: "No: not today", Ends: true}, {ID: "yes", Says: "Yes, by the local rules"}}},
			pumpOff("off-1", "the handle moves"), toWaste(), wasteOn(Ground),
			Step{ID: "down", Says: "Is the water at the middle of the skimmer mouth?", Hint: "Look after each inch. Never far down: with high ground water an empty shell can float.", Level: &Level{Inches: rainLook, Most: 2 * mouthEdge}, Care: []Care{Ground, HoseEnd}, Answers: []Answer{{ID: "not-yet", Says: "Not yet", To: "down"}, {ID: "there", Says: "It is"}}},
			backFromWaste(), Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}}, movement())},
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
			Step{ID: "round", Says: "Let it go round", Hint: "By the label; the least is ten minutes.", Timer: &Timer{Count: CountWait, Low: 600, High: 1800, Least: 600}},
			pumpOff("off-2", "the handle moves"), turnBack("to-filter"), Step{ID: "on-2", Says: "Start the pump", Do: []Action{do(Start)}})},
}
