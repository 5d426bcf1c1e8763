// Package fairlap holds only the test that guards the layout of the house.
package fairlap

import (
	"encoding/json"
	"errors"
	"go/scanner"
	"go/token"
	"io/fs"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// mayImport says what of the project each part may import; longest prefix wins.
// Imports point down: cmd → internal/api → internal/app → core and internal/store.
var mayImport = map[string][]string{
	"fairlap/core/":             {"fairlap/core/"},
	"fairlap/internal/archive":  {},
	"fairlap/internal/store":    {"fairlap/internal/archive", "fairlap/internal/pictures"},
	"fairlap/internal/store/":   {"fairlap/internal/store"},
	"fairlap/internal/clock":    {},
	"fairlap/internal/pictures": {},
	"fairlap/internal/localdb":  {"fairlap/internal/clock"},
	"fairlap/internal/app":      {"fairlap/core/", "fairlap/internal/app/", "fairlap/internal/store"},
	"fairlap/internal/trace":    {},
	"fairlap/internal/zxcvbn":   {},
	"fairlap/internal/api": {
		"fairlap/core/casefile",
		"fairlap/core/catalogue",
		"fairlap/core/figure",
		"fairlap/core/guided",
		"fairlap/core/judge",
		"fairlap/core/pad",
		"fairlap/core/pool",
		"fairlap/core/practice",
		"fairlap/core/speedplan",
		"fairlap/core/words",
		"fairlap/internal/app",
		"fairlap/internal/clock",
		"fairlap/internal/front",
		"fairlap/internal/gate",
		"fairlap/internal/paper",
		"fairlap/internal/queue",
		"fairlap/internal/store",
	},
	"fairlap/internal/front":      {},
	"fairlap/internal/gate":       {"fairlap/internal/clock"},
	"fairlap/internal/queue":      {"fairlap/internal/app", "fairlap/internal/store"},
	"fairlap/internal/backtest":   {"fairlap/core/", "fairlap/internal/standin"},
	"fairlap/internal/chapter":    {},
	"fairlap/internal/evaluation": {"fairlap/core/"},
	"fairlap/internal/paper":      {"fairlap/core/words"},
	"fairlap/internal/picture":    {"fairlap/core/words"},
	"fairlap/internal/sheet":      {"fairlap/core/cells", "fairlap/core/words"},
	"fairlap/internal/standin":    {"fairlap/core/", "fairlap/internal/app/company"},
	"fairlap/internal/demo": {
		"fairlap/core/",
		"fairlap/internal/app",
		"fairlap/internal/backtest",
		"fairlap/internal/clock",
		"fairlap/internal/standin",
		"fairlap/internal/store",
	},
	"fairlap/internal/demo/demotest": {"fairlap/internal/"},
	"fairlap/internal/demo/stage":    {"fairlap/internal/"},
	"fairlap/cmd/":                   {"fairlap/internal/", "fairlap/core/", "fairlap/web"},
	"fairlap/e2e":                    {"fairlap/"},
	"fairlap/web":                    {},
}

// mayEnter says which rooms of the use cases each of them may enter: only ones below it.
var mayEnter = map[string][]string{
	"access":    {},
	"company":   {"access"},
	"standing":  {"access", "company"},
	"photo":     {"access", "company", "standing"},
	"padwork":   {"access", "company", "standing"},
	"route":     {"access", "company", "standing"},
	"visit":     {"access", "company", "standing"},
	"day":       {"access", "standing", "route", "visit", "work", "record", "inspect"},
	"equipment": {"access", "company", "standing", "padwork"},
	"work":      {"access", "company", "standing", "equipment"},
	"inspect":   {"access", "company", "standing", "photo", "padwork", "equipment"},
	"papers":    {"access", "company", "standing", "padwork", "visit", "equipment", "inspect"},
	"record":    {"access", "company", "standing", "photo", "padwork", "route", "visit", "equipment", "papers"},
	"office":    {"access", "company", "standing", "route"},
	"learn":     {"access", "company"},
	"exchange":  {"access", "company", "standing", "padwork", "visit", "equipment", "papers"},
}

// largestRoom is how much code a package may hold before it is two, in words and marks: some 3,000 lines, however
// they are broken. Tables of facts, one field a line, are as long as the trade is.
const largestRoom = 22_500

// notInCore are packages that would let the world into the core.
var notInCore = []string{"net", "net/http", "os", "os/exec", "database/sql", "time/tzdata", "math/rand", "math/rand/v2"}

func TestImportsPointDown(t *testing.T) {
	out, err := exec.Command("go", "list", "-json=ImportPath,Imports", "./...").Output()
	require.NoError(t, err)
	dec := json.NewDecoder(strings.NewReader(string(out)))
	seen := 0
	for dec.More() {
		var p struct {
			ImportPath string
			Imports    []string
		}
		require.NoError(t, dec.Decode(&p))
		if p.ImportPath == "fairlap" {
			continue
		}
		seen++
		if room, ok := strings.CutPrefix(p.ImportPath, "fairlap/internal/app/"); ok {
			rooms, known := mayEnter[room]
			require.True(t, known, "the room %s has no place in the house", room)
			mayImport[p.ImportPath] = []string{
				"fairlap/core/",
				"fairlap/internal/clock",
				"fairlap/internal/paper",
				"fairlap/internal/picture",
				"fairlap/internal/sheet",
				"fairlap/internal/store",
				"fairlap/internal/zxcvbn",
			}
			for _, r := range rooms {
				mayImport[p.ImportPath] = append(mayImport[p.ImportPath], "fairlap/internal/app/"+r)
			}
		}
		rule := ""
		for prefix := range mayImport {
			if strings.HasPrefix(p.ImportPath, prefix) && len(prefix) > len(rule) {
				rule = prefix
			}
		}
		require.NotEmpty(t, rule, "%s has no place in the house", p.ImportPath)
		for _, i := range p.Imports {
			if strings.HasPrefix(rule, "fairlap/core/") {
				assert.NotContains(t, notInCore, i, "%s is in the core", p.ImportPath)
				assert.False(
					t,
					strings.Contains(i, "gin") || strings.Contains(i, "gorm"),
					"%s imports %s",
					p.ImportPath,
					i,
				)
			}
			if !strings.HasPrefix(i, "fairlap/") || i == p.ImportPath {
				continue
			}
			allowed := false
			for _, a := range mayImport[rule] {
				allowed = allowed || strings.HasPrefix(i, a)
			}
			assert.True(t, allowed, "%s must not import %s", p.ImportPath, i)
		}
	}
	assert.Greater(t, seen, 10)
}

// A package that outgrows what one can hold in mind is two.
func TestNoRoomIsTooLarge(t *testing.T) {
	out, err := exec.Command("go", "list", "-json=ImportPath,Dir,GoFiles", "./...").Output()
	require.NoError(t, err)
	dec := json.NewDecoder(strings.NewReader(string(out)))
	for dec.More() {
		var p struct {
			ImportPath, Dir string
			GoFiles         []string
		}
		require.NoError(t, dec.Decode(&p))
		words := 0
		for _, f := range p.GoFiles {
			if isTable(f) {
				continue
			}
			text, err := os.ReadFile(filepath.Join(p.Dir, f))
			require.NoError(t, err)
			var s scanner.Scanner
			s.Init(token.NewFileSet().AddFile(f, -1, len(text)), text, nil, 0)
			for {
				_, kind, _ := s.Scan()
				if kind == token.EOF {
					break
				}
				if kind != token.SEMICOLON && kind != token.COMMA { // which come and go with the ends of lines
					words++
				}
			}
		}
		assert.LessOrEqual(t, words, largestRoom, p.ImportPath)
	}
}

// The machine is asked for the time in one place, and the device in one: what is said of a day follows from a clock
// that a test can set.
func TestOneClock(t *testing.T) {
	asks := map[string]*regexp.Regexp{
		".go":  regexp.MustCompile(`\btime\.(Now|Since|Until)\b`),
		".ts":  regexp.MustCompile(`\bDate\.now\b|\bnew Date\(\)|\bdayjs\(\)`),
		".tsx": regexp.MustCompile(`\bDate\.now\b|\bnew Date\(\)|\bdayjs\(\)`),
	}
	clocks := []string{
		filepath.Join("internal", "clock", "clock.go"),
		filepath.Join("web", "src", "parts", "clock.ts"),
		"architecture_test.go",
	}
	stopwatch := filepath.Join("core", "plumbing", "epanet_test.go") // a benchmark's
	read := 0
	for _, room := range []string{".", "cmd", "core", "internal", "e2e", filepath.Join("web", "src")} {
		require.NoError(t, filepath.WalkDir(room, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() {
				if room == "." && path != "." {
					return fs.SkipDir
				}
				return err
			}
			asked, ok := asks[filepath.Ext(path)]
			if !ok || slices.Contains(clocks, path) || strings.HasSuffix(path, ".test.ts") || path == stopwatch {
				return nil
			}
			read++
			text, err := os.ReadFile(path)
			for i, line := range strings.Split(string(text), "\n") {
				assert.False(
					t,
					asked.MatchString(line),
					"%s:%d asks for the time past the one clock: %s",
					path,
					i+1,
					line,
				)
			}
			return err
		}))
	}
	assert.Greater(t, read, 500)
}

