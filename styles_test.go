package fairlap

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var (
	cssComment = regexp.MustCompile(`(?s)/\*.*?\*/`)
	cssGlobal  = regexp.MustCompile(`:global\([^)]*\)`)
	cssBody    = regexp.MustCompile(`\{[^{}]*\}`)
	cssClass   = regexp.MustCompile(`\.([a-zA-Z][\w-]*)`)
	rawColour  = regexp.MustCompile(`#[0-9a-fA-F]{3,8}\b|\b(?:rgb|hsl)a?\(`)
)

// Every class of a module is put somewhere beside it, and every one that is put is there;
// what a browser calls it is nobody else's name.
func TestStylesAreThoseThatArePut(t *testing.T) {
	called := map[string]string{}
	require.NoError(t, filepath.WalkDir(filepath.Join("web", "src"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".module.css") {
			return err
		}
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		css := cssGlobal.ReplaceAllString(cssComment.ReplaceAllString(string(b), ""), "")
		has := map[string]bool{}
		of := strings.SplitN(filepath.Base(path), ".", 2)[0]
		for _, m := range cssClass.FindAllStringSubmatch(cssBody.ReplaceAllString(css, "{}"), -1) {
			if has[m[1]] {
				continue
			}
			has[m[1]] = true
			name := m[1]
			if !strings.HasPrefix(name, of) {
				name = of + "-" + name
			}
			assert.Empty(t, called[name], "%s and .%s of %s are the same in a browser", called[name], m[1], path)
			called[name] = "." + m[1] + " of " + path
		}
		put := map[string]bool{}
		pages, err := filepath.Glob(filepath.Join(filepath.Dir(path), "*.tsx"))
		require.NoError(t, err)
		for _, page := range pages {
			b, err := os.ReadFile(page)
			require.NoError(t, err)
			if !strings.Contains(string(b), `import styles from "./`+filepath.Base(path)+`"`) {
				continue
			}
			for _, m := range regexp.MustCompile(`\bstyles(?:\.([a-zA-Z]\w*)|\["([\w-]+)"\]|\[[a-z])`).FindAllStringSubmatch(string(b), -1) {
				if m[1]+m[2] == "" { // by a name that is worked out: any of them
					for c := range has {
						put[c] = true
					}
				}
				put[m[1]+m[2]] = true
			}
		}
		delete(put, "")
		for c := range put {
			assert.True(t, has[c], "%s has no .%s", path, c)
		}
		for c := range has {
			assert.True(t, put[c], "nothing puts .%s of %s", c, path)
		}
		return nil
	}))
}

// Colours come from the tokens alone.
func TestColoursComeFromTheTokens(t *testing.T) {
	require.NoError(t, filepath.WalkDir(filepath.Join("web", "src"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || filepath.Base(path) == "tokens.css" ||
			!(strings.HasSuffix(path, ".css") || strings.HasSuffix(path, ".tsx")) {
			return err
		}
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		for i, line := range strings.Split(string(b), "\n") {
			for _, m := range rawColour.FindAllString(line, -1) {
				if strings.HasSuffix(path, ".tsx") && !strings.Contains(line, "fill") &&
					!strings.Contains(line, "olor") {
					continue // an address of a place on the page
				}
				t.Errorf("%s:%d: %s", path, i+1, m)
			}
		}
		return nil
	}))
}
