package procedure

import (
	"strconv"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// Steps that many procedures share.

func do(v Verb, arg ...string) Action {
	a := Action{Verb: v}
	if len(arg) > 0 {
		a.Arg = arg[0]
	}
	return a
}

// pumpOff stops the pump before something; a valve that moves under flow is what the caution is about.
func pumpOff(id string, before words.Message) Step {
	var care []Care
	if before == handleMoves || before == slideMoves {
		care = []Care{DeadHead}
	}
	return Step{
		ID:   id,
		Text: "procedure.turn-the-pump-off",
		Hint: "procedure.hear-it-stop-before-you",
		Why:  words.Of("procedure.still-before", "before", words.Msg(before)),
		Care: care,
		Do:   []Action{do(Stop)},
	}
}

// What a pump stops before, of the filter's valve.
const (
	handleMoves words.Message = "procedure.the-handle-moves"
	slideMoves  words.Message = "procedure.the-slide-moves"
)

// heatAskedID is the step that asks whether the heater is hot.
const heatAskedID = "heat-asked"

// heatAsked are the steps before a pump of a pad with a heater stops; cold leads on.
func heatAsked(cold string) []Step {
	return []Step{
		{
			ID:   heatAskedID,
			Text: "procedure.heat-asked.says",
			Hint: "procedure.heat-asked.hint",
			Why:  "procedure.heat-asked.why",
			Answers: []Answer{
				{ID: "hot", Text: "procedure.heat-asked.hot.says", Do: []Action{do(HeatOn)}},
				{ID: "cold", Text: "procedure.heat-asked.cold.says", To: cold},
			},
		},
		{
			ID:    "heat-flow",
			Text:  "procedure.heat-flow.says",
			Timer: &Timer{Count: CountWait, Low: heatLow, High: heatHigh, Least: heatLow},
			Why:   "procedure.heat-flow.why",
			Care:  []Care{GasWork},
			Do:    []Action{do(HeatOff)},
		},
	}
}

// Waits, seconds (common practice; labels rule).
const (
	heatLow, heatHigh = 1200, 1500 // a heater's cool-down: 20 minutes of flow
	potLow, potHigh   = 900, 1800  // a pot that ran dry, until a hand can stay on it
	cakeLow, cakeHigh = 120, 180   // DE on the grids
	driveWait         = 300        // a capacitor's or a drive's charge: the label's time
	primeLeast        = 10         // no pot fills quicker
	drainLeast        = 2          // no element drains quicker
)

// ranDry are the looks that every opening of a pot begins with.
func ranDry(to string) []Step {
	return []Step{
		{
			ID:   "dry",
			Text: "procedure.dry.says-2",
			Hint: "procedure.dry.hint-2",
			Care: []Care{Scald},
			Answers: []Answer{
				{ID: "yes", Text: "procedure.dry.yes.says", Do: []Action{do(FoundDry)}},
				{ID: "no", Text: "procedure.dry.no.says", To: to},
			},
		},
		{
			ID:    "cool",
			Text:  "procedure.cool.says",
			Hint:  "procedure.cool.hint",
			Care:  []Care{Scald},
			Timer: &Timer{Count: CountWait, Low: potLow, High: potHigh, Least: potLow},
			Do:    []Action{do(Cool)},
		},
	}
}

// turnValve says where the filter valve is turned to.
func turnValve(to pad.Setting) words.Message {
	return words.Of("procedure.turn-valve-to", "setting", words.Msg(to.Words()))
}

func turn(id string, to pad.Setting, why words.Message) Step {
	return Step{
		ID:   id,
		Text: turnValve(to),
		Hint: "procedure.press-the-handle-down-turn",
		Why:  why,
		Do:   []Action{do(Turn, string(to))},
	}
}

func turnBack(id string) Step {
	return turn(id, pad.SetFilter, "procedure.back-to-the-way-that")
}

func lockOff(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.lock-the-power-off-at",
		Hint: "procedure.tag-it-or-keep-the",
		Why:  "procedure.timers-automation-and-freeze-protection",
		Care: []Care{OffIsNot},
		Do:   []Action{do(LockOff)},
	}
}

func openBleed(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.open-the-air-bleed-on",
		Hint: "procedure.no-bleed-on-this-one",
		Why:  "procedure.it-lets-the-pressure-go",
		Care: []Care{Pressure},
		Do:   []Action{do(OpenBleed)},
	}
}

// relieved is the look that lets a tank be opened.
func relieved(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.is-the-bleed-open-and",
		Hint: "procedure.wait-until-neither-water-nor",
		Care: []Care{Pressure},
		Answers: []Answer{
			{ID: "still", Text: "procedure.still.says", To: id},
			{ID: "nothing", Text: "procedure.nothing.says", Do: []Action{do(Relieve)}},
		},
	}
}

func below(s *Setup) bool { return s.Rig.Below }

func notBelow(s *Setup) bool { return !s.Rig.Below }

func manyLines(s *Setup) bool {
	return len(s.Rig.Suction) > 1
}

