package evaluation

import (
	"fmt"
	"math"
	"math/rand/v2"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
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

// The two mixes that are reported.
const (
	Evenly  Mix = "every fault equally often"
	ByRoute Mix = "by route frequency"
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
}

// Pad is a pad with the model that its clean line gave.
type Pad struct {
	Name  string
	Model *pad.Model
	built *built
}

// Maker makes stops; the same seed makes the same ones.
type Maker struct {
	engine Engine
	rng    *rand.Rand
	pads   []*Pad
	rates  map[fault.ID]map[fault.Sign]float64
}

const warmC = 26.7

// NewMaker builds the plumbings of a seed and reads each one's clean line.
func NewMaker(engine Engine, seed uint64) (*Maker, error) {
	m := &Maker{engine: engine, rng: rand.New(rand.NewPCG(seed, 77)), rates: map[fault.ID]map[fault.Sign]float64{}}
	for _, k := range kinds {
		p, err := m.pad(build(k, m.rng))
		if err != nil {
			return nil, fmt.Errorf("%s: %w", k.name, err)
		}
		m.pads = append(m.pads, p)
	}
	return m, nil
}

// Pads are the pads that stops are made at.
func (m *Maker) Pads() []*Pad { return m.pads }

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
		r, _, err := m.meters(b, rpm, pad.SetFilter, &change{}, nil)
		if err != nil {
			return nil, err
		}
		clean = append(clean, m.noisy(b, r, 0))
	}
	model, err := pad.Calibrate(b.doc, clean, units.Temperature(warmC), units.PSI(b.limitRise))
	if err != nil {
		return nil, fmt.Errorf("calibrating on the clean line: %w", err)
	}
	return &Pad{b.name, model, b}, nil
}

