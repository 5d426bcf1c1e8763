// Package verdict says what a diagnosis amounts to in one line, and in which order fixes
// are worth trying.
package verdict

import (
	"math"

	"fairlap/core/danger"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/loads"
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
	StateFix     State = "fix"     // hardly anything but what was seen wrong
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
	v := weighed(r)
	if len(r.Dangers) == 0 {
		return v
	}
	// A danger that does not bind the pump still comes first, and no pad beside one is sound.
	if v.State == StateSound || v.State == StateDirt {
		v.State = StateFix
	}
	first := words.Message("diagnosis.danger-first")
	if r.Dangers[0].Code == danger.HeaterHot {
		first = "diagnosis.heater-first"
	}
	v.Text = words.Join(words.Stop, first, v.Text)
	return v
}

// weighed is what the suspects amount to.
func weighed(r *diagnosis.Result) Verdict {
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
	load := words.Q("%", 100*math.Max(0, r.Load.Mean))
	if lead != nil && lead.P > all {
		return leads(r, lead, load)
	}
	v := Verdict{StateSound, "", all}
	switch {
	case !r.Known:
		v.Text = words.Of("diagnosis.nothing-speaks-against-it-but", "load", load)
	case loaded > clean:
		v.State, v.Text = StatePast, words.Of("diagnosis.past-its-limit-the-filter", "load", load)
	case r.Load.Mean > diagnosis.SomeDirt:
		v.State, v.Text = StateDirt, words.Of("diagnosis.only-dirt-the-filter-is", "load", load)
	default:
		v.Text = words.Of("diagnosis.sound-the-filter-is-at", "load", load)
	}
	if r.AtLimit > 0 && v.State != StatePast {
		// However likely it is that the needle errs: it is never answered with a filter that needs nothing.
		v.State, v.Text = StateUnsure, words.Of("diagnosis.gauge-at-its-limit", "load", load)
	} else if r.Known && all < 0.5 {
		v.State, v.Text = StateUnsure, words.Of("diagnosis.not-sure-yet", "likeliest", words.Msg(v.Text))
	}
	return guarded(r, v, load)
}

// mostElse is the chance of something that the catalogue does not hold over which no headline
// says that a pad is sound; oftenChronic that of a chronic weakness.
const (
	mostElse     = 0.2
	oftenChronic = 0.5
)

// past is the chance that the filter is at its limit or over it, over all suspects.
func past(r *diagnosis.Result) float64 {
	sum := 0.0
	for l := loads.Limit; l < len(r.LoadGrid); l++ {
		sum += r.LoadGrid[l]
	}
	return sum
}

// leads says a suspect that leads. What does nothing to the water is no cause of what the meters
// say: with a filter past its limit beside it, the filter is.
func leads(r *diagnosis.Result, lead *diagnosis.Suspect, load words.Arg) Verdict {
	over, name := past(r), words.Msg(lead.Name())
	quiet := lead.Quiet > lead.P/2
	v := Verdict{StateSuspect, words.Of("diagnosis.lead", "lead", name, "p", words.Share(lead.P)), lead.P}
	switch {
	case r.Known && over >= 0.5 && quiet:
		return Verdict{StatePast, words.Of("diagnosis.past-and", "p", words.Share(over), "also", name), over}
	case r.Known && over >= 0.5:
		v.Text = words.Join(words.Stop, v.Text, words.Of("diagnosis.past-too", "p", words.Share(over)))
	case lead.P >= 0.5 && r.Known && quiet:
		v.Text = words.Join(words.Stop, v.Text, words.Of("diagnosis.filter-at", "load", load))
	}
	if lead.P < 0.5 {
		v.State, v.Text = StateUnsure, words.Of("diagnosis.not-sure-yet", "likeliest", words.Msg(v.Text))
	}
	return v
}

// guarded holds a headline to what stands below it: a pad is not called sound, nor only dirty,
// beside something seen wrong, a sign that nothing explains, a weakness that is likelier than
// not, or a fair chance of something else.
func guarded(r *diagnosis.Result, v Verdict, load words.Arg) Verdict {
	known := words.Args{}
	if r.Known {
		known["load"] = load
	}
	also := func(names []words.Message) words.Arg { return words.List(words.Comma, names...) }
	switch {
	case len(r.Found) > 0:
		var names []words.Message
		for i := range r.Found {
			names = append(names, r.Found[i].Sign.Name)
		}
		if v.State == StatePast || r.AtLimit > 0 {
			v.Text = words.Join(words.Stop, v.Text, words.Of("diagnosis.also-fix", "found", also(names)))
			return v
		}
		known["found"] = also(names)
		v.State, v.Text = StateFix, words.With("diagnosis.fix-what-you-saw", known)
	case v.State != StateSound && v.State != StateDirt:
	case len(r.Unexplained) > 0:
		known["sign"] = words.Msg(r.Unexplained[0].Name)
		v.State, v.Text = StateUnsure, words.With("diagnosis.nothing-explains", known)
	case len(r.Chronic) > 0 && r.Chronic[0].P > oftenChronic:
		known["finding"], known["p"] = words.Msg(r.Chronic[0].Fault.Name), words.Share(r.Chronic[0].P)
		v.State, v.Text = StateFix, words.With("diagnosis.weak-by-itself", known)
	case r.Other > mostElse:
		known["p"] = words.Share(r.Other)
		v.State, v.Text = StateUnsure, words.With("diagnosis.something-else", known)
	}
	return v
}
