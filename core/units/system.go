package units

import (
	_ "embed" // the table of units
	"encoding/json"
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

// measure is how one trade unit is read in metric, metric = trade·times + plus, and the
// decimals that it is told with in both.
type measure struct {
	Metric                   string
	Times, Plus              float64
	Decimals, MetricDecimals int
}

//go:embed measures.json
var measuresJSON []byte

// measures are the trade's units and their metric ones; the page reads the same file.
var measures = readMeasures()

func readMeasures() (m map[string]measure) {
	if err := json.Unmarshal(measuresJSON, &m); err != nil {
		panic("units: measures.json: " + err.Error()) // ours, read by every test
	}
	return m
}

// inMetric is a trade unit's measure, where this system reads another unit for it.
func (s System) inMetric(unit string) (measure, bool) {
	m := measures[unit]
	return m, s == Metric && m.Metric != ""
}

// Figure tells a value in a trade unit with its unit, in this system. A unit without a
// metric one stays.
func (s System) Figure(value float64, unit string) string {
	return s.FigureTo(value, unit, measures[unit].Decimals)
}

// Unit is what a trade unit is called in this system.
func (s System) Unit(unit string) string {
	if m, ok := s.inMetric(unit); ok {
		return m.Metric
	}
	return unit
}

// In is a value in a trade unit as a bare figure of this system.
func (s System) In(value float64, unit string) float64 {
	if m, ok := s.inMetric(unit); ok {
		return value*m.Times + m.Plus
	}
	return value
}

// Decimals are those that a trade unit is told with.
func Decimals(unit string) int { return measures[unit].Decimals }

// FigureTo is Figure with so many decimals where the trade unit itself is shown; in
// metric a figure has the decimals of its metric unit.
func (s System) FigureTo(value float64, unit string, decimals int) string {
	if m, ok := s.inMetric(unit); ok {
		return Grouped(value*m.Times+m.Plus, m.MetricDecimals) + " " + m.Metric
	}
	return Grouped(value, decimals) + " " + unit
}

// Stated tells a trade figure as a text states it, with no more decimals than it has.
func (s System) Stated(value float64, unit string) string {
	if _, ok := s.inMetric(unit); ok {
		return s.Figure(value, unit)
	}
	return Shortest(value) + " " + unit
}

// Range tells a span of values in a trade unit: "8–10 psi".
func (s System) Range(low, high float64, unit string) string {
	if m, ok := s.inMetric(unit); ok {
		return Grouped(
			low*m.Times+m.Plus,
			m.MetricDecimals,
		) + "–" + Grouped(
			high*m.Times+m.Plus,
			m.MetricDecimals,
		) + " " + m.Metric
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
