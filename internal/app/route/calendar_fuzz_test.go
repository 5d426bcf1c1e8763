package route

import (
	"strings"
	"testing"
	"time"

	ics "github.com/arran4/golang-ical"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/company"
)

// Whatever a pool is called, its day is a calendar that reads back: lines end as RFC 5545 has
// them, none is longer than it says, and the words are the ones that went in.
func FuzzCalendar(f *testing.F) {
	f.Add("14 Quince Court", "Backwash, 12 min")
	f.Add("a;b,c\\d\nBEGIN:VALARM", strings.Repeat("ñ", 90))
	f.Add("\r\nX:1", "")
	f.Fuzz(func(t *testing.T, street, work string) {
		at := time.Date(2026, 11, 24, 10, 0, 0, 0, time.UTC)
		text := calendarOf(
			company.Company{Name: "Us"},
			"O. Brandt",
			at,
			[]call{{uuid.New(), at, at.Add(time.Hour), street, work}},
		)
		for _, line := range strings.Split(strings.TrimSuffix(text, "\r\n"), "\r\n") {
			assert.LessOrEqual(t, len(line), 75)
			assert.NotContains(t, line, "\n")
			assert.NotContains(t, line, "\r")
		}
		cal, err := ics.ParseCalendar(strings.NewReader(text))
		require.NoError(t, err)
		require.Len(t, cal.Events(), 1)
		if plain := letters(street); plain == street {
			assert.Equal(t, street, cal.Events()[0].GetProperty(ics.ComponentPropertySummary).Value)
		}
	})
}
