package api

import (
	"net/http"
	"slices"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/equipment"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/demo/demotest"
)

func TestAPartsLifeIsKept(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	var before, after record.PoolRecordView
	tech.get("/api/v1/pools/"+w.pool, &before)
	at := slices.IndexFunc(before.Parts, func(p equipment.Part) bool { return p.Kind == "sand" })
	require.GreaterOrEqual(t, at, 0)
	old := before.Parts[at]
	change := map[string]any{
		"id":    uuid.NewString(),
		"act":   "replace",
		"part":  old.ID,
		"on":    demotest.On("2026-11-20"),
		"model": "No. 20 silica",
		"cost":  84.5,
		"note":  "channelled",
	}
	path := "/api/v1/pools/" + w.pool + "/parts"
	require.Equal(t, http.StatusOK, tech.do("POST", path, change, nil))
	require.Equal(t, http.StatusOK, tech.do("POST", path, change, &after), "sent again it is the same change")
	require.Len(t, after.Parts, len(before.Parts))
	require.Len(t, after.PartEvents, 1)
	put := slices.IndexFunc(after.Parts, func(p equipment.Part) bool { return p.ID == after.PartEvents[0].Part })
	require.GreaterOrEqual(t, put, 0, "the new part's own page")
	assert.Equal(t, "sand", after.Parts[put].Kind)
	assert.NotEqual(t, old.ID, after.Parts[put].ID)
	assert.Equal(
		t,
		equipment.PartEvent{
			ID:    after.PartEvents[0].ID,
			On:    demotest.On("2026-11-20"),
			Act:   "replace",
			Kind:  "sand",
			Name:  "Sand",
			Model: "No. 20 silica",
			Was:   old.Model,
			Note:  "channelled",
			Cost:  after.PartEvents[0].Cost,
			By:    "O. Brandt",
			Part:  after.Parts[put].ID,
			WasID: old.ID,
		},
		after.PartEvents[0],
	)
	assert.InDelta(t, 84.5, *after.PartEvents[0].Cost, 1e-9)
	at = slices.IndexFunc(after.Parts, func(p equipment.Part) bool { return p.Kind == "sand" })
	assert.Less(t, *after.Parts[at].AgeYears, 0.1)
	// Two at once: the second is told that the part is out.
	again := map[string]any{
		"id":   uuid.NewString(),
		"act":  "remove",
		"part": old.ID,
		"on":   demotest.On("2026-11-21"),
		"note": "gone",
	}
	assert.Equal(t, http.StatusConflict, w.as("owner").do("POST", path, again, nil))
	repair := map[string]any{
		"id":   uuid.NewString(),
		"act":  "repair",
		"part": after.Parts[0].ID,
		"on":   demotest.On("2026-11-22"),
		"note": "new seal",
	}
	require.Equal(t, http.StatusOK, tech.do("POST", path, repair, &after))
	assert.Equal(t, "repair", after.PartEvents[0].Act)
	require.Equal(
		t,
		http.StatusOK,
		tech.do(
			"POST",
			path,
			map[string]any{
				"id":            uuid.NewString(),
				"act":           "install",
				"kind":          "Timer",
				"model":         "Dial 2",
				"on":            demotest.On("2026-11-23"),
				"serial":        "A-7",
				"warrantyUntil": "2028-11-23",
			},
			&after,
		),
	)
	at = slices.IndexFunc(after.Parts, func(p equipment.Part) bool { return p.Kind == "timer" })
	require.GreaterOrEqual(t, at, 0)
	assert.Equal(t, "2028-11-23", after.Parts[at].WarrantyUntil)
	lines := tech.parts()
	assert.True(
		t,
		slices.ContainsFunc(
			lines,
			func(l equipment.PartLine) bool { return l.Serial == "A-7" && l.Street == after.Pool.Street },
		),
	)
	assert.False(
		t,
		slices.ContainsFunc(lines, func(l equipment.PartLine) bool { return l.ID == old.ID }),
		"what is out is in no list",
	)
	for i, l := range lines[1:] {
		assert.True(
			t,
			l.DueOn == "" || lines[i].DueOn != "" && lines[i].DueOn <= l.DueOn,
			"%s before %s",
			lines[i].DueOn,
			l.DueOn,
		)
	}
	// Due work counts the new part's life.
	var due route.DueView
	tech.get("/api/v1/pools/"+w.pool+"/due", &due)
	assert.False(t, slices.ContainsFunc(due.Items, func(d route.DueItem) bool { return d.Item == "part:Sand" }))
}

func TestAWrongPartChangeGetsASentence(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	part := w.part()
	for field, change := range map[string]map[string]any{
		"on":            {"act": "repair", "part": part, "on": demotest.On("2027-01-01"), "note": "x"},
		"part":          {"act": "repair", "part": uuid.NewString(), "on": demotest.On("2026-11-01"), "note": "x"},
		"model":         {"act": "replace", "part": part, "on": demotest.On("2026-11-01")},
		"note":          {"act": "remove", "part": part, "on": demotest.On("2026-11-01")},
		"kind":          {"act": "install", "model": "M", "on": demotest.On("2026-11-01")},
		"cost":          {"act": "replace", "part": part, "model": "M", "on": demotest.On("2026-11-01"), "cost": -3},
		"warrantyUntil": {"act": "install", "kind": "Timer", "model": "M", "on": demotest.On("2026-11-01"), "warrantyUntil": "soon"},
	} {
		change["id"] = uuid.NewString()
		var p problemBody
		assert.Equal(
			t,
			http.StatusUnprocessableEntity,
			tech.do("POST", "/api/v1/pools/"+w.pool+"/parts", change, &p),
			field,
		)
		assert.NotEmpty(t, p.at(field), field)
	}
	var p problemBody
	assert.Equal(
		t,
		http.StatusUnprocessableEntity,
		tech.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/parts",
			map[string]any{"id": uuid.NewString(), "act": "repair", "part": part, "on": "1990-01-01", "note": "x"},
			&p,
		),
	)
	assert.Contains(t, p.at("on"), "before this part went in")
}
