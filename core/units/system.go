package units

import (
	"math"
	"strconv"
	"strings"
)

// System is the units that people read.
type System string

// The systems.
const (
	US     System = "us"
	Metric System = "metric"
)

// measure is how one trade unit is read in metric, and the decimals that it is told
// with in both.
type measure struct {
	metric          string
	factor, shift   float64 // metric = trade·factor + shift
	trade, inMetric int     // decimals
}

// measures are the trade's units and their metric ones.
var measures = map[string]measure{
	"psi":     {"bar", psi / bar, 0, 1, 2},
	"inHg":    {"kPa", inHg / kPa, 0, 1, 1},
	"gpm":     {"m³/h", gpm * 3600, 0, 0, 1},
	"gpm/ft²": {"m/h", gpm * 3600 / (foot * foot), 0, 1, 1},
	"gal":     {"L", gallon * 1000, 0, 0, 0},
	"gallons": {"litres", gallon * 1000, 0, 0, 0},
	"kgal":    {"m³", gallon * 1000, 0, 1, 0},
	"ft":      {"m", foot, 0, 1, 1},
	"ft/s":    {"m/s", foot, 0, 1, 1},
	"ft²":     {"m²", foot * foot, 0, 1, 2},
	"in":      {"cm", inch * 100, 0, 1, 0},
	"°F":      {"°C", 1 / 1.8, -32 / 1.8, 0, 0},
	"lb":      {"kg", 0.45359237, 0, 1, 1},
	"mi":      {"km", 1.609344, 0, 1, 1},
	"miles":   {"km", 1.609344, 0, 1, 1},
}

// Figure tells a value in a trade unit with its unit, in this system. A unit without a
// metric one stays.
func (s System) Figure(value float64, unit string) string {
	return s.FigureTo(value, unit, measures[unit].trade)
}

// Unit is what a trade unit is called in this system.
func (s System) Unit(unit string) string {
	if m, ok := measures[unit]; ok && s == Metric {
		return m.metric
	}
	return unit
}

// In is a value in a trade unit as a bare figure of this system.
func (s System) In(value float64, unit string) float64 {
	if m, ok := measures[unit]; ok && s == Metric {
		return value*m.factor + m.shift
	}
	return value
}

// Decimals are those that a trade unit is told with.
func Decimals(unit string) int { return measures[unit].trade }

// FigureTo is Figure with so many decimals where the trade unit itself is shown; in
// metric a figure has the decimals of its metric unit.
func (s System) FigureTo(value float64, unit string, decimals int) string {
	if m, ok := measures[unit]; ok && s == Metric {
		return Grouped(value*m.factor+m.shift, m.inMetric) + " " + m.metric
	}
	return Grouped(value, decimals) + " " + unit
}

// Stated tells a trade figure as a text states it, with no more decimals than it has.
func (s System) Stated(value float64, unit string) string {
	if _, ok := measures[unit]; ok && s == Metric {
		return s.Figure(value, unit)
	}
	return Shortest(value) + " " + unit
}

// Range tells a span of values in a trade unit: "8–10 psi".
func (s System) Range(low, high float64, unit string) string {
	if m, ok := measures[unit]; ok && s == Metric {
		return Grouped(low*m.factor+m.shift, m.inMetric) + "–" + Grouped(high*m.factor+m.shift, m.inMetric) + " " + m.metric
	}
	return Shortest(low) + "–" + Shortest(high) + " " + unit
}

// Shortest prints a figure with no more decimals than it has, four at the most.
func Shortest(value float64) string {
	for d := range 4 {
		if p := math.Pow10(d); math.Abs(math.Round(value*p)/p-value) < 1e-6 {
			return Grouped(value, d)
		}
	}
	return Grouped(value, 4)
}

// Grouped prints a figure with a comma between thousands.
func Grouped(value float64, digits int) string {
	text := strconv.FormatFloat(math.Abs(value), 'f', digits, 64)
	whole, rest, _ := strings.Cut(text, ".")
	var b strings.Builder
	if value < 0 && strings.Trim(text, "0.") != "" {
		b.WriteString("−")
	}
	for i, d := range whole {
		if i > 0 && (len(whole)-i)%3 == 0 {
			b.WriteByte(',')
		}
		b.WriteRune(d)
	}
	if rest != "" {
		b.WriteString("." + rest)
	}
	return b.String()
}
