package upkeep

import "fairlap/core/pad"

// ServiceID names a piece of recurring work.
type ServiceID string

// The recurring work (handbook; common practice).
const (
	CleanFilter   ServiceID = "clean-filter"
	TakeCleanLine ServiceID = "clean-line"
	ThoroughClean ServiceID = "thorough-clean"
	TearDown      ServiceID = "tear-down"
	CellDescale   ServiceID = "cell-descale"
	HeaterCheck   ServiceID = "heater-check"
	SoakMedia     ServiceID = "soak-media"
)

// Material is something to have on the van.
type Material struct {
	Name   string  `json:"name"`
	Amount float64 `json:"amount"`
	Unit   string  `json:"unit"`
}

// Service is one piece of recurring work and how often it falls due, on any of
// its grounds: by the calendar, by water filtered, or both.
type Service struct {
	ID      ServiceID
	Name    string
	Days    float64 // 0: not by the calendar
	KGal    float64 // thousand gallons; 0: not by use
	Minutes float64
	// On tells which pads it is for; nil is all.
	On        func(*pad.Document) bool
	Materials func(*pad.Document) []Material
	Why       string
}

func filterIs(k pad.FilterKind) func(*pad.Document) bool {
	return func(d *pad.Document) bool { return d.Filter.Kind == k }
}

// deChargePerFt2 is pounds of DE for a square foot of grid: a pound for ten; after
// a backwash four fifths of it, since some stays (handbook; the label rules).
const (
	deChargePerFt2  = 0.1
	deAfterBackwash = 0.8
)

// degreaserGallons and acidGallons soak one filter's elements (ours; the labels
// rule, and the two never meet).
const (
	degreaserGallons = 0.5
	acidGallons      = 1
)

func soakMaterials(d *pad.Document) []Material {
	out := []Material{{"Degreaser", degreaserGallons, "gal"}, {"Muriatic acid", acidGallons, "gal"}}
	if d.Filter.Kind == pad.DE {
		out = append(out, Material{"DE powder", deChargePerFt2 * d.Filter.AreaFt2, "lb"})
	}
	return out
}

// Services lists the recurring work beside the filter's own cleaning, which falls
// due by its load.
var Services = []Service{
	{ID: TakeCleanLine, Name: "Take a clean line", Days: 365, Minutes: 12, Why: "yearly, and after work on media or plumbing"},
	{ID: ThoroughClean, Name: "Thorough clean of the cartridge", Days: 365, Minutes: 60, On: filterIs(pad.Cartridge), Materials: soakMaterials, Why: "at the season's end"},
	{ID: TearDown, Name: "Tear down and soak the grids", Days: 365, Minutes: 90, On: filterIs(pad.DE), Materials: soakMaterials, Why: "yearly"},
	{ID: CellDescale, Name: "Look at the salt cell, descale it", Days: 91, Minutes: 15, On: func(d *pad.Document) bool { return d.Cell != nil },
		Materials: func(*pad.Document) []Material { return []Material{{"Muriatic acid", 0.25, "gal"}} }, Why: "every three months"},
	{ID: HeaterCheck, Name: "Heater: least flow and bypass", Days: 365, Minutes: 10, On: func(d *pad.Document) bool { return d.Heater != nil }, Why: "at the season's start"},
}

// cleaningMaterials are what the filter's own cleaning takes.
func cleaningMaterials(d *pad.Document) []Material {
	if d.Filter.Kind == pad.DE {
		return []Material{{"DE powder", deChargePerFt2 * deAfterBackwash * d.Filter.AreaFt2, "lb"}}
	}
	return nil
}
