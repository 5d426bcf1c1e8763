package api

import (
	"cmp"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/office"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/demo/demotest"
)

// Pages of a list hold each line once, in one order, and say how many there are.
func TestListsComeInPages(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	all := desk.pools()
	require.Greater(t, len(all), 10)
	for _, sort := range []string{"pool", "-pool", "load", "-load", "days", "-days", "visited", "technician"} {
		var seen []record.PoolLine
		for page := 1; ; page++ {
			var got access.Page[record.PoolLine]
			desk.get("/api/v1/pools?size=7&sort="+sort+"&page="+strconv.Itoa(page), &got)
			assert.Equal(t, len(all), got.Total)
			if len(got.Items) == 0 {
				break
			}
			seen = append(seen, got.Items...)
		}
		require.Len(t, seen, len(all), sort)
		ids := map[string]bool{}
		for _, l := range seen {
			ids[l.ID] = true
			assert.NotEmpty(t, l.Equipment, "told for the lines that are shown")
		}
		assert.Len(t, ids, len(all), "%s: each once", sort)
		switch by, down := strings.CutPrefix(sort, "-"); by {
		case "load", "days":
			of := func(l record.PoolLine) *float64 { return l.Load }
			if by == "days" {
				of = func(l record.PoolLine) *float64 { return l.DaysLeft }
			}
			last := slices.IndexFunc(seen, func(l record.PoolLine) bool { return of(l) == nil })
			for _, l := range seen[max(last, 0):] {
				assert.True(t, last < 0 || of(l) == nil, "what is not known comes last, whichever way")
			}
			assert.True(t, slices.IsSortedFunc(seen, func(a, b record.PoolLine) int {
				x, y := of(a), of(b)
				switch {
				case x == nil || y == nil:
					return 0
				case down:
					return cmp.Compare(*y, *x)
				}
				return cmp.Compare(*x, *y)
			}), sort)
		case "pool":
			assert.True(
				t,
				slices.IsSortedFunc(
					seen,
					func(a, b record.PoolLine) int {
						if down {
							a, b = b, a
						}
						return byAddress(t, a.Street, b.Street)
					},
				),
				"along each street",
			)
		}
	}
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("GET", "/api/v1/pools?page=0", nil, nil))
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("GET", "/api/v1/parts?sort=colour", nil, nil))
}

// byAddress compares addresses like "14 Quince Court" along each street.
func byAddress(t *testing.T, a, b string) int {
	t.Helper()
	split := func(address string) (int, string) {
		number, street, _ := strings.Cut(address, " ")
		n, err := strconv.Atoi(number)
		require.NoError(t, err, address)
		return n, street
	}
	n, street := split(a)
	m, other := split(b)
	return cmp.Or(strings.Compare(street, other), cmp.Compare(n, m))
}

// A list of parts is found by what a kind is called in any language, sorted, paged and
// summed by the database as the program would.
func TestPartsAreFoundSortedAndSummed(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	whole := desk.parts()
	late := 0
	for i, p := range whole {
		if p.DueOn != "" && p.DueOn <= demotest.Now().Format(time.DateOnly) {
			late++
		}
		if i > 0 && p.DueOn != "" {
			assert.LessOrEqual(t, whole[i-1].DueOn, p.DueOn, "as a life ends in the program's own count")
		}
	}
	var seen []string
	for page := 1; page <= (len(whole)+8)/9; page++ {
		var got equipment.PartsPage
		desk.get("/api/v1/parts?size=9&page="+strconv.Itoa(page), &got)
		assert.Equal(t, late, got.Late, "of all, not of the page")
		for _, p := range got.Items {
			seen = append(seen, p.ID)
		}
	}
	require.Len(t, seen, len(whole))
	for i, p := range whole {
		assert.Equal(t, p.ID, seen[i])
	}
	for _, find := range []string{"cartridge", "cartucho", whole[0].Street, whole[0].Model} {
		var got equipment.PartsPage
		desk.get("/api/v1/parts?find="+url.QueryEscape(find), &got)
		assert.Positive(t, got.Total, find)
		assert.Less(t, got.Total, len(whole), find)
	}
	var down equipment.PartsPage
	desk.get("/api/v1/parts?size=100&sort=-pool", &down)
	assert.True(
		t,
		slices.IsSortedFunc(
			down.Items,
			func(a, b equipment.PartLine) int { return byAddress(t, b.Street, a.Street) },
		),
	)
}

