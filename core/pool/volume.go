// Package pool holds what is computed of the pool itself, beside its pad.
package pool

import (
	"math"

	"fairlap/core/units"
	"fairlap/core/words"
)

// Shape is a pool's outline.
type Shape string

// The outlines that a volume can be worked out for.
const (
	Rectangle Shape = "rectangle"
	Round     Shape = "round"
	Oval      Shape = "oval"
	Kidney    Shape = "kidney"
)

// Dimensions are what is taped out at a pool, in feet. A round pool has its diameter
// as LengthFt; a kidney its two widths. With one depth only the floor is flat.
type Dimensions struct {
	Shape     Shape   `json:"shape" enum:"rectangle,round,oval,kidney"`
	LengthFt  float64 `json:"lengthFt"`
	WidthFt   float64 `json:"widthFt" doc:"0 for a round pool"`
	Width2Ft  float64 `json:"width2Ft" doc:"of a kidney: the other end's width"`
	ShallowFt float64 `json:"shallowFt"`
	DeepFt    float64 `json:"deepFt" doc:"0: as deep as the shallow end"`
}

// kidneyShare is the surface of a kidney as a share of its length times the sum of
// its two widths (common practice).
const kidneyShare = 0.45

// Usual is a pool that nobody has measured: its water, and the mean depth where only length and width are known
// (common practice: an ordinary backyard pool).
var Usual = struct {
	Volume  units.Volume
	DepthFt float64
}{units.Gallons(15_000), 5}

// Refused says which dimension can't be, in one sentence.
type Refused struct {
	Field string
	Text  words.Message
}

func (r *Refused) Error() string { return r.Field + ": " + words.Plain.Say(r.Text) }

// Volume is the water in a pool: its surface times the mean of its two depths, as if
// the floor sloped evenly (common practice: 7.48 gal a cubic foot; 5.9 for length
// times width of an oval). The error is a *Refused.
func (d Dimensions) Volume() (units.Volume, error) {
	within := func(field string, v, low, high float64) error {
		if !(v >= low && v <= high) {
			return &Refused{field, words.Of("pool.between-and", "low", words.N(low), "high", words.QD("ft", high, -1))}
		}
		return nil
	}
	if err := within("lengthFt", d.LengthFt, 3, 300); err != nil {
		return 0, err
	}
	if d.Shape != Round {
		if err := within("widthFt", d.WidthFt, 3, 200); err != nil {
			return 0, err
		}
	}
	if err := within("shallowFt", d.ShallowFt, 0.5, 20); err != nil {
		return 0, err
	}
	deep := d.DeepFt
	if deep == 0 {
		deep = d.ShallowFt
	}
	if err := within("deepFt", deep, 0.5, 25); err != nil {
		return 0, err
	}
	var surface float64 // ft²
	switch d.Shape {
	case Rectangle:
		surface = d.LengthFt * d.WidthFt
	case Round:
		surface = math.Pi / 4 * d.LengthFt * d.LengthFt
	case Oval:
		surface = math.Pi / 4 * d.LengthFt * d.WidthFt
	case Kidney:
		if err := within("width2Ft", d.Width2Ft, 3, 200); err != nil {
			return 0, err
		}
		surface = kidneyShare * d.LengthFt * (d.WidthFt + d.Width2Ft)
	default:
		return 0, &Refused{"shape", "pool.choose-rectangle-round-oval-or"}
	}
	m := float64(units.Feet(1))
	return units.Volume(surface * (d.ShallowFt + deep) / 2 * m * m * m), nil
}
