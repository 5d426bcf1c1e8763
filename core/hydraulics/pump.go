package hydraulics

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"

	"fairlap/core/units"
)

// CurvePoint is one point of a pump's head curve.
type CurvePoint struct {
	Flow units.Flow
	Head units.Head
}

// Curve is a pump's head against flow at one speed: H = Shutoff − Slope·Q −
// Bend·Q², in m and m³/s. Slope and Bend are never negative, so head falls with
// flow everywhere.
type Curve struct {
	Shutoff, Slope, Bend float64
}

// ErrRisingCurve says that a pump's points rise with flow past its shut-off.
var ErrRisingCurve = errors.New(
	"the pump curve rises with flow: its head must fall from the shut-off head as flow grows",
)

// FitCurve fits a falling quadratic to points by least squares. It needs two
// points at different flows. A curve whose best fit rises anywhere is refused
// with ErrRisingCurve unless holding its start level explains the points within
// 5 % of the largest head.
func FitCurve(points []CurvePoint) (Curve, error) {
	for i, p := range points {
		if !(p.Flow >= 0) || !(p.Head >= 0) || math.IsInf(float64(p.Flow), 0) || math.IsInf(float64(p.Head), 0) {
			return Curve{}, fmt.Errorf(
				"point %d of the pump curve: flow and head must be plain numbers, zero or more",
				i+1,
			)
		}
	}
	if len(points) < 2 {
		return Curve{}, errors.New("a pump curve needs at least two points")
	}
	// Shut-off, slope and bend; drop whichever term would make head rise.
	best, bestErr := Curve{}, math.Inf(1)
	for _, terms := range [][]int{{0, 1, 2}, {0, 2}, {0, 1}} {
		if len(terms) > len(points) {
			continue
		}
		c, ok := leastSquaresCurve(points, terms)
		if !ok || c.Slope < 0 || c.Bend < 0 || c.Shutoff <= 0 {
			continue
		}
		if e := c.worstMisfit(points); e < bestErr {
			best, bestErr = c, e
		}
	}
	top := 0.0
	for _, p := range points {
		top = math.Max(top, float64(p.Head))
	}
	if bestErr > 0.05*top {
		return Curve{}, ErrRisingCurve
	}
	return best, nil
}

func leastSquaresCurve(points []CurvePoint, terms []int) (Curve, bool) {
	scale := 0.0
	for _, p := range points {
		scale = math.Max(scale, float64(p.Flow))
	}
	if scale == 0 {
		return Curve{}, false
	}
	a := mat.NewDense(len(points), len(terms), nil)
	b := mat.NewVecDense(len(points), nil)
	for i, p := range points {
		for j, e := range terms {
			a.Set(i, j, math.Pow(float64(p.Flow)/scale, float64(e)))
		}
		b.SetVec(i, float64(p.Head))
	}
	var x mat.VecDense
	if err := x.SolveVec(a, b); err != nil {
		return Curve{}, false
	}
	var full [3]float64
	for j, e := range terms {
		full[e] = x.AtVec(j)
	}
	return Curve{full[0], -full[1] / scale, -full[2] / (scale * scale)}, true
}

func (c Curve) worstMisfit(points []CurvePoint) float64 {
	worst := 0.0
	for _, p := range points {
		worst = math.Max(worst, math.Abs(float64(c.Head(p.Flow)-p.Head)))
	}
	return worst
}

// Head is the head that the pump adds at flow q.
func (c Curve) Head(q units.Flow) units.Head {
	return units.Head(c.Shutoff - c.Slope*float64(q) - c.Bend*float64(q)*float64(q))
}

// AtSpeed gives the curve at speed ratio s by the affinity laws: Q ∝ s, H ∝ s².
func (c Curve) AtSpeed(s float64) Curve { return Curve{s * s * c.Shutoff, s * c.Slope, c.Bend} }

// Degraded gives the curve of a pump that holds back part of its head (worn,
// airy) and part of its capacity (clogged): headLeft·H(Q/capacityLeft), both in
// (0, 1].
func (c Curve) Degraded(headLeft, capacityLeft float64) Curve {
	return Curve{
		headLeft * c.Shutoff,
		headLeft * c.Slope / capacityLeft,
		headLeft * c.Bend / (capacityLeft * capacityLeft),
	}
}

// WirePower is the electric power model P = Idle + s³·(Base + PerFlow·Q/s), W
// with Q in m³/s: a straight line in flow at each speed. Motor and drive losses
// do not follow the cube of speed; Idle carries the part that stays.
type WirePower struct {
	Idle, Base, PerFlow float64
}

// At gives the power at speed ratio s and flow q.
func (p WirePower) At(s float64, q units.Flow) units.Power {
	if s <= 0 {
		return 0
	}
	return units.Power(p.Idle + s*s*(s*p.Base+p.PerFlow*float64(q)))
}
