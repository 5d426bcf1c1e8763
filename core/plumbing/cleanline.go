package plumbing

import (
	"math"

	"fairlap/core/pad"
)

// Reversal is a meter that reads more at a lower speed: tank gauge, flow and power all rise
// with the speed on one pad in one way of running.
type Reversal struct {
	Slow, Fast int // of the readings
	Meter      pad.Meter
}

// scatters is how many of a meter's deviations two readings of it may be the wrong way round,
// and a reading may stand off its own clean line.
const scatters = 3

// Reversed finds the worst reversal among readings of a pad on Filter; nil for none. Two
// readings of a meter each have its noise.
func Reversed(doc *pad.Document, rows []pad.Reading) *Reversal {
	var worst *Reversal
	most := float64(scatters)
	for i := range rows {
		for j := range rows {
			if rows[i].Speed >= rows[j].Speed {
				continue
			}
			for _, m := range []pad.Meter{pad.MeterTank, pad.MeterFlow, pad.MeterPower} {
				slow, one := rows[i].Value(m)
				fast, two := rows[j].Value(m)
				if !one || !two {
					continue
				}
				noise := math.Hypot(doc.Meters.Noise(m, slow), doc.Meters.Noise(m, fast))
				if off := (slow - fast) / noise; off > most {
					most, worst = off, &Reversal{i, j, m}
				}
			}
		}
	}
	return worst
}

// Refused is the reading of a clean line that its own fit stands too far from to keep it; nil
// where it may be kept.
func (f *Fit) Refused() *Residual {
	if f == nil {
		return nil
	}
	if f.Odd != nil {
		return &f.Odd.Residual
	}
	var worst *Residual
	for i := range f.Residuals {
		r := &f.Residuals[i]
		if off := math.Abs(r.Standardised); off > scatters && (worst == nil || off > math.Abs(worst.Standardised)) {
			worst = r
		}
	}
	return worst
}
