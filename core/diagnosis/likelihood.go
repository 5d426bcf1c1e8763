package diagnosis

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/loads"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
)

// most is how many meters of one stop are weighed together.
const most = 24

// errorsOf is what is known of the errors of a stop's meters under one hypothesis:
// own to each meter, and shared. Readings of one stop share the errors of the
// calibration, of the network and of the gauge; a second speed adds what is left.
//
// cov is the covariance of read − foretold of the items, n×n in rows of most.
type errorsOf struct {
	n      int
	miss   [most]float64 // read − foretold
	alone  [most]float64 // variance of each meter's own noise
	cov    [most * most]float64
	prec   [most * most]float64 // its inverse
	root   [most * most]float64
	work   [most]float64
	within [most][2]float64 // what one deviation within its step moves each by, of two severities
}

var psi = float64(units.PSI(1))

// errorsUnder lays out the errors of all items under a hypothesis at a load.
// A stuck gauge's figures are left out: they say nothing of the pad.
func (s *survey) errorsUnder(e *errorsOf, h *hypothesis, t *table, load float64) {
	e.n = 0
	var text, doubt, off [most]float64
	var at [most]int // in s.items
	var by [most][errorParts]float64
	var f loads.Figures
	var within [2]loads.Figures
	cells := h.cells[:min(len(h.cells), len(within))]
	last := -1
	for k := range s.items {
		it := &s.items[k]
		if it.meter == tankMeter && h.gauge == fault.Stuck || e.n == most {
			continue
		}
		if it.reading != last {
			last = it.reading
			f = t.at(last, load+h.shift)
			for c := range cells {
				within[c] = cells[c].moves(last, load)
			}
		}
		p := f[it.meter]
		i := e.n
		e.n++
		at[i] = k
		noise := s.c.Model.Doc.Meters.Noise(pad.AllMeters[it.meter], p)
		alone := noise*noise + modelOwn*modelOwn*p*p
		sound := &s.sound[last]
		switch {
		case it.meter == powerMeter && h.effects.Stopped:
			by[i] = [errorParts]float64{}
		case it.meter == powerMeter: // as it is, with the flow, and with the flow's own error
			by[i] = [errorParts]float64{1, f[flowMeter], reachOf(f[flowMeter], sound[flowMeter])}
		default:
			by[i][0] = reachOf(p, sound[it.meter])
		}
		for c := range e.within[i] {
			e.within[i][c] = 0
			if c < len(cells) {
				e.within[i][c] = within[c][it.meter]
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
		text[i], e.alone[i], doubt[i] = p, alone, f[loads.PowerDoubt]
		e.miss[i] = it.value - p
	}
	for i := range e.n {
		a := &s.items[at[i]]
		for j := range i + 1 {
			b := &s.items[at[j]]
			v := e.within[i][0]*e.within[j][0] + e.within[i][1]*e.within[j][1]
			for x := range a.parts {
				for y := range b.parts {
					v += by[i][x] * by[j][y] * s.shared[a.part+x][b.part+y]
				}
			}
			if a.meter == b.meter {
				v += modelShared * modelShared * text[i] * text[j]
				switch a.meter {
				case powerMeter:
					v += doubt[i] * doubt[j]
				case tankMeter:
					v += s.gaugeShared(h, text[i], text[j]) + off[i]*off[j]
				}
			}
			if i == j {
				v += e.alone[i]
			}
			e.cov[i*most+j], e.cov[j*most+i] = v, v
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

// weigh is the log density of the misses: a normal with the shared errors, in which
// each meter's own noise may be wider than usual. The wider ones are taken in
// turn, the one that stands out most from all the others first; what one of them
// explains no longer speaks against its neighbours.
func (e *errorsOf) weigh(mayStray bool) float64 {
	n := e.n
	if n == 0 {
		return 0
	}
	logDet, ok := e.invert()
	if !ok {
		return math.Inf(-1)
	}
	pulled := e.work[:n] // precision times miss
	q := 0.0
	for i := range n {
		sum := 0.0
		for j := range n {
			sum += e.prec[i*most+j] * e.miss[j]
		}
		pulled[i] = sum
		q += sum * e.miss[i]
	}
	out := -0.5*(q+logDet) - float64(n)*logRootTwoPi
	if !mayStray {
		return out
	}
	var done [most]bool
	gains := 1.0
	for range n {
		at, far := -1, -1.0
		for i := range n {
			if !done[i] {
				if z := pulled[i] * pulled[i] / e.prec[i*most+i]; z > far {
					at, far = i, z
				}
			}
		}
		done[at] = true
		p := e.prec[at*most+at]
		gain, wider := strays(far, p, e.alone[at])
		if gain > 1e10 {
			out += math.Log(gain)
		} else {
			gains *= gain
		}
		if wider == 0 {
			continue
		}
		// The meter's own noise taken wider: a rank-one change of the precision.
		k := wider / (1 + wider*p)
		var row [most]float64
		copy(row[:n], e.prec[at*most:at*most+n])
		pull := pulled[at]
		for i := range n {
			pulled[i] -= k * row[i] * pull
			for j := range n {
				e.prec[i*most+j] -= k * row[i] * row[j]
			}
		}
	}
	return out + math.Log(gains)
}

const logRootTwoPi = 0.91893853320467274178

// strays is what a meter whose miss stands z² off all the others' gains by being
// hasty or wrong, and the variance to be added then; p is its precision given the
// others, own its own noise.
func strays(z2, p, alone float64) (gain, wider float64) {
	gain = 1 - hasty - wild
	best := gain
	for _, x := range [...]struct{ share, times float64 }{{hasty, hastyWide}, {wild, wildWide}} {
		add := alone * (x.times*x.times - 1)
		shrink := 1 / (1 + add*p)
		g := x.share * math.Sqrt(shrink) * math.Exp(math.Min(mostGain, 0.5*z2*(1-shrink)))
		gain += g
		if g > best {
			best, wider = g, add
		}
	}
	return gain, wider
}

// mostGain is the log of a gain at which nothing is left to win: thirty-seven deviations.
const mostGain = 700

// invert turns cov into its inverse by Cholesky, in one fixed order, so that the
// server and the browser come to the same bits. ok is false when it is not positive.
func (e *errorsOf) invert() (logDet float64, ok bool) {
	n := e.n
	r := &e.root
	det := 1.0
	for i := range n {
		for j := range i + 1 {
			sum := e.cov[i*most+j]
			for k := range j {
				sum -= r[i*most+k] * r[j*most+k]
			}
			if i == j {
				if !(sum > 0) {
					return 0, false
				}
				if det *= sum; det < 1e-200 || det > 1e200 {
					logDet += math.Log(det)
					det = 1
				}
				r[i*most+i] = math.Sqrt(sum)
			} else {
				r[i*most+j] = sum / r[j*most+j]
			}
		}
	}
	logDet += math.Log(det)
	// The root's inverse in place, then its square.
	for i := range n {
		r[i*most+i] = 1 / r[i*most+i]
		for j := range i {
			sum := 0.0
			for k := j; k < i; k++ {
				sum -= r[i*most+k] * r[k*most+j]
			}
			r[i*most+j] = sum * r[i*most+i]
		}
	}
	for i := range n {
		for j := range i + 1 {
			sum := 0.0
			for k := i; k < n; k++ {
				sum += r[k*most+i] * r[k*most+j]
			}
			e.prec[i*most+j], e.prec[j*most+i] = sum, sum
		}
	}
	return logDet, true
}

// metersLog is the log likelihood of every meter, and of the signs that follow from
// the flow, under a hypothesis at a load.
func (s *survey) metersLog(e *errorsOf, h *hypothesis, t *table, load float64) float64 {
	sum := 0.0
	if _, asked := s.c.Signs[fault.WeakAll]; asked || s.asksLamp() {
		sum = s.stateSigns(h.cause, t.at(0, load+h.shift)[flowMeter])
	}
	if len(s.items) == 0 {
		return sum
	}
	s.errorsUnder(e, h, t, load)
	// At standstill there is nothing that a hasty eye could misread.
	sum += e.weigh(!h.effects.Stopped)
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
		sum += -0.5*z*z - math.Log(stuckSD*psi) - logRootTwoPi
	}
	return sum
}

// sigma is one deviation of an item under a hypothesis at a load, everything
// counted.
func (s *survey) sigmas(e *errorsOf, h *hypothesis, t *table, load float64) []float64 {
	s.errorsUnder(e, h, t, load)
	out := make([]float64, e.n)
	for i := range out {
		out[i] = math.Sqrt(e.cov[i*most+i])
	}
	return out
}
