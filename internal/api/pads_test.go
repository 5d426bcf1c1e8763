package api

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/catalogue"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/internal/app/access"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/record"
	"fairlap/internal/app/visit"
	"fairlap/internal/demo/demotest"
)

const ownPump = "kind,model,type,top_rpm,least_rpm,curve_gpm_ft,idle_w,base_w,per_gpm_w\npump,Torrent 9,variable,3450,600,0:80 40:74 80:55,16,560,8.5\n"

func sketch() pad.Sketch {
	return pad.Sketch{
		Pump:     *catalogue.Find("Brisk 150 VS").Pump,
		Filter:   *catalogue.Find("Stanchion S24").Filter,
		PipeIn:   2,
		LengthFt: 40,
		Spa:      true,
		HasFlow:  true,
		HasPower: true,
	}
}

func newPool(street string) record.NewPool {
	document := sketch().Document()
	return record.NewPool{
		ID:       uuid.Must(uuid.NewV7()),
		Street:   street,
		Gallons:  15000,
		Surface:  "plaster",
		Document: &document,
	}
}

func walk() []judge.TypedReading {
	return []judge.TypedReading{
		{Speed: "1,500", Tank: "4", Flow: "27"},
		{Speed: "2400", Tank: "9,5", Flow: "44"},
		{Speed: "3450", Tank: "19"},
	}
}

func newLine() padwork.NewCleanLine {
	return padwork.NewCleanLine{
		ID:       uuid.Must(uuid.NewV7()),
		TakenAt:  demotest.Now(),
		Note:     "after backwash",
		Readings: walk(),
	}
}

func asText(v any) string {
	b, _ := json.Marshal(v)
	return string(b)
}

func TestAPoolIsTakenOnOnceAndIsTheTechniciansOwn(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	n := newPool("7 Sedge Row")
	var first, again record.PoolRecordView
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/pools", n, &first))
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/pools", n, &again), "sent twice is one pool")
	assert.Equal(t, first.Pool.ID, again.Pool.ID)
	assert.Nil(t, first.Pool.CleanLineAt)
	pools := c.pools()
	found := 0
	for _, p := range pools {
		if p.Street == "7 Sedge Row" {
			found++
		}
	}
	assert.Equal(t, 1, found)
	var refused problemBody
	same := newPool("7 Sedge Row")
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", "/api/v1/pools", same, &refused))
	assert.Contains(t, refused.at("which"), "already")
	same.Which, same.Town = "back pool", "Ocotillo Flats"
	var second record.PoolRecordView
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/pools", same, &second), "a street may hold two")
	assert.Equal(t, "7 Sedge Row, back pool", second.Pool.Street)
	assert.Equal(t, "Ocotillo Flats", second.Pool.Town)
	var hits access.Page[record.PoolLine]
	c.get("/api/v1/pools?find=ocotillo", &hits)
	require.Len(t, hits.Items, 1, "found by its town")
	assert.Equal(t, "7 Sedge Row, back pool", hits.Items[0].Street)
	bad := newPool(" ")
	bad.Gallons, bad.Document.Suction[0].BoreIn, bad.Document.Pump.Curve[2].Ft = 3, 0, 200
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", "/api/v1/pools", bad, &refused))
	assert.Contains(t, refused.at("street"), "street")
	assert.Contains(t, refused.at("gallons"), "between")
	assert.Equal(t, "Must be between 0.5 and 8.", refused.at("document.suction[0].boreIn"))
	assert.Contains(t, refused.at("document.pump.curve"), "rises")
}

func TestAPadIsRevisedNeverOverwritten(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	path := "/api/v1/pools/" + w.pool + "/pad"
	var was, now padwork.PadOnRecord
	c.get(path, &was)
	doc := was.Document
	doc.Filter.AreaFt2 = 4.91
	ch := padwork.PadChange{BasedOn: was.Revision, Reason: "description", Note: "read the label", Document: doc}
	require.Equal(t, http.StatusOK, c.do("PUT", path, ch, &now))
	assert.Equal(t, was.Revision+1, now.Revision)
	assert.Equal(t, []pad.Change{{Path: "filter.areaFt2", Was: "3.14", Is: "4.91"}}, now.Revisions[0].Changes)
	assert.Equal(t, "read the label", say(now.Revisions[0].Note))
	var refused problemBody
	require.Equal(t, http.StatusConflict, c.do("PUT", path, ch, &refused), "based on what is no longer so")
	assert.Contains(t, string(refused.Errors[0].Value), "4.91", "both versions are there to compare")
	require.Equal(
		t,
		http.StatusOK,
		c.do("PUT", path, padwork.PadChange{BasedOn: now.Revision, Reason: "description", Document: doc}, &now),
	)
	assert.Equal(t, was.Revision+1, now.Revision, "nothing changed is no revision")

	// Mended words keep the clean line; work on the pipes ends it.
	var pool record.PoolRecordView
	c.get("/api/v1/pools/"+w.pool, &pool)
	require.NotNil(t, pool.Pool.CleanLineAt)
	doc.ReturnTrunk.LengthFt += 30
	require.Equal(
		t,
		http.StatusOK,
		c.do("PUT", path, padwork.PadChange{BasedOn: now.Revision, Reason: "work", Document: doc}, &now),
	)
	c.get("/api/v1/pools/"+w.pool, &pool)
	assert.Nil(t, pool.Pool.CleanLineAt)
	var lines []padwork.CleanLineView
	c.get("/api/v1/pools/"+w.pool+"/clean-lines", &lines)
	require.Len(t, lines, 1, "the old one stays on record")
	assert.False(t, lines[0].InForce)
}

