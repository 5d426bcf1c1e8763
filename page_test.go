package fairlap

import (
	"encoding/json"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// pageTexts are the page's words in a language, by their dotted keys.
func pageTexts(t *testing.T, lang string) map[string]string {
	b, err := os.ReadFile(filepath.Join("web", "src", "i18n", lang+".json"))
	require.NoError(t, err)
	var tree map[string]any
	require.NoError(t, json.Unmarshal(b, &tree))
	out := map[string]string{}
	var walk func(at string, v any)
	walk = func(at string, v any) {
		switch v := v.(type) {
		case map[string]any:
			for k, one := range v {
				walk(strings.TrimPrefix(at+"."+k, "."), one)
			}
		case string:
			out[at] = v
		default:
			t.Errorf("%s: %s is no text", lang, at)
		}
	}
	walk("", tree)
	return out
}

var plural = regexp.MustCompile(`_(zero|one|other)$`)

// The page's languages say the same: the same keys, the same arguments, nothing empty.
func TestThePagesLanguagesSayTheSame(t *testing.T) {
	english, spanish := pageTexts(t, "en"), pageTexts(t, "es")
	for key, text := range english {
		if assert.Contains(t, spanish, key) {
			assert.Equal(t, holesOf(text), holesOf(spanish[key]), key)
			assert.NotEmpty(t, strings.TrimSpace(spanish[key]), key)
		}
	}
	for key := range spanish {
		assert.Contains(t, english, key)
	}
}

// Every key that the page asks for is in the catalogue, and every one in it is asked for:
// by itself, or by the part of it that stands before what is put in.
func TestThePageAsksForWhatItsCatalogueHas(t *testing.T) {
	var exact, begun []string
	key := regexp.MustCompile("[\"`]([a-z][A-Za-z0-9]*(?:\\.[A-Za-z0-9_-]+)*)(\\.?)(\\$\\{|[\"`])")
	asked := regexp.MustCompile("\\bt\\(\\s*\"([A-Za-z0-9_.-]+)\"")
	texts := pageTexts(t, "en")
	has := func(k string) bool {
		_, one := texts[k]
		_, many := texts[k+"_other"]
		return one || many
	}
	require.NoError(t, filepath.WalkDir(filepath.Join("web", "src"), func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasPrefix(filepath.Ext(path), ".ts") ||
			strings.HasSuffix(path, ".d.ts") {
			return err
		}
		b, err := os.ReadFile(path)
		require.NoError(t, err)
		for _, m := range asked.FindAllStringSubmatch(string(b), -1) {
			assert.True(t, has(m[1]), "%s asks for %s", path, m[1])
		}
		for _, m := range key.FindAllStringSubmatch(string(b), -1) {
			if m[3] == "${" {
				begun = append(begun, m[1]+m[2])
			} else {
				exact = append(exact, m[1])
			}
		}
		return nil
	}))
	for k := range texts {
		base := plural.ReplaceAllString(k, "")
		if !slices.Contains(exact, base) &&
			!slices.ContainsFunc(
				begun,
				func(b string) bool { return strings.HasPrefix(base, b) && strings.Contains(b, ".") },
			) {
			t.Errorf("nothing asks for the page's words of %s", k)
		}
	}
}
