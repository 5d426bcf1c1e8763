package e2e

import (
	"errors"
	"fmt"
	"net/url"
	"os"
	"regexp"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/cdp"
	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
	"fairlap/internal/clock"
	"fairlap/internal/demo/demotest"
)

var browser *rod.Browser

func TestMain(m *testing.M) {
	b, quit, err := harness.Browser()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
	browser = b
	code := m.Run()
	quit()
	harness.End()
	os.Exit(code)
}

// patience is how long an element may take to come on a slow machine.
const patience = 20 * time.Second

// screen is one page of a town, with what went wrong on it.
type screen struct {
	*rod.Page
	t    *testing.T
	town *harness.Town
}

// open serves a town and opens it; the test fails if a request leaves the origin
// or a script throws.
func open(t *testing.T, size proto.EmulationSetDeviceMetricsOverride) *screen {
	town, err := harness.Start()
	require.NoError(t, err)
	return openAt(t, town, size)
}

// openApp serves a town and opens it with its worker, for a day without a line.
func openApp(t *testing.T, size proto.EmulationSetDeviceMetricsOverride) *screen {
	town, err := harness.Start()
	require.NoError(t, err)
	t.Cleanup(town.Stop)
	return watched(t, town, town.App(browser.MustIncognito(), "/", size))
}

// openAt opens a page of a town.
func openAt(t *testing.T, town *harness.Town, size proto.EmulationSetDeviceMetricsOverride) *screen {
	t.Cleanup(town.Stop)
	return watched(t, town, town.Page(browser, "/", size))
}

// watched fails the test for whatever a page must not do.
func watched(t *testing.T, town *harness.Town, p *rod.Page) *screen {
	var mu sync.Mutex
	var wrong []string
	note := func(s string) { mu.Lock(); wrong = append(wrong, s); mu.Unlock() }
	go p.EachEvent(func(e *proto.NetworkRequestWillBeSent) {
		if u, err := url.Parse(e.Request.URL); err == nil && u.Scheme != "data" && u.Scheme != "blob" &&
			!strings.HasPrefix(e.Request.URL, town.URL) {
			note("a request left the origin: " + e.Request.URL)
		}
	}, func(e *proto.RuntimeExceptionThrown) {
		note("a script threw: " + e.ExceptionDetails.Text)
	}, func(e *proto.LogEntryAdded) {
		if strings.Contains(e.Entry.Text, "Content Security Policy") {
			note(e.Entry.Text)
		}
	})()
	_ = proto.LogEnable{}.Call(p)
	t.Cleanup(func() {
		mu.Lock()
		defer mu.Unlock()
		assert.Empty(t, wrong)
		_ = p.Close()
	})
	return &screen{p.Timeout(4 * time.Minute), t, town}
}

func (s *screen) find(selector string) *rod.Element {
	s.t.Helper()
	el, err := s.looked(func(p *rod.Page) (*rod.Element, error) { return p.Element(selector) })
	require.NoError(s.t, err, "waiting for %s; the page says: %s", selector, s.text())
	return el.CancelTimeout()
}

func (s *screen) findText(selector, pattern string) *rod.Element {
	s.t.Helper()
	el, err := s.looked(func(p *rod.Page) (*rod.Element, error) { return p.ElementR(selector, pattern) })
	require.NoError(s.t, err, "waiting for %s with %q; the page says: %s", selector, pattern, s.text())
	return el.CancelTimeout()
}

// looked looks for an element, and once more on the page that comes where the one it looked at has just gone.
func (s *screen) looked(look func(*rod.Page) (*rod.Element, error)) (el *rod.Element, err error) {
	for end := clock.Now().Add(patience); ; time.Sleep(50 * time.Millisecond) {
		el, err = look(s.Timeout(patience))
		var gone *cdp.Error
		if !errors.As(err, &gone) || clock.Now().After(end) {
			return el, err
		}
	}
}

func (s *screen) text() string {
	body, err := s.Timeout(5 * time.Second).Element("body")
	if err != nil {
		return err.Error()
	}
	text, _ := body.Text()
	return text
}

// tap presses an element where a finger would: one that is covered, disabled or off the
// screen, and stays so, fails the test.
func (s *screen) tap(selector string) {
	s.t.Helper()
	s.press(func() *rod.Element { return s.find(selector) }, selector)
}

// tapText taps the element with a text.
func (s *screen) tapText(selector, pattern string) {
	s.t.Helper()
	s.press(func() *rod.Element { return s.findText(selector, pattern) }, selector+" "+pattern)
}

