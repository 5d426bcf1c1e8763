package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"os"
	"slices"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/speedplan"
	"fairlap/core/units"
	"fairlap/core/words"
)

func planCommand() *cobra.Command {
	var asJSON bool
	var walk string
	var r reads
	cmd := &cobra.Command{
		Use: "plan PAD.json NEEDS.json", Short: "The cheapest day of a pad's pump that meets the needs, without server or database", Args: cobra.ExactArgs(2),
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := r.printer()
			if err != nil {
				return err
			}
			p.out = cmd.OutOrStdout()
			return p.plan(args[0], args[1], walk, asJSON)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON (see `fairlap schema plan`)")
	cmd.Flags().
		StringVar(&walk, "walk", "", "readings (.csv) to calibrate the pad with: two speeds with watts or psi are enough for a useful plan")
	r.flags(cmd)
	return cmd
}

// planOut is what `fairlap plan --json` prints.
type planOut struct {
	Needs    speedplan.Needs     `json:"needs" doc:"as they were taken: what the file left out is as usual"`
	Slots    []pad.Slot          `json:"slots,omitempty"`
	Totals   *speedplan.Totals   `json:"totals,omitempty"`
	Loss     float64             `json:"loss" doc:"money a day that fitting into the slots costs"`
	Within   float64             `json:"within" doc:"money a day by which a cheaper plan could exist at the most"`
	Broken   []speedplan.Broken  `json:"broken,omitempty" doc:"what the plan can't keep: it is said, never kept quiet"`
	Conflict *speedplan.Conflict `json:"conflict,omitempty" doc:"there is no plan: these needs collide"`
}

func (p *printer) plan(padFile, needsFile, walkFile string, asJSON bool) error {
	m, err := p.padModel(padFile, walkFile)
	if err != nil {
		return err
	}
	raw, err := os.ReadFile(needsFile)
	if err != nil {
		return err
	}
	var given struct {
		Gallons float64 `json:"gallons"`
		AirF    float64 `json:"airF"`
	}
	given.Gallons, given.AirF = m.Doc.PoolGallons, 80
	if err := json.Unmarshal(raw, &given); err != nil {
		return fmt.Errorf("%s: can't be read as JSON: %w", needsFile, err)
	}
	solved, err := speedplan.NewPad(m, units.Gallons(given.Gallons))
	if err != nil {
		return fmt.Errorf("solving the pad: %w", err)
	}
	n := speedplan.Usual(solved, given.Gallons, given.AirF)
	var named map[string]json.RawMessage
	if err := json.Unmarshal(raw, &named); err != nil {
		return fmt.Errorf("%s: %w", needsFile, err)
	}
	n.Asked = speedplan.AskedBy(slices.Collect(maps.Keys(named)))
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&n); err != nil {
		return fmt.Errorf("%s: %w", needsFile, err)
	}
	if wrong := n.Check(solved); len(wrong) > 0 {
		errs := make([]pad.FieldError, len(wrong))
		for i, w := range wrong {
			errs[i] = pad.FieldError{Path: w.Field, Text: w.Text}
		}
		return p.mistakes(needsFile, errs)
	}
	a := speedplan.Find(solved, &n)
	got := planOut{Needs: n, Loss: a.Loss, Within: a.Within, Conflict: a.Conflict}
	if a.Plan != nil {
		got.Slots, got.Totals = a.Plan.Slots(), &a.Plan.Totals
	}
	if a.Plan != nil {
		got.Broken = a.Plan.Broken
	}
	if !asJSON {
		return p.day(&got)
	}
	if err := p.asJSON(got); err != nil {
		return err
	}
	if got.Conflict != nil {
		return errors.New(p.Say("cli.no-plan"))
	}
	return nil
}

func (p *printer) day(out *planOut) error {
	if c := out.Conflict; c != nil {
		fmt.Fprintln(p.out, p.Say(c.Text))
		for _, m := range c.Mends {
			fmt.Fprintln(p.out, "  "+p.Say(m.Text))
		}
		return errors.New(p.Say("cli.no-plan"))
	}
	for _, b := range out.Broken {
		fmt.Fprintln(p.out, p.Say(b.Text))
	}
	w := tabwriter.NewWriter(p.out, 0, 4, 2, ' ', 0)
	fmt.Fprintf(w, "%s\t%s\trpm\n", p.Say("cli.start"), p.Say("cli.hours"))
	for _, s := range out.Slots {
		fmt.Fprintf(
			w,
			"%02.0f:%02.0f\t%g\t%.0f\n",
			float64(int(s.StartHour)),
			(s.StartHour-float64(int(s.StartHour)))*60,
			s.Hours,
			s.RPM,
		)
	}
	if err := w.Flush(); err != nil {
		return err
	}
	t := out.Totals
	p.line(
		"cli.day",
		"water",
		words.Q("gal", t.Gallons),
		"times",
		words.ND(t.Turnovers, 2),
		"sd",
		words.ND(t.TurnoversSD, 2),
		"energy",
		words.QD("kWh", t.KWh, 2),
		"cost",
		words.ND(t.PowerCost, 2),
		"starts",
		words.N(t.Starts),
		"rate",
		words.QD("gpm/ft²", t.MediaRate, 2),
	)
	p.line("cli.within", "within", words.ND(out.Within, 4), "loss", words.ND(out.Loss, 4))
	return nil
}

// padAndWalk reads a pad, and the readings of its clean line where there are any.
func (p *printer) padAndWalk(padFile, walkFile string) (pad.Document, []pad.Reading, error) {
	b, err := os.ReadFile(padFile)
	if err != nil {
		return pad.Document{}, nil, err
	}
	doc, errs := pad.Read(bytes.NewReader(b))
	if len(errs) > 0 {
		return doc, nil, p.mistakes(padFile, errs)
	}
	walk, err := p.readWalk(walkFile)
	return doc, walk, err
}

// padModel reads a pad and calibrates it with readings, where there are any.
func (p *printer) padModel(padFile, walkFile string) (*plumbing.Model, error) {
	doc, walk, err := p.padAndWalk(padFile, walkFile)
	if err != nil {
		return nil, err
	}
	m, err := plumbing.Calibrate(doc, walk, units.Fahrenheit(80), units.PSI(8))
	if err != nil {
		return nil, fmt.Errorf("calibrating the pad: %w", err)
	}
	return m, nil
}
