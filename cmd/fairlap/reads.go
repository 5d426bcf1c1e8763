package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"slices"

	"github.com/spf13/cobra"

	"fairlap/core/units"
	"fairlap/core/words"
)

// reads are the flags of what somebody reads.
type reads struct{ lang, units string }

func (r *reads) flags(cmd *cobra.Command) {
	cmd.Flags().StringVar(&r.lang, "lang", string(words.English), "language: en, es")
	cmd.Flags().StringVar(&r.units, "units", string(units.US), "units: us, metric")
}

// printer is the printer that the flags ask for.
func (r *reads) printer() (*printer, error) {
	p := words.Printer{Lang: words.Lang(r.lang), Units: units.System(r.units)}
	if !slices.Contains(words.Languages, p.Lang) {
		return nil, fmt.Errorf("--lang: there is no language %q; there are %v", r.lang, words.Languages)
	}
	if p.Units != units.US && p.Units != units.Metric {
		return nil, fmt.Errorf("--units: there are us and metric, not %q", r.units)
	}
	return &printer{Printer: p}, nil
}

// printer writes lines of messages.
type printer struct {
	words.Printer
	out io.Writer
}

// line writes a message on a line of its own.
func (p *printer) line(key string, pairs ...any) { fmt.Fprintln(p.out, p.Say(words.Of(key, pairs...))) }

// asJSON writes a value with its messages in words.
func (p *printer) asJSON(v any) error {
	b, err := p.Marshal(v)
	if err != nil {
		return fmt.Errorf("writing JSON: %w", err)
	}
	var out bytes.Buffer
	if err := json.Indent(&out, b, "", "  "); err != nil {
		return fmt.Errorf("writing JSON: %w", err)
	}
	out.WriteByte('\n')
	_, err = out.WriteTo(p.out)
	return err
}
