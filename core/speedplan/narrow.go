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