func TestPathsAndLimitsOfAPool(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	n := newPool("8 Sedge Row")
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/pools", n, nil))
	base := "/api/v1/pools/" + n.ID.String()
	var v judge.PathsView
	ask := padwork.PathsAsk{RPM: 2400, Setting: "filter", Handles: map[string]float64{"suction-valve": 0}}
	require.Equal(t, http.StatusOK, c.do("POST", base+"/paths", ask, &v))
	assert.Equal(t, "spa-drains", v.Hazards[0].ID)
	assert.Greater(t, v.MinutesToEmpty, 3.0)
	assert.Greater(t, v.FlowSD, 0.5, "a bare sketch says how unsure it is")
	var refused problemBody
	ask.Handles = map[string]float64{"garden-gate": 1}
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", base+"/paths", ask, &refused))
	assert.Contains(t, refused.at("handles.garden-gate"), "no valve")
	var limits judge.LimitsView
	c.get(base+"/limits", &limits)
	require.NotEmpty(t, limits.Windows)
	require.NotEmpty(t, limits.Limits)
	assert.Len(t, limits.Limits[0].At, len(limits.Speeds))
}

func TestACleanLineIsTriedKeptOnceAndFitted(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	n := newPool("9 Sedge Row")
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/pools", n, nil))
	base := "/api/v1/pools/" + n.ID.String()
	var fit padwork.WalkFit
	require.Equal(
		t,
		http.StatusOK,
		c.do("POST", base+"/walk", map[string]any{"readings": []judge.TypedReading{}}, &fit),
	)
	require.NotNil(t, fit.Next, "before any reading it says which to take first")
	require.Equal(
		t,
		http.StatusOK,
		c.do("POST", base+"/walk", map[string]any{"readings": append(walk(), judge.TypedReading{Speed: "3000"})}, &fit),
	)
	assert.Equal(t, 3, fit.Speeds)
	assert.Len(t, fit.Points, 5)
	for _, p := range fit.Pinned {
		assert.LessOrEqual(t, p.After, p.Before+1e-9, p.ID)
	}
	var refused problemBody
	line := newLine()
	line.Readings = line.Readings[:2]
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", base+"/clean-lines", line, &refused))
	assert.Contains(t, refused.at("readings"), "3 speeds. There are 2")
	line = newLine()
	line.Readings[1].Tank = "95 psi 3"
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", base+"/clean-lines", line, &refused))
	assert.NotEmpty(t, refused.at("readings[1].tank"))
	for field, row := range map[string]judge.TypedReading{"readings[0].speed": {Speed: "0", Tank: "3"},
		"readings[0].setting": {Setting: "recirculate", Speed: "2400", Tank: "9"}} {
		line = newLine()
		line.Readings[0] = row
		require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", base+"/clean-lines", line, &refused), "%+v", row)
		assert.Contains(t, refused.at(field), "A clean line is walked")
	}
	line = newLine()
	line.Readings[0].Tank, line.Readings[2].Tank = line.Readings[2].Tank, line.Readings[0].Tank
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", base+"/clean-lines", line, &refused))
	assert.Contains(t, fmt.Sprint(refused.Errors), "can't rise as the speed falls")
	line = newLine()
	line.TakenAt = demotest.Now().Add(48 * time.Hour)
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", base+"/clean-lines", line, &refused))
	line = newLine()
	var kept padwork.CleanLineView
	require.Equal(t, http.StatusOK, c.do("POST", base+"/clean-lines", line, &kept))
	require.Equal(t, http.StatusOK, c.do("POST", base+"/clean-lines", line, &kept), "sent twice is one")
	line.Note = "another"
	require.Equal(t, http.StatusConflict, c.do("POST", base+"/clean-lines", line, nil))
	var lines []padwork.CleanLineView
	c.get(base+"/clean-lines", &lines)
	require.Len(t, lines, 1)
	assert.True(t, lines[0].InForce)
	off := base + "/clean-lines/" + lines[0].ID + "/withdrawal"
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", off, map[string]any{"reason": " "}, &refused))
	assert.Contains(t, refused.at("reason"), "Say why")
	for range 2 { // once is once
		require.Equal(t, http.StatusNoContent, c.do("POST", off, map[string]any{"reason": "the gauge was stuck"}, nil))
	}
	require.Equal(t, http.StatusNotFound, c.do("POST", base+"/clean-lines/"+w.pool+"/withdrawal",
		map[string]any{"reason": "x"}, nil))
	c.get(base+"/clean-lines", &lines)
	assert.False(t, lines[0].InForce)
	require.NotNil(t, lines[0].Withdrawn)
	assert.Equal(t, "the gauge was stuck", lines[0].Withdrawn.Reason)
}

