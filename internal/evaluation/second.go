package evaluation

import (
	"fmt"
	"math"
	"math/rand/v2"

	"fairlap/core/pad"
	"fairlap/core/units"
)

// The second world is solved here and by nothing of the product's: Darcy–Weisbach with Haaland's
// friction factor in pipes of their own roughness, pumps that follow the energy in the wheel
// (water, shock, disk, what leaks round it), a motor whose losses go with its load, and dirt that
// packs as more water is pressed through it.

// secondPad is what a pad is made of in the second world beside its pipes.
type secondPad struct {
	rough   float64 // m
	lift    float64 // m at shut-off
	full    float64 // m³/s at which it lifts nothing
	knee    float64 // share of the lift lost with the flow's power, the rest with its third
	bend    float64 // that power
	vanes   float64 // head that the wheel gives at no flow, of the lift at shut-off; what is not lifted is lost
	swept   float64 // share of it that the flow at full takes away
	disk    float64 // W at shut-off and full speed: friction of the wheel's sides, and what churns there
	iron    float64 // W of the drive at rest
	copper  float64 // of the shaft's power lost in the motor at its rated load
	rated   float64 // W
	slip    float64 // how far the speed scale falls behind, at no speed
	packing float64 // exponent of the dirt's head over the flow
}

// buildSecond makes a pad of the second world: described as in the first, with another pump inside.
func buildSecond(k kind, rng *rand.Rand) *built {
	between := func(a, b float64) float64 { return a + (b-a)*rng.Float64() }
	b := build(k, rng)
	lift := b.real.Pump.Curve[0].Ft * feet
	full := float64(units.GPM(k.fullFlow))
	s := &secondPad{
		rough:   between(2e-6, 60e-6),
		lift:    lift,
		full:    full,
		knee:    between(0.6, 1),
		bend:    between(1.5, 2.6),
		vanes:   between(1.1, 1.4),
		swept:   between(0.25, 0.5),
		iron:    between(8, 35),
		copper:  between(0.08, 0.22),
		slip:    between(0, 0.03),
		packing: between(1, 1.35),
	}
	// What the wheel takes of the motor in the middle of its curve is part floor, part water.
	water, floor := s.water(0.6*full, 1), between(0.35, 0.55)
	s.disk = water * floor / (1 - floor)
	s.rated = 1.2 * (water + s.disk)
	b.second = s
	// The label's curve: read off a drawing at five flows, all of it a little high or low.
	scale, last := 1+0.04*(2*rng.Float64()-1), math.Inf(1)
	for i, share := range []float64{0, 0.25, 0.45, 0.65, 0.85} {
		ft := math.Round(2*scale*s.head(share)/feet*(1+0.008*(2*rng.Float64()-1))) / 2
		last = math.Min(ft, last-0.5)
		b.doc.Pump.Curve[i] = pad.CurveFt{GPM: math.Round(share * k.fullFlow), Ft: last}
	}
	low, high := s.watts(1, 0.35*full, &change{}), s.watts(1, 0.8*full, &change{})
	by := func(share float64) float64 { return 1 + share*(2*rng.Float64()-1) }
	b.doc.Pump.IdleW = math.Max(5, s.iron*by(0.3))
	b.doc.Pump.PerGpmW = math.Max(0.5, (high-low)/(0.45*k.fullFlow)*by(0.15))
	b.doc.Pump.BaseW = math.Max(50, (low-b.doc.Pump.PerGpmW*0.35*k.fullFlow-b.doc.Pump.IdleW)*by(0.08))
	return b
}

// head is what the wheel lifts at full speed and a share of its full flow.
func (s *secondPad) head(x float64) float64 {
	if x <= 0 {
		return s.lift
	}
	return s.lift * (1 - s.knee*math.Pow(x, s.bend) - (1-s.knee)*x*x*x)
}

// inside is the flow through the wheel, of which some goes round it again, and what it lifts.
func (s *secondPad) inside(ratio, q float64, c *change) (through, head float64) {
	wide := s.full * ratio * (1 - c.pumpFlow)
	square := ratio * ratio * (1 - s.slip*(1-ratio)) * (1 - c.pumpHead)
	head = square * s.head(q/wide)
	through = q
	for range 12 {
		if c.leak == 0 {
			break
		}
		through = q + c.leak*s.full*math.Sqrt(math.Max(0, head)/s.lift)
		head = 0.5*head + 0.5*square*s.head(through/wide)
	}
	return through, head
}

