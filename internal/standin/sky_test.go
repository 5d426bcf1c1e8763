package standin

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
)

func TestTheSkyHasAYear(t *testing.T) {
	sky := Sky(1)
	start := time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC)
	storms, july, january := 0, 0.0, 0.0
	for d := range 365 {
		day := start.AddDate(0, 0, d)
		w, known := sky(day)
		assert.True(t, known)
		if w.Storm() {
			storms++
		}
		switch day.Month() {
		case time.July:
			july += w.AirF / 31
		case time.January:
			january += w.AirF / 31
		}
		noon, _ := sky(day.Add(12 * time.Hour))
		assert.Equal(t, w, noon, "one weather a day")
	}
	assert.Greater(t, july, january+20)
	assert.True(t, storms >= 2 && storms <= 20, storms)
	first, _ := sky(start)
	other, _ := Sky(2)(start)
	assert.NotEqual(t, first, other)
}
