package speedplan

import (
	"math"
	"slices"

	"fairlap/core/words"
)

// Conflict is a set of needs that no plan meets together, each of which is part of the
// trouble, and the least that any one of them would have to give.
type Conflict struct {
	Needs []NeedID        `json:"needs" nullable:"false"`
	Names []words.Message `json:"names" nullable:"false"`
	Text  words.Message   `json:"says"`
	Mends []Mend          `json:"mends" nullable:"false"`
}

// Mend is one way to make a plan possible.
type Mend struct {
	Need NeedID        `json:"need"`
	Text words.Message `json:"says"`
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
// Chinneck 1997, from memory), and what would mend it: a way out that keeps what is usual before one that does not.
// The needs are what was asked for; usual has what nobody asked for beside it.
func collide(p *Pad, n, usual *Needs) *Conflict {
	all := needItems(p, n)
	// What is kept longest is named: defaults go first, then what was asked for, the pad's own limits last.
	slices.SortStableFunc(all, func(a, b item) int { return a.holds() - b.holds() })
	first := minimal(p, n, all)
	rest := slices.DeleteFunc(slices.Clone(all), func(i item) bool {
		return slices.ContainsFunc(first, func(f item) bool { return f.id == i.id })
	})
	var second []item
	if !feasible(p, n, rest) { // two collide at once
		second = minimal(p, n, rest)
	}
	c := &Conflict{Mends: []Mend{}}
	for _, i := range append(slices.Clone(first), second...) {
		c.Needs, c.Names = append(c.Needs, i.id), append(c.Names, i.name)
		m, ok := mend(p, usual, i.id)
		if !ok {
			m, ok = mend(p, n, i.id)
		}
		if ok {
			c.Mends = append(c.Mends, m)
		}
	}
	for _, a := range first {
		for _, b := range second {
			if len(c.Mends) == 0 && a.id != NeedLimit && b.id != NeedLimit && feasible(p, n, without(all, a.id, b.id)) {
				c.Mends = append(c.Mends, Mend{a.id, words.Of("speedplan.give-up-both",
					"one", words.Msg(a.name), "other", words.Msg(b.name))})
			}
		}
	}
	c.Text = words.Of("speedplan.collide", "needs", words.List(words.Semicolon, c.Names...))
	if len(c.Names) == 1 {
		c.Text = words.Of("speedplan.alone", "need", words.Msg(c.Names[0]))
	}
	return c
}

// holds is how long a need is kept while a collision is looked for.
func (i *item) holds() int {
	switch {
	case i.id == NeedLimit || i.id == NeedFrost:
		return 2
	case i.gives:
		return 0
	}
	return 1
}

// minimal are needs that collide, none of which could be left out.
func minimal(p *Pad, n *Needs, items []item) []item {
	for i := 0; i < len(items); {
		rest := append(append([]item{}, items[:i]...), items[i+1:]...)
		if !feasible(p, n, rest) {
			items = rest
			continue
		}
		i++
	}
	return items
}

// without are needs but for some.
func without(items []item, ids ...NeedID) []item {
	return slices.DeleteFunc(slices.Clone(items), func(i item) bool { return slices.Contains(ids, i.id) })
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
	say := func(text words.Message) (Mend, bool) { return Mend{id, text}, true }
	top := p.Doc.Pump.TopRPM
	switch id {
	case NeedTurnover:
		steps := int(math.Ceil(n.Turnovers * 20))
		at := func(k int) float64 { return math.Max(0, math.Floor(n.Turnovers*20)-float64(k)+1) / 20 }
		if k, ok := least(steps+1, func(m *Needs, k int) { m.Turnovers = at(k) }); ok {
			return say(words.Of("speedplan.ask-for-the-water-to", "times", words.N(at(k))))
		}
	case NeedHigh, NeedCell, NeedRun:
		field := map[NeedID]func(*Needs) *float64{NeedHigh: func(m *Needs) *float64 { return &m.HighHours },
			NeedCell: func(m *Needs) *float64 { return &m.CellHours },
			NeedRun:  func(m *Needs) *float64 { return &m.LeastRun }}[id]
		have := math.Ceil(*field(n))
		if k, ok := least(int(have), func(m *Needs, k int) { *field(m) = have - float64(k) }); ok {
			return say(
				words.Of(
					"speedplan.ask-for-hours-instead-of",
					"hours",
					words.N(have-float64(k)),
					"instead",
					words.N(*field(n)),
				),
			)
		}
	case NeedQuiet, NeedPeak:
		if id == NeedPeak && n.PeakWay == PeakOff {
			if works(func(m *Needs) { m.PeakWay = PeakFree }) {
				return say("speedplan.let-the-pump-run-in")
			}
			break
		}
		field := func(m *Needs) *float64 { return &m.QuietRPM }
		when := words.Message("speedplan.quiet-hours")
		if id == NeedPeak {
			field, when = func(m *Needs) *float64 { return &m.LowRPM }, "speedplan.the-utility-s-peak"
		}
		have := math.Floor(*field(n)/rpmStep) * rpmStep
		if k, ok := least(int(math.Ceil((top-have)/rpmStep)),
			func(m *Needs, k int) { *field(m) = math.Min(top, have+rpmStep*float64(k)) }); ok {
			return say(
				words.Of(
					"speedplan.allow-rpm-in",
					"speed",
					words.Q("rpm", math.Min(top, have+rpmStep*float64(k))),
					"when",
					words.Msg(when),
				),
			)
		}
	case NeedSkim:
		if k, ok := least(int(math.Ceil(n.SkimRPM/rpmStep)),
			func(m *Needs, k int) { m.SkimRPM = math.Max(0, n.SkimRPM-rpmStep*float64(k)) }); ok {
			return say(
				words.Of(
					"speedplan.let-it-run-as-slow",
					"speed",
					words.Q("rpm", math.Max(p.Doc.Pump.LeastRPM, n.SkimRPM-rpmStep*float64(k))),
				),
			)
		}
	case NeedHeat:
		if works(func(m *Needs) { m.Heat = Span{} }) {
			return say("speedplan.heat-at-other-hours-or")
		}
	case NeedClean:
		if works(func(m *Needs) { m.Clean = Span{} }) {
			return say("speedplan.run-the-cleaner-at-other")
		}
	case NeedSpa:
		if works(func(m *Needs) { m.Spa = Span{} }) {
			return say("speedplan.use-the-spa-at-other")
		}
	case NeedAwake:
		if works(func(m *Needs) { m.Awake = Span{} }) {
			return say("speedplan.let-the-water-stand-in")
		}
	case NeedFrost:
		// Water that stands in frost is no way out: the pool is closed for the winter, or it runs.
	case NeedSlots:
		if k, ok := least(24-n.Slots, func(m *Needs, k int) { m.Slots = n.Slots + k }); ok {
			return say(words.Of("speedplan.a-pump-with-slots-would", "slots", words.N(n.Slots+k)))
		}
	case NeedStarts:
		if works(func(m *Needs) { m.Starts = 0 }) {
			return say("speedplan.allow-more-starts-a-day")
		}
	case NeedLimit:
		if n.Media == MediaGentle && works(func(m *Needs) { m.Media = MediaHard }) {
			return say("speedplan.filter-up-to-the-media")
		}
		if feasible(p, n, without(needItems(p, n), NeedLimit)) {
			return say(words.Of("speedplan.a-larger-filter-is-what", "media", words.Msg(p.top(n.Media).Name)))
		}
	}
	return Mend{}, false
}
