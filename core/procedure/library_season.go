package procedure

import (
	"strconv"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// The procedures at the ends of a season (handbook; common practice).
const (
	SeasonClose ID = "season-close"
	SeasonOpen  ID = "season-open"
)

// drainLowers tells whether a pad may lower its pool through the main drain alone.
func drainLowers(s *Setup) bool { return multiport(s) && s.DrainInchSeconds > 0 }

func multiport(s *Setup) bool { return s.Rig.Valve == pad.Multiport }

// submersible tells whether the last inches need a pump of their own.
func submersible(s *Setup) bool { return !drainLowers(s) }

// aboveDrain are the suction lines whose mouth the falling level passes.
func aboveDrain(s *Setup) []Place {
	var out []Place
	for i, name := range s.Rig.Suction {
		if i != s.Rig.Drain && s.Rig.Usual.Has(i) {
			out = append(out, Place{strconv.Itoa(i), words.Named(name)})
		}
	}
	return out
}

func suctionLines(s *Setup) []Place { return places(s.Rig.Suction) }

func returnLines(s *Setup) []Place { return places(s.Returns) }

func freezeParts(s *Setup) []Place {
	out := make([]Place, len(s.Freeze))
	for i, part := range s.Freeze {
		out[i] = Place{strconv.Itoa(i), part}
	}
	return out
}

func places(names []string) []Place {
	out := make([]Place, len(names))
	for i, n := range names {
		out[i] = Place{strconv.Itoa(i), words.Named(n)}
	}
	return out
}

func winterWay(way string) func(*Setup) bool {
	return func(s *Setup) bool { return s.Ways.Winter == way || s.Ways.Winter == "" && way == "blown" }
}

const blowHint words.Message = "procedure.with-a-blower-or-a"

var seasonLibrary = []Procedure{
	{
		ID:         SeasonClose,
		Name:       "procedure.season-close.name",
		Aim:        "procedure.season-close.aim",
		Minutes:    120,
		On:         notSmall,
		Item:       "season-close",
		Discharges: true,
		Care:       []Care{OffIsNot, Discharge, Ground, Pressure, Entrapment, DryRun},
		Takes: []Take{
			{Name: "procedure.season-close.name-2"},
			{Name: "procedure.season-close.name-3"},
			{"procedure.submersible-pump", "procedure.to-lower"},
		},
		Ends: func(_ *Rig, s State) bool { return !s.Running && s.Power == Locked },
		Steps: join(
			Step{
				ID:   "filter",
				Text: "procedure.season-close.filter.says",
				Why:  "procedure.season-close.filter.why",
				Answers: []Answer{
					{ID: "no", Text: "procedure.season-close.filter.no.says", Ends: true},
					{ID: "yes", Text: "procedure.season-close.filter.yes.says"},
				},
			},
			Step{
				ID:   "where",
				Text: "procedure.season-close.where.says",
				Hint: "procedure.season-close.where.hint",
				Care: []Care{Discharge, Ground},
				Answers: []Answer{
					{ID: "no", Text: "procedure.season-close.where.no.says", Ends: true},
					{ID: "yes", Text: "procedure.season-close.where.yes.says"},
				},
			},
			pumpOff("off-1", "procedure.anything-else"),
			Step{
				ID:   "to-waste",
				Text: "procedure.season-close.to-waste.says",
				Hint: "procedure.season-close.to-waste.hint",
				Do:   []Action{do(Turn, string(pad.SetWaste))},
				When: multiport,
			},
			on(wasteOn(Ground), multiport),
			Step{
				ID:    "down",
				Text:  "procedure.season-close.down.says",
				Hint:  "procedure.season-close.down.hint",
				Level: &Level{Inches: MouthEdge, Most: 2 * MouthEdge},
				Care:  []Care{Ground, HoseEnd, DryRun},
				When:  multiport,
				Answers: []Answer{
					{ID: "not-yet", Text: "procedure.season-close.down.not-yet.says", To: "down"},
					{ID: "there", Text: "procedure.season-close.down.there.says"},
				},
			},
			Step{
				ID:   "shut",
				Text: "procedure.season-close.shut.says",
				Hint: "procedure.season-close.shut.hint",
				Care: []Care{Entrapment, DryRun},
				Do:   []Action{do(ShutLine, each)},
				Each: aboveDrain,
				When: drainLowers,
			},
			Step{
				ID:   "drain",
				Text: "procedure.season-close.drain.says",
				Hint: "procedure.season-close.drain.hint",
				Care: []Care{Entrapment},
				When: drainLowers,
			},
			Step{
				ID:    "down-2",
				Text:  "procedure.season-close.down-2.says",
				Hint:  "procedure.season-close.down-2.hint",
				Level: &Level{Inches: BelowReturn / 3, Most: BelowReturn + MouthEdge, Drain: true},
				Care:  []Care{Ground, HoseEnd, Entrapment},
				When:  drainLowers,
				Answers: []Answer{
					{ID: "not-yet", Text: "procedure.season-close.down-2.not-yet.says", To: "down-2"},
					{ID: "there", Text: "procedure.season-close.down-2.there.says"},
				},
			},
			Step{
				ID:   "off-2",
				Text: "procedure.season-close.off-2.says",
				Do:   []Action{do(Stop)},
				When: multiport,
			},
			Step{
				ID:   "submersible",
				Text: "procedure.season-close.submersible.says",
				Hint: "procedure.season-close.submersible.hint",
				Why:  "procedure.season-close.submersible.why",
				Care: []Care{Ground, Discharge},
				When: submersible,
			},
			lockOff("lock"),
			Step{
				ID:   "gas",
				Text: "procedure.season-close.gas.says",
				Hint: "procedure.season-close.gas.hint",
				Care: []Care{GasWork},
				When: func(s *Setup) bool { return s.Rig.Heater },
			},
			Step{
				ID:   "isolate",
				Text: "procedure.season-close.isolate.says",
				Why:  "procedure.season-close.isolate.why",
				Do:   []Action{do(ShutSuction), do(ShutReturns)},
				When: below,
			},
			openBleed("open-bleed"),
			relieved("relieved"),
			Step{ID: "lid", Text: "procedure.season-close.lid.says", Care: []Care{OffIsNot}, Do: []Action{do(OpenPot)}},
			Step{
				ID:   "part",
				Text: "procedure.season-close.part.says",
				Hint: "procedure.season-close.part.hint",
				Care: []Care{Pressure},
				Each: freezeParts,
			},
			Step{ID: "suction", Text: "procedure.season-close.suction.says", Hint: blowHint, Each: suctionLines},
			Step{ID: "return", Text: "procedure.season-close.return.says", Hint: blowHint, Each: returnLines},
			Step{
				ID:   "antifreeze",
				Text: "procedure.season-close.antifreeze.says",
				Hint: "procedure.season-close.antifreeze.hint",
				When: winterWay("antifreeze"),
			},
			Step{
				ID:   "winter",
				Text: "procedure.season-close.winter.says",
				Hint: "procedure.season-close.winter.hint",
				Do:   []Action{do(Turn, string(pad.SetWinter))},
				When: multiport,
			},
			Step{ID: "tag", Text: "procedure.season-close.tag.says", Why: "procedure.season-close.tag.why"},
		),
	},
	{
		ID:      SeasonOpen,
		Name:    "procedure.season-open.name",
		Aim:     "procedure.season-open.aim",
		Minutes: 90,
		On:      notSmall,
		Item:    "season-open",
		Care:    []Care{OffIsNot, DryRun, Restart, Entrapment},
		From: func(r *Rig) State {
			s := r.Daily()
			s.Running, s.Power, s.Pressed, s.Bleed, s.Opened, s.Pot, s.PotFull, s.Suction, s.Returns, s.Filled = false,
				Locked, false, true, true, true, false, 0, false, false
			if r.Valve == pad.Multiport {
				s.Setting = pad.SetWinter
			}
			return s
		},
		Steps: join(
			Step{
				ID:   "covers",
				Text: "procedure.season-open.covers.says",
				Care: []Care{Entrapment},
				Answers: []Answer{
					{ID: "no", Text: "procedure.season-open.covers.no.says", Ends: true},
					{ID: "yes", Text: "procedure.season-open.covers.yes.says"},
				},
			},
			Step{
				ID:   "unplug",
				Text: "procedure.season-open.unplug.says",
				Each: func(s *Setup) []Place { return append(suctionLines(s), prefixed("r", returnLines(s))...) },
			},
			Step{ID: "level", Text: "procedure.season-open.level.says", Do: []Action{do(FillPool)}},
			Step{
				ID:   "part",
				Text: "procedure.season-open.part.says",
				Hint: "procedure.season-open.part.hint",
				Each: freezeParts,
			},
			Step{
				ID:   "to-filter",
				Text: "procedure.season-open.to-filter.says",
				Do:   []Action{do(Turn, string(pad.SetFilter))},
				When: multiport,
			},
			Step{
				ID:    "fill",
				Text:  "procedure.season-open.fill.says",
				Hint:  "procedure.season-open.fill.hint",
				Timer: &Timer{Count: CountWait, Low: 120, High: 180, Most: 360},
				Do:    []Action{do(FillPot)},
			},
			sealed(),
			Step{ID: "returns", Text: "procedure.season-open.returns.says", Do: []Action{do(OpenReturns)}},
			openFirst("first"),
			powerBack("power"),
			Step{
				ID:   "start",
				Text: "procedure.season-open.start.says",
				Care: []Care{DryRun, Restart},
				Do:   []Action{do(Start)},
			},
			catchWater("procedure.not-within-four-minutes-stop"),
			steady(),
			lineByLine(firstOf),
			Step{
				ID:   "leaks",
				Text: "procedure.season-open.leaks.says",
				Answers: []Answer{
					{
						ID:   "wet",
						Text: "procedure.season-open.leaks.wet.says",
						Do:   []Action{do(Stop), do(LockOff)},
						Ends: true,
					},
					{ID: "dry", Text: "procedure.season-open.leaks.dry.says"},
				},
			},
			Step{
				ID:   "gas",
				Text: "procedure.season-open.gas.says",
				Care: []Care{GasWork},
				When: func(s *Setup) bool { return s.Rig.Heater },
			},
			movement(),
		),
	},
}

// on is a step for some pads only.
func on(s Step, when func(*Setup) bool) Step {
	s.When = when
	return s
}

func prefixed(by string, in []Place) []Place {
	for i := range in {
		in[i].Arg = by + in[i].Arg
	}
	return in
}