// watts is what the motor draws.
func (s *secondPad) watts(ratio, q float64, c *change) float64 {
	if ratio <= 0 || c.stopped {
		return s.iron
	}
	through, _ := s.inside(ratio, q, c)
	shaft := s.water(through, ratio) + s.disk*math.Pow(ratio, 2.8)
	shaft *= 1 - 0.8*c.pumpHead // water with air in it is lighter
	return s.iron + shaft*(1+s.copper*(0.4+0.6*shaft/s.rated)) + 12*ratio
}

// water is what the wheel gives the water, W: all of it is drawn, whether it lifts or is lost.
func (s *secondPad) water(through, ratio float64) float64 {
	x := through / (s.full * ratio)
	return 9.80665 * 996.6 * through * s.lift * ratio * ratio * s.vanes * (1 - s.swept*x)
}

// conduit is a line by its bore, length, fittings and how far it is shut.
type conduit struct {
	bore, length, k float64
	shut            bool
}

// loss is its head at a flow.
func (s *secondPad) loss(l *conduit, q float64) float64 {
	if q <= 0 {
		return 0
	}
	d := l.bore * inch / 1000
	v := q / (math.Pi / 4 * d * d)
	re := math.Max(10, v*d/0.86e-6)
	f := 64 / re
	if re > 2300 {
		x := -1.8 * math.Log10(math.Pow(s.rough/d/3.7, 1.11)+6.9/re)
		f = 1 / (x * x)
	}
	return (f*l.length/d + l.k) * v * v / (2 * 9.80665)
}

// beside is the head over lines beside each other that carry a flow together.
func (s *secondPad) beside(lines []conduit, q float64) float64 {
	if q <= 0 {
		return 0
	}
	var per [8]float64
	open := 0
	for i := range lines {
		if !lines[i].shut {
			open++
		}
	}
	if open == 0 {
		return math.Inf(1)
	}
	for i := range lines {
		per[i] = q / float64(open)
	}
	sum := 0.0
	for range 4 {
		sum = 0
		for i := range lines {
			if lines[i].shut {
				per[i] = 0
				continue
			}
			r := s.loss(&lines[i], per[i]) / (per[i] * per[i])
			per[i] = 1 / math.Sqrt(r)
			sum += per[i]
		}
		for i := range lines {
			per[i] *= q / sum
		}
	}
	return q * q / (sum * sum)
}

// zero is where a falling function crosses nought between two flows.
func zero(f func(float64) float64, low, high float64) float64 {
	a, b := f(low), f(high)
	if a <= 0 {
		return low
	}
	if b >= 0 {
		return high
	}
	for range 60 {
		mid := high - b*(high-low)/(b-a)
		y := f(mid)
		if math.Abs(y) < 1e-7 || high-low < 1e-12 {
			return mid
		}
		if y > 0 {
			low, a = mid, y
			b /= 2
		} else {
			high, b = mid, y
			a /= 2
		}
	}
	return (low + high) / 2
}

// ways are the real pad's lines under a change.
type ways struct {
	suction, returns []conduit
	trunk, discharge conduit
	back             conduit
}

