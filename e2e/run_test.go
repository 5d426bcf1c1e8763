package e2e

import (
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// startWork chooses work at a pool or stop, reads its cautions and starts it.
func (s *screen) startWork(procedure string) {
	s.t.Helper()
	if has, _, _ := s.Has(`[data-start="` + procedure + `"]`); !has {
		s.pick("#other-work", procedure)
	}
	s.tap(`[data-start="` + procedure + `"]`)
	s.find(".ant-modal .care li")
	if s.has("#run-form") { // a routine: the whole of it
		s.tap("#run-form label:last-child")
	}
	s.tap("#run-start")
	s.find("[data-step]")
}

// step is the step that the run stands at; "" when it is over.
func (s *screen) step() string {
	s.t.Helper()
	el := s.find("[data-step], .run-end")
	if at, _ := el.Attribute("data-step"); at != nil {
		return *at
	}
	return ""
}

// answer takes one answer of a step, which must be the next.
func (s *screen) answer(step, option string) {
	s.t.Helper()
	s.tap(`[data-step="` + step + `"] [data-option="` + option + `"]`)
}

// through takes what leads on at every step until one is next, typing readings.
func (s *screen) through(until string, tank string) {
	s.t.Helper()
	for range 60 {
		at := s.step()
		if at == until || at == "" {
			require.Equal(s.t, until, at, "the page says: %s", s.text())
			return
		}
		here := `[data-step="` + at + `"] `
		if s.has(here+"#run-early-open") && at != "catch" && !strings.HasPrefix(at, "drain-") {
			s.tap(here + "#run-early-open")
			s.fill("#run-early", "a journey has no time")
		}
		s.find(
			here + "#run-read, " + here + "#run-confirm, " + here + "#run-timer, " + here + ".run-ans-btn.run-chief, " + here + ".run-go[data-option]",
		)
		switch {
		case s.has(here + "#run-read"):
			if s.value("#run-speed") == "" {
				s.fill("#run-speed", "2400")
			}
			s.fill("#run-tank", tank)
			s.tap("#run-read")
		case s.has(here + "#run-confirm"):
			s.tap("#run-confirm")
		case s.has(here + "#run-timer"):
			s.tap("#run-timer")
			s.find(here + "#run-bound")
			s.find(here + ".run-go[data-option]:not([disabled])")
			s.tap(here + ".run-go[data-option]")
		case s.has(here + ".run-ans-btn.run-chief"):
			s.tap(here + ".run-ans-btn.run-chief:not([disabled])")
		default:
			s.tap(here + ".run-go[data-option]")
		}
		s.find(`.run-end, .run-now:not([data-step="` + at + `"])`)
	}
	s.t.Fatalf("no end before %s; the page says: %s", until, s.text())
}

func (s *screen) has(selector string) bool {
	has, _, _ := s.Has(selector)
	return has
}

// The line is cut and the page reloaded while water goes to waste: nothing is lost,
// the clock runs on, and the stop's visit gets what the run found.
func TestABackwashGoesFromTheBenchToTheRecord(t *testing.T) {
	t.Parallel()
	for name, size := range map[string]proto.EmulationSetDeviceMetricsOverride{"desktop": harness.Desktop, "phone": harness.Phone} {
		t.Run(name, func(t *testing.T) {
			s := open(t, size)
			s.signIn("technician")
			s.openStop("14 Quince Court")
			s.read(0, map[string]string{"speed": "2400", "tank": "14", "vacuum": "1.5", "flow": "31", "power": "320"})
			s.find(`[data-stale=false] [data-advice="clean"]`)
			s.startWork("backwash")
			s.findText(".pump-state", "RUNNING")
			s.findText(".run-hint", "You read 2,400 rpm at the stop")
			assert.Equal(
				t,
				[]string{"2400", "14", "320"},
				[]string{s.value("#run-speed"), s.value("#run-tank"), s.value("#run-power")},
				"what was read at the bench is there already",
			)
			s.fill("#run-tank", "17")
			s.fill("#run-speed", "")
			s.tap("#run-read")
			s.findText(".field-says", "Type the pump speed too")
			assert.Equal(t, "17", s.value("#run-tank"), "what was typed stays")
			s.fill("#run-speed", "2400")
			s.tap("#run-read")
			s.through("off-1", "17")
			s.findText(".run-lock", "Turn the pump OFF")
			s.axe("a step with an interlock")
			s.tap("#run-confirm")
			s.find(`[data-step="to-backwash"]`)
			s.findText(".pump-state", "OFF")
			s.findText(".pump-lock", "Off is not locked off")
			s.through("wash-clear", "17")
			s.findText(".run-pad-facts .run-odd", "Multiport Backwash")
			s.findText(".run-timer", "0:(0[1-9]|[1-5])")
			s.axe("a step with a timer")
			s.MustReload().MustWaitLoad()
			s.findText(".run-timer", "0:0[2-9]|0:[1-5]")
			s.town.Cut(true)
			s.answer("wash-clear", "not-yet")
			s.findText("#run-waits", "saved on this device")
			s.answer("wash-clear", "clear") // and on without a line
			s.find(`[data-step="off-2"]`)
			s.tap("#run-confirm")
			s.find(`[data-step="to-rinse"]`)
			s.town.Cut(false)
			s.find(`.run-main:not(:has(#run-waits))`)
			s.through("after", "17")
			s.findText(".run-hint", "this pad should read about")
			s.through("", "10")
			s.findText(".run-end", "Finished")
			s.findText("#run-outcome", "Back on its clean line")
			s.findText(".run-facts", "To waste")
			s.MustReload()
			s.findText(".run-steps-done", "Is the sight glass clear.*Clear")
			s.tap("#run-to-stop")
			s.find(`[data-run-state="ended"]`)
			s.tap("#open-log")
			assert.Equal(t, "10", s.value("#after-tank"), "the run's reading")
			s.find(`#log-form [aria-pressed="true"]`)
			s.tap("#log-save")
			s.find("#saved")
			s.record()
			s.findText(".log tbody tr:first-child .col-what", "Filter cleaned")
			s.tap(".log tbody tr:first-child .col-what a")
			s.findText("article.pool-visit", "Jobs")
			s.tap("article.pool-visit .runs-and-work-run-line a")
			s.findText(".run-steps-done", "Turn the filter valve to rinse")
		})
	}
}

func TestARunLeftHalfWayIsSafeAndGoesOn(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.startWork("backwash")
	s.through("wash-clear", "17")
	s.tap("#must-stop")
	s.findText("#leave-panel", "Turn the pump OFF[^§]*Lock the power off")
	s.tap("#run-leave")
	s.findText("#away-head", "Left "+short(0))
	s.findText(".run-away .run-hands", "Give the power back[^§]*Start the pump")
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
	s.openStop("14 Quince Court")
	s.findText(`[data-run-state="left"]`, "stopped partway")
	s.tap(`[data-run-state="left"] a`)
	s.tap("#run-resume")
	s.find(`[data-step="wash-clear"]`)
	s.findText(".pump-state", "RUNNING")
	// A step back is a way for the hand, and what was done stays.
	s.tapText(".run-out-row button:not([disabled])", "Step back")
	s.tap("#run-back")
	s.find(`[data-step="wash-dirty"]`)
	s.through("", "10")
	s.findText(".run-end", "Finished")
}

func TestTheDEIsRechargedWet(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("61 Tamarack Street")
	s.startWork("backwash-de")
	s.through("mix", "20")
	s.findText(".run-now .care", "mask on, wet it before moving it, no dry pouring")
	s.findText(".run-ask", `stir 3.8 lb of DE into a bucket of water`)
	s.findText(".run-hint", "About 3¾ level one-pound scoops. 48 ft² of grids take 4.8 lb")
	s.through("pour", "20")
	s.findText(".pump-state", "RUNNING")
	s.through("", "9")
	s.findText(".run-end", "Finished")
}

func TestTheCartridgeComesOutOfATankWithoutPressure(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("5 Bayberry Close")
	s.startWork("hose-off")
	s.through("lock", "12")
	s.findText(".run-lock", "Lock the power off at the breaker")
	s.through("relieved", "12")
	s.findText(".pump-state", "LOCKED OFF")
	s.findText(".run-now .care", "A filter under pressure can kill")
	s.answer("relieved", "still") // and still no way to the band
	s.find(`[data-step="relieved"]`)
	s.answer("relieved", "nothing")
	s.find(`[data-step="open"]`)
	s.through("re-start", "12")
	s.findText(".run-now .care", "stand clear of the tank")
	s.findText(".run-pad-facts .run-odd", "Bleed open")
	s.through("", "7")
	s.findText(".run-end", "Finished")
}

func TestThePumpIsPrimedLineByLine(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("40 Fennel Walk")
	s.tap("#demo-read")
	s.leads("impeller-clogged")
	s.find(`[data-suspect="impeller-clogged"] [data-start="impeller"]`) // the suspect's own work
	s.startWork("prime")
	s.through("first-skimmer", "")
	s.findText(".pump-state", "LOCKED OFF")
	s.findText(".run-pad-facts .run-odd", "Suction all closed")
	s.through("catch", "")
	s.findText(".run-timer-says", "Usual")
	s.findText(".run-ans-btn.run-ends", "Four minutes, no water: stop")
	s.find(`[data-option="full"][disabled]`)
	s.findText("#run-bound", "That was too quick")
	s.find(`[data-option="full"]:not([disabled])`)
	s.through("", "")
	s.findText(".run-facts", "Primed in")
	s.tap("#run-to-stop")
	s.tap("#open-log")
	s.find(`#timed-prime:not([value=""])`) // the visit takes the seconds over
}

func TestASpaFoundDrainedIsSetRight(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("61 Tamarack Street")
	s.startWork("valve-reset")
	s.findText(".run-pad-facts .run-odd", "Spa valves don't match")
	s.through("read-suction", "")
	s.answer("read-suction", "spa")
	s.answer("read-return", "pool")
	s.through("top-up", "")
	s.findText(".run-pad-facts", "Spa valves pool")
	s.tapText(".run-out-row button", "Note")
	s.fill("#run-note", "guests on Sunday")
	s.tapText(".run-out-panel button", "Save note")
	s.findText(".run-noted", "guests on Sunday")
	s.through("", "")
	s.tap("#run-to-stop")
	s.tab("seen")
	s.find(`[data-sign="handle-wrong"][data-answer="yes"]`)
}

// Enough speeds read right after a cleaning are offered as the pad's clean line, and
// kept on a tap.
func TestAWalkInARunBecomesTheCleanLine(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("14 Quince Court", "/due")
	s.startWork("clean-line")
	s.answer("clean", "yes")
	s.find(`[data-step="top"]`)
	s.fill("#run-speed", "3450")
	s.fill("#run-tank", "10")
	s.tap("#run-read")
	s.find(`[data-step="walk-1"]`)
	s.fill("#run-speed", "2500")
	s.fill("#run-tank", "20")
	s.tap("#run-read")
	s.findText(".field-says", "can't rise as the speed falls")
	assert.Equal(t, "20", s.value("#run-tank"), "what was typed stays")
	s.tapText(".run-out-row button", "Step back")
	s.tap("#run-back")
	for _, r := range []struct{ step, speed, tank string }{{"top", "3450", "20"}, {"walk-1", "2500", "10.5"}, {"walk-2", "2000", "7.5"}, {"walk-3", "1750", "5.5"}} {
		s.find(`[data-step="` + r.step + `"]`)
		s.fill("#run-speed", r.speed)
		s.fill("#run-tank", r.tank)
		s.tap("#run-read")
		s.find(`.run-end, .run-now:not([data-step="` + r.step + `"])`)
	}
	s.answer("program", "done")
	s.findText(".run-keep-line", "4 speeds were read")
	s.axe("a run that ended")
	s.tap("#keep-line")
	s.findText(".run-end", "Saved as the clean line")
	s.pool("14 Quince Court", "/clean-line")
	s.findText("main", "Take a clean line")
}

// Of what waited for the line only the wrong reading is refused: the steps before it
// are kept, and what was typed is still there.
func TestAWrongReadingTypedWithoutALineCostsNoStep(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("14 Quince Court", "/due")
	s.startWork("clean-line")
	s.find(`[data-step="clean"]`)
	s.town.Cut(true)
	s.answer("clean", "yes")
	s.find(`[data-step="top"]`)
	s.fill("#run-speed", "3450")
	s.fill("#run-tank", "twenty")
	s.tap("#run-read")
	s.find(`[data-step="walk-1"]`)
	s.findText("#run-waits", "saved on this device")
	s.town.Cut(false)
	s.find(`[data-step="top"]`)
	s.find(".field-says")
	assert.Equal(t, "twenty", s.value("#run-tank"))
	s.findText(".run-steps-done", "Were the filter and the baskets cleaned just now.*Yes")
	s.fill("#run-tank", "20")
	s.tap("#run-read")
	s.find(`[data-step="walk-1"]`)
}

// Work that throws water away says why it is held, and keeps the reason of whoever
// goes on.
func TestAHeldRunAsksWhy(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("27 Juniper Rise")
	s.pick("#other-work", "backwash")
	s.tap(`[data-start="backwash"]`)
	s.fill("#run-water", "about ninety")
	s.fill("#run-reason", "tank at 28 psi")
	s.axe("before a run starts")
	s.tap("#run-start")
	s.findText(".ant-modal .field-says", "between 33 and 110")
	s.fill("#run-water", "58")
	s.fill("#run-reason", "")
	s.tap("#run-start")
	s.findText(".ant-modal .advice", "Held until "+on(0).Format("Mon")+" 2:00 PM: chemicals are in")
	assert.Equal(t, "58", s.value("#run-water"), "nothing typed is lost")
	s.fill("#run-reason", "tank at 28 psi")
	s.tap("#run-start")
	s.find(`[data-step="before"]`)
	s.pool("27 Juniper Rise", "/due")
	s.findText(".marks", "Hold overridden.*tank at 28 psi")
}

// Two devices in one run: of two answers to a step the first counts, and the second
// device is shown how the run stands; its timer shows the same seconds.
func TestTwoDevicesInOneRun(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.startWork("leak-tests")
	s.find(`[data-step="air"]`)
	at := s.MustInfo().URL
	other := &screen{s.town.Page(browser, "/", harness.Desktop).Timeout(2 * time.Minute), t, s.town}
	defer other.MustClose()
	other.signIn("owner")
	other.MustNavigate(at).MustWaitLoad()
	other.find(`[data-step="air"]`)
	s.answer("air", "yes")
	require.Eventually(t, func() bool { // the server has it
		return s.MustEval(`async () => (await (await fetch("/api/v1" + location.pathname)).json()).turn`).Int() > 0
	}, patience, 100*time.Millisecond)
	if other.step() == "air" { // it has not looked again yet
		other.answer("air", "no")
		other.findText("#run-moved", "perhaps on another device")
	}
	other.find(`[data-step="lid-foam"]`)
	other.findText(".run-steps-done", "is there air in the pump basket.*Air")
	other.answer("lid-foam", "no")
	s.find(`[data-step="inlet"]`) // it looks again by itself
	s.findText(".run-steps-done", "around the lid.*It stays.*A. Lindqvist")
	s.through("run", "")
	s.findText(".run-timer", "0:(0[1-9]|[1-5])")
	other.find(`[data-step="run"]`)
	other.findText(".run-timer", "0:[0-5][1-9]")
}

// A wait that binds is not passed at 0:00: the way past it is a reason, which stays.
func TestAWaitBindsOnThePage(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.startWork("dose")
	s.through("round", "")
	s.find(`.run-go[data-option="done"][disabled]`)
	s.findText("#run-bound", "Wait 9:5[0-9] more")
	s.axe("a wait that binds")
	s.tap("#run-early-open")
	s.fill("#run-early", "thunder")
	s.tap(`[data-step="round"] [data-option="done"]`)
	s.findText(".run-steps-done", "Ended early: thunder")
}

// The routine of a week in its short form.
func TestBasketsInShort(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.pick("#other-work", "baskets")
	s.tap(`[data-start="baskets"]`)
	s.findText("#run-form", "Short: 1[0-9] steps[^§]*In full: [23][0-9] steps")
	s.tap("#run-start")
	s.through("basket", "")
	s.findText(".pump-state", "LOCKED OFF")
	s.answer("basket", "cracked")
	s.through("", "")
	s.findText("#run-parts", "pump basket. It is due at the next visit")
	s.Timeout(patience).MustWait(`() => !document.querySelector("#run-waits")`) // a run is sent from its own page
	s.tap("#run-to-stop")
	s.pool("14 Quince Court", "/due")
	s.findText(`[data-due="owed:pump-basket"]`, "New: pump basket")
}

// Somebody called: a pool that is on no lap today gets its bench from its own page.
func TestACallOutFromAPoolsPage(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.MustNavigate(s.town.URL + "/pools").MustWaitLoad()
	s.find(".pools td a")
	on := s.MustEval(`async () => (await (await fetch("/api/v1/lap")).json()).stops.map((x) => x.poolId)`).String()
	for _, a := range s.MustElements(".pools td a") {
		href := *a.MustAttribute("href")
		if id := href[strings.LastIndex(href, "/")+1:]; !strings.Contains(on, id) {
			s.MustNavigate(s.town.URL + href).MustWaitLoad()
			break
		}
	}
	s.tap("#call-out")
	s.find("#reading-0-speed")
	s.tab("seen")
	s.find(`#called[aria-pressed="true"]`)
}

// What a job leaves open goes with the stop: the bench says it, the next job asks for it, the log
// takes a reason, and the day shows it.
func TestWhatAJobLeavesOpenGoesWithTheStop(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.findText(".pump-state", "NOT KNOWN")
	s.read(0, map[string]string{"speed": "2400", "tank": "14", "vacuum": "1.5", "flow": "31", "power": "320"})
	s.findText(".pump-state", "RUNNING")
	s.startWork("around-the-filter")
	s.through("", "")
	s.find(`.run-end [data-open="valve"]`)
	s.tap("#run-to-stop")
	s.findText("#open-states", "still on recirculate.*O. Brandt")
	s.findText(`[data-before="0"]`, "2,400 rpm . 14.0 psi")
	s.find("#reading-1-tank")
	s.startWork("backwash")
	s.findText("#step-head", "still on recirculate. Is that how you find it?")
	s.findText(".run-pad-facts .run-odd", "Multiport Recirculate")
	s.answer("as-left", "yes")
	s.find(`.run-now:not([data-step="as-left"])`)
	s.tapText(".run-out-row button", "Step back")
	s.tap("#run-back")
	s.find(`[data-step="as-left"]`)
	s.answer("as-left", "no")
	s.find(`[data-step="before"]`)
	s.findText(".run-pad-facts", "Multiport Filter")
}

// What somebody says of the pump shows at once, is theirs, and is not forgotten by the log.
func TestALockedPumpIsNotLeftInSilence(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.tap("#pump-say")
	s.tap(`[data-say="locked"]`)
	s.findText(".pump-state", "LOCKED OFF")
	s.findText(".pump-lock", "O. Brandt")
	s.findText("#open-states", "power is still locked off")
	s.MustReload()
	s.findText(".pump-state", "LOCKED OFF")
	s.tap("#open-log")
	s.findText("#left-open", "power is still locked off")
	s.tap("#log-save")
	s.findText("#left-open .field-says", "say why it is left so")
	s.fill("#left-reason", "Breaker is being replaced")
	s.tap("#log-save")
	s.find("#saved")
}
