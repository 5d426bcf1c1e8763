//go:build !js

package main

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/drawn"
	"fairlap/core/figure"
	"fairlap/core/guided"
	"fairlap/core/inspection"
	"fairlap/core/judge"
	"fairlap/core/practice"
	"fairlap/core/procedure"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/day"
	"fairlap/internal/demo/demotest"
)

func TestMain(m *testing.M) { demotest.Main(m) }

// cases are how many stops are judged by both; runs and inspections come besides.
var cases = drawn.Of(540)

// asked is a question to the device, and what the server answers to it.
type asked struct {
	about    string
	question map[string]any
	want     string
}

var readers = []words.Printer{{Lang: words.English, Units: units.US}, {Lang: words.Spanish, Units: units.Metric}}

// What the core in a browser answers from a day's pack is what the server answers, to the byte:
// every stop of the day judged, with what its pad shows at some speed and some signs, and with
// figures that are none; its file; work of each kind begun and followed to its end; inspections. In
// both languages and units.
func TestTheBrowsersCoreAnswersAsTheServer(t *testing.T) {
	town := demotest.Town(t)
	ctx := context.Background()
	who, err := town.Service.Office.DemoSignIn(ctx, access.Technician)
	require.NoError(t, err)
	pack, err := town.Service.Day.Pack(ctx, who, nil)
	require.NoError(t, err)
	chance := rand.New(rand.NewPCG(21, 4))
	shown := func(stop *day.Brought) judge.Findings {
		f, err := town.Service.Visit.DemoMeter(ctx, who, uuid.MustParse(stop.Bench.StopID), 1200+2200*chance.Float64())
		require.NoError(t, err)
		return f
	}
	var all []asked
	for i := range pack.Stops {
		stop := pack.Stops[i].Has
		var known judge.Pack
		require.NoError(t, json.Unmarshal(stop.Pack, &known))
		ready, err := known.Ready() // as the server has it: TestAPackAnswersAsTheServer
		require.NoError(t, err)
		of := func(reader words.Printer, about string, part any, v any, err error) {
			all = append(all, asked{about + " at " + stop.Bench.Pool.Street, map[string]any{
				"pack": stop.Pack, "zone": pack.Zone, "at": demotest.Now(), "lang": reader.Lang, "units": reader.Units, about: part,
			}, told(t, reader, v, err)})
		}
		for range max(1, cases/len(pack.Stops)) {
			found := otherwise(chance, shown(stop))
			for range chance.IntN(4) {
				signs := stop.Bench.Signs
				found.Signs[string(signs[chance.IntN(len(signs))].ID)] = chance.IntN(2) == 0
			}
			if chance.IntN(12) == 0 {
				found.Readings[0].Tank = "twelve"
			}
			v, _, err := ready.Judge(found, demotest.Now(), nil)
			of(readers[chance.IntN(2)], "findings", found, v, err)
		}
		file, err := ready.File(shown(stop), demotest.Now())
		require.NoError(t, err)
		text, err := json.Marshal(file)
		all = append(all, asked{"file at " + stop.Bench.Pool.Street, map[string]any{
			"pack": stop.Pack, "zone": pack.Zone, "at": demotest.Now(), "findings": file.Findings, "file": true,
		}, told(t, readers[0], json.RawMessage(text), err)})
		// Another part of the work at each stop, so that none is left out.
		for _, p := range drawn.Some(stop.Work.Procedures[i%min(len(stop.Work.Procedures), 7):]) {
			reader := readers[chance.IntN(2)]
			run := guided.Run{
				ID:        "r",
				PoolID:    stop.Bench.Pool.ID,
				By:        "Us",
				StartedAt: demotest.Now(),
				Events:    []procedure.Event{},
			}
			ask := guided.Ask{Procedure: p.ID, Speed: 2400, Short: p.Short > 0 && chance.IntN(2) == 0}
			run.Script, err = guided.Begin(ready, ask, nil, demotest.Now())
			require.NoError(t, err)
			v, err := guided.View(ready, &run, demotest.Now())
			of(reader, "begin", begin{guided.Run{ID: run.ID, PoolID: run.PoolID, By: run.By}, ask}, v, err)
			queue := toTheEnd(chance, run.Script)
			for _, e := range queue {
				reading, errs := e.Read("", ready.Model)
				require.Empty(t, errs)
				run.Events = append(run.Events, e.Event(e.At, reading, run.By))
			}
			ended, err := guided.View(ready, &run, demotest.Now())
			require.NoError(t, err)
			require.NotNil(t, ended.Ended, "%s was followed to its end", p.ID)
			var had json.RawMessage // the run as the device was told it, in its reader's words
			had, err = reader.Marshal(v)
			require.NoError(t, err)
			of(reader, "follow", map[string]any{"run": had, "queue": queue}, ended, nil)
		}
		for range 5 {
			facts, answers := looked(t, chance, stop)
			found, err := inspection.Judge(&inspection.Installation{
				Model: ready.Model, Pool: units.Gallons(ready.Gallons), Facts: facts,
			}, answers)
			var out struct {
				Findings []inspection.Finding `json:"findings"`
				Mended   []words.Message      `json:"mended"`
				New      []words.Message      `json:"new"`
			}
			out.Findings = found
			out.Mended, out.New = inspection.Since(facts.Before, found, answers)
			of(readers[chance.IntN(2)], "inspect", map[string]any{"facts": stop.Facts, "answers": answers}, out, err)
		}
	}
	all = append(all, practised(t)...)
	require.Greater(t, len(all), cases)
	for i, said := range ask(t, all) {
		if !assert.Equal(t, all[i].want, said, all[i].about) {
			return
		}
	}
}

