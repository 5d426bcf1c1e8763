package main

import (
	"bytes"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/casefile"
	"fairlap/core/judge"
	"fairlap/core/sweep"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/demo"
)

// run calls the command line as a person would.
func run(t *testing.T, args ...string) (string, error) {
	t.Helper()
	var out bytes.Buffer
	cmd := root()
	cmd.SetOut(&out)
	cmd.SetErr(&out)
	cmd.SetArgs(args)
	err := cmd.Execute()
	return out.String(), err
}

// published compiles a schema as `fairlap schema` prints it.
func published(t *testing.T, name string) *jsonschema.Schema {
	text, err := run(t, "schema", name)
	require.NoError(t, err)
	tree, err := jsonschema.UnmarshalJSON(bytes.NewReader([]byte(text)))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource(name, tree))
	s, err := c.Compile(name)
	require.NoError(t, err)
	return s
}

func valid(t *testing.T, s *jsonschema.Schema, text []byte) {
	t.Helper()
	v, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	require.NoError(t, err)
	assert.NoError(t, s.Validate(v))
}

func TestEveryExampleSolvesAndValidates(t *testing.T) {
	files, err := filepath.Glob("../../docs/examples/*.pad.json")
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(files), 4)
	pads, solutions := published(t, "pad"), published(t, "solution")
	for _, f := range files {
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		valid(t, pads, b)
		text, err := run(t, "solve", f, "--json", "--load", "0.5")
		require.NoError(t, err, f)
		valid(t, solutions, []byte(text))
		plain, err := run(t, "solve", f)
		require.NoError(t, err)
		assert.Contains(t, plain, "gpm")

		// Out as an EPANET file and in again: the same water.
		inp, err := run(t, "solve", f, "--inp")
		require.NoError(t, err)
		file := filepath.Join(t.TempDir(), "pad.inp")
		require.NoError(t, os.WriteFile(file, []byte(inp), 0o600))
		again, err := run(t, "solve", file)
		require.NoError(t, err)
		assert.Equal(t, plain, again)
	}
}

func TestSolveSetsValvesAndNamesHazards(t *testing.T) {
	spa := "../../docs/examples/de-with-spa.pad.json"
	out, err := run(t, "solve", spa, "--set", "suction-valve=spa")
	require.NoError(t, err)
	assert.Contains(t, out, "STOP  Spa drains.")
	assert.Contains(t, out, "minutes")
	out, err = run(t, "solve", spa, "--set", "multiport=closed", "--speed", "2000")
	require.NoError(t, err)
	assert.Contains(t, out, "Dead head")
	walk := filepath.Join(t.TempDir(), "walk.csv")
	require.NoError(t, os.WriteFile(walk, []byte("rpm,tank_psi,flow_gpm\n1500,3,38\n2400,9,64\n3450,19,92\n"), 0o600))
	text, err := run(t, "solve", spa, "--walk", walk, "--json")
	require.NoError(t, err)
	var v struct{ FlowGpm, FlowSd float64 }
	require.NoError(t, json.Unmarshal([]byte(text), &v))
	assert.InDelta(t, 64, v.FlowGpm, 4, "the walk pulls the description to the pad")
	assert.Less(t, v.FlowSd, 3.0)
	for _, bad := range [][]string{
		{"solve", spa, "--set", "suction-valve=lake"}, {"solve", spa, "--set", "hose"}, {"solve", spa, "--speed", "9000"}, {"solve", spa, "--load", "-1"},
		{"solve", spa, "--water", "300"}, {"solve", "no-such-file.json"}, {"solve", walk}, {"solve", spa, "--walk", spa}, {"schema", "kitchen"}, {"solve"},
	} {
		_, err := run(t, bad...)
		assert.Error(t, err, bad)
	}
}

func TestSolveNamesTheFieldOfABadDocument(t *testing.T) {
	b, err := os.ReadFile("../../docs/examples/single-speed-sand.pad.json")
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "bad.json")
	require.NoError(
		t,
		os.WriteFile(file, bytes.Replace(b, []byte(`"areaFt2": 2.18`), []byte(`"areaFt2": -1`), 1), 0o600),
	)
	_, err = run(t, "solve", file)
	assert.ErrorContains(t, err, "filter.areaFt2: must be between 0.5 and 1,000")
}

