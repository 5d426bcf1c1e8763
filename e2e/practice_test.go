package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// begins opens a written case with some help.
func (s *screen) begins(id, mode string) {
	s.t.Helper()
	s.tap(`[data-mode="` + mode + `"]`)
	s.tap(`[data-case="` + id + `"] button`)
	s.turn(0)
}

// turn waits until so many acts were taken.
func (s *screen) turn(n int) {
	s.t.Helper()
	s.Timeout(patience).
		MustWait(`(n) => document.querySelector("[data-turn]")?.dataset.turn === String(n) && document.querySelector("[data-turn]").getAttribute("aria-busy") === "false"`, n)
}

// acts taps each in turn, an act each.
func (s *screen) acts(from int, taps ...string) int {
	s.t.Helper()
	for _, tap := range taps {
		s.tap(tap)
		from++
		s.turn(from)
	}
	return from
}

// leaves ends the case and waits for what is told of it.
func (s *screen) leaves() {
	s.t.Helper()
	s.tap("#practice-leave")
	s.tap(".ant-popconfirm-buttons .ant-btn-primary")
	s.find("#practice-debrief")
}

// looksAt opens the looks at a place.
func (s *screen) looksAt(where string) {
	s.t.Helper()
	s.tap(`[data-part="looks"]`)
	if *s.find("#look-" + where).MustAttribute("data-open") != "true" {
		s.tap("#look-" + where + " .ant-collapse-header")
	}
}

// A learner works three cases on a phone with one thumb: air at the lid, a shut return that looks
// like a dirty filter, a spa found empty, where a rule is broken and told. The debrief lays each
// beside its best way, names what was mixed up and the look that parts it; what comes next follows
// from that, and it is erased when its owner says so.
func TestALearnerSolvesThreeCases(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/practice").MustWaitLoad()

	s.begins("bubbles-after-the-weekend", "hints")
	n := s.acts(0, "#practice-read")
	s.findText("#practice-hint", "Look for: Water level low")
	s.looksAt("pool")
	n = s.acts(n, `[data-look="level-low"] button`)
	s.find(`[data-look="level-low"][data-answer="false"]`)
	s.looksAt("pot")
	n = s.acts(n, `[data-look="foam-lid"] button`)
	s.find(`[data-look="foam-lid"][data-answer="true"]`)
	s.findText("#practice-hint", "Fix: Air at the pump lid")
	s.acts(n, "#practice-follow") // as a guided run
	s.findText("#practice-last", "That was it")
	s.leaves() // a run ends in daily use: nothing is left to put back
	s.find(`#practice-debrief[data-solved="true"] [data-was="air-lid"]`)
	s.axe("debrief")
	s.uncut("debrief")

	s.tapText("#practice-debrief a", "On to the next case")
	s.begins("as-dirty-as-it-looks", "alone")
	n = s.acts(0, "#practice-read")
	s.findText("#practice-last", "psi")
	s.tap(`[data-part="work"]`)
	n = s.acts(n, `[data-run="backwash"] button`) // taken for dirt
	s.findText("#practice-last", "That was not it")
	s.tap(`[data-part="pad"]`)
	n = s.acts(n, `[data-hand="stop"]`)
	s.tap(`[data-part="work"]`)
	s.tap("#fix-return-restricted .ant-collapse-header")
	n = s.acts(n, `[data-mend="return-restricted"]`)
	s.tap(`[data-part="pad"]`)
	s.acts(n, `[data-hand="start"]`)
	s.leaves()
	s.find(`#practice-debrief[data-solved="true"] [data-was="return-restricted"]`)
	s.findText("#debrief-table", "142 gal|[1-9][0-9]+ gal")
	s.find("[data-parts]")
	s.findText("#practice-replay", "By then the engine had")
	s.find("#practice-replay svg")

	s.tapText("#practice-debrief a", "On to the next case")
	s.begins("the-spa-found-empty", "alone")
	s.looksAt("paths")
	n = s.acts(0, `[data-look="spa-falling"] button`)
	s.tap(`[data-part="pad"]`)
	n = s.acts(n, `[data-hand="suction-to:spa"]`) // with the pump on
	s.findText("#practice-last.danger", "Its seal is strained")
	s.findText("#practice-last.danger", "turn it OFF before a spa valve turns|OFF")
	n = s.acts(n, `[data-hand="stop"]`)
	s.tap(`[data-part="work"]`)
	s.tap("#fix-spa-draining .ant-collapse-header")
	n = s.acts(n, `[data-mend="spa-draining"]`)
	s.findText("#practice-last", "That was it")
	s.tap(`[data-part="pad"]`)
	s.acts(n, `[data-hand="start"]`)
	s.leaves()
	s.find(`#practice-debrief[data-solved="true"]`)
	s.findText("[data-harm]", "strained")

	s.tapText("#practice-debrief a", "On to the next case")
	s.findText("#practice-past", "As dirty as it looks")
	s.findText("#practice-pairs", "Return side closed or plugged")
	s.findText("#practice-next", "It covers what you mixed up")
	s.tap("#practice-erase")
	s.tap(".ant-popconfirm-buttons .ant-btn-primary")
	s.Timeout(patience).MustWait(`() => !document.querySelector("#practice-past")`)
	var left int
	require.NoError(t, s.town.Store.Pool.QueryRow(t.Context(), "select count(*) from practice_attempts").Scan(&left))
	assert.Zero(t, left)
}

// The desk asks for a case and sees what comes of it; a case of its own that is wrong says where.
func TestTheDeskAsksForACase(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.MustNavigate(s.town.URL + "/practice/people").MustWaitLoad()
	s.tap("#practice-ask .ant-collapse-header")
	s.choose("#ask-who", "O. Brandt")
	s.tap("h1")
	s.tap("#ask-written")
	s.findText("[data-person]", "Bubbles after the weekend · asked for on")
	s.axe("practice people")
	s.tap("#more")
	s.tap("#sign-out")
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/practice").MustWaitLoad()
	s.tap("[data-task] button")
	s.turn(0)
	s.leaves()
	s.find(`#practice-debrief[data-solved="false"]`)
	s.tapText("#practice-debrief a", "On to the next case")
	s.Timeout(patience).MustWait(`() => !document.querySelector("[data-task]")`)
}
