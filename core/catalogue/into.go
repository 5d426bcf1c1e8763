package catalogue

import (
	"fairlap/core/pad"
)

// Into is a pad with this model in the place of its own. What hangs on the old one
// follows: a programme keeps to the new pump's speeds, a filter without a valve has
// no waste line.
func (i Item) Into(d pad.Document) pad.Document {
	switch {
	case i.Pump != nil:
		held := d.Pump.HoldGPM
		d.Pump = *i.Pump
		if d.Pump.Kind == pad.FlowHolding && held > 0 {
			d.Pump.HoldGPM = held
		}
		programme := make([]pad.Slot, len(d.Programme))
		for k, s := range d.Programme {
			s.RPM = d.Pump.Nearest(s.RPM)
			programme[k] = s
		}
		d.Programme = programme
	case i.Filter != nil:
		d.Filter = *i.Filter
		if d.Filter.Valve == pad.NoValve {
			d.Waste = nil
		}
	case i.Heater != nil:
		h := *i.Heater
		d.Heater = &h
	case i.Cell != nil:
		c := *i.Cell
		d.Cell = &c
	}
	return d
}
