package main

import (
	"errors"
	"fmt"
	"path/filepath"
	"runtime"
	"slices"
	"time"

	"github.com/spf13/cobra"
	"golang.org/x/sync/errgroup"

	"fairlap/core/judge"
	"fairlap/core/sweep"
	"fairlap/internal/demo"
)

func sweepCommand() *cobra.Command {
	var step float64
	var every int
	var r reads
	cmd := &cobra.Command{
		Use:   "sweep [PAD.json...]",
		Short: "Move the gauge's needle from 0 past shut-off on pads, and count the verdicts that break a rule",
		Long: "Move the gauge's needle from 0 past shut-off on each pad, with the gauge alone and with all meters, before " +
			"and after a wash, and count the verdicts that break a rule. Without a file: the demo's pads.",
		RunE: func(cmd *cobra.Command, args []string) error {
			p, err := r.printer()
			if err != nil {
				return err
			}
			if !(step >= 0.05 && step <= 10) {
				return errors.New("--step: must be between 0.05 and 10 psi")
			}
			if every < 1 {
				return errors.New("--every: must be 1 or more")
			}
			p.out = cmd.OutOrStdout()
			return p.sweep(args, step, every)
		},
	}
	cmd.Flags().Float64Var(&step, "step", 0.5, "psi from one needle to the next")
	cmd.Flags().IntVar(&every, "every", 1, "of the demo's pads, sweep one in so many")
	r.flags(cmd)
	return cmd
}

// sweep prints what came of sweeping pads; answers that break a rule make it fail.
func (p *printer) sweep(files []string, step float64, every int) error {
	now := time.Date(2026, time.July, 14, 17, 0, 0, 0, time.UTC)
	packs, err := p.swept(files, now)
	if err != nil {
		return err
	}
	if len(files) == 0 {
		var some []judge.Pack
		for i := 0; i < len(packs); i += every {
			some = append(some, packs[i])
		}
		packs = some
	}
	reports := make([]sweep.Report, len(packs))
	var all errgroup.Group
	all.SetLimit(runtime.GOMAXPROCS(0))
	for i := range packs {
		all.Go(func() (err error) {
			reports[i], err = sweep.Pad(packs[i], now, step)
			return err
		})
	}
	if err := all.Wait(); err != nil {
		return err
	}
	var total sweep.Report
	for i, r := range reports {
		fmt.Fprintf(p.out, "%-34s %6d needles %4d broken\n", packs[i].Pool, r.Needles, len(r.Broken))
		total.Add(r)
	}
	for _, rule := range sweep.Rules {
		fmt.Fprintf(p.out, "%-16s %d\n", rule, total.Of(rule))
	}
	fmt.Fprintf(p.out, "%d needles, %d over the tank's limit, %d that stop the pump, on %d pads\n",
		total.Needles, total.Over, total.Stopped, len(packs))
	if n := len(total.Broken); n > 0 {
		for _, b := range total.Broken[:min(n, mostShown)] {
			fmt.Fprintf(p.out, "%s: %s\n", b.Rule, b.At)
		}
		return fmt.Errorf("%d of %d verdicts break a rule", n, total.Needles)
	}
	return nil
}

// mostShown is how many broken rules are shown one by one.
const mostShown = 20

// swept are the pads of files, or the demo's; a small unit has no gauge.
func (p *printer) swept(files []string, now time.Time) ([]judge.Pack, error) {
	var packs []judge.Pack
	var err error
	if len(files) == 0 {
		if packs, err = demo.Described(1, now); err != nil {
			return nil, err
		}
	}
	for _, f := range files {
		doc, _, err := p.padAndWalk(f, "")
		if err != nil {
			return nil, err
		}
		packs = append(packs, judge.Pack{Pool: filepath.Base(f), Gallons: 15000, Zone: "UTC", Pad: doc})
	}
	packs = slices.DeleteFunc(packs, func(k judge.Pack) bool { return k.Pad.SmallUnit() })
	for i := range packs {
		packs[i] = sweep.Usual(packs[i], now)
	}
	return packs, nil
}
