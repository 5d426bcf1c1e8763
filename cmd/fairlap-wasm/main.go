//go:build js && wasm

// Command fairlap-wasm is the core for a browser's worker: what the server would answer, from
// what the device has of a pool, when there is no line.
package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"syscall/js"
	"time"

	"fairlap/core/figure"
	"fairlap/core/guided"
	"fairlap/core/inspection"
	"fairlap/core/judge"
	"fairlap/core/practice"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// question is what a page asks of a pool: by its pack with its zone, what it wants to know, when,
// and who reads it.
type question struct {
	Pack  judge.Pack   `json:"pack"`
	Zone  []byte       `json:"zone"`
	At    time.Time    `json:"at"`
	Lang  words.Lang   `json:"lang"`
	Units units.System `json:"units"`
	// Runs of the stop whose steps are not all on record, with what was done on the device.
	Runs []follow `json:"runs"`
	// One of these.
	Findings *judge.Findings `json:"findings"`
	File     bool            `json:"file"` // the findings' stop as a file, instead of a verdict
	Begin    *begin          `json:"begin"`
	Follow   *follow         `json:"follow"`
	Inspect  *inspect        `json:"inspect"`
	// Of no pool, without a pack: a practice case as far as it was worked, or which there are.
	Practice *practice.Ask `json:"practice"`
	Cases    bool          `json:"cases"`
}

// begin asks for a run written out.
type begin struct {
	guided.Run
	guided.Ask
	Hold *upkeep.Hold `json:"hold"`
}

// follow asks how a run stands after what was done on the device.
type follow struct {
	Run   guided.Run     `json:"run"`
	Queue []guided.Typed `json:"queue"`
}

// inspect asks for the findings of an inspection.
type inspect struct {
	Facts   inspection.Facts   `json:"facts"`
	Answers inspection.Answers `json:"answers"`
}

// found are an inspection's findings, and how they stand against those before.
type found struct {
	Findings []inspection.Finding `json:"findings"`
	Mended   []words.Message      `json:"mended"`
	New      []words.Message      `json:"new"`
}

// problem is a refusal in the form that the server gives it (RFC 9457).
type problem struct {
	Status int     `json:"status"`
	Detail string  `json:"detail"`
	Errors []field `json:"errors"`
}

type field struct {
	Location string `json:"location"`
	Message  string `json:"message"`
}

// answer answers in the reader's words, or says why what was typed can't be answered.
func answer(asked string) (said, refusal []byte, err error) {
	var q question
	if err := json.Unmarshal([]byte(asked), &q); err != nil {
		return nil, nil, fmt.Errorf("reading the question: %w", err)
	}
	if q.Practice != nil || q.Cases {
		return q.practised()
	}
	zone, err := time.LoadLocationFromTZData(q.Pack.Zone, q.Zone)
	if err != nil {
		return nil, nil, fmt.Errorf("reading the zone: %w", err)
	}
	reader := words.Printer{Lang: q.Lang, Units: q.Units}
	at, err := q.Pack.ReadyIn(zone)
	if err != nil {
		return nil, nil, err
	}
	v, err := q.answer(at)
	var fields figure.FieldErrors
	if errors.As(err, &fields) {
		p := problem{Status: http422, Detail: reader.Say("api.some-of-what-was-typed")}
		for _, f := range fields {
			p.Errors = append(p.Errors, field{f.Field, reader.Say(f.Text)})
		}
		refusal, err = json.Marshal(p)
		return nil, refusal, err
	}
	if err != nil {
		return nil, nil, err
	}
	said, err = reader.Marshal(v)
	return said, nil, err
}

// desk keeps the case that is being worked ready.
var desk practice.Desk

// practised is how a practice case stands.
func (q *question) practised() (said, refusal []byte, err error) {
	reader := words.Printer{Lang: q.Lang, Units: q.Units}
	if q.Cases {
		said, err = reader.Marshal(practice.Rows())
		return said, nil, err
	}
	out, err := desk.Answer(*q.Practice)
	if err != nil {
		return nil, nil, err
	}
	said, err = reader.Marshal(out)
	return said, nil, err
}

// answer is the answer of a stop as all that happened there leaves it.
func (q *question) answer(at *judge.Stop) (any, error) {
	for i := range q.Runs {
		f := &q.Runs[i]
		if err := f.events(at); err != nil {
			return nil, err
		}
		e, err := f.Run.Entry()
		if err != nil {
			return nil, err
		}
		at.Book = stop.Merge(at.Book, stop.Book{e})
	}
	return q.of(at)
}

// of is the answer to what is asked of a stop.
func (q *question) of(at *judge.Stop) (any, error) {
	switch {
	case q.Begin != nil:
		return q.Begin.of(at, q.At)
	case q.Follow != nil:
		return q.Follow.of(at, q.At)
	case q.Inspect != nil:
		return q.Inspect.of(at)
	case q.File && q.Findings != nil:
		f, err := at.File(*q.Findings, q.At)
		if err != nil {
			return nil, err
		}
		text, err := json.Marshal(f)
		return json.RawMessage(text), err // its messages as they are kept
	case q.Findings != nil:
		v, _, err := at.Judge(*q.Findings, q.At, nil)
		return v, err
	}
	return nil, errors.New("nothing is asked")
}

func (b *begin) of(at *judge.Stop, now time.Time) (any, error) {
	if b.Hold != nil && !b.Hold.Until.After(now) {
		b.Hold = nil // it has passed since the device was told
	}
	script, err := guided.Begin(at, b.Ask, b.Hold, now)
	if err != nil {
		return nil, err
	}
	b.Script, b.StartedAt = script, now
	return guided.View(at, &b.Run, now)
}

// events puts what was done on the device to the run's events.
func (f *follow) events(at *judge.Stop) error {
	for i, e := range f.Queue {
		reading, errs := e.Read(fmt.Sprintf("events[%d]", i), at.Model)
		if len(errs) > 0 {
			return errs
		}
		f.Run.Events = append(f.Run.Events, e.Event(e.At, reading, f.Run.By))
	}
	f.Queue = nil
	return nil
}

func (f *follow) of(at *judge.Stop, now time.Time) (any, error) {
	if err := f.events(at); err != nil {
		return nil, err
	}
	return guided.View(at, &f.Run, now)
}

func (i *inspect) of(at *judge.Stop) (any, error) {
	in := &inspection.Installation{Model: at.Model, Pool: units.Gallons(at.Gallons), Facts: i.Facts}
	now, err := inspection.Judge(in, i.Answers)
	if err != nil {
		return nil, err
	}
	out := found{Findings: now}
	out.Mended, out.New = inspection.Since(i.Facts.Before, now, i.Answers)
	return out, nil
}

// http422 is what the server refuses a figure with.
const http422 = 422

func main() {
	js.Global().Set("fairlapWords", js.FuncOf(func(_ js.Value, args []js.Value) any {
		if err := words.Learn(words.Lang(args[0].String()), []byte(args[1].String())); err != nil {
			return err.Error()
		}
		return ""
	}))
	js.Global().Set("fairlapAnswer", js.FuncOf(func(_ js.Value, args []js.Value) (out any) {
		defer func() { // the page begins anew with another worker: what this one holds may be half done
			if v := recover(); v != nil {
				out = map[string]any{"error": fmt.Sprint(v), "broken": true}
			}
		}()
		said, refusal, err := answer(args[0].String())
		if err != nil {
			return map[string]any{"error": err.Error()}
		}
		return map[string]any{"answer": string(said), "refusal": string(refusal)}
	}))
	select {} // it answers as long as the worker lives
}
