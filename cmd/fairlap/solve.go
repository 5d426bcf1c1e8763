package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"fairlap/core/casefile"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/practice"
	"fairlap/core/speedplan"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// solveOptions are what `fairlap solve` is asked.
type solveOptions struct {
	speed, load, waterF float64
	set                 []string
	walk                string
	asJSON, asINP       bool
}

func solveCommand() *cobra.Command {
	var o solveOptions
	var r reads
	cmd := &cobra.Command{
		Use: "solve PAD", Short: "Flows, heads, gauge readings and hazards of a pad document (.json, or an .inp exported here), without server or database",
		Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := r.printer()
			if err != nil {
				return err
			}
			p.out = cmd.OutOrStdout()
			return p.solve(args[0], o)
		},
	}
	cmd.Flags().Float64Var(&o.speed, "speed", -1, "pump speed, rpm; 0 is off; left out, the programme's first")
	cmd.Flags().
		StringArrayVar(&o.set, "set", nil, "valve=position, as often as needed: multiport=backwash, suction-valve=spa, return-valve=45, skimmer=0.5, drain=shut")
	cmd.Flags().Float64Var(&o.load, "load", 0, "filter load: 0 clean, 1 at the cleaning limit")
	cmd.Flags().Float64Var(&o.waterF, "water", 80, "water temperature, °F")
	cmd.Flags().StringVar(&o.walk, "walk", "", "a speed walk (.csv) of the clean pad to calibrate it with")
	cmd.Flags().BoolVar(&o.asJSON, "json", false, "print JSON (see `fairlap schema solution`)")
	cmd.Flags().BoolVar(&o.asINP, "inp", false, "print the network as an EPANET input file")
	r.flags(cmd)
	return cmd
}

func schemaCommand() *cobra.Command {
	schemas := map[string]map[string]any{
		"pad":      pad.Schema(pad.Document{}, "A pool's pad"),
		"solution": pad.Schema(judge.PathsView{}, "A solved pad"),
		"case":     pad.Schema(casefile.Case{}, "A case to diagnose"),
		"answer":   pad.Schema(casefile.Answer{}, "A diagnosis"),
		"needs":    pad.Schema(speedplan.Needs{}, "What a pump's day must meet"),
		"plan":     pad.Schema(planOut{}, "A planned day"),
		"practice": pad.Schema(practice.Case{}, "A practice case"),
	}
	return &cobra.Command{
		Use: "schema pad|solution|case|answer|needs|plan|practice", Short: "Print a published JSON Schema", Args: cobra.ExactArgs(1), ValidArgs: []string{"pad", "solution", "case", "answer", "needs", "plan", "practice"},
		RunE: func(cmd *cobra.Command, args []string) error {
			s, ok := schemas[args[0]]
			if !ok {
				return fmt.Errorf(
					"there is no schema %q; there are pad, solution, case, answer, needs, plan and practice",
					args[0],
				)
			}
			enc := json.NewEncoder(cmd.OutOrStdout())
			enc.SetIndent("", "  ")
			return enc.Encode(s)
		},
	}
}

// mistakes makes one error of a file's mistakes, a line each.
func (p *printer) mistakes(file string, errs []pad.FieldError) error {
	lines := make([]string, len(errs))
	for i, e := range errs {
		lines[i] = strings.TrimPrefix(e.Path+": "+p.Say(e.Text), ": ")
	}
	return fmt.Errorf("%s:\n  %s", file, strings.Join(lines, "\n  "))
}

func (p *printer) solve(file string, o solveOptions) error {
	b, err := os.ReadFile(file)
	if err != nil {
		return err
	}
	var doc pad.Document
	var op pad.Operation
	if bytes.HasPrefix(bytes.TrimSpace(b), []byte("{")) {
		var errs []pad.FieldError
		if doc, errs = pad.Read(bytes.NewReader(b)); len(errs) > 0 {
			return p.mistakes(file, errs)
		}
	} else {
		got, err := plumbing.ReadINP(bytes.NewReader(b))
		if err != nil {
			return fmt.Errorf("%s: %w", file, err)
		}
		doc, op = got.Model.Doc, got.Operation
	}
	if !(o.waterF >= 32 && o.waterF <= 140) {
		return errors.New("--water: must be between 32 and 140 °F")
	}
	if !(o.load >= 0 && o.load <= 10) {
		return errors.New("--load: must be between 0 and 10")
	}
	if err := operation(&doc, &op, o); err != nil {
		return err
	}
	walk, err := p.readWalk(o.walk)
	if err != nil {
		return err
	}
	m, err := plumbing.Calibrate(doc, walk, units.Fahrenheit(o.waterF), units.PSI(upkeep.Defaults().LimitRisePsi))
	if err != nil {
		return err
	}
	if o.asINP {
		return m.WriteINP(p.out, op, o.load)
	}
	v, err := judge.ViewPaths(m, op, o.load)
	if err != nil {
		return err
	}
	if o.asJSON {
		return p.asJSON(v)
	}
	return p.paths(&v)
}

