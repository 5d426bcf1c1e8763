package standing

import (
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// OpenConfirmed marks a visit whose first suspect was not settled.
const OpenConfirmed = "open:"

// OpenSuspect is the suspect that a visit left open, and its name; empty for none.
func OpenSuspect(v store.Visit, kind pad.FilterKind) (fault.ID, words.Message) {
	id, ok := strings.CutPrefix(v.Confirmed, OpenConfirmed)
	if !ok {
		return "", ""
	}
	f, ok := fault.LookUp(fault.ID(id), kind)
	if !ok {
		return "", ""
	}
	return f.ID, words.Of("app.low", "name", words.Msg(f.Name))
}

// FilterWords say what pump and filter a pad has.
func FilterWords(d *pad.Document) words.Message {
	return words.Of(
		"app.filter",
		"kind",
		words.Msg(words.Message("pad.kind."+string(d.Filter.Kind))),
		"model",
		words.Name(d.Filter.Model),
	)
}

// NothingFound marks a visit at which the suspects were looked into in vain.
const NothingFound = "nothing"
