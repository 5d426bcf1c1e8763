package e2e

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/pad"
	"fairlap/e2e/harness"
)

// pool opens a page of a pool by its street.
func (s *screen) pool(street, page string) {
	s.t.Helper()
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	href := s.findText(".pools a", street).MustAttribute("href")
	s.MustNavigate(s.town.URL + *href + page).MustWaitLoad()
	s.findText("h1", street)
}

// chooseBy picks a line of the list that a label names, within a scope.
func (s *screen) chooseBy(scope, label, option string) {
	s.t.Helper()
	id := s.findText(scope+" label", "^"+label+"$").MustAttribute("for")
	require.NotNil(s.t, id)
	s.choose(`[id="`+*id+`"]`, option)
}

// drawn waits until the pad's drawing bears the words.
func (s *screen) drawn(words string) {
	s.t.Helper()
	err := s.Timeout(patience).
		Wait(rod.Eval(`(w) => [...document.querySelectorAll(".pad-drawing text")].some((t) => t.textContent.includes(w))`, words))
	require.NoError(s.t, err, "waiting for %q on the drawing", words)
}

func TestLinesValvesAndASpaAreDrawnAsTheyAreTyped(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.pool("5 Bayberry Close", "/pad")
	s.find(".pad-preview:not(.stale) .pad-drawing")
	legend := func(words string) string { // the fieldset of a legend
		el := s.findText(".pad-fields legend", "^"+words+"$")
		el.MustEval("() => { this.parentElement.dataset.at = this.textContent }")
		return `[data-at="` + words + `"]`
	}
	// Another return.
	s.tapText(legend("Return lines")+" button", "Add a line")
	s.drawn("Return")
	// A spa with its lines and a valve on each side; until a port leads somewhere it is refused in words.
	s.tapText(legend("Spa")+" label", "A spa on the same pad")
	s.fill(`[id="doc-spa.surfaceFt"]`, "1,5")
	s.tapText(legend("Three-way valves")+" button", "Add on the suction side")
	s.findText(".field-says", "othing hangs on port")
	s.tapText(legend("Suction lines")+" button", "Add a line")
	s.tapText(legend("Suction lines")+" .ant-collapse-header", "^Skimmer")
	last := legend("Suction lines") + " .fold:last-of-type"
	s.tap(last + " .ant-collapse-header")
	s.chooseBy(last, "Kind", "Spa drain")
	s.chooseBy(last, "Connected to", "Suction valve, port B")
	first := legend("Suction lines") + " .fold:first-of-type"
	s.chooseBy(first, "Connected to", "Suction valve, port A")
	s.find(".pad-preview:not(.stale) #speeds")
	s.drawn("spa")
	// Taking the valve out leaves its lines on the common pipe.
	s.tapText(legend("Three-way valves")+" button", "Remove Suction valve")
	s.find(".pad-preview:not(.stale) #speeds")
	// A day has 24 hours.
	s.tapText(legend("Pump program")+" button", "Add a slot")
	s.fill(`[id="doc-programme[0].hours"]`, "23")
	s.findText(".field-says", "a day has 24 hours|A day has 24 hours")
	s.fill(`[id="doc-programme[0].hours"]`, "4")
	s.find(".pad-preview:not(.stale) #speeds")
	// Nothing of it is kept until it is said so.
	s.tapText(".keep-pad"+" button", "Undo my changes")
	s.MustReload().MustWaitLoad()
	s.find(".pad-preview:not(.stale) .pad-drawing")
	assert.Equal(t, "1", strings.TrimPrefix(s.findText(".top .quiet", "Revision").MustText(), "Revision "))
}

func TestTwoDesksRevisingOnePadSeeEachOther(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.pool("5 Bayberry Close", "/pad")
	s.find(".pad-preview:not(.stale)")
	assert.Empty(t, s.kept("pad"), "looking is no draft")
	s.fill(`[id="doc-filter.areaFt2"]`, "300")
	s.find(".pad-preview:not(.stale)")
	here := s.MustInfo().URL
	// Someone else writes a revision meanwhile.
	other := s.town.Page(browser, "/", harness.Desktop).Timeout(patience)
	defer other.MustClose()
	other.MustElement("#as-owner").MustClick()
	other.MustElement("#side")
	other.MustNavigate(here).MustWaitLoad()
	other.MustElement(`[id="doc-filter.labelPsi"]`).MustSelectAllText().MustInput("45")
	other.MustElement("#keep-pad:not([disabled])").MustClick()
	other.MustElementR(".pad-revisions", "Revision 2")

	s.tap("#keep-pad")
	s.findText(".danger", "Your changes are safe here")
	assert.Equal(t, "300", s.value(`[id="doc-filter.areaFt2"]`), "nothing typed is lost")
	s.tapText(".danger button", "Keep mine|mine")
	s.find("#keep-pad")
}

