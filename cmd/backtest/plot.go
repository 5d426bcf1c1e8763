package main

import (
	"fmt"
	"image/color"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"

	"fairlap/core/upkeep"
	"fairlap/internal/backtest"
)

// plotSchools sets needless cleanings against starved days: down and left is
// better.
func plotSchools(path string, companies []company) error {
	p := plot.New()
	p.Title.Text = "When to clean: too often against too late"
	p.X.Label.Text, p.Y.Label.Text = "needless cleanings a pool-year", "starved days a pool-year"
	p.X.Min, p.Y.Min = 0, 0
	p.Add(plotter.NewGrid())
	shapes := []draw.GlyphDrawer{draw.CircleGlyph{}, draw.PyramidGlyph{}, draw.BoxGlyph{}}
	colours := map[upkeep.School]color.Color{
		upkeep.Rise:       color.RGBA{R: 0x0b, G: 0x5c, B: 0x7a, A: 0xff},
		upkeep.Calendar:   color.RGBA{R: 0xb5, G: 0x56, B: 0x1c, A: 0xff},
		upkeep.FixedPsi:   color.Gray{Y: 110},
		backtest.Recorded: color.RGBA{R: 0x6b, G: 0x3f, B: 0x8f, A: 0xff},
	}
	for i, c := range companies {
		for _, o := range c.out {
			pt, err := plotter.NewScatter(
				plotter.XYs{{X: float64(o.Needless) / o.PoolYears, Y: o.StarvedDays / o.PoolYears}},
			)
			if err != nil {
				return fmt.Errorf("drawing %s: %w", c.name, err)
			}
			pt.GlyphStyle = draw.GlyphStyle{Color: colours[o.School], Radius: vg.Points(5), Shape: shapes[i]}
			p.Add(pt)
			p.Legend.Add(fmt.Sprintf("%s, company %d", o.School, i+1), pt)
		}
	}
	p.Legend.Top = true
	if err := p.Save(14*vg.Centimeter, 10*vg.Centimeter, path); err != nil {
		return fmt.Errorf("saving the plot: %w", err)
	}
	return nil
}
