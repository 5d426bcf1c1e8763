// Package learning is what a company's own outcomes teach: route frequencies, and how
// often the shown diagnoses were right.
package learning

import (
	"math"
	"sort"

	"fairlap/core/fault"
)

// shippedWeight is how many pool-visits of a company's own the shipped route
// frequencies are worth (ours: a technician's year on a fifty-pool route is five
// times that).
const shippedWeight = 500

// Learn gives each fault's prior per pool-visit from what the company confirmed:
// Dirichlet counts on top of the shipped frequencies. confirmed counts settled
// causes by fault; visits is how many visits were closed in all.
func Learn(confirmed map[fault.ID]int, visits int) map[fault.ID]float64 {
	out := make(map[fault.ID]float64, len(fault.Catalogue))
	for _, f := range fault.Catalogue {
		if f.ID != fault.Healthy {
			out[f.ID] = (f.Prior*shippedWeight + float64(confirmed[f.ID])) / (shippedWeight +
				float64(max(visits, confirmed[f.ID])))
		}
	}
	return out
}

// Said is a suspect as it was shown.
type Said struct {
	Fault fault.ID
	P     float64
}

// Settled is one visit whose cause was settled: what was shown, falling, and what
// it was (fault.Healthy when nothing was found).
type Settled struct {
	Said []Said
	Was  fault.ID
}

// Track is how often the shown diagnoses were right.
type Track struct {
	Settled, First, Three int
	Faults                []FaultTrack // most often settled first
	Bins                  []Bin        // of all shown chances, in tenths; empty ones left out
	// Brier is the mean over outcomes of the squared misses of all shown chances;
	// Calibration the mean distance between what was said and what came, by what was
	// said.
	Brier, Calibration float64
}

// FaultTrack is one cause's record.
type FaultTrack struct {
	Fault               fault.ID
	Times, First, Three int
}

// Bin is a tenth of the shown chances: how many, their mean, and how often they
// came true.
type Bin struct {
	N         int
	Said, Was float64
}

// Score weighs outcomes.
func Score(outcomes []Settled) Track {
	t := Track{Settled: len(outcomes)}
	by := map[fault.ID]*FaultTrack{}
	var bins [10]Bin
	for _, o := range outcomes {
		ft := by[o.Was]
		if ft == nil {
			ft = &FaultTrack{Fault: o.Was}
			by[o.Was] = ft
		}
		ft.Times++
		for i, s := range o.Said {
			hit := 0.0
			if s.Fault == o.Was {
				hit = 1
				if i == 0 {
					ft.First++
					t.First++
				}
				if i < 3 {
					ft.Three++
					t.Three++
				}
			}
			b := &bins[min(9, max(0, int(s.P*10)))]
			b.N++
			b.Said += s.P
			b.Was += hit
			t.Brier += (s.P - hit) * (s.P - hit)
		}
	}
	said := 0.0
	for _, b := range bins {
		if b.N == 0 {
			continue
		}
		t.Calibration += math.Abs(b.Said - b.Was)
		said += b.Said
		t.Bins = append(t.Bins, Bin{b.N, b.Said / float64(b.N), b.Was / float64(b.N)})
	}
	if said > 0 {
		t.Calibration /= said
	}
	if t.Settled > 0 {
		t.Brier /= float64(t.Settled)
	}
	for _, ft := range by {
		t.Faults = append(t.Faults, *ft)
	}
	sort.Slice(t.Faults, func(a, b int) bool {
		x, y := t.Faults[a], t.Faults[b]
		return x.Times > y.Times || x.Times == y.Times && x.Fault < y.Fault
	})
	return t
}
