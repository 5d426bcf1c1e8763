package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// A new company from nothing to its first logged backwash, by an owner who drives, on a
// phone. Typed fields and taps together are counted: sixty at the most.
func TestANewCompanyToItsFirstLoggedBackwash(t *testing.T) {
	t.Parallel()
	town, err := harness.Company()
	require.NoError(t, err)
	s := openAt(t, town, harness.Phone)
	count := 0
	tap := func(selector string) { count++; s.tap(selector) }
	fill := func(selector, text string) { count++; s.fill(selector, text) }
	choose := func(selector, text string) { count++; s.choose(selector, text) }
	fill("#login", harness.OwnersLogin)
	fill("#password", harness.OwnersPassword)
	tap(`[type="submit"]`)
	s.findText("#first-steps", "First steps")
	s.axe("a new company's first page")
	tap(`#first-steps a[href="/pools/new"]`)
	fill("#new-street", "Osier Holt 2")
	fill("#new-gallons", "16000")
	choose("#least-pump", "Brisk 150 VS")
	choose("#least-filter", "Stanchion S24")
	fill("#least-length", "40")
	s.find("#keep-pool:not([disabled])")
	tap("#keep-pool")
	s.findText("h1", "Osier Holt 2")
	for _, kind := range []string{"pump", "filter-tank", "sand", "lid-o-ring", "tank-gauge"} {
		s.find(`[data-part="` + kind + `"]`)
	}
	tap("#call-out")
	fill("#reading-0-speed", "2400")
	fill("#reading-0-tank", "15")
	s.find("[data-stale=false] .sus li")
	choose("#other-work", "Backwash and rinse")
	tap(`[data-start="backwash"]`)
	tap("#run-start")
	for range 40 {
		at := s.step()
		if at == "" {
			break
		}
		here := `[data-step="` + at + `"] `
		s.find(
			here + "#run-read, " + here + "#run-confirm, " + here + ".run-ans-btn.run-chief, " + here + ".run-go[data-option]",
		)
		switch {
		case s.has(here + "#run-read"):
			if at == "after" {
				fill("#run-tank", "9")
			}
			tap("#run-read") // what was read at the bench is there already
		case s.has(here + "#run-confirm"):
			tap("#run-confirm")
		case s.has(here + ".run-ans-btn.run-chief"):
			tap(here + ".run-ans-btn.run-chief")
		default:
			tap(here + ".run-go[data-option]")
		}
		s.find(`.run-end, .run-now:not([data-step="` + at + `"])`)
	}
	s.findText(".run-end", "Finished")
	tap("#run-to-stop")
	tap("#open-log")
	tap("#log-save")
	s.find("#saved")
	s.record()
	s.findText(".log tbody tr:first-child .col-what", "Filter cleaned")
	t.Logf("%d typed fields and taps from nothing to the first logged backwash", count)
	assert.LessOrEqual(t, count, 60)
}
