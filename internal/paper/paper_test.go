package paper

import (
	"bytes"
	"image/jpeg"
	"os/exec"
	"testing"
	"time"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/words"
)

func TestALapSheetIsAValidDocument(t *testing.T) {
	l := Lap{
		Company:    "Pellam Ridge Pool Care",
		Technician: "O. Brandt",
		Day:        time.Date(2026, 11, 24, 0, 0, 0, 0, time.UTC),
		Minutes:    371,
		Limit:      450,
		Van:        []words.Message{"DE powder 3.8 lb"},
	}
	for range 20 {
		l.Stops = append(
			l.Stops,
			Stop{
				l.Day.Add(9 * time.Hour),
				"Żółta Łąka 14",
				"sand, Stanchion S24",
				"Backwash due",
				[]words.Message{"Take a clean line", "Look at the salt cell, descale it"},
				40,
				true,
			},
		)
	}
	pdf, err := LapSheet(l, words.Plain)
	require.NoError(t, err)
	require.NoError(t, api.Validate(bytes.NewReader(pdf), nil), "an independent reader takes it")
	pages, err := api.PageCount(bytes.NewReader(pdf), nil)
	require.NoError(t, err)
	assert.GreaterOrEqual(t, pages, 2, "twenty stops do not fit on a page")
	if _, err := exec.LookPath("pdftotext"); err == nil { // words come out as words, where the tool is there
		cmd := exec.Command("pdftotext", "-", "-")
		cmd.Stdin = bytes.NewReader(pdf)
		out, err := cmd.Output()
		require.NoError(t, err)
		assert.Contains(t, string(out), "Żółta Łąka 14")
	}
	empty, err := LapSheet(Lap{Technician: "W. Teague"}, words.Plain)
	require.NoError(t, err)
	require.NoError(t, api.Validate(bytes.NewReader(empty), nil))
}

// A pad's handles are drawn: the picture has ink, and another angle is another picture.
func TestHandlesAreDrawn(t *testing.T) {
	one, err := Dials(
		[]Dial{{"Suction valve", "pool line", "spa line", 180}, {"Return valve", "pool line", "spa line", 180}},
		words.Plain,
	)
	require.NoError(t, err)
	other, err := Dials(
		[]Dial{{"Suction valve", "pool line", "spa line", 0}, {"Return valve", "pool line", "spa line", 180}},
		words.Plain,
	)
	require.NoError(t, err)
	assert.NotEqual(t, one, other)
	img, err := jpeg.Decode(bytes.NewReader(one))
	require.NoError(t, err)
	assert.Greater(t, img.Bounds().Dx(), 2*img.Bounds().Dy(), "side by side")
}