// scaleLoad finds the real filter's load 1: the resistance that raises the real
// gauge by the limit at the top speed.
func (m *Maker) scaleLoad(b *built) error {
	clean, _, err := m.meters(b, 3450, pad.SetFilter, &change{}, nil)
	if err != nil {
		return err
	}
	low, high := 10.0, 1e6
	for range 18 {
		b.loadOne = math.Sqrt(low * high)
		r, _, err := m.meters(b, 3450, pad.SetFilter, &change{load: 1}, nil)
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
// pump's flow in m³/s.
func (m *Maker) meters(b *built, rpm float64, set pad.Setting, c *change, stuck *float64) (pad.Reading, float64, error) {
	under := *c
	var s Solution
	for range 10 {
		var err error
		if s, err = m.engine(b.network(rpm, set, &under)); err != nil {
			return pad.Reading{}, 0, fmt.Errorf("%s at %.0f rpm: %w", b.name, rpm, err)
		}
		// Boiling at the eye takes the head that the suction can't give.
		if s.Head[nodeEye]-datum > boils {
			break
		}
		under.pumpHead = 1 - (1-under.pumpHead)*0.85
	}
	q := math.Max(0, s.Flow[linkPump]/1000)
	tank := units.Pressure((s.Head[nodeTank] - datum - b.real.GaugeHeightFt*feet) / metresPerPsi * float64(units.PSI(1)))
	if stuck != nil {
		tank = units.Pressure(*stuck)
	}
	vacuum := units.Pressure(math.Max(0, b.real.PumpHeightFt*feet-(s.Head[nodeEye]-datum)) / metresPerPsi * float64(units.PSI(1)))
	flow := units.Flow(q)
	ratio := rpm / b.real.Pump.TopRPM
	p := b.real.Pump.IdleW + ratio*ratio*(ratio*b.real.Pump.BaseW+b.real.Pump.PerGpmW*flow.GPM())
	power := units.Power(p * (1 - c.power))
	if c.stopped {
		power = units.Power(b.real.Pump.IdleW)
	}
	return pad.Reading{Speed: units.Speed(rpm), Tank: &tank, Vacuum: &vacuum, Flow: &flow, Power: &power}, q, nil
}

// noisy reads the meters as they are read: mostly as good as the meter, now and
// then in haste.
func (m *Maker) noisy(b *built, r pad.Reading, bias units.Pressure) pad.Reading {
	miss := func(meter pad.Meter, v float64) float64 {
		n := b.doc.Meters.Noise(meter, v) * m.rng.NormFloat64()
		if m.rng.Float64() < 0.06 {
			n *= 2.5
		}
		return v + n
	}
	tank := units.Pressure(miss(pad.MeterTank, float64(*r.Tank))) + bias
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

// met is how often each trouble is met at a pad, adding to one.
func met(p *Pad, mix Mix) []float64 {
	out := make([]float64, len(troubles))
	sum, ill := 0.0, 0.0
	for i, t := range troubles {
		switch {
		case !t.on(p.built):
		case mix == Evenly:
			out[i] = 1
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
	if mix == Evenly { // the diagnosis is told the mix, as a company's record would
		s.priors = map[fault.ID]float64{}
		for i, w := range weights {
			s.priors[troubles[i].id] = w
		}
	}
	load := s.Load.Mean + s.Load.SD*m.rng.NormFloat64()
	switch {
	case t.id == fault.FilterLoaded:
		load = 1 + 0.5*m.rng.Float64()
		s.Load.Mean = load + s.Load.SD*m.rng.NormFloat64()
		if m.rng.Float64() < 0.1 { // nobody saw it coming
			s.Load.Mean = 0.2 + 0.5*m.rng.Float64()
		}
	case t.id != fault.Healthy || mix == Evenly:
		load = math.Min(load, 0.97)
	case load >= 1:
		s.Truth, s.Shown = fault.FilterLoaded, false
	}
	c := change{load: math.Max(-0.05, load)}
	if t.does != nil {
		t.does(p.built, &c, s.Severity, m.rng)
	}
	sound := math.Max(-0.05, load) // the load itself is no fault, up to its limit
	if s.Truth == fault.FilterLoaded {
		sound = 0
	}
	q, err := m.readings(s, &c, sound)
	if err != nil {
		return nil, err
	}
	return s, m.look(s, q)
}

// readings reads the pad in every way that a technician may be asked to; q is the
// flow found, as a share of the clean pad's at the same speed.
func (m *Maker) readings(s *Stop, c *change, sound float64) (q float64, err error) {
	p := s.Pad
	s.first = pad.Operation{Speed: 3450}
	if p.built.doc.Pump.Kind != pad.SingleSpeed {
		s.first.Speed = []units.Speed{3450, 2900, 2400}[m.rng.IntN(3)]
	}
	bias := units.PSI(0.4 * m.rng.NormFloat64())
	var stuck *float64
	if s.Truth == fault.GaugeBad {
		switch m.rng.IntN(3) {
		case 0:
			at := float64(units.PSI(30 * m.rng.Float64()))
			stuck = &at
			bias = 0
		default:
			bias = units.PSI([severities]float64{3, 5, 9}[s.Severity])
			if m.rng.IntN(2) == 0 {
				bias = -bias
			}
		}
	}
	ops := []pad.Operation{s.first}
	if p.built.doc.Pump.Kind != pad.SingleSpeed {
		ops = append(ops, pad.Operation{Speed: 3450, Setting: pad.SetFilter}, pad.Operation{Speed: 1750, Setting: pad.SetFilter})
	}
	if p.built.valve == pad.Multiport {
		ops = append(ops, pad.Operation{Speed: s.first.Speed, Setting: pad.SetRecirculate})
	}
	for i, op := range ops {
		r, flow, err := m.meters(p.built, float64(op.Speed), op.Setting, c, stuck)
		if err != nil {
			return 0, err
		}
		if i == 0 {
			without, flowed, err := m.meters(p.built, float64(op.Speed), op.Setting, &change{load: sound}, nil)
			if err != nil {
				return 0, err
			}
			q = flow / flowed
			s.Shown = s.Shown || shows(&p.built.doc.Meters, r, without, bias)
		}
		r = m.noisy(p.built, r, bias)
		if *r.Tank < units.PSI(-10) {
			*r.Tank = units.PSI(-10)
		}
		s.read[plain(op)] = r
	}
	return q, nil
}

// shows tells whether a meter moved by two of its deviations.
func shows(noise *pad.Meters, r, sound pad.Reading, bias units.Pressure) bool {
	for _, meter := range pad.AllMeters {
		x, _ := r.Value(meter)
		was, _ := sound.Value(meter)
		if meter == pad.MeterTank {
			x += float64(bias)
		}
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

// shaken is how far this company's rate of a sign strays from the shipped one, as
// a deviation of the log-odds.
const shaken = 0.7

// rate is how often a sign shows with a fault in this made-up company.
func (m *Maker) rate(id fault.ID, sign fault.Sign, shipped float64) float64 {
	if m.rates[id] == nil {
		m.rates[id] = map[fault.Sign]float64{}
	}
	if _, ok := m.rates[id][sign]; !ok {
		m.rates[id][sign] = 1 / (1 + math.Exp(-(math.Log(shipped/(1-shipped)) + shaken*m.rng.NormFloat64())))
	}
	return m.rates[id][sign]
}

// look draws the answer to every look, and which were looked at beforehand.
func (m *Maker) look(s *Stop, flowShare float64) error {
	d := &s.Pad.Model.Doc
	f, ok := fault.LookUp(s.Truth, d.Filter.Kind)
	if !ok {
		return fmt.Errorf("no fault %q", s.Truth)
	}
	if s.Truth == fault.FilterLoaded { // its signs are a sound pad's
		f.Signs, f.Air = nil, 0.02
	}
	s.signs, s.looked, s.usual = map[fault.Sign]bool{}, map[fault.Sign]bool{}, map[fault.Sign]bool{}
	air := m.rng.Float64() < m.rate(s.Truth, "air", math.Max(0.01, f.Air))
	flow := *s.read[plain(s.first)].Flow
	for i := range fault.Signs {
		sg := &fault.Signs[i]
		if !sg.On(d) || sg.Danger != "" {
			continue
		}
		p := sg.Base
		given, own := f.Signs[sg.ID]
		switch {
		case sg.ID == fault.WeakAll:
			p = 0.04
			if flowShare*float64(s.first.Speed)/3450 < 0.4 {
				p = 0.92
			}
		case sg.ID == fault.DeviceNoFlow:
			p = 0.03
			for _, dev := range []*pad.Device{d.Heater, d.Cell} {
				if dev != nil && flow.GPM() < dev.LeastGPM {
					p = 0.88
				}
			}
		case sg.Air && air:
			p = m.rate("", sg.ID, sg.GivenAir)
		case own:
			p = m.rate(s.Truth, sg.ID, given)
		}
		s.signs[sg.ID] = m.rng.Float64() < p
		// Most looks are made before anybody asks a screen; what shows with the fault
		// more often than not is looked at, however it comes out.
		usual := own && given > 0.5 || sg.Air && f.Air > 0.5 && sg.GivenAir > 0.5
		s.looked[sg.ID] = sg.Context || usual || m.rng.Float64() < 0.75
		if usual {
			s.usual[sg.ID] = true
		}
	}
	return nil
}
