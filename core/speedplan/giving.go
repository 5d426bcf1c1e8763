package speedplan

import "slices"

// giving are the usual needs that give way where nobody asked for them, first what is missed least, and how each is
// given up.
var giving = []struct {
	id   NeedID
	same func(n, usual *Needs) bool
	drop func(*Needs)
}{
	{NeedPeak, func(n, u *Needs) bool { return n.PeakWay == u.PeakWay && n.Peak == u.Peak && n.LowRPM == u.LowRPM },
		func(n *Needs) { n.PeakWay = PeakFree }},
	{NeedSkim, func(n, u *Needs) bool { return n.SkimRPM == u.SkimRPM }, func(n *Needs) { n.SkimRPM = 0 }},
	{NeedHigh, func(n, u *Needs) bool {
		return n.HighHours == u.HighHours && n.HighRPM == u.HighRPM && n.HighIn == u.HighIn
	}, func(n *Needs) { n.HighHours = 0 }},
	{NeedAwake, func(n, u *Needs) bool { return n.Awake == u.Awake }, func(n *Needs) { n.Awake = Span{} }},
	{NeedQuiet, func(n, u *Needs) bool { return n.Quiet == u.Quiet && n.QuietRPM == u.QuietRPM },
		func(n *Needs) { n.Quiet = Span{} }},
	{NeedCell, func(n, u *Needs) bool { return n.CellHours == u.CellHours }, func(n *Needs) { n.CellHours = 0 }},
	{NeedRun, func(n, u *Needs) bool { return n.LeastRun == u.LeastRun }, func(n *Needs) { n.LeastRun = 0 }},
	{NeedTurnover, func(n, u *Needs) bool { return n.Turnovers == u.Turnovers }, func(n *Needs) { n.Turnovers = 0 }},
}

// defaults are the needs that are as usual and that nobody asked for by name.
func (n *Needs) defaults(p *Pad) []NeedID {
	usual := Usual(p, n.Gallons, n.AirF)
	var out []NeedID
	for _, g := range giving {
		if g.same(n, &usual) && !slices.Contains(n.Asked, g.id) {
			out = append(out, g.id)
		}
	}
	return out
}

// giveWay eases a day that can't be: defaults give way one after the other until it can, and those that need not
// have are taken up again. Where that is of no use the day is left with none of them.
func (n *Needs) giveWay(p *Pad) (*Needs, []NeedID) {
	eased := func(gone []NeedID) *Needs {
		out := *n
		for _, g := range giving {
			if slices.Contains(gone, g.id) {
				g.drop(&out)
			}
		}
		return &out
	}
	can := func(gone []NeedID) bool {
		e := eased(gone)
		return feasible(p, e, needItems(p, e))
	}
	gone := []NeedID{}
	for _, id := range n.defaults(p) {
		if gone = append(gone, id); can(gone) {
			break
		}
	}
	if !can(gone) {
		return eased(gone), nil
	}
	for _, id := range slices.Clone(gone) {
		if rest := slices.DeleteFunc(slices.Clone(gone), func(x NeedID) bool { return x == id }); can(rest) {
			gone = rest
		}
	}
	return eased(gone), gone
}

// fields are the needs that a field of a document asks for by name.
var fields = map[string]NeedID{
	"peak": NeedPeak, "peakWay": NeedPeak, "lowRpm": NeedPeak,
	"skimRpm":   NeedSkim,
	"highHours": NeedHigh, "highRpm": NeedHigh, "highIn": NeedHigh,
	"awake": NeedAwake,
	"quiet": NeedQuiet, "quietRpm": NeedQuiet,
	"cellHours": NeedCell,
	"leastRun":  NeedRun,
	"turnovers": NeedTurnover,
}

// AskedBy are the needs that a document's own fields ask for.
func AskedBy(names []string) []NeedID {
	var out []NeedID
	for _, name := range names {
		if id, ok := fields[name]; ok && !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}
