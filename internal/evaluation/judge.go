package evaluation

import (
	"fmt"
	"math"
	"sort"

	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/learning"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// Seen is what a judge is given: a set of meters, at how many speeds, and the looks
// made.
type Seen struct {
	Meters Meters
	Speeds int
	Looks  map[fault.Sign]bool
}

// Judge ranks the suspects of a stop.
type Judge func(s *Stop, seen Seen) ([]learning.Said, error)

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

func (s *Stop) asCase(seen Seen) diagnosis.Case {
	c := diagnosis.Case{Model: s.Pad.Model, Load: s.Load, Signs: seen.Looks, Priors: s.priors,
		Readings: []diagnosis.Reading{{Reading: visible(s.read[plain(s.first)], seen.Meters)}}}
	if r, ok := s.read[s.other()]; ok && seen.Speeds > 1 {
		c.Readings = append(c.Readings, diagnosis.Reading{Reading: visible(r, seen.Meters)})
	}
	return c
}

// other is a speed well away from the first.
func (s *Stop) other() running {
	if s.first.Speed > 2200 {
		return running{1750, pad.SetFilter}
	}
	return running{3450, pad.SetFilter}
}

// Ours is the diagnosis. Two at once are said as one row; the second name follows
// the first where only single faults are counted.
func Ours(s *Stop, seen Seen) ([]learning.Said, error) {
	r, err := diagnosis.Diagnose(s.asCase(seen))
	if err != nil {
		return nil, fmt.Errorf("%s at %s: %w", s.Truth, s.Pad.Name, err)
	}
	return singles(r), nil
}

// singles are the rows of an answer by their first name, each name once.
func singles(r *diagnosis.Result) []learning.Said {
	var out []learning.Said
	at := map[fault.ID]int{}
	for _, x := range r.Suspects {
		if i, ok := at[x.Fault.ID]; ok {
			out[i].P += x.P
			continue
		}
		at[x.Fault.ID] = len(out)
		out = append(out, learning.Said{Fault: x.Fault.ID, P: x.P})
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].P > out[b].P })
	return out
}

// BothFound tells whether both of two at once stand in the first three rows, and
// whether a misfit was called.
func BothFound(s *Stop, seen Seen) (bool, error) {
	r, err := diagnosis.Diagnose(s.asCase(seen))
	if err != nil {
		return false, fmt.Errorf("%s and %s at %s: %w", s.Truth, s.Also, s.Pad.Name, err)
	}
	named := map[fault.ID]bool{}
	for i, x := range r.Suspects {
		if i > 2 {
			break
		}
		named[x.Fault.ID] = true
		for _, w := range x.With {
			named[w.Fault.ID] = true
		}
	}
	return named[s.Truth] && named[s.Also], nil
}

// Accused tells whether an honest meter is called the odd one.
func Accused(s *Stop, seen Seen) (bool, error) {
	r, err := diagnosis.Diagnose(s.asCase(seen))
	if err != nil {
		return false, err
	}
	return r.Misfit != nil && !(r.Misfit.Meter == pad.MeterTank && s.gauge != ""), nil
}

// clean is what the clean line has for the stop's first reading.
func (s *Stop) clean() (plumbing.State, error) {
	return s.Pad.Model.Solver().Solve(s.first, plumbing.Effects{})
}

