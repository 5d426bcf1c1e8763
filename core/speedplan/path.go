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
	"slices"
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
	rough, _ := p.some(p.marked())
	rough.share = roughly
	price := rough.freed().multiplier(0)
	_, known, _, found := rough.solveBelow(never, price)
	if !found {
		if !p.possible() {
			return nil, 0, 0, false
		}
		return p.solveBelow(never, price)
	}
	known += 2*slack + 2*p.share*math.Abs(known) // its own plan, or one as good, is found again
	q, ways := p.some(p.byWay(price).below(known))
	plan, cost, within, ok = q.solveBelow(known, price)
	for h, w := range plan {
		plan[h] = ways[w]
	}
	return plan, cost, within, ok
}

// roughly is the share of its cost by which the first day may be dearer than need be.
const roughly = 0.005

// marks say by hour and way which are meant.
type marks [][]bool

// marked are the ways that a first day is made of: one in so many, and wherever an hour's
// ways begin, end or count for more.
func (p *problem) marked() marks {
	const oneIn = 4
	out := make(marks, p.hours)
	for h := range out {
		out[h] = make([]bool, p.ways)
		for w := range out[h] {
			out[h][w] = p.allow[h][w] && (w%oneIn == 0 || w == p.ways-1 || !p.allow[h][w-1] || !p.allow[h][w+1] || p.gain[h][w].counts() != p.gain[h][w-1].counts())
		}
	}
	return out
}

// counts says which hours one counts as.
func (g gains) counts() (is [resources]bool) {
	for r := highHours; r < resources; r++ {
		is[r] = g[r] > 0
	}
	return is
}

// some is the problem with the ways alone that are marked; ways says what its own were
// called.
func (p *problem) some(m marks) (q *problem, ways []int) {
	ways = []int{0}
	for w := 1; w < p.ways; w++ {
		if slices.ContainsFunc(m, func(hour []bool) bool { return hour[w] }) {
			ways = append(ways, w)
		}
	}
	n := *p
	n.ways, n.allow, n.cost, n.gain = len(ways), nil, nil, nil
	for h := range p.hours {
		allow, cost, gain := make([]bool, n.ways), make([]float64, n.ways), make([]gains, n.ways)
		for i, w := range ways {
			allow[i], cost[i], gain[i] = m[h][w], p.cost[h][w], p.gain[h][w]
		}
		n.allow, n.cost, n.gain = append(n.allow, allow), append(n.cost, cost), append(n.gain, gain)
	}
	return &n, ways
}

// floors are what a day costs at the least, by hour and the way that it is run.
type floors [][]float64

// below marks what may cost less than a known day.
func (f floors) below(known float64) marks {
	out := make(marks, len(f))
	for h := range f {
		out[h] = make([]bool, len(f[h]))
		for w := range f[h] {
			out[h][w] = f[h][w] < known
		}
	}
	return out
}

