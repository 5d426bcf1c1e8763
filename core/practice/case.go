// Package practice is made-up pads with something hidden, worked like real ones: the
// product's own network, state machine and engine make the case, answer whoever works
// it, and say afterwards what a better order would have cost. It keeps nothing between
// calls, and the same seed gives the same case.
package practice

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"

	"fairlap/core/fault"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// Level is how hard a case is.
type Level string

// The levels.
const (
	FirstWeek Level = "first-week"
	Season    Level = "season"
	OldHand   Level = "old-hand"
)

// Levels lists them, easiest first.
var Levels = []Level{FirstWeek, Season, OldHand}

// Theme is what a case is about.
type Theme string

// The themes.
const (
	Air        Theme = "air"
	Suction    Theme = "suction"
	Filter     Theme = "filter"
	SpaValves  Theme = "spa"
	Electrical Theme = "electrical" // and what to leave to others
	Holding    Theme = "holding"    // a pump that holds its flow
	Small      Theme = "small"
	Opening    Theme = "opening" // in spring
)

// Themes lists them.
var Themes = []Theme{Air, Suction, Filter, SpaValves, Electrical, Holding, Small, Opening}

// Case is a case as a file. What is hidden stands in it: whoever works it is shown a View.
type Case struct {
	ID    string        `json:"id" pattern:"^[a-z0-9][a-z0-9-]*$" maxLength:"60"`
	Title words.Message `json:"title" maxLength:"400" doc:"says nothing of what is wrong"`
	Story words.Message `json:"story" maxLength:"1200" doc:"what is known before anybody looks"`
	// Lesson is told at the end.
	Lesson words.Message `json:"lesson,omitempty" maxLength:"1200" doc:"what the case teaches, told at the end"`
	Level  Level         `json:"level" enum:"first-week,season,old-hand"`
	Theme  Theme         `json:"theme" enum:"air,suction,filter,spa,electrical,holding,small,opening"`
	// Pad is one of the library, or Document is one of its own.
	Pad      string        `json:"pad,omitempty" enum:",cartridge,grids,holds-flow,sand-single,sand-spa,sand-speeds,slide-two,small-unit" doc:"a pad of the library; left out, document describes one"`
	Document *pad.Document `json:"document,omitempty"`
	Month    int           `json:"month" minimum:"1" maximum:"12"`
	Load     float64       `json:"load" minimum:"0" maximum:"3" doc:"what the filter really carries, 1 is its limit"`
	Forecast float64       `json:"forecast" minimum:"0" maximum:"3" doc:"what the pool's record expects that it carries"`
	Hidden   []Hidden      `json:"hidden" maxItems:"2" nullable:"false" doc:"what is wrong; empty: nothing is"`
	Called   bool          `json:"called,omitempty" doc:"somebody called: no routine visit"`
	// Told are signs that the story tells: nobody need look.
	Told map[fault.Sign]bool `json:"told,omitempty"`
	// Shows overrides what chance would have a sign show while anything hidden is there.
	Shows map[fault.Sign]bool `json:"shows,omitempty"`
	// Typical has every sign show what it most often does: for beginners.
	Typical bool `json:"typical,omitempty"`
	// Parts is the discrimination that it teaches.
	Parts *Parts `json:"parts,omitempty"`
	Seed  uint64 `json:"seed" doc:"of what meters and signs leave to chance"`
}

// Hidden is one fault, where it sits and how bad it is.
type Hidden struct {
	Fault fault.ID `json:"fault" maxLength:"40"`
	Place int      `json:"place,omitempty" minimum:"0" maximum:"20" doc:"of the places that it can have on this pad, from 0"`
	Step  int      `json:"step,omitempty" minimum:"0" maximum:"10" doc:"of its severities, from 0"`
}

// Parts is two faults that look alike, and what tells them apart.
type Parts struct {
	This fault.ID `json:"this" maxLength:"40" doc:"what it is"`
	That fault.ID `json:"that" maxLength:"40" doc:"what it is taken for"`
	// ThatPlace is where that sits, of two places of one fault.
	ThatPlace int          `json:"thatPlace,omitempty" minimum:"0" maximum:"20" doc:"of two places of one fault: where the other sits"`
	Signs     []fault.Sign `json:"signs,omitempty" maxItems:"6" doc:"looks that part them"`
	Reads     []Way        `json:"reads,omitempty" maxItems:"4" doc:"or readings in these ways"`
}