// FixedRule is what a card on the van's door says: over 10 psi clean the filter,
// else look at the baskets, then the impeller; on the clean line nothing is
// wrong. It gives no odds.
func FixedRule(s *Stop, _ Seen) ([]learning.Said, error) {
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

// CheapFirst looks at whatever costs least, in one order at every stop: a careful
// technician without a gauge.
func CheapFirst(s *Stop, _ Seen) ([]learning.Said, error) {
	return s.completed(nil), nil
}

// GaugeCard is the trade's card by the way the gauge went: up, down or unsteady, each
// with its own order, what it does not name by the cheapest look.
func GaugeCard(s *Stop, seen Seen) ([]learning.Said, error) {
	clean, err := s.clean()
	if err != nil {
		return nil, err
	}
	rise := (*s.read[plain(s.first)].Tank - clean.Tank).PSI()
	var order []fault.ID
	switch {
	case s.signs[fault.NeedleBounces]:
		order = []fault.ID{
			fault.WaterLow,
			fault.AirLid,
			fault.AirInlet,
			fault.AirUpstream,
			fault.PrimeLost,
			fault.ImpellerClogged,
		}
	case rise > 2:
		order = []fault.ID{
			fault.FilterLoaded,
			fault.ReturnRestricted,
			fault.MediaFouled,
			fault.ValvePosition,
			fault.GaugeBad,
			fault.CheckValveStuck,
		}
	case rise < -2:
		order = []fault.ID{
			fault.BasketFullFault,
			fault.SkimmerBlocked,
			fault.WaterLow,
			fault.SuctionValve,
			fault.AirLid,
			fault.ImpellerClogged,
			fault.PrimeLost,
			fault.SuctionLine,
			fault.ImpellerWorn,
		}
	default:
		order = []fault.ID{fault.Healthy}
	}
	return s.completed(order), nil
}

// completed puts the faults that an order does not name after it, the commonest
// first.
func (s *Stop) completed(order []fault.ID) []learning.Said {
	named := map[fault.ID]bool{}
	var out []learning.Said
	for _, id := range order {
		named[id] = true
		out = append(out, learning.Said{Fault: id})
	}
	var rest []fault.Fault
	for _, t := range troubles {
		if !named[t.id] && t.on(s.Pad.built) {
			f, _ := fault.LookUp(t.id, s.Pad.Model.Doc.Filter.Kind)
			rest = append(rest, f)
		}
	}
	if len(order) == 0 || order[0] != fault.FilterLoaded && len(order) < 4 {
		sort.SliceStable(rest, func(a, b int) bool { return trying(rest[a]) < trying(rest[b]) })
	} else {
		sort.SliceStable(rest, func(a, b int) bool { return rest[a].Prior > rest[b].Prior })
	}
	for _, f := range rest {
		out = append(out, learning.Said{Fault: f.ID})
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
	fault.FilterLoaded: {
		up,
		down,
	}, fault.MediaFouled: {up, down}, fault.ReturnRestricted: {up, down}, fault.CheckValveStuck: {up, down},
	fault.BasketFullFault: {
		down,
		up,
	}, fault.SkimmerBlocked: {down, up}, fault.SuctionLine: {down, up}, fault.SuctionValve: {down, up},
	fault.WaterLow: {
		down,
		down,
	}, fault.AirLid: {down, down}, fault.AirInlet: {down, down}, fault.AirUpstream: {down, down},
	fault.ImpellerClogged: {
		down,
		down,
	}, fault.ImpellerWorn: {down, down}, fault.PrimeLost: {down, down}, fault.BedChannelled: {down, up},
	fault.MotorHums: {down, down}, fault.NoPower: {down, down}, fault.Cavitation: {down, same},
}

// SignTable is a naive Bayes over the sign table, the gauge's and the vacuum's
// directions among the signs: no pad, no physics.
func SignTable(s *Stop, seen Seen) ([]learning.Said, error) {
	clean, err := s.clean()
	if err != nil {
		return nil, err
	}
	r := visible(s.read[plain(s.first)], seen.Meters)
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
	var out []learning.Said
	var logs []float64
	for i, t := range troubles {
		if weights[i] == 0 {
			continue
		}
		f, _ := fault.LookUp(t.id, s.Pad.Model.Doc.Filter.Kind)
		l := math.Log(weights[i])
		for id, yes := range seen.Looks {
			sg, _ := fault.LookUpSign(id)
			p, listed := f.Signs[id]
			switch {
			case sg.Air && !listed:
				p = f.Air*sg.GivenAir + (1-f.Air)*sg.Base
			case !listed:
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
		out = append(out, learning.Said{Fault: t.id})
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
