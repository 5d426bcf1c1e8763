package catalogue

import (
	"cmp"
	"math"
	"slices"

	"fairlap/core/pad"
)

// OwnPump is what somebody at a pad can say of a pump that no list has: its plate, and
// two points of its curve or more.
type OwnPump struct {
	Model    string        `json:"model" minLength:"1" maxLength:"80"`
	Kind     pad.PumpKind  `json:"kind" enum:"single,two,variable,holding"`
	TopRPM   float64       `json:"topRpm" minimum:"500" maximum:"4000"`
	LeastRPM float64       `json:"leastRpm" minimum:"0" maximum:"4000" doc:"of a pump with more than one speed"`
	Points   []pad.CurveFt `json:"points" minItems:"2" maxItems:"5" doc:"of the curve at full speed"`
	Watts    float64       `json:"watts" minimum:"50" maximum:"6000" doc:"at full speed, from its plate or its display"`
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
	points := slices.Clone(o.Points)
	slices.SortFunc(points, func(a, b pad.CurveFt) int { return cmp.Compare(a.GPM, b.GPM) })
	for i := 1; i < len(points); i++ {
		if points[i].GPM <= points[i-1].GPM || points[i].Ft >= points[i-1].Ft {
			errs = append(errs, pad.FieldError{Path: "points", Says: "Each point needs more flow and less head than the one before"})
			break
		}
	}
	if len(points) < 2 || len(errs) > 0 {
		if len(points) < 2 {
			errs = append(errs, pad.FieldError{Path: "points", Says: "Two points of the curve at least: flow and head"})
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
