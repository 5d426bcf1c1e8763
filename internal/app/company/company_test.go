package company

import (
	"encoding/json"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/upkeep"
	"fairlap/internal/store"
)

// A season has both its days or neither, and each is a day of the year.
func TestASeasonHasBothItsDays(t *testing.T) {
	for _, x := range []struct {
		opens, closes string
		wrong         []string
	}{
		{"", "", nil}, {"04-15", "10-20", nil}, {"04-15", "", []string{"own.seasonCloses"}}, {"", "10-20", []string{"own.seasonOpens"}},
		{"13-01", "10-20", []string{"own.seasonOpens"}}, {"02-30", "31-12", []string{"own.seasonOpens", "own.seasonCloses"}},
	} {
		var fields []string
		for _, e := range CheckSeason("own.", x.opens, x.closes) {
			fields = append(fields, e.Field)
			assert.NotEmpty(t, e.Text)
		}
		assert.ElementsMatch(t, x.wrong, fields, "%q to %q", x.opens, x.closes)
	}
}

// A search counts its first words; a day is read or it is none.
func TestWordsAndDaysAreRead(t *testing.T) {
	assert.Empty(t, Sought("  "))
	assert.Equal(t, []string{"quince", "14"}, Sought(" quince\t14 "))
	assert.Len(t, Sought("a b c d e f g h i"), mostSought)
	day, ok := Day("2026-11-24")
	assert.True(t, ok)
	assert.Equal(t, 24, day.Day())
	for _, none := range []string{"", "24.11.2026", "2026-13-01", "today"} {
		_, ok := Day(none)
		assert.False(t, ok, none)
	}
}

// What a company never chose is the usual, and what it chose stays whatever comes new.
func TestChoicesLieOverTheUsual(t *testing.T) {
	kept, err := SettingsOf(store.Company{Settings: json.RawMessage(`{}`), Version: 3})
	require.NoError(t, err)
	assert.Equal(t, upkeep.Defaults(), kept.Settings)
	assert.Equal(t, 3, kept.Version)
	own, err := SettingsOf(store.Company{Settings: json.RawMessage(`{"limitRisePsi": 10, "ways": {"rinse": "clear"}}`)})
	require.NoError(t, err)
	assert.Equal(t, 10.0, own.LimitRisePsi)
	assert.Equal(t, upkeep.Defaults().HoldHours, own.HoldHours)
	_, err = SettingsOf(store.Company{Settings: json.RawMessage(`[`)})
	assert.Error(t, err)
}

// A day of the company's is its midnight's date, whatever zone a time comes in; it never
// lies more than a day from the clock's own.
func TestTodayIsOneDayEverywhere(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		hours := rapid.IntRange(-11, 13).Draw(t, "zone")
		c := Company{Zone: time.FixedZone("here", hours*3600)}
		at := time.Unix(rapid.Int64Range(1.6e9, 2.2e9).Draw(t, "at"), 0)
		day := c.Today(at)
		assert.Equal(t, day, c.Today(at.UTC()))
		assert.Equal(t, day, c.Today(at.In(time.FixedZone("far", 12*3600))))
		assert.Equal(t, time.UTC, day.Location())
		assert.LessOrEqual(t, at.Sub(day).Abs(), 38*time.Hour)
		assert.Equal(t, at.In(c.Zone).Format(time.DateOnly), day.Format(time.DateOnly))
	})
}

// A secret is as long as nobody can guess, never the same, and only its digest is kept.
func TestSecretsAreKeptAsDigests(t *testing.T) {
	a, err := NewSecret()
	require.NoError(t, err)
	b, err := NewSecret()
	require.NoError(t, err)
	assert.NotEqual(t, a, b)
	assert.Len(t, a, 43, "256 bits")
	assert.Equal(t, Digest(a), Digest(a))
	assert.NotEqual(t, Digest(a), Digest(b))
	assert.NotContains(t, string(Digest(a)), a)
}
