package standing

import (
	"encoding/json"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/stop"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// LeftOf is what a visit left unlike daily use; nil for nothing.
func LeftOf(v *store.Visit) *stop.Left {
	if len(v.LeftOpen) == 0 {
		return nil
	}
	var out stop.Left
	if json.Unmarshal(v.LeftOpen, &out) != nil || len(out.Open) == 0 {
		return nil
	}
	return &out
}

// OpenConfirmed marks a visit whose first suspect was not settled.
const OpenConfirmed = "open:"

// OpenSuspect is the suspect that a visit left open by what it confirmed, and its name; empty
// for none.
func OpenSuspect(confirmed string, kind pad.FilterKind) (fault.ID, words.Message) {
	id, ok := strings.CutPrefix(confirmed, OpenConfirmed)
	if !ok {
		return "", ""
	}
	f, ok := fault.LookUp(fault.ID(id), kind)
	if !ok {
		return "", ""
	}
	return f.ID, words.Of("app.low", "name", words.Msg(f.Name))
}

// FilterWords say what filter a pad has.
func FilterWords(g *upkeep.Gear) words.Message {
	if g.Kind == pad.Unknown {
		return "app.pad-not-described"
	}
	return words.Of(
		"app.filter",
		"kind",
		words.Msg(words.Message("pad.kind."+string(g.Kind))),
		"model",
		words.Name(g.Model),
	)
}

// NothingFound marks a visit at which the suspects were looked into in vain.
const NothingFound = "nothing"
