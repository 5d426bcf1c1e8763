package speedplan

import (
	"math"
	"slices"
)

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
			out[h][w] = p.allow[h][w] &&
				(w%oneIn == 0 || w == p.ways-1 || !p.allow[h][w-1] || !p.allow[h][w+1] ||
					p.gain[h][w].counts() != p.gain[h][w-1].counts())
		}
	}
	return out
}

// fastest are the ways over which some hour allows no next faster one, wherever allowed.
func (p *problem) fastest() marks {
	top := make([]bool, p.ways)
	for w := range top {
		for h := range p.hours {
			top[w] = top[w] || p.allow[h][w] && (w == 0 || w == p.ways-1 || !p.allow[h][w+1])
		}
	}
	out := make(marks, p.hours)
	for h := range out {
		out[h] = make([]bool, p.ways)
		for w := range out[h] {
			out[h][w] = top[w] && p.allow[h][w]
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

// narrowed is the problem with the ways alone that are marked; ways says what its own were
// called.
func (p *problem) narrowed(m marks) (q *problem, ways []int) {
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

// byWay bounds the days by way of every hour and way, starts not counted: the least that
// leads there and the least that leads on, at a price of water.
func (p *problem) byWay(price float64) floors {
	v := p.uncounted()
	v.bound(price)
	offset := price * v.need[turnover]
	out := make(floors, v.hours)
	here, next := make([]float64, v.row(1, 0, 0, 0)), make([]float64, v.row(1, 0, 0, 0))
	clear := func(row []float64) {
		for i := range row {
			row[i] = never
		}
	}
	clear(here)
	here[0] = offset
	worth := make([]float64, v.ways)
	for h := range v.hours {
		clear(next)
		out[h] = make([]float64, v.ways)
		clear(out[h])
		for w := range worth {
			worth[w] = v.cost[h][w] - price*v.gain[h][w][turnover]
		}
		_, _, begun := v.step(h, 0, 1)
		begun -= v.cost[h][1]
		for k := 0; k <= v.k; k++ {
			for c := range v.cells {
				come := here[v.row(0, k, 0, c):][:v.ways]
				running := never
				for _, x := range come[1:] {
					running = math.Min(running, x)
				}
				least := math.Min(come[0], running)
				if math.IsInf(least, 1) {
					continue
				}
				turn := math.Min(come[0]+begun, running+v.slotCost)
				for w := range v.ways {
					if !v.allow[h][w] {
						continue
					}
					to := int(v.next[v.bits[h][w]][c])
					reach := func(k int, x float64) {
						at := v.row(0, k, 0, to) + w
						next[at] = math.Min(next[at], x+worth[w])
						out[h][w] = math.Min(out[h][w], x+worth[w]+v.value[v.row(h+1, k, 0, to)+w])
					}
					if w == 0 {
						reach(k, least)
						continue
					}
					reach(k, come[w])
					if k2, _, ok := v.use(k, 0, 1, 0); ok {
						reach(k2, turn)
					}
				}
			}
		}
		here, next = next, here
	}
	return out
}

// uncounted is the search of all days at once: starts at their cost but uncounted, a slot
// more than there are where one may run on through midnight.
func (p *problem) uncounted() *search {
	v := newSearch(p)
	v.target = -1
	v.begin(variant{over: anyOver})
	return v
}
