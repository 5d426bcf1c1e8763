//go:build long

package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// Without a line a case is drawn, worked and told of as with one; it is sent when the line is
// back, once.
func TestPracticeWithoutALine(t *testing.T) {
	t.Parallel()
	s := openApp(t, harness.Phone)
	s.signIn("technician")
	s.onDevice()
	s.withoutLine(true)
	s.tap("#more")
	s.tapText("#more-sheet a", "Practice")
	s.begins("gulping-by-the-steps", "beside")
	n := s.acts(0, "#practice-read")
	s.find(`[data-suspect="water-low"]`)
	s.looksAt("pool")
	n = s.acts(n, `[data-look="level-low"] button`, "#practice-follow")
	s.findText("#practice-last", "That was it")
	assert.Equal(t, 3, n)
	s.MustReload().MustWaitLoad()
	s.turn(3) // nothing is lost
	s.leaves()
	s.find(`#practice-debrief[data-solved="true"]`)
	s.withoutLine(false)
	count := func() (n int) {
		require.NoError(
			t,
			s.town.Store.Pool.QueryRow(t.Context(), "select count(*) from practice_attempts where past is not null").
				Scan(&n),
		)
		return n
	}
	require.Eventually(t, func() bool { return count() == 1 }, patience, 200*time.Millisecond)
	s.find(`#practice-debrief[data-solved="true"]`)
}

// The same level, theme and number draw the same case, for a class to compare; odds are said
// before each check.
func TestADrawnCaseIsTheSameTwice(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	read := func() (string, string) {
		s.MustNavigate(s.town.URL + "/practice").MustWaitLoad()
		s.tap(`[data-mode="odds"]`)
		s.fill("#draw-seed", "4711")
		s.tap("#practice-draw-go")
		s.turn(0)
		assert.True(t, s.find("#practice-read").MustProperty("disabled").Bool(), "the odds come first")
		s.tap("#odds-add")
		n := s.acts(0, "#odds-say", "#practice-read")
		assert.Equal(t, 2, n)
		return s.find("[class*=story]").MustText(), s.find("#practice-last").MustText()
	}
	story, first := read()
	again, second := read()
	assert.Equal(t, story, again)
	assert.Equal(t, first, second)
	assert.Contains(t, first, "psi")
}
