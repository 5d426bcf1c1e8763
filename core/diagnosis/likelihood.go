package diagnosis

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/foretell"
	"fairlap/core/loads"
	"fairlap/core/misses"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

var psi = float64(units.PSI(1))

// errorsUnder lays out the errors of all items under a hypothesis at a load.
// A stuck gauge's figures are left out: they say nothing of the pad.
func (s *survey) errorsUnder(e *misses.Errors, h *hypothesis, t *foretell.Table, load float64) {
	e.N = 0
	var text, doubt, off [misses.Most]float64
	var at [misses.Most]int // in s.items
	var by [misses.Most][errorParts]float64
	var f loads.Figures
	var within [2]loads.Figures
	cells := h.cells[:min(len(h.cells), len(within))]
	last := -1
	for k := range s.items {
		it := &s.items[k]
		if it.meter == tankMeter && h.gauge == fault.Stuck || e.N == misses.Most {
			continue
		}
		if it.reading != last {
			last = it.reading
			f = t.At(last, load+h.shift)
			for c := range cells {
				within[c] = cells[c].moves(last, load)
			}
		}
		p := f[it.meter]
		i := e.N
		e.N++
		at[i] = k
		noise := s.c.Model.Doc.Meters.Noise(pad.AllMeters[it.meter], p)
		alone := noise*noise + modelOwn*modelOwn*p*p
		sound := &s.sound[last]
		switch {
		case it.meter == powerMeter && h.effects.Stopped:
		case it.meter == powerMeter: // as it is, with the flow, and with the flow's own error
			off[i] = s.wattSlope[last] * (f[flowMeter] - float64(s.expected[last].Clean.Flow))
			by[i] = [errorParts]float64{1, f[flowMeter], reachOf(f[flowMeter], sound[flowMeter])}
		default:
			by[i][0] = reachOf(p, sound[it.meter])
		}
		for c := range e.Within[i] {
			e.Within[i][c] = 0
			if c < len(cells) {
				e.Within[i][c] = within[c][it.meter]
			}
		}
		if it.meter == tankMeter {
			if h.effects.Air > 0 {
				x, least := airShare*p, airLeast*psi
				alone += x*x + least*least
			}
			if h.gauge == fault.Plugged {
				p *= pluggedMean
				alone += pluggedSD * pluggedSD * p * p / pluggedMean / pluggedMean
			}
			if q := sound[flowMeter]; q > 0 {
				off[i] = curveShape * p * (1 - f[flowMeter]/q)
			}
		}
		text[i], e.Alone[i], doubt[i] = p, alone, f[loads.PowerDoubt]
		e.Miss[i] = it.value - p
	}
	for i := range e.N {
		a := &s.items[at[i]]
		for j := range i + 1 {
			b := &s.items[at[j]]
			v := e.Within[i][0]*e.Within[j][0] + e.Within[i][1]*e.Within[j][1]
			for x := range a.parts {
				for y := range b.parts {
					v += by[i][x] * by[j][y] * s.shared[a.part+x][b.part+y]
				}
			}
			if a.meter == b.meter {
				v += modelShared * modelShared * text[i] * text[j]
				switch a.meter {
				case powerMeter:
					v += doubt[i]*doubt[j] + off[i]*off[j]
				case tankMeter:
					v += s.gaugeShared(h, text[i], text[j]) + off[i]*off[j]
				}
			}
			if i == j {
				v += e.Alone[i]
			}
			e.Cov[i*misses.Most+j], e.Cov[j*misses.Most+i] = v, v
		}
	}
}

// errorParts is the most parts that an item's calibration error is made of.
const errorParts = 3

// share lays out how the calibration's errors go together, once a stop: each item's
// error is a sum of parts whose sizes depend on the hypothesis, and whose covariances
// do not.
func (s *survey) share() {
	var parts [][plumbing.DoubtCount]float64
	for i := range s.items {
		it := &s.items[i]
		d := &s.doubts[it.reading]
		it.part, it.parts = len(parts), 1
		if it.meter != powerMeter {
			var x [plumbing.DoubtCount]float64
			for j := range x {
				x[j] = d.By[j][it.meter]
			}
			parts = append(parts, x)
			continue
		}
		it.parts = errorParts
		var still, flow, follows [plumbing.DoubtCount]float64
		for j := range still {
			still[j] = d.Power(j, 0, 0)
			flow[j] = d.Power(j, 1, 0) - still[j]
			follows[j] = d.Power(j, 0, d.By[j][flowMeter]) - still[j]
		}
		parts = append(parts, still, flow, follows)
	}
	s.shared = make([][]float64, len(parts))
	for i := range parts {
		s.shared[i] = make([]float64, len(parts))
		for j := range parts {
			for k := range parts[i] {
				s.shared[i][j] += parts[i][k] * parts[j][k]
			}
		}
	}
}

// reachOf is how much of the calibration's doubt at the sound pad's figure is left
// at another figure.
func reachOf(text, sound float64) float64 {
	if sound == 0 {
		return 0
	}
	return math.Max(0, math.Min(doubtMost, text/sound))
}

// gaugeShared is the covariance of two figures of one tank gauge.
func (s *survey) gaugeShared(h *hypothesis, a, b float64) float64 {
	v := gaugeSlack * gaugeSlack * psi * psi
	switch h.gauge {
	case fault.Offset:
		x := offsetSD[h.step] * psi
		v += x * x
	case fault.Scale:
		v += scaleSD[h.step] * scaleSD[h.step] * a * b
	}
	return v
}

// metersLog is the log likelihood of every meter, and of the signs that follow from
// the flow, under a hypothesis at a load.
func (s *survey) metersLog(e *misses.Errors, h *hypothesis, t *foretell.Table, load float64) float64 {
	sum := 0.0
	if _, asked := s.c.Signs[fault.WeakAll]; asked || s.asksLamp() {
		sum = s.stateSigns(h.cause, t.At(0, load+h.shift)[flowMeter])
	}
	if len(s.items) == 0 {
		return sum
	}
	s.errorsUnder(e, h, t, load)
	// At standstill there is nothing that a hasty eye could misread.
	if h.effects.Stopped {
		sum += e.Weigh()
	} else {
		sum += e.Weigh(strayed[:]...)
	}
	if h.gauge == fault.Stuck {
		sum += s.stuckLog()
	}
	return sum
}

func (s *survey) asksLamp() bool { _, ok := s.c.Signs[fault.DeviceNoFlow]; return ok }

// stuckLog is the likelihood of a needle that shows the same figure always, at any
// figure alike.
func (s *survey) stuckLog() float64 {
	sum, first, n := 0.0, math.NaN(), 0
	for _, r := range s.readings {
		if r.Tank == nil {
			continue
		}
		n++
		if math.IsNaN(first) {
			first = float64(*r.Tank)
			sum -= math.Log(stuckMost * psi)
			continue
		}
		z := (float64(*r.Tank) - first) / (stuckSD * psi)
		sum += -0.5*z*z - math.Log(stuckSD*psi) - misses.LogRootTwoPi
	}
	return sum
}

// sigma is one deviation of an item under a hypothesis at a load, everything
// counted.
func (s *survey) sigmas(e *misses.Errors, h *hypothesis, t *foretell.Table, load float64) []float64 {
	s.errorsUnder(e, h, t, load)
	out := make([]float64, e.N)
	for i := range out {
		out[i] = math.Sqrt(e.Cov[i*misses.Most+i])
	}
	return out
}

// strayed are the ways that an eye misreads a meter.
var strayed = [...]misses.Stray{{Share: hasty, Times: hastyWide}, {Share: wild, Times: wildWide}}
