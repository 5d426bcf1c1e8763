package catalogue

import (
	"math"

	"fairlap/core/pad"
)

// Plate is what the plate says of a pump or a filter that no list has: enough for an ordinary one of its
// size, which the clean line narrows.
type Plate struct {
	Part   string         `json:"part" enum:"pump,filter"`
	Model  string         `json:"model" minLength:"1" maxLength:"80"`
	Pump   pad.PumpKind   `json:"pump,omitempty" enum:"single,two,variable,holding"`
	HP     float64        `json:"hp,omitempty" minimum:"0" maximum:"5"`
	TopRPM float64        `json:"topRpm,omitempty" minimum:"0" maximum:"4000" doc:"0: 3,450"`
	Filter pad.FilterKind `json:"filter,omitempty" enum:"sand,cartridge,de"`
	Valve  pad.Valve      `json:"valve,omitempty" enum:"multiport,slide,none"`
	Area   float64        `json:"areaFt2,omitempty" minimum:"0" maximum:"1000"`
	Label  float64        `json:"labelPsi,omitempty" minimum:"0" maximum:"150" doc:"working pressure; 0: not read"`
}

// An ordinary pump of one horsepower (common practice, from memory): its shut-off head, the flow at the end of its
// curve and its full power; how they grow with horsepower; and the curve between.
const (
	oneHPHeadFt, oneHPGPM, oneHPWatts = 62.0, 95.0, 1200.0
	headGrows, flowGrows, wattsGrow   = 0.38, 0.38, 0.75
	usualTopRPM, leastOfVariable      = 3450, 600
	permanentMagnet                   = 0.85 // of an induction motor's watts
	leastHP, mostHP                   = 0.1, 5
)

var curveShape = []struct{ flow, head float64 }{{0, 1}, {0.4, 0.91}, {0.72, 0.70}, {1, 0.37}}

// Losses of an ordinary clean filter at 60 gpm, psi (common practice): of its media on so many square feet, and of
// its vessel with what valve it has.
var ordinaryFilter = map[pad.FilterKind]struct{ mediaPsi, onFt2, vesselPsi, leastFt2, mostFt2 float64 }{
	pad.Sand:      {2.5, 3.14, 2.6, 0.8, 15},
	pad.Cartridge: {0.8, 150, 2, 10, 800},
	pad.DE:        {1.6, 36, 2.5, 10, 120},
}

// Item makes a model of a plate. The mistakes name the fields.
func (p Plate) Item() (Item, []pad.FieldError) {
	if p.Part == "filter" {
		f, errs := p.filter()
		return Item{Model: p.Model, Filter: &f}, errs
	}
	pump, errs := p.pump()
	return Item{Model: p.Model, Pump: &pump}, errs
}

func (p Plate) pump() (pad.Pump, []pad.FieldError) {
	out := pad.Pump{Model: p.Model, Kind: p.Pump, TopRPM: p.TopRPM, IdleW: idleWatts}
	if out.TopRPM == 0 {
		out.TopRPM = usualTopRPM
	}
	if !(p.HP >= leastHP && p.HP <= mostHP) {
		return out, []pad.FieldError{{Path: "hp", Text: "catalogue.plate-hp"}}
	}
	watts := oneHPWatts * math.Pow(p.HP, wattsGrow)
	switch p.Pump {
	case pad.SingleSpeed:
		out.LeastRPM, out.IdleW = out.TopRPM, 0
	case pad.TwoSpeed:
		out.LeastRPM, out.IdleW = math.Round(out.TopRPM/2), 0
	case pad.VariableSpeed, pad.FlowHolding:
		out.LeastRPM, watts = leastOfVariable, watts*permanentMagnet
	default:
		return out, []pad.FieldError{{Path: "pump", Text: "catalogue.plate-kind"}}
	}
	head, flow := oneHPHeadFt*math.Pow(p.HP, headGrows), oneHPGPM*math.Pow(p.HP, flowGrows)
	for _, c := range curveShape {
		out.Curve = append(out.Curve, pad.CurveFt{GPM: math.Round(c.flow * flow), Ft: math.Round(10*c.head*head) / 10})
	}
	if p.Pump == pad.FlowHolding {
		out.HoldGPM = math.Round(flow / 2)
	}
	out.BaseW = math.Round(baseShare * watts)
	out.PerGpmW = math.Round(100*(1-baseShare)*watts/flow) / 100
	return out, pad.ValidatePart(&out)
}

func (p Plate) filter() (pad.Filter, []pad.FieldError) {
	usual, ok := ordinaryFilter[p.Filter]
	if !ok {
		return pad.Filter{}, []pad.FieldError{{Path: "filter", Text: "catalogue.plate-kind"}}
	}
	if !(p.Area >= usual.leastFt2 && p.Area <= usual.mostFt2) {
		return pad.Filter{}, []pad.FieldError{{Path: "areaFt2", Text: "catalogue.plate-area"}}
	}
	out := pad.Filter{
		Model: p.Model, Kind: p.Filter, AreaFt2: p.Area, Valve: p.Valve, AtGPM: 60, VesselPsi: usual.vesselPsi,
		MediaPsi: math.Round(100*usual.mediaPsi*usual.onFt2/p.Area) / 100, LabelPsi: p.Label,
	}
	if out.Valve == "" || p.Filter == pad.Cartridge {
		out.Valve = pad.NoValve
	}
	return out, pad.ValidatePart(&out)
}