// press looks an element up anew each time: a list may be drawn again meanwhile.
func (s *screen) press(look func() *rod.Element, what string) {
	s.t.Helper()
	for end := clock.Now().Add(patience); ; time.Sleep(50 * time.Millisecond) {
		at, err := s.pressable(look())
		if err == nil {
			require.NoError(s.t, s.Mouse.MoveTo(*at))
			require.NoError(s.t, s.Mouse.Click(proto.InputMouseButtonLeft, 1))
			if s.hit() {
				return
			}
			err = errors.New("the page moved under the finger")
			if s.has(openList) { // it fell on a list: what that opened is in the way
				require.NoError(s.t, s.Keyboard.Type(input.Escape))
			}
		}
		if clock.Now().After(end) {
			require.NoError(s.t, err, "%s can't be pressed; the page says: %s", what, s.text())
		}
	}
}

// hit tells whether the last press reached what it was meant for; a page that is already
// another has been reached.
func (s *screen) hit() bool {
	v, err := s.Eval(`() => window.pressed !== false`)
	return err != nil || v.Value.Bool()
}

// pressable is where an element can be pressed; an error says what is in the way.
func (s *screen) pressable(el *rod.Element) (*proto.Point, error) {
	off, err := el.Eval(`() => {
		if (this.matches(":disabled, [aria-disabled=true]")) return "it is disabled";
		this.scrollIntoView({ block: "center", behavior: "instant" });
		window.pressed = false;
		this.addEventListener("click", () => { window.pressed = true }, { once: true, capture: true });
		const r = this.getBoundingClientRect(), page = document.documentElement;
		return r.right < 1 || r.left > page.clientWidth - 1 || r.bottom < 1 || r.top > page.clientHeight - 1 ? "it is off the screen" : "";
	}`)
	if err != nil {
		return nil, err
	}
	if why := off.Value.Str(); why != "" {
		return nil, errors.New(why)
	}
	first, err := place(el)
	if err != nil {
		return nil, err
	}
	time.Sleep(20 * time.Millisecond) // what still moves is no mark for a finger
	at, err := place(el)
	if err == nil && *at != *first {
		err = errors.New("it moves")
	}
	return at, err
}

// place is where an element can be pressed. What its own styles draw over it, like the ring around today, covers
// nothing.
func place(el *rod.Element) (*proto.Point, error) {
	at, err := el.Interactable()
	if covered := (*rod.CoveredError)(nil); !errors.As(err, &covered) {
		return at, err
	}
	own, bad := el.Eval(`() => {
		const r = this.getBoundingClientRect(), x = r.x + r.width / 2, y = r.y + r.height / 2;
		return this.contains(document.elementFromPoint(x, y)) ? [x, y] : [];
	}`)
	if bad != nil || len(own.Value.Arr()) == 0 {
		return nil, err
	}
	return &proto.Point{X: own.Value.Arr()[0].Num(), Y: own.Value.Arr()[1].Num()}, nil
}

// fill types over a field. It focuses through the page itself: the driver's own
// way waits for animation frames, which a busy machine may hold back for minutes.
func (s *screen) fill(selector, text string) {
	s.t.Helper()
	s.find(selector).MustEval("() => { this.focus(); this.select() }")
	require.NoError(s.t, s.InsertText(text), "typing into %s", selector)
}

// choose opens a list and taps one of its lines, by its words.
func (s *screen) choose(selector, text string) {
	s.t.Helper()
	s.unfold(selector)
	s.tapText(openList+" .ant-select-item-option", "^"+regexp.QuoteMeta(text)+"$")
}

// pick is choose by what a line stands for.
func (s *screen) pick(selector, value string) {
	s.t.Helper()
	s.unfold(selector)
	s.tap(openList + ` [data-value="` + value + `"]`)
}

// openList is a list that is unfolded.
const openList = ".ant-select-dropdown:not(.ant-select-dropdown-hidden)"

func (s *screen) unfold(selector string) {
	s.t.Helper()
	s.scrollToLabel(selector)
	s.press(func() *rod.Element {
		box, err := s.find(selector).
			ElementByJS(rod.Eval(`() => this.closest(".ant-select") ?? this.querySelector(".ant-select")`))
		require.NoError(s.t, err, "%s is no list", selector)
		return box
	}, selector)
}

// scrollToLabel goes to where a control stands: some come only when their label is in sight.
func (s *screen) scrollToLabel(selector string) {
	if id, ok := strings.CutPrefix(selector, "#"); ok {
		s.find(selector + `, label[for="` + id + `"]`).MustEval(`() => this.scrollIntoView({ block: "center" })`)
	}
}

// stands is what a list stands at.
func (s *screen) stands(selector string) string {
	s.scrollToLabel(selector)
	return s.find(selector).MustEval(`() => this.closest("[data-stands]").dataset.stands`).String()
}

func (s *screen) value(selector string) string {
	return s.find(selector).MustProperty("value").String()
}

func (s *screen) signIn(role string) {
	s.t.Helper()
	s.tap("#as-" + role)
	s.find("#side, #bar")
}

