package e2e

import (
	"sync"
	"testing"
	"time"

	"github.com/go-rod/rod"
	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
)

// withoutLine cuts the line at the browser and at the wire, or gives both back.
func (s *screen) withoutLine(away bool) {
	s.t.Helper()
	s.town.Cut(away)
	require.NoError(s.t, proto.NetworkEmulateNetworkConditions{
		Offline: away, DownloadThroughput: -1, UploadThroughput: -1,
	}.Call(s))
}

// phone is a browser whose store outlives it.
func phone(t *testing.T, town *harness.Town, folder string) (*screen, func()) {
	b, end, err := harness.BrowserOn(folder)
	require.NoError(t, err)
	kill := sync.OnceFunc(end)
	t.Cleanup(kill) // also where the journey fails before it is put away
	var p *rod.Page
	require.NoError(t, rod.Try(func() { p = town.App(b, "/", harness.Phone) }))
	return watched(t, town, p), kill
}

// A session that ended while there was no line: work goes on, and a sign-in is asked for before
// anything is sent.
func TestASessionThatEndedAsksBeforeItSends(t *testing.T) {
	t.Parallel()
	s := inTheYard(t)
	s.town.Cut(true)
	_, err := s.town.Store.Pool.Exec(t.Context(), "delete from sessions")
	require.NoError(t, err)
	s.MustReload()
	s.openStop("14 Quince Court")
	s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
	s.find(`[data-stale=false] [data-suspect]`)
	s.logWaits("after the session ended")
	s.town.Cut(false)
	s.find("#as-technician")
	assert.Len(t, s.kept("visit"), 1, "kept until its maker is back")
	assert.Empty(t, s.stored("answers"), "of the customers nothing is left on a device that nobody is signed in on")
	assert.True(t, s.MustEval(`() => localStorage.getItem("fairlap.first") === null`).Bool())
	s.signIn("technician")
	s.find("#saved")
	s.pool("14 Quince Court", "")
	s.findText(".log tbody tr:first-child", "after the session ended[^§]*O. Brandt")
}

// A device that has no room says so before anything is lost, and keeps again once it has.
func TestADeviceWithoutRoomSaysSo(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	s.find("#reading-0-tank")
	s.MustEval(
		`() => { IDBObjectStore.prototype.put = function () { throw new DOMException("full", "QuotaExceededError") } }`,
	)
	s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
	s.findText("#kept", "can't save")
	s.tapText("#bar a", "Waiting")
	s.findText("#no-room", "can't save more")
	s.tapText("#bar a", "Today")
	s.openStop("14 Quince Court")
	assert.Equal(t, "12.5", s.value("#reading-0-tank"), "it is in hand as long as the page lives")
	s.logSaved("from a full device")
	s.record()
	s.findText(".log tbody tr:first-child", "from a full device")
}

// Two devices at one stop: what one logs the other sees, keeps what was typed on it, and asks
// whether that corrects it.
func TestTwoDevicesAtOneStop(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.openStop("14 Quince Court")
	other := &screen{s.town.Page(browser, "/", harness.Phone).Timeout(2 * time.Minute), t, s.town}
	defer other.MustClose()
	other.signIn("technician")
	other.openStop("14 Quince Court")
	other.read(0, map[string]string{"speed": "2400", "tank": "13"})
	s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
	s.logSaved("from the first device")
	other.MustReload()
	other.find(`[data-stop-state="logged"]`)
	assert.Equal(t, "13", other.value("#reading-0-tank"), "what was typed stays")
	other.tap("#correct")
	other.fill("#log-note", "and from the second")
	other.tap("#log-save")
	other.find("#saved")
	other.record()
	other.findText(".log tbody", "and from the second")
}
