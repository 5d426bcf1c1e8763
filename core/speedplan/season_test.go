package speedplan

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
)

func TestThePlanFollowsTheYear(t *testing.T) {
	p := drawnPad(t, "Brisk 75", "Stanchion S30", nil)
	n := usual(p, 9000, 75)
	year := Season(p, n, func(m time.Month) float64 {
		if m >= time.June && m <= time.August {
			return 100
		}
		return 60
	})
	require.Len(t, year, 12)
	for _, m := range year {
		require.Nil(t, m.Answer.Conflict)
		want := 8.0
		if m.AirF > 90 {
			want = 10
		}
		assert.GreaterOrEqual(t, m.Answer.Plan.Totals.RunHours, want-1e-9, "%s", m.Month)
	}
	assert.Greater(t, year[6].Answer.Plan.Totals.Cost(), year[0].Answer.Plan.Totals.Cost())
	n.Turnovers = 3 // a school's choice stays whatever the air
	for _, m := range Season(p, n, func(time.Month) float64 { return 95 }) {
		assert.Equal(t, 3.0, m.Needs.Turnovers)
	}
}

func TestDaysOnWhichTheClocksChange(t *testing.T) {
	zone, err := time.LoadLocation("America/Denver")
	require.NoError(t, err)
	p := &Pad{Doc: &pad.Document{}, Ways: []Way{{}, {RPM: 2000, GPM: 40, W: 1000}}}
	n := &Needs{Tariff: Tariff{Flat: 0.1}}
	plan, wrong := Evaluate(p, n, []pad.Slot{{StartHour: 0, Hours: 24, RPM: 2000}})
	require.Empty(t, wrong)
	for day, hours := range map[string]int{"2026-03-08": 23, "2026-11-01": 25, "2026-07-04": 24} {
		d, err := time.Parse(time.DateOnly, day)
		require.NoError(t, err)
		assert.Len(t, HoursOf(d, zone), hours, day)
		assert.InDelta(t, 0.1*float64(hours), CostOn(plan, n, d, zone), 1e-9, day)
	}
}

// BenchmarkSeason is a pool's year; two thousand pools are two thousand times as much.
// BenchmarkSeason is a year of one pool; pools is a company's, its pads solved too, on
// all cores.
func BenchmarkSeason(b *testing.B) {
	year := func(p *Pad) {
		Season(p, usual(p, 22000, 95), func(m time.Month) float64 { return 75 - 25*math.Cos(float64(m-1)*math.Pi/6) })
	}
	b.Run("pool", func(b *testing.B) {
		p := drawnPad(b, "Brisk 270 VS", "Pleat 420", withCell)
		for b.Loop() {
			year(p)
		}
	})
	b.Run("pools", func(b *testing.B) {
		b.RunParallel(func(each *testing.PB) {
			for each.Next() {
				year(drawnPad(b, "Brisk 270 VS", "Pleat 420", withCell))
			}
		})
		b.ReportMetric(b.Elapsed().Seconds()/float64(b.N)*2000, "s/2000pools")
	})
}