// practised are written cases worked by their best way, shown half-way and told of at the end,
// and a drawn one.
func practised(t *testing.T) []asked {
	var out []asked
	whiches := []practice.Which{{Draw: &practice.Drawn{Level: practice.OldHand, Theme: practice.Suction, Seed: 4711}}}
	written := practice.Library()
	for _, c := range written[:drawn.Of(len(written))] {
		whiches = append(whiches, practice.Which{ID: c.ID})
	}
	for i, w := range whiches {
		var d practice.Desk
		scene, err := d.Scene(w)
		require.NoError(t, err)
		events, _, err := scene.Best()
		require.NoError(t, err)
		for _, q := range []practice.Ask{
			{Which: w, Mode: practice.Beside, Events: events[:len(events)/2]},
			{Which: w, Mode: practice.Alone, Events: events},
		} {
			reader := readers[i%len(readers)]
			v, err := d.Answer(q)
			out = append(
				out,
				asked{
					"practice of " + scene.ID,
					map[string]any{"practice": q, "lang": reader.Lang, "units": reader.Units},
					told(t, reader, v, err),
				},
			)
		}
	}
	return out
}

// begin asks for a run as the device does.
type begin struct {
	guided.Run
	guided.Ask
}

// toTheEnd is what a hand does from step to step until a run is over, any way that leads there.
func toTheEnd(chance *rand.Rand, script *procedure.Script) []guided.Typed {
	var out []guided.Typed
	at, when := script.Steps[0].ID, demotest.Now()
	for turn := 0; at != ""; turn++ {
		i := slices.IndexFunc(script.Steps, func(s procedure.ScriptStep) bool { return s.ID == at })
		step := script.Steps[i]
		if step.Timer != nil {
			out = append(out, guided.Typed{Act: procedure.ActTimer, Turn: turn, Step: at, At: when})
			when = when.Add(3 * time.Hour)
		}
		option := step.Options[chance.IntN(len(step.Options))]
		if turn > 2*len(script.Steps) { // it went in rounds: on to what comes last
			after := func(o procedure.Option) int {
				if o.To == "" {
					return len(script.Steps)
				}
				return slices.IndexFunc(script.Steps, func(s procedure.ScriptStep) bool { return s.ID == o.To })
			}
			option = slices.MaxFunc(step.Options, func(a, b procedure.Option) int { return after(a) - after(b) })
		}
		e := guided.Typed{Act: procedure.ActGo, Turn: turn, Step: at, Option: option.ID, At: when}
		if step.Kind == procedure.KindReading {
			e.Reading = &judge.TypedReading{Speed: "2400", Tank: "12.5"}
		}
		out = append(out, e)
		at, when = option.To, when.Add(time.Minute)
	}
	return out
}

