package diagnosis

import (
	"math"
	"sort"

	"fairlap/core/fault"
)

// Check is a look worth taking.
type Check struct {
	Sign    fault.SignFact
	Bits    float64 // expected fall in entropy
	IfYes   Outcome
	IfNo    Outcome
	PerMins float64 // bits a minute
}

// Outcome is what an answer would leave on top.
type Outcome struct {
	Fault fault.ID
	Name  string
	P     float64
}

// worthBits is the least expected information that makes a check worth naming.
const worthBits = 0.05

// propose ranks the looks not yet taken by expected information a minute.
func (e *engine) propose(r *Result) {
	flows := make([]float64, len(r.Suspects))
	base := make([]float64, 0, len(r.Suspects)+1)
	for i := range r.Suspects {
		flows[i] = e.predicted(&r.Suspects[i])[0][flowMeter]
		base = append(base, r.Suspects[i].P)
	}
	base = append(base, r.Other)
	h0 := entropy(base)
	for _, f := range fault.Signs {
		if _, done := e.c.Signs[f.ID]; done || f.Context {
			continue
		}
		yes, no := make([]float64, len(base)), make([]float64, len(base))
		var pYes float64
		for i, p := range base {
			given := f.Base
			if i < len(r.Suspects) {
				given = e.signGiven(&r.Suspects[i], &f, flows[i])
			}
			yes[i], no[i] = p*given, p*(1-given)
			pYes += yes[i]
		}
		bits := h0 - pYes*entropy(yes) - (1-pYes)*entropy(no)
		if bits < worthBits {
			continue
		}
		r.Next = append(r.Next, Check{f, bits, top(r, yes), top(r, no), bits / f.Minutes})
	}
	sort.SliceStable(r.Next, func(a, b int) bool { return r.Next[a].PerMins > r.Next[b].PerMins })
	if len(r.Next) > 4 {
		r.Next = r.Next[:4]
	}
}

// entropy of unnormalised weights, in bits.
func entropy(w []float64) float64 {
	n, h := 0.0, 0.0
	for _, x := range w {
		n += x
	}
	if n <= 0 {
		return 0
	}
	for _, x := range w {
		if p := x / n; p > 0 {
			h -= p * math.Log2(p)
		}
	}
	return h
}

func top(r *Result, w []float64) Outcome {
	best, n := 0, 0.0
	for i, x := range w {
		n += x
		if i < len(r.Suspects) && x > w[best] {
			best = i
		}
	}
	s := &r.Suspects[best]
	return Outcome{s.Fault.ID, s.Fault.Name, w[best] / n}
}
