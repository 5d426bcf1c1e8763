package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/words"
)

func diagnoseCommand() *cobra.Command {
	var asJSON bool
	var r reads
	cmd := &cobra.Command{
		Use: "diagnose FILE.json", Args: cobra.ExactArgs(1),
		Short: "Suspects, reasons and the next check for a case or a saved stop, without server or database",
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := r.printer()
			if err != nil {
				return err
			}
			p.out = cmd.OutOrStdout()
			return p.diagnose(args[0], asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON: of a case `fairlap schema answer`, of a stop the page's verdict")
	r.flags(cmd)
	return cmd
}

func (p *printer) diagnose(file string, asJSON bool) error {
	text, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	if isStop(text) {
		return p.stop(file, text, asJSON)
	}
	c, errs := casefile.Read(bytes.NewReader(text))
	if len(errs) > 0 {
		return p.mistakes(file, errs)
	}
	ec, err := c.Engine()
	if err != nil {
		return err
	}
	r, err := diagnosis.Diagnose(ec)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	a := casefile.Write(r)
	if asJSON {
		return p.asJSON(a)
	}
	p.answer(c.Title, &a)
	return nil
}

// isStop tells a saved stop from a case.
func isStop(text []byte) bool {
	var top map[string]json.RawMessage
	_ = json.Unmarshal(text, &top) // what reads the file says what is wrong with it
	return top["pack"] != nil
}

// stop prints the verdict on a saved stop: as the page has it, or as a case's answer under the page's headline.
func (p *printer) stop(file string, text []byte, asJSON bool) error {
	f, errs := judge.ReadFile(bytes.NewReader(text))
	if len(errs) > 0 {
		return p.mistakes(file, errs)
	}
	v, res, err := f.Judge()
	var fields figure.FieldErrors
	if errors.As(err, &fields) {
		for _, e := range fields {
			errs = append(errs, pad.FieldError{Path: "findings." + e.Field, Text: e.Text})
		}
		return p.mistakes(file, errs)
	}
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	if asJSON {
		return p.asJSON(v)
	}
	a := casefile.Write(res)
	a.Verdict = v.Text
	p.answer(f.Pack.Pool, &a)
	return nil
}

func (p *printer) answer(title string, a *casefile.Answer) {
	for _, d := range a.Dangers {
		p.line("cli.danger", "says", words.Msg(d.Text))
	}
	if title != "" {
		fmt.Fprintln(p.out, title)
	}
	fmt.Fprintln(p.out, p.Say(a.Verdict))
	if a.Misfit != "" {
		fmt.Fprintln(p.out, p.Say(a.Misfit))
	}
	if c := a.Changed; c != nil {
		was := make([]words.Message, len(c.Was))
		for i, w := range c.Was {
			was[i] = words.Of("cli.chance-of", "name", words.Msg(w.Name), "p", words.Share(w.P))
		}
		p.line("cli.before-work", "work", words.Msg(c.Work), "was", words.List(words.Comma, was...))
	}
	for _, f := range a.Found {
		p.line("cli.found", "name", words.Msg(f.Name), "mend", words.Msg(f.Mend), "says", words.Msg(f.Text))
	}
	for _, id := range a.Unknown {
		p.line("cli.not-explained", "sign", words.Msg(words.Message("sign."+id+".name")))
	}
	for i, s := range a.Suspects {
		p.suspect(i, &s)
	}
	p.line("cli.something-else", "p", words.Share(a.Other))
	p.line("cli.load", "load", words.Share(a.Load), "sd", words.Share(a.LoadSD))
	if len(a.Alike) > 0 {
		p.line("cli.alike", "names", words.List(words.Comma, a.Alike...))
	}
	for _, c := range a.Chronic {
		p.line("cli.beside", "name", words.Msg(c.Name), "p", words.Share(c.P), "says", words.Msg(c.Text))
	}
	if n := len(a.FixOrder); n > 1 {
		fixes := make([]words.Message, n)
		for i, f := range a.FixOrder {
			fixes[i] = words.Of("cli.fix", "fix", words.Msg(f.Fix), "minutes", words.Q("min", f.Minutes))
		}
		p.line(
			"cli.fix-order",
			"minutes",
			words.Q("min", a.FixOrder[n-1].Spent),
			"fixes",
			words.List(words.Stop, fixes...),
		)
	}
	for _, n := range a.Next {
		p.line(
			"cli.next",
			"look",
			words.Msg(n.Look),
			"minutes",
			words.QD("min", n.Minutes, -1),
			"caution",
			words.Msg(n.Caution),
		)
	}
}

// told is how likely a suspect must be for its reasons to be told, and how many are.
const (
	toldFrom = 0.05
	toldMost = 3
)

func (p *printer) suspect(i int, s *casefile.Suspect) {
	name := s.Name
	if s.Place != "" {
		name = words.Of("cli.at-place", "name", words.Msg(s.Name), "place", words.Msg(s.Place))
	}
	fmt.Fprintf(p.out, "%5s  %s\n", p.Say(words.Of("cli.share", "p", words.Share(s.P))), p.Say(name))
	if i >= toldMost || s.P < toldFrom {
		return
	}
	under := func(key string, text words.Message) {
		if text != "" {
			fmt.Fprintf(p.out, "         %s\n", p.Say(words.Of(key, "says", words.Msg(text))))
		}
	}
	for _, e := range s.For {
		under("cli.for", e)
	}
	for _, e := range s.Against {
		under("cli.against", e)
	}
	under("cli.caution", s.Caution)
	under("cli.settles", s.Settle)
	fix := []words.Message{s.Fix}
	if s.Minutes > 0 {
		fix = append(fix, words.Of("cli.about", "minutes", words.Q("min", s.Minutes)))
	}
	if s.Who != "" {
		fix = append(fix, words.Of("cli.for-a", "who", words.Msg(s.Who)))
	}
	under("cli.mends", words.Join(words.Stop, fix...))
}
