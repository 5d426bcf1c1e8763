package e2e

import (
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// A block of the present programme carried into the utility's peak says what it breaks;
// typed back it breaks nothing more, and what is set is what the pad runs.
func TestABlockInThePeakSaysWhyNot(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Desktop)
	s.signIn("office")
	s.pool("14 Quince Court", "/plan")
	s.findText("#plan-says", "a month")
	s.findText(".plan", "Proved: no plan that meets these needs is cheaper")
	s.findText(".compare", "$")
	s.tap("#plan-as-found")
	block := s.find(`.plan-block[data-slot="0"]`)
	block.MustEval("() => this.scrollIntoView({ block: 'center' })")
	box := block.MustShape().Box()
	strip := s.find(".plan-day-strip").MustShape().Box()
	hour := strip.Width * 674 / 806 / 24
	from := proto.Point{X: box.X + box.Width/2, Y: box.Y + box.Height/2}
	require.NoError(t, s.Mouse.MoveTo(from))
	require.NoError(t, s.Mouse.Down(proto.InputMouseButtonLeft, 1))
	require.NoError(t, s.Mouse.MoveLinear(proto.Point{X: from.X + 7*hour, Y: from.Y}, 10))
	require.NoError(t, s.Mouse.Up(proto.InputMouseButtonLeft, 1))
	s.findText("#plan-broken", "peak")
	s.axe("speed plan, edited")
	dragged := s.value("#slot-0-start")
	s.tap("#plan-reset")
	s.Timeout(patience).MustWait(`() => !document.querySelector("#plan-broken")`)
	assert.NotEqual(t, dragged, s.value("#slot-0-start"))

	planned := s.value("#slot-0-rpm")
	s.tap("#plan-set")
	s.findText(".plan", "On record as the pump's program")
	s.MustReload().MustWaitLoad()
	s.tap("#plan-as-found")
	assert.Equal(t, planned, s.value("#slot-0-rpm"), "the plan is the present programme now")

	// What is no figure is told where it was typed, and stays.
	s.fill("#slot-0-hours", "three")
	s.find("#slot-0-rpm").MustFocus()
	s.findText(".slots .field-says", "isn't a number")
	assert.Equal(t, "three", s.value("#slot-0-hours"))
	s.fill("#slot-0-hours", "2")
	s.find("#slot-0-rpm").MustFocus()
	s.find("#plan-broken")
	s.tap("#plan-reset")

	// A need that no plan meets: the two that collide are named with what would mend it.
	s.fill("#need-turnovers", "6")
	s.findText("#plan-conflict", "6 turnovers a day")
	s.find("#plan-conflict li")
	s.fill("#need-turnovers", "many")
	s.findText(".plan-needs .field-says", "isn't a number")

	// The card holds the slots, and not the form.
	require.NoError(t, proto.EmulationSetEmulatedMedia{Media: "print"}.Call(s))
	assert.Equal(t, "none", s.find(".plan-needs").MustEval("() => getComputedStyle(this).display").String())
	assert.NotEqual(t, "none", s.find(".slots").MustEval("() => getComputedStyle(this).display").String())
}

// The plan on a phone: nothing runs off the side, and a start is typed as on a clock.
func TestThePlanFitsAPhone(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("12 Mistral Way", "/plan")
	s.findText("#plan-says", "a month")
	assert.LessOrEqual(t, s.MustEval("() => document.documentElement.scrollWidth").Int(), 390)
	s.fill("#slot-0-start", "6:30")
	s.find("#slot-0-rpm").MustFocus()
	s.find("#plan-broken li")
	assert.Equal(t, "6:30 AM", s.value("#slot-0-start"))
	s.axe("speed plan on a phone")
}

// A whole inspection on a phone: half-way and back, a wrong figure, a lost line, closed
// with findings that the report, the due work and the stop all say.
func TestAnInspectionOnAPhoneEndsInAReport(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("14 Quince Court", "/inspection")
	s.findText(".inspections", "No inspections yet")
	s.tap("#insp-start")
	s.item("supports")
	s.tap(`[data-item="supports"] [data-yes="false"]`)
	s.findText(`[data-finding="supports"]`, "A pipe hangs free")
	bad := filepath.Join(t.TempDir(), "pipe.jpg")
	write(t, bad, "no picture at all")
	camera := `[data-item="supports"] input[type="file"]`
	s.find(camera).MustSetFiles(bad)
	s.findText(`[data-item="supports"] .photos-snap`, "not a picture we can read")
	good, err := filepath.Abs("../docs/screenshots/lap.png")
	require.NoError(t, err)
	s.find(camera).MustSetFiles(good)
	s.find(`[data-item="supports"] .photos-snap img`)
	s.item("straight-run")
	s.fill("#insp-straight-run", "six")
	s.findText(`[data-item="straight-run"] .field-says`, "isn't a number")
	s.fill("#insp-straight-run", "6")
	s.findText(`[data-finding="straight-run"]`, "14.0 in short of ten diameters")
	s.item("drain-year")
	s.fill("#insp-drain-year", "20")
	s.findText(`[data-item="drain-year"] .field-says`, "can't be right")
	s.fill("#insp-drain-year", "2031")
	s.findText("#insp-kept", "Saved")
	wide := s.MustEval("() => document.documentElement.scrollWidth").Int()
	assert.LessOrEqual(t, wide, 390, "nothing runs off the side")
	s.axe("inspection on a phone")

	version := func() int {
		return s.MustEval(`async () => (await (await fetch("/api/v1" + location.pathname)).json()).version`).Int()
	}
	kept := version()
	time.Sleep(1500 * time.Millisecond)
	s.findText("#insp-kept", "Saved")
	assert.Equal(t, kept, version(), "what is on record is not sent again")

	s.MustReload().MustWaitLoad() // left half-way
	s.item("straight-run")
	assert.Equal(t, "6", s.value("#insp-straight-run"))
	s.item("rcd")
	s.town.Cut(true)
	s.tap(`[data-item="rcd"] [data-yes="false"]`)
	s.findText("#insp-kept", "No connection")
	s.town.Cut(false)
	s.findText(`[data-finding="rcd"]`, "licensed electrician")
	s.item("drain-covers")
	s.tap(`[data-item="drain-covers"] [data-yes="false"]`)
	s.find(`[data-finding="drain-covers"]`)
	s.findText("#insp-found h2", "6 findings") // four seen, two worked out from the pad
	s.findText("#insp-kept", "Saved")
	s.tap("#insp-close")
	s.tap("#insp-close-sure")
	s.tap("#insp-report")
	s.findText(".paper", "A suction cover is broken")
	s.findText(".paper", "A pipe hangs free")
	s.find(`.paper img[alt="Pipes supported, none hanging"]`)
	s.findText(".paper", "6 in")
	s.axe("inspection report on a phone")

	s.pool("14 Quince Court", "")
	s.findText(`.log tbody tr[data-entry="inspection"]`, "6 findings")
	s.pool("14 Quince Court", "/due")
	s.findText(`[data-due="inspection:drain-covers"]`, "pool closed")
	s.MustNavigate(s.town.URL + "/").MustWaitLoad()
	s.openStop("14 Quince Court")
	s.findText("#notices", "A suction cover is broken")
	s.pool("14 Quince Court", "/inspection")
	s.findText("#insp-start", "Start")
}
