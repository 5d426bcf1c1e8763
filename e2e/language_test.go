package e2e

import (
	"io"
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// reads chooses a language and units on one's own account page.
func (s *screen) reads(lang, units string) {
	s.t.Helper()
	s.MustNavigate(s.town.URL + "/account").MustWaitLoad()
	for id, v := range map[string]string{"#reads-lang": lang, "#reads-units": units} {
		s.find(id).MustEval(`(v) => {
			Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(this, v)
			this.dispatchEvent(new Event("change", { bubbles: true }))
		}`, v)
		s.MustWait(`([id, v]) => document.querySelector(id)?.value === v`, []string{id, v})
	}
	s.MustWait(`(lang) => document.documentElement.lang === lang`, lang)
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
}

// english are words that no Spanish page of ours has, names aside.
var english = regexp.MustCompile(`(?i)\b(the|with|filter|pump|your|reading|flow|since|gauge|heater)\b`)

// inSpanish fails for an English word, a hole left open, or a key shown as one.
func (s *screen) inSpanish(where string) {
	s.t.Helper()
	text := s.text()
	for _, own := range ownWords {
		text = strings.ReplaceAll(text, own, "")
	}
	assert.Empty(s.t, english.FindAllString(text, -1), where)
	assert.NotContains(s.t, text, "{{", where)
	assert.NotRegexp(s.t, `\b(api|app|diagnosis|fault|inspection|lap|pad|paper|part|procedure|speedplan|upkeep|words)\.[a-z][a-z.-]+\b`, text, where)
	wide := s.MustEval(`() => [...document.querySelectorAll("main *")].filter((e) => e.getBoundingClientRect().right > 391 && document.documentElement.scrollWidth > 390)
		.map((e) => e.outerHTML.slice(0, 120)).slice(0, 3).join("; ")`).Str()
	assert.Empty(s.t, wide, "%s: nothing runs off the side", where)
}

// ownWords are what somebody of the town wrote, which stays as written.
var ownWords = []string{"28 psi, 50 ft of hose at the filter", "Side gate sticks, lift the latch. Dog in on Tuesdays.", "Return by the steps", "Alarm panel inside the door, ask the desk."}

// A technician reads Spanish and metric on a phone; the desk reads the same visit in
// English and US units; what was typed stays as it was typed.
func TestOneVisitInTwoLanguages(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.reads("es", "metric")
	s.inSpanish("lap")
	s.openStop("Quince Court 14")
	s.read(0, map[string]string{"speed": "2,400", "tank": "0,97", "vacuum": "5.1", "flow": "7", "power": "320"})
	s.find(`.judge:not(.stale) [data-advice="clean"]`)
	s.findText(".judge", "bar")
	s.inSpanish("bench")
	s.axe("a bench in Spanish")
	s.startWork("backwash")
	s.inSpanish("a run's first step")
	s.fill("#run-tank", "1.17")
	s.tap("#run-read")
	s.through("wash-clear", "1.17")
	s.inSpanish("a run's timer")
	s.MustReload().MustWaitLoad()
	s.answer("wash-clear", "clear")
	s.through("", "0.69")
	s.inSpanish("a run's end")
	s.tap("#run-to-stop")
	s.find(`[data-run-state="ended"]`)
	s.tap("#open-log")
	s.find(".log-sheet .chip.yes")
	s.fill("#log-note", ownWords[0])
	s.inSpanish("the log sheet")
	s.tap("#log-save")
	s.find(".saved")
	s.tap(".log tr:first-child .a a")
	s.findText("article.visit", ownWords[0])
	s.findText("article.visit", "0[.]97")
	s.inSpanish("a visit")
	visit := s.MustInfo().URL
	s.pool("Quince Court 14", "")
	s.findText(`.log tr[data-entry="run"]`, "Retrolavado y enjuague")
	s.inSpanish("a pool's record")

	s.pool("Quince Court 14", "/inspection")
	s.tap("#insp-start")
	s.tap(`[data-item="supports"] [data-yes="false"]`)
	s.find(`[data-finding="supports"]`)
	s.fill("#insp-straight-run", "15")
	s.findText(`[data-finding="straight-run"]`, "cm")
	s.inSpanish("an inspection")

	desk := openAt(t, s.town, harness.Desktop)
	desk.MustActivate()
	desk.signIn("office")
	desk.MustNavigate(visit).MustWaitLoad()
	desk.findText("article.visit", ownWords[0])
	desk.findText("article.visit", "14[.]1 psi|14[.]1")
	assert.NotContains(t, desk.text(), "bar")
	desk.findText("article.visit", "Nothing wrong")
	desk.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	desk.findText("h1", "Pools")

	// Signed out, the page is in the browser's language again.
	s.MustActivate()
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
	s.findText(".sections button", "Salir|Cerrar").MustEval("() => this.click()")
	s.findText("h1", "Fair Lap")
	s.MustWait(`() => document.documentElement.lang === "en"`)
}

// The papers of a customer who reads Spanish are in Spanish on the desk's English screen,
// on their link and as PDF.
func TestACustomersPapersAreInTheirLanguage(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.pool("Tamarack Street 61", "/about")
	s.tap("#customer-change")
	if s.value("#customer-name") == "" {
		s.fill("#customer-name", "A. Ríos")
	}
	s.find("#customer-lang").MustSelect("Español")
	s.tap("#customer-save")
	s.MustWait(`() => !document.querySelector("#customer-lang")`)
	s.pool("Tamarack Street 61", "/papers/owner")
	s.findText(".paper-title", "Qué es qué en su equipo")
	s.findText("#print-paper", "Print")
	pdf, err := s.Browser().GetCookies()
	require.NoError(t, err)
	req, err := http.NewRequestWithContext(t.Context(), http.MethodGet, s.town.URL+*s.find("#paper-pdf").MustAttribute("href"), nil)
	require.NoError(t, err)
	for _, c := range pdf {
		req.AddCookie(&http.Cookie{Name: c.Name, Value: c.Value})
	}
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, http.StatusOK, res.StatusCode)
	assert.True(t, strings.HasPrefix(string(b), "%PDF"))
	assert.Contains(t, res.Header.Get("Content-Disposition"), "equipo")
}

