package e2e

import (
	"encoding/json"
	"os"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// axe runs the accessibility engine on what the page shows and lists what it finds.
func (s *screen) axe(where string) { s.axeBy(where, "{}") }

// axeColours looks at what a shade alone can change.
func (s *screen) axeColours(where string) { s.axeBy(where, `{"runOnly": ["color-contrast"]}`) }

func (s *screen) axeBy(where, rules string) {
	s.t.Helper()
	source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(s.t, err)
	time.Sleep(300 * time.Millisecond)
	s.MustEval("(src) => { if (!window.axe) (0, eval)(src) }", string(source))
	out := s.MustEval(`async (rules) => JSON.stringify((await axe.run(document, JSON.parse(rules))).violations.map(v => v.id + ": " + v.nodes.map(n => n.target.join(" ") + " " + (n.any[0]?.message ?? n.failureSummary)).slice(0, 4).join(" | ")))`, rules).
		String()
	var found []string
	require.NoError(s.t, json.Unmarshal([]byte(out), &found))
	assert.Empty(s.t, found, where)
}

func TestAxeFindsNothing(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.find("#as-technician")
	s.axe("sign-in")
	s.signIn("technician")
	s.find(`#stops [data-state="here"]`)
	s.axe("lap")
	s.openStop("40 Fennel Walk")
	s.axe("bench, empty")
	s.tap("#demo-read")
	s.leads("impeller-clogged")
	s.axe("bench")
	s.tapText(".bench-sec-grade button", "As a table")
	s.find("#grade-table")
	s.axe("bench, grade line as a table")
	s.tap("#open-log")
	s.find("#log-form")
	s.axe("log sheet")
	s.tap("#log-save")
	s.find("#saved")
	s.axe("a stop that is saved")
	s.record()
	s.axe("pool")
	s.tap(".log tbody tr:first-child .col-what a")
	s.find("article.pool-visit")
	s.axe("visit")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.find(".pools tbody tr")
	s.axe("pools")
	s.tap("#more")
	s.tap("#shade")
	s.key(input.Escape)
	s.axe("pools, dark")
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
	s.find(`#stops [data-state="here"]`)
	s.axe("lap, dark")
	s.openStop("8 Heron Reach")
	s.tap("#demo-read")
	s.leads("air-lid")
	s.axe("bench, dark")
}

func TestAxeFindsNothingOnAPhone(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.find(`#stops [data-state="here"]`)
	s.axe("lap")
	s.openStop("8 Heron Reach")
	s.tap("#demo-read")
	s.leads("air-lid")
	s.axe("bench")
	wide := s.MustEval("() => document.documentElement.scrollWidth").Int()
	assert.LessOrEqual(t, wide, 390, "nothing runs off the side")
	small := s.MustEval(`() => JSON.stringify([...document.querySelectorAll("button, a, select")].filter(e => e.offsetParent && e.getBoundingClientRect().height < 39.5).map(e => e.textContent.trim() + " " + Math.round(e.getBoundingClientRect().height)))`).
		String()
	assert.Equal(t, "[]", small, "targets that a wet thumb can't hit")
	s.tap("#open-log")
	s.tapText("#log-form [data-work]", "Backwash")
	s.find("#after-tank")
	cut := s.MustEval(`() => JSON.stringify([...document.querySelectorAll("#log-form input, #log-form button, #log-form select")].filter(e => e.getBoundingClientRect().right > 390).map(e => e.id || e.textContent))`).
		String()
	assert.Equal(t, "[]", cut, "nothing of the sheet runs off the side")
	s.axe("log sheet")
}
