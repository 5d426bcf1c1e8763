package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// shaded has the device light or dark, as whoever is signed in follows it.
func (s *screen) shaded(shade string) {
	s.t.Helper()
	require.NoError(s.t, proto.EmulationSetEmulatedMedia{
		Features: []*proto.EmulationMediaFeature{{Name: "prefers-color-scheme", Value: shade}},
	}.Call(s))
	s.MustWait(`(shade) => document.documentElement.dataset.theme === shade`, shade)
}

// fits fails where the page is wider than the screen, where words are cut, and where what
// can be pressed lies under something else, by day and by night.
func (s *screen) fits(where string, back proto.EmulationSetDeviceMetricsOverride) {
	s.t.Helper()
	for _, w := range widths {
		s.MustSetViewport(w[0], w[1], 1, w[0] < 700)
		time.Sleep(120 * time.Millisecond)
		for _, shade := range shades {
			s.shaded(shade)
			at := fmt.Sprintf("%s at %d, %s", where, w[0], shade)
			wide := s.MustEval("() => document.documentElement.scrollWidth").Int()
			assert.LessOrEqual(
				s.t,
				wide,
				w[0],
				"%s: nothing runs off the side: %s",
				at,
				s.MustEval(`(w) => [...document.querySelectorAll("body *")].filter((e) => e.getBoundingClientRect().right > w + 0.01 && !e.closest("svg")).map((e) => e.tagName + "." + e.className).slice(0, 6).join(" ")`, w[0]).
					Str(),
			)
			s.uncut(at)
		}
		s.uncovered(fmt.Sprintf("%s at %d", where, w[0])) // no shade moves anything
	}
	s.MustSetViewport(back.Width, back.Height, back.DeviceScaleFactor, back.Mobile)
}

// uncovered fails for a link, a button or a field that something else lies over when it is
// in the middle of the screen.
func (s *screen) uncovered(where string) {
	s.t.Helper()
	assert.Empty(s.t, s.MustEval(`() => {
		const out = [];
		for (const e of document.querySelectorAll("a[href], button, input, textarea, [role=tab]")) {
			if (!e.checkVisibility({ opacityProperty: true, visibilityProperty: true }) || e.closest("[aria-hidden=true]")) continue;
			if (getComputedStyle(e).clipPath !== "none" || e.closest(".sr") || getComputedStyle(e).pointerEvents === "none") continue;
			e.scrollIntoView({ block: "center", inline: "center", behavior: "instant" });
			const r = e.getBoundingClientRect();
			if (r.width < 4 || r.height < 4) continue;
			const x = r.left + Math.min(r.width / 2, 20), y = r.top + r.height / 2;
			if (x < 0 || y < 0 || x > innerWidth || y > innerHeight) continue;
			const over = document.elementFromPoint(x, y);
			if (over && !e.contains(over) && !over.contains(e) && over.closest("label")?.control !== e && !over.closest(".ant-select, .ant-segmented-item, .ant-radio-wrapper, .ant-checkbox-wrapper")?.contains(e))
				out.push((e.id || e.textContent.trim().slice(0, 30) || e.tagName) + " under " + over.tagName + "." + (over.getAttribute("class") ?? ""));
		}
		scrollTo(0, 0);
		return [...new Set(out)].slice(0, 6).join("\n");
	}`).Str(), where)
}

// Every view is whole: each word from the catalogue, every screen fitted, nothing that can be
// pressed covered, and the accessibility engine finds nothing, by day and by night: in English
// and in a language a third longer. In Spanish, and in
// the longer language, each word is looked at too.
func TestEveryViewIsWholeOnEveryScreen(t *testing.T) {
	t.Parallel()
	for name, walk := range map[string]struct {
		size proto.EmulationSetDeviceMetricsOverride
		set  func(*screen)
	}{
		"english":   {harness.Phone, func(s *screen) { s.reads("en", "us") }},
		"stretched": {harness.Desktop, (*screen).stretched},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := open(t, walk.size)
			s.signIn("owner")
			_, err := s.town.Store.Pool.Exec(t.Context(), "update users set shade = ''")
			require.NoError(t, err)
			walk.set(s)
			s.everyView(func(where string) {
				s.shaded("dark")
				s.axeColours(where + ", dark")
				s.shaded("light")
				s.axe(where)
				s.fits(where, walk.size)
			})
		})
	}
	for name, set := range map[string]func(*screen){
		"words in spanish":           func(s *screen) { s.reads("es", "metric") },
		"words in a longer language": (*screen).stretched,
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			s := open(t, harness.Phone)
			s.signIn("owner")
			set(s)
			s.everyView(s.wellSaid)
		})
	}
}
