package catalogue

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/pad"
)

// A pump said by its plate and two points of a built-in one's curve is that pump, near
// enough: its curve goes through the points, and its power at the last is the plate's.
func TestAnOwnPumpFromItsPlate(t *testing.T) {
	real := Find("Brisk 150 VS").Pump
	p, errs := OwnPump{
		Model:    "Own",
		Kind:     pad.VariableSpeed,
		TopRPM:   3450,
		LeastRPM: 600,
		Points:   []pad.CurveFt{real.Curve[2], real.Curve[1]},
		Watts:    1240,
	}.Pump()
	require.Empty(t, errs)
	assert.Contains(t, p.Curve, real.Curve[1])
	assert.InDelta(t, real.Curve[0].Ft, p.Curve[0].Ft, 3, "shut-off by the square of flow")
	assert.InDelta(t, 1240, p.IdleW+p.BaseW+p.PerGpmW*p.Curve[len(p.Curve)-1].GPM, 3)
	_, errs = OwnPump{
		Model:  "Own",
		Kind:   pad.SingleSpeed,
		TopRPM: 3450,
		Points: []pad.CurveFt{{GPM: 40, Ft: 50}, {GPM: 60, Ft: 55}},
		Watts:  900,
	}.Pump()
	require.NotEmpty(t, errs)
	assert.Equal(t, "points", errs[0].Path)
}

// A pump read at the pad, at any speeds and with a return valve moved, is its own maker's
// curve again: readings made from a built-in curve by the affinity laws give its head back
// within a foot over the flows that were read. At different speeds alone they lie at one
// point, and that is said.
func TestAnOwnPumpFromReadings(t *testing.T) {
	real := Find("Brisk 150 VS").Pump
	read := func(point pad.CurveFt, rpm float64) PumpReading {
		down := rpm / real.TopRPM
		inHg := 4 * down * down
		psi := (point.Ft*down*down - 1.1355*inHg) / 2.3145 // feet of water at 80 °F
		return PumpReading{RPM: rpm, Tank: psi, Vacuum: inHg, GPM: point.GPM * down}
	}
	rapid.Check(t, func(t *rapid.T) {
		a, b := real.Curve[1], real.Curve[2]
		o := OwnPump{Model: "Own", Kind: pad.VariableSpeed, TopRPM: real.TopRPM, LeastRPM: 600, Watts: 1240}
		for range rapid.IntRange(1, 3).Draw(t, "readings") {
			o.Walk = append(o.Walk, read(a, rapid.Float64Range(900, 3450).Draw(t, "rpm")))
		}
		_, errs := o.Pump()
		require.NotEmpty(t, errs)
		assert.Equal(t, "points", errs[0].Path)
		o.Walk = append(o.Walk, read(b, rapid.Float64Range(900, 3450).Draw(t, "rpm")))
		p, errs := o.Pump()
		require.Empty(t, errs)
		assert.InDelta(t, a.Ft, p.Curve[1].Ft, 1)
		assert.InDelta(t, b.Ft, p.Curve[2].Ft, 1)
		assert.InDelta(t, a.GPM, p.Curve[1].GPM, 0.2)
	})
}

// Whatever is typed comes back as a pump that a pad can be drawn with, or as a sentence.
func TestAnOwnPumpIsAPumpOrASentence(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		o := OwnPump{
			Model: "Own",
			Kind:  rapid.SampledFrom([]pad.PumpKind{pad.SingleSpeed, pad.TwoSpeed, pad.VariableSpeed}).Draw(t, "kind"),
			TopRPM: rapid.Float64Range(0, 5000).
				Draw(t, "top"),
			LeastRPM: rapid.Float64Range(0, 4000).Draw(t, "least"),
			Watts:    rapid.Float64Range(0, 7000).Draw(t, "watts"),
		}
		for range rapid.IntRange(0, 5).Draw(t, "points") {
			o.Points = append(
				o.Points,
				pad.CurveFt{
					GPM: rapid.Float64Range(0, 200).Draw(t, "gpm"),
					Ft:  rapid.Float64Range(0, 150).Draw(t, "ft"),
				},
			)
		}
		for range rapid.IntRange(0, 3).Draw(t, "readings") {
			o.Walk = append(
				o.Walk,
				PumpReading{
					rapid.Float64Range(0, 4000).Draw(t, "rpm"),
					rapid.Float64Range(-2, 60).Draw(t, "psi"),
					rapid.Float64Range(0, 29).Draw(t, "inHg"),
					rapid.Float64Range(0, 400).Draw(t, "flow"),
				},
			)
		}
		p, errs := o.Pump()
		if len(errs) > 0 {
			for _, e := range errs {
				assert.NotEmpty(t, e.Text)
			}
			return
		}
		assert.Empty(t, pad.ValidatePart(&p))
		assert.Zero(t, p.Curve[0].GPM)
	})
}
