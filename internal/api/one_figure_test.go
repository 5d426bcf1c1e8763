package api

import (
	"encoding/json"
	"fmt"
	"maps"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/route"
	"fairlap/internal/demo"
)

// told is what the answers say: by pool and quantity, each figure with the places that give it.
type told struct {
	zone    *time.Location
	figures map[string]map[string][]string
	met     map[string]bool // paths of quantities that some answer has
}

func (o *told) add(pool, quantity, value, place string) {
	key := pool + ": " + quantity
	if o.figures[key] == nil {
		o.figures[key] = map[string][]string{}
	}
	if !slices.Contains(o.figures[key][value], place) {
		o.figures[key][value] = append(o.figures[key][value], place)
	}
}

// quantities are what a field of an answer is, by its path in the answer without numbers; a list of places that tell
// one quantity of one pool.
var quantities = map[string]string{
	"lap.load": "load", "list.load": "load", "paths.load": "load", "stop.forecast.mean": "load", "stop.verdict.load.mean": "load",
	"list.daysLeft": "days left", "stop.verdict.forecast.cross50": "days left", "pool.forecast.cross50": "days left",
	"lap.plannedAt": "arrival", "week.arrive": "arrival", "stop.plannedAt": "arrival",
	"stop.nextVisit": "visit after today's", "due.visits[1]": "visit after today's",
	"pool.nextVisit": "next visit", "due.visits[0]": "next visit",
	"stop.pool.lastCleaned": "cleaned", "pool.pool.lastCleaned": "cleaned", "due.pool.lastCleaned": "cleaned",
	"stop.pool.usualDays": "usual days", "pool.pool.usualDays": "usual days", "due.pool.usualDays": "usual days",
	"stop.pool.cleanLineAt": "clean line", "pool.pool.cleanLineAt": "clean line", "due.pool.cleanLineAt": "clean line",
	"lap.equipment": "equipment", "list.equipment": "equipment", "stop.pool.equipment": "equipment",
	"pool.pool.equipment": "equipment", "due.pool.equipment": "equipment",
	"stop.pool.gallons": "gallons", "pool.pool.gallons": "gallons", "due.pool.gallons": "gallons",
	"about.gallons":       "gallons",
	"stop.pad.kgalPerDay": "filtered a day", "pool.pad.kgalPerDay": "filtered a day",
	"stop.pad.limit": "limit", "pool.pad.limit": "limit",
	"stop.open": "left open", "pool.open": "left open", "list.open": "left open",
	"stop.phone": "phone", "pool.phone": "phone", "about.customer.phone": "phone",
	"stop.holdUntil": "hold", "pool.holdUntil": "hold",
	"lap.street": "street", "list.street": "street", "stop.pool.street": "street", "pool.pool.street": "street",
	"due.pool.street": "street", "week.street": "street",
}

// walk collects the figures of an answer.
func (o *told) walk(pool, path string, v any) {
	switch v := v.(type) {
	case map[string]any:
		for k, x := range v {
			o.walk(pool, path+"."+k, x)
		}
	case []any:
		for i, x := range v {
			o.walk(pool, fmt.Sprintf("%s[%d]", path, i), x)
		}
	default:
		q, ok := quantities[path]
		if o.met[path] = o.met[path] || ok; ok && v != nil && v != "" {
			o.add(pool, q, shown(q, v, o.zone), path)
		}
	}
}

// shown is a figure as a page writes it: chances and loads in whole percent, days in tenths, moments to the minute.
func shown(quantity string, v any, zone *time.Location) string {
	switch v := v.(type) {
	case float64:
		switch quantity {
		case "load":
			return fmt.Sprintf("%.0f %%", 100*max(0, v))
		case "days left":
			if v < 0 {
				return "later"
			}
			return fmt.Sprintf("%.1f", v)
		}
		return fmt.Sprintf("%.4g", v)
	case string:
		if at, err := time.Parse(time.RFC3339, v); err == nil {
			if strings.Contains(quantity, "visit") {
				return at.In(zone).Format(time.DateOnly) // a day that is ahead has no minute yet
			}
			return at.UTC().Truncate(time.Minute).String()
		}
		return v
	}
	return fmt.Sprint(v)
}

// No two places tell one quantity of one pool differently (stop.md, One source for a figure): the answers behind the
// lap, the week, the lists, the record, due work, water paths and every stop of the day, of all pools of the town.
func TestOneFigureIsToldAlikeEverywhere(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	zone, err := time.LoadLocation(demo.Zone)
	require.NoError(t, err)
	all := told{zone, map[string]map[string][]string{}, map[string]bool{}}
	var people []struct{ ID string }
	desk.get("/api/v1/technicians", &people)
	require.NotEmpty(t, people)
	as := func(out any) (v any) {
		text, err := json.Marshal(out)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(text, &v))
		return v
	}
	for _, who := range people {
		var lap route.LapView
		if desk.do("GET", "/api/v1/lap?technician="+who.ID, nil, &lap) == http.StatusNotFound {
			continue // not out today
		}
		for _, st := range lap.Stops {
			if st.State == "done" {
				continue // it tells what was found, not what is expected
			}
			all.walk(st.PoolID, "lap", as(st))
			var stop map[string]any
			desk.get("/api/v1/stops/"+st.ID, &stop)
			all.walk(st.PoolID, "stop", stop)
		}
	}
	for _, line := range desk.pools() {
		all.walk(line.ID, "list", as(line))
		for path, name := range map[string]string{"": "pool", "/due": "due", "/about": "about"} {
			var view any
			desk.get("/api/v1/pools/"+line.ID+path, &view)
			all.walk(line.ID, name, view)
		}
	}
	for _, line := range desk.pools() {
		if line.Load == nil {
			continue // its water is shown with a clean filter
		}
		var paths any
		ask := map[string]any{"rpm": 2400, "setting": "filter", "handles": map[string]any{}}
		if desk.do("POST", "/api/v1/pools/"+line.ID+"/paths", ask, &paths) == http.StatusOK {
			all.walk(line.ID, "paths", paths)
		}
	}
	var week route.WeekView
	desk.get("/api/v1/week", &week)
	for _, d := range week.Days {
		for _, st := range d.Stops {
			if d.Date == week.From {
				all.walk(st.PoolID, "week", as(st))
			}
		}
	}
	streets := map[string]bool{}
	for _, p := range desk.pools() {
		streets[p.Street] = true
	}
	for _, p := range desk.parts() {
		assert.True(t, streets[p.Street], "a part is at a pool that the list has: %s", p.Street)
	}
	compared := 0
	for _, key := range slices.Sorted(maps.Keys(all.figures)) {
		places := 0
		var say []string
		for value, at := range all.figures[key] {
			places += len(at)
			say = append(say, fmt.Sprintf("%q by %s", value, strings.Join(at, ", ")))
		}
		if places > 1 {
			compared += places
		}
		assert.Len(t, all.figures[key], 1, "%s: %s", key, strings.Join(say, "; "))
	}
	for path := range quantities {
		assert.True(t, all.met[path], "%s: no answer has it any more", path)
	}
	t.Logf("%d figures compared", compared)
	assert.Greater(t, compared, 500)
}
