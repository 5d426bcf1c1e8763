package api

import (
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/access"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/record"
	"fairlap/internal/demo/demotest"
)

// Pages of a list hold each line once, in one order, and say how many there are.
func TestListsComeInPages(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	all := desk.pools()
	require.Greater(t, len(all), 10)
	for _, sort := range []string{"pool", "-pool", "load", "-load", "days", "visited", "technician"} {
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
		switch sort {
		case "load", "-load":
			last := slices.IndexFunc(seen, func(l record.PoolLine) bool { return l.Load == nil })
			for _, l := range seen[max(last, 0):] {
				assert.True(t, last < 0 || l.Load == nil, "what is not known comes last, whichever way")
			}
			assert.True(t, slices.IsSortedFunc(seen, func(a, b record.PoolLine) int {
				if a.Load == nil || b.Load == nil || *a.Load == *b.Load {
					return 0
				}
				if (*a.Load < *b.Load) == (sort == "load") {
					return -1
				}
				return 1
			}), sort)
		case "-pool":
			assert.True(
				t,
				slices.IsSortedFunc(
					seen,
					func(a, b record.PoolLine) int { return strings.Compare(b.Street, a.Street) },
				),
			)
		}
	}
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("GET", "/api/v1/pools?page=0", nil, nil))
	assert.Equal(t, http.StatusUnprocessableEntity, desk.do("GET", "/api/v1/parts?sort=colour", nil, nil))
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
			func(a, b equipment.PartLine) int { return strings.Compare(b.Street, a.Street) },
		),
	)
}
