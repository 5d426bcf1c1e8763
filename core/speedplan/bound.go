package speedplan

import (
	"math"
)

// search looks for the cheapest plan.
type search struct {
	*problem
	variant
	limit  int       // slots that a day may have; 0: any number
	k, s   int       // slots and starts that states tell apart; 0: not
	target int       // starts that a day has; mostStarts and more are one; −1: any number
	counts [3]int    // hours that are counted, of each kind
	cells  int       // combinations of counts
	next   [][]int32 // by hour's bits and count: the count after it
	bits   [][]uint8 // by hour and way: which counts grow
	used   int       // bits are below it
	value  []float64 // the least that the rest of a day costs, by state
	best   float64
	plan   []int8
	open   float64 // the least that a plan could cost that a search was cut short before
}

func newSearch(p *problem) *search {
	s := &search{problem: p, best: never, open: never, limit: p.slots}
	if s.limit <= 0 || s.limit >= p.hours {
		s.limit = 0
	}
	s.k = s.limit
	s.cells = 1
	for i := range s.counts {
		s.counts[i] = int(math.Ceil(p.need[highHours+i] - 1e-9))
		s.cells *= s.counts[i] + 1
	}
	s.next = make([][]int32, 8)
	for bits := range s.next {
		s.next[bits] = make([]int32, s.cells)
		for c := range s.cells {
			rest, unit, to := c, 1, 0
			for i, n := range s.counts {
				have := rest % (n + 1)
				rest /= n + 1
				if bits>>i&1 == 1 {
					have = min(have+1, n)
				}
				to += have * unit
				unit *= n + 1
			}
			s.next[bits][c] = int32(to)
		}
	}
	s.used = 1
	for i, n := range s.counts {
		if n > 0 {
			s.used = 2 << i
		}
	}
	s.bits = make([][]uint8, p.hours)
	for h := range s.bits {
		s.bits[h] = make([]uint8, p.ways)
		for w := range p.ways {
			for i := range s.counts {
				if s.counts[i] > 0 && p.gain[h][w][highHours+i] > 0 {
					s.bits[h][w] |= 1 << i
				}
			}
		}
	}
	return s
}

func (v *search) allowed(h, way int) bool {
	if h > 0 && h < v.hours-1 {
		return v.allow[h][way]
	}
	return v.allow[h][way] && (h > 0 || v.first.allows(way)) && (h < v.hours-1 || v.last.allows(way)) &&
		(v.over <= 0 || way == v.over)
}

// step is what going from one way to another in an hour takes of slots, starts, money.
func (v *search) step(h, from, to int) (slots, starts int, cost float64) {
	cost = v.cost[h][to]
	if to == 0 || to == from {
		return 0, 0, cost
	}
	cost += v.slotCost
	if from == 0 && (h > 0 || v.charge) {
		starts, cost = 1, cost+v.startCost[h]
	}
	return 1, starts, cost
}

// row is where the values of a state's ways begin.
func (v *search) row(h, k, s, count int) int {
	return (((h*(v.k+1)+k)*(v.s+1)+s)*v.cells + count) * v.ways
}

// use adds what a step takes; false where it is more than there is.
func (v *search) use(k, s, dk, ds int) (int, int, bool) {
	if v.k > 0 {
		if k += dk; k > v.k {
			return 0, 0, false
		}
	}
	if v.target >= 0 {
		if s += ds; s > v.target {
			if v.target < mostStarts || v.starts > 0 {
				return 0, 0, false
			}
			s = v.target
		}
	}
	return k, s, true
}

// bound fills in, for a price of water, the least that the rest of a day costs from
// every state, less what its water is worth.
func (v *search) bound(mult float64) {
	if n := v.row(v.hours+1, 0, 0, 0); cap(v.value) < n {
		v.value = make([]float64, n)
	} else {
		v.value = v.value[:n]
	}
	end := v.value[v.row(v.hours, 0, 0, 0):]
	for i := range end {
		end[i] = never
		cell := i / v.ways
		if cell%v.cells == v.cells-1 &&
			(v.target < 0 || cell/v.cells%(v.s+1) == v.target) { // all that is counted is there
			end[i] = 0
		}
	}
	worth := make([]float64, v.ways)
	for h := v.hours - 1; h >= 0; h-- {
		for w := range v.ways {
			worth[w] = never
			if v.allowed(h, w) {
				worth[w] = v.cost[h][w] - mult*v.gain[h][w][turnover]
			}
		}
		for k := 0; k <= v.k; k++ {
			for s := 0; s <= v.s; s++ {
				for c := range v.cells {
					v.boundAt(h, k, s, c, worth)
				}
			}
		}
	}
}

