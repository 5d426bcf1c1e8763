package diagnosis

import (
	"fmt"
	"math"

	"fairlap/core/fault"
	"fairlap/core/pad"
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
	Says  string
	// P is the chance of what it says: of a sound pad with whatever dirt, or of the
	// leading suspect.
	P float64
}

// someDirt is the load from which a sound pad is called dirty.
const someDirt = 0.4

// Judge says an answer in the trade's words. A sound pad and a loaded filter are one
// state: only the load parts them.
func Judge(r *Result) Verdict {
	if r.Stopped() {
		return Verdict{State: StateStop, Says: "Stop: make it safe first. Nothing else is offered until then."}
	}
	clean, loaded := 0.0, 0.0
	var lead *Suspect
	for i := range r.Suspects {
		s := &r.Suspects[i]
		switch {
		case len(s.With) > 0 || !sound(s.Fault.ID):
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
		return Verdict{StateReread, fmt.Sprintf("Read the %s again: it fits nothing else here. The rest would have it near %s.", meterNamesLow[m.Meter], inTrade(m.Meter, m.Fits)), 1 - r.Other}
	}
	all := clean + loaded
	if lead != nil && lead.P > all {
		says := fmt.Sprintf("%s: %.0f %%.", lead.Name(), 100*lead.P)
		if lead.P < 0.5 {
			return Verdict{StateUnsure, "Not sure yet. Likeliest: " + lowerFirst(says), lead.P}
		}
		return Verdict{StateSuspect, says, lead.P}
	}
	v := Verdict{StateSound, "", all}
	load := 100 * math.Max(0, r.Load.Mean)
	switch {
	case !r.Known:
		v.Says = fmt.Sprintf("Nothing speaks against it, but no reading tells the filter yet; the forecast has it at %.0f %% of its limit.", load)
		return v
	case loaded > clean:
		v.State, v.Says = StatePast, fmt.Sprintf("Past its limit: the filter is at %.0f %% of it.", load)
	case r.Load.Mean > someDirt:
		v.State, v.Says = StateDirt, fmt.Sprintf("Only dirt: the filter is at %.0f %% of its limit.", load)
	default:
		v.Says = fmt.Sprintf("Sound: the filter is at %.0f %% of its limit.", load)
	}
	if all < 0.5 {
		v.State, v.Says = StateUnsure, "Not sure yet. Likeliest: "+lowerFirst(v.Says)
	}
	return v
}

// SoundName names the one state of a sound pad with whatever dirt, for a row of the
// answer.
func SoundName(r *Result) string {
	load := 100 * math.Max(0, r.Load.Mean)
	clean, loaded := 0.0, 0.0
	for _, s := range r.Suspects {
		switch {
		case len(s.With) > 0:
		case s.Fault.ID == fault.Healthy:
			clean = s.P
		case s.Fault.ID == fault.FilterLoaded:
			loaded = s.P
		}
	}
	switch {
	case loaded > clean:
		return "Filter past its limit"
	case r.Load.Mean > someDirt:
		return fmt.Sprintf("Only dirt, %.0f %% of the limit", load)
	}
	return "Nothing wrong"
}

var meterNamesLow = map[pad.Meter]string{pad.MeterTank: "tank gauge", pad.MeterVacuum: "vacuum", pad.MeterFlow: "flow", pad.MeterPower: "power"}