// A list of pools is narrowed by whose, by the day of the visits and by how they stand; each
// narrowing holds of every line, and those that it leaves out are the others.
func TestPoolsAreNarrowed(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	ask := func(query string) []record.PoolLine {
		var page access.Page[record.PoolLine]
		desk.get("/api/v1/pools?size=200&"+query, &page)
		require.Len(t, page.Items, page.Total, query)
		return page.Items
	}
	all := ask("")
	var people []company.Person
	desk.get("/api/v1/technicians", &people)
	sum := 0
	for _, p := range people {
		of := ask("technician=" + p.ID)
		sum += len(of)
		for _, l := range of {
			assert.Equal(t, p.Name, l.Technician)
		}
	}
	assert.Equal(t, len(all), sum, "every pool of the town is somebody's")
	byDay := 0
	for day := range 7 {
		byDay += len(ask("weekday=" + strconv.Itoa(day)))
	}
	assert.Equal(t, len(all), byDay, "every pool has its day")
	over := ask("only=over")
	require.NotEmpty(t, over)
	for _, l := range over {
		require.NotNil(t, l.Load)
		assert.GreaterOrEqual(t, *l.Load, 1.0)
	}
	open := ask("only=open")
	require.NotEmpty(t, open)
	for _, l := range open {
		assert.NotEmpty(t, l.Open, l.Street)
	}
	assert.Less(t, len(over)+len(open), len(all))
	assert.Empty(t, ask("only=over&find=nowhere"))
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("GET", "/api/v1/pools?only=lost", nil, nil))
}

// Parts put in since a day are those whose day is not before it.
func TestPartsPutInSinceADay(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	since := demotest.Now().AddDate(0, -6, 0).Format(time.DateOnly)
	want := 0
	for _, p := range desk.parts() {
		if p.InstalledOn >= since {
			want++
		}
	}
	require.Positive(t, want)
	var got equipment.PartsPage
	desk.get("/api/v1/parts?size=200&since="+since, &got)
	assert.Equal(t, want, got.Total)
	for _, p := range got.Items {
		assert.GreaterOrEqual(t, p.InstalledOn, since, p.Name)
	}
}

// The trail tells changes of one kind, or by one person.
func TestTheTrailIsNarrowed(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	w.customer()
	require.Equal(t, 200, desk.do("PUT", "/api/v1/pools/"+w.pool+"/about", about("15 Quince Court", 1), nil))
	var all, customers, nobody office.TrailPage
	desk.get("/api/v1/audit", &all)
	desk.get("/api/v1/audit?act=customer", &customers)
	require.NotEmpty(t, customers.Entries)
	assert.Less(t, len(customers.Entries), len(all.Entries))
	for _, e := range customers.Entries {
		assert.Equal(t, "customer", e.Act)
	}
	desk.get("/api/v1/audit?by="+w.stop, &nobody)
	assert.Empty(t, nobody.Entries, "by nobody of that id")
}

// The map of a day has each stop where its pool is, in order, and the streets around them.
func TestADayHasAMap(t *testing.T) {
	w := serve(t)
	var m route.LapMap
	w.as("technician").get("/api/v1/laps/"+w.lap+"/map", &m)
	require.Len(t, m.Stops, len(w.stops))
	for i, s := range m.Stops {
		assert.Equal(t, w.stops[i], s.ID)
		assert.Equal(t, i+1, s.Position)
	}
	require.NotEmpty(t, m.Streets)
	assert.Empty(t, m.Tiles, "nobody named a server of tiles")
	var p record.PoolAbout
	w.as("office").get("/api/v1/pools/"+w.pool+"/about", &p)
	require.NotNil(t, p.Lat)
	assert.InDelta(t, *p.Lat, m.Stops[0].Lat, 1e-9)
	assert.Equal(t, http.StatusForbidden, w.other().do("GET", "/api/v1/laps/"+w.lap+"/map", nil, nil))
}

// A page asks for several lists at once: none of them is told what was worked out long ago.
func TestListsAskedForAtOnceAreAllOfToday(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	w.sql("update standings set basis = 'of long ago'")
	w.sql("update pool_sorts set load = 0, over_at = now() - interval '9 years'")
	var wait sync.WaitGroup
	totals := make([]int, 6)
	for i := range totals {
		wait.Go(func() {
			var page access.Page[record.PoolLine]
			desk.get("/api/v1/pools?only=over&sort=-load", &page)
			totals[i] = page.Total
		})
	}
	wait.Wait()
	assert.Len(t, slices.Compact(totals), 1)
	assert.Less(t, totals[0], 10)
}
