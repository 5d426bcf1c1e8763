package pad

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"

	"fairlap/core/figure"
	"fairlap/core/units"
	"fairlap/core/words"
)

// A speed walk as comma-separated values: a header, then one row a speed. Empty
// cells were not read. Decimal points; commas part the cells.

// walkColumns are the columns, their kinds and how they reach a Reading.
var walkColumns = []struct {
	name string
	kind figure.Kind
	get  func(Reading) (float64, bool)
	set  func(*Reading, float64)
}{
	{
		"rpm",
		figure.Speed,
		func(r Reading) (float64, bool) { return float64(r.Speed), true },
		func(r *Reading, v float64) { r.Speed = units.Speed(v) },
	},
	{
		"tank_psi",
		figure.Tank,
		func(r Reading) (float64, bool) { v, ok := r.Value(MeterTank); return units.Pressure(v).PSI(), ok },
		func(r *Reading, v float64) { r.Tank = in(units.PSI(v)) },
	},
	{
		"vacuum_inhg",
		figure.Vacuum,
		func(r Reading) (float64, bool) { v, ok := r.Value(MeterVacuum); return units.Pressure(v).InHg(), ok },
		func(r *Reading, v float64) { r.Vacuum = in(units.InHg(v)) },
	},
	{
		"flow_gpm",
		figure.Flow,
		func(r Reading) (float64, bool) { v, ok := r.Value(MeterFlow); return units.Flow(v).GPM(), ok },
		func(r *Reading, v float64) { r.Flow = in(units.GPM(v)) },
	},
	{
		"power_w",
		figure.Power,
		func(r Reading) (float64, bool) { return r.Value(MeterPower) },
		func(r *Reading, v float64) { r.Power = in(units.Power(v)) },
	},
}

func in[T any](v T) *T { return &v }

// LongestWalk is more rows than a pump has speeds in steps of 50.
const LongestWalk = 200

// ReadWalk reads a speed walk. Mistakes come with the row's line; then there are
// no readings.
func ReadWalk(r io.Reader) ([]Reading, []FieldError) {
	c := csv.NewReader(io.LimitReader(r, LargestDocument))
	c.TrimLeadingSpace = true
	header, err := c.Read()
	if err != nil {
		return nil, []FieldError{walkError(err)}
	}
	columns := make([]int, len(header))
	for i, h := range header {
		columns[i] = -1
		for k, col := range walkColumns {
			if strings.EqualFold(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")), col.name) {
				columns[i] = k
			}
		}
		if columns[i] < 0 {
			return nil, []FieldError{{"line 1", words.Of("pad.a-speed-walk-has-no", "h", words.Name(h))}}
		}
	}
	var out []Reading
	var errs []FieldError
	for {
		row, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, []FieldError{walkError(err)}
		}
		line, _ := c.FieldPos(0)
		if len(out) == LongestWalk {
			return nil, []FieldError{
				{fmt.Sprintf("line %d", line), words.Of("pad.a-walk-has-rows-at", "longestWalk", words.N(LongestWalk))},
			}
		}
		var reading Reading
		for i, cell := range row {
			if strings.TrimSpace(cell) == "" {
				continue
			}
			col := walkColumns[columns[i]]
			v, err := figure.Read(col.kind, cell)
			if err != nil {
				errs = append(errs, FieldError{fmt.Sprintf("line %d, %s", line, col.name), figure.Problem(err)})
				continue
			}
			col.set(&reading, v)
		}
		if reading.Speed <= 0 && len(errs) == 0 {
			errs = append(errs, FieldError{fmt.Sprintf("line %d, rpm", line), "pad.a-reading-without-its-speed"})
		}
		out = append(out, reading)
	}
	if len(errs) == 0 && len(out) == 0 {
		errs = append(errs, FieldError{"", "pad.the-walk-has-no-rows"})
	}
	if len(errs) > 0 {
		return nil, errs
	}
	return out, nil
}

func walkError(err error) FieldError {
	var parse *csv.ParseError
	switch {
	case errors.As(err, &parse):
		return FieldError{fmt.Sprintf("line %d", parse.Line), words.Named(parse.Err.Error())}
	case errors.Is(err, io.EOF):
		return FieldError{"", "pad.the-file-is-empty"}
	}
	return FieldError{"", words.Named(err.Error())}
}

// WriteWalk writes readings as a speed walk.
func WriteWalk(w io.Writer, readings []Reading) error {
	c := csv.NewWriter(w)
	header := make([]string, len(walkColumns))
	for i, col := range walkColumns {
		header[i] = col.name
	}
	if err := c.Write(header); err != nil {
		return err
	}
	for _, r := range readings {
		row := make([]string, len(walkColumns))
		for i, col := range walkColumns {
			if v, ok := col.get(r); ok {
				row[i] = strconv.FormatFloat(v, 'f', -1, 64)
				if short := strconv.FormatFloat(v, 'f', 2, 64); len(short) < len(row[i]) {
					row[i] = strings.TrimRight(strings.TrimRight(short, "0"), ".")
				}
			}
		}
		if err := c.Write(row); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}
