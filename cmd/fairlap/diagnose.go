package main

import (
	"encoding/json"
	"fmt"
	"io"
	"os"

	"github.com/spf13/cobra"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
)

func diagnoseCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use: "diagnose CASE.json", Short: "Suspects, reasons and the next check for a case, without server or database", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error { return diagnose(cmd.OutOrStdout(), args[0], asJSON) },
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON (see `fairlap schema answer`)")
	return cmd
}

func diagnose(out io.Writer, file string, asJSON bool) error {
	f, err := os.Open(file)
	if err != nil {
		return err
	}
	defer f.Close()
	c, errs := casefile.Read(f)
	if len(errs) > 0 {
		return fieldSentences(file, errs)
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
		enc := json.NewEncoder(out)
		enc.SetIndent("", "  ")
		return enc.Encode(a)
	}
	printAnswer(out, c.Title, a)
	return nil
}

func printAnswer(out io.Writer, title string, a casefile.Answer) {
	for _, d := range a.Dangers {
		fmt.Fprintf(out, "!! %s\n", d.Says)
	}
	if title != "" {
		fmt.Fprintln(out, title)
	}
	fmt.Fprintln(out, a.Verdict)
	if a.Misfit != "" {
		fmt.Fprintln(out, a.Misfit)
	}
	if c := a.Changed; c != nil {
		fmt.Fprintf(out, "before %s: ", c.Work)
		for i, w := range c.Was {
			fmt.Fprintf(out, "%s%s %.0f %%", map[bool]string{true: "", false: ", "}[i == 0], w.Name, 100*w.P)
		}
		fmt.Fprintln(out)
	}
	for _, f := range a.Found {
		fmt.Fprintf(out, "found: %s. %s %s\n", f.Name, f.Mend, f.Says)
	}
	for _, id := range a.Unknown {
		fmt.Fprintf(out, "not explained by any of these: %s\n", id)
	}
	for i, s := range a.Suspects {
		place := ""
		if s.Place != "" {
			place = " · " + s.Place
		}
		fmt.Fprintf(out, "%3.0f %%  %s%s\n", 100*s.P, s.Name, place)
		if i > 2 || s.P < 0.05 {
			continue
		}
		for _, e := range s.For {
			fmt.Fprintf(out, "         for: %s\n", e)
		}
		for _, e := range s.Against {
			fmt.Fprintf(out, "         against: %s\n", e)
		}
		if s.Caution != "" {
			fmt.Fprintf(out, "         caution: %s\n", s.Caution)
		}
		fmt.Fprintf(out, "         settles it: %s\n         mends it: %s", s.Settle, s.Fix)
		if s.Minutes > 0 {
			fmt.Fprintf(out, " About %.0f min.", s.Minutes)
		}
		if s.Who != "" {
			fmt.Fprintf(out, " For a %s.", s.Who)
		}
		fmt.Fprintln(out)
	}
	fmt.Fprintf(out, "%3.0f %%  something else\nfilter load %.0f %% ± %.0f\n", 100*a.Other, 100*a.Load, 100*a.LoadSD)
	for i, name := range a.Alike {
		fmt.Fprintf(out, "%s%s", map[bool]string{true: "these readings can't tell apart: ", false: ", "}[i == 0], name)
	}
	if len(a.Alike) > 0 {
		fmt.Fprintln(out)
	}
	for _, c := range a.Chronic {
		fmt.Fprintf(out, "beside it: %s (%.0f %%). %s\n", c.Name, 100*c.P, c.Says)
	}
	if len(a.FixOrder) > 1 {
		fmt.Fprintf(out, "or try the fixes in this order (about %.0f min in the mean):", a.FixOrder[len(a.FixOrder)-1].Spent)
		for i, f := range a.FixOrder {
			fmt.Fprintf(out, "%s %s (%.0f min)", map[bool]string{true: "", false: ","}[i == 0], f.ID, f.Minutes)
		}
		fmt.Fprintln(out)
	}
	for _, n := range a.Next {
		fmt.Fprintf(out, "next: %s (%.1g min)", n.Look, n.Minutes)
		if n.Caution != "" {
			fmt.Fprintf(out, " %s", n.Caution)
		}
		fmt.Fprintln(out)
	}
}
