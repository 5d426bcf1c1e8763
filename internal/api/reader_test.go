package api

import (
	"net/http"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/core/words"
	"fairlap/internal/app/office"
)

// joined are an answer's sentences, which a reader has as words.
func joined(ms []words.Message, sep string) string {
	out := make([]string, len(ms))
	for i, m := range ms {
		out[i] = string(m)
	}
	return strings.Join(out, sep)
}

// keyLike is what a message looks like that nobody put into words.
var keyLike = regexp.MustCompile(
	`"(?:api|app|casefile|catalogue|diagnosis|fault|figure|inspection|lap|pad|paper|part|pool|procedure|sheet|sign|speedplan|upkeep|words)\.[a-z0-9-]+[.?a-zA-Z0-9-]*`,
)

// Two people read one visit, each in their own units: a technician in metric, the desk as
// the company does. Figures keep the unit that their names say, and what somebody typed
// stays as typed, whatever it looks like.
func TestEachReadsInTheirOwnUnits(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	d := draft(w.stop)
	d.Note = "28 psi, 50 ft of hose; <b>fault.air-lid.name</b>"
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", d, nil))
	var us, metric judge.Verdict
	require.Equal(t, 200, c.do("POST", "/api/v1/stops/"+w.stop+"/diagnosis", d.Findings, &us))
	var me office.Me
	require.Equal(t, 200, c.do("PUT", "/api/v1/me/reads", office.Reads{Units: "metric"}, &me))
	assert.Equal(t, "metric", me.Units)
	require.Equal(t, 200, c.do("POST", "/api/v1/stops/"+w.stop+"/diagnosis", d.Findings, &metric))
	assert.InDelta(t, us.Readings[0].Meters[0].Clean, metric.Readings[0].Meters[0].Clean, 1e-9)
	shown := func(c *client) string {
		status, _, text := c.fetch("/api/v1/visits/" + d.ID.String())
		require.Equal(t, 200, status)
		assert.Contains(t, string(text), "28 psi, 50 ft of hose; <b>fault.air-lid.name</b>", "typed is as typed")
		assert.Empty(t, keyLike.FindString(strings.ReplaceAll(string(text), "fault.air-lid.name", "")))
		return strings.ReplaceAll(string(text), "28 psi", "")
	}
	mine, desk := shown(c), shown(w.as("office"))
	assert.Contains(t, mine, " bar")
	assert.NotContains(t, mine, " psi")
	assert.Contains(t, desk, " psi")
	assert.NotContains(t, desk, " bar ")
	var p problemBody
	bad := d.Findings
	bad.Readings = []judge.TypedReading{{Speed: "2400", Tank: "400"}}
	require.Equal(t, http.StatusUnprocessableEntity, c.do("POST", "/api/v1/stops/"+w.stop+"/diagnosis", bad, &p))
	assert.Contains(t, p.at("readings[0].tank"), " bar is not believable")
	assert.Equal(t, 422, c.do("PUT", "/api/v1/me/reads", map[string]any{"lang": "tlh", "units": ""}, nil))
}

// A visit from before messages is shown as it was written; a message of a newer server
// that this one does not know is said to be one.
func TestOldAndNewerWordsAreShown(t *testing.T) {
	w := serve(t)
	c := w.as("technician")
	d := draft(w.stop)
	require.Equal(t, 200, c.do("POST", "/api/v1/visits", d, nil))
	old := `{"engineVersion":"3.9","says":"Sound: the filter is at 12 % of its limit. Leave it.","advice":{"says":"app.from-the-future?x=z:9","reason":"a reason of old, 8 psi"},"suspects":[]}`
	_, err := w.town.Store.Pool.Exec(t.Context(), "alter table visits disable trigger user")
	require.NoError(t, err)
	_, err = w.town.Store.Pool.Exec(t.Context(), "update visits set diagnosis = $1 where id = $2", old, d.ID)
	require.NoError(t, err)
	require.Equal(t, 200, c.do("PUT", "/api/v1/me/reads", office.Reads{Units: "metric"}, nil))
	_, _, text := c.fetch("/api/v1/visits/" + d.ID.String())
	assert.Contains(t, string(text), "Sound: the filter is at 12 % of its limit. Leave it.")
	assert.Contains(t, string(text), "a reason of old, 8 psi", "nothing recorded is changed")
	assert.Contains(t, string(text), "A newer version of Fair Lap wrote this (app.from-the-future)")
}
