package api

import (
	"encoding/json"
	"fmt"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/internal/app/inspect"
	"fairlap/internal/app/office"
	"fairlap/internal/app/photo"
	"fairlap/internal/app/record"
	"fairlap/internal/app/route"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/paper"
)

// inspection is one left open at the pool.
func (w *world) inspection() inspect.InspectionView {
	var v inspect.InspectionView
	status := w.as("technician").
		do("POST", "/api/v1/pools/"+w.pool+"/inspections", map[string]string{"id": uuid.Must(uuid.NewV7()).String()}, &v)
	require.Less(w.t, status, 300)
	return v
}

func found(v *inspect.InspectionView) (items []string) {
	for _, f := range v.Findings {
		items = append(items, string(f.Item))
	}
	return items
}

func TestAnInspectionIsLeftAndTakenUpAndCarriesOver(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	v := w.inspection()
	require.Equal(t, 1, v.Version)
	save := func(v inspect.InspectionView, answers map[string]any, end bool, out any) int {
		return c.do(
			"PUT",
			"/api/v1/inspections/"+v.ID,
			map[string]any{"answers": answers, "version": v.Version, "close": end},
			out,
		)
	}
	answers := map[string]any{
		"straight-run": map[string]any{"value": 6},
		"label":        map[string]any{"value": 40},
		"drain-covers": map[string]any{"yes": true},
	}
	require.Equal(t, 200, save(v, answers, false, &v))
	again := w.inspection()
	assert.Equal(t, v.ID, again.ID, "the one left open is taken up")
	require.NotNil(t, again.Answers["straight-run"].Value)
	assert.Equal(t, 6.0, *again.Answers["straight-run"].Value)
	assert.Contains(t, found(&again), "straight-run")

	stale := v
	stale.Version = 1
	assert.Equal(t, 409, save(stale, answers, false, nil), "written over an older one")
	var p problemBody
	assert.Equal(t, 422, save(v, map[string]any{"gauge-rest": map[string]any{"value": 700}}, false, &p))
	assert.Contains(t, p.at("answers.gauge-rest"), "can't be right")

	answers["drain-covers"] = map[string]any{"yes": false, "note": "left one, a screw gone"}
	answers["rcd"] = map[string]any{"yes": false}
	answers["switch-arrow"] = map[string]any{"yes": false}
	require.Equal(t, 200, save(v, answers, true, &v))
	require.NotNil(t, v.ClosedAt)
	assert.Subset(t, found(&v), []string{"drain-covers", "straight-run", "rcd"})
	assert.Equal(t, 409, save(v, map[string]any{}, false, nil), "closed for good")

	_, _, pad := c.fetch("/api/v1/pools/" + w.pool + "/pad")
	var doc struct {
		Document struct {
			StraightIn float64 `json:"straightIn"`
			Filter     struct {
				LabelPsi float64 `json:"labelPsi"`
			} `json:"filter"`
		} `json:"document"`
	}
	require.NoError(t, json.Unmarshal(pad, &doc))
	assert.Equal(t, 6.0, doc.Document.StraightIn)
	assert.Equal(t, 40.0, doc.Document.Filter.LabelPsi)

	var due route.DueView
	c.get("/api/v1/pools/"+w.pool+"/due", &due)
	item := func(id string) (d *route.DueItem) {
		for i := range due.Items {
			if due.Items[i].Item == id {
				return &due.Items[i]
			}
		}
		return nil
	}
	require.NotNil(t, item("inspection:drain-covers"))
	assert.Contains(t, say(item("inspection:rcd").Reason), "licensed electrician")
	var bench visit.Bench
	c.get("/api/v1/stops/"+w.stop, &bench)
	assert.Contains(t, joined(bench.Notices, " "), "A suction cover is broken")
	var verdict judge.Verdict
	require.Equal(
		t,
		200,
		c.do(
			"POST",
			"/api/v1/stops/"+w.stop+"/diagnosis",
			judge.Findings{Readings: []judge.TypedReading{}, Signs: map[string]bool{}},
			&verdict,
		),
	)
	weak := ""
	for _, f := range verdict.Chronic {
		weak += string(f.Text)
	}
	assert.Contains(t, weak, "The flow switch is in backwards", "the diagnosis knows what stands wrong")
	require.Less(
		t,
		c.do(
			"POST",
			"/api/v1/pools/"+w.pool+"/due-marks",
			map[string]any{
				"id":     uuid.NewString(),
				"item":   "inspection:rcd",
				"act":    "cancel",
				"reason": "the owner's electrician came",
			},
			nil,
		),
		300,
	)
	due = route.DueView{}
	c.get("/api/v1/pools/"+w.pool+"/due", &due)
	assert.Nil(t, item("inspection:rcd"))

	var page paper.Page
	c.get("/api/v1/pools/"+w.pool+"/papers/inspection", &page)
	words, err := json.Marshal(page)
	require.NoError(t, err)
	assert.Contains(t, string(words), "left one, a screw gone")
	assert.Len(t, w.log("kind=inspection"), 1)

	next := w.inspection()
	require.NotNil(t, next.Before)
	assert.NotContains(t, sayAll(next.Before.Mended), "Drain covers intact and tight", "nobody has looked yet")
	require.Equal(t, 200, save(next, map[string]any{"drain-covers": map[string]any{"yes": true}}, false, &next))
	assert.Contains(t, sayAll(next.Before.Mended), "Drain covers intact and tight")
	assert.Equal(t, 403, w.other().do("GET", "/api/v1/inspections/"+next.ID, nil, nil), "another technician's pool")
}