func TestPadFilesGoOutAndComeBack(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	var pad0 padwork.PadOnRecord
	c.get("/api/v1/pools/"+w.pool+"/pad", &pad0)
	for _, format := range []string{"json", "inp"} {
		text := w.text(c, "/api/v1/pools/"+w.pool+"/pad/file?format="+format)
		var back pad.Document
		require.Equal(
			t,
			http.StatusOK,
			c.do("POST", "/api/v1/pads/read", map[string]string{"text": text}, &back),
			format,
		)
		assert.Equal(t, asText(pad0.Document), asText(back), format)
	}
	csv := w.text(c, "/api/v1/pools/"+w.pool+"/pad/file?format=csv")
	var rows []judge.TypedReading
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/walks/read", map[string]string{"text": csv}, &rows))
	assert.Len(t, rows, 3)
	var refused problemBody
	for _, text := range []string{"", "{", "[PIPES]\n", `{"pump":{"topRpm":"fast"}}`} {
		assert.Equal(
			t,
			http.StatusUnprocessableEntity,
			c.do("POST", "/api/v1/pads/read", map[string]string{"text": text}, &refused),
			text,
		)
	}
	assert.Contains(t, refused.at("text.pump.topRpm"), "number")
	require.Equal(
		t,
		http.StatusUnprocessableEntity,
		c.do("POST", "/api/v1/walks/read", map[string]string{"text": "rpm\nfast\n"}, &refused),
	)
	assert.Contains(t, refused.at("text.line 2, rpm"), "not a number")
}

func TestTheDeskImportsItsOwnCatalogueWhole(t *testing.T) {
	w := serve(t)
	assert.Equal(
		t,
		http.StatusForbidden,
		w.as("technician").do("POST", "/api/v1/catalogue", map[string]string{"text": ownPump}, nil),
	)
	c := w.as("office")
	var items []padwork.CatalogueItem
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/catalogue", map[string]string{"text": ownPump}, &items))
	assert.Equal(t, "Torrent 9", items[0].Model)
	assert.True(t, items[0].Own)
	before := len(items)
	var refused problemBody
	require.Equal(
		t,
		http.StatusUnprocessableEntity,
		c.do(
			"POST",
			"/api/v1/catalogue",
			map[string]string{"text": ownPump + "pump,Torrent 10,variable,1,1,0:1,1,1,1\n"},
			&refused,
		),
	)
	c.get("/api/v1/catalogue", &items)
	assert.Len(t, items, before, "nothing of a refused file is taken")
	text := w.text(c, "/api/v1/catalogue/file")
	assert.Contains(t, text, "Torrent 9")
	require.Equal(
		t,
		http.StatusOK,
		c.do("POST", "/api/v1/catalogue", map[string]string{"text": text}, nil),
		"what goes out comes back",
	)
}

// text downloads a file.
func (w *world) text(c *client, path string) string {
	res, err := c.http.Get(w.server.URL + path)
	require.NoError(w.t, err)
	defer res.Body.Close()
	require.Equal(w.t, http.StatusOK, res.StatusCode)
	assert.True(w.t, strings.HasPrefix(res.Header.Get("Content-Disposition"), "attachment"))
	b, err := io.ReadAll(res.Body)
	require.NoError(w.t, err)
	return string(b)
}

func TestTheTrackRecordCountsWhatWasSettled(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	var before, after visit.TrackRecord
	c.get("/api/v1/track-record", &before)
	d := draft(w.stop)
	d.Confirmed = "filter-loaded"
	require.Equal(t, http.StatusOK, c.do("POST", "/api/v1/visits", d, nil))
	c.get("/api/v1/track-record", &after)
	assert.Equal(t, before.Settled+1, after.Settled)
	found := false
	for _, f := range after.Faults {
		if f.ID == "filter-loaded" {
			found = true
			assert.LessOrEqual(t, f.First, f.Three)
			assert.LessOrEqual(t, f.Three, f.Times)
		}
		assert.NotEmpty(t, f.Name, f.ID)
	}
	assert.True(t, found)
	for _, b := range after.Bins {
		assert.Positive(t, b.N)
	}
}
