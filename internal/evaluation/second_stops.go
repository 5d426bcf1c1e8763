package evaluation

import (
	"fmt"
	"math"
	"math/rand/v2"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
)

// Second is the mix of the second world.
const Second Mix = "a second world: eighteen truths, evenly by the flow that they take"

// graded is a truth of the second world, as strong as it is made: strength runs from nothing to
// as bad as it gets. places is how many places of a pad can have it.
type graded struct {
	id     fault.ID
	places func(b *built) int
	does   func(b *built, c *change, place int, strength float64)
	// byFlow tells that it takes flow, so that its strength is drawn by how much.
	byFlow bool
}

func once(*built) int { return 1 }

func noneOr(has func(*built) bool) func(*built) int {
	return func(b *built) int {
		if has(b) {
			return 1
		}
		return 0
	}
}

// narrowed is a passage's loss, in velocity heads, as it closes: from nothing felt to shut.
func narrowed(strength float64) float64 { return 2 * math.Pow(10, 3.4*strength) }

func lets(share float64) func(*built, *change, int, float64) {
	return func(_ *built, c *change, _ int, t float64) { airy(c, share*t) }
}

func line(_ *built, c *change, place int, t float64) {
	c.suctionK = map[int]float64{place: 6 * narrowed(t)}
}

func suctionLines(b *built) int { return len(b.doc.Suction) }

// gradedTruths are the eighteen.
var gradedTruths = []graded{
	{fault.Healthy, once, func(*built, *change, int, float64) {}, false},
	{fault.FilterLoaded, once, func(_ *built, c *change, _ int, t float64) { c.load = 1 + 3*t*t }, false},
	{fault.BasketFullFault, once, func(_ *built, c *change, _ int, t float64) { c.basketK = narrowed(t) }, true},
	{fault.SkimmerBlocked, once, line, true},
	{fault.SuctionLine, suctionLines, line, true},
	{fault.SuctionValve, suctionLines, line, true},
	{fault.WaterLow, once, lets(0.35), true},
	{fault.AirLid, once, lets(0.35), true},
	{fault.AirInlet, once, lets(0.35), true},
	{fault.PrimeLost, once, func(_ *built, c *change, _ int, t float64) {
		c.pumpHead, c.pumpFlow = 0.85+0.13*t, 0.65+0.3*t
	}, false},
	{fault.ImpellerClogged, once, func(_ *built, c *change, _ int, t float64) {
		c.pumpFlow, c.pumpHead = 0.95*t, 0.1*t*t
	}, true},
	{fault.ImpellerWorn, once, func(_ *built, c *change, _ int, t float64) { c.leak = 0.9 * t }, true},
	{fault.ReturnRestricted, func(b *built) int { return 1 + b.returns }, func(b *built, c *change, p int, t float64) {
		if p == 0 {
			c.trunkReturnK = narrowed(t)
			return
		}
		c.returnK = map[int]float64{p - 1: 6 * narrowed(t)}
	}, true},
	{fault.CheckValveStuck, noneOr(func(b *built) bool { return b.check }),
		func(_ *built, c *change, _ int, t float64) { c.checkK = narrowed(t) }, true},
	{fault.MediaFouled, once, func(_ *built, c *change, _ int, t float64) { c.load += 2.7 * t * t }, true},
	{fault.BedChannelled, noneOr(func(b *built) bool { return b.doc.Filter.Kind == pad.Sand }),
		func(_ *built, c *change, _ int, t float64) {
			c.media, c.load = -0.3-0.6*t, c.load*(0.7-0.6*t)
		}, false},
	{fault.ValveGasket, noneOr(hasValve), func(_ *built, c *change, _ int, t float64) {
		c.slipK = 400 * math.Pow(10, -1.5*t)
	}, false},
	{fault.GaugeBad, once, func(*built, *change, int, float64) {}, false},
}

// bands are the shares of the sound flow that a fault takes: each as often, from hardly seen to
// a customer's call. The steps of a band are evenly apart.
var bands = [...][2]float64{{0.03, 0.08}, {0.08, 0.2}, {0.2, 0.4}, {0.4, 0.75}}

const (
	bandSteps = 5
	levels    = len(bands) * bandSteps
)

// taken is the share of the flow at a level.
func taken(level int) float64 {
	b := bands[level/bandSteps]
	return b[0] + (b[1]-b[0])*(float64(level%bandSteps)+0.5)/bandSteps
}