// widest is how many columns a line may have; a tab is four. Words that stand in quotes are not broken.
const widest = 120

// No line of Go is wider than a screen beside another, but for what its quotes hold.
func TestLinesFitBesideEachOther(t *testing.T) {
	out, err := exec.Command("git", "ls-files", "--cached", "--others", "--exclude-standard", "*.go").Output()
	require.NoError(t, err)
	read := 0
	for _, file := range strings.Fields(string(out)) {
		text, err := os.ReadFile(file)
		if errors.Is(err, fs.ErrNotExist) {
			continue // taken away, and not yet committed
		}
		require.NoError(t, err)
		read++
		quoted := map[int]int{} // columns in quotes, by line
		var s scanner.Scanner
		set := token.NewFileSet()
		s.Init(set.AddFile(file, -1, len(text)), text, nil, 0)
		for {
			at, kind, word := s.Scan()
			if kind == token.EOF {
				break
			}
			if kind != token.STRING {
				continue
			}
			for i, line := range strings.Split(word, "\n") {
				quoted[set.Position(at).Line+i] += len([]rune(line))
			}
		}
		for i, line := range strings.Split(string(text), "\n") {
			wide := len([]rune(strings.ReplaceAll(line, "\t", "    ")))
			if strings.HasPrefix(line, "//go:") {
				continue
			}
			assert.LessOrEqual(t, wide-quoted[i+1], widest, "%s:%d", file, i+1)
		}
	}
	assert.Greater(t, read, 400)
}