func (b *built) ways(c *change) ways {
	d := &b.real
	run := func(r pad.Run, k float64) conduit {
		return conduit{r.BoreIn, math.Max(0.01, r.LengthFt*feet), r.FittingsK + k, false}
	}
	// fitting is a loss of a bore counted in another's velocity heads.
	fitting := func(k, bore, in float64) float64 { return k * math.Pow(in/bore, 4) }
	bore := d.SuctionTrunk.BoreIn
	w := ways{trunk: run(d.SuctionTrunk, 0.8+c.basketK), discharge: run(d.Discharge, 0)}
	for i, l := range d.Suction {
		line := run(l.Run, c.suctionK[i]+0.4)
		line.shut = c.suctionShut[i]
		w.suction = append(w.suction, line)
	}
	k := c.trunkReturnK
	for _, dev := range []*pad.Device{d.Heater, d.Cell} {
		if dev == nil || dev == d.Heater && c.bypassOpen {
			continue
		}
		k += dev.DropPsi * metresPerPsi / velocityHead(float64(units.GPM(dev.AtGPM)), bore)
	}
	if c.bypassOpen { // most of it goes past
		k += 2
	}
	if d.CheckValve {
		k += 2.5 + c.checkK
	}
	w.back = run(d.ReturnTrunk, fitting(k, bore, d.ReturnTrunk.BoreIn))
	for i, l := range d.Returns {
		line := run(l.Run, c.returnK[i]+0.4+fitting(1.05, l.EyeballIn, l.BoreIn))
		line.shut = c.returnShut
		w.returns = append(w.returns, line)
	}
	return w
}

// media is the filter's head at a flow: clean media by the flow, dirt by a power of it, the
// vessel by its square, and a passage round the media where there is one.
func (b *built) media(q float64, c *change) float64 {
	d := &b.real
	f := &d.Filter
	at := float64(units.GPM(f.AtGPM))
	linear := f.MediaPsi * metresPerPsi / at * 0.86 * math.Max(0.05, 1+c.media)
	vessel := f.VesselPsi * metresPerPsi / (at * at)
	through := func(q float64) float64 {
		dirt := b.loadOne * math.Max(-0.1, c.load) * at * math.Pow(q/at, b.second.packing)
		return linear*q + dirt + vessel*q*q
	}
	if c.slipK <= 0 || q <= 0 {
		return through(q)
	}
	round := conduit{d.Discharge.BoreIn, 0.01, c.slipK, false}
	q = zero(func(x float64) float64 { return b.second.loss(&round, q-x) - through(x) }, 0, q)
	return through(q)
}

// secondMeters reads a pad of the second world without noise. What a sick pump's motor is spared
// follows from the wheel, so follows is not asked.
func (m *Maker) secondMeters(
	b *built,
	rpm float64,
	set pad.Setting,
	c *change,
	_ float64,
) (pad.Reading, float64, error) {
	if c.setting != "" && c.setting != pad.SetFilter || c.spaReturn || c.spaSuction {
		return pad.Reading{}, 0, fmt.Errorf("%s: the second world knows no such way of running", b.name)
	}
	s, d, w := b.second, &b.real, b.ways(c)
	ratio := rpm / d.Pump.TopRPM
	drawn := func(q float64) float64 { return s.beside(w.suction, q) + s.loss(&w.trunk, q) }
	valve := conduit{d.Discharge.BoreIn, 0.01, 2, false}
	pushed := func(q float64) float64 { // from the tank on
		h := s.loss(&w.back, q) + s.beside(w.returns, q)
		if set == pad.SetRecirculate {
			return h + s.loss(&valve, q)
		}
		return h + b.media(q, c)
	}
	q := 0.0
	if !c.stopped && ratio > 0 {
		most := s.full * ratio * (1 - c.pumpFlow)
		q = zero(func(q float64) float64 {
			_, head := s.inside(ratio, q, c)
			return head - drawn(q) - s.loss(&w.discharge, q) - pushed(q)
		}, 0, most)
		// What the suction can't give boils: the pump moves what comes.
		if drawn(q) > -boils {
			q = zero(func(q float64) float64 { return -boils - drawn(q) }, 0, q)
		}
	}
	suction, out := drawn(q), pushed(q)
	if math.IsInf(suction, 1) {
		suction = -boils
	}
	if math.IsInf(out, 1) || q == 0 && !c.stopped {
		_, out = s.inside(ratio, 0, c)
	}
	tank := units.Pressure((out - d.GaugeHeightFt*feet) / metresPerPsi * float64(units.PSI(1)))
	vacuum := units.Pressure(math.Max(0, suction+d.PumpHeightFt*feet) / metresPerPsi * float64(units.PSI(1)))
	flow, power := units.Flow(q), units.Power(s.watts(ratio, q, c))
	return pad.Reading{Speed: units.Speed(rpm), Tank: &tank, Vacuum: &vacuum, Flow: &flow, Power: &power}, q, nil
}
