// Package speedplan decides how long, how fast and when a pool's pump runs: the cheapest
// day that meets every need, proved so, fitted to the slots that a pump has; or which
// needs collide, and by how little they would have to give.
//
// The day is a path through its hours: one way to run (a speed, or off) an hour. Hours at
// high speed, hours over a device's least flow, slots and starts are counted by the
// states that the path goes through; the water turned over is a resource that it must
// gather. The cheapest path that gathers enough is a resource-constrained shortest path,
// solved exactly: a Lagrange multiplier on the water gives every state a lower bound on
// the rest of the day (Handler and Zang 1980), and labels with dominance search what the
// bound leaves open (Desrochers and Soumis 1988; Dumitrescu and Boland 2003; all from
// memory).
package speedplan

import (
	"math"
)

// Resources of a day, in the order of their gains. The first is water; the others are
// hours, counted.
const (
	turnover = iota // gallons
	highHours
	cellHours
	runHours
	resources
)

// gains are what an hour gives of each resource.
type gains [resources]float64

// problem is a day to plan. Way 0 is off.
type problem struct {
	hours     int
	ways      int
	allow     [][]bool    // by hour and way
	cost      [][]float64 // of an hour run so
	gain      [][]gains   // of an hour run so
	need      gains
	startCost []float64 // of a start in an hour
	slotCost  float64   // of a block
	slots     int       // blocks of one speed, at most, one over midnight counted once; 0: as many as hours
	starts    int       // at most; 0: any number
	share     float64   // of its cost by which a plan may be dearer than the best and count as it
}

// never is worse than any plan.
var never = math.Inf(1)

// noStart is what a start costs where none may be: more than any day (not +Inf, which no two sums may differ by).
const noStart = 1e6

// slack is the money by which a plan may be dearer than the best and still count as it:
// a thousandth of a cent a day.
const slack = 1e-5

// blocks counts the slots that a plan takes; one may run on through midnight.
func (p *problem) blocks(plan []int) int {
	n, was := 0, plan[len(plan)-1]
	for _, w := range plan {
		if w != 0 && w != was {
			n++
		}
		was = w
	}
	if n == 0 && was != 0 {
		return 1 // all day at one speed
	}
	return n
}

// solve finds the cheapest plan: a way for each hour, and its cost. within is by how much
// a cheaper one could exist at the most. ok is false where no plan meets the needs.
//
// A day of a few of the ways is found first. What a day by way of each hour and way costs
// at the least then leaves out nearly all of them, as dearer than the day that is known
// (variables fixed by reduced cost, Nemhauser and Wolsey 1988, from memory).
func (p *problem) solve() (plan []int, cost, within float64, ok bool) {
	if !p.possible() {
		return nil, 0, 0, false
	}
	rough, _ := p.narrowed(p.marked())
	rough.share = roughly
	price := rough.freed().multiplier(0)
	_, known, _, found := rough.solveBelow(never, price)
	if !found {
		return p.solveBelow(never, price)
	}
	known += 2*slack + 2*p.share*math.Abs(known) // its own plan, or one as good, is found again
	q, ways := p.narrowed(p.byWay(rough.uncounted().multiplier(price)).below(known))
	plan, cost, within, ok = q.solveBelow(known, price)
	for h, w := range plan {
		plan[h] = ways[w]
	}
	return plan, cost, within, ok
}

// roughly is the share of its cost by which the first day may be dearer than need be.
const roughly = 0.005

// mostStarts is up to which number starts are told apart; more are taken together.
const mostStarts = 3

// solveBelow is solve where only what is cheaper than a known cost is wanted.
//
// A start is a fixed cost, over which a bound by prices alone is blind: days with no
// start, one, two and more are searched apart, each with a price of water of its own, and
// left out where not even free starts would make them cheap enough.
func (p *problem) solveBelow(known, price float64) (plan []int, cost, within float64, ok bool) {
	s := newSearch(p)
	s.best = known
	free := p.freed()
	least := never // that a start costs
	for _, c := range p.startCost {
		least = math.Min(least, c)
	}
	price = free.multiplier(price)
	floor := free.floor(price)
	for starts := 0; starts <= mostStarts; starts++ {
		if p.starts > 0 && starts > p.starts || floor+float64(starts)*least >= s.enoughBelow() {
			break
		}
		s.target, s.s = starts, starts
		for _, v := range variants {
			s.begin(v)
			if free := s.unslotted(); free.floor(price) < s.enoughBelow() {
				price = free.multiplier(price)
				s.run(price)
			}
		}
		s.overMidnight(price)
	}
	if s.plan == nil {
		return nil, 0, 0, false
	}
	plan = make([]int, p.hours)
	for h, w := range s.plan {
		plan[h] = int(w)
	}
	return plan, s.best, math.Max(math.Max(slack, 2*s.given()), s.best-s.open), true
}

// possible tells whether any plan meets the needs: whether the most water that the
// counted hours, the slots and the starts leave is enough. A faster way gives no less of
// anything, so that the fastest of some hour do.
func (p *problem) possible() bool {
	q, _ := p.narrowed(p.fastest())
	starts := make([]float64, q.hours)
	for h, c := range q.startCost {
		if c >= noStart {
			starts[h] = noStart
		}
	}
	q.startCost, q.slotCost = starts, 0
	for h := range q.cost {
		q.cost[h] = make([]float64, q.ways)
	}
	s := newSearch(q)
	targets := []int{-1}
	if p.starts > 0 {
		targets = nil
		for t := range p.starts + 1 {
			targets = append(targets, t)
		}
	}
	for _, t := range targets {
		s.target, s.s = t, max(t, 0)
		for _, v := range variants {
			s.begin(v)
			if s.bound(1); s.enough(-s.value[s.row(0, 0, 0, 0)]) {
				return true
			}
		}
		for _, v := range s.wrapped() {
			s.begin(v)
			if s.bound(1); s.enough(-s.value[s.row(0, 0, 0, 0)]) {
				return true
			}
		}
	}
	return false
}

// freed is the problem with starts for nothing and slots without end.
func (p *problem) freed() *search {
	free := *p
	free.startCost, free.slotCost, free.slots, free.starts = make([]float64, p.hours), 0, 0, 0
	f := newSearch(&free)
	f.target = -1
	return f
}
