package e2e

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
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
	fill("#new-street", "2 Osier Holt")
	fill("#new-gallons", "16000")
	choose("#least-pump", "Brisk 150 VS")
	choose("#least-filter", "Stanchion S24")
	fill("#least-length", "40")
	s.find("#keep-pool:not([disabled])")
	tap("#keep-pool")
	s.findText("h1", "2 Osier Holt")
	s.findText("h2", "Take a clean line") // what comes next at a pad just described
	s.tapText(".pool-pages a", "^Record$")
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

// sixty is a customer list with foreign headings, some rows of which lack something.
func sixty() string {
	days := []string{"Mon", "Tues", "Wed", "Thu", "Fri"}
	var b strings.Builder
	b.WriteString("Client,Svc Address,City,ST,Zip,Phone 1,Svc Day,Tech,Gals,Balance\n")
	for n := range 60 {
		day, street := days[n%5], fmt.Sprintf("%d Alder Run", 100+n)
		if n == 3 {
			day = "Tu/Th"
		}
		if n == 8 {
			street = ""
		}
		fmt.Fprintf(&b, "Customer %02d,%s,Cedar Hollow,AZ,00412,555-01%02d,%s,Thorne,15000,$85\n", n, street, n, day)
	}
	return b.String()
}

// A list of sixty comes in by a few taps, its pools are on the week without any pad, and a stop at one is logged; then
// its pad is described. At 25 letters and a tap every three seconds that is well under a quarter of an hour.
func TestAListComesInAndAStopIsLogged(t *testing.T) {
	t.Parallel()
	town, err := harness.Company()
	require.NoError(t, err)
	s := openAt(t, town, harness.Desktop)
	count := 0
	tap := func(selector string) { count++; s.tap(selector) }
	fill := func(selector, text string) { count++; s.fill(selector, text) }
	fill("#login", harness.OwnersLogin)
	fill("#password", harness.OwnersPassword)
	tap(`[type="submit"]`)
	tap(`#first-steps a[href="/import"]`)
	file := filepath.Join(t.TempDir(), "customers.csv")
	require.NoError(t, os.WriteFile(file, []byte(sixty()), 0o600))
	count++
	s.find(`input[type="file"]`).MustSetFiles(file)
	s.find(`[data-import="read"]`)
	s.findText(`[data-column="Client"]`, "Sure")
	s.findText(`[data-column="Balance"]`, "Left out")
	s.findText(`[data-row="5"]`, "more than one day")
	s.findText(`[data-row="10"]`, "no street")
	s.axe("the preview of a list")
	tap("#import-take")
	s.findText(`[data-import="done"]`, "59 pools")
	tap("#import-next")
	s.findText("#page", "101 Alder Run")
	s.tapText("nav a", "^Today$")
	s.find(`[data-step="customers"][data-state="done"]`)
	s.tapText("nav a", "^Pools$")
	count++
	s.tapText(".pools a", "100 Alder Run")
	tap("#call-out")
	s.findText("#undescribed", "No one has described this pad")
	fill("#reading-0-speed", "2400")
	fill("#reading-0-tank", "14")
	tap("#open-log")
	tap("#log-save")
	s.find("#saved")
	s.record()
	tap("#describe-pad")
	tap(`[data-looks="sand"]`)
	count += 2
	s.choose("#least-pump", "Brisk 150 VS")
	s.choose("#least-filter", "Stanchion S24")
	fill("#least-length", "40")
	s.find("#keep-first-pad:not([disabled])")
	tap("#keep-first-pad")
	s.find(`[data-part="sand"]`)
	assert.False(t, s.has("#undescribed"))
	t.Logf("%d fields and taps from nothing to sixty pools, a logged stop and a described pad", count)
	assert.LessOrEqual(t, count, 30)
}
