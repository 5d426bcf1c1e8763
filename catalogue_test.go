package fairlap

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/words"
)

// keyLiteral is a key of the catalogue as the source writes it.
var keyLiteral = regexp.MustCompile(`^[a-z]+(\.[a-zA-Z0-9-]+)+$`)

// hole is a placeholder; those that begin with a digit are quantities of the text itself.
var hole = regexp.MustCompile(`\{\{([^{}]+)\}\}`)

func holesOf(text string) []string {
	var out []string
	for _, g := range hole.FindAllStringSubmatch(text, -1) {
		name, _, _ := strings.Cut(g[1], ",")
		if name = strings.TrimSpace(name); !slices.Contains(out, name) {
			out = append(out, name)
		}
	}
	return slices.Sorted(slices.Values(out))
}

// built are the keys that are put together from an id: what they begin with.
var built = []string{
	"pad.setting.",
	"pad.body.",
	"pad.kind.",
	"app.act-",
	"app.cost-",
	"app.role-",
	"words.weekday-",
	"words.day-",
	"words.month-",
	"words.and",
	"words.or",
	"cli.mark-",
	"cli.condition-",
	"part.",
	"practice.case.",
	"practice.level.",
	"practice.theme.",
	"sign.",
}

// source walks the program's own Go files.
func source(t *testing.T, visit func(path string, f *ast.File)) {
	fset := token.NewFileSet()
	for _, dir := range []string{"core", "internal", "cmd"} {
		require.NoError(t, filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
			if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
				return err
			}
			f, err := parser.ParseFile(fset, path, nil, 0)
			if err == nil {
				visit(path, f)
			}
			return err
		}))
	}
}

// Every message that the program makes has words, with the arguments that they ask for;
// no words are left that nothing says.
func TestTheCatalogueSaysWhatTheProgramMakes(t *testing.T) {
	texts, err := words.Texts(words.English)
	require.NoError(t, err)
	used := map[string]bool{}
	base := func(key string) string { return strings.TrimSuffix(strings.TrimSuffix(key, "_one"), "_other") }
	known := map[string][]string{}
	for k, v := range texts {
		known[base(k)] = append(known[base(k)], holesOf(v)...)
	}
	source(t, func(path string, f *ast.File) {
		ast.Inspect(f, func(n ast.Node) bool {
			if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
				if s, _ := strconv.Unquote(lit.Value); keyLiteral.MatchString(s) && known[s] != nil || texts[s] != "" {
					used[s] = true
				}
			}
			call, ok := n.(*ast.CallExpr)
			if !ok {
				return true
			}
			at, name := 0, ""
			switch fn := call.Fun.(type) {
			case *ast.SelectorExpr:
				name = fn.Sel.Name
				if x, ok := fn.X.(*ast.Ident); name == "Of" && (!ok || x.Name != "words") {
					return true
				}
			case *ast.Ident:
				name = fn.Name
			}
			if name != "Of" && name != "refuse" && name != "line" || len(call.Args) == 0 {
				return true
			}
			lit, ok := call.Args[at].(*ast.BasicLit)
			if !ok {
				return true
			}
			key, _ := strconv.Unquote(lit.Value)
			if !keyLiteral.MatchString(key) {
				return true
			}
			asks, has := known[key]
			if _, plain := texts[key]; !has && !plain {
				t.Errorf("%s: nothing says %q", path, key)
				return true
			}
			var given []string
			for i := at + 1; i < len(call.Args); i += 2 {
				if arg, ok := call.Args[i].(*ast.BasicLit); ok {
					s, _ := strconv.Unquote(arg.Value)
					given = append(given, s)
				}
			}
			for _, a := range asks {
				if a[0] < '0' || a[0] > '9' {
					assert.Contains(t, given, a, "%s: %s asks for it", path, key)
				}
			}
			for _, g := range given {
				assert.Contains(t, append(asks, "count"), g, "%s: %s does not say it", path, key)
			}
			return true
		})
	})
	old, err := os.ReadFile(filepath.Join("core", "words", "en", "retired.json"))
	require.NoError(t, err)
	var retired map[string]string
	require.NoError(t, json.Unmarshal(old, &retired))
	for key := range retired { // what records made by earlier versions say
		assert.False(t, used[key], "%s is retired, and said", key)
	}
	for _, key := range slices.Sorted(maps.Keys(known)) {
		byID := slices.ContainsFunc(built, func(p string) bool { return strings.HasPrefix(key, p) })
		if retired[key] == "" && !used[key] && !byID {
			t.Errorf("nothing asks for the words of %s", key)
		}
	}
}

// Every language says the same: the same keys, the same arguments, no hole left open.
func TestLanguagesSayTheSame(t *testing.T) {
	english, err := words.Texts(words.English)
	require.NoError(t, err)
	for _, lang := range words.Languages {
		texts, err := words.Texts(lang)
		require.NoError(t, err)
		for key, text := range texts {
			assert.Contains(t, english, key, "%s: English does not know it", lang)
			assert.Equal(t, holesOf(english[key]), holesOf(text), "%s: %s", lang, key)
			assert.NotContains(t, hole.ReplaceAllString(text, ""), "{", "%s: %s", lang, key)
			assert.NotEmpty(t, strings.TrimSpace(text), "%s: %s", lang, key)
		}
		for key := range english {
			assert.Contains(t, texts, key, "%s lacks it", lang)
		}
	}
}

// No sentence stands in the core's source: what is shown is in the catalogue. A literal
// of two words or more is an error for the log, a document's description or a source.
func TestTheCoreHoldsNoSentence(t *testing.T) {
	sentence := regexp.MustCompile(`^[A-Z][a-z']+ [a-z]+ [a-z].*[.?:]$`)
	source(t, func(path string, f *ast.File) {
		if !strings.HasPrefix(path, "core/") || path == filepath.Join("core", "diagnosis", "numbers.go") {
			return
		}
		ast.Inspect(f, func(n ast.Node) bool {
			if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
				s, _ := strconv.Unquote(lit.Value)
				assert.False(t, sentence.MatchString(s), "%s: %q", path, s)
			}
			return true
		})
	})
}