// Way is a way of running a pad for a reading.
type Way struct {
	Set string  `json:"set,omitempty" enum:",filter,recirculate,spa"`
	RPM float64 `json:"rpm" minimum:"0" maximum:"4000" doc:"0: at rest, the bleed open"`
}

// largest is how many bytes of a case are read.
const largest = 1 << 20

// Read decodes and checks a case. The mistakes come with the path of the field.
func Read(r io.Reader) (*Case, []pad.FieldError) {
	var c Case
	if err := pad.Decode(r, largest, &c); err != nil {
		return nil, []pad.FieldError{*err}
	}
	return &c, c.Check()
}

// Check returns every mistake of a case.
func (c *Case) Check() []pad.FieldError {
	errs := pad.ValidatePart(c)
	add := func(path string, text words.Message) { errs = append(errs, pad.FieldError{Path: path, Text: text}) }
	d, ok := c.document()
	switch {
	case !ok:
		add("pad", words.Of("practice.no-such-pad", "pads", words.Name(strings.Join(PadNames(), ", "))))
		return errs
	case c.Pad != "" && c.Document != nil:
		add("document", "practice.a-pad-or-a-document")
	}
	for _, e := range d.Validate() {
		add("document."+e.Path, e.Text)
	}
	if len(errs) > 0 {
		return errs
	}
	for i, h := range c.Hidden {
		path := fmt.Sprintf("hidden[%d]", i)
		f, ok := known(h.Fault, &d)
		switch {
		case !ok:
			add(path+".fault", "practice.this-pad-can-t-have-it")
		case h.Fault == fault.FilterLoaded:
			if c.Load < 1 {
				add("load", "practice.a-loaded-filter-carries-1")
			}
		case h.Place >= len(f.Places(&d)):
			add(path+".place", words.Of("practice.places-of-it", "places", words.N(len(f.Places(&d)))))
		case h.Step >= len(f.Weights):
			add(path+".step", words.Of("practice.steps-of-it", "steps", words.N(len(f.Weights))))
		}
	}
	for path, signs := range map[string]map[fault.Sign]bool{"told": c.Told, "shows": c.Shows} {
		for _, id := range slices.Sorted(maps.Keys(signs)) {
			if _, ok := fault.LookUpSign(id); !ok {
				add(path+"."+string(id), "app.this-sign-is-not-known")
			}
		}
	}
	if p := c.Parts; p != nil {
		for path, id := range map[string]fault.ID{"parts.this": p.This, "parts.that": p.That} {
			if _, ok := fault.LookUp(id, d.Filter.Kind); !ok {
				add(path, "practice.this-pad-can-t-have-it")
			}
		}
	}
	slices.SortFunc(errs, func(a, b pad.FieldError) int { return strings.Compare(a.Path, b.Path) })
	if len(errs) == 0 && len(c.Hidden) == 2 && !together(&d, c.Hidden) {
		add("hidden", "practice.one-pad-can-t-have-both")
	}
	return errs
}

// document describes the case's pad; false where there is no such pad.
func (c *Case) document() (pad.Document, bool) {
	if c.Document != nil {
		return *c.Document, true
	}
	b, ok := pads[c.Pad]
	return b.document(), ok
}

// known finds a fault that can be hidden on a pad: an acute one.
func known(id fault.ID, d *pad.Document) (fault.Fault, bool) {
	if id == fault.FilterLoaded {
		return fault.Loaded(d.Filter.Kind), true
	}
	f, ok := fault.LookUp(id, d.Filter.Kind)
	return f, ok && id != fault.Healthy && !f.Chronic && f.On(d)
}

// together tells whether one pad can have two faults at once.
func together(d *pad.Document, two []Hidden) bool {
	a, b := causeOf(d, two[0]), causeOf(d, two[1])
	if a.Fault.ID == b.Fault.ID || a.place.Gauge != "" && b.place.Gauge != "" {
		return false
	}
	_, ok := a.effects().Plus(b.effects())
	return ok
}

// Same tells whether two cases are the same, whatever they are called.
func (c *Case) Same(o *Case) bool {
	a, b := *c, *o
	a.ID, b.ID = "", ""
	x, errX := json.Marshal(a)
	y, errY := json.Marshal(b)
	return errX == nil && errY == nil && bytes.Equal(x, y)
}
