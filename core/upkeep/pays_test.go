package upkeep

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// The day until which a cleaning can wait: with the odds alone the first day over the
// company's threshold; never sooner when a cleaning is worth more, nor when the odds
// asked for are higher; never later when the filter is dirtier.
func TestTheDayACleaningIsDueMovesTheRightWay(t *testing.T) {
	const days = 60
	rapid.Check(t, func(t *rapid.T) {
		load := rapid.Float64Range(0, 0.95).Draw(t, "load")
		s := State{
			Load:      load,
			VarLoad:   0.002,
			Growth:    rapid.Float64Range(0.001, 0.006).Draw(t, "growth"),
			VarGrowth: 2e-7,
		}
		settings := Settings{
			CleanAbove: rapid.Float64Range(0.1, 0.8).Draw(t, "above"),
			WorthDays:  rapid.Float64Range(0, 6).Draw(t, "worth"),
		}
		due := func(s State, c Settings) int {
			course := s.Course(s.LoadBelief(), 14)
			if at := course.Due(&c); at >= 0 {
				return at
			}
			return horizon + 1
		}
		at := due(s, settings)
		alone := settings
		alone.WorthDays = 0
		f := s.Ahead(s.LoadBelief(), 14, days)
		for i := 0; i < min(due(s, alone), len(f.Days)); i++ {
			assert.LessOrEqual(t, f.Days[i].Past, settings.CleanAbove)
		}
		assert.GreaterOrEqual(t, at, due(s, alone))
		dearer, surer := settings, settings
		dearer.WorthDays++
		surer.CleanAbove += 0.1
		assert.GreaterOrEqual(t, due(s, dearer), at)
		assert.GreaterOrEqual(t, due(s, surer), at)
		dirtier := s
		dirtier.Load += 0.04
		assert.LessOrEqual(t, due(dirtier, settings), at)
	})
}
