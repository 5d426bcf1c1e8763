// Package standin simulates the world outside for demos: the pads themselves.
package standin

import (
	"fmt"
	"hash/fnv"
	"math/rand/v2"

	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// Pad is a pad as it really is, which no record knows.
type Pad struct {
	Model   *plumbing.Model // with its true parameters
	Effects plumbing.Effects
	RPM     float64 // it is running at
	Signs   map[fault.Sign]bool
}

// Meters answers for a town of pads.
type Meters struct {
	Pads map[string]*Pad // by street
	Seed uint64
}

// Read reads a pad at a speed (0: the one it runs at) with meter noise; the same
// question gets the same answer.
func (m *Meters) Read(street string, rpm float64) (judge.TypedReading, map[string]bool, bool) {
	p, ok := m.Pads[street]
	if !ok {
		return judge.TypedReading{}, nil, false
	}
	if rpm <= 0 {
		rpm = p.RPM
	}
	h := fnv.New64a()
	fmt.Fprintf(h, "%s %.0f", street, rpm)
	r, err := p.Type(rpm, rand.New(rand.NewPCG(m.Seed, h.Sum64())))
	if err != nil {
		return judge.TypedReading{}, nil, false
	}
	signs := make(map[string]bool, len(p.Signs))
	for id, yes := range p.Signs {
		signs[string(id)] = yes
	}
	return r, signs, true
}

// Type reads the meters that the pad has and writes them down as a technician
// would: gauge to half a psi, vacuum to half an inch, flow to a gallon, watts to five.
func (p *Pad) Type(rpm float64, rng *rand.Rand) (judge.TypedReading, error) {
	st, err := p.Model.Solver().Solve(pad.Operation{Speed: units.Speed(rpm)}, p.Effects)
	if err != nil {
		return judge.TypedReading{}, err
	}
	meters := p.Model.Doc.Meters
	read := func(m pad.Meter) float64 {
		v := st.Value(m)
		return v + 0.6*meters.Noise(m, v)*rng.NormFloat64()
	}
	step := func(v, by float64) string {
		n := float64(int(v/by+0.5)) * by
		return fmt.Sprintf("%g", max(0, n))
	}
	out := judge.TypedReading{
		Speed: fmt.Sprintf("%.0f", rpm),
		Tank:  step(units.Pressure(read(pad.MeterTank)).PSI(), 0.5),
	}
	if meters.HasVacuum {
		out.Vacuum = step(units.Pressure(read(pad.MeterVacuum)).InHg(), 0.5)
	}
	if meters.HasFlow {
		out.Flow = step(units.Flow(read(pad.MeterFlow)).GPM(), 1)
	}
	if meters.HasPower {
		out.Power = step(read(pad.MeterPower), 5)
	}
	return out, nil
}
