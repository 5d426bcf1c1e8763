package e2e

import (
	"fmt"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/e2e/harness"
	"fairlap/internal/demo"
)

// onDevice waits until the device has the whole app for a day without a line.
func (s *screen) onDevice() {
	s.MustEval(`() => navigator.serviceWorker.ready.then(() => new Promise((done) => {
		if (navigator.serviceWorker.controller) done();
		else navigator.serviceWorker.addEventListener("controllerchange", () => done());
	}))`)
}

// stored are the keys of one of the device's stores.
func (s *screen) stored(name string) []string {
	out := []string{}
	for _, key := range s.MustEval(`(name) => new Promise((done, failed) => {
		const open = indexedDB.open("fairlap");
		open.onerror = failed;
		open.onsuccess = () => {
			const all = open.result.transaction(name).objectStore(name).getAllKeys();
			all.onsuccess = () => { open.result.close(); done(all.result.map((key) => key.slice(1).join(" "))); };
		};
	})`, name).Arr() {
		out = append(out, key.Str())
	}
	return out
}

// dayKept waits until the device has the day's stops.
func (s *screen) dayKept() {
	s.t.Helper()
	require.Eventually(
		s.t,
		func() bool { return slices.Contains(s.stored("answers"), "day") },
		patience,
		200*time.Millisecond,
	)
}

// inTheYard is a technician's phone that has the app and the day.
func inTheYard(t *testing.T) *screen {
	s := openApp(t, harness.Phone)
	s.signIn("technician")
	s.find("#stops")
	s.onDevice()
	s.dayKept()
	return s
}

// logWaits logs a visit that can't be sent yet, logSaved one that goes on record.
func (s *screen) logWaits(note string) {
	s.t.Helper()
	s.writeLog(note)
	s.findText("#kept", "sending")
}

func (s *screen) logSaved(note string) {
	s.t.Helper()
	s.writeLog(note)
	s.find("#saved")
}

func (s *screen) writeLog(note string) {
	s.t.Helper()
	s.tap("#open-log")
	s.fill("#log-note", note)
	s.tap("#log-save")
}

// kept names what of a kind the device keeps.
func (s *screen) kept(kind string) []string {
	out := []string{}
	for _, key := range s.stored("kept") {
		if of, id, _ := strings.Cut(key, " "); of == kind {
			out = append(out, id)
		}
	}
	return out
}

// A whole round with no line at all: the page starts, stops that were never opened are open, what
// is read there is judged on the phone, and visits wait. With the line back all of it is on record
// once, in its order, by whoever made it.
func TestADayWithoutALine(t *testing.T) {
	t.Parallel()
	s := inTheYard(t)
	s.town.Cut(true)
	s.MustReload()
	s.find("#no-line")
	notes := map[string]string{"14 Quince Court": "first", "5 Bayberry Close": "second", "3 Larkspur Lane": "third"}
	for i, street := range []string{"14 Quince Court", "5 Bayberry Close", "3 Larkspur Lane"} {
		if i == 0 {
			s.openStop(street)
		} else {
			s.tapText("#bar a", "Today")
			s.openStop(street)
		}
		s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
		s.find("[data-stale=false] [data-suspect]")
		shown := s.find(`#one-line[data-advice] b`).MustText()
		if i == 0 { // this device makes the file
			us := words.Printer{Lang: words.English, Units: units.US}
			assert.Equal(t, shown, us.Say(s.savedStop().Text))
		}
		s.logWaits(notes[street] + " of a day without a line")
	}
	s.tapText("#bar a", "Waiting")
	s.find(`#waits[data-count="3"]`)
	s.MustReload() // the phone was put away and taken out again
	s.find(`#waits[data-count="3"]`)
	s.town.Cut(false)
	s.find(`#waits[data-count="0"]`)
	for street, note := range notes {
		s.pool(street, "")
		s.findText(".log tbody tr:first-child", note+" of a day without a line[^§]*O. Brandt")
		once := fmt.Sprintf(`//td[contains(., "%s of a day without a line")]`, note)
		assert.Len(t, s.MustElementsX(once), 1, street)
	}
}

// A picture taken without a line is kept, shown, and on record once the line is back.
func TestAPictureTakenWithoutALineIsSentLater(t *testing.T) {
	t.Parallel()
	s := openApp(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.onDevice()
	s.tap("#stop-photos")
	s.find("#photo-caption")
	s.town.Cut(true)
	s.fill("#photo-caption", "split union")
	picture, err := filepath.Abs("../docs/screenshots/lap.png")
	require.NoError(t, err)
	s.find("#photo-file").MustSetFiles(picture)
	s.find("[data-photo-waits] img")
	s.MustReload() // the app was put away in the middle
	s.find(`[data-stop-state]`)
	assert.Len(t, s.kept("photo"), 1)
	s.town.Cut(false)
	require.Eventually(t, func() bool { return len(s.kept("photo")) == 0 }, patience, 200*time.Millisecond)
	s.tap("#stop-photos")
	s.findText("[data-photo] span", "split union")
	assert.Len(t, s.MustElements("[data-photo]"), 1)
}

// Two tabs on one stop have one draft: what is typed in one stands in the other, and the visit
// goes out once.
func TestTwoTabsShareOneDraft(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.find("#reading-0-tank")
	page, err := s.Browser().Page(proto.TargetCreateTarget{URL: s.MustInfo().URL})
	require.NoError(t, err)
	t.Cleanup(func() { _ = page.Close() })
	other := &screen{page.Timeout(2 * time.Minute), t, s.town}
	other.find("#reading-0-tank")
	s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
	require.Eventually(
		t,
		func() bool { return other.value("#reading-0-tank") == "12.5" },
		patience,
		100*time.Millisecond,
	)
	other.fill("#reading-0-flow", "44")
	require.Eventually(t, func() bool { return s.value("#reading-0-flow") == "44" }, patience, 100*time.Millisecond)
	s.logSaved("from two tabs")
	other.find("#saved")
	s.record()
	s.findText(".log tbody tr:first-child", "from two tabs")
	assert.Len(t, s.MustElementsX(`//td[contains(., "from two tabs")]`), 1)
}

// A device whose clock is hours off tells and records the server's time, also on a cold start
// without a line.
func TestAClockFourHoursOffRecordsTheRightTime(t *testing.T) {
	t.Parallel()
	s := openApp(t, harness.Phone)
	s.MustEvalOnNewDocument(`{ const Real = Date; const off = 4 * 3600e3;
		globalThis.Date = class extends Real { constructor(...a) { a.length ? super(...a) : super(Real.now() + off); } static now() { return Real.now() + off; } }; }`)
	s.MustReload()
	s.signIn("technician")
	s.find("#stops")
	s.onDevice()
	s.dayKept()
	s.town.Cut(true)
	s.MustReload()
	s.openStop("14 Quince Court")
	s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
	s.logWaits("by a wrong clock")
	s.town.Cut(false)
	s.find("#saved")
	var closed time.Time
	require.NoError(
		t,
		s.town.Store.Pool.QueryRow(t.Context(), "select closed_at from visits where note = 'by a wrong clock'").
			Scan(&closed),
	)
	assert.WithinDuration(t, demo.Clock(harness.Day)(), closed, 5*time.Minute)
}
