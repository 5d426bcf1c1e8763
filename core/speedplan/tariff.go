package speedplan

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"fairlap/core/figure"
	"fairlap/core/words"
)

// mostBands bounds a tariff's file.
const mostBands = 24

// ReadTariff reads a tariff's file: from,to,price_per_kwh, hours like 16 or 16:30. Every
// mistake is named with its line.
func ReadTariff(r io.Reader) (Tariff, []Mistake) {
	var wrong []Mistake
	c := csv.NewReader(io.LimitReader(r, 64<<10))
	c.FieldsPerRecord, c.TrimLeadingSpace = -1, true
	var t Tariff
	var column map[string]int
	for line := 1; ; line++ {
		cells, err := c.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		at := fmt.Sprintf("line %d", line)
		if err != nil {
			return Tariff{}, append(wrong, Mistake{at, "speedplan.this-line-can-t-be"})
		}
		if column == nil {
			column = map[string]int{}
			for i, h := range cells {
				column[strings.ToLower(strings.TrimSpace(strings.TrimPrefix(h, "\ufeff")))] = i
			}
			for _, need := range []string{"from", "to", "price_per_kwh"} {
				if _, ok := column[need]; !ok {
					return Tariff{}, append(wrong, Mistake{at, "speedplan.the-first-line-names-the"})
				}
			}
			continue
		}
		cell := func(name string) string {
			if i := column[name]; i < len(cells) {
				return strings.TrimSpace(cells[i])
			}
			return ""
		}
		var b Band
		for name, to := range map[string]*float64{"from": &b.From, "to": &b.To} {
			v, ok := hour(cell(name))
			if !ok {
				wrong = append(
					wrong,
					Mistake{at + ", " + name, words.Of("speedplan.is-no-hour-of-the", "cell", words.Name(cell(name)))},
				)
			}
			*to = v
		}
		price, err := figure.Number(cell("price_per_kwh"), figure.Span{Low: -10, Top: 10}, figure.Unknown)
		if err != nil {
			wrong = append(wrong, Mistake{at + ", price_per_kwh", "speedplan.a-price-between-10-and"})
		}
		b.Price = price
		if t.Bands = append(t.Bands, b); len(t.Bands) > mostBands {
			return Tariff{}, append(wrong, Mistake{at, "speedplan.more-bands-than-a-day"})
		}
	}
	if len(wrong) == 0 && len(t.Bands) == 0 {
		wrong = append(wrong, Mistake{"line 1", "speedplan.this-file-holds-no-price"})
	}
	if len(wrong) == 0 {
		wrong = t.check()
	}
	slices.SortStableFunc(wrong, func(a, b Mistake) int { return strings.Compare(a.Field, b.Field) })
	return t, wrong
}

func hour(text string) (float64, bool) {
	h, m, _ := strings.Cut(text, ":")
	v, err := strconv.ParseFloat(h, 64)
	if err != nil || !(v >= 0 && v <= 24) {
		return 0, false
	}
	if m == "" {
		return v, true
	}
	minutes, err := strconv.Atoi(m)
	if err != nil || minutes < 0 || minutes > 59 {
		return 0, false
	}
	v += float64(minutes) / 60
	return v, v <= 24
}
