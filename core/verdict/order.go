package verdict

import (
	"slices"
	"sort"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
)

// Fix is one step of trying the fixes one after the other without looking first.
type Fix struct {
	Fault   fault.Fault
	P       float64 // that this one is it
	Minutes float64
	// Spent is the mean time gone when this step is over, counting that an earlier
	// one may already have ended the search.
	Spent float64
}

// worthTrying is the least chance of a fix that is listed, and fixesShown how many
// are.
const (
	worthTrying = 0.02
	fixesShown  = 6
)

// FixOrder lists the leading suspects by probability over cost, which is the
// order of the least mean time when one of them is the cause and each fix shows
// whether it was (Heckerman, Breese and Rommelse 1995; from memory). Sound pads
// need no fix and are left out.
//
// Under a danger there is none. Two faults at once count for each of the two.
func FixOrder(r *diagnosis.Result) []Fix {
	if r.Stopped() {
		return nil
	}
	var out []Fix
	at := map[fault.ID]int{}
	add := func(f *fault.Fault, p float64) {
		if f.ID == fault.Healthy || f.Minutes <= 0 {
			return
		}
		if i, ok := at[f.ID]; ok {
			out[i].P += p
			return
		}
		at[f.ID] = len(out)
		out = append(out, Fix{Fault: *f, P: p, Minutes: f.Minutes})
	}
	for i := range r.Suspects {
		s := &r.Suspects[i]
		add(&s.Fault, s.P)
		for k := range s.With {
			add(&s.With[k].Fault, s.With[k].P)
		}
	}
	// A filter past its limit beside whatever else is cleaned too: it counts whole.
	if i, listed := at[fault.FilterLoaded]; r.Known {
		if over := past(r); listed {
			out[i].P = max(out[i].P, over)
		} else if f, ok := fault.LookUp(fault.FilterLoaded, r.Kind); ok && over >= worthTrying {
			out = append(out, Fix{Fault: f, P: over, Minutes: f.Minutes})
		}
	}
	out = slices.DeleteFunc(out, func(f Fix) bool { return f.P < worthTrying })
	worth := func(f Fix) float64 { return diagnosis.Steady(f.P / f.Minutes) }
	sort.SliceStable(out, func(a, b int) bool { return worth(out[a]) > worth(out[b]) })
	out = out[:min(fixesShown, len(out))]
	left, spent := 0.0, 0.0
	for _, f := range out {
		left += f.P
	}
	total := left
	for i := range out {
		spent += out[i].Minutes * left / total
		left -= out[i].P
		out[i].Spent = spent
	}
	return out
}
