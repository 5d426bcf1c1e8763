//go:build !js

package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/demo/demotest"
)

func TestMain(m *testing.M) { demotest.Main(m) }

// cases are asked of both.
const cases = 540

// What the core in a browser answers from a day's pack is what the server answers: every stop of
// the day, with what its pad shows at some speed and some signs, in both languages and units, and
// with figures that are none. Each word, each order and each refusal is the same to the letter;
// bare numbers to nine places, since a processor's own exponent and logarithm are not Go's own to
// the last bit.
func TestTheBrowsersCoreAnswersAsTheServer(t *testing.T) {
	town := demotest.Town(t)
	ctx := context.Background()
	who, err := town.Service.Office.DemoSignIn(ctx, access.Technician)
	require.NoError(t, err)
	day, err := town.Service.Day.Pack(ctx, who)
	require.NoError(t, err)
	readers := []words.Printer{{Lang: words.English, Units: units.US}, {Lang: words.Spanish, Units: units.Metric}}
	chance := rand.New(rand.NewPCG(21, 4))
	shown := make([]judge.Findings, len(day.Stops))
	var questions bytes.Buffer
	var want []string
	for i := range cases {
		stop, reader := day.Stops[i%len(day.Stops)], readers[chance.IntN(len(readers))]
		if i%(5*len(day.Stops)) < len(day.Stops) {
			shown[i%len(day.Stops)], err = town.Service.Visit.DemoMeter(ctx, who, uuid.MustParse(stop.Bench.StopID), 1200+2200*chance.Float64())
			require.NoError(t, err)
		}
		found := otherwise(chance, shown[i%len(day.Stops)])
		for range chance.IntN(4) {
			signs := stop.Bench.Signs
			found.Signs[string(signs[chance.IntN(len(signs))].ID)] = chance.IntN(2) == 0
		}
		if chance.IntN(12) == 0 {
			found.Readings[0].Tank = "twelve"
		}
		asked, err := json.Marshal(map[string]any{
			"pack": stop.Pack, "zone": day.Zone, "findings": found, "at": demotest.Now(), "lang": reader.Lang, "units": reader.Units,
		})
		require.NoError(t, err)
		questions.Write(append(asked, '\n'))
		var pack judge.Pack
		require.NoError(t, json.Unmarshal(stop.Pack, &pack))
		known, err := pack.Ready() // as the server has it: TestAPackAnswersAsTheServer
		require.NoError(t, err)
		verdict, _, err := known.Judge(found, demotest.Now(), nil)
		want = append(want, told(t, reader, verdict, err))
	}
	for i, said := range ask(t, &questions) {
		if !assert.Empty(t, apart(read(t, want[i]), read(t, said), "answer"), "case %d", i) {
			return
		}
	}
}

// otherwise is what a pad shows, each gauge a little off and some not read.
func otherwise(chance *rand.Rand, shown judge.Findings) judge.Findings {
	r := shown.Readings[0]
	for _, gauge := range []*string{&r.Tank, &r.Vacuum, &r.Flow, &r.Power} {
		v, err := strconv.ParseFloat(*gauge, 64)
		if err != nil || chance.IntN(6) == 0 {
			*gauge = ""
			continue
		}
		*gauge = strconv.FormatFloat(v*(0.85+0.4*chance.Float64()), 'f', 1, 64)
	}
	return judge.Findings{Readings: []judge.TypedReading{r}, Signs: map[string]bool{}}
}

// read is an answer as values; a refusal stays its text.
func read(t *testing.T, said string) (v any) {
	if !strings.HasPrefix(said, "{") {
		return said
	}
	require.NoError(t, json.Unmarshal([]byte(said), &v))
	return v
}

// near is how far two numbers may be apart, of their size.
const near = 1e-9

// apart tells the first place where two answers differ; empty where they don't.
func apart(a, b any, at string) string {
	switch x := a.(type) {
	case float64:
		if y, ok := b.(float64); !ok || math.Abs(x-y) > near*max(1, math.Abs(x)) {
			return fmt.Sprintf("%s: %v, not %v", at, b, a)
		}
	case []any:
		y, ok := b.([]any)
		if !ok || len(x) != len(y) {
			return fmt.Sprintf("%s: %v, not %v", at, b, a)
		}
		for i := range x {
			if d := apart(x[i], y[i], fmt.Sprintf("%s[%d]", at, i)); d != "" {
				return d
			}
		}
	case map[string]any:
		y, ok := b.(map[string]any)
		if !ok || len(x) != len(y) {
			return fmt.Sprintf("%s: %v, not %v", at, b, a)
		}
		for _, k := range slices.Sorted(maps.Keys(x)) {
			if d := apart(x[k], y[k], at+"."+k); d != "" {
				return d
			}
		}
	default:
		if a != b {
			return fmt.Sprintf("%s: %v, not %v", at, b, a)
		}
	}
	return ""
}

// told is an answer as the server writes it, or its refusal by field.
func told(t *testing.T, reader words.Printer, verdict judge.Verdict, err error) string {
	var fields figure.FieldErrors
	if errors.As(err, &fields) {
		out := ""
		for _, f := range fields {
			out += fmt.Sprintf("%s: %s\n", f.Field, reader.Say(f.Text))
		}
		return out
	}
	require.NoError(t, err)
	said, err := reader.Marshal(verdict)
	require.NoError(t, err)
	return string(said)
}

// ask runs the core in Node, which runs it as a browser does.
func ask(t *testing.T, questions *bytes.Buffer) []string {
	core := filepath.Join(t.TempDir(), "core.wasm")
	build := exec.Command("go", "build", "-trimpath", "-ldflags", "-s -w", "-o", core, ".")
	build.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	support := filepath.Join(strings.TrimSpace(string(root)), "lib", "wasm", "wasm_exec.js")
	node := exec.Command("node", "testdata/ask.mjs", support, core)
	node.Stdin = questions
	var complaint bytes.Buffer
	node.Stderr = &complaint
	said, err := node.Output()
	require.NoError(t, err, complaint.String())
	lines := strings.Split(strings.TrimSpace(string(said)), "\n")
	require.Len(t, lines, cases+1)
	t.Logf("milliseconds of the first of %d answers, of the usual one, of the slowest after the first: %s", cases, lines[cases])
	answers := make([]string, cases)
	for i := range answers {
		var one struct{ Verdict, Refusal, Error string }
		require.NoError(t, json.Unmarshal([]byte(lines[i]), &one))
		require.Empty(t, one.Error)
		answers[i] = one.Verdict
		if one.Refusal == "" {
			continue
		}
		var p struct {
			Errors []struct{ Location, Message string }
		}
		require.NoError(t, json.Unmarshal([]byte(one.Refusal), &p))
		for _, e := range p.Errors {
			answers[i] += fmt.Sprintf("%s: %s\n", e.Location, e.Message)
		}
	}
	return answers
}
