package paper

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"fairlap/core/words"
)

// Whatever words somebody typed, a paper of them is set: a PDF with an end.
func FuzzSet(f *testing.F) {
	f.Add("14 Quince Court", `[{"kind":"text","text":"x"},{"kind":"table","head":["a","b"],"rows":[["1","2"]]}]`)
	f.Add("ñ 🜂 \u202e", `[{"kind":"facts","facts":[{"name":"a","value":"b"}]},{"kind":"caution","text":""}]`)
	f.Add(
		"",
		`[{"kind":"chart","chart":{"name":"l","unit":"%","limit":1,"points":[{"at":"2026-01-01T00:00:00Z","value":0.2},{"at":"2026-01-01T00:00:00Z","value":1e9}]}}]`,
	)
	f.Fuzz(func(t *testing.T, title, blocks string) {
		page := Page{Title: words.Named(title), Sub: title, Company: title}
		if json.Unmarshal([]byte(blocks), &page.Blocks) != nil || len(page.Blocks) > 20 || len(blocks) > 4000 ||
			len(title) > 400 {
			return
		}
		for _, b := range page.Blocks {
			if b.Kind == Picture || strings.Count(blocks, "points") > 2 {
				return // pictures have a fuzzer of their own
			}
		}
		pdf, err := Set(page, time.UTC)
		if err == nil && (!bytes.HasPrefix(pdf, []byte("%PDF-")) || !bytes.Contains(pdf, []byte("%%EOF"))) {
			t.Fatal("no whole PDF")
		}
	})
}
