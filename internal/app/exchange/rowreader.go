package exchange

import (
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/sheet"
)

// rowReader reads one row by column names and gathers what is wrong with it.
type rowReader struct {
	table    *sheet.Table
	row      *sheet.Row
	column   map[string]int
	refusals []words.Message
	// Of a customer list: what comes in otherwise than the file has it, where, and what the row comes in as.
	notes   []words.Message
	trouble []Field
	cells   map[Field]string
	marks   figure.Marks // of decimals, as far as the table tells
	zone    *time.Location
}

func (r *rowReader) bad(column string, refusals words.Message) {
	r.refusals = append(r.refusals, words.Of("app.column", "column", words.Name(column), "says", words.Msg(refusals)))
}

func (r *rowReader) text(column string, most int) string {
	i, ok := r.column[column]
	if !ok {
		return ""
	}
	v := r.row.Cells[i]
	if len([]rune(v)) > most {
		r.bad(column, words.Of("app.longer-than-letters", "most", words.N(most)))
	}
	if strings.ContainsFunc(v, func(c rune) bool { return c < ' ' && c != '\n' && c != '\t' && c != '\r' }) {
		r.bad(column, "app.holds-letters-that-can-t")
	}
	return v
}

func (r *rowReader) need(column string, most int) string {
	v := r.text(column, most)
	if v == "" {
		r.bad(column, "app.must-not-be-empty")
	}
	return v
}

// number reads a figure with a decimal point or comma; nil for an empty cell.
func (r *rowReader) number(column string, low, high float64) *float64 {
	v := r.text(column, 60)
	if v == "" {
		return nil
	}
	x, err := figure.Number(v, figure.Span{Low: low, Top: high}, r.marks)
	if err != nil {
		r.bad(column, figure.Problem(err))
		return nil
	}
	return &x
}

func (r *rowReader) whole(column string, low, high, usual int) int {
	x := r.number(column, float64(low), float64(high))
	if x == nil {
		return usual
	}
	if *x != math.Trunc(*x) {
		r.bad(column, "app.must-be-a-whole-number")
	}
	return int(*x)
}

func (r *rowReader) choice(column string, usual string, options ...string) string {
	v := strings.ToLower(r.text(column, 60))
	if v == "" {
		return usual
	}
	if !slices.Contains(options, v) {
		r.bad(
			column,
			words.Of("app.is-none-of", "v", words.Name(v), "options", words.Name(strings.Join(options, ", "))),
		)
		return usual
	}
	return v
}

// serialDays is the span in which a number may be a spreadsheet's day: 1954 to 2119.
const serialFrom, serialTo = 20_000, 80_000

// serial reads a spreadsheet's number of days, which counts from the last day but one
// of 1899.
func (r *rowReader) serial(v string) (time.Time, bool) {
	x, err := strconv.ParseFloat(v, 64)
	if !r.table.Serial || err != nil || x < serialFrom || x > serialTo {
		return time.Time{}, false
	}
	days := math.Floor(x)
	return time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC).
			AddDate(0, 0, int(days)).
			Add(time.Duration(math.Round((x-days)*24*60)) * time.Minute),
		true
}

func (r *rowReader) day(column string) *time.Time {
	v := r.text(column, 40)
	if v == "" {
		return nil
	}
	t, ok := r.serial(v)
	if !ok {
		var err error
		if t, err = time.Parse(time.DateOnly, v); err != nil {
			r.bad(column, words.Of("app.is-no-day-write-it", "v", words.Name(v)))
			return nil
		}
	}
	if !access.Reasonable(t) {
		r.bad(column, access.NotReasonable)
		return nil
	}
	return &t
}

// at reads a time in the company's zone.
func (r *rowReader) at(column string) *time.Time {
	v := r.text(column, 40)
	if v == "" {
		return nil
	}
	if t, ok := r.serial(v); ok {
		t = time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), t.Minute(), 0, 0, r.zone)
		return &t
	}
	for _, layout := range []string{minuteLayout, "2006-01-02 15:04:05", "2006-01-02T15:04", time.DateOnly} {
		if t, err := time.ParseInLocation(layout, v, r.zone); err == nil {
			return &t
		}
	}
	if t, err := time.Parse(time.RFC3339, v); err == nil {
		return &t
	}
	r.bad(column, words.Of("app.is-no-time-write-it", "v", words.Name(v)))
	return nil
}
