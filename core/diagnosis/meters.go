package diagnosis

import (
	"math"

	"gonum.org/v1/gonum/floats"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/units"
)

const flowMeter, tankMeter = 2, 0 // indices in pad.AllMeters

func (e *engine) sigma(reading, meter int, predicted float64, airy bool) float64 {
	s := e.c.Model.Doc.Meters.Noise(pad.AllMeters[meter], predicted)
	v := s*s + e.spread[reading][meter]*e.spread[reading][meter] + modelShare*modelShare*predicted*predicted
	if airy && meter == tankMeter {
		x := airShare * predicted
		v += x*x + float64(units.PSI(0.4))*float64(units.PSI(0.4))
	}
	return math.Sqrt(v)
}

// noiseParts is the contaminated normal of a meter: most readings are as good as
// the meter, some are hasty, one in a hundred is simply wrong (ours).
var noiseParts = [...]struct{ share, width float64 }{{0.90, 1}, {0.09, 2.5}, {0.01, 10}}

// negligible is the exponent from which a part of the mixture adds nothing to the
// wider ones.
const negligible = 40

// noiseParted is the mixture's density of a miss in deviations, times √2π.
func noiseParted(z float64) float64 {
	p := 0.0
	for _, n := range noiseParts {
		u := z / n.width
		if e := 0.5 * u * u; e < negligible {
			p += n.share / n.width * math.Exp(-e)
		}
	}
	return p
}

// noiseLog is the log density of a meter's miss under that mixture.
func noiseLog(x, sigma float64) float64 {
	z := x / sigma
	p := noiseParted(z)
	if p == 0 { // beyond the widest part: its tail, in logs
		n := noiseParts[len(noiseParts)-1]
		return math.Log(n.share/n.width) - 0.5*z*z/n.width/n.width - math.Log(sigma) - logRootTwoPi
	}
	return math.Log(p/sigma) - logRootTwoPi
}

const logRootTwoPi = 0.91893853320467274178

// bias nodes of the tank gauge, shared by all its readings.
type bias struct{ at, logW, w float64 }

var soundBias = func() []bias {
	var out []bias
	for _, z := range []float64{-2, -1, 0, 1, 2} {
		out = append(out, bias{at: float64(units.PSI(usualBias)) * z, logW: -0.5 * z * z})
	}
	return normalise(out)
}()

var badBias = func() []bias {
	var out []bias
	for p := -24.0; p <= 24; p++ {
		if math.Abs(p) >= 1.5 {
			out = append(out, bias{at: float64(units.PSI(p)), logW: -math.Abs(p) / 8})
		}
	}
	return normalise(out)
}()

func normalise(b []bias) []bias {
	var l []float64
	for _, x := range b {
		l = append(l, x.logW)
	}
	n := floats.LogSumExp(l)
	for i := range b {
		b[i].logW -= n
		b[i].w = math.Exp(b[i].logW)
	}
	return b
}

// metersLog is the log likelihood of every meter under a variant at a load.
func (e *engine) metersLog(v *variant, load float64) float64 {
	airy := v.effects.Air > 0
	sum := 0.0
	var tank []float64 // read − predicted, and sigma, in pairs
	for r := range e.ops {
		p := v.table.at(r, load+v.shift)
		if r == 0 {
			sum += e.stateSigns(p[flowMeter])
		}
		if r >= len(e.c.Readings) {
			break
		}
		for k, m := range pad.AllMeters {
			x, ok := e.c.Readings[r].Value(m)
			if !ok {
				continue
			}
			s := e.sigma(r, k, p[k], airy)
			if k == tankMeter {
				tank = append(tank, x-p[k], s)
				continue
			}
			sum += noiseLog(x-p[k], s)
		}
	}
	if len(tank) == 0 {
		return sum
	}
	if fault.Catalogue[v.fault].Kind == fault.Gauge {
		return sum + floats.LogSumExp([]float64{
			math.Log(1-stuckShare) + tankLog(tank, badBias), math.Log(stuckShare) + e.stuckLog()})
	}
	return sum + tankLog(tank, soundBias)
}

// tankLog is the log likelihood of the tank's readings over a gauge's offset that
// they share: summed as it is, and in logs where that would underflow.
func tankLog(tank []float64, nodes []bias) float64 {
	sum, scale := 0.0, 1.0
	for i := 1; i < len(tank); i += 2 {
		scale *= tank[i]
	}
	for _, b := range nodes {
		p := b.w
		for i := 0; i < len(tank); i += 2 {
			p *= noiseParted((tank[i] - b.at) / tank[i+1])
		}
		sum += p
	}
	if sum > 1e-200 && scale > 0 {
		return math.Log(sum/scale) - float64(len(tank)/2)*logRootTwoPi
	}
	best, acc := math.Inf(-1), 0.0
	for _, b := range nodes {
		l := b.logW
		for i := 0; i < len(tank); i += 2 {
			l += noiseLog(tank[i]-b.at, tank[i+1])
		}
		if l > best {
			acc = acc*math.Exp(best-l) + 1
			best = l
		} else {
			acc += math.Exp(l - best)
		}
	}
	return best + math.Log(acc)
}

// stuckLog is the likelihood of a needle that shows the same figure always, at
// any figure up to 40 psi alike.
func (e *engine) stuckLog() float64 {
	sum, first := -math.Log(float64(units.PSI(40))), math.NaN()
	for _, r := range e.c.Readings {
		if r.Tank == nil {
			continue
		}
		if math.IsNaN(first) {
			first = float64(*r.Tank)
			continue
		}
		sum += noiseLog(float64(*r.Tank)-first, float64(units.PSI(0.4)))
	}
	return sum
}

// Meters are first weighed at every sparse-th load; what lies hopeless behind the
// best there (in logs) is left so, with straight lines between.
const (
	sparse   = 5
	hopeless = 40
)

// weighMeters fills every variant's log likelihood of the meters over the load
// grid. Faults that do the same to the water say the same of the meters: solved
// and weighed once.
func (e *engine) weighMeters() {
	type likeKey struct {
		t           *table
		shift       float64
		airy, gauge bool
	}
	type shared struct {
		like    []float64
		v       *variant
		promise float64 // the best that any variant makes of it
	}
	likes := make(map[likeKey]*shared, len(e.variants))
	best := math.Inf(-1)
	for i := range e.variants {
		v := &e.variants[i]
		key := likeKey{v.table, v.shift, v.effects.Air > 0, fault.Catalogue[v.fault].Kind == fault.Gauge}
		s := likes[key]
		if s == nil {
			s = &shared{like: make([]float64, loadN), v: v, promise: math.Inf(-1)}
			for l := 0; l < loadN; l += sparse {
				s.like[l] = e.metersLog(v, LoadAt(l))
			}
			likes[key] = s
		}
		v.like = s.like
		for l := 0; l < loadN; l += sparse {
			s.promise = math.Max(s.promise, v.logW+s.like[l]+e.prior[l])
		}
		best = math.Max(best, s.promise)
	}
	for _, s := range likes {
		for l := range s.like {
			r := l % sparse
			switch {
			case r == 0:
			case s.promise > best-hopeless:
				s.like[l] = e.metersLog(s.v, LoadAt(l))
			default:
				low, high := s.like[l-r], s.like[l-r+sparse]
				s.like[l] = low + (high-low)*float64(r)/sparse
			}
		}
	}
}
