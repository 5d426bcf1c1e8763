//go:build long

package e2e

import (
	"fmt"
	"math/rand/v2"
	"path/filepath"
	"testing"
	"time"

	"github.com/go-rod/rod/lib/proto"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/e2e/harness"
	"fairlap/internal/clock"
)

// A whole lap of three stops from a cold start without a line: judged on the phone, a backwash as
// guided work with its timer, an inspection with pictures, a part replaced, visits logged. The
// browser is killed and started again; with the line back everything is on record once, in its
// order, by whoever made it, and the desk sees it.
func TestAWholeLapWithoutALine(t *testing.T) {
	t.Parallel()
	town, err := harness.Start()
	require.NoError(t, err)
	t.Cleanup(town.Stop)
	folder := t.TempDir()
	s, kill := phone(t, town, folder)
	s.signIn("technician")
	s.find("#stops")
	s.onDevice()
	s.dayKept()
	require.NoError(t, s.Browser().Close()) // put away as one does; what follows ends as a phone does
	time.Sleep(time.Second)
	kill()

	town.Cut(true)
	s, kill = phone(t, town, folder)
	s.withoutLine(true)
	s.find("#no-line")
	s.openStop("14 Quince Court")
	s.read(0, map[string]string{"speed": "2400", "tank": "14", "vacuum": "1.5", "flow": "31", "power": "320"})
	s.find(`[data-stale=false] [data-suspect]`)
	s.find("#next")
	s.startWork("backwash")
	s.through("wash-clear", "17")
	s.findText(".run-timer", "0:(0[1-9]|[1-5])")
	s.through("", "10")
	s.findText("#run-outcome", "Back on its clean line")
	s.tap("#run-to-stop")
	s.find(`[data-run-state="ended"]`)
	s.tap("#open-log")
	assert.Equal(t, "10", s.value("#after-tank"), "the run's reading")
	s.find(`#log-form [aria-pressed="true"][data-work="cleaned"]`)
	s.fill("#log-note", "first without a line")
	s.tap("#log-save")
	s.findText("#kept", "sending")

	s.tapText("#bar a", "Today")
	s.openStop("5 Bayberry Close")
	s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
	s.find(`[data-stale=false] [data-suspect]`)
	s.tap("#to-record")
	s.tap(`[data-part="cartridge"] .ant-collapse-header`)
	s.tap(`[data-part="cartridge"] [data-act="replace"]`)
	s.fill("#part-model", "Pleat 320 long")
	s.tap("#part-save")
	s.findText("#waits-here", "change of a part")
	s.tapText(".pool-pages a", "^Inspection$")
	s.tap("#insp-start")
	s.item("supports")
	s.tap(`[data-item="supports"] [data-yes="false"]`)
	s.findText(`[data-finding="supports"]`, "A pipe hangs free")
	picture, err := filepath.Abs("../docs/screenshots/lap.png")
	require.NoError(t, err)
	s.find(`[data-item="supports"] input[type="file"]`).MustSetFiles(picture)
	s.find(`[data-item="supports"] [data-photo-waits] img`)
	s.item("rcd")
	s.tap(`[data-item="rcd"] [data-yes="false"]`)
	s.find(`[data-item="rcd"] input[type="file"]`).MustSetFiles(picture)
	s.find(`[data-item="rcd"] [data-photo-waits] img`)
	s.tap("#insp-close")
	s.tap("#insp-close-sure")
	for street, note := range map[string]string{"5 Bayberry Close": "second without a line", "3 Larkspur Lane": "third without a line"} {
		s.tapText("#bar a", "Today")
		s.openStop(street)
		s.read(0, map[string]string{"speed": "2400", "tank": "12.5"})
		s.find(`[data-stale=false] [data-suspect]`)
		s.logWaits(note)
	}
	// Three visits, a run, a part, an inspection and its two pictures.
	const waits = 8
	require.Eventually(t, func() bool {
		return len(
			s.kept("visit"),
		)+len(
			s.kept("run"),
		)+len(
			s.kept("change"),
		)+len(
			s.kept("inspection"),
		)+len(
			s.kept("photo"),
		) >= waits
	}, patience, 100*time.Millisecond)
	kill()

	s, kill = phone(t, town, folder)
	defer kill()
	s.withoutLine(true)
	s.tapText("#bar a", "Waiting")
	s.find(`#waits[data-count="8"]`)
	back := clock.Now()
	s.withoutLine(false)
	s.find(`#waits[data-count="0"]`)
	took := clock.Since(back)
	t.Logf("everything was sent %s after the line was back", took.Round(100*time.Millisecond))
	assert.Less(t, took, 15*time.Second)

	desk := openAt(t, town, harness.Desktop)
	desk.signIn("office")
	for street, note := range map[string]string{"14 Quince Court": "first", "5 Bayberry Close": "second", "3 Larkspur Lane": "third"} {
		desk.pool(street, "")
		desk.findText(".log tbody tr", note+" without a line[^§]*O. Brandt")
		assert.Len(t, desk.MustElementsX(`//td[contains(., "`+note+` without a line")]`), 1, street)
	}
	desk.pool("5 Bayberry Close", "")
	desk.findText(`[data-part="cartridge"]`, "Pleat 320 long[^§]*0.0")
	count := func(query string, args ...any) (n int) {
		require.NoError(t, town.Store.Pool.QueryRow(t.Context(), query, args...).Scan(&n))
		return n
	}
	assert.Equal(t, 1, count(`select count(*) from runs where procedure = 'backwash'`))
	assert.Equal(t, 1, count(`select count(*) from inspections where closed_at is not null and started_at < closed_at`))
	assert.Equal(t, 2, count(`select count(*) from photos where inspection_id is not null`))
	assert.Equal(t, 1, count(`select count(*) from equipment_events where act = 'replace' and note = ''`))
	assert.Equal(
		t,
		1,
		count(
			`select count(*) from visits v join visit_works w on w.visit_id = v.id where v.note = 'first without a line' and w.kind = 'cleaned'`,
		),
	)
}

