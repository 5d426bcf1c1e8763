package zone

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// What is read back tells every time as the zone does, in zones with summer time on both
// halves of the earth, without any, and with a half hour.
func TestAZoneReadBackTellsTheSameTimes(t *testing.T) {
	from, to := time.Date(2015, 1, 1, 0, 0, 0, 0, time.UTC), time.Date(2035, 1, 1, 0, 0, 0, 0, time.UTC)
	for _, name := range []string{"America/Phoenix", "America/Los_Angeles", "Australia/Adelaide", "Europe/Madrid", "UTC"} {
		loc, err := time.LoadLocation(name)
		require.NoError(t, err)
		read, err := time.LoadLocationFromTZData(name, File(loc, from, to))
		require.NoError(t, err, name)
		rapid.Check(t, func(t *rapid.T) {
			at := time.Unix(rapid.Int64Range(from.Unix(), to.Unix()-1).Draw(t, "at"), 0)
			assert.Equal(t, at.In(loc).Format(time.RFC1123Z+" MST"), at.In(read).Format(time.RFC1123Z+" MST"), name)
			assert.Equal(t, at.In(loc).IsDST(), at.In(read).IsDST(), name)
		})
	}
}
