package evaluation

import (
	"fmt"
	"math"
	"math/rand/v2"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// Solution is what an engine says of a network: heads in m, flows in L/s.
type Solution struct {
	Head map[string]float64 `json:"head"`
	Flow map[string]float64 `json:"flow"`
}

// Engine solves a network given in EPANET's input format.
type Engine func(input string) (Solution, error)

// Mix is how often each fault is met among the stops.
type Mix string

// The mixes that are reported.
const (
	Evenly   Mix = "every fault equally often"
	Thirteen Mix = "thirteen that move the water, equally often"
	ByRoute  Mix = "by route frequency"
	Pairs    Mix = "two at once"
)

// Meters is what a technician has to read.
type Meters string

// The sets of meters.
const (
	GaugeAndSpeed Meters = "gauge and speed"
	GaugeAndWatts Meters = "gauge, speed and watts"
	AllMeters     Meters = "gauge, vacuum, flow and watts"
)

// MeterSets lists them, fewest first.
var MeterSets = []Meters{GaugeAndSpeed, GaugeAndWatts, AllMeters}

// Stop is one made-up stop: what is true, and everything that could be found out
// there.
type Stop struct {
	Truth fault.ID
	Also  fault.ID // the second of two at once
	// Shown says that the gauges can tell it: a meter stands two of its deviations
	// or more off the sound pad's at the same load, or the truth is a sound pad.
	Shown    bool
	Severity int
	Pad      *Pad
	Load     diagnosis.Belief
	// first is the speed that the pump is found at; read holds every meter for each
	// way of running that may be asked for.
	first  pad.Operation
	read   map[running]pad.Reading
	signs  map[fault.Sign]bool // the answer to every look
	looked map[fault.Sign]bool // those that the technician has looked at before asking
	usual  map[fault.Sign]bool // of the looked at, those that the fault usually shows
	priors map[fault.ID]float64
	gauge  fault.GaugeWay
	// mistaps are the looks that were answered the wrong way round.
	mistaps int
	// flowShare is the flow's, as a share of the clean pad's at the same speed.
	flowShare float64
}

// Pad is a pad with the model that its clean line gave.
type Pad struct {
	Name  string
	Model *plumbing.Model
	built *built
}

// Maker makes stops; the same seed makes the same ones.
type Maker struct {
	engine Engine
	rng    *rand.Rand
	pads   []*Pad
	// water reads a real pad without noise; misses is by how many of its deviations a meter is off.
	water  func(b *built, rpm float64, set pad.Setting, c *change, follows float64) (pad.Reading, float64, error)
	misses missLaw
	// tilt moves the log odds of a sign under a trouble off the table's, mistapped is the share of
	// looks that are answered the wrong way round.
	tilt      map[tilted]float64
	mistapped float64
}

// tilted is a sign under a trouble; under none it is the sign without a cause.
type tilted struct {
	id   fault.ID
	sign fault.Sign
}

const warmC = 26.7

// NewMaker builds the plumbings of a seed and reads each one's clean line.
func NewMaker(engine Engine, seed uint64) (*Maker, error) {
	m := &Maker{engine: engine, rng: rand.New(rand.NewPCG(seed, 77)), misses: hasty}
	m.water = m.meters
	for _, k := range kinds {
		p, err := m.pad(build(k, m.rng))
		if err != nil {
			return nil, fmt.Errorf("%s: %w", k.name, err)
		}
		m.pads = append(m.pads, p)
	}
	return m, nil
}

func (m *Maker) pad(b *built) (*Pad, error) {
	if err := m.scaleLoad(b); err != nil {
		return nil, err
	}
	speeds := []float64{3450, 2750, 2100, 1500}
	if b.doc.Pump.Kind == pad.SingleSpeed {
		speeds = speeds[:1]
	}
	var clean []pad.Reading
	for _, rpm := range speeds {
		r, _, err := m.water(b, rpm, pad.SetFilter, &change{}, 0)
		if err != nil {
			return nil, err
		}
		clean = append(clean, m.noisy(b, r, func(p units.Pressure) units.Pressure { return p }))
	}
	model, err := plumbing.Calibrate(b.doc, clean, units.Temperature(warmC), units.PSI(b.limitRise))
	if err != nil {
		return nil, fmt.Errorf("calibrating on the clean line: %w", err)
	}
	return &Pad{b.name, model, b}, nil
}

// scaleLoad finds the real filter's load 1: the resistance that raises the real
// gauge by the limit at the top speed.
func (m *Maker) scaleLoad(b *built) error {
	clean, _, err := m.water(b, 3450, pad.SetFilter, &change{}, 0)
	if err != nil {
		return err
	}
	low, high := 10.0, 1e6
	for range 18 {
		b.loadOne = math.Sqrt(low * high)
		r, _, err := m.water(b, 3450, pad.SetFilter, &change{load: 1}, 0)
		if err != nil {
			return err
		}
		if (*r.Tank - *clean.Tank).PSI() < b.limitRise {
			low = b.loadOne
		} else {
			high = b.loadOne
		}
	}
	return nil
}

// boils is how far under the pool's surface the eye's head can be drawn, m.
const boils = -8.6

// meters reads the real pad: what every meter would say without noise, and the
// pump's flow in m³/s. follows is how much of a sick pump's lost lift its motor is
// spared.
func (m *Maker) meters(
	b *built,
	rpm float64,
	set pad.Setting,
	c *change,
	follows float64,
) (pad.Reading, float64, error) {
	under := *c
	var s Solution
	for range 10 {
		var err error
		if s, err = m.engine(b.network(rpm, set, &under)); err != nil {
			return pad.Reading{}, 0, fmt.Errorf("%s at %.0f rpm: %w", b.name, rpm, err)
		}
		// Boiling at the eye takes the head that the suction can't give.
		if s.Head[nodeEye]-datum > boils || b.noSuction(c) {
			break
		}
		under.pumpHead = 1 - (1-under.pumpHead)*0.85
	}
	q := math.Max(0, s.Flow[linkPump]/1000)
	eye, out := s.Head[nodeEye], s.Head[nodeTank]
	if b.noSuction(c) && !c.stopped { // it boils in the pot, and nothing moves
		q, eye, out = 0, datum+boils, datum
	}
	tank := units.Pressure((out - datum - b.real.GaugeHeightFt*feet) / metresPerPsi * float64(units.PSI(1)))
	vacuum := units.Pressure(math.Max(0, b.real.PumpHeightFt*feet-(eye-datum)) / metresPerPsi * float64(units.PSI(1)))
	flow := units.Flow(q)
	ratio := rpm / b.real.Pump.TopRPM
	x := 0.0
	if ratio > 0 {
		x = flow.GPM() / (ratio * b.fullFlow)
	}
	power := units.Power(b.watts.at(ratio, x, b.headLeft(x, &under), follows))
	if c.stopped {
		power = units.Power(b.watts.idle)
	}
	return pad.Reading{Speed: units.Speed(rpm), Tank: &tank, Vacuum: &vacuum, Flow: &flow, Power: &power}, q, nil
}

// noSuction tells that no open suction is left.
func (b *built) noSuction(c *change) bool {
	for i, l := range b.doc.Suction {
		if !c.suctionShut[i] && (l.Kind == pad.SpaDrain) == c.spaSuction {
			return false
		}
	}
	return true
}

// headLeft is the share of a sound pump's lift that a sick one gives at a share of
// the full flow.
func (b *built) headLeft(x float64, c *change) float64 {
	lift := func(x float64) float64 { return 1 - 0.82*math.Pow(x, b.bend) }
	sound := lift(math.Min(x, 1))
	sick := (1 - c.pumpHead) * lift(math.Min(1.1, x/math.Max(0.02, 1-c.pumpFlow)))
	return math.Max(0, math.Min(1, sick/sound))
}

// noisy reads the meters as they are read: mostly as good as the meter, now and
// then in haste.
func (m *Maker) noisy(b *built, r pad.Reading, gauge func(units.Pressure) units.Pressure) pad.Reading {
	miss := func(meter pad.Meter, v float64) float64 {
		return v + b.doc.Meters.Noise(meter, v)*m.misses.draw(m.rng)
	}
	tank := units.Pressure(miss(pad.MeterTank, float64(gauge(*r.Tank))))
	tank = units.PSI(0.5 * math.Round(tank.PSI()/0.5)) // the dial's step
	vacuum := units.Pressure(math.Max(0, miss(pad.MeterVacuum, float64(*r.Vacuum))))
	flow := units.Flow(math.Max(0, miss(pad.MeterFlow, float64(*r.Flow))))
	power := units.Power(math.Max(0, miss(pad.MeterPower, float64(*r.Power))))
	return pad.Reading{Speed: r.Speed, Tank: &tank, Vacuum: &vacuum, Flow: &flow, Power: &power}
}

// Stops makes n stops of a mix.
func (m *Maker) Stops(n int, mix Mix) ([]*Stop, error) {
	var out []*Stop
	for i := range n {
		p := m.pads[i%len(m.pads)]
		s, err := m.stop(p, mix)
		if err != nil {
			return nil, err
		}
		out = append(out, s)
	}
	return out, nil
}

// stands are troubles under which nothing else can be seen; seenAlone do nothing to
// the water and are met beside others.
var (
	stands = map[fault.ID]bool{
		fault.MotorHums:      true,
		fault.NoPower:        true,
		fault.SuctionAllShut: true,
		fault.ReturnAllShut:  true,
		fault.PrimeLost:      true,
		fault.ValvePosition:  true,
		fault.SpaDraining:    true,
		fault.SpaFilling:     true,
		fault.LeftInSpa:      true,
	}
	seenAlone = map[fault.ID]bool{
		fault.SealLeak:   true,
		fault.TankLeak:   true,
		fault.OutletLeak: true,
		fault.SpeedLow:   true,
	}
)

// met is how often each trouble is met at a pad, adding to one.
func met(p *Pad, mix Mix) []float64 {
	out := make([]float64, len(troubles))
	sum, ill := 0.0, 0.0
	for i, t := range troubles {
		switch {
		case !t.on(p.built):
		case mix == Evenly,
			mix == Pairs && water[t.id] != "none" && t.id != fault.FilterLoaded && !stands[t.id],
			mix == Pairs && seenAlone[t.id]:
			out[i] = 1
		case mix == Thirteen:
			if thirteen[t.id] {
				out[i] = 1
			}
		case mix == Pairs:
		case t.id == fault.Healthy || t.id == fault.FilterLoaded: // together the rest; the load says which
		default:
			f, _ := fault.LookUp(t.id, p.Model.Doc.Filter.Kind)
			out[i] = f.Prior
			ill += f.Prior
		}
	}
	if mix == ByRoute {
		out[0] = 1 - ill
	}
	for _, w := range out {
		sum += w
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

func (m *Maker) pick(weights []float64) int {
	x := m.rng.Float64()
	for i, w := range weights {
		if x -= w; x < 0 {
			return i
		}
	}
	return len(weights) - 1
}

func (m *Maker) stop(p *Pad, mix Mix) (*Stop, error) {
	weights := met(p, mix)
	t := &troubles[m.pick(weights)]
	s := &Stop{Truth: t.id, Shown: t.id == fault.Healthy, Severity: m.rng.IntN(severities), Pad: p,
		Load: diagnosis.Belief{Mean: 0.1 + 0.7*m.rng.Float64(), SD: 0.15}, read: map[running]pad.Reading{}}
	if mix != ByRoute && mix != Pairs { // the diagnosis is told the mix, as a company's record would
		s.priors = map[fault.ID]float64{}
		for _, f := range fault.Catalogue {
			if !f.Chronic && f.ID != fault.Healthy {
				s.priors[f.ID] = 0.0001
			}
		}
		for i, w := range weights {
			s.priors[troubles[i].id] = math.Max(w, 0.0001)
		}
	}
	load := s.Load.Mean + s.Load.SD*m.rng.NormFloat64()
	switch {
	case t.id == fault.FilterLoaded:
		load = 1 + 0.5*m.rng.Float64()
		if m.rng.Float64() < 0.3 { // very dirty
			load = 1.5 + 3*m.rng.Float64()
		}
		s.Load.Mean = load * (1 + s.Load.SD*m.rng.NormFloat64())
		s.Load.SD *= math.Max(1, load)
		if m.rng.Float64() < 0.1 { // nobody saw it coming
			s.Load = diagnosis.Belief{Mean: 0.2 + 0.5*m.rng.Float64(), SD: 0.15}
		}
	case t.id != fault.Healthy || mix != ByRoute:
		load = math.Min(load, 0.97)
	case load >= 1:
		s.Truth, s.Shown = fault.FilterLoaded, false
	}
	c := change{load: math.Max(-0.05, load)}
	if t.does != nil {
		t.does(p.built, &c, s.Severity, m.rng)
	}
	if mix == Pairs {
		m.second(s, p, &c)
	}
	sound := math.Max(-0.05, load) // the load itself is no fault, up to its limit
	if s.Truth == fault.FilterLoaded {
		sound = 0
	}
	q, err := m.readings(s, &c, sound)
	if err != nil {
		return nil, err
	}
	s.flowShare = q
	return s, m.look(s)
}

// second adds another trouble that the first does not already bring.
func (m *Maker) second(s *Stop, p *Pad, c *change) {
	for range 50 {
		o := &troubles[m.pick(met(p, Pairs))]
		if sameWater(o.id, s.Truth) && water[o.id] != "none" || o.id == s.Truth {
			continue
		}
		s.Also = o.id
		if o.does != nil {
			o.does(p.built, c, s.Severity, m.rng)
		}
		return
	}
}

// readings reads the pad in every way that a technician may be asked to; q is the
// flow found, as a share of the clean pad's at the same speed.
func (m *Maker) readings(s *Stop, c *change, sound float64) (q float64, err error) {
	p := s.Pad
	many := p.built.doc.Pump.Kind != pad.SingleSpeed
	follows := m.rng.Float64()
	s.first = pad.Operation{Speed: 3450}
	switch {
	case p.built.doc.Pump.Kind == pad.FlowHolding:
		if s.first.Speed, err = m.holds(p.built, c); err != nil {
			return 0, err
		}
	case many:
		s.first.Speed = []units.Speed{3450, 2900, 2400, 1200}[m.rng.IntN(4)]
	}
	wrong := m.lies(s)
	ops := []pad.Operation{s.first}
	if many {
		ops = append(
			ops,
			pad.Operation{Speed: 3450, Setting: pad.SetFilter},
			pad.Operation{Speed: 1750, Setting: pad.SetFilter},
		)
	}
	if p.built.valve == pad.Multiport {
		ops = append(ops, pad.Operation{Speed: s.first.Speed, Setting: pad.SetRecirculate})
	}
	for i, op := range ops {
		r, flow, err := m.water(p.built, float64(op.Speed), op.Setting, c, follows)
		if err != nil {
			return 0, err
		}
		if i == 0 {
			without, flowed, err := m.water(p.built, float64(op.Speed), op.Setting, &change{load: sound}, 0)
			if err != nil {
				return 0, err
			}
			q = flow / flowed
			gauge := r
			x := wrong(*r.Tank)
			gauge.Tank = &x
			s.Shown = s.Shown || shows(&p.built.doc.Meters, gauge, without)
		}
		r = m.noisy(p.built, r, wrong)
		if *r.Tank < units.PSI(-10) {
			*r.Tank = units.PSI(-10)
		}
		s.read[plain(op)] = r
	}
	return q, nil
}

// holds is the speed that a flow-holding pump finds.
func (m *Maker) holds(b *built, c *change) (units.Speed, error) {
	low, high := 600.0, 3450.0
	for range 11 {
		mid := (low + high) / 2
		_, q, err := m.water(b, mid, pad.SetFilter, c, 0)
		if err != nil {
			return 0, err
		}
		if units.Flow(q).GPM() < b.doc.Pump.HoldGPM {
			low = mid
		} else {
			high = mid
		}
	}
	return units.Speed(10 * math.Round(high/10)), nil
}

// lies is what the gauge makes of the truth at this stop.
func (m *Maker) lies(s *Stop) func(units.Pressure) units.Pressure {
	slack := units.PSI(0.4 * m.rng.NormFloat64())
	way, severity, up := gauges[m.rng.IntN(len(gauges))], s.Severity, 1.0
	if m.rng.IntN(2) == 0 {
		up = -1
	}
	if s.Truth != fault.GaugeBad && s.Also != fault.GaugeBad {
		return func(p units.Pressure) units.Pressure { return p + slack }
	}
	s.gauge = way
	switch way {
	case fault.Offset:
		off := units.PSI(up * [severities]float64{3, 5, 9}[severity])
		return func(p units.Pressure) units.Pressure { return p + off + slack }
	case fault.Scale:
		by := units.Pressure(1 + up*[severities]float64{0.18, 0.3, 0.5}[severity])
		return func(p units.Pressure) units.Pressure { return p*by + slack }
	case fault.Stuck:
		at := units.PSI(30 * m.rng.Float64())
		return func(units.Pressure) units.Pressure { return at }
	}
	return func(p units.Pressure) units.Pressure {
		return p * units.Pressure(0.2+0.7*m.rng.Float64())
	}
}

// shows tells whether a meter moved by two of its deviations.
func shows(noise *pad.Meters, r, sound pad.Reading) bool {
	for _, meter := range pad.AllMeters {
		x, _ := r.Value(meter)
		was, _ := sound.Value(meter)
		if math.Abs(x-was) > 2*noise.Noise(meter, was) {
			return true
		}
	}
	return false
}

// running is a way of running the pump.
type running struct {
	speed   units.Speed
	setting pad.Setting
}

func plain(op pad.Operation) running {
	if op.Setting == "" {
		op.Setting = pad.SetFilter
	}
	return running{op.Speed, op.Setting}
}

// rate is P(yes) of a sign at a stop.
func (m *Maker) rate(s *Stop, sg *fault.SignFact, air bool) (p float64, usual bool) {
	d := &s.Pad.Model.Doc
	base, listed := falseRates[sg.ID]
	if !listed {
		base = falseSymptom
		if sg.Seen() {
			base = falseSeen
		}
	}
	flow := *s.read[plain(s.first)].Flow
	switch {
	case sg.ID == fault.WeakAll:
		base = 0.04
		if s.flowShare*float64(s.first.Speed)/3450 < 0.4 {
			base = 0.92
		}
	case sg.ID == fault.DeviceNoFlow:
		base = 0.01
		for _, dev := range []*pad.Device{d.Heater, d.Cell} {
			if dev != nil && flow.GPM() < dev.LeastGPM {
				base = 0.9
			}
		}
	case airShows[sg.ID] > 0 && air:
		base = airShows[sg.ID]
	}
	base = m.tilted(fault.Healthy, sg.ID, base)
	p = base
	for _, id := range [...]fault.ID{s.Truth, s.Also} {
		given, listed := rates[id][sg.ID]
		if id == fault.GaugeBad && sg.ID == fault.NeedleAtRest {
			given, listed = gaugeRest[s.gauge], true
		}
		if !listed {
			continue
		}
		usual = usual || given > 0.5
		if !sg.Seen() && !sg.Context {
			given *= [severities]float64{0.55, 1, 1.12}[s.Severity]
		}
		given = m.tilted(id, sg.ID, min(given, 0.97))
		p = math.Max(given, p)
		if given < base {
			p = given
		}
	}
	return p, usual
}

// tilted is a rate as this world has it.
func (m *Maker) tilted(id fault.ID, sign fault.Sign, p float64) float64 {
	by := m.tilt[tilted{id, sign}]
	if by == 0 {
		return p
	}
	return 1 / (1 + math.Exp(-math.Log(p/(1-p))-by))
}

// look draws the answer to every look, and which were looked at beforehand.
func (m *Maker) look(s *Stop) error {
	d := &s.Pad.Model.Doc
	if _, ok := fault.LookUp(s.Truth, d.Filter.Kind); !ok {
		return fmt.Errorf("no fault %q", s.Truth)
	}
	s.signs, s.looked, s.usual = map[fault.Sign]bool{}, map[fault.Sign]bool{}, map[fault.Sign]bool{}
	draws := math.Max(0.02, math.Max(airRates[s.Truth][s.Severity], airRates[s.Also][s.Severity]))
	air := m.rng.Float64() < draws
	for i := range fault.Signs {
		sg := &fault.Signs[i]
		if !sg.On(d) || sg.Danger != "" {
			continue
		}
		p, usual := m.rate(s, sg, air)
		usual = usual || airShows[sg.ID] > 0.5 && draws > 0.5
		s.signs[sg.ID] = m.rng.Float64() < p
		if m.mistapped > 0 && m.rng.Float64() < m.mistapped {
			s.signs[sg.ID] = !s.signs[sg.ID]
			s.mistaps++
		}
		// Most looks are made before anybody asks a screen; what shows with the fault
		// more often than not is looked at, however it comes out.
		s.looked[sg.ID] = sg.Context || usual || m.rng.Float64() < 0.75
		if usual {
			s.usual[sg.ID] = true
		}
	}
	return nil
}

// Mistapped tells that a look was answered the wrong way round.
func (s *Stop) Mistapped() bool { return s.mistaps > 0 }

// FlowShare is the flow that was there, as a share of the sound pad's.
func (s *Stop) FlowShare() float64 { return s.flowShare }
