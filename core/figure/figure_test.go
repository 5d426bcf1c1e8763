package figure

import (
	"math"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/units"
)

type system = units.System

const (
	us     = units.US
	metric = units.Metric
)

func TestReadReadsFiguresAsTheyAreTyped(t *testing.T) {
	for _, c := range []struct {
		kind Kind
		text string
		want float64
	}{
		{Tank, "17.5", 17.5}, {Tank, "17,5", 17.5}, {Tank, " 17.5 psi ", 17.5},
		{Tank, "1.2 bar", 17.404}, {Tank, "120 kPa", 17.404}, {Tank, "−2", -2},
		{Speed, "2,400", 2400}, {Speed, "２４００", 2400}, {Speed, "2\u2009400", 2400}, {Vacuum, "4 1/2", 4.5},
		{Vacuum, "4½ inHg", 4.5}, {Tank, "17 1/2 psi", 17.5}, {Speed, "2400 rpm", 2400}, {Speed, "2 400", 2400},
		{Flow, "10 m3/h", 44.03}, {Flow, "52,5", 52.5}, {Vacuum, "4 inHg", 4}, {Vacuum, "13.5 kPa", 3.987},
		{Power, "1,105 W", 1105}, {Power, "0,56 kW", 560}, {Power, "1,105.5", 1105.5},
	} {
		got, err := Read(c.kind, c.text)
		require.NoError(t, err, c.text)
		assert.InDelta(t, c.want, got, 0.01, c.text)
	}
}

func TestReadRefusesWithASentence(t *testing.T) {
	for _, c := range []struct {
		kind    Kind
		text    string
		message string
	}{
		{Tank, "", "Type the filter pressure"},
		{Tank, "seventeen", "is not a number"},
		{Tank, "17.5 gpm", "looks like a flow"},
		{Tank, "400", "not believable"},
		{Tank, "2,400", ""}, // a decimal comma here: 2.4 psi
		{Speed, "-100", "below zero"},
		{Speed, "24000", "not believable"},
		{Vacuum, "17 furlongs", "unit"},
		{Flow, "1e999", "the unit in"},
		{Power, "--5", "is not a number"},
	} {
		_, err := Read(c.kind, c.text)
		if c.message == "" {
			assert.NoError(t, err, c.text)
			continue
		}
		require.Error(t, err, c.text)
		assert.Contains(t, err.Error(), c.message)
	}
}

// A file's or a keyboard's figures: what reads two ways is asked unless the span or the
// file's own marks leave one.
func TestNumbers(t *testing.T) {
	money, gallons, any := Span{Low: 0, Top: 1e6}, Span{Low: 100, Top: 1e6}, Span{}
	for _, c := range []struct {
		text  string
		span  Span
		marks Marks
		want  float64
	}{
		{"18,500", gallons, Unknown, 18500}, {"18.500", gallons, Unknown, 18500},
		{"18.500,5", gallons, Unknown, 18500.5}, {"18,500.5", gallons, Unknown, 18500.5},
		{"1,200", money, DecimalPoint, 1200}, {"1,200", money, DecimalComma, 1.2}, {"1.200", money, DecimalComma, 1200},
		{"1.200", money, Unknown, 1.2},
		{"1,20", money, Unknown, 1.2}, {"1'200", money, Unknown, 1200}, {"1 200", money, Unknown, 1200},
		{"12,345,678", any, Unknown, 12345678}, {"0,125", any, Unknown, 0.125},
		{"1/2", any, Unknown, 0.5}, {"17-1/2", any, Unknown, 17.5}, {"−3", any, Unknown, -3},
		{"+.5", any, Unknown, 0.5},
	} {
		got, err := Number(c.text, c.span, c.marks)
		require.NoError(t, err, c.text)
		assert.InDelta(t, c.want, got, 1e-9, c.text)
	}
	_, err := Number("1,200", money, Unknown)
	assert.EqualError(t, err, "“1,200” may be 1200 or 1.2: type it as one of them.")
	for _, bad := range []string{"", "12 34", "1,23,4", "1.2.3", "1/0", "0x10", "1e5", "NaN", "twelve", "1,2345.6",
		"--5"} {
		_, err := Number(bad, any, Unknown)
		assert.Error(t, err, bad)
	}
	assert.Equal(t, DecimalComma, MarksOf([]string{"18500,5", "1.200", "twelve"}))
	assert.Equal(t, DecimalPoint, MarksOf([]string{"18500.5", "1,200"}))
	assert.Equal(t, Unknown, MarksOf([]string{"1,200", "7"}))
	assert.Equal(t, Unknown, MarksOf([]string{"1,5", "2.5"}), "a file that does both says nothing")
}

// What is printed is read back as it was, in both systems.
func TestPrintedIsRead(t *testing.T) {
	unit := map[Kind]string{Speed: "rpm", Tank: "psi", Vacuum: "inHg", Flow: "gpm", Power: "W"}
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom([]Kind{Speed, Tank, Vacuum, Flow, Power}).Draw(t, "kind")
		r := rules[kind]
		v := rapid.Float64Range(r.span.Least, r.span.Top*0.99).Draw(t, "v")
		for _, system := range []system{us, metric} {
			text := system.Figure(v, unit[kind])
			got, err := Read(kind, text)
			require.NoError(t, err, text)
			assert.Equal(t, text, system.Figure(got, unit[kind]), "it prints the same again")
		}
		text := strconv.FormatFloat(v, 'f', 2, 64)
		comma, err := Read(kind, strings.ReplaceAll(text, ".", ","))
		require.NoError(t, err)
		assert.InDelta(t, v, comma, 0.006)
	})
}

func FuzzRead(f *testing.F) {
	for _, s := range []string{"17.5", "1,2 bar", "2,400", "", "-", "1e400", "٣", "17½", "1/0"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for kind, r := range rules {
			v, err := Read(kind, s)
			if err == nil && (math.IsNaN(v) || v < r.span.Low-1e-9 || v > r.span.Top+1e-9) {
				t.Fatalf("%s %q gave %v", kind, s, v)
			}
		}
	})
}