// isolate shuts the lines of a pad that lies below the water.
func isolate(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.shut-suction-and-return-valves",
		Hint: "procedure.check-valves-are-not-enough",
		Why:  "procedure.this-pad-lies-below-the-3",
		Do:   []Action{do(ShutSuction), do(ShutReturns)},
		When: below,
	}
}

func deisolate(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.open-the-suction-and-return",
		Do:   []Action{do(OpenSuction), do(OpenReturns)},
		When: below,
	}
}

func powerBack(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.give-the-power-back",
		Hint: "procedure.everything-is-shut-and-open",
		Do:   []Action{do(Unlock)},
	}
}

// openFirst opens the one line that a start after opening begins with.
func openFirst(id string) Step {
	return Step{
		ID:   id,
		Text: "procedure.open-only-the-other-lines",
		Hint: "procedure.the-nearest-one-has-the",
		Care: []Care{Entrapment},
		Do:   []Action{do(OpenLine, firstLine)},
	}
}

// startBled are the steps of a start after opening (state rule 6).
func startBled(prefix string) []Step {
	return []Step{
		{
			ID:   prefix + "start",
			Text: "procedure.start-the-pump-and-stand",
			Hint: "procedure.the-bleed-is-open-stay",
			Care: []Care{Restart, OverLabel, DryRun},
			Do:   []Action{do(Start)},
		},
		{
			ID:    prefix + "steady",
			Text:  "procedure.does-water-run-from-the",
			Hint:  "procedure.spitting-is-air-on-its",
			Timer: &Timer{Count: CountBleed, Low: 15, High: 90, Most: 240},
			Care:  []Care{Restart, DryRun},
			Answers: []Answer{
				{ID: "spits", Text: "procedure.spits.says", To: prefix + "steady"},
				{ID: "steady", Text: "procedure.steady.says-2", Do: []Action{do(CloseBleed)}},
				{ID: "never", Text: "procedure.never.says", Do: []Action{do(Stop), do(LockOff)}, Ends: true},
			},
		},
		{
			ID:   prefix + "rating",
			Text: "procedure.is-the-gauge-under-the",
			Hint: "procedure.usual-here-clean-at",
			Care: []Care{OverLabel},
			Answers: []Answer{
				{ID: "under", Text: "procedure.under.says"},
				{ID: "over", Text: "procedure.over.says", Do: []Action{do(Stop), do(LockOff)}, Ends: true},
			},
		},
	}
}

// lineByLine opens the other lines one at a time after a start on one, and sets all as
// in daily use.
func lineByLine(started func(*Rig) int) []Step {
	return []Step{
		{
			ID:   "line",
			Text: "procedure.line.says-2",
			Hint: "procedure.line.hint-2",
			Why:  "procedure.line.why",
			Care: []Care{DryRun},
			Do:   []Action{do(OpenLine, each)},
			Each: othersThan(started),
		},
		{
			ID:   "share",
			Text: "procedure.share.says",
			Hint: "procedure.share.hint",
			Do:   []Action{do(OpenSuction)},
			When: manyLines,
		},
	}
}

// othersThan are the lines of daily use without the one that a start begins with.
func othersThan(started func(*Rig) int) func(*Setup) []Place {
	return func(s *Setup) []Place {
		var out []Place
		for i, name := range s.Rig.Suction {
			if i != started(&s.Rig) && s.Rig.Usual.Has(i) {
				out = append(out, Place{strconv.Itoa(i), words.Named(name)})
			}
		}
		return out
	}
}

func firstOf(r *Rig) int { return r.First }

func before() Step {
	return Step{
		ID:   "before",
		Text: "procedure.before.says",
		Hint: "procedure.before.hint",
		Why:  "procedure.before.why",
		Read: Before,
	}
}

func after() Step {
	return Step{
		ID:   "after",
		Text: "procedure.after.says",
		Hint: "procedure.after.hint",
		Why:  "procedure.after.why",
		Read: After,
	}
}

func holdFlow() Step {
	return Step{
		ID:   "reference",
		Text: "procedure.reference.says",
		Hint: "procedure.reference.hint",
		When: func(s *Setup) bool { return s.Figures["holds"] != "" },
	}
}

func join(parts ...any) []Step {
	var out []Step
	for _, p := range parts {
		switch p := p.(type) {
		case Step:
			out = append(out, p)
		case []Step:
			out = append(out, p...)
		}
	}
	return out
}

func kindIs(k pad.FilterKind) func(*Setup) bool {
	return func(s *Setup) bool { return s.Rig.Kind == k && !s.Rig.Small }
}

func valveIs(v pad.Valve, kinds ...pad.FilterKind) func(*Setup) bool {
	return func(s *Setup) bool {
		if s.Rig.Valve != v {
			return false
		}
		for _, k := range kinds {
			if s.Rig.Kind == k {
				return true
			}
		}
		return len(kinds) == 0
	}
}

func notSmall(s *Setup) bool { return !s.Rig.Small }

func small(s *Setup) bool { return s.Rig.Small }
