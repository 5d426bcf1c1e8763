package api

import (
	"encoding/json"
	"fairlap/internal/app/route"
	"fairlap/internal/app/work"
	"fairlap/internal/demo/demotest"
	"maps"
	"net/http"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Whatever a device makes under an id of its own is made once: the same again is the same, and
// other content under that id is refused as such, by every route that takes one.
func TestOneIDStandsForOneThing(t *testing.T) {
	w := serve(t)
	owner := w.as("owner")
	routes := w.routes()
	var may work.PoolWork
	var lap route.LapView
	w.as("technician").get("/api/v1/lap", &lap)
	fresh := lap.Stops[len(lap.Stops)-1].PoolID // no run is open there
	owner.get("/api/v1/pools/"+fresh+"/work", &may)
	procedure := ""
	for _, p := range may.Procedures {
		if p.ID != "leak-tests" && !p.Discharges && !p.Lifts && procedure == "" {
			procedure = string(p.ID)
		}
	}
	other := map[string]func(m map[string]any){
		"add-note": func(m map[string]any) { m["text"] = "Another text." },
		"mark-due": func(m map[string]any) {
			m["act"] = "snooze"
			m["until"] = demotest.On("2026-12-20") + "T00:00:00Z"
			m["reason"] = "later"
		},
		"move-visit":   func(m map[string]any) { m["to"] = demotest.On("2026-12-03") },
		"start-run":    func(m map[string]any) { m["procedure"] = procedure },
		"put-person":   func(m map[string]any) { m["name"] = "Somebody Else"; m["login"] = "else" },
		"put-customer": func(m map[string]any) { m["name"] = "Somebody Else" },
		"create-pool":  func(m map[string]any) { m["street"] = "Elsewhere 1" },
		"change-part":  func(m map[string]any) { m["note"] = "another note" },
		"save-visit":   func(m map[string]any) { m["note"] = "another note" },
	}
	for _, id := range slices.Sorted(maps.Keys(other)) {
		t.Run(id, func(t *testing.T) {
			r, ok := routes[id]
			require.True(t, ok)
			text, err := json.Marshal(r.body)
			require.NoError(t, err)
			var body map[string]any
			require.NoError(t, json.Unmarshal(text, &body))
			who := owner
			if id == "start-run" {
				r.path = "/api/v1/pools/" + fresh + "/runs"
			}
			if id == "save-visit" || id == "start-run" {
				who = w.as("technician")
			}
			made := who.do(r.method, r.path, body, nil)
			require.Less(t, made, http.StatusMultipleChoices, "made")
			assert.Equal(t, made, who.do(r.method, r.path, body, nil), "the same again")
			other[id](body)
			assert.Equal(t, http.StatusConflict, who.do(r.method, r.path, body, nil), "other content under its id")
		})
	}
}
