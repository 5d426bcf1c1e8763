package figure

import (
	_ "embed" // the rules
	"encoding/json"
	"regexp"
	"strings"
)

//go:embed rules.json
var rulesJSON []byte

// written are the rules of typed figures, which the page reads from the same file: signs
// that stand for a plainer one, whatever the keyboard; how a number may look; and, by
// unit, what is believable.
var written = readRules()

type ruleFile struct {
	Fold     map[string]string
	Patterns struct{ Digits, Bare, Fraction, Spaced, Both, Grouped string }
	Spans    map[string]Span
}

func readRules() (r ruleFile) {
	if err := json.Unmarshal(rulesJSON, &r); err != nil {
		panic("figure: rules.json: " + err.Error()) // ours, read by every test
	}
	return r
}

var (
	folded   = foldsOf(written.Fold)
	digits   = regexp.MustCompile(written.Patterns.Digits)
	bare     = regexp.MustCompile(written.Patterns.Bare)
	fraction = regexp.MustCompile(written.Patterns.Fraction)
	spaced   = regexp.MustCompile(written.Patterns.Spaced)
	both     = regexp.MustCompile(written.Patterns.Both)
	grouped  = regexp.MustCompile(written.Patterns.Grouped)
)

func foldsOf(m map[string]string) *strings.Replacer {
	var pairs []string
	for sign, plainer := range m {
		pairs = append(pairs, sign, plainer)
	}
	return strings.NewReplacer(pairs...)
}

func plain(text string) string { return strings.TrimSpace(folded.Replace(text)) }
