package backtest

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestJudgeCountsWhatItSays(t *testing.T) {
	s := Judge([]Ahead{
		{True: 7, Low: 5, Median: 8, High: 10, Calendar: 3},             // held, off by 1; the calendar by 4
		{True: 7, Low: 8, Median: 9, High: math.Inf(1), Calendar: 9},    // not held, off by 2; by 2
		{True: 40, Low: 20, Median: math.Inf(1), High: math.Inf(1)},     // held, too far off for the week
		{True: 0, Low: 0, Median: 0, High: 0},                           // over already: no forecast
		{True: math.Inf(1), Low: 3, Median: 5, High: 9, Calendar: 1000}, // never
	})
	assert.Equal(t, Score{N: 3, Weeks: 2, Error: 1.5, Calendar: 3, Coverage: 2.0 / 3}, s)
}
