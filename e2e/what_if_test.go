package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// Trying a sign or a reading otherwise changes the answer, never what was found.
func TestWhatIfIsNeverKept(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("40 Fennel Walk")
	s.tap("#demo-read")
	s.leads("impeller-clogged")
	found := s.value("#reading-0-tank")
	// A reason opens to its numbers.
	s.tap(`.sus li:first-child .reason .ant-collapse-header`)
	s.findText(".bench-numbers", "of 100 stops|Read ")
	s.tap("#what-if")
	s.findText(".bench-what-if", "none of this is saved")
	s.axe("bench while trying")
	assert.True(t, s.find("#open-log").MustProperty("disabled").Bool(), "a trial can't be logged")
	s.fill("#reading-0-tank", "14")
	s.findText("[data-stale=false] #suspects", ".")
	s.findText(".bench-what-if", "Found: Impeller clogged >?[0-9]+ %. Tried: .+ %")
	both := strings.Split(s.find(".bench-what-if").MustText(), "Tried: ")
	assert.NotContains(t, both[0], strings.SplitN(both[1], "%", 2)[0], "the tank at 14 changes the answer")
	s.tap("#what-if-back")
	assert.Equal(t, found, s.value("#reading-0-tank"))
	s.leads("impeller-clogged")
	s.MustReload()
	s.leads("impeller-clogged")
	assert.Equal(t, found, s.value("#reading-0-tank"), "and so it is after a reload")
	// One tap tries a single sign the other way.
	s.MustEval(
		`() => { for (const d of document.querySelectorAll(".sus li.bench-open .reason")) if (d.textContent.includes("Air in the pump basket")) { d.querySelector(".ant-collapse-header").click(); setTimeout(() => d.querySelector("button").click(), 200) } }`,
	)
	s.findText(".bench-what-if", "Found: Impeller clogged")
	s.find(`[data-sign="air-in-pot"][data-answer="no"]`)
}

func TestTheFixesHaveAnOrder(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("40 Fennel Walk")
	s.read(0, map[string]string{"speed": "2400", "tank": "7", "vacuum": "7"})
	s.findText("[data-stale=false] #suspects", ".")
	s.tap("#fix-order .ant-collapse-header")
	s.findText("#fix-order", "on average, if it is one of them")
	s.find("#fix-order li:nth-child(2)")
	assert.False(t, strings.Contains(s.find("#fix-order").MustText(), "Nothing to do"))
}
