package speedplan

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

// begin turns to the days of a variant.
func (v *search) begin(of variant) {
	v.variant, v.k = of, v.limit
	if of.over != 0 && v.limit > 0 {
		v.k++ // its two ends are one slot
	}
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
