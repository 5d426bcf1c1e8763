package upkeep

import (
	"math"
	"slices"
	"time"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// WearID names what wears.
type WearID string

// What the record can show to wear.
const (
	PostCleanCreep WearID = "post-clean-creep"
	ShorterCycles  WearID = "shorter-cycles"
	WattsDriftDown WearID = "watts-down"
	WattsDriftUp   WearID = "watts-up"
	LongerPrime    WearID = "longer-prime"
	SlowDrain      WearID = "slow-drain"
)

// fewestWearSpots is how many cycles make a trend; of readings twice as many.
const fewestWearSpots = 4

// Wear is a finding of slow change, with its figures and what to plan.
type Wear struct {
	ID    WearID        `json:"id"`
	Name  words.Message `json:"name"`
	Text  words.Message `json:"says"`
	Plan  words.Message `json:"plan"`
	Luck  float64       `json:"luck" doc:"chance of such a trend, or a stronger one, without any wear"`
	First float64       `json:"first"`
	Last  float64       `json:"last"`
	N     int           `json:"n"`
}

// When a trend is called wear: rarely luck, and large enough to matter (ours).
const (
	luckAtMost   = 0.1
	creepMatters = 0.10 // of the limit
	creepOld     = 0.35 // post-clean load over which a soak is no longer expected to do
	shorterBy    = 0.25
	wattsBy      = 0.06
	primeBy      = 0.4
	drainTwice   = 2.0 // of the quickest on record
	drainSpread  = 0.2 // of a drain test done again on the same element, as a share
)

// soak and renewal by filter kind (handbook).
var soak = map[pad.FilterKind]words.Message{
	pad.Sand: "upkeep.deep-clean-the-bed-look", pad.Cartridge: "upkeep.soak-degreaser-rinse-well-then", pad.DE: "upkeep.tear-down-and-soak-the",
}
var renewal = map[pad.FilterKind]words.Message{
	pad.Sand: "upkeep.change-the-sand", pad.Cartridge: "upkeep.replace-the-cartridge", pad.DE: "upkeep.replace-the-grids-that-a",
}

func medianOf(v []float64) float64 { return median(slices.Sorted(slices.Values(v))) }

// wearNames are what the findings are called.
var wearNames = map[WearID]words.Message{
	PostCleanCreep: "upkeep.cleaning-brings-it-back-less", ShorterCycles: "upkeep.cycles-grow-shorter", WattsDriftUp: "upkeep.watts-drift-up", WattsDriftDown: "upkeep.watts-drift-down",
	LongerPrime: "upkeep.priming-takes-longer", SlowDrain: "upkeep.the-element-drains-slowly",
}

// Worn looks for wear in a pool's record. What the record is too short for, or
// what luck explains, is not told.
func (h *History) Worn(kind pad.FilterKind) []Wear {
	var out []Wear
	if w := h.creep(kind); w != nil {
		out = append(out, *w)
	}
	if w := h.shorter(kind); w != nil {
		out = append(out, *w)
	}
	if w := h.watts(); w != nil {
		out = append(out, *w)
	}
	if w := h.prime(); w != nil {
		out = append(out, *w)
	}
	if w := h.drain(kind); w != nil {
		out = append(out, *w)
	}
	return out
}

// Timed is something that was timed at a visit.
type Timed struct {
	At      time.Time
	Seconds float64
}

// prime looks at how long the pot takes to fill.
func (h *History) prime() *Wear {
	if len(h.Primes) < fewestWearSpots {
		return nil
	}
	x, y := overDays(h.Primes, func(p Timed) (time.Time, float64) { return p.At, p.Seconds })
	t := TrendOf(x, y)
	first, last := ends(x, y, t)
	if t.P > luckAtMost || first <= 0 || last < first*(1+primeBy) {
		return nil
	}
	return &Wear{ID: LongerPrime, Name: wearNames[LongerPrime], Luck: t.P, First: first, Last: last, N: len(x),
		Plan: "upkeep.longer-prime.plan",
		Text: words.Of(
			"upkeep.the-pot-filled-in-s",
			"first",
			words.QD("s", first, 0),
			"last",
			words.QD("s", last, 0),
			"x",
			words.N(len(x)),
		)}
}

// drain holds the last drain test of the elements against the quickest on record:
// that of a new one, or as good as a soak has made it.
func (h *History) drain(kind pad.FilterKind) *Wear {
	n := len(h.Drains)
	if n < 2 {
		return nil
	}
	best := h.Drains[0]
	for _, d := range h.Drains {
		if d.Seconds < best.Seconds {
			best = d
		}
	}
	last := h.Drains[n-1]
	if last.Seconds < drainTwice*best.Seconds {
		return nil
	}
	w := &Wear{
		ID:    SlowDrain,
		Name:  wearNames[SlowDrain],
		Luck:  math.Erfc(math.Log(last.Seconds/best.Seconds)/(2*drainSpread)) / 2,
		First: best.Seconds,
		Last:  last.Seconds,
		N:     n,
		Plan:  soak[kind],
		Text: words.Of(
			"upkeep.it-drained-in-s-on",
			"seconds",
			words.QD("s", best.Seconds, 0),
			"on",
			words.Date(best.At),
			"seconds2",
			words.QD("s", last.Seconds, 0),
			"on2",
			words.Date(last.At),
		),
	}
	if n >= 3 && h.Drains[n-2].Seconds >= drainTwice*best.Seconds {
		w.Plan = words.Join(words.Stop, "upkeep.the-test-before-was-slow", renewal[kind])
	}
	return w
}

// overDays lays points out over the days since the first.
func overDays[T any](points []T, of func(T) (time.Time, float64)) (x, y []float64) {
	var from time.Time
	for i, p := range points {
		at, v := of(p)
		if i == 0 {
			from = at
		}
		x, y = append(x, at.Sub(from).Hours()/24), append(y, v)
	}
	return x, y
}

// ends are a trend's fitted first and last figures.
func ends(x, y []float64, t Trend) (first, last float64) {
	var rest []float64
	for i := range x {
		rest = append(rest, y[i]-t.Slope*x[i])
	}
	at := medianOf(rest)
	return at + t.Slope*x[0], at + t.Slope*x[len(x)-1]
}

func (h *History) creep(kind pad.FilterKind) *Wear {
	var x, y []float64
	for _, p := range h.Points {
		if p.After {
			x, y = append(x, float64(len(x))), append(y, p.Load)
		}
	}
	if len(x) < fewestWearSpots {
		return nil
	}
	t := TrendOf(x, y)
	first, last := ends(x, y, t)
	if t.P > luckAtMost || last-first < creepMatters {
		return nil
	}
	w := &Wear{
		ID:    PostCleanCreep,
		Name:  wearNames[PostCleanCreep],
		Plan:  soak[kind],
		Luck:  t.P,
		First: first,
		Last:  last,
		N:     len(x),
		Text: words.Of(
			"upkeep.the-load-right-after-a",
			"first",
			words.Share(first),
			"last",
			words.Share(last),
			"x",
			words.N(len(x)),
		),
	}
	if last > creepOld {
		w.Plan = words.Join(
			words.Stop,
			w.Plan,
			words.Of("upkeep.if-that-does-not", "renewal", words.Msg(renewal[kind])),
		)
	}
	return w
}

// shorter looks at how much water a cycle takes to its limit, seasons and storms
// already weighed in, so that a summer is not taken for age.
func (h *History) shorter(kind pad.FilterKind) *Wear {
	var x, y []float64
	base := kindGrowth[kind]
	for i, c := range h.Cycles {
		if len(c) < 2 || c[len(c)-1].KGal-c[0].KGal < 5 {
			continue
		}
		s := filter(Belief{base.Mean, 1.5 * base.SD}, AfterCleaning, c, walkBlind)
		x, y = append(x, float64(i)), append(y, 1/s.Growth/max(h.Scale, 1e-9))
	}
	if len(x) < fewestWearSpots {
		return nil
	}
	t := TrendOf(x, y)
	first, last := ends(x, y, t)
	if t.P > luckAtMost || last > first*(1-shorterBy) {
		return nil
	}
	return &Wear{ID: ShorterCycles, Name: wearNames[ShorterCycles], Luck: t.P, First: first, Last: last, N: len(x),
		Plan: words.Of("upkeep.look-at-the-chemistry", "renewal", words.Msg(renewal[kind])),
		Text: words.Of(
			"upkeep.to-its-limit-the-filter",
			"first",
			words.QD("kgal", first, 0),
			"last",
			words.QD("kgal", last, 0),
			"x",
			words.N(len(x)),
		)}
}

// watts looks at power over what the pad's model has at the same speed and load.
func (h *History) watts() *Wear {
	if len(h.Watts) < 2*fewestWearSpots {
		return nil
	}
	x, y := overDays(h.Watts, func(p WattsPoint) (time.Time, float64) { return p.At, p.Ratio })
	t := TrendOf(x, y)
	first, last := ends(x, y, t)
	drift := last/first - 1
	if t.P > luckAtMost || (drift < wattsBy && drift > -wattsBy) {
		return nil
	}
	w := &Wear{
		ID:    WattsDriftUp,
		Name:  wearNames[WattsDriftUp],
		Plan:  "upkeep.watts-up.plan",
		Luck:  t.P,
		First: first,
		Last:  last,
		N:     len(x),
	}
	if drift < 0 {
		w.ID, w.Name, w.Plan = WattsDriftDown, wearNames[WattsDriftDown], "upkeep.look-into-the-impeller-for"
	}
	key := "upkeep.draws-more"
	if drift < 0 {
		key = "upkeep.draws-less"
	}
	w.Text = words.Of(key, "drift", words.Share(math.Abs(drift)), "x", words.ND(x[len(x)-1], 0), "n", words.N(len(x)))
	return w
}

// WattsPoint is a reading's power over what the model has for that speed and load.
type WattsPoint struct {
	At    time.Time
	Ratio float64
}
