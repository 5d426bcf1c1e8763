//go:build js && wasm

// Command fairlap-wasm is the core for a browser's worker: what the server would answer at a
// stop, from the pack that the device has, when there is no line.
package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"syscall/js"
	"time"

	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/units"
	"fairlap/core/words"
)

// question is what a page asks: a stop's pack with its zone, what was found there, when, and
// who reads it.
type question struct {
	Pack     judge.Pack     `json:"pack"`
	Zone     []byte         `json:"zone"`
	Findings judge.Findings `json:"findings"`
	At       time.Time      `json:"at"`
	Lang     words.Lang     `json:"lang"`
	Units    units.System   `json:"units"`
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

// answer judges, in the reader's words: the verdict, or why what was typed can't be judged.
func answer(asked string) (verdict, refusal []byte, err error) {
	var q question
	if err := json.Unmarshal([]byte(asked), &q); err != nil {
		return nil, nil, fmt.Errorf("reading the question: %w", err)
	}
	zone, err := time.LoadLocationFromTZData(q.Pack.Zone, q.Zone)
	if err != nil {
		return nil, nil, fmt.Errorf("reading the zone: %w", err)
	}
	reader := words.Printer{Lang: q.Lang, Units: q.Units}
	stop, err := q.Pack.ReadyIn(zone)
	if err != nil {
		return nil, nil, err
	}
	v, _, err := stop.Judge(q.Findings, q.At, nil)
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
	verdict, err = reader.Marshal(v)
	return verdict, nil, err
}

// http422 is what the server refuses a figure with.
const http422 = 422

func main() {
	js.Global().Set("fairlapJudge", js.FuncOf(func(_ js.Value, args []js.Value) any {
		verdict, refusal, err := answer(args[0].String())
		if err != nil {
			return map[string]any{"error": err.Error()}
		}
		return map[string]any{"verdict": string(verdict), "refusal": string(refusal)}
	}))
	select {} // it answers as long as the worker lives
}
