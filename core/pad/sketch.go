package pad

// Sketch is the least that somebody can say of a pad: the rest is taken as usual
// and carries the wide uncertainty of a catalogue's description until a reading
// narrows it.
type Sketch struct {
	Pump     Pump    `json:"pump"`
	Filter   Filter  `json:"filter"`
	PipeIn   float64 `json:"pipeIn" minimum:"1" maximum:"4" doc:"nominal size: 1.5, 2, 2.5 or 3"`
	LengthFt float64 `json:"lengthFt" minimum:"1" maximum:"500" doc:"from the pad to the pool"`
	Heater   *Device `json:"heater,omitempty"`
	Cell     *Device `json:"cell,omitempty"`
	Spa      bool    `json:"spa,omitempty"`
	// AboveGround draws a plugged-in unit on hoses: a strainer, an inlet, no main drain.
	AboveGround bool `json:"aboveGround,omitempty"`
	HasVacuum   bool `json:"hasVacuum"`
	HasFlow     bool `json:"hasFlow"`
	HasPower    bool `json:"hasPower"`
}

// Bores are the inside diameters of Schedule 40 PVC by nominal size, in
// (ASTM D1785, from memory).
var Bores = map[float64]float64{1.5: 1.610, 2: 2.067, 2.5: 2.469, 3: 3.068}

// Usual fittings of a run to the pool, and their sum of K (common practice: four
// elbows at 0.6 and the entry or a tee).
const usualFittings = 3.0

// Document draws the pad that is usual for a sketch: a skimmer and a main drain
// at half (never shut), two returns, and for a spa a three-way valve on each
// side.
func (k Sketch) Document() Document {
	if k.AboveGround {
		return k.onHoses()
	}
	bore, ok := Bores[k.PipeIn]
	if !ok {
		bore = k.PipeIn
	}
	branch := Bores[1.5]
	if bore < branch {
		branch = bore
	}
	to := func(extra float64) Run { return Run{bore, k.LengthFt + extra, usualFittings} }
	d := Document{
		Pump: k.Pump, Filter: k.Filter, Heater: k.Heater, Cell: k.Cell, CheckValve: k.Heater != nil && k.Cell != nil,
		Suction: []Line{{ID: "skimmer", Name: "Skimmer", Kind: Skimmer, Run: to(0), Opening: 1},
			{ID: "drain", Name: "Main drain", Kind: Drain, Run: to(15), Opening: 0.5}},
		SuctionTrunk: Run{bore, 5, 1.5}, Discharge: Run{bore, 4, 2}, ReturnTrunk: Run{bore, k.LengthFt, 4},
		Returns: []Line{
			{ID: "return-1", Name: "First return", Kind: Return, Run: Run{branch, 15, 2}, Opening: 1, EyeballIn: 0.85},
			{
				ID:        "return-2",
				Name:      "Second return",
				Kind:      Return,
				Run:       Run{branch, 30, 2},
				Opening:   1,
				EyeballIn: 0.85,
			},
		},
		VacuumTap: NoTap, GaugeHeightFt: 2.5, PumpHeightFt: 1, Meters: UsualMeters(),
		Programme: []Slot{{StartHour: 8, Hours: 8, RPM: k.Pump.TopRPM}},
	}
	if k.Pump.Kind == VariableSpeed || k.Pump.Kind == FlowHolding {
		d.Programme[0].RPM = 2000
	}
	if k.HasVacuum {
		d.VacuumTap = TapPot
	}
	d.Meters.HasVacuum, d.Meters.HasFlow, d.Meters.HasPower = k.HasVacuum, k.HasFlow, k.HasPower
	if k.Filter.Valve != NoValve {
		d.Waste = &WasteLine{Run: Run{bore, 30, 3}}
	}
	if k.Spa {
		d.Spa = &Spa{SurfaceFt: 0.5, Gallons: 500, Spills: true}
		d.Valves = []Diverter{
			{ID: "suction-valve", Name: "Suction valve", Side: SuctionSide, BoreIn: bore, AngleDeg: 180},
			{ID: "return-valve", Name: "Return valve", Side: ReturnSide, BoreIn: bore, AngleDeg: 180},
		}
		for i := range d.Suction {
			d.Suction[i].On = "suction-valve:a"
		}
		for i := range d.Returns {
			d.Returns[i].On = "return-valve:a"
		}
		d.Suction = append(
			d.Suction,
			Line{ID: "spa-drain", Name: "Spa drain", Kind: SpaDrain, Run: to(0), Opening: 1, On: "suction-valve:b"},
		)
		d.Returns = append(
			d.Returns,
			Line{
				ID:         "spa-jets",
				Name:       "Spa jets",
				Kind:       SpaJets,
				Run:        to(0),
				Opening:    1,
				EyeballIn:  1.4,
				On:         "return-valve:b",
				CheckValve: true,
			},
		)
	}
	return d
}

// hose is that of a small unit, and where it is: under the water's surface, beside the pool (common practice).
var hose = Run{1.25, 6, 2}

const smallPumpFt, smallGaugeFt = -1.5, -1

func (k Sketch) onHoses() Document {
	short := Run{BoreIn: hose.BoreIn, LengthFt: 1}
	return Document{
		Unit: AboveGround, Pump: k.Pump, Filter: k.Filter, SuctionTrunk: short, Discharge: short, ReturnTrunk: short,
		Suction:   []Line{{ID: "lower", Name: "Lower hose", Kind: Skimmer, Run: hose, Opening: 1}},
		Returns:   []Line{{ID: "upper", Name: "Upper hose", Kind: Return, Run: hose, Opening: 1, EyeballIn: 1}},
		VacuumTap: NoTap, GaugeHeightFt: smallGaugeFt, PumpHeightFt: smallPumpFt, Meters: UsualMeters(),
		Programme: []Slot{{StartHour: 8, Hours: 8, RPM: k.Pump.TopRPM}},
	}
}
