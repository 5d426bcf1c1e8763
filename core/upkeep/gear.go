package upkeep

import "fairlap/core/pad"

// Gear is what upkeep asks of a pad: what there is to clean, to renew and to look after.
type Gear struct {
	Kind         pad.FilterKind
	Model        string // of the filter
	AreaFt2      float64
	Cell, Heater bool
	Small        bool // a plugged-in above-ground unit
}

// GearOf reads a pad; of one that nobody has described nothing is known.
func GearOf(d *pad.Document) Gear {
	if d.Presumed {
		return Gear{Kind: pad.Unknown}
	}
	return Gear{
		Kind:    d.Filter.Kind,
		Model:   d.Filter.Model,
		AreaFt2: d.Filter.AreaFt2,
		Cell:    d.Cell != nil,
		Heater:  d.Heater != nil,
		Small:   d.SmallUnit(),
	}
}
