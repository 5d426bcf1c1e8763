package catalogue

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
)

// OwnPump is what somebody at a pad can say of a pump that no list has: its plate, and
// two points of its curve or more, from its maker's sheet or from readings at the pad.
type OwnPump struct {
	Model    string        `json:"model" minLength:"1" maxLength:"80"`
	Kind     pad.PumpKind  `json:"kind" enum:"single,two,variable,holding"`
	TopRPM   float64       `json:"topRpm" minimum:"500" maximum:"4000"`
	LeastRPM float64       `json:"leastRpm" minimum:"0" maximum:"4000" doc:"of a pump with more than one speed"`
	Points   []pad.CurveFt `json:"points" maxItems:"5" doc:"of the curve at full speed"`
	Walk     []PumpReading `json:"walk,omitempty" maxItems:"8" doc:"read at the pad at any speeds, some with a return valve part shut"`
	Watts    float64       `json:"watts" minimum:"50" maximum:"6000" doc:"at full speed, from its plate or its display"`
}

// PumpReading is a pump read at work. Its head is what the two gauges say together; that
// one sits a foot or two over the other is left out.
type PumpReading struct {
	RPM    float64 `json:"rpm" minimum:"300" maximum:"4000"`
	Tank   float64 `json:"tankPsi" minimum:"0" maximum:"60" doc:"clean filter"`
	Vacuum float64 `json:"vacuumInHg" minimum:"0" maximum:"29"`
	GPM    float64 `json:"gpm" minimum:"1" maximum:"400"`
}

// at is the point of the curve at full speed that a reading lies on, by the affinity laws
// (flow with speed, head with its square).
func (r PumpReading) at(top float64) pad.CurveFt {
	water := hydraulics.WaterAt(units.Fahrenheit(80))
	head := water.Head(units.PSI(r.Tank) + units.InHg(r.Vacuum)).Feet()
	up := top / r.RPM
	return pad.CurveFt{GPM: math.Round(10*r.GPM*up) / 10, Ft: math.Round(10*head*up*up) / 10}
}

// apart is how far, in flow, two readings must lie on the curve to say how it falls. A
// pad's readings at different speeds with nothing else moved all lie at one point.
const apart = 1.15

// walked are the points that readings give: those that lie together are one.
func walked(readings []PumpReading, top float64) []pad.CurveFt {
	var at []pad.CurveFt
	for _, r := range readings {
		at = append(at, r.at(top))
	}
	slices.SortFunc(at, func(a, b pad.CurveFt) int { return cmp.Compare(a.GPM, b.GPM) })
	var out []pad.CurveFt
	for len(at) > 0 {
		n, sum := 0, pad.CurveFt{}
		for n < len(at) && at[n].GPM <= apart*at[0].GPM {
			sum.GPM, sum.Ft = sum.GPM+at[n].GPM, sum.Ft+at[n].Ft
			n++
		}
		out = append(
			out,
			pad.CurveFt{GPM: math.Round(10*sum.GPM/float64(n)) / 10, Ft: math.Round(10*sum.Ft/float64(n)) / 10},
		)
		at = at[n:]
	}
	return out
}

// Shares of a pump's power (common practice: a shut-off draws a little under half of
// what full flow does; a drive idles at some 16 W).
const (
	idleWatts = 16.0
	baseShare = 0.45
)

// Pump makes a pump of it: the curve through its points, shut-off by the parabola
// through the first two (head falls with the square of flow), power part by part. The
// mistakes name the fields.
func (o OwnPump) Pump() (pad.Pump, []pad.FieldError) {
	p := pad.Pump{Model: o.Model, Kind: o.Kind, TopRPM: o.TopRPM, LeastRPM: o.LeastRPM, IdleW: idleWatts}
	if o.Kind == pad.SingleSpeed {
		p.LeastRPM, p.IdleW = o.TopRPM, 0
	}
	var errs []pad.FieldError
	for i, r := range o.Walk {
		if !(r.RPM > 0 && r.RPM <= o.TopRPM) {
			errs = append(
				errs,
				pad.FieldError{
					Path: fmt.Sprintf("walk[%d].rpm", i),
					Text: "catalogue.a-reading-lies-between-standstill",
				},
			)
		}
		if !(r.GPM > 0) {
			errs = append(
				errs,
				pad.FieldError{Path: fmt.Sprintf("walk[%d].gpm", i), Text: "catalogue.a-point-of-the-curve"},
			)
		}
	}
	if len(errs) > 0 {
		return p, errs
	}
	points := append(slices.Clone(o.Points), walked(o.Walk, o.TopRPM)...)
	slices.SortFunc(points, func(a, b pad.CurveFt) int { return cmp.Compare(a.GPM, b.GPM) })
	for i := 1; i < len(points); i++ {
		if points[i].GPM <= points[i-1].GPM || points[i].Ft >= points[i-1].Ft {
			errs = append(errs, pad.FieldError{Path: "points", Text: "catalogue.each-point-needs-more-flow"})
			break
		}
	}
	if len(points) < 2 || len(errs) > 0 {
		if len(points) == 1 && len(o.Walk) > 1 {
			return p, append(errs, pad.FieldError{Path: "points", Text: "catalogue.these-readings-all-lie-at"})
		}
		if len(points) < 2 {
			errs = append(errs, pad.FieldError{Path: "points", Text: "catalogue.two-points-of-the-curve"})
		}
		return p, errs
	}
	if points[0].GPM > 0 {
		a, b := points[0], points[1]
		fall := (a.Ft - b.Ft) / (b.GPM*b.GPM - a.GPM*a.GPM)
		points = append([]pad.CurveFt{{GPM: 0, Ft: math.Round(10*(a.Ft+fall*a.GPM*a.GPM)) / 10}}, points...)
	}
	p.Curve = points
	most := points[len(points)-1].GPM
	running := math.Max(1, o.Watts-p.IdleW)
	p.BaseW = math.Max(1, math.Round(baseShare*running))
	p.PerGpmW = math.Round(100*(1-baseShare)*running/most) / 100
	return p, append(errs, pad.ValidatePart(&p)...)
}
