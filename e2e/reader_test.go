package e2e

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/figure"
)

// pageReader has the page's reader read texts, each in every unit; null is a refusal.
const pageReader = `
const fs = require("fs"), ts = require("typescript");
const source = fs.readFileSync(process.argv[1], "utf8").replace(/^import i18next.*$/m, "").replace(/^import rules.*$/m, "const rules = JSON.parse(require('fs').readFileSync(process.argv[2], 'utf8'));");
const module_ = { exports: {} };
new Function("module", "exports", "require", ts.transpileModule(source, { compilerOptions: { module: "commonjs", target: "es2022" } }).outputText)(module_, module_.exports, require);
const texts = JSON.parse(fs.readFileSync(0, "utf8"));
process.stdout.write(JSON.stringify(texts.map(([text, unit]) => { const v = module_.exports.readFigure(text, unit || undefined); return Number.isNaN(v) ? null : v; })));
`

// The page reads every figure as the server does: the same value, or neither does.
func TestThePageReadsFiguresAsTheServerDoes(t *testing.T) {
	t.Parallel()
	spans := map[string]figure.Span{
		"":    {},
		"gal": {Low: 100, Top: 1e6},
		"rpm": {Low: 0, Top: 4000, Least: 100},
		"psi": {Low: -15, Top: 100},
	}
	pieces := []string{
		"1",
		"12",
		"200",
		"345",
		"0",
		"9",
		",",
		".",
		" ",
		"-",
		"−",
		"+",
		"/",
		"½",
		"２",
		"，",
		"'",
		"\u2009",
		"x",
		"1/2",
		",200",
		".500",
	}
	r := rand.New(rand.NewPCG(1, 2))
	asks := [][2]string{}
	for unit := range spans {
		for _, s := range []string{"18,500", "1,200", "2,400", "17 1/2", "1/0", "17,5", "1.200.000", "1.200,5", ""} {
			asks = append(asks, [2]string{s, unit})
		}
	}
	for range 20_000 {
		s := ""
		for range 1 + r.IntN(5) {
			s += pieces[r.IntN(len(pieces))]
		}
		asks = append(asks, [2]string{s, []string{"", "gal", "rpm", "psi"}[r.IntN(4)]})
	}
	in, err := json.Marshal(asks)
	require.NoError(t, err)
	reader, err := filepath.Abs("../web/src/parts/read-figure.ts")
	require.NoError(t, err)
	rules, err := filepath.Abs("../core/figure/rules.json")
	require.NoError(t, err)
	typed := filepath.Join(t.TempDir(), "asks.json")
	require.NoError(t, os.WriteFile(typed, in, 0o600))
	stdin, err := os.Open(typed)
	require.NoError(t, err)
	defer stdin.Close()
	cmd := exec.CommandContext(t.Context(), "node", "-e", pageReader, reader, rules)
	cmd.Dir, cmd.Stdin = "../web", stdin
	out, err := cmd.Output()
	require.NoError(t, err)
	var page []*float64
	require.NoError(t, json.Unmarshal(out, &page))
	require.Len(t, page, len(asks))
	read := 0
	for i, a := range asks {
		v, err := figure.Number(a[0], spans[a[1]], figure.Unknown)
		switch {
		case err == nil:
			read++
			if assert.NotNil(t, page[i], "%q in %q is %v", a[0], a[1], v) {
				assert.LessOrEqual(t, math.Abs(v-*page[i]), 1e-9*math.Abs(v), "%q in %q", a[0], a[1])
			}
		case figure.Problem(err).Key() == "figure.outside": // the server says so
		default:
			assert.Nil(t, page[i], "%q in %q: %s", a[0], a[1], fmt.Sprint(err))
		}
	}
	assert.Greater(t, read, 2000)
}
