package paper

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/words"
)

// pages sets a paper and counts its pages; an independent reader has to take it.
func pages(t *testing.T, d Page) int {
	t.Helper()
	pdf, err := Set(d, time.UTC)
	require.NoError(t, err)
	require.NoError(t, api.Validate(bytes.NewReader(pdf), nil))
	n, err := api.PageCount(bytes.NewReader(pdf), nil)
	require.NoError(t, err)
	return n
}

func drawn(t *testing.T, w, h int) []byte {
	var out bytes.Buffer
	require.NoError(t, jpeg.Encode(&out, image.NewGray(image.Rect(0, 0, w, h)), nil))
	return out.Bytes()
}

// Every kind of block is set, in every language, with words of any length.
func TestEveryBlockIsSet(t *testing.T) {
	long := words.Named(strings.Repeat("Donaudampfschifffahrt", 30) + " " + strings.Repeat("and so on ", 60))
	at := time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC)
	blocks := []Block{
		{Kind: Heading, Text: "app.findings"},
		{Kind: Text, Text: long},
		{Kind: Caution, Text: long},
		{Kind: Facts, Facts: []Fact{{"app.findings", long}, {long, "app.findings"}}},
		{
			Kind: Table,
			Head: []words.Message{"app.findings", long},
			Rows: [][]words.Message{{long, "app.findings"}},
			Wide: 1,
		},
		{
			Kind: Trend,
			Chart: &Chart{
				Name:   "app.findings",
				Unit:   words.Named("%"),
				Limit:  100,
				Points: []Point{{at, 20, false}, {at.AddDate(0, 0, 7), 90, true}, {at.AddDate(0, 0, 14), 10, false}},
			},
		},
		{Kind: Trend, Chart: &Chart{Name: "app.findings", Unit: words.Named("%"), Limit: 100}},
		{Kind: Picture, Text: long, JPEG: drawn(t, 1600, 200)},
		{Kind: Picture, JPEG: drawn(t, 200, 1600)},
	}
	for _, p := range []words.Printer{words.Plain, {Lang: "es", Units: "metric"}, {Lang: words.Stretched}} {
		assert.GreaterOrEqual(
			t,
			pages(
				t,
				Page{
					Title:   long,
					Company: "Żółta Łąka",
					Phone:   "555 0124",
					Made:    "app.findings",
					Blocks:  blocks,
					For:     p,
				},
			),
			2,
		)
		for _, b := range blocks {
			assert.Positive(t, pages(t, Page{Title: "app.findings", Blocks: []Block{b}, For: p}), b.Kind)
		}
	}
	_, err := Set(Page{Blocks: []Block{{Kind: "dance"}}, For: words.Plain}, time.UTC)
	assert.ErrorContains(t, err, "dance")
	_, err = Set(Page{Blocks: []Block{{Kind: Picture, JPEG: []byte("no picture")}}, For: words.Plain}, time.UTC)
	assert.Error(t, err, "what is no picture is said, not left out")
}

// A table goes on over as many pages as it takes, and a longer one never takes fewer.
func TestATableGoesOnOverPages(t *testing.T) {
	before := 0
	for _, rows := range []int{1, 20, 60, 200} {
		b := Block{Kind: Table, Head: []words.Message{"app.findings", "app.findings"}, Wide: 1}
		for i := range rows {
			b.Rows = append(
				b.Rows,
				[]words.Message{words.Named(strconv.Itoa(i)), words.Named(fmt.Sprintf("line %d of the table", i))},
			)
		}
		n := pages(t, Page{Title: "app.findings", Blocks: []Block{b}, For: words.Plain})
		assert.GreaterOrEqual(t, n, before)
		before = n
	}
	assert.GreaterOrEqual(t, before, 4, "two hundred rows")
}

// Rows stand on one page each: what would not fit begins the next.
func TestARowIsNotCut(t *testing.T) {
	s := newSheet("x", false)
	tall := para{text: strings.Repeat("word ", 400)}
	for range 12 {
		top := s.pdf.GetY()
		page := s.pdf.PageNo()
		s.say(tall)
		assert.LessOrEqual(t, s.pdf.GetY(), s.end+0.01)
		if s.pdf.PageNo() == page {
			assert.Greater(t, s.pdf.GetY(), top)
		}
	}
	assert.Greater(t, s.pdf.PageNo(), 1)
	_, err := s.close()
	require.NoError(t, err)
}
