package diagnosis

import (
	"sort"

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
func FixOrder(suspects []Suspect) []Fix {
	var out []Fix
	for _, s := range suspects {
		if s.Fault.ID != fault.Healthy && s.P >= worthTrying && s.Fault.Minutes > 0 {
			out = append(out, Fix{Fault: s.Fault, P: s.P, Minutes: s.Fault.Minutes})
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].P/out[a].Minutes > out[b].P/out[b].Minutes })
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