func TestAPadIsCopiedAndComesFromAFile(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/pools/new").MustWaitLoad()
	s.tap("#copy-pad")
	s.fill("#copy-pad", "tamarack")
	s.tapText(".ant-select-item-option", "61 Tamarack Street")
	s.drawn("Spa drain")
	s.tapText(".pad-form"+" button", "Back to the short form")
	bad := filepath.Join(t.TempDir(), "pad.json")
	write(t, bad, `{"pump":{"topRpm":"fast"}}`)
	input := `input[accept*=".inp"]`
	s.find(input).MustSetFiles(bad)
	s.findText(".file-field-file-says", "pump.topRpm: Must be a number")
	example, err := filepath.Abs("../docs/examples/de-with-spa.pad.json")
	require.NoError(t, err)
	s.find(input).MustSetFiles(example)
	s.drawn("Sheet fall")
	s.fill("#new-street", "2 Osier Holt")
	s.fill("#new-gallons", "21000")
	s.tap("#keep-pool")
	s.findText("h1", "2 Osier Holt")

	// What it kept goes out as the same document, the volume added.
	s.tapText(".pool-pages a", "^Equipment pad$")
	href := s.findText(".pad-files a", "json").MustAttribute("href")
	require.NotNil(t, href)
	text := s.MustEval(`(u) => fetch(u).then((r) => r.text())`, *href).String()
	doc, errs := pad.Read(strings.NewReader(text))
	require.Empty(t, errs)
	b, err := os.ReadFile(example)
	require.NoError(t, err)
	var want pad.Document
	require.NoError(t, json.Unmarshal(b, &want))
	want.PoolGallons = 21000
	assert.Equal(t, want, doc)
}

func TestAWalkFromAFileAndALostLine(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("14 Quince Court", "/clean-line")
	s.find(`[id^="chart-walk"]`)
	file := filepath.Join(t.TempDir(), "walk.csv")
	input := `.clean-line-walk-steps input[type="file"]`
	write(t, file, "rpm,tank_psi\n1500,lots\n")
	s.find(input).MustSetFiles(file)
	s.findText(".file-field-file-says", "line 2, tank_psi")
	write(t, file, "rpm,tank_psi,flow_gpm\n1500,4,30\n2400,10.5,50\n3450,21,73\n")
	s.find(input).MustSetFiles(file)
	s.findText(".clean-line-walk-fit:not(.stale) .clean-line-fit-words", "6 readings")
	assert.Equal(t, "10.5", s.value("#walk-1-tank"))

	s.town.Cut(true)
	s.tap("#keep-walk")
	s.findText(".quiet-state", "kept on this device")
	s.town.Cut(false)
	s.tap("#keep-walk")
	s.findText(".pool-q1 .sec-head", "set "+long(0))
	s.pool("14 Quince Court", "/clean-line")
	s.findText(".clean-line-walk-fit li", "in force")
	s.findText(".clean-line-walk-fit li", "past")
}

func TestTooFewSpeedsAreNoCleanLine(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.pool("14 Quince Court", "/clean-line")
	s.find(`[id^="chart-walk"]`)
	s.fill("#walk-0-tank", "4")
	s.findText(".clean-line-walk-fit:not(.stale) .clean-line-fit-words", "1 readings|1 reading")
	s.tap("#keep-walk")
	s.findText(".clean-line-walk-steps .field-says", "needs readings at 3 speeds. There are 1")
}

// A technician sees no other's pool, whatever address is typed.
func TestAnotherTechniciansPadStaysShut(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	href := *s.findText(".pools a", "33 Coomb Lane").MustAttribute("href")
	tech := s.town.Page(browser, "/", harness.Desktop).Timeout(patience)
	defer tech.MustClose()
	tech.MustElement("#as-technician").MustClick()
	tech.MustElement("#side")
	for _, page := range []string{"/paths", "/limits", "/pad", "/clean-line"} {
		tech.MustNavigate(s.town.URL + href + page).MustWaitLoad()
		tech.MustElementR(".quiet-state", "not yours to see")
	}
}

// The files of a pad need the session that the page has.
func TestPadFilesAreNotPublic(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.pool("14 Quince Court", "/pad")
	href := *s.findText(".pad-files a", "EPANET").MustAttribute("href")
	client := http.Client{Timeout: 5 * time.Second}
	res, err := client.Get(s.town.URL + href)
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusUnauthorized, res.StatusCode)
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.NotContains(t, string(b), "JUNCTIONS")
}

// A technician enters a pump that no list has from readings at the pad: speed alone shows
// one point of its curve, and is told so.
func TestAPumpFromReadingsAtThePad(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/catalogue").MustWaitLoad()
	s.tap("#own-pump .ant-collapse-header")
	s.fill("#own-model", "Grey one, plate gone")
	s.fill("#own-topRpm", "3450")
	s.fill("#own-leastRpm", "600")
	s.fill("#own-watts", "1240")
	s.choose("#own-by", "from readings at the pad")
	for i, r := range [][4]string{{"3450", "80", "22", "6"}, {"1725", "40", "5.5", "1.5"}} {
		for k, field := range []string{"rpm", "flow", "tank", "vacuum"} {
			s.fill(fmt.Sprintf("#own-%s%d", field, i+1), r[k])
		}
	}
	s.tap("#own-add")
	s.findText("#own-pump .field-says", "one point of the curve")
	for k, field := range []string{"rpm", "flow", "tank", "vacuum"} {
		s.fill(fmt.Sprintf("#own-%s2", field), []string{"3450", "50", "30", "3"}[k])
	}
	s.tap("#own-add")
	s.findText(".catalogue", "Grey one, plate gone")
}
