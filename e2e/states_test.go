package e2e

import (
	"bytes"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

func TestANewCustomersPadIsJudgedWithWideBands(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("19 Sorrel Bend")
	s.findText("header", "no cleaning on record")
	s.findText("#notices", "No clean line yet")
	assert.Empty(t, s.MustElements("#reading-0-flow"), "a meter that the pad lacks is not asked for")
	s.read(0, map[string]string{"tank": "13"}) // single speed: nobody types it
	s.find("[data-stale=false] [data-advice]")
	s.tab("clean")
	s.findText("#cleaning", "load [0-9]+ % ± [2-9][0-9]") // a band of twenty points or more
	s.findText("#notices", "the bands are wide. Take one after the next cleaning")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.tapText(".pools td a", "Sorrel Bend")
	s.findText(".q2", "No reading shows the load yet")
	s.findText(".pool-q4", "Nothing of this kind yet")
	s.axe("an empty record")
}

func TestSignsAloneRankAndTheSameTapTakesThemBack(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.findText(".bench-sec-grade .empty", "Enter the speed and a gauge")
	s.allSigns()
	s.tap(`[data-sign="slurping"]`)
	s.tap(`[data-sign="level-low"]`)
	s.tap(`[data-sign="air-in-pot"]`)
	s.leads("water-low")
	s.findText("#cleaning .bench-lacks", "only the forecast")
	for range 2 {
		s.tap(`[data-sign="level-low"]`)
	}
	s.find(`[data-sign="level-low"][data-answer="none"]`)
}

func TestADangerStandsAcrossTheWork(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.read(0, map[string]string{"speed": "3450", "tank": "52"})
	s.findText(".danger.stop", "Stop: the tank is at 50 psi or more")
	s.axe("danger")
}

func TestAPageWithoutALineSaysSoAndComesBackByItself(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.find(`#stops [data-state="here"]`)
	s.town.Cut(true)
	s.tapText("#side a", "Pools")
	s.findText("[role=alert]", "No connection to the server")
	s.findText("[role=alert]", "tries again by itself")
	s.axe("no connection")
	s.town.Cut(false)
	s.find(".pools tbody tr")
}

func TestASecondSpeedIsReadAndLeftOut(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.tap("#demo-read")
	s.leads("healthy")
	s.tap("#add-reading")
	s.read(1, map[string]string{"speed": "3250"})
	s.tap("#demo-read") // reads the newest row at its own speed
	s.find("#reading-1-tank:not([value=''])")
	s.findText("#readings .bench-rds + .bench-rds .bench-rd-says", "[0-9]")
	s.findText("[data-stale=false] #one-line b", "The gauge is at its limit[^§]*Clean today") // whatever the odds have it at
	s.tapText("#readings button", "Leave out this reading")
	assert.Empty(t, s.MustElements("#reading-1-tank"))
}

func TestThePumpIsWhatTheTechnicianSays(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.findText(".pump.unknown", "Treated as running")
	s.tap("#pump-say")
	s.tap(`[data-say="off"]`)
	s.findText(".pump.off", "The multiport handle may move")
	s.findText(".pump.off", "off is not locked off")
	s.MustReload().MustWaitLoad()
	s.find(".pump.off")
	s.axe("pump off")
}

func TestTheKeysThatWorkEverywhere(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.find(`#stops [data-state="here"]`)
	s.Keyboard.MustType(input.KeyF)
	s.find("#find-all:focus")
	require.NoError(t, s.InsertText("mistral"))
	s.findText(`[data-found="pools"] a`, "12 Mistral Way")
	s.findText(`[data-found="parts"] a`, ".")
	s.axe("find")
	s.key(input.ArrowDown)
	s.key(input.Enter)
	s.findText("h1", "12 Mistral Way")
	s.key(input.KeyH)
	s.findText("#keys", "next stop")
	s.axe("keys")
}

// A year of cleanings does not fit on a chart: the last weeks stand there, the
// whole record is a tap away.
func TestTheWholeRecordIsATapAway(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.find("#company")
	s.pool("33 Coomb Lane", "")
	s.find("#chart-load svg")
	shown := func() int { return len(s.MustElements("#chart-load path.gauge")) }
	require.Eventually(t, func() bool { return shown() > 2 }, patience, 100*time.Millisecond)
	few := shown()
	s.tapText("#load-span label", "^All$")
	require.Eventually(t, func() bool { return shown() > few+5 }, patience, 100*time.Millisecond)
	// Every value stands in a table too, and goes out as a file.
	s.tap("#chart-load .ant-collapse-header")
	s.find("#load-csv")
	assert.Greater(t, len(s.MustElements("#chart-load tbody tr")), few)
}

// An address that opens nothing says so and leads on; every tab is called what its page says.
func TestAnUnknownAddressSaysSo(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/no-such-page").MustWaitLoad()
	s.findText("#not-here", "doesn't open a page")
	s.titled("Page not found · Fair Lap")
	s.axe("unknown address")
	s.tapText("#not-here a", "stops")
	s.find(`#stops [data-state="here"]`)
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.titled("Pools · Fair Lap")
}

// titled waits until the tab is called so.
func (s *screen) titled(want string) {
	s.t.Helper()
	require.Eventually(
		s.t,
		func() bool { return s.MustEval("() => document.title").String() == want },
		patience,
		50*time.Millisecond,
		want,
	)
}

// On letter paper a page has the desk's layout, whoever prints it: no bars, nothing off the side,
// and who printed it when.
func TestPagesPrintByTheirMedium(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("14 Quince Court", "")
	pool := s.MustInfo().URL
	for _, url := range []string{s.town.URL + "/", s.town.URL + "/week", pool, pool + "/plan"} {
		s.MustNavigate(url).MustWaitLoad()
		s.find("main h2, main h1, header h1")
		s.settled()
		require.NoError(t, proto.EmulationSetEmulatedMedia{Media: "print"}.Call(s))
		s.MustSetViewport(816, 1056, 1, false)
		assert.LessOrEqual(t, s.MustEval("() => document.documentElement.scrollWidth").Int(), 816, url)
		assert.Empty(
			t,
			s.MustEval(`() => [...document.querySelectorAll("#bar, #side")].filter((e) => e.checkVisibility()).length || ""`).
				Str(),
			url,
		)
		s.findText("p", "O. Brandt · "+long(0))
		pdf, err := proto.PagePrintToPDF{}.Call(s)
		require.NoError(t, err)
		pages := bytes.Count(pdf.Data, []byte("/Type /Page\n")) + bytes.Count(pdf.Data, []byte("/Type /Page "))
		t.Logf("%s: %d pages, %d kB", url, pages, len(pdf.Data)/1000)
		assert.LessOrEqual(t, pages, 8, "no blank paper")
		require.NoError(t, proto.EmulationSetEmulatedMedia{Media: ""}.Call(s))
		s.MustSetViewport(harness.Phone.Width, harness.Phone.Height, harness.Phone.DeviceScaleFactor, true)
	}
}
