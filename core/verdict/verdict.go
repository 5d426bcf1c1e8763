// Package verdict says what a diagnosis amounts to in one line, and in which order fixes
// are worth trying.
package verdict

import (
	"math"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/words"
)

// State is what an answer amounts to.
type State string

// The states of an answer.
const (
	StateStop    State = "stop"    // a danger binds everything
	StateReread  State = "reread"  // one reading fits nothing
	StateSound   State = "sound"   // nothing wrong, hardly any dirt
	StateDirt    State = "dirt"    // nothing wrong but dirt
	StatePast    State = "past"    // the filter is past its limit
	StateSuspect State = "suspect" // a suspect leads
	StateUnsure  State = "unsure"  // nothing leads
)

// Verdict is an answer in one line.
type Verdict struct {
	State State
	Text  words.Message
	// P is the chance of what it says: of a sound pad with whatever dirt, or of the
	// leading suspect.
	P float64
}

// Judge says an answer in the trade's words. A sound pad and a loaded filter are one
// state: only the load parts them.
func Judge(r *diagnosis.Result) Verdict {
	if r.Stopped() {
		return Verdict{State: StateStop, Text: "diagnosis.stop-make-it-safe-first"}
	}
	clean, loaded := 0.0, 0.0
	var lead *diagnosis.Suspect
	for i := range r.Suspects {
		s := &r.Suspects[i]
		switch {
		case len(s.With) > 0 || !diagnosis.Sound(s.Fault.ID):
			if lead == nil {
				lead = s
			}
		case s.Fault.ID == fault.Healthy:
			clean = s.P
		default:
			loaded = s.P
		}
	}
	if m := r.Misfit; m != nil && (lead == nil || lead.P < 0.5) {
		return Verdict{
			StateReread,
			words.Of(
				"diagnosis.read-the-again-it-fits",
				"meter",
				words.Msg(diagnosis.MeterNamesLow[m.Meter]),
				"fits",
				diagnosis.InTrade(m.Meter, m.Fits),
			),
			1 - r.Other,
		}
	}
	all := clean + loaded
	if lead != nil && lead.P > all {
		text := words.Of("diagnosis.lead", "lead", words.Msg(lead.Name()), "p", words.Share(lead.P))
		if lead.P < 0.5 {
			return Verdict{StateUnsure, words.Of("diagnosis.not-sure-yet", "likeliest", words.Msg(text)), lead.P}
		}
		return Verdict{StateSuspect, text, lead.P}
	}
	v := Verdict{StateSound, "", all}
	load := 100 * math.Max(0, r.Load.Mean)
	switch {
	case !r.Known:
		v.Text = words.Of("diagnosis.nothing-speaks-against-it-but", "load", words.Q("%", load))
		return v
	case loaded > clean:
		v.State, v.Text = StatePast, words.Of("diagnosis.past-its-limit-the-filter", "load", words.Q("%", load))
	case r.Load.Mean > diagnosis.SomeDirt:
		v.State, v.Text = StateDirt, words.Of("diagnosis.only-dirt-the-filter-is", "load", words.Q("%", load))
	default:
		v.Text = words.Of("diagnosis.sound-the-filter-is-at", "load", words.Q("%", load))
	}
	if all < 0.5 {
		v.State, v.Text = StateUnsure, words.Of("diagnosis.not-sure-yet", "likeliest", words.Msg(v.Text))
	}
	return v
}
