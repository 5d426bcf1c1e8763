package catalogue

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"reflect"
	"strconv"
	"strings"

	plain "fairlap/core/cells"
	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// One file holds all kinds. A row fills the columns that its kind has and leaves
// the others empty. A curve is written as flow:head pairs, "0:84 40:77 80:58".

// columns are the columns of the file; a figure's name is its field's in the pad
// document with its unit.
var columns = []string{
	"kind",
	"model",
	"type",
	"top_rpm",
	"least_rpm",
	"hold_gpm",
	"curve_gpm_ft",
	"idle_w",
	"base_w",
	"per_gpm_w",
	"npshr_ft",
	"npshr_gpm",
	"area_ft2",
	"valve",
	"at_gpm",
	"media_psi",
	"vessel_psi",
	"label_psi",
	"grain_mm",
	"drop_psi",
	"least_gpm",
}

// largestFile and mostItems bound an import.
const (
	largestFile = 2 << 20
	mostItems   = 5000
)

// row is one line by column name, with the mistakes found so far.
type row struct {
	cells map[string]string
	line  int
	used  map[string]bool
	wrong map[string]bool // columns that have their sentence
	errs  *[]pad.FieldError
}

// bad refuses a column, once: the first sentence is the one that helps.
func (r *row) bad(column string, text words.Message) {
	if r.wrong[column] {
		return
	}
	r.wrong[column] = true
	*r.errs = append(*r.errs, pad.FieldError{Path: fmt.Sprintf("line %d, %s", r.line, column), Text: text})
}

func (r *row) text(column string) string {
	r.used[column] = true
	return strings.TrimSpace(r.cells[column])
}

func (r *row) figure(column string) float64 {
	s := r.text(column)
	if s == "" {
		return 0
	}
	v, err := figure.Number(s, figure.Span{}, figure.DecimalPoint) // commas part the cells
	if err != nil {
		r.bad(column, figure.Problem(err))
	}
	return v
}

func (r *row) curve(column string) []pad.CurveFt {
	var out []pad.CurveFt
	for _, pair := range strings.Fields(r.text(column)) {
		q, h, _ := strings.Cut(pair, ":")
		gpm, err1 := strconv.ParseFloat(q, 64)
		ft, err2 := strconv.ParseFloat(h, 64)
		if err1 != nil || err2 != nil {
			r.bad(column, words.Of("catalogue.is-not-a-point-write", "pair", words.Name(pair)))
			return nil
		}
		out = append(out, pad.CurveFt{GPM: gpm, Ft: ft})
	}
	return out
}

// Read reads a catalogue. With any mistake there are no items: nothing is taken
// in part.
func Read(r io.Reader) ([]Item, []pad.FieldError) {
	c := csv.NewReader(io.LimitReader(r, largestFile))
	header, err := c.Read()
	if err != nil {
		return nil, []pad.FieldError{fileError(err)}
	}
	for i, h := range header {
		header[i] = strings.ToLower(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")))
		if !isColumn(header[i]) {
			return nil, []pad.FieldError{
				{Path: "line 1", Text: words.Of("catalogue.a-catalogue-has-no-column", "h", words.Name(h))},
			}
		}
	}
	var out []Item
	var errs []pad.FieldError
	lineOf := map[string]int{}
	for {
		cells, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, []pad.FieldError{fileError(err)}
		}
		if len(out) == mostItems {
			return nil, []pad.FieldError{
				{Path: "", Text: words.Of("catalogue.a-catalogue-has-models-at", "mostItems", words.N(mostItems))},
			}
		}
		r := &row{cells: map[string]string{}, used: map[string]bool{}, wrong: map[string]bool{}, errs: &errs}
		r.line, _ = c.FieldPos(0)
		for i, v := range cells {
			r.cells[header[i]] = plain.Typed(v)
		}
		item := r.item()
		if was, ok := lineOf[item.Model]; ok {
			r.bad(
				"model",
				words.Of("catalogue.is-on-line-already", "model", words.Name(item.Model), "was", words.N(was)),
			)
		}
		lineOf[item.Model] = r.line
		out = append(out, item)
	}
	if len(errs) == 0 && len(out) == 0 {
		errs = append(errs, pad.FieldError{Text: "catalogue.the-file-has-no-models"})
	}
	if len(errs) > 0 {
		return nil, errs
	}
	return out, nil
}

func isColumn(name string) bool {
	for _, c := range columns {
		if c == name {
			return true
		}
	}
	return false
}

func fileError(err error) pad.FieldError {
	var parse *csv.ParseError
	switch {
	case errors.As(err, &parse):
		return pad.FieldError{Path: fmt.Sprintf("line %d", parse.Line), Text: words.Named(parse.Err.Error())}
	case errors.Is(err, io.EOF):
		return pad.FieldError{Text: "catalogue.the-file-is-empty"}
	}
	return pad.FieldError{Text: words.Named(err.Error())}
}

