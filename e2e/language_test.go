package e2e

import (
	"fmt"
	"io"
	"net/http"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// reads chooses a language and units on one's own account page.
func (s *screen) reads(lang, units string) {
	s.t.Helper()
	s.MustNavigate(s.town.URL + "/account").MustWaitLoad()
	for id, v := range map[string]string{"#reads-lang": lang, "#reads-units": units} {
		s.pick(id, v)
		s.MustWait(
			`([id, v]) => document.querySelector(id)?.closest("[data-stands]")?.dataset.stands === v`,
			[]string{id, v},
		)
	}
	s.MustWait(`(lang) => document.documentElement.lang === lang`, lang)
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
}

// english are words that no Spanish page of ours has, names aside.
var english = regexp.MustCompile(`(?i)\b(the|with|filter|pump|your|reading|flow|since|gauge|heater)\b`)

// wellSaid fails for words of English, which no other language of ours has, names aside;
// for a hole left open, a key shown as one, and words that are cut.
func (s *screen) wellSaid(where string) {
	s.t.Helper()
	text := s.text()
	for _, own := range ownWords {
		text = strings.ReplaceAll(text, own, "")
	}
	assert.Empty(s.t, english.FindAllString(text, -1), where)
	assert.NotContains(s.t, text, "{{", where)
	assert.NotRegexp(
		s.t,
		`\b(api|app|diagnosis|fault|inspection|lap|pad|paper|part|practice|procedure|speedplan|upkeep|words)\.[a-z][a-z.-]+\b`,
		text,
		where,
	)
	s.uncut(where)
}

// uncut fails for words that a screen cuts, lets spill out of a button or a drawing, or
// pushes off the side where nothing scrolls to them.
func (s *screen) uncut(where string) {
	s.t.Helper()
	assert.Empty(s.t, s.MustEval(`() => {
		const out = [];
		const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
		for (let n = walk.nextNode(); n; n = walk.nextNode()) {
			if (!n.data.trim() || !n.parentElement.checkVisibility({ opacityProperty: true, visibilityProperty: true })) continue;
			const range = document.createRange();
			range.selectNodeContents(n);
			const r = range.getBoundingClientRect();
			if (r.width < 2 || r.height < 2) continue;
			const says = (how, e) => out.push(how + ": " + n.data.trim().slice(0, 60) + " in " + e.tagName + "." + (e.getAttribute("class") ?? "") + " " + Math.round(r.left) + ".." + Math.round(r.right));
			let scrolls = false;
			for (let e = n.parentElement; e && e !== document.documentElement; e = e.parentElement) {
				const style = getComputedStyle(e), box = e.getBoundingClientRect();
				if (style.clipPath !== "none" || box.width < 2) { scrolls = true; break; } // for readers aloud alone
				const over = r.right > box.right + 2 || r.left < box.left - 2;
				if (e.matches("button, .ant-btn, svg") && over) { says("spills", e); break; }
				if (/auto|scroll/.test(style.overflowX)) { scrolls = true; break; }
				if (/hidden|clip/.test(style.overflowX) && e !== document.body && over) { says("cut", e); break; }
			}
			if (!scrolls && r.right > document.documentElement.clientWidth + 1) says("off the side", n.parentElement);
		}
		return [...new Set(out)].slice(0, 8).join("\n");
	}`).Str(), where)
}

// stretched has everybody read nobody's language, which is longer than any of ours.
func (s *screen) stretched() {
	s.t.Helper()
	for _, q := range []string{"alter table users drop constraint users_lang_check",
		"update users set lang = 'en-XA', units = 'metric'"} {
		_, err := s.town.Store.Pool.Exec(s.t.Context(), q)
		require.NoError(s.t, err)
	}
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
	s.MustWait(`() => document.documentElement.lang === "en-XA"`)
}

// ownWords are what somebody of the town wrote, which stays as written.
var ownWords = []string{
	"28 psi, 50 ft of hose at the filter",
	"Side gate sticks, lift the latch. Dog in on Tuesdays.",
	"Return by the steps",
	"Alarm panel inside the door, ask the desk.",
}

// visitOnAPhone reads a pad in metric, backwashes, logs it with a note and inspects the
// pad, with a look at every screen on the way. It gives the visit's address.
func (s *screen) visitOnAPhone(look func(where string)) string {
	s.t.Helper()
	look("lap")
	s.openStop("14 Quince Court")
	s.find("#pump-say")
	look("bench before anything is read")
	s.MustSetViewport(1280, 800, 1, false)
	look("the same at the desk")
	s.MustSetViewport(harness.Phone.Width, harness.Phone.Height, harness.Phone.DeviceScaleFactor, true)
	s.tap("#pump-say")
	s.tap(`[data-say="unknown"]`)
	s.read(0, map[string]string{"speed": "2,400", "tank": "0,97", "vacuum": "5.1", "flow": "7", "power": "320"})
	s.find(`[data-stale=false] [data-advice="clean"]`)
	s.findText("#readings", "bar")
	for _, tab := range []string{"seen", "clean", "grade", "before", "suspects"} {
		s.tab(tab)
		look("bench, " + tab)
	}
	s.axe("a bench")
	s.startWork("backwash")
	look("a run's first step")
	s.fill("#run-tank", "1.17")
	s.tap("#run-read")
	s.through("wash-clear", "1.17")
	look("a run's timer")
	s.MustReload().MustWaitLoad()
	s.answer("wash-clear", "clear")
	s.through("", "0.69")
	look("a run's end")
	s.tap("#run-to-stop")
	s.find(`[data-run-state="ended"]`)
	s.tap("#open-log")
	s.find(`#log-form [aria-pressed="true"]`)
	s.fill("#log-note", ownWords[0])
	look("the log sheet")
	s.tap("#log-save")
	s.find("#saved")
	look("a visit is saved")
	s.record()
	s.tap(".log tbody tr:first-child .col-what a")
	s.findText("article.pool-visit", ownWords[0])
	s.findText("article.pool-visit", "0[.]97")
	look("a visit")
	visit := s.MustInfo().URL
	s.pool("14 Quince Court", "")
	s.find(`.log tbody tr[data-entry="run"]`)
	look("a pool's record")

	s.pool("14 Quince Court", "/inspection")
	s.tap("#insp-start")
	s.item("supports")
	s.tap(`[data-item="supports"] [data-yes="false"]`)
	s.find(`[data-finding="supports"]`)
	s.item("straight-run")
	s.fill("#insp-straight-run", "15")
	s.findText(`[data-finding="straight-run"]`, "cm")
	look("an inspection")
	return visit
}

// The papers of a customer who reads Spanish are in Spanish on the desk's English screen,
// on their link and as PDF.
func TestACustomersPapersAreInTheirLanguage(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.pool("61 Tamarack Street", "/about")
	s.tap("#customer-change")
	if s.value("#customer-name") == "" {
		s.fill("#customer-name", "A. Ríos")
	}
	s.choose("#customer-lang", "Español")
	s.tap("#customer-save")
	s.MustWait(`() => !document.querySelector("#customer-lang")`)
	s.pool("61 Tamarack Street", "/papers/owner")
	s.findText(".paper-title", "Qué es qué en su equipo")
	s.findText("#print-paper", "Print")
	pdf, err := s.Browser().GetCookies()
	require.NoError(t, err)
	req, err := http.NewRequestWithContext(
		t.Context(),
		http.MethodGet,
		s.town.URL+*s.find("#paper-pdf").MustAttribute("href"),
		nil,
	)
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

// settled waits until nothing on the page is still to come.
func (s *screen) settled() {
	s.t.Helper()
	s.Timeout(patience).MustWait(`() => !document.querySelector("[role=status][aria-busy=true], .stale")`)
	time.Sleep(150 * time.Millisecond) // what has come is drawn
}

// everyView looks at each page of the company and of a pool.
func (s *screen) everyView(look func(where string)) {
	s.t.Helper()
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	pool := *s.findText(".pools a", "61 Tamarack Street").MustAttribute("href")
	id := strings.TrimPrefix(pool, "/pools/")
	of := func(query string) (one string) {
		require.NoError(s.t, s.town.Store.Pool.QueryRow(s.t.Context(), query, id).Scan(&one), query)
		return one
	}
	begun := func(what, body string) string {
		made := s.MustEval(
			`(address, body) => fetch(address, {method: "POST", headers: {"Content-Type": "application/json"}, body}).then((r) => r.json()).then((v) => v.id)`,
			"/api/v1"+pool+"/"+what,
			fmt.Sprintf(body, uuid.Must(uuid.NewV7())),
		)
		return "/" + what + "/" + made.Str()
	}
	practised := func(events string) string {
		id := uuid.Must(uuid.NewV7()).String()
		s.MustEval(
			`(address, body) => fetch(address, {method: "PUT", headers: {"Content-Type": "application/json"}, body})`,
			"/api/v1/practice/attempts/"+id,
			`{"ask": {"id": "as-dirty-as-it-looks", "mode": "beside", "events": [`+events+`]}}`,
		)
		return "/practice/" + id
	}
	for _, path := range []string{
		"/", "/week", "/pools", "/parts", "/runs", "/waiting", "/cleaning", "/catalogue", "/track-record", "/account",
		"/office", "/office/people", "/office/trail", "/office/jobs", "/office/sheets", "/pools/new", "/nowhere",
		pool, pool + "/due", pool + "/limits", pool + "/paths", pool + "/plan", pool + "/pad", pool + "/clean-line",
		pool + "/inspection", pool + "/about", pool + "/papers/owner", pool + "/papers/report",
		pool + "/papers/season", pool + "/papers/visit",
		"/stops/" + of("select s.id::text from stops s join laps l on l.id = s.lap_id where s.pool_id = $1 order by l.day desc limit 1"),
		"/visits/" + of("select id::text from visits where pool_id = $1 order by closed_at desc limit 1"),
		pool + "/parts/" + of("select id::text from equipment where pool_id = $1 limit 1"),
		"/labels?of=" + id,
		begun("runs", `{"id":%q,"procedure":"baskets"}`), begun("inspections", `{"id":%q}`),
		practised(`{"act": "read"}`), practised(`{"act": "read"}, {"act": "run", "run": "backwash"}, {"act": "leave"}`),
		"/practice", "/practice/people",
	} {
		s.Page = s.CancelTimeout().Timeout(4 * time.Minute) // each view has its own: they are many
		s.MustNavigate(s.town.URL + path).MustWaitLoad()
		s.find("main h1, main h2, header h1, .paper")
		s.settled()
		look(path)
	}
}

// A grouped figure typed in metric is read in its own unit: 70,000 L are no 70,000 gal.
func TestAGroupedFigureKeepsItsUnit(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("owner")
	s.reads("en", "metric")
	s.pool("14 Quince Court", "/about")
	s.fill("#about-gallons", "70,000")
	s.tap("#about-save")
	gallons := `async () => (await (await fetch("/api/v1" + location.pathname)).json()).gallons`
	s.findText("[role=status]", "Saved")
	assert.InDelta(t, 70000/3.785411784, s.MustEval(gallons).Num(), 0.5)
	s.fill("#about-gallons", "1,2,3")
	s.tap("#about-save")
	s.findText(".field-says", "isn't a number")
	assert.InDelta(t, 70000/3.785411784, s.MustEval(gallons).Num(), 0.5)
}
