package api

import (
	"bytes"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"slices"
	"testing"
	"time"

	"fairlap/internal/app"
	"fairlap/internal/demo/demotest"
)

// BenchmarkRequests answers the demo technician's questions over HTTP, database
// and all, and reports the 95th percentile beside the mean.
func BenchmarkRequests(b *testing.B) {
	town := demotest.Town(b)
	h, _ := New(town.Service, Options{Sessions: town.Store.Pool, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	call := func(method, path string, body any, cookie string) *httptest.ResponseRecorder {
		text, _ := json.Marshal(body)
		req := httptest.NewRequest(method, path, bytes.NewReader(text))
		req.Header.Set("Content-Type", "application/json")
		if cookie != "" {
			req.Header.Set("Cookie", cookie)
		}
		rec := httptest.NewRecorder()
		h.ServeHTTP(rec, req)
		if rec.Code != http.StatusOK {
			b.Fatalf("%s %s: %d %s", method, path, rec.Code, rec.Body)
		}
		return rec
	}
	cookie := call("POST", "/api/demo/sign-in", map[string]string{"role": "technician"}, "").Header().Get("Set-Cookie")
	var lap app.LapView
	_ = json.Unmarshal(call("GET", "/api/lap", nil, cookie).Body.Bytes(), &lap)
	stop := lap.Stops[0]
	two := app.Findings{Readings: []app.TypedReading{{Speed: "2400", Tank: "14", Vacuum: "1.5", Flow: "31", Power: "320"}, {Speed: "3250", Tank: "24"}},
		Signs: map[string]bool{"air-in-pot": false}}
	for name, ask := range map[string]func(){
		"lap":       func() { call("GET", "/api/lap", nil, cookie) },
		"bench":     func() { call("GET", "/api/stops/"+stop.ID, nil, cookie) },
		"diagnosis": func() { call("POST", "/api/stops/"+stop.ID+"/diagnosis", two, cookie) },
		"pool":      func() { call("GET", "/api/pools/"+stop.PoolID, nil, cookie) },
	} {
		b.Run(name, func(b *testing.B) {
			var took []time.Duration
			for b.Loop() {
				start := time.Now()
				ask()
				took = append(took, time.Since(start))
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
		})
	}
}
