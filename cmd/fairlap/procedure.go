package main

import (
	"fmt"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"fairlap/core/guided"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/procedure"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/clock"
)

// procedureOptions are what `fairlap procedure` is asked.
type procedureOptions struct {
	walk                   string
	speed, waterF, gallons float64
	short, asJSON, all     bool
}

func procedureCommand() *cobra.Command {
	var o procedureOptions
	var r reads
	cmd := &cobra.Command{
		Use:   "procedure PAD.json [ID]",
		Short: "A procedure written out for a pad, from first to last step; without an id, those that this pad has",
		Args:  cobra.RangeArgs(1, 2),
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := r.printer()
			if err != nil {
				return err
			}
			p.out = cmd.OutOrStdout()
			return p.procedures(args, &o)
		},
	}
	f := cmd.Flags()
	f.BoolVar(&o.all, "all", false, "write out every procedure that this pad has")
	f.StringVar(&o.walk, "walk", "", "a speed walk (.csv) of the clean pad to calibrate it with")
	f.Float64Var(&o.speed, "speed", 0, "speed that was read at, rpm; 0: none")
	f.Float64Var(&o.waterF, "water", 0, "water temperature, °F; 0: the usual")
	f.Float64Var(&o.gallons, "gallons", 15000, "size of the pool")
	f.BoolVar(&o.short, "short", false, "the form that a weekly visit has time for, where there is one")
	f.BoolVar(&o.asJSON, "json", false, "print the script as JSON")
	r.flags(cmd)
	return cmd
}

// stopAt is a stop at a pad that nothing is on record of.
func stopAt(m pad.Document, walk []pad.Reading, gallons float64) (*judge.Stop, error) {
	settings := upkeep.Defaults()
	model, err := judge.Fit(m, walk, &settings)
	if err != nil {
		return nil, err
	}
	p := judge.Pack{Gallons: gallons, Zone: "UTC", Pad: m, Settings: settings, Ways: procedure.DefaultWays()}
	return p.On(&judge.Calibrated{Model: model, LimitPsi: model.LimitRise.PSI()})
}

func (p *printer) procedures(args []string, o *procedureOptions) error {
	doc, walk, err := p.padAndWalk(args[0], o.walk)
	if err != nil {
		return err
	}
	at, err := stopAt(doc, walk, o.gallons)
	if err != nil {
		return err
	}
	now := clock.Now()
	setup, err := at.Setup(o.speed, o.waterF, now)
	if err != nil {
		return err
	}
	here := procedure.For(setup)
	if len(args) == 1 && !o.all {
		for _, x := range here {
			fmt.Fprintf(p.out, "%-24s %s\n", x.ID, p.Say(x.Name))
		}
		return nil
	}
	var ids []procedure.ID
	for _, x := range here {
		ids = append(ids, x.ID)
	}
	if len(args) == 2 {
		id := procedure.ID(args[1])
		if !slices.Contains(ids, id) {
			return fmt.Errorf("this pad has no procedure %q; it has %s", id, joined(ids))
		}
		ids = []procedure.ID{id}
	}
	for _, id := range ids {
		script, err := guided.Begin(at, guided.Ask{Procedure: id, Speed: o.speed, WaterF: o.waterF, Short: o.short},
			nil, now)
		if err != nil {
			return fmt.Errorf("procedure %s: %w", id, err)
		}
		if o.asJSON {
			if err := p.asJSON(script); err != nil {
				return err
			}
			continue
		}
		p.script(script)
	}
	return nil
}

func joined(ids []procedure.ID) string {
	names := make([]string, len(ids))
	for i, id := range ids {
		names[i] = string(id)
	}
	return strings.Join(names, ", ")
}

// script writes a procedure out as a person reads it: what is taken, then each step with its cautions before it.
func (p *printer) script(c *procedure.Script) {
	fmt.Fprintf(p.out, "%s\n%s\n", strings.ToUpper(p.Say(c.Name)), p.Say(c.Aim))
	p.line("cli.about", "minutes", words.Q("min", c.Minutes))
	if c.Soak > 0 {
		p.line("cli.soak", "hours", words.Q("h", c.Soak/60))
	}
	for _, x := range c.Cautions {
		p.line("cli.danger", "says", words.Msg(x))
	}
	for _, t := range c.Takes {
		fmt.Fprintf(p.out, "+ %s\n", strings.TrimSpace(p.Say(t.Name)+"  "+p.Say(t.Amount)))
	}
	numbers := map[string]int{}
	for i, s := range c.Steps {
		numbers[s.ID] = i + 1
	}
	for i := range c.Steps {
		next := ""
		if i+1 < len(c.Steps) {
			next = c.Steps[i+1].ID
		}
		p.step(&c.Steps[i], numbers, next)
	}
	fmt.Fprintln(p.out)
}

// step writes one out; the way to the step next to it is not said.
func (p *printer) step(s *procedure.ScriptStep, numbers map[string]int, next string) {
	under := func(mark string, text words.Message) {
		if said := p.Say(text); said != "" {
			fmt.Fprintf(p.out, "      %s %s\n", mark, said)
		}
	}
	fmt.Fprintln(p.out)
	for _, x := range s.Care {
		under("!!", x)
	}
	fmt.Fprintf(p.out, "%3d. %s  [%s, %s]\n", numbers[s.ID], p.Say(s.Text), s.ID, s.Kind)
	under(" ", s.Hint)
	under("—", s.Why)
	if t := s.Timer; t != nil {
		under("⏱", words.Message(timerText(t)))
	}
	for _, o := range s.Options {
		if o.Text == "" && o.To == next {
			continue
		}
		to := "→ end"
		if n := numbers[o.To]; n > 0 {
			to = fmt.Sprintf("→ %d", n)
		}
		fmt.Fprintf(p.out, "      · %s %s\n", strings.TrimSpace(p.Say(o.Text)), to)
	}
}

func timerText(t *procedure.Timer) string {
	out := fmt.Sprintf("%s: %g–%g s", t.Count, t.Low, t.High)
	if t.Least > 0 {
		out += fmt.Sprintf(", at least %g", t.Least)
	}
	if t.Most > 0 {
		out += fmt.Sprintf(", stop at %g", t.Most)
	}
	return out
}