// byWay bounds the days by way of every hour and way, slots left out: the least that
// leads there and the least that leads on, at one price of water.
func (p *problem) byWay(price float64) floors {
	free := *p
	free.slots, free.starts = 0, 0
	v := newSearch(&free)
	v.target = -1
	v.bound(price)
	offset := price * v.need[turnover]
	out := make(floors, v.hours)
	here, next := make([]float64, v.cells*v.ways), make([]float64, v.cells*v.ways)
	clear := func(row []float64) {
		for i := range row {
			row[i] = never
		}
	}
	clear(here)
	here[0] = offset
	for h := range v.hours {
		clear(next)
		out[h] = make([]float64, v.ways)
		clear(out[h])
		for c := range v.cells {
			come := here[c*v.ways:][:v.ways]
			running := never
			for _, x := range come[1:] {
				running = math.Min(running, x)
			}
			least := math.Min(come[0], running)
			if math.IsInf(least, 1) {
				continue
			}
			_, _, begun := v.step(h, 0, 1)
			begun -= v.cost[h][1]
			turn := math.Min(come[0]+begun, running+v.slotCost)
			for w := range v.ways {
				if !v.allow[h][w] {
					continue
				}
				x := math.Min(turn, come[w])
				if w == 0 {
					x = least
				}
				x += v.cost[h][w] - price*v.gain[h][w][turnover]
				to := int(v.next[v.bits[h][w]][c])
				at := to*v.ways + w
				next[at] = math.Min(next[at], x)
				out[h][w] = math.Min(out[h][w], x+v.value[v.row(h+1, 0, 0, to)+w])
			}
		}
		here, next = next, here
	}
	return out
}

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
// counted hours, the slots and the starts leave is enough.
func (p *problem) possible() bool {
	q := *p
	q.cost, q.startCost, q.slotCost = make([][]float64, p.hours), make([]float64, p.hours), 0
	for h := range q.cost {
		q.cost[h] = make([]float64, p.ways)
	}
	s := newSearch(&q)
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

// overMidnight searches the days whose slots are too many but for the one that runs on
// through midnight: one by one the ways that it may run, where a bound over all of them
// leaves any open.
func (v *search) overMidnight(price float64) {
	days := v.wrapped()
	if len(days) == 0 {
		return
	}
	v.begin(variant{runOnly, runOnly, false, anyOver})
	free := v.unslotted()
	if free.floor(price) >= v.enoughBelow() {
		return
	}
	mult := free.multiplier(price)
	v.bound(mult)
	least := v.byFirst(mult)
	for _, d := range days {
		if least[d.over] < v.enoughBelow() {
			v.begin(d)
			v.run(mult)
		}
	}
}

// wrapped are the days with a slot through midnight, by the way that it runs; none where
// slots are not counted.
func (v *search) wrapped() (out []variant) {
	if v.limit == 0 {
		return nil
	}
	for w := 1; w < v.ways; w++ {
		if v.allow[0][w] && v.allow[v.hours-1][w] {
			out = append(out, variant{runOnly, runOnly, false, w})
		}
	}
	return out
}

// byFirst is, after a bound, the least that a day costs by the way of its first hour.
func (v *search) byFirst(mult float64) []float64 {
	out := make([]float64, v.ways)
	for w := range out {
		out[w] = never
		if !v.allowed(0, w) {
			continue
		}
		dk, ds, cost := v.step(0, 0, w)
		if k, s, ok := v.use(0, 0, dk, ds); ok {
			state := v.row(1, k, s, int(v.next[v.bits[0][w]][0])) + w
			out[w] = cost + v.value[state] + mult*(v.need[turnover]-v.gain[0][w][turnover])
		}
	}
	return out
}

// begin turns to the days of a variant.
func (v *search) begin(of variant) {
	v.variant, v.k = of, v.limit
	if of.over != 0 && v.limit > 0 {
		v.k++ // its two ends are one slot
	}
}

// freed is the problem with starts for nothing and slots without end.
func (p *problem) freed() *search {
	free := *p
	free.startCost, free.slotCost, free.slots, free.starts = make([]float64, p.hours), 0, 0, 0
	f := newSearch(&free)
	f.target = -1
	return f
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

// wrap says which ways an hour at midnight may take.
type wrap int

const (
	anyWay wrap = iota
	offOnly
	runOnly
)

func (w wrap) allows(way int) bool { return w == anyWay || (w == offOnly) == (way == 0) }

// variant is a day as it meets midnight: a pump that runs on through it does not start
// there.
type variant struct {
	first, last wrap // what hour 0 and the last may be
	charge      bool // hour 0, when it runs, is a start
	over        int  // the way that one slot runs through midnight; 0: no matter
}

// anyOver is any way through midnight, for a bound.
const anyOver = -1

// variants are all days whose slots are few enough when midnight parts them, each in one
// of them.
// A pump that runs through midnight saves a start and is mostly the cheapest: its plan
// spares the search of the others.
var variants = []variant{{runOnly, runOnly, false, 0}, {offOnly, anyWay, false, 0}, {runOnly, offOnly, true, 0}}

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
	return v.allow[h][way] && (h > 0 || v.first.allows(way)) && (h < v.hours-1 || v.last.allows(way)) && (v.over <= 0 || way == v.over)
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
		if cell%v.cells == v.cells-1 && (v.target < 0 || cell/v.cells%(v.s+1) == v.target) { // all that is counted is there
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

// label is a way to have come to a state.
type label struct {
	cost  float64
	rest  float64 // the least that a day by way of it costs
	water float64
	from  int32 // label of the hour before
	count int32
	way   int8
	k, s  int8
}

// beam is how many labels an hour keeps in the first, quick search;
// widest bounds the second, whose bound then says how near it is to the best.
const (
	beam   = 120
	widest = 2000
)

// run searches one variant.
func (v *search) run(mult float64) {
	v.bound(mult)
	if v.value[v.row(0, 0, 0, 0)]+mult*v.need[turnover] >= v.enoughBelow() {
		return
	}
	moved := false
	for _, more := range []float64{1, 1.02, 1.1, 1.3, 2, 4, 16, 64} { // a first plan
		if more > 1 && !math.IsInf(v.best, 1) {
			break
		}
		if more > 1 {
			v.bound(more*mult + 1e-12)
			moved = true
		}
		if v.keep(more*mult) || mult == 0 {
			break
		}
	}
	if moved {
		v.bound(mult)
	}
	v.labels(mult, beam)
	if !v.labels(mult, widest) {
		v.open = math.Min(v.open, v.value[v.row(0, 0, 0, 0)]+mult*v.need[turnover])
	}
}

// labels searches what the bound leaves open, hour by hour; with a width only the most
// promising labels of each hour go on. whole says that none was left out.
func (v *search) labels(mult float64, width int) (whole bool) {
	offset := mult * v.need[turnover]
	whole = true
	if v.value[v.row(0, 0, 0, 0)]+offset >= v.enoughBelow() {
		return whole
	}
	layers := make([][]label, v.hours+1)
	layers[0] = []label{{rest: v.value[v.row(0, 0, 0, 0)] + offset}}
	states := v.row(1, 0, 0, 0)
	at := make([][]int32, states) // labels of the next hour by state
	var touched []int
	for h := range v.hours {
		alike := v.given() / float64(v.hours)
		for _, i := range touched {
			at[i] = at[i][:0]
		}
		touched = touched[:0]
		base := (h + 1) * states
		next := layers[h+1]
		for i := range layers[h] {
			l := &layers[h][i]
			if l.rest >= v.enoughBelow() { // also one that another took the place of
				continue
			}
			for w := range v.ways {
				if !v.allowed(h, w) {
					continue
				}
				dk, ds, c := v.step(h, int(l.way), w)
				k, s, ok := v.use(int(l.k), int(l.s), dk, ds)
				if !ok {
					continue
				}
				count := v.next[v.bits[h][w]][l.count]
				state := v.row(h+1, k, s, int(count)) + w
				n := label{cost: l.cost + c, from: int32(i), way: int8(w), k: int8(k), s: int8(s), count: count}
				// What is over the need is worth nothing.
				n.water = math.Min(l.water+v.gain[h][w][turnover], v.need[turnover])
				if n.rest = n.cost + v.value[state] + offset - mult*n.water; n.rest >= v.enoughBelow() {
					continue
				}
				if h == v.hours-1 {
					if v.enough(n.water) && n.cost < v.best-slack {
						v.best, v.plan = n.cost, v.trace(layers, h, &n)
					}
					continue
				}
				cell := at[state-base]
				if dominated(next, cell, &n, alike) {
					continue
				}
				if len(cell) == 0 {
					touched = append(touched, state-base)
				}
				at[state-base] = append(undominated(next, cell, &n), int32(len(next)))
				next = append(next, n)
			}
		}
		if len(next) > width {
			whole = false
			next = promising(next, width)
		}
		layers[h+1] = next
	}
	return whole
}

// promising keeps the labels whose days may be the cheapest, so many at the most.
func promising(all []label, most int) []label {
	rests := make([]float64, len(all))
	for i := range all {
		rests[i] = all[i].rest
	}
	slices.Sort(rests)
	out := all[:0]
	for _, l := range all {
		if l.rest <= rests[most-1] && len(out) < most {
			out = append(out, l)
		}
	}
	return out
}

// dominated tells whether a label known at the state is as cheap, or dearer by no more than
// counts, with as much water (Warburton 1987, from memory).
func dominated(all []label, cell []int32, n *label, alike float64) bool {
	for _, i := range cell {
		if o := &all[i]; o.cost <= n.cost+alike+1e-12 && o.water >= n.water-1e-9 {
			return true
		}
	}
	return false
}

// undominated is a state's labels less those that a new one is as good as; a label left
// out stays in the layer, but its search ends.
func undominated(all []label, cell []int32, n *label) []int32 {
	out := cell[:0]
	for _, i := range cell {
		if o := &all[i]; n.cost <= o.cost && n.water >= o.water {
			o.rest = never
			continue
		}
		out = append(out, i)
	}
	return out
}

func (v *search) trace(layers [][]label, h int, end *label) []int8 {
	plan := make([]int8, v.hours)
	plan[h] = end.way
	for i := end.from; h > 0; h-- {
		l := &layers[h][i]
		plan[h-1], i = l.way, l.from
	}
	return plan
}
