package pool

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// Common practice: surface times mean depth times 7.48 (or 5.9 for an oval's length
// times width).
func TestVolumesOfCommonPractice(t *testing.T) {
	for name, x := range map[string]struct {
		d    Dimensions
		want float64
	}{
		"16 by 32, 3 to 8 ft": {Dimensions{Shape: Rectangle, LengthFt: 32, WidthFt: 16, ShallowFt: 3, DeepFt: 8},
			32 * 16 * 5.5 * 7.48},
		"round, 24 ft, 4 ft":   {Dimensions{Shape: Round, LengthFt: 24, ShallowFt: 4}, 24 * 24 * 4 * 5.9},
		"oval, 30 by 15, 4 ft": {Dimensions{Shape: Oval, LengthFt: 30, WidthFt: 15, ShallowFt: 4}, 30 * 15 * 4 * 5.9},
		"kidney, 34, 18 and 14": {Dimensions{Shape: Kidney, LengthFt: 34, WidthFt: 18, Width2Ft: 14, ShallowFt: 3.5,
			DeepFt: 7}, 0.45 * 32 * 34 * 5.25 * 7.48},
	} {
		v, err := x.d.Volume()
		require.NoError(t, err, name)
		assert.InEpsilon(t, x.want, v.Gallons(), 0.006, name)
	}
}

func TestADimensionThatCannotBeIsNamed(t *testing.T) {
	for field, d := range map[string]Dimensions{
		"lengthFt":  {Shape: Rectangle, LengthFt: 0, WidthFt: 10, ShallowFt: 4},
		"widthFt":   {Shape: Oval, LengthFt: 20, ShallowFt: 4},
		"width2Ft":  {Shape: Kidney, LengthFt: 20, WidthFt: 10, ShallowFt: 4},
		"shallowFt": {Shape: Round, LengthFt: 20},
		"deepFt":    {Shape: Round, LengthFt: 20, ShallowFt: 4, DeepFt: 90},
		"shape":     {Shape: "star", LengthFt: 20, WidthFt: 10, ShallowFt: 4},
	} {
		_, err := d.Volume()
		var r *Refused
		require.ErrorAs(t, err, &r, field)
		assert.Equal(t, field, r.Field)
	}
}

func TestMorePoolHoldsMoreWater(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		d := Dimensions{Shape: rapid.SampledFrom([]Shape{Rectangle, Round, Oval, Kidney}).Draw(t, "shape"),
			LengthFt: rapid.Float64Range(5, 100).
				Draw(t, "length"),
			WidthFt: rapid.Float64Range(5, 60).Draw(t, "width"), Width2Ft: rapid.Float64Range(5, 60).Draw(t, "other"),
			ShallowFt: rapid.Float64Range(1, 6).Draw(t, "shallow"), DeepFt: rapid.Float64Range(1, 12).Draw(t, "deep")}
		v, err := d.Volume()
		require.NoError(t, err)
		more := d
		more.LengthFt, more.DeepFt = d.LengthFt+1, d.DeepFt+1
		w, err := more.Volume()
		require.NoError(t, err)
		assert.Greater(t, float64(w), float64(v))
	})
}
