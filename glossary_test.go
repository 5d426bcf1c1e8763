package fairlap

import (
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/words"
)

// longestSentence is how many words a person reads at a pad in one go.
const longestSentence = 24

// banned are the words that the glossary keeps out, by language, in its own order of columns.
func banned(t *testing.T) map[words.Lang]*regexp.Regexp {
	t.Helper()
	page, err := os.ReadFile(filepath.Join("docs", "glossary.md"))
	require.NoError(t, err)
	not := map[words.Lang][]string{}
	for _, line := range strings.Split(string(page), "\n") {
		cells := strings.Split(line, "|")
		if len(cells) != 7 || strings.HasPrefix(line, "|--") || strings.HasPrefix(line, "| thing") {
			continue
		}
		for lang, column := range map[words.Lang]int{words.English: 4, words.Spanish: 5} {
			for _, w := range strings.Split(cells[column], ",") {
				if w = strings.TrimSpace(w); w != "" {
					not[lang] = append(not[lang], regexp.QuoteMeta(w))
				}
			}
		}
	}
	out := map[words.Lang]*regexp.Regexp{}
	for lang, ws := range not {
		require.Greater(t, len(ws), 5, lang)
		out[lang] = regexp.MustCompile(`(?i)(^|[^\p{L}])(` + strings.Join(ws, "|") + `)(s|es)?([^\p{L}]|$)`)
	}
	return out
}

var sentenceEnd = regexp.MustCompile(`[.!?:]\s+`)

// unglossedAt says what is against the glossary in a text; "" for nothing.
func unglossedAt(text string, not *regexp.Regexp) string {
	text = hole.ReplaceAllString(text, "X")
	if strings.Contains(text, ";") {
		return "a semicolon"
	}
	if m := not.FindString(text); m != "" {
		return "the word " + strings.TrimSpace(m)
	}
	for _, s := range sentenceEnd.Split(text, -1) {
		if len(strings.Fields(s)) > longestSentence {
			return "a sentence over 24 words"
		}
	}
	return ""
}

// Every sentence that a person reads keeps to the glossary: one word a thing, short sentences, no semicolon.
func TestTheWordsAreTheTradesOwn(t *testing.T) {
	not := banned(t)
	read := 0
	for _, lang := range words.Languages {
		all, err := words.Texts(lang)
		require.NoError(t, err)
		old, err := os.ReadFile(filepath.Join("core", "words", string(lang), "retired.json"))
		require.NoError(t, err)
		maps.Copy(all, pageTexts(t, string(lang)))
		for _, key := range slices.Sorted(maps.Keys(all)) {
			if strings.Contains(string(old), `"`+key+`"`) {
				continue
			}
			read++
			assert.Empty(t, unglossedAt(all[key], not[lang]), "%s: %s: %s", lang, key, all[key])
		}
	}
	assert.Greater(t, read, 9000)
}

// What the rules keep out is seen where it is, and not in a longer word.
func TestTheGlossaryFindsWhatItKeepsOut(t *testing.T) {
	not := banned(t)[words.English]
	assert.Equal(t, "the word pot", unglossedAt("Fill the pot with water", not))
	assert.Equal(t, "a semicolon", unglossedAt("Pump off; then look.", not))
	assert.Equal(t, "a sentence over 24 words", unglossedAt(strings.Repeat("word ", 25), not))
	assert.Empty(t, unglossedAt(strings.Repeat("word ", 24)+". "+strings.Repeat("word ", 24), not))
	assert.Empty(t, unglossedAt("The potential spot in {{pot}}", not))
}
