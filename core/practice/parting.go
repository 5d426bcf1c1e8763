package practice

import (
	"math"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// Parting is the look that tells two faults apart best.
type Parting struct {
	This words.Message `json:"this"`
	That words.Message `json:"that"`
	Sign fault.Sign    `json:"sign"`
	Name words.Message `json:"name"`
	Look words.Message `json:"look"`
	// IfThis and IfThat are how often it says yes with each.
	IfThis  float64 `json:"ifThis"`
	IfThat  float64 `json:"ifThat"`
	Minutes float64 `json:"minutes"`
	Made    bool    `json:"made" doc:"somebody looked"`
}

// part finds the look that tells this from that: the expected weight of its answer with
// this true, a minute of looking and standing ready.
func part(d *pad.Document, this, that *hidden) (Parting, bool) {
	out := Parting{This: this.Fault.Name, That: that.Fault.Name}
	most := 0.0
	for i := range fault.Signs {
		sg := &fault.Signs[i]
		if !sg.On(d) || sg.Context || sg.FromState {
			continue
		}
		a, b := shows(sg, this), shows(sg, that)
		weight := a*math.Log(a/b) + (1-a)*math.Log((1-a)/(1-b))
		if x := weight / (sg.Minutes + needMinutes(looks[sg.ID]) + 0.5); weight > 0.5 && x > most {
			most = x
			out.Sign, out.Name, out.Look, out.IfThis, out.IfThat, out.Minutes = sg.ID, sg.Name, sg.Look, a, b,
				sg.Minutes
		}
	}
	return out, most > 0
}

// shows is P(yes) of a sign with one fault there.
func shows(sg *fault.SignFact, h *hidden) float64 {
	p, listed := h.Fault.Signs[sg.ID]
	switch {
	case listed:
	case sg.Air:
		air := h.Fault.AirAt(h.Step)
		p = air*sg.GivenAir + (1-air)*sg.Base
	default:
		p = sg.Base
	}
	return math.Min(0.999, math.Max(0.0001, p))
}
