package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/e2e/harness"
)

func TestDueWorkIsDecidedWithReasons(t *testing.T) {
	s := open(t, harness.Phone)
	s.signIn("office")
	s.pool("Tamarack Street 61", "/due")
	s.findText(`[data-due="clean-filter"]`, "DE powder 3.8 lb")
	s.findText(`[data-due="tear-down"]`, "not on record yet")
	// Calling it off wants a reason, and says so in a sentence; nothing typed is lost.
	s.tap(`[data-due="tear-down"] [data-act="cancel"]`)
	s.tap(`[data-due="tear-down"] .why-form [type="submit"]`)
	s.findText(`[data-due="tear-down"] [role="alert"]`, "Say why in a few words")
	s.fill(`[data-due="tear-down"] .why-form input`, "new grids in October")
	s.tap(`[data-due="tear-down"] .why-form [type="submit"]`)
	s.findText(".marks", "Called off: Tear down and soak the grids.*new grids in October.*R. Osei")
	s.tap(`[data-due="heater-check"] [data-act="done"]`)
	s.findText(".marks li:first-child", "Done: Heater")
	s.MustReload()
	s.findText(".marks", "new grids in October")
	has, _, _ := s.Has(`[data-due="heater-check"]`)
	assert.False(t, has, "done: due again in a year")
	s.axe("due work")
	s.tap(`[data-due="clean-filter"] [data-act="snooze"]`)
	s.findText(`[data-due="clean-filter"]`, "Put off until")
}

func TestChemicalsHoldTheBackwashUntilSomebodySaysWhyNot(t *testing.T) {
	s := open(t, harness.Desktop)
	s.signIn("technician")
	s.pool("Juniper Rise 27", "/due")
	s.findText(`[data-due="clean-filter"] .held`, "Held until Tue 24 Nov 14:00: chemicals are in")
	s.tap(`[data-due="clean-filter"] [data-act="override"]`)
	s.findText(`[data-due="clean-filter"] .caution`, "throws the chemicals away")
	s.fill(`[data-due="clean-filter"] .why-form input`, "tank at 28 psi, can't wait")
	s.tap(`[data-due="clean-filter"] .why-form [type="submit"]`)
	s.findText(".marks", "Hold overridden.*can't wait")
	has, _, _ := s.Has(`[data-due="clean-filter"] .held`)
	assert.False(t, has)
}

func TestTheOfficeChoosesItsSchool(t *testing.T) {
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.MustNavigate(s.town.URL + "/cleaning").MustWaitLoad()
	s.find("#clean-above")
	s.axe("cleaning settings")
	s.fill("#clean-above", "half")
	s.press(".settings", "Save")
	s.findText(".settings", "Type a plain figure")
	s.fill("#clean-above", "99")
	s.press(".settings", "Save")
	s.findText(".settings", "between 5 and 95")
	s.fill("#clean-above", "60")
	s.fill("#no-discharge", "2026-11-24, tomorrow")
	s.press(".settings", "Save")
	s.findText(".settings", "Type each day like")
	s.fill("#no-discharge", "2026-11-24")
	s.choose(".settings", "School", "By the calendar")
	s.press(".settings", "Save")
	s.find(`.settings:not(:has([role="alert"]))`)
	s.MustReload()
	s.find("#clean-above")
	assert.Equal(t, "60", s.value("#clean-above"))
	assert.Equal(t, "2026-11-24", s.value("#no-discharge"))
	// And a day without discharge holds today's backwash.
	s.pool("Tamarack Street 61", "/due")
	s.findText(`[data-due="clean-filter"]`, "no water may be discharged today")
	s.findText(`[data-due="clean-filter"]`, "by the calendar every 30 days")
}

func TestTheWeekSaysWhatIsDueAndWhatSlid(t *testing.T) {
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.find("main .tt")
	s.findText(".sections a", "Week").MustEval("() => this.click()")
	s.findText(`[data-technician="O. Brandt"] [data-stop="Tamarack Street 61"]`, "Backwash and recharge with DE[^§]*DE powder 3.8 lb")
	s.axe("week")
	s.tap(".calendar summary")
	s.press(".calendar", "Make an address")
	s.find(".calendar input")
	assert.Regexp(t, `/api/calendar/[A-Za-z0-9_-]{43}\.ics$`, s.value(".calendar input"))
	s.press(".calendar", "End it")
	s.findText(".calendar button", "^Make an address$")
	s.findText(".filters button", "4 weeks").MustEval("() => this.click()")
	s.find(`.week-day:nth-child(7)`)
	// Moved a visit on, and back again; a button moves it by hand, thumb or key.
	s.findText(`.week-day:nth-child(1) [data-stop="Quince Court 14"] [data-move="clean-filter"]`, "Move to Tue 1 Dec").MustEval("() => this.click()")
	s.findText(".moved", "Quince Court 14: Backwash and rinse moved to Tue 1 Dec")
	s.findText(`.week-day:nth-child(3) [data-stop="Quince Court 14"]`, "Backwash and rinse")
	s.tap("#undo-move")
	s.findText(`.week-day:nth-child(1) [data-stop="Quince Court 14"]`, "Backwash and rinse")
	// Put off here, it stands a week on.
	s.pool("Tamarack Street 61", "/due")
	s.tap(`[data-due="clean-filter"] [data-act="snooze"]`)
	s.findText(`[data-due="clean-filter"]`, "at the visit of Tue 1 Dec")
	s.MustNavigate(s.town.URL + "/week").MustWaitLoad()
	s.findText(`.week-day:nth-child(3) [data-stop="Tamarack Street 61"]`, "Backwash and recharge")
}
