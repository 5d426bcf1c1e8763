package speedplan

import (
	"fmt"
	"math"
)

// Conflict is a set of needs that no plan meets together, each of which is part of the
// trouble, and the least that any one of them would have to give.
type Conflict struct {
	Needs []NeedID `json:"needs" nullable:"false"`
	Names []string `json:"names" nullable:"false"`
	Says  string   `json:"says"`
	Mends []Mend   `json:"mends" nullable:"false"`
}

// Mend is one way to make a plan possible.
type Mend struct {
	Need NeedID `json:"need"`
	Says string `json:"says"`
}

// feasible tells whether any plan meets some needs.
func feasible(p *Pad, n *Needs, items []item) bool {
	prob := build(p, n, items)
	if prob == nil {
		return false
	}
	return prob.possible()
}

// collide finds needs that collide, none of which could be left out (a deletion filter,
// Chinneck 1997, from memory), and what would mend it.
func collide(p *Pad, n *Needs) *Conflict {
	items := needItems(p, n)
	for i := 0; i < len(items); {
		rest := append(append([]item{}, items[:i]...), items[i+1:]...)
		if !feasible(p, n, rest) {
			items = rest
			continue
		}
		i++
	}
	c := &Conflict{Mends: []Mend{}}
	for _, i := range items {
		c.Needs, c.Names = append(c.Needs, i.id), append(c.Names, i.name)
		if m, ok := mend(p, n, i.id); ok {
			c.Mends = append(c.Mends, m)
		}
	}
	switch len(c.Names) {
	case 1:
		c.Says = "This need alone can't be met: " + c.Names[0] + "."
	default:
		c.Says = "These needs collide:"
		for i, name := range c.Names {
			sep := " "
			if i > 0 {
				sep = "; "
			}
			c.Says += sep + name
		}
		c.Says += "."
	}
	return c
}

// mend finds the least that one need must give so that all needs can be met; false
// where giving it up alone does not do.
func mend(p *Pad, n *Needs, id NeedID) (Mend, bool) {
	works := func(change func(*Needs)) bool {
		m := *n
		change(&m)
		return feasible(p, &m, needItems(p, &m))
	}
	// least finds the smallest step of a relaxation that works; every further step
	// works too.
	least := func(steps int, change func(*Needs, int)) (int, bool) {
		if !works(func(m *Needs) { change(m, steps) }) {
			return 0, false
		}
		lo, hi := 0, steps
		for hi-lo > 1 {
			mid := (lo + hi) / 2
			if works(func(m *Needs) { change(m, mid) }) {
				hi = mid
			} else {
				lo = mid
			}
		}
		return hi, true
	}
	say := func(format string, args ...any) (Mend, bool) { return Mend{id, fmt.Sprintf(format, args...)}, true }
	top := p.Doc.Pump.TopRPM
	switch id {
	case NeedTurnover:
		steps := int(math.Ceil(n.Turnovers * 20))
		at := func(k int) float64 { return math.Max(0, math.Floor(n.Turnovers*20)-float64(k)+1) / 20 }
		if k, ok := least(steps+1, func(m *Needs, k int) { m.Turnovers = at(k) }); ok {
			return say("Ask for the water to go round %s times a day.", plain(at(k)))
		}
	case NeedHigh, NeedCell, NeedRun:
		field := map[NeedID]func(*Needs) *float64{NeedHigh: func(m *Needs) *float64 { return &m.HighHours }, NeedCell: func(m *Needs) *float64 { return &m.CellHours }, NeedRun: func(m *Needs) *float64 { return &m.LeastRun }}[id]
		have := math.Ceil(*field(n))
		if k, ok := least(int(have), func(m *Needs, k int) { *field(m) = have - float64(k) }); ok {
			return say("Ask for %s hours instead of %s.", plain(have-float64(k)), plain(*field(n)))
		}
	case NeedQuiet, NeedPeak:
		if id == NeedPeak && n.PeakWay == PeakOff {
			if works(func(m *Needs) { m.PeakWay = PeakFree }) {
				return say("Let the pump run in the utility's peak.")
			}
			break
		}
		field := func(m *Needs) *float64 { return &m.QuietRPM }
		words := "quiet hours"
		if id == NeedPeak {
			field, words = func(m *Needs) *float64 { return &m.LowRPM }, "the utility's peak"
		}
		have := math.Floor(*field(n)/rpmStep) * rpmStep
		if k, ok := least(int(math.Ceil((top-have)/rpmStep)), func(m *Needs, k int) { *field(m) = math.Min(top, have+rpmStep*float64(k)) }); ok {
			return say("Allow %s rpm in %s.", plain(math.Min(top, have+rpmStep*float64(k))), words)
		}
	case NeedSkim:
		if k, ok := least(int(math.Ceil(n.SkimRPM/rpmStep)), func(m *Needs, k int) { m.SkimRPM = math.Max(0, n.SkimRPM-rpmStep*float64(k)) }); ok {
			return say("Let it run as slow as %s rpm.", plain(math.Max(p.Doc.Pump.LeastRPM, n.SkimRPM-rpmStep*float64(k))))
		}
	case NeedHeat:
		if works(func(m *Needs) { m.Heat = Span{} }) {
			return say("Heat at other hours, or not with this pump and filter.")
		}
	case NeedClean:
		if works(func(m *Needs) { m.Clean = Span{} }) {
			return say("Run the cleaner at other hours.")
		}
	case NeedSpa:
		if works(func(m *Needs) { m.Spa = Span{} }) {
			return say("Use the spa at other hours.")
		}
	case NeedAwake:
		if works(func(m *Needs) { m.Awake = Span{} }) {
			return say("Let the water stand in the heat: not advised.")
		}
	case NeedSlots:
		if k, ok := least(24-n.Slots, func(m *Needs, k int) { m.Slots = n.Slots + k }); ok {
			return say("A pump with %d slots would do.", n.Slots+k)
		}
	case NeedStarts:
		if works(func(m *Needs) { m.Starts = 0 }) {
			return say("Allow more starts a day.")
		}
	case NeedLimit:
		if n.Media == MediaGentle && works(func(m *Needs) { m.Media = MediaHard }) {
			return say("Filter up to the media's hard limit instead of half of it.")
		}
		return say("A larger filter: %s is what holds the speed down.", p.top(n.Media).Name)
	}
	return Mend{}, false
}
