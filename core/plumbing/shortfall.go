package plumbing

import (
	"fairlap/core/pad"
	"fairlap/core/units"
)

// ServiceCeiling is the usual working ceiling of a residential tank, over which
// no reading is asked for (handbook, common practice; the label rules).
var ServiceCeiling = units.PSI(30)

// Shortfall is a device that a programmed speed leaves without its least flow.
type Shortfall struct {
	Device StationID
	Model  string
	Slot   pad.Slot
	Flow   units.Flow
	Least  units.Flow
	// Mend is the lowest speed in 50-rpm steps that meets Least; 0 when none does.
	Mend units.Speed
}

// Shortfalls lists the programme's slots in which a device gets too little flow
// at the given load.
func (m *Model) Shortfalls(load float64) ([]Shortfall, error) {
	var out []Shortfall
	s := m.Solver()
	x := &m.plans[pad.SetFilter].Idx
	for _, d := range []struct {
		id   StationID
		dev  *pad.Device
		link int
	}{{StationHeater, m.Doc.Heater, x.Heater}, {StationCell, m.Doc.Cell, x.Cell}} {
		flow := func(rpm float64) (units.Flow, error) { // past an open bypass a heater gets a part
			_, err := s.Solve(pad.Operation{Speed: units.Speed(rpm)}, Effects{Load: load})
			return s.FlowOf(d.link), err
		}
		if d.dev == nil || d.dev.LeastGPM <= 0 {
			continue
		}
		least := units.GPM(d.dev.LeastGPM)
		for _, slot := range m.Doc.Programme {
			q, err := flow(slot.RPM)
			if err != nil {
				return nil, err
			}
			if q >= least || slot.RPM <= 0 {
				continue
			}
			short := Shortfall{Device: d.id, Model: d.dev.Model, Slot: slot, Flow: q, Least: least}
			for rpm := slot.RPM - float64(int(slot.RPM)%50) + 50; rpm <= m.Doc.Pump.TopRPM; rpm += 50 {
				if q, err = flow(rpm); err != nil {
					return nil, err
				}
				if q >= least {
					short.Mend = units.Speed(rpm)
					break
				}
			}
			out = append(out, short)
		}
	}
	return out, nil
}

// FastestUnder is the highest speed, in 50-rpm steps below the top, at which the
// tank gauge stays under a ceiling with the given load; the least speed when
// none does.
func (m *Model) FastestUnder(ceiling units.Pressure, load float64) units.Speed {
	s := m.Solver()
	least := units.Speed(m.Doc.Pump.LeastRPM)
	for rpm := m.TopSpeed(); rpm > least; rpm -= 50 {
		if st, err := s.Solve(pad.Operation{Speed: rpm}, Effects{Load: load}); err == nil && st.Tank < ceiling {
			return rpm
		}
	}
	return least
}

// Ceiling is what a pad's tank may carry in service: the usual ceiling, or its label's.
func Ceiling(d *pad.Document) units.Pressure {
	if label := units.PSI(d.Filter.LabelPsi); label > 0 {
		return min(label, ServiceCeiling)
	}
	return ServiceCeiling
}