func (s *screen) openStop(street string) {
	s.t.Helper()
	s.tapText("#stops a", street)
	s.findText("h1", street)
}

func (s *screen) read(row int, values map[string]string) {
	s.t.Helper()
	for field, v := range values {
		s.fill(fmt.Sprintf("#reading-%d-%s", row, field), v)
	}
}

// leads waits until a suspect is first in the list.
func (s *screen) leads(fault string) {
	s.t.Helper()
	s.find(fmt.Sprintf("[data-stale=false] .sus li:first-child[data-suspect=%q]", fault))
}

// tab opens one of a stop's tabs; a desk shows them all side by side.
func (s *screen) tab(name string) {
	s.t.Helper()
	s.find("#readings")
	if s.has("#stop-tabs") {
		s.tap(fmt.Sprintf("#stop-tabs [data-tab=%q]", name))
	}
}

// allSigns opens everything that can be seen or heard.
func (s *screen) allSigns() {
	s.t.Helper()
	s.tab("seen")
	s.tap("#signs-all")
}

// item goes to the place of an inspection where a thing is looked at.
func (s *screen) item(id string) {
	s.t.Helper()
	s.find("#insp-places")
	at := fmt.Sprintf("[data-item=%q]", id)
	for _, p := range s.MustEval(`() => [...document.querySelectorAll("#insp-places [data-place]")].map((e) => e.dataset.place)`).Arr() {
		if s.has(at) {
			return
		}
		s.tap(fmt.Sprintf("#insp-places [data-place=%q]", p.Str()))
		s.find(fmt.Sprintf(".ant-segmented-item-selected [data-place=%q]", p.Str()))
	}
	s.find(at)
}

// record goes from a stop to its pool's record.
func (s *screen) record() {
	s.t.Helper()
	s.tap("#to-record")
	s.find(".log tbody tr")
}

// key presses one key where the focus is.
func (s *screen) key(k input.Key) {
	s.t.Helper()
	require.NoError(s.t, s.Keyboard.Type(k))
}

// atRest waits until the page has drawn what it was just told, and is at rest.
func (s *screen) atRest() {
	s.t.Helper()
	_, err := s.Eval(
		`() => new Promise((at) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(at, 60))))`,
	)
	require.NoError(s.t, err)
}

// drag carries what is under one selector onto another with the mouse.
func (s *screen) drag(what, onto string) {
	s.t.Helper()
	el := s.find(what)
	s.find(onto)
	el.MustEval("() => this.scrollIntoView({ block: 'center' })")
	at := el.MustShape().Box()
	require.NoError(s.t, s.Mouse.MoveTo(proto.Point{X: at.X + at.Width/2, Y: at.Y + at.Height/2}))
	require.NoError(s.t, s.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(s.t, s.Mouse.MoveLinear(proto.Point{X: at.X + at.Width/2 + 12, Y: at.Y + at.Height/2}, 3))
	s.find(".week-drag-chip")
	// Near its edges a page scrolls by itself: hold there until the place comes to the middle, and aim.
	high := s.MustEval("() => innerHeight").Num()
	for end := clock.Now().Add(2 * patience); clock.Now().Before(end); {
		to := s.find(onto).MustShape().Box()
		y := min(max(to.Y+min(30, to.Height/2), 0.3*high), 0.7*high) // the middle, where the place is tall enough
		y = min(max(y, to.Y+4), to.Y+to.Height-4)
		y = min(max(y, 8), high-8)
		require.NoError(s.t, s.Mouse.MoveLinear(proto.Point{X: to.X + to.Width/2, Y: y}, 8))
		time.Sleep(200 * time.Millisecond)
		if now := s.find(onto).MustShape().Box(); now.Y == to.Y && s.has(onto+".over") {
			break
		}
	}
	s.find(onto + ".over")
	require.NoError(s.t, s.Mouse.Up(proto.InputMouseButtonLeft, 1))
}

// Days from the town's own, as a journey meets them: in an address or a list ("2026-11-24"), in a plan
// ("Tue 24 Nov"), in a record ("24 November 2026").
func iso(days int) string   { return on(days).Format(time.DateOnly) }
func short(days int) string { return on(days).Format("Mon, Jan 2") }
func long(days int) string  { return on(days).Format("January 2, 2006") }

func on(days int) time.Time { return demotest.Now().AddDate(0, 0, days) }

// next is the town's next day of rounds.
func next() int {
	for days := 1; ; days++ {
		if day := on(days).Weekday(); day != time.Saturday && day != time.Sunday {
			return days
		}
	}
}

// field is the selector of a row's typed figure.
func field(list string, row int, name string) string {
	return fmt.Sprintf("#%s-%d-%s", list, row, name)
}

func write(t *testing.T, file, text string) {
	t.Helper()
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
}
