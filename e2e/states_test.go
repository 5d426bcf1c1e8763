package e2e

import (
	"testing"
	"time"

	"github.com/go-rod/rod/lib/input"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

func TestANewCustomersPadIsJudgedWithWideBands(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("Sorrel Bend 19")
	s.findText(".facts", "no cleaning on record")
	s.findText(".sec-notices", "No clean line yet")
	assert.Empty(t, s.MustElements("#reading-0-flow"), "a meter that the pad lacks is not asked for")
	s.read(0, map[string]string{"tank": "13"}) // single speed: nobody types it
	s.find("[data-advice]")
	s.findText(".sec-clean .lacks", "clean line after the next cleaning")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.tapText(".pools td a", "Sorrel Bend")
	s.findText(".q2", "No reading has told the load yet")
	s.findText(".q4", "Nothing of this kind is on record")
	s.axe("an empty record")
}

func TestSignsAloneRankAndTheSameTapTakesThemBack(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("Quince Court 14")
	s.findText(".sec-grade .empty", "Type the speed and a gauge")
	s.tapText(".sec-seen button", "All")
	s.tap(`[data-sign="slurping"]`)
	s.tap(`[data-sign="level-low"]`)
	s.tap(`[data-sign="air-in-pot"]`)
	s.leads("water-low")
	s.findText(".sec-clean .lacks", "forecast alone")
	for range 2 {
		s.tap(`[data-sign="level-low"]`)
	}
	s.find(`[data-sign="level-low"].none`)
}

func TestADangerStandsAcrossTheWork(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("Quince Court 14")
	s.read(0, map[string]string{"speed": "3450", "tank": "52"})
	s.findText(".danger.stop", "Stop: the tank is at 50 psi or more")
	s.axe("danger")
}

func TestAPageWithoutALineSaysSoAndComesBackByItself(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.find("tr.here")
	s.town.Cut(true)
	s.tapText(".sections a", "Pools")
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
	s.openStop("Quince Court 14")
	s.tap(".demo-read")
	s.leads("healthy")
	s.tap(".sec-read .add")
	s.read(1, map[string]string{"speed": "3250"})
	s.tap(".demo-read") // reads the newest row at its own speed
	s.find("#reading-1-tank:not([value=''])")
	s.findText(".sec-read .rds:nth-of-type(3) .rd-says, .sec-read .rds + .rds .rd-says", "[0-9]")
	s.leads("healthy")
	s.tapText(".sec-read .btn", "Leave this reading out")
	assert.Empty(t, s.MustElements("#reading-1-tank"))
}

func TestThePumpIsWhatTheTechnicianSays(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("Quince Court 14")
	s.findText(".pump.unknown", "Treated as running")
	s.tap(".pump-say")
	s.tapText(".pump-choice button", "OFF")
	s.findText(".pump.off", "The handle may move")
	s.findText(".pump.off", "off is not locked off")
	s.MustReload().MustWaitLoad()
	s.find(".pump.off")
	s.axe("pump off")
}

func TestTheKeysThatWorkEverywhere(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.find("tr.here")
	s.Keyboard.MustType(input.Slash)
	s.find("#find-pool")
	assert.Equal(t, "find-pool", s.MustEval("() => document.activeElement.id").String())
	s.MustEval("() => document.activeElement.blur()")
	s.MustEval(`() => dispatchEvent(new KeyboardEvent("keydown", { key: "?" }))`)
	s.findText(".keys[open]", "next stop")
	s.axe("keys")
}

// A year of cleanings does not fit on a chart: the last weeks stand there, the
// whole record is a tap away.
func TestTheWholeRecordIsATapAway(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.find("main .tt")
	s.pool("Coomb Lane 33", "")
	arrows := func() int { return len(s.MustElements(".cleanmarks .head")) }
	s.find("#whole-load")
	few := arrows()
	assert.Greater(t, few, 1)
	s.tap("#whole-load")
	s.find(`#whole-load[aria-pressed="true"]`)
	assert.Greater(t, arrows(), few+5)
}

// An address that opens nothing says so and leads on; every tab is called what its page says.
func TestAnUnknownAddressSaysSo(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/no-such-page").MustWaitLoad()
	s.findText("#not-here", "opens no page")
	s.titled("Nothing is here · Fair Lap")
	s.axe("unknown address")
	s.tapText("#not-here a", "lap")
	s.find("tr.here")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.titled("Pools · Fair Lap")
}

// titled waits until the tab is called so.
func (s *screen) titled(want string) {
	s.t.Helper()
	require.Eventually(s.t, func() bool { return s.MustEval("() => document.title").String() == want }, patience, 50*time.Millisecond, want)
}
