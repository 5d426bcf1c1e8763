package evaluation

import (
	"fmt"
	"math"
	"sort"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// Judge ranks the suspects of a stop from a set of meters and the looks made.
type Judge func(s *Stop, meters Meters, looks map[fault.Sign]bool) ([]diagnosis.Said, error)

// visible leaves of a reading what a set of meters shows.
func visible(r pad.Reading, meters Meters) pad.Reading {
	switch meters {
	case GaugeAndSpeed:
		r.Vacuum, r.Flow, r.Power = nil, nil, nil
	case GaugeAndWatts:
		r.Vacuum, r.Flow = nil, nil
	}
	return r
}

// Typical are the looks made beforehand with the fault's own usual signs as they
// usually are.
func (s *Stop) Typical() map[fault.Sign]bool {
	out := s.AsTheyFell()
	for id := range s.usual {
		out[id] = true
	}
	return out
}

// AsTheyFell are the looks made beforehand, every answer as chance had it.
func (s *Stop) AsTheyFell() map[fault.Sign]bool {
	out := map[fault.Sign]bool{}
	for id := range s.looked {
		if s.looked[id] {
			out[id] = s.signs[id]
		}
	}
	return out
}

// Atypical are the looks as they fell without the one sign that tells most.
func (s *Stop) Atypical() map[fault.Sign]bool {
	out := s.AsTheyFell()
	f, _ := fault.LookUp(s.Truth, s.Pad.Model.Doc.Filter.Kind)
	var most fault.Sign
	weight := 0.0
	for id, p := range f.Signs {
		if sg, ok := fault.LookUpSign(id); ok && math.Log(p/sg.Base) > weight {
			most, weight = id, math.Log(p/sg.Base)
		}
	}
	delete(out, most)
	return out
}

// First is how the pump was found, and what its meters said.
func (s *Stop) First() (pad.Operation, pad.Reading) { return s.first, s.read[plain(s.first)] }

func (s *Stop) asCase(meters Meters, looks map[fault.Sign]bool) diagnosis.Case {
	return diagnosis.Case{Model: s.Pad.Model, Load: s.Load, Signs: looks, Priors: s.priors,
		Readings: []diagnosis.Reading{{Reading: visible(s.read[plain(s.first)], meters)}}}
}

// Ours is the diagnosis.
func Ours(s *Stop, meters Meters, looks map[fault.Sign]bool) ([]diagnosis.Said, error) {
	r, err := diagnosis.Diagnose(s.asCase(meters, looks))
	if err != nil {
		return nil, fmt.Errorf("%s at %s: %w", s.Truth, s.Pad.Name, err)
	}
	out := make([]diagnosis.Said, len(r.Suspects))
	for i, x := range r.Suspects {
		out[i] = diagnosis.Said{Fault: x.Fault.ID, P: x.P}
	}
	return out, nil
}

// clean is what the clean line has for the stop's first reading.
func (s *Stop) clean() (pad.State, error) {
	return s.Pad.Model.Solver().Solve(s.first, pad.Effects{})
}

// FixedRule is what a card on the van's door says: over 10 psi clean the filter,
// else look at the baskets, then the impeller; on the clean line nothing is
// wrong. It gives no odds.
func FixedRule(s *Stop, _ Meters, _ map[fault.Sign]bool) ([]diagnosis.Said, error) {
	clean, err := s.clean()
	if err != nil {
		return nil, err
	}
	rise := (*s.read[plain(s.first)].Tank - clean.Tank).PSI()
	order := []fault.ID{fault.BasketFullFault, fault.SkimmerBlocked, fault.ImpellerClogged, fault.FilterLoaded}
	switch {
	case rise > 10:
		order = []fault.ID{fault.FilterLoaded, fault.BasketFullFault, fault.SkimmerBlocked, fault.ImpellerClogged}
	case math.Abs(rise) < 2:
		order = append([]fault.ID{fault.Healthy}, order...)
	}
	return s.completed(order), nil
}

// completed puts the faults that an order does not name after it, the commonest
// first.
func (s *Stop) completed(order []fault.ID) []diagnosis.Said {
	named := map[fault.ID]bool{}
	var out []diagnosis.Said
	for _, id := range order {
		named[id] = true
		out = append(out, diagnosis.Said{Fault: id})
	}
	var rest []fault.Fault
	for _, t := range troubles {
		if !named[t.id] && t.on(s.Pad.built) {
			f, _ := fault.LookUp(t.id, s.Pad.Model.Doc.Filter.Kind)
			rest = append(rest, f)
		}
	}
	sort.SliceStable(rest, func(a, b int) bool { return rest[a].Prior > rest[b].Prior })
	for _, f := range rest {
		out = append(out, diagnosis.Said{Fault: f.ID})
	}
	return out
}

// way is how a meter moves.
type way int

const (
	same way = iota
	up
	down
)

// moves is the trade's table: gauge and vacuum under each fault (common practice).
var moves = map[fault.ID][2]way{
	fault.FilterLoaded: {up, down}, fault.MediaFouled: {up, down}, fault.ReturnRestricted: {up, down}, fault.CheckValveStuck: {up, down},
	fault.BasketFullFault: {down, up}, fault.SkimmerBlocked: {down, up}, fault.SuctionLine: {down, up}, fault.SuctionValve: {down, up},
	fault.WaterLow: {down, down}, fault.AirLid: {down, down}, fault.AirInlet: {down, down}, fault.AirUpstream: {down, down},
	fault.ImpellerClogged: {down, down}, fault.ImpellerWorn: {down, down}, fault.PrimeLost: {down, down}, fault.BedChannelled: {down, up},
	fault.MotorHums: {down, down}, fault.NoPower: {down, down}, fault.Cavitation: {down, same},
}

// SignTable is a naive Bayes over the sign table, the gauge's and the vacuum's
// directions among the signs: no pad, no physics.
func SignTable(s *Stop, meters Meters, looks map[fault.Sign]bool) ([]diagnosis.Said, error) {
	clean, err := s.clean()
	if err != nil {
		return nil, err
	}
	r := visible(s.read[plain(s.first)], meters)
	moved := func(read, was units.Pressure, least units.Pressure) way {
		switch {
		case read > was+least:
			return up
		case read < was-least:
			return down
		}
		return same
	}
	weights := met(s.Pad, Evenly)
	if s.priors == nil {
		weights = met(s.Pad, ByRoute)
		weights[1] = 0.02 // loaded, of all visits
	}
	var out []diagnosis.Said
	var logs []float64
	for i, t := range troubles {
		if weights[i] == 0 {
			continue
		}
		f, _ := fault.LookUp(t.id, s.Pad.Model.Doc.Filter.Kind)
		l := math.Log(weights[i])
		for id, yes := range looks {
			sg, _ := fault.LookUpSign(id)
			p, own := f.Signs[id]
			switch {
			case sg.Air && !own:
				p = f.Air*sg.GivenAir + (1-f.Air)*sg.Base
			case !own:
				p = sg.Base
			}
			if !yes {
				p = 1 - p
			}
			l += math.Log(p)
		}
		agree := func(got, want way) {
			if got == want {
				l += math.Log(0.7)
			} else {
				l += math.Log(0.15)
			}
		}
		agree(moved(*r.Tank, clean.Tank, units.PSI(2)), moves[t.id][0])
		if r.Vacuum != nil {
			agree(moved(*r.Vacuum, clean.Vacuum, units.InHg(1)), moves[t.id][1])
		}
		out = append(out, diagnosis.Said{Fault: t.id})
		logs = append(logs, l)
	}
	most, sum := math.Inf(-1), 0.0
	for _, l := range logs {
		most = math.Max(most, l)
	}
	for i, l := range logs {
		out[i].P = math.Exp(l - most)
		sum += out[i].P
	}
	for i := range out {
		out[i].P /= sum
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].P > out[b].P })
	return out, nil
}
