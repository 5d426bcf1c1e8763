package words

import (
	"regexp"
	"strings"
)

// Stretched is nobody's language: English with accents and a third longer. A screen in it
// shows what another language would cut, and which words are in no catalogue. It is never
// offered to a reader.
const Stretched Lang = "en-XA"

var vowels = strings.NewReplacer("a", "áà", "e", "éè", "i", "íì", "o", "óò", "u", "úù",
	"A", "ÁÀ", "E", "ÉÈ", "I", "ÍÌ", "O", "ÓÒ", "U", "ÚÙ")

var stretches = regexp.MustCompile(`\{\{[^{}]*\}\}|[^{}]+`)

// Stretch doubles and accents a text's vowels outside its holes.
func Stretch(text string) string {
	return stretches.ReplaceAllStringFunc(text, func(s string) string {
		if strings.HasPrefix(s, "{{") {
			return s
		}
		return vowels.Replace(s)
	})
}
