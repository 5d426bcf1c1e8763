package company

import (
	"strings"

	"fairlap/core/words"
)

// ownNotes begin the keys of what the program itself notes.
var ownNotes = []string{"app.pad-follows.", "app.anode-year-read", "app.guided-run", "procedure.", "inspection."}

// NoteOf is what a row is noted with, or a picture called: words of ours by their key, or
// what somebody typed.
func NoteOf(kept string) words.Message {
	m := words.Message(kept)
	for _, own := range ownNotes {
		if strings.HasPrefix(kept, own) && words.Has(m.Key()) {
			return m
		}
	}
	return words.Named(kept)
}
