package api

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/procedure"
	"fairlap/internal/app/company"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/pictures"
)

func (w *world) sql(q string, args ...any) {
	w.t.Helper()
	_, err := w.town.Store.Pool.Exec(context.Background(), q, args...)
	require.NoError(w.t, err, q)
}

// tables are those of the record.
func (w *world) tables() (out []string) {
	rows, err := w.town.Store.Pool.Query(
		context.Background(),
		"select tablename from pg_tables where schemaname = 'public' and tablename not in ('sessions', 'sign_ins', 'tries', 'goose_db_version', 'fault')",
	)
	require.NoError(w.t, err)
	defer rows.Close()
	for rows.Next() {
		var name string
		require.NoError(w.t, rows.Scan(&name))
		out = append(out, name)
	}
	return out
}

// stopPool is the pool of one of the first technician's stops.
func (w *world) stopPool(i int) string {
	var lap route.LapView
	w.as("technician").get("/api/v1/lap", &lap)
	return lap.Stops[i].PoolID
}

// record is a digest of every row on record.
func (w *world) record(tables []string) string {
	parts := make([]string, len(tables))
	for i, t := range tables {
		parts[i] = fmt.Sprintf(
			"(select '%[1]s ' || count(*) || ' ' || coalesce(md5(string_agg(t::text, '|' order by t::text)), '') from %[1]s t)",
			t,
		)
	}
	var out string
	require.NoError(
		w.t,
		w.town.Store.Pool.QueryRow(context.Background(), "select concat_ws(E'\\n', "+strings.Join(parts, ", ")+")").
			Scan(&out),
	)
	return out
}

// What a use case writes is on record whole or not at all, wherever it is cut off: the
// database itself refuses the first write, then the second, and so on, until all went
// through. Nothing may be left of the ones before.
func TestACrashBetweenTwoWritesLeavesNothingBehind(t *testing.T) {
	w := serve(t)
	tables := w.tables()
	w.sql("create table fault (at int)")
	w.sql("insert into fault values (0)")
	w.sql("create sequence writes")
	w.sql(`create function cut_off() returns trigger language plpgsql as $$ begin
		if nextval('writes') = (select at from fault) then raise exception 'cut off here'; end if; return null; end $$`)
	for _, name := range tables {
		w.sql(
			fmt.Sprintf(
				"create trigger cut_off before insert or update or delete on %q for each statement execute function cut_off()",
				name,
			),
		)
	}
	tech, desk, owner := w.as("technician"), w.as("office"), w.as("owner")

	seen := w.inspection()
	var pool record.PoolRecordView
	owner.get("/api/v1/pools/"+w.pool, &pool)
	part := func(kind string) string {
		for _, p := range pool.Parts {
			if p.Kind == kind {
				return p.ID
			}
		}
		return ""
	}
	twin := w.hand(t, "technician", w.stopPool(0), procedure.LeakTest, nil)
	twin.on("", map[string]string{"speed": "2400", "tank": "15"})
	last := w.hand(t, "technician", w.stopPool(0), procedure.LeakTest, nil)
	last.on(twin.was, map[string]string{"speed": "2400", "tank": "15"})
	ending := last.event(procedure.ActGo, last.step().Options[0].ID)
	photos := t.TempDir()
	kept, err := pictures.In(photos)
	require.NoError(t, err)
	w.town.Store.KeepPhotos(kept)
	shown := w.photo()
	files := func() (n int) {
		require.NoError(t, filepath.WalkDir(photos, func(_ string, d os.DirEntry, err error) error {
			if err == nil && !d.IsDir() {
				n++
			}
			return err
		}))
		return n
	}
	require.Equal(t, 1, files())
	fixed := map[string]string{}
	id := func(of string) string {
		if fixed[of] == "" {
			fixed[of] = uuid.NewString()
		}
		return fixed[of]
	}
	var people []company.Person
	desk.get("/api/v1/technicians", &people)

	for _, x := range []struct {
		name   string
		writes int // at least
		do     func() int
	}{
		{"a part is replaced and the pad follows", 3, func() int {
			return tech.do("POST", "/api/v1/pools/"+w.pool+"/parts",
				map[string]any{"id": id("part"), "act": "replace", "part": part("pump"), "model": "Brisk 270 VS",
					"on": demotest.On("2026-11-24")}, nil)
		}},
		{"an inspection is closed", 3, func() int {
			return tech.do("PUT", "/api/v1/inspections/"+seen.ID,
				map[string]any{"version": seen.Version, "close": true, "answers": map[string]any{
					"straight-run": map[string]any{"value": 7}, "anode-year": map[string]any{"value": 2024}}}, nil)
		}},
		{"a run ends", 2, func() int {
			return last.send(nil, ending)
		}},
		{"a visit is moved", 3, func() int {
			return desk.do("POST", "/api/v1/pools/"+w.pool+"/visit-moves",
				map[string]any{"id": id("move"), "on": demotest.On("2026-11-24"), "to": demotest.On("2026-11-26")}, nil)
		}},
		{"a pool's facts change", 2, func() int {
			var stands record.PoolAbout
			desk.get("/api/v1/pools/"+w.pool+"/about", &stands)
			facts := about(stands.Street, stands.Version)
			facts["weekday"], facts["minutes"] = 5, 41
			return desk.do("PUT", "/api/v1/pools/"+w.pool+"/about", facts, nil)
		}},
		{"a picture comes in and stands for its pool", 1, func() int {
			return owner.do("POST", "/api/v1/pools/"+w.stopPool(1)+"/photos?photo="+id("photo"), picture(70, 40), nil)
		}},
		{"a picture is taken away", 3, func() int {
			before := files()
			status := desk.do("POST", "/api/v1/photos/"+shown+"/gone", map[string]string{"why": "a face"}, nil)
			if status >= 300 {
				assert.Equal(t, before, files(), "a file goes only when its row is gone")
			} else {
				assert.Equal(t, before-1, files())
			}
			return status
		}},
		{"a technician leaves", 4, func() int {
			return desk.do("POST", "/api/v1/technicians/"+people[0].ID+"/leave", map[string]any{"to": people[1].ID},
				nil)
		}},
	} {
		t.Run(x.name, func(t *testing.T) {
			for cut := 1; ; cut++ {
				require.Less(t, cut, 80)
				w.sql("select setval('writes', 1, false)")
				w.sql("update fault set at = $1", cut)
				before := w.record(tables)
				status := x.do()
				if status < 300 {
					assert.NotEqual(t, before, w.record(tables), "it was kept")
					assert.Greater(t, cut, x.writes, "cut off at every write before")
					t.Logf("cut off at %d writes", cut-1)
					break
				}
				require.Equal(t, http.StatusInternalServerError, status)
				require.Equal(t, before, w.record(tables), "cut off at write %d", cut)
			}
		})
	}
	w.sql("update fault set at = 0")
}