// A dozen situations of common practice, each a file: the suspect that leads, or
// what stands beside or before it.
func TestEveryExampleCaseIsDiagnosed(t *testing.T) {
	leads := map[string]string{
		"loaded-sand": "filter-loaded", "clogged-impeller": "impeller-clogged", "fine-on-the-spa": "suction-line-blocked", "lid-o-ring": "air-lid", "inlet-fitting": "air-inlet-fitting",
		"humming-motor": "motor-hums", "fouled-cartridge": "media-fouled", "crackling-heater": "heater-bypass-open", "spa-found-empty": "spa-draining", "on-closed": "valve-position",
		"oversized-pump": "healthy", "cell-at-night": "healthy", "missing-drain-cover": "healthy", "gauge-only": "healthy",
	}
	files, err := filepath.Glob("../../docs/examples/*.case.json")
	require.NoError(t, err)
	require.Len(t, files, len(leads))
	cases, answers := published(t, "case"), published(t, "answer")
	for _, f := range files {
		name := strings.TrimSuffix(filepath.Base(f), ".case.json")
		b, err := os.ReadFile(f)
		require.NoError(t, err)
		valid(t, cases, b)
		text, err := run(t, "diagnose", f, "--json")
		require.NoError(t, err, f)
		valid(t, answers, []byte(text))
		var a casefile.Answer
		require.NoError(t, json.Unmarshal([]byte(text), &a))
		assert.Equal(t, leads[name], a.Suspects[0].ID, name)
		plain, err := run(t, "diagnose", f)
		require.NoError(t, err)
		switch name {
		case "oversized-pump":
			assert.Contains(t, plain, "beside it: pump too strong for the filter")
		case "cell-at-night":
			assert.Contains(t, plain, "beside it: too little flow for the salt cell")
		case "on-closed", "missing-drain-cover":
			assert.True(t, strings.HasPrefix(plain, "!! Stop"), "the danger comes first: %s", plain)
		case "humming-motor":
			assert.Contains(t, plain, "pull the debris", "the shaft is stuck: a jam is ours")
			assert.NotContains(t, plain, "Reset the breaker", "what hums or is stuck is never reset")
			assert.NotContains(t, plain, "Feel each return", "nor is anything felt of a dead pump")
		}
	}
}

// A saved stop is judged as on its page; one that is spoiled is refused at its field.
func TestASavedStopIsJudged(t *testing.T) {
	now := time.Date(2026, time.July, 14, 17, 0, 0, 0, time.UTC)
	packs, err := demo.Described(1, now)
	require.NoError(t, err)
	f := judge.File{Pack: sweep.Usual(packs[0], now), At: now, Findings: judge.Findings{
		Readings: []judge.TypedReading{{Speed: "2400", Tank: "14"}}, Signs: map[string]bool{"basket-full": true},
	}}
	v, _, err := f.Judge()
	require.NoError(t, err)
	us := words.Printer{Lang: words.English, Units: units.US}
	shown, err := us.Marshal(v)
	require.NoError(t, err)
	file := filepath.Join(t.TempDir(), "saved.stop.json")
	write := func() {
		text, err := json.Marshal(f)
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(file, text, 0o600))
	}
	write()
	out, err := run(t, "diagnose", file, "--json")
	require.NoError(t, err)
	var packed bytes.Buffer
	require.NoError(t, json.Compact(&packed, []byte(out)))
	assert.Equal(t, string(shown), packed.String())
	out, err = run(t, "diagnose", file)
	require.NoError(t, err)
	assert.Contains(t, out, packs[0].Pool+"\n"+us.Say(v.Text))
	f.Findings.Readings[0].Tank = "a lot"
	write()
	_, err = run(t, "diagnose", file)
	assert.ErrorContains(t, err, "findings.readings[0].tank: ")
}

func TestABadCaseIsAPlainError(t *testing.T) {
	b, err := os.ReadFile("../../docs/examples/lid-o-ring.case.json")
	require.NoError(t, err)
	for from, to := range map[string][2]string{
		`"lid-test-holds": true`: {`"lid-tets-holds": true`, "Did you mean lid-test-holds?"},
		`"rpm": 2600`:            {`"rpm": 26000`, "rpm: must be between 0 and 4,000"},
		`"boreIn": 2.067`:        {`"boreIn": 0`, "boreIn: must be between"},
		`"signs"`:                {`"sings"`, "unknown field"},
		`"load": 0.6`:            {`"load": "most of it"`, "must be a number"},
		`{`:                      {`{{`, "not JSON"},
	} {
		file := filepath.Join(t.TempDir(), "case.json")
		require.NoError(t, os.WriteFile(file, bytes.Replace(b, []byte(from), []byte(to[0]), 1), 0o600))
		_, err := run(t, "diagnose", file)
		assert.ErrorContains(t, err, to[1])
	}
	_, err = run(t, "diagnose", "no-such-case.json")
	assert.Error(t, err)
}
