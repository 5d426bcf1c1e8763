package api

import (
	"bytes"
	"compress/gzip"
	"encoding/json"
	"io"
	"log/slog"
	"maps"
	"net/http"
	"net/http/httptest"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/day"
	"fairlap/internal/app/route"
	"fairlap/internal/clock"
	"fairlap/internal/demo/demotest"
)

// BenchmarkRequests answers the demo technician's questions over HTTP, database
// and all.
func BenchmarkRequests(b *testing.B) {
	ask := asker(b, demotest.Town(b))
	cookie := ask(
		"POST",
		"/api/v1/demo/sign-in",
		map[string]string{"role": "technician"},
		"",
	).Header().
		Get("Set-Cookie")
	var lap route.LapView
	_ = json.Unmarshal(ask("GET", "/api/v1/lap", nil, cookie).Body.Bytes(), &lap)
	stop := lap.Stops[0]
	two := judge.Findings{
		Readings: []judge.TypedReading{
			{Speed: "2400", Tank: "14", Vacuum: "1.5", Flow: "31", Power: "320"},
			{Speed: "3250", Tank: "24"},
		},
		Signs: map[string]bool{"air-in-pot": false},
	}
	percentiles(b, map[string]func(){
		"lap":       func() { ask("GET", "/api/v1/lap", nil, cookie) },
		"bench":     func() { ask("GET", "/api/v1/stops/"+stop.ID, nil, cookie) },
		"diagnosis": func() { ask("POST", "/api/v1/stops/"+stop.ID+"/diagnosis", two, cookie) },
		"pool":      func() { ask("GET", "/api/v1/pools/"+stop.PoolID, nil, cookie) },
	})
}

// BenchmarkDay puts a technician's day together, and says how much of it goes over the line:
// whole, and after a visit at one of its stops.
func BenchmarkDay(b *testing.B) {
	town := demotest.Town(b)
	ask := asker(b, town)
	cookie := ask(
		"POST",
		"/api/v1/demo/sign-in",
		map[string]string{"role": "technician"},
		"",
	).Header().
		Get("Set-Cookie")
	packed := func(text []byte) float64 {
		var out bytes.Buffer
		w := gzip.NewWriter(&out)
		_, _ = w.Write(text)
		_ = w.Close()
		return float64(out.Len())
	}
	for _, name := range []string{"whole", "changed"} {
		b.Run(name, func(b *testing.B) {
			var p day.Pack
			_ = json.Unmarshal(ask("GET", "/api/v1/day", nil, cookie).Body.Bytes(), &p)
			path := "/api/v1/day"
			if name == "changed" {
				path += "?have="
				for _, s := range p.Stops[1:] {
					path += s.Mark + ","
				}
			}
			var size float64
			for b.Loop() {
				size = packed(ask("GET", path, nil, cookie).Body.Bytes())
			}
			b.ReportMetric(size/1000, "kB/day")
			b.ReportMetric(float64(len(p.Stops)), "stops")
		})
	}
}

// BenchmarkTold is what a reader's words cost an answer: the same verdict written with its
// messages said, and as the record keeps them.
func BenchmarkTold(b *testing.B) {
	town := demotest.Town(b)
	who, err := town.Service.Office.DemoSignIn(b.Context(), access.Technician)
	require.NoError(b, err)
	lap, err := town.Service.Route.Lap(b.Context(), who, "", "")
	require.NoError(b, err)
	v, err := town.Service.Visit.Diagnose(
		b.Context(),
		who,
		uuid.MustParse(lap.Stops[0].ID),
		judge.Findings{
			Readings: []judge.TypedReading{{Speed: "2400", Tank: "14", Vacuum: "1.5", Flow: "31", Power: "320"}},
		},
	)
	require.NoError(b, err)
	spanish := words.Printer{Lang: words.Spanish, Units: units.Metric}
	b.Run("said", func(b *testing.B) {
		for b.Loop() {
			_, _ = spanish.Marshal(v)
		}
	})
	b.Run("kept", func(b *testing.B) {
		for b.Loop() {
			_, _ = json.Marshal(v)
		}
	})
}

// asker answers requests without a network between.
func asker(
	b *testing.B,
	town demotest.Fixture,
) func(method, path string, body any, cookie string) *httptest.ResponseRecorder {
	h, _ := New(town.Service, Options{Sessions: town.Store.Pool, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	return func(method, path string, body any, cookie string) *httptest.ResponseRecorder {
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
}

// percentiles times questions and reports the 95th percentile beside the mean.
func percentiles(b *testing.B, asks map[string]func()) {
	for _, name := range slices.Sorted(maps.Keys(asks)) {
		ask := asks[name]
		b.Run(name, func(b *testing.B) {
			var took []time.Duration
			for b.Loop() {
				start := clock.Now()
				ask()
				took = append(took, clock.Since(start))
			}
			slices.Sort(took)
			b.ReportMetric(float64(took[len(took)*95/100].Microseconds())/1000, "p95-ms")
		})
	}
}