// The documents' prose is no wider: tables, drawings and commands are as wide as they are.
func TestProseFitsBesideCode(t *testing.T) {
	files, err := filepath.Glob("docs/*.md")
	require.NoError(t, err)
	prose := 0
	for _, file := range append(files, "README.md", "CONTRIBUTING.md") {
		text, err := os.ReadFile(file)
		require.NoError(t, err)
		drawn := false
		for i, line := range strings.Split(string(text), "\n") {
			if strings.HasPrefix(strings.TrimSpace(line), "```") {
				drawn = !drawn
			}
			if drawn || strings.HasPrefix(line, "|") {
				continue
			}
			prose++
			assert.LessOrEqual(t, len([]rune(line)), widest, "%s:%d", file, i+1)
		}
	}
	assert.Greater(t, prose, 800)
}

// isTable tells files that hold facts as data.
func isTable(file string) bool {
	return strings.HasPrefix(file, "library_") ||
		slices.Contains([]string{"numbers.go", "catalogue.go", "signs.go"}, file)
}

// What ships of others is told with its licence.
func TestThirdPartiesAreNamed(t *testing.T) {
	notices, err := os.ReadFile("THIRD-PARTY.txt")
	require.NoError(t, err)
	out, err := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not (or .Main (and .Replace (not .Replace.Version)))}}{{.Path}} {{.Version}}{{end}}{{end}}", "./cmd/fairlap").
		Output()
	require.NoError(t, err)
	modules := strings.Fields(strings.ReplaceAll(string(out), " ", "@"))
	assert.Greater(t, len(modules), 20)
	for _, m := range modules {
		named := strings.Contains(string(notices), "\n"+strings.ReplaceAll(m, "@", " ")+"\n")
		assert.True(t, named, "%s is not told: make notices", m)
	}
}
