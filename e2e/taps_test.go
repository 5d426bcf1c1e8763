package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

// counted is a screen whose taps are counted, from Today on.
type counted struct {
	*screen
	taps int
}

func (c *counted) tap(selector string) { c.taps++; c.screen.tap(selector) }

func (c *counted) tapText(selector, pattern string) { c.taps++; c.screen.tapText(selector, pattern) }

// From Today on a phone: what is done often is few taps away.
func TestWhatIsDoneOftenIsFewTapsAway(t *testing.T) {
	t.Parallel()
	for _, job := range []struct {
		name string
		as   string
		most int
		do   func(c *counted)
	}{
		{"routine visit with five gauges, next stop in sight", "technician", 8, func(c *counted) {
			c.tap("#go-on")
			c.tap("#reading-0-speed")
			for _, f := range []string{"speed", "tank", "vacuum", "flow", "power"} {
				c.find("#reading-0-" + f + ":focus") // Enter goes to the next figure
				assert.NoError(c.t, c.InsertText(map[string]string{"speed": "2400", "tank": "12.5", "vacuum": "2.5", "flow": "40", "power": "350"}[f]))
				c.key('\r')
			}
			c.find(`[data-stale=false] [data-state]`)
			c.tap("#open-log")
			c.tap("#log-save")
			c.findText("#next-stop", "5 Bayberry Close")
		}},
		{"find a pool", "technician", 2, func(c *counted) {
			c.tapText("#bar a", "Pools")
			c.find("#find-pool:focus")
			assert.NoError(c.t, c.InsertText("mistral"))
			c.tapText(".pools td a", "12 Mistral Way")
			c.findText("h1", "12 Mistral Way")
		}},
		{"why clean today, at the stop", "technician", 1, func(c *counted) {
			c.screen.tap("#go-on")
			c.read(0, map[string]string{"speed": "2400", "tank": "14", "flow": "31"})
			c.find(`[data-stale=false] [data-advice="clean"]`)
			c.taps = 0
			c.tap("#why-clean")
			c.findText("#cleaning", "chance that it passes its limit")
		}},
		{"a part's history", "technician", 3, func(c *counted) {
			c.tap("#more")
			c.tapText("#more-sheet a", "Parts")
			c.tapText(".parts-table td.col-part a", ".")
			c.find("#part")
		}},
		{"move a stop", "technician", 3, func(c *counted) {
			c.tapText("#bar a", "Week")
			c.tap(`[data-move="19 Sorrel Bend"]`)
			c.tapText(".ant-dropdown-menu-item", on(next()).Format("Jan 2"))
			c.findText(".week-moved", "19 Sorrel Bend goes to "+short(next()))
		}},
		{"add a pool", "technician", 9, func(c *counted) {
			c.tapText("#bar a", "Pools")
			c.tap("#take-on")
			c.find("#new-street:focus") // the page begins there
			assert.NoError(c.t, c.InsertText("7 Sedge Row"))
			c.tap("#new-gallons")
			assert.NoError(c.t, c.InsertText("16000"))
			c.taps += 2
			c.choose("#least-pump", "Brisk 150 VS")
			c.taps += 2
			c.choose("#least-filter", "Stanchion S24")
			c.tap("#least-length")
			assert.NoError(c.t, c.InsertText("40"))
			c.find("#keep-pool:not([disabled])")
			c.tap("#keep-pool")
			c.findText("h1", "7 Sedge Row")
		}},
		{"a report as PDF", "technician", 4, func(c *counted) {
			c.tapText("#bar a", "Pools")
			c.tapText(".pools td a", "5 Bayberry Close")
			c.tapText(".pool-pages a", "Papers")
			href := *c.find(`[data-pdf="report"]`).MustAttribute("href")
			assert.Equal(c.t, "%PDF-", c.MustEval(`async (u) => (await (await fetch(u)).text()).slice(0, 5)`, href).Str())
			c.tap(`[data-pdf="report"]`)
		}},
		{"send a link", "office", 4, func(c *counted) {
			c.tapText("#bar a", "Pools")
			c.tapText(".pools td a", "5 Bayberry Close")
			c.tap("#share")
			c.tap("#share-make")
			c.findText("#share-link", "/shared/")
		}},
		{"change the programme", "office", 4, func(c *counted) {
			c.tapText("#bar a", "Pools")
			c.tapText(".pools td a", "5 Bayberry Close")
			c.tapText(".pool-pages a", "Speed plan")
			c.tap("#plan-set")
			c.findText("main", "On record as the pump's program")
			c.find("#plan-undo")
		}},
	} {
		t.Run(job.name, func(t *testing.T) {
			t.Parallel()
			c := &counted{screen: open(t, harness.Phone)}
			c.signIn(job.as)
			c.find("#bar")
			job.do(c)
			t.Logf("%s: %d taps, at most %d", job.name, c.taps, job.most)
			assert.LessOrEqual(t, c.taps, job.most)
		})
	}
}