// The server is killed and started again twenty times while a device sends: nothing that was made
// is lost, and nothing is on record twice.
func TestTheServerIsKilledWhileADeviceSends(t *testing.T) {
	t.Parallel()
	s := open(t, harness.Phone)
	s.signIn("technician")
	s.pool("5 Bayberry Close", "")
	s.find("#note-text")
	s.withoutLine(true)
	const notes, kills = 30, 20
	for i := range notes {
		s.fill("#note-text", fmt.Sprintf("killed at %02d", i))
		s.tap("#note-save")
		s.MustWait(`() => document.querySelector("#note-text").value === ""`)
	}
	assert.Len(t, s.kept("change"), notes)
	require.NoError(
		t,
		proto.NetworkEmulateNetworkConditions{Latency: 60, DownloadThroughput: -1, UploadThroughput: -1}.Call(s),
	)
	s.town.Cut(false)
	chance := rand.New(rand.NewPCG(20, 21))
	for range kills {
		time.Sleep(time.Duration(20+chance.IntN(400)) * time.Millisecond)
		require.NoError(t, s.town.Kill())
		if len(s.kept("change")) == 0 {
			break
		}
		s.MustEval(`() => dispatchEvent(new Event("online"))`) // a phone tells when the line is back
	}
	require.Eventually(t, func() bool { return len(s.kept("change")) == 0 }, 3*patience, 200*time.Millisecond)
	var all, once int
	require.NoError(t, s.town.Store.Pool.QueryRow(t.Context(),
		"select count(*), count(distinct text) from notes where text like 'killed at %'").Scan(&all, &once))
	assert.Equal(t, [2]int{notes, notes}, [2]int{all, once})
}