func (v *search) boundAt(h, k, s, c int, worth []float64) {
	here := v.value[v.row(h, k, s, c):][:v.ways]
	bits := v.bits[h]
	var same, more, begun [8][]float64 // the values after the hour, by what it counts
	k2 := k
	if v.k > 0 {
		k2++
	}
	for b := range v.used {
		to := int(v.next[b][c])
		same[b] = v.value[v.row(h+1, k, s, to):][:v.ways]
		if v.k == 0 || k < v.k {
			more[b] = v.value[v.row(h+1, k2, s, to):][:v.ways]
			if _, s2, ok := v.use(0, s, 0, 1); ok && v.target >= 0 {
				begun[b] = v.value[v.row(h+1, k2, s2, to):][:v.ways]
			}
		}
	}
	off := worth[0] + same[bits[0]][0]
	// A new block: the best way to run, from a running pump and from one at rest.
	best := func(after *[8][]float64) float64 {
		least := never
		if after[0] == nil {
			return least
		}
		for w := 1; w < v.ways; w++ {
			if x := worth[w] + after[bits[w]&7][w]; x < least {
				least = x
			}
		}
		return least + v.slotCost
	}
	move := best(&more)
	start := move
	switch {
	case h == 0 && !v.charge:
	case v.target < 0:
		start += v.startCost[h]
	default:
		start = best(&begun) + v.startCost[h]
	}
	here[0] = math.Min(off, start)
	least := math.Min(off, move)
	for w := 1; w < v.ways; w++ {
		x := worth[w] + same[bits[w]&7][w]
		if least < x {
			x = least
		}
		here[w] = x
	}
}

// follow reads the plan that the bound's own choices make.
func (v *search) follow(mult float64) (plan []int8, cost, water float64) {
	plan = make([]int8, v.hours)
	k, s, c, way := 0, 0, 0, 0
	for h := range v.hours {
		best, to, bk, bs, bc := never, -1, 0, 0, 0
		for w := range v.ways {
			if !v.allowed(h, w) {
				continue
			}
			dk, ds, x := v.step(h, way, w)
			nk, ns, ok := v.use(k, s, dk, ds)
			if !ok {
				continue
			}
			nc := int(v.next[v.bits[h][w]][c])
			if x += v.value[v.row(h+1, nk, ns, nc)+w] - mult*v.gain[h][w][turnover]; x < best {
				best, to, bk, bs, bc = x, w, nk, ns, nc
			}
		}
		if to < 0 {
			return nil, never, 0
		}
		_, _, x := v.step(h, way, to)
		cost += x
		water += v.gain[h][to][turnover]
		k, s, c, way, plan[h] = bk, bs, bc, to, int8(to)
	}
	return plan, cost, water
}

// enough tells whether the water is turned over as often as it must.
func (v *search) enough(water float64) bool { return water >= v.need[turnover]*(1-1e-12)-1e-9 }

// keep follows a bound and keeps its plan where it is enough and cheaper.
func (v *search) keep(mult float64) (enough bool) {
	plan, cost, water := v.follow(mult)
	if plan == nil || !v.enough(water) {
		return false
	}
	if cost < v.best-slack {
		v.best, v.plan = cost, plan
	}
	return true
}

// unslotted is the search with slots without end.
func (v *search) unslotted() *search {
	free := *v
	free.k, free.value, free.best = 0, nil, never
	return &free
}

// floor is what no plan is cheaper than, at a price of water; +Inf where there is none.
func (v *search) floor(mult float64) float64 {
	v.bound(mult)
	return v.value[v.row(0, 0, 0, 0)] + mult*v.need[turnover]
}

// closings is how closely the price of water is looked for; the bound is exact at any.
const closings = 12

// multiplier looks for the price of water at which the cheapest day turns just enough
// over, near a price that it may be, 0 for none.
func (v *search) multiplier(near float64) float64 {
	if v.need[turnover] <= 0 {
		return 0
	}
	scale := 1e-9
	for h := range v.hours {
		for w := range v.ways {
			scale = math.Max(scale, math.Abs(v.cost[h][w]))
		}
	}
	at := func(mult float64) (cost, water float64, done bool) {
		v.bound(mult)
		plan, cost, water := v.follow(mult)
		return cost, water, plan == nil || v.enough(water) // without a plan any price will do
	}
	const hold = 0.02
	lo, hi := near*(1-hold), near*(1+hold)
	lowCost, lowWater, done := at(lo)
	if done && lo > 0 {
		lo, hi = 0, lo
		lowCost, lowWater, done = at(lo)
	}
	if done {
		return 0
	}
	if hi == 0 {
		hi = scale * float64(v.hours) / v.need[turnover] / 4
	}
	cost, water, done := at(hi)
	for range 8 {
		if done {
			break
		}
		lo, lowCost, lowWater, hi = hi, cost, water, 4*hi
		cost, water, done = at(hi)
	}
	if !done || math.IsInf(cost, 1) {
		return hi
	}
	// The day's worth is concave in the price, its pieces the days met: the next price is
	// where the two that close it in are worth the same, until no other day is worth less.
	for range closings {
		mid := (cost - lowCost) / (water - lowWater)
		if !(mid > lo && mid < hi) {
			break
		}
		c, w, enough := at(mid)
		if c-mid*w >= cost-mid*water-slack {
			return mid * (1 + 1e-9)
		}
		if enough {
			hi, cost, water = mid, c, w
		} else {
			lo, lowCost, lowWater = mid, c, w
		}
	}
	return hi
}

// enoughBelow is the cost from which on a plan is not worth finding.
func (v *search) enoughBelow() float64 {
	if math.IsInf(v.best, 1) {
		return v.best
	}
	return v.best - math.Max(slack, v.given())
}

// given is the money by which a plan may be dearer than need be for its bound's sake; for
// the sake of days as good as others it may be as much again.
func (v *search) given() float64 {
	if math.IsInf(v.best, 1) {
		return 0
	}
	return v.share * math.Abs(v.best) / 2
}