// item reads a row as its kind and holds it to the pad document's own rules.
func (r *row) item() Item {
	out := Item{Model: r.text("model")}
	if out.Model == "" {
		r.bad("model", "catalogue.a-model-needs-a-name")
	}
	device := func() *pad.Device {
		return &pad.Device{
			Model:    out.Model,
			DropPsi:  r.figure("drop_psi"),
			AtGPM:    r.figure("at_gpm"),
			LeastGPM: r.figure("least_gpm"),
		}
	}
	var part any
	switch kind := r.text("kind"); kind {
	case "pump":
		out.Pump = &pad.Pump{
			Model:    out.Model,
			Kind:     pad.PumpKind(r.text("type")),
			TopRPM:   r.figure("top_rpm"),
			LeastRPM: r.figure("least_rpm"),
			HoldGPM:  r.figure("hold_gpm"),
			Curve: r.curve(
				"curve_gpm_ft",
			),
			IdleW:    r.figure("idle_w"),
			BaseW:    r.figure("base_w"),
			PerGpmW:  r.figure("per_gpm_w"),
			NPSHrFt:  r.figure("npshr_ft"),
			NPSHrGPM: r.figure("npshr_gpm"),
		}
		part = out.Pump
	case "filter":
		out.Filter = &pad.Filter{
			Model:   out.Model,
			Kind:    pad.FilterKind(r.text("type")),
			AreaFt2: r.figure("area_ft2"),
			Valve:   pad.Valve(r.text("valve")),
			AtGPM:   r.figure("at_gpm"),
			MediaPsi: r.figure(
				"media_psi",
			),
			VesselPsi: r.figure("vessel_psi"),
			LabelPsi:  r.figure("label_psi"),
			GrainMm:   r.figure("grain_mm"),
		}
		part = out.Filter
	case "heater":
		out.Heater = device()
		part = out.Heater
	case "cell":
		out.Cell = device()
		part = out.Cell
	default:
		r.bad("kind", words.Of("catalogue.must-be-pump-filter-heater", "kind", words.Name(kind)))
		return out
	}
	for column, v := range r.cells {
		if strings.TrimSpace(v) != "" && !r.used[column] {
			r.bad(column, words.Of("catalogue.a-has-no-such-figure", "kind", words.Name(out.Kind())))
		}
	}
	for _, e := range pad.ValidatePart(part) {
		r.bad(columnOf(e.Path), e.Text)
	}
	return out
}

// columnOf turns a field of the pad document into the file's column.
func columnOf(path string) string {
	var b strings.Builder
	for i, c := range path {
		if c >= 'A' && c <= 'Z' {
			if i > 0 {
				b.WriteByte('_')
			}
			c += 'a' - 'A'
		}
		b.WriteRune(c)
	}
	name := strings.ReplaceAll(b.String(), "ft2", "_ft2")
	switch {
	case strings.HasPrefix(name, "curve"):
		return "curve_gpm_ft"
	case name == "kind":
		return "type"
	}
	return strings.ReplaceAll(name, "__", "_")
}

// Write writes items as a catalogue that Read takes.
func Write(w io.Writer, items []Item) error {
	c := csv.NewWriter(w)
	if err := c.Write(columns); err != nil {
		return err
	}
	for _, item := range items {
		cells := map[string]string{"kind": item.Kind(), "model": item.Model}
		for _, part := range []any{item.Pump, item.Filter, item.Heater, item.Cell} {
			if v := reflect.ValueOf(part); !v.IsNil() {
				fill(cells, v.Elem())
			}
		}
		row := make([]string, len(columns))
		for i, name := range columns {
			row[i] = plain.Plain(cells[name])
		}
		if err := c.Write(row); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}

func fill(cells map[string]string, v reflect.Value) {
	for i := range v.NumField() {
		name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
		switch f := v.Field(i); f.Kind() {
		case reflect.String:
			if name != "model" {
				cells[columnOf(name)] = f.String()
			}
		case reflect.Float64:
			if f.Float() != 0 || !strings.Contains(v.Type().Field(i).Tag.Get("json"), "omitempty") {
				cells[columnOf(name)] = strconv.FormatFloat(f.Float(), 'f', -1, 64)
			}
		case reflect.Slice:
			var points []string
			for _, p := range f.Interface().([]pad.CurveFt) {
				points = append(points, fmt.Sprintf("%g:%g", p.GPM, p.Ft))
			}
			cells["curve_gpm_ft"] = strings.Join(points, " ")
		}
	}
}