// strengthAt is how strong a truth is that takes so much of the flow, at a load in the middle
// and the pump's top speed; as strong as it gets where it can't take so much.
func (m *Maker) strengthAt(b *built, g *graded, place, level int) (float64, error) {
	t := (float64(level) + 0.5) / float64(levels)
	if !g.byFlow {
		return t, nil
	}
	const load = 0.4
	_, sound, err := m.water(b, 3450, pad.SetFilter, &change{load: load}, 0)
	if err != nil {
		return 0, err
	}
	low, high := 0.0, 1.0
	for range 20 {
		mid := (low + high) / 2
		c := change{load: load}
		g.does(b, &c, place, mid)
		_, q, err := m.water(b, 3450, pad.SetFilter, &c, 0)
		if err != nil {
			return 0, err
		}
		if 1-q/sound < taken(level) {
			low = mid
		} else {
			high = mid
		}
	}
	return high, nil
}

// NewSecondMaker makes pads and stops of the second world. Its rates of signs are the first
// world's, every one of them moved by a draw; mistapped is the share of looks that are answered
// the wrong way round.
func NewSecondMaker(seed uint64, mistapped float64) (*Maker, error) {
	m := &Maker{
		rng:       rand.New(rand.NewPCG(seed, 770)),
		misses:    heavy,
		tilt:      map[tilted]float64{},
		mistapped: mistapped,
	}
	m.water = m.secondMeters
	const apart = 0.7 // in logs
	for _, f := range fault.Catalogue {
		for i := range fault.Signs {
			m.tilt[tilted{f.ID, fault.Signs[i].ID}] = apart * m.rng.NormFloat64()
		}
	}
	for _, k := range kinds {
		if k.spa || k.pump == pad.FlowHolding {
			continue
		}
		for range 2 {
			p, err := m.pad(buildSecond(k, m.rng))
			if err != nil {
				return nil, fmt.Errorf("%s: %w", k.name, err)
			}
			m.pads = append(m.pads, p)
		}
	}
	return m, nil
}

// SecondStops makes n stops of the second world.
func (m *Maker) SecondStops(n int) ([]*Stop, error) {
	var out []*Stop
	for i := range n {
		s, err := m.secondStop(m.pads[i%len(m.pads)])
		if err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return out, nil
}

// gradedAt are the truths that a pad can have.
func gradedAt(b *built) []*graded {
	var out []*graded
	for i := range gradedTruths {
		if gradedTruths[i].places(b) > 0 {
			out = append(out, &gradedTruths[i])
		}
	}
	return out
}

func (m *Maker) secondStop(p *Pad) (*Stop, error) {
	can := gradedAt(p.built)
	g := can[m.rng.IntN(len(can))]
	level := m.rng.IntN(levels)
	s := &Stop{Truth: g.id, Shown: g.id == fault.Healthy, Severity: severityOf(level), Pad: p,
		Load:   diagnosis.Belief{Mean: 0.1 + 0.7*m.rng.Float64(), SD: 0.15},
		read:   map[running]pad.Reading{},
		priors: map[fault.ID]float64{}}
	for _, f := range fault.Catalogue {
		if !f.Chronic && f.ID != fault.Healthy {
			s.priors[f.ID] = 0.0001
		}
	}
	for _, g := range can {
		s.priors[g.id] = 1 / float64(len(can))
	}
	load := math.Max(-0.05, math.Min(0.97, s.Load.Mean+s.Load.SD*m.rng.NormFloat64()))
	c := change{load: load}
	place := m.rng.IntN(g.places(p.built))
	t, err := m.strengthAt(p.built, g, place, level)
	if err != nil {
		return nil, err
	}
	g.does(p.built, &c, place, t)
	sound := load
	if g.id == fault.FilterLoaded {
		sound = 0
		s.Load.Mean, s.Load.SD = c.load*(1+0.15*m.rng.NormFloat64()), 0.15*c.load
	}
	if s.flowShare, err = m.readings(s, &c, sound); err != nil {
		return nil, err
	}
	return s, m.look(s)
}

// severityOf is what the rates of signs call a level.
func severityOf(level int) int {
	switch level / bandSteps {
	case 0:
		return mild
	case 3:
		return hard
	}
	return middle
}