func operation(doc *pad.Document, op *pad.Operation, o solveOptions) error {
	switch {
	case o.speed > doc.Pump.TopRPM:
		return fmt.Errorf("--speed: this pump's top speed is %g rpm", doc.Pump.TopRPM)
	case o.speed >= 0:
		op.Speed = units.Speed(o.speed)
	case op.Speed == 0 && len(doc.Programme) > 0:
		op.Speed = units.Speed(doc.Programme[0].RPM)
	case op.Speed == 0:
		op.Speed = units.Speed(doc.Pump.TopRPM)
	}
	for _, text := range o.set {
		if err := doc.SetByWords(op, text); err != nil {
			return fmt.Errorf("--set %s: %w", text, err)
		}
	}
	return nil
}

func (p *printer) readWalk(file string) ([]pad.Reading, error) {
	if file == "" {
		return nil, nil
	}
	f, err := os.Open(file)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	walk, errs := pad.ReadWalk(f)
	if len(errs) > 0 {
		return nil, p.mistakes(file, errs)
	}
	return walk, nil
}

func (p *printer) paths(v *judge.PathsView) error {
	for _, h := range v.Hazards {
		p.line(
			"cli.hazard",
			"mark",
			words.Msg(words.Message("cli.mark-"+h.Mark)),
			"what",
			words.Msg(h.What),
			"says",
			words.Msg(h.Text),
		)
	}
	p.line(
		"cli.runs",
		"speed",
		words.Q("rpm", v.RPM),
		"setting",
		words.Msg(pad.Setting(v.Setting).Words()),
		"path",
		words.Msg(v.SettingPath),
		"load",
		words.Share(v.Load),
		"condition",
		words.Msg(words.Message("cli.condition-"+v.Condition)),
	)
	p.line(
		"cli.reads",
		"flow",
		words.QD("gpm", v.FlowGPM, 1),
		"flowSd",
		words.QD("gpm", v.FlowSD, 1),
		"tank",
		words.Q("psi", v.TankPsi),
		"tankSd",
		words.Q("psi", v.TankSD),
		"rest",
		words.Q("psi", v.RestPsi),
		"vacuum",
		words.Q("inHg", v.VacuumInHg),
		"power",
		words.Q("W", v.PowerW),
		"npsh",
		words.QD("ft", v.NPSHAvailableFt, 0),
	)
	fmt.Fprintln(p.out)
	t := tabwriter.NewWriter(p.out, 0, 0, 2, ' ', tabwriter.AlignRight)
	flow, speed, head := p.Units.Unit("gpm"), p.Units.Unit("ft/s"), p.Units.Unit("ft")
	fmt.Fprintf(
		t,
		"%s\t%s\t%s\t%s\t%s\t%s\t\n",
		p.Say("cli.place"),
		flow,
		speed,
		p.Say("cli.open"),
		p.Say(words.Of("cli.from", "unit", words.Name(head))),
		p.Say(words.Of("cli.to", "unit", words.Name(head))),
	)
	for _, r := range v.Reaches {
		in := func(unit string, x float64) string { return units.Grouped(p.Units.In(x, unit), 1) }
		fmt.Fprintf(
			t,
			"%s\t%s\t%s\t%.0f %%\t%s\t%s\t\n",
			r.ID,
			in("gpm", r.GPM),
			in("ft/s", r.FtPerS),
			100*r.Opening,
			in("ft", r.FromFt),
			in("ft", r.ToFt),
		)
	}
	return t.Flush()
}
