package main

import (
	"encoding/json"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"fairlap/core/practice"
	"fairlap/core/words"
)

func practiceCommand() *cobra.Command {
	cmd := &cobra.Command{
		Use:   "practice",
		Short: "Made-up pads with something hidden, for learners",
		Args:  cobra.NoArgs,
	}
	cmd.AddCommand(newCaseCommand(), checkCaseCommand(), measureCommand())
	return cmd
}

func newCaseCommand() *cobra.Command {
	var level, theme, id string
	var seed uint64
	cmd := &cobra.Command{
		Use: "new", Short: "Write a case: drawn from a seed, or one of the library to begin from", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			which := practice.Which{ID: id}
			if id == "" {
				which.Draw = &practice.Drawn{Level: practice.Level(level), Theme: practice.Theme(theme), Seed: seed}
			}
			c, err := which.Find()
			if err != nil {
				return fmt.Errorf(
					"there is no such case: levels are %v, themes %v, ids are listed by `fairlap practice new --id list`: %w%s",
					practice.Levels,
					practice.Themes,
					err,
					listed(id),
				)
			}
			enc := json.NewEncoder(cmd.OutOrStdout())
			enc.SetIndent("", "  ")
			enc.SetEscapeHTML(false)
			return enc.Encode(c)
		},
	}
	cmd.Flags().StringVar(&level, "level", string(practice.FirstWeek), "first-week, season or old-hand")
	cmd.Flags().
		StringVar(&theme, "theme", string(practice.Filter), "air, suction, filter, spa, electrical, holding, small or opening")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "the same seed gives the same case")
	cmd.Flags().StringVar(&id, "id", "", "a written case instead; list: their ids")
	return cmd
}

// listed are the library's ids, a line each, where somebody asks for them.
func listed(id string) string {
	out := ""
	if id == "list" {
		for _, c := range practice.Library() {
			out += "\n  " + c.ID
		}
	}
	return out
}

func checkCaseCommand() *cobra.Command {
	var r reads
	cmd := &cobra.Command{
		Use: "check CASE.json", Short: "Say what is wrong with a case, or how it is best worked", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := r.printer()
			if err != nil {
				return err
			}
			p.out = cmd.OutOrStdout()
			return p.checkCase(args[0])
		},
	}
	r.flags(cmd)
	return cmd
}

func (p *printer) checkCase(file string) error {
	f, err := os.Open(file)
	if err != nil {
		return err
	}
	defer f.Close()
	c, errs := practice.Read(f)
	if len(errs) > 0 {
		return p.mistakes(file, errs)
	}
	s, err := practice.Set(c)
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	_, best, err := s.Best()
	if err != nil {
		return fmt.Errorf("%s: %w", file, err)
	}
	fmt.Fprintln(p.out, p.Say(c.Title))
	for _, st := range best.Steps {
		p.line(
			"cli.practice-step",
			"minutes",
			words.Q("min", st.Minutes),
			"did",
			words.Msg(st.Did),
			"told",
			words.List(words.Stop, st.Told...),
		)
	}
	cost := best.Costs()
	p.line(
		"cli.practice-cost",
		"minutes",
		words.Q("min", cost.Minutes),
		"water",
		words.Q("US gal", cost.Gallons),
		"dollars",
		words.N(cost.Dollars),
	)
	return nil
}

func measureCommand() *cobra.Command {
	var n int
	var seed uint64
	cmd := &cobra.Command{
		Use: "measure", Short: "Work drawn cases by the engine's own checks and by a card's fixed order", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			m, err := practice.Measure(n, seed)
			if err != nil {
				return err
			}
			fmt.Fprint(cmd.OutOrStdout(), m)
			return nil
		},
	}
	cmd.Flags().IntVar(&n, "cases", 500, "how many")
	cmd.Flags().Uint64Var(&seed, "seed", 1, "of the first; the others follow")
	return cmd
}
