package exchange

import (
	"math"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"fairlap/core/pad"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// A cell that nobody filled is empty, never a nought; a figure is what was typed.
func TestCellsAreWhatWasTyped(t *testing.T) {
	assert.Nil(t, text(""))
	assert.Nil(t, figureCell(nil, 1))
	assert.Nil(t, dayCell(nil))
	zero, third := 0.0, 1.0/3
	assert.Equal(t, 0.0, figureCell(&zero, 1), "a nought that was read is one")
	assert.Equal(t, 0.33, figureCell(&third, 2))
	day := time.Date(2026, 2, 3, 0, 0, 0, 0, time.UTC)
	assert.Equal(t, "2026-02-03", dayCell(&day))
	assert.Equal(t, "yes", yesNo(true))
	for in, want := range map[any]string{nil: "", "a": "a", 12.5: "12.5", 1e6: "1000000", true: "true"} {
		assert.Equal(t, want, cellText(in))
	}
}

// A rounded figure lies within half its last place, and rounding it again changes nothing.
func TestRoundingKeepsToItsPlace(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(-1e6, 1e6).Draw(t, "v")
		digits := rapid.IntRange(0, 4).Draw(t, "digits")
		got, ok := rounded(v, digits).(float64)
		assert.True(t, ok)
		assert.LessOrEqual(t, math.Abs(got-v), 0.5*math.Pow(10, -float64(digits))+1e-9)
		assert.Equal(t, got, rounded(got, digits))
	})
}

// Pipes are told by the size that they are sold as; another bore stays a bore (nominal sizes
// and bores of schedule 40: common practice).
func TestPipesAreToldAsTheyAreSold(t *testing.T) {
	for size, bore := range pad.Bores {
		assert.Equal(t, size, nominal(bore))
	}
	assert.Equal(t, 1.9, nominal(1.9))
	assert.Zero(t, lengthOf(&pad.Document{}))
}

// A visit is a row with its times in the company's zone; what is listed in a cell can be
// parted again, whatever somebody wrote.
func TestAVisitIsARow(t *testing.T) {
	desert := company.Company{Zone: time.FixedZone("desert", -7*3600)}
	at := time.Date(2026, 11, 24, 3, 5, 0, 0, time.UTC)
	v := store.Visit{
		ID: uuid.New(), ArrivedAt: at, ClosedAt: at.Add(20 * time.Minute), Cleaned: true, Note: "gate; then left",
		Works: []store.VisitWork{{Kind: "basket", Note: "leaves; twigs"}, {Kind: "cleaned"}},
		Signs: []store.VisitSign{{Sign: "water-low", Yes: false}, {Sign: "air-in-pot", Yes: true}},
	}
	row := visitCells(desert, &v, "14 Quince Court", "ada")
	assert.Equal(t, v.ID.String(), row[0])
	assert.Equal(t, "2026-11-23 20:05", row[3], "the day before, there")
	assert.Equal(t, "yes", row[5])
	assert.Nil(t, row[6], "no chemicals")
	assert.Equal(t, "basket: leaves, twigs; cleaned", row[10], "two works, however a note was written")
	assert.Equal(t, "air-in-pot=yes; water-low=no", row[11], "in one order")
	assert.Len(t, strings.Split(row[10].(string), "; "), len(v.Works))
	assert.Len(t, row, len(visitColumns), "a cell under each head")
	parts := partCells("14 Quince Court", &store.Equipment{Kind: "cartridge"}, "")
	assert.Len(t, parts, len(partColumns))
	assert.Nil(t, parts[7], "a cost that nobody knows")
	reading := readingCells(v.ID, &store.VisitReading{SpeedRPM: 2400, Phase: "found", Setting: "filter"})
	assert.Len(t, reading, len(readingColumns))
}

// Rows are counted by their table and what becomes of them, in the order that they come.
func TestRowsAreTallied(t *testing.T) {
	assert.Empty(t, tally(nil))
	got := tally([]RowOutcome{
		{
			Table:   "pools",
			Outcome: outcomeNew,
		}, {Table: "pools", Outcome: outcomeKnown}, {Table: "pools", Outcome: outcomeRefused},
		{Table: "visits", Outcome: outcomeNew}, {Table: "visits", Outcome: outcomeNew},
	})
	assert.Equal(t, []ImportTable{{Name: "pools", New: 1, Known: 1, Refused: 1}, {Name: "visits", New: 2}}, got)
}