// looked is what an installation is known by, and some of its questions answered.
func looked(t *testing.T, chance *rand.Rand, stop *day.Brought) (facts inspection.Facts, answers inspection.Answers) {
	require.NoError(t, json.Unmarshal(stop.Facts, &facts))
	answers = inspection.Answers{}
	for _, item := range stop.Blank.Items {
		yes, value := chance.IntN(2) == 0, float64(chance.IntN(40))
		switch {
		case item.Kind == inspection.YesNo:
			answers[item.ID] = inspection.Answer{Yes: &yes}
		case item.Kind == inspection.Measure && chance.IntN(3) > 0:
			answers[item.ID] = inspection.Answer{Value: &value}
		}
	}
	return facts, answers
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

// told is an answer as the server writes it, or its refusal by field.
func told(t *testing.T, reader words.Printer, v any, err error) string {
	var fields figure.FieldErrors
	if errors.As(err, &fields) {
		out := ""
		for _, f := range fields {
			out += fmt.Sprintf("%s: %s\n", f.Field, reader.Say(f.Text))
		}
		return out
	}
	require.NoError(t, err)
	said, err := reader.Marshal(v)
	require.NoError(t, err)
	return string(said)
}

// ask runs the core in Node, which runs it as a browser does.
func ask(t *testing.T, all []asked) []string {
	var questions bytes.Buffer
	for _, a := range all {
		text, err := json.Marshal(a.question)
		require.NoError(t, err)
		questions.Write(append(text, '\n'))
	}
	core := filepath.Join(t.TempDir(), "core.wasm")
	build := exec.Command("go", "build", "-trimpath", "-ldflags", "-s -w", "-o", core, ".")
	build.Env = append(os.Environ(), "GOOS=js", "GOARCH=wasm")
	out, err := build.CombinedOutput()
	require.NoError(t, err, string(out))
	root, err := exec.Command("go", "env", "GOROOT").Output()
	require.NoError(t, err)
	support := filepath.Join(strings.TrimSpace(string(root)), "lib", "wasm", "wasm_exec.js")
	texts := map[words.Lang]string{}
	for _, lang := range words.Languages {
		all, err := words.Texts(lang)
		require.NoError(t, err)
		text, err := json.Marshal(all)
		require.NoError(t, err)
		texts[lang] = string(text)
	}
	text, err := json.Marshal(texts)
	require.NoError(t, err)
	said := filepath.Join(t.TempDir(), "words.json")
	require.NoError(t, os.WriteFile(said, text, 0o600))
	node := exec.Command("node", "testdata/ask.mjs", support, core, said)
	node.Stdin = &questions
	var complaint bytes.Buffer
	node.Stderr = &complaint
	answered, err := node.Output()
	require.NoError(t, err, complaint.String())
	lines := strings.Split(strings.TrimSpace(string(answered)), "\n")
	require.Equal(t, len(all)+1, len(lines), "answers, and a line of times: %s", complaint.String())
	t.Logf(
		"milliseconds of the first of %d answers, of the usual one, of the slowest after the first: %s",
		len(all),
		lines[len(all)],
	)
	answers := make([]string, len(all))
	for i := range answers {
		var one struct{ Answer, Refusal, Error string }
		require.NoError(t, json.Unmarshal([]byte(lines[i]), &one))
		require.Empty(t, one.Error)
		answers[i] = one.Answer
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
