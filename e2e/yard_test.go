package e2e

import (
	"fmt"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
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
	require.Eventually(s.t, func() bool { return slices.Contains(s.stored("answers"), "day") }, patience, 200*time.Millisecond)
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
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.find("#stops")
	s.onDevice()
	s.dayKept()
	s.town.Cut(true)
	s.MustReload()
	s.find("#no-line")
	notes := map[string]string{"Quince Court 14": "first", "Bayberry Close 5": "second", "Larkspur Lane 3": "third"}
	for i, street := range []string{"Quince Court 14", "Bayberry Close 5", "Larkspur Lane 3"} {
		if i == 0 {
			s.openStop(street)
		} else {
			s.tapText("#bar a", "Today")
			s.openStop(street)
		}
		s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
		s.find("[data-stale=false] [data-suspect]")
		s.find(`#one-line[data-advice]`)
		s.tap("#open-log")
		s.fill("#log-note", notes[street]+" of a day without a line")
		s.tap("#log-save")
		s.findText("#kept", "sending")
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
