package speedplan

import (
	"math"
	"slices"
)

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
	widest = 30000
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
	v.open = math.Min(v.open, v.labels(mult, widest))
}

// labels searches what the bound leaves open, hour by hour; with a width only the most
// promising labels of each hour go on. left is the least that a day by way of one that
// was left out could cost; +Inf where none was.
func (v *search) labels(mult float64, width int) (left float64) {
	offset := mult * v.need[turnover]
	left = never
	if v.value[v.row(0, 0, 0, 0)]+offset >= v.enoughBelow() {
		return left
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
			var out float64
			next, out = promising(next, width)
			left = math.Min(left, out)
		}
		layers[h+1] = next
	}
	return left
}

// promising keeps the labels whose days may be the cheapest, so many at the most, and
// gives the least that one left out could cost.
func promising(all []label, most int) (kept []label, left float64) {
	rests := make([]float64, len(all))
	for i := range all {
		rests[i] = all[i].rest
	}
	slices.Sort(rests)
	kept, left = all[:0], never
	for _, l := range all {
		if l.rest <= rests[most-1] && len(kept) < most {
			kept = append(kept, l)
		} else {
			left = math.Min(left, l.rest)
		}
	}
	return kept, left
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
