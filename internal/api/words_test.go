package api

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
)

// A company that reads metric units gets its sentences in them; figures keep the unit
// that their names say, and what somebody typed stays as typed.
func TestSentencesComeInTheCompanysUnits(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	d := draft(w.stop)
	d.Note = "needle at 14 psi"
	require.Equal(t, 200, c.do("POST", "/api/visits", d, nil))
	var us, metric app.Verdict
	require.Equal(t, 200, c.do("POST", "/api/stops/"+w.stop+"/diagnosis", d.Findings, &us))
	set := office(1)
	set["units"] = "metric"
	require.Equal(t, 200, w.as("office").do("PUT", "/api/office", set, nil))
	require.Equal(t, 200, c.do("POST", "/api/stops/"+w.stop+"/diagnosis", d.Findings, &metric))
	_, _, text := c.fetch("/api/visits/" + d.ID.String())
	assert.Contains(t, string(text), "needle at 14 psi")
	assert.InDelta(t, us.Readings[0].Meters[0].Clean, metric.Readings[0].Meters[0].Clean, 1e-9)
	var p problemBody
	bad := d.Findings
	bad.Readings = []app.TypedReading{{Speed: "2400", Tank: "400"}}
	require.Equal(t, 422, c.do("POST", "/api/stops/"+w.stop+"/diagnosis", bad, &p))
	assert.Contains(t, p.at("readings[0].tank"), " bar is not believable")
	var me app.Me
	var out struct{ Me app.Me }
	c.get("/api/me", &out)
	me = out.Me
	assert.Equal(t, "metric", me.Units)
}