// A picture goes with the thing that it shows into the report; a closed inspection takes
// none. The anode's year goes into the equipment; an older report stays to be read.
func TestPicturesAndPartsOfAnInspection(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	v := w.inspection()
	path := "/api/v1/pools/" + w.pool + "/photos?inspection=" + v.ID + "&photo="
	var shot photo.PhotoView
	require.Equal(t, 200, c.do("POST", path+uuid.NewString()+"&item=supports", picture(1400, 700), &shot))
	assert.Equal(t, "Pipes supported, none hanging", say(shot.Caption))
	var p problemBody
	assert.Equal(t, 422, c.do("POST", path+uuid.NewString()+"&item=moon", picture(60, 40), &p))
	assert.Contains(t, p.at("item"), "isn't on record")
	c.get("/api/v1/inspections/"+v.ID, &v)
	require.Len(t, v.Photos, 1)
	assert.Equal(t, "supports", v.Photos[0].Item)

	closed := func(v inspect.InspectionView, answers map[string]any) (out inspect.InspectionView) {
		require.Equal(
			t,
			200,
			c.do(
				"PUT",
				"/api/v1/inspections/"+v.ID,
				map[string]any{"answers": answers, "version": v.Version, "close": true},
				&out,
			),
		)
		return out
	}
	v = closed(v, map[string]any{"supports": map[string]any{"yes": false}, "anode-year": map[string]any{"value": 2019}})
	assert.Contains(t, found(&v), "anode-year")
	assert.Equal(t, 422, c.do("POST", path+uuid.NewString()+"&item=supports", picture(60, 40), &p))
	assert.Contains(t, p.at("inspection"), "closed")
	anodes := func() (on []string) {
		var r record.PoolRecordView
		c.get("/api/v1/pools/"+w.pool, &r)
		for _, e := range r.Parts {
			if e.Kind == "zinc-anode" {
				on = append(on, e.InstalledOn)
			}
		}
		return on
	}
	assert.Equal(t, []string{demotest.On("2025-07-01")}, anodes(), "what is on record is not made older")

	year := demotest.Now().Year()
	next := closed(w.inspection(), map[string]any{"anode-year": map[string]any{"value": year}})
	assert.Equal(t, []string{fmt.Sprintf("%d-01-01", year)}, anodes(), "a newer one has come in")
	assert.Contains(t, sayAll(next.Before.Mended), "Year the anode was fitted")

	read := func(of string) (page paper.Page) {
		c.get("/api/v1/pools/"+w.pool+"/papers/inspection"+of, &page)
		return page
	}
	pictures := func(page paper.Page) (n int) {
		for _, b := range page.Blocks {
			if b.Kind == paper.Picture {
				n++
				assert.NotEmpty(t, b.JPEG)
				assert.Contains(t, say(b.Text), "none hanging")
			}
		}
		return n
	}
	assert.Equal(t, 1, pictures(read("?of="+v.ID)), "the older one's own report")
	assert.Equal(t, 0, pictures(read("")), "the newest")
	status, kind, pdf := c.fetch("/api/v1/pools/" + w.pool + "/papers/inspection/pdf?of=" + v.ID)
	assert.Equal(t, 200, status)
	assert.Equal(t, "application/pdf", kind)
	assert.Greater(t, len(pdf), 4000)
}

// What a company holds an installation to is its choice.
func TestTheCompanyChoosesItsStraightRun(t *testing.T) {
	w := serve(t)
	v := w.inspection()
	assert.Equal(t, 10.0, v.Straight)
	desk := w.as("office")
	var set office.CompanyView
	desk.get("/api/v1/office", &set)
	set.StraightRun, set.CellClear = "code", true
	require.Equal(t, 200, desk.do("PUT", "/api/v1/office", set, &set))
	v = w.inspection()
	assert.Equal(t, 4.0, v.Straight)
	set.StraightRun = "none"
	assert.Equal(t, 422, desk.do("PUT", "/api/v1/office", set, nil))
}