// Every view of the pool and of the week speaks Spanish, and none runs off a phone.
func TestEveryViewSpeaksSpanishOnAPhone(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("owner")
	s.reads("es", "metric")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	pool := *s.findText(".pools a", "Tamarack Street 61").MustAttribute("href")
	for _, path := range []string{"/", "/week", "/pools", "/parts", "/cleaning", "/catalogue", "/track-record", "/account", "/office", "/office/people", "/office/trail", "/office/sheets", "/pools/new",
		pool, pool + "/due", pool + "/limits", pool + "/paths", pool + "/plan", pool + "/pad", pool + "/clean-line", pool + "/inspection", pool + "/about", pool + "/papers/owner", pool + "/papers/report", pool + "/papers/season", pool + "/papers/visit"} {
		s.MustNavigate(s.town.URL + path).MustWaitLoad().MustWaitStable()
		s.find("main h1, main h2, .paper")
		s.inSpanish(path)
	}
}

// A grouped figure typed in metric is read in its own unit: 70,000 L are no 70,000 gal.
func TestAGroupedFigureKeepsItsUnit(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("owner")
	s.reads("en", "metric")
	s.pool("Quince Court 14", "/about")
	s.fill("#about-gallons", "70,000")
	s.tap("#about-save")
	gallons := `async () => (await (await fetch("/api" + location.pathname)).json()).gallons`
	s.findText("[role=status]", "Saved")
	assert.InDelta(t, 70000/3.785411784, s.MustEval(gallons).Num(), 0.5)
	s.fill("#about-gallons", "1,2,3")
	s.tap("#about-save")
	s.findText(".field-says", "is not a figure")
	assert.InDelta(t, 70000/3.785411784, s.MustEval(gallons).Num(), 0.5)
}
