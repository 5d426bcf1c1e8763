// Package misses weighs how far a stop's meters stand from what was foretold of them: a normal
// with errors that they share, in which each meter's own noise may be wider than usual.
package misses

import "math"

// Most is how many meters of one stop are weighed together.
const Most = 24

// Stray is a share of readings whose own noise is so many times as wide.
type Stray struct{ Share, Times float64 }

// Errors is what is known of the errors of a stop's meters under one hypothesis:
// own to each meter, and shared. Readings of one stop share the errors of the
// calibration, of the network and of the gauge; a second speed adds what is left.
//
// Cov is the covariance of read − foretold of the items, n×n in rows of Most.
type Errors struct {
	N      int
	Miss   [Most]float64 // read − foretold
	Alone  [Most]float64 // variance of each meter's own noise
	Cov    [Most * Most]float64
	Prec   [Most * Most]float64 // its inverse
	root   [Most * Most]float64
	work   [Most]float64
	Within [Most][2]float64 // what one deviation within its step moves each by, of two severities
}

// Weigh is the log density of the misses: a normal with the shared errors, in which
// each meter's own noise may be wider than usual. The wider ones are taken in
// turn, the one that stands out Most from all the others first; what one of them
// explains no longer speaks against its neighbours.
func (e *Errors) Weigh(wider ...Stray) float64 {
	n := e.N
	if n == 0 {
		return 0
	}
	logDet, ok := e.Invert()
	if !ok {
		return math.Inf(-1)
	}
	pulled := e.work[:n] // precision times miss
	q := 0.0
	for i := range n {
		sum := 0.0
		for j := range n {
			sum += e.Prec[i*Most+j] * e.Miss[j]
		}
		pulled[i] = sum
		q += sum * e.Miss[i]
	}
	out := -0.5*(q+logDet) - float64(n)*LogRootTwoPi
	if len(wider) == 0 {
		return out
	}
	var done [Most]bool
	gains := 1.0
	for range n {
		at, far := -1, -1.0
		for i := range n {
			if !done[i] {
				if z := pulled[i] * pulled[i] / e.Prec[i*Most+i]; z > far {
					at, far = i, z
				}
			}
		}
		done[at] = true
		p := e.Prec[at*Most+at]
		gain, add := Strays(far, p, e.Alone[at], wider)
		if gain > 1e10 {
			out += math.Log(gain)
		} else {
			gains *= gain
		}
		if add == 0 {
			continue
		}
		// The meter's own noise taken wider: a rank-one change of the precision.
		k := add / (1 + add*p)
		var row [Most]float64
		copy(row[:n], e.Prec[at*Most:at*Most+n])
		pull := pulled[at]
		for i := range n {
			pulled[i] -= k * row[i] * pull
			for j := range n {
				e.Prec[i*Most+j] -= k * row[i] * row[j]
			}
		}
	}
	return out + math.Log(gains)
}

const LogRootTwoPi = 0.91893853320467274178

// Strays is what a meter whose miss stands z² off all the others' gains by being
// hasty or wrong, and the variance to be added then; p is its precision given the
// others, own its own noise.
func Strays(z2, p, alone float64, all []Stray) (gain, wider float64) {
	gain = 1
	for _, x := range all {
		gain -= x.Share
	}
	best := gain
	for _, x := range all {
		add := alone * (x.Times*x.Times - 1)
		shrink := 1 / (1 + add*p)
		g := x.Share * math.Sqrt(shrink) * math.Exp(math.Min(mostGain, 0.5*z2*(1-shrink)))
		gain += g
		if g > best {
			best, wider = g, add
		}
	}
	return gain, wider
}

// mostGain is the log of a gain at which nothing is left to win: thirty-seven deviations.
const mostGain = 700

// Invert turns cov into its inverse by Cholesky, in one fixed order, so that the
// server and the browser come to the same bits. ok is false when it is not positive.
func (e *Errors) Invert() (logDet float64, ok bool) {
	n := e.N
	r := &e.root
	det := 1.0
	for i := range n {
		for j := range i + 1 {
			sum := e.Cov[i*Most+j]
			for k := range j {
				sum -= r[i*Most+k] * r[j*Most+k]
			}
			if i == j {
				if !(sum > 0) {
					return 0, false
				}
				if det *= sum; det < 1e-200 || det > 1e200 {
					logDet += math.Log(det)
					det = 1
				}
				r[i*Most+i] = math.Sqrt(sum)
			} else {
				r[i*Most+j] = sum / r[j*Most+j]
			}
		}
	}
	logDet += math.Log(det)
	// The root's inverse in place, then its square.
	for i := range n {
		r[i*Most+i] = 1 / r[i*Most+i]
		for j := range i {
			sum := 0.0
			for k := j; k < i; k++ {
				sum -= r[i*Most+k] * r[k*Most+j]
			}
			r[i*Most+j] = sum * r[i*Most+i]
		}
	}
	for i := range n {
		for j := range i + 1 {
			sum := 0.0
			for k := i; k < n; k++ {
				sum += r[k*Most+i] * r[k*Most+j]
			}
			e.Prec[i*Most+j], e.Prec[j*Most+i] = sum, sum
		}
	}
	return logDet, true
}

// Far is how far another's misses are by these errors, in squared deviations; these are inverted.
func (e *Errors) Far(of *Errors) float64 {
	q := 0.0
	for i := range of.N {
		for j := range of.N {
			q += of.Miss[i] * e.Prec[i*Most+j] * of.Miss[j]
		}
	}
	return q
}
