package main

import (
	"fmt"
	"image/color"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"

	"fairlap/internal/evaluation"
)

// reliability draws, for suspects by what they were given, how often they were
// true; on the diagonal the odds are honest.
func reliability(path string, mixes []mixResult) error {
	p := plot.New()
	p.Title.Text = "Of suspects given a chance, how many were true"
	p.X.Label.Text, p.Y.Label.Text = "chance given", "share that was true"
	p.X.Min, p.X.Max, p.Y.Min, p.Y.Max = 0, 1, 0, 1
	even, err := plotter.NewLine(plotter.XYs{{X: 0, Y: 0}, {X: 1, Y: 1}})
	if err != nil {
		return fmt.Errorf("drawing the diagonal: %w", err)
	}
	even.Dashes = []vg.Length{vg.Points(4), vg.Points(4)}
	even.Color = color.Gray{Y: 130}
	p.Add(plotter.NewGrid(), even)
	colours := []color.Color{
		color.RGBA{R: 0x0b, G: 0x5c, B: 0x7a, A: 0xff},
		color.RGBA{R: 0xb5, G: 0x56, B: 0x1c, A: 0xff},
		color.RGBA{R: 0x4a, G: 0x7a, B: 0x2c, A: 0xff},
	}
	for i, m := range mixes {
		r := m.find(ours, evaluation.AllMeters, 2, asTheyFell)
		if r == nil {
			continue
		}
		var pts plotter.XYs
		for _, b := range r.Bins {
			pts = append(pts, plotter.XY{X: b.Said, Y: b.Was})
		}
		line, dots, err := plotter.NewLinePoints(pts)
		if err != nil {
			return fmt.Errorf("drawing %s: %w", m.Mix, err)
		}
		line.Color, dots.Color, dots.Shape, dots.Radius = colours[i], colours[i], draw.CircleGlyph{}, vg.Points(3)
		p.Add(line, dots)
		p.Legend.Add(string(m.Mix), line, dots)
	}
	p.Legend.Top, p.Legend.Left = true, true
	if err := p.Save(14*vg.Centimeter, 11*vg.Centimeter, path); err != nil {
		return fmt.Errorf("saving the plot: %w", err)
	}
	return nil
}
