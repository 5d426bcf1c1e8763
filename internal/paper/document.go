package paper

import (
	"bytes"
	"fmt"
	"image/color"
	"time"

	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/image"
	"github.com/johnfercher/maroto/v2/pkg/components/line"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/consts/extension"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/consts/orientation"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
	"gonum.org/v1/plot"
	"gonum.org/v1/plot/plotter"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"
	"gonum.org/v1/plot/vg/vgimg"

	"fairlap/core/words"
)

// Page is a paper: what it says, in order. The page on the screen and the PDF are
// both set from it.
type Page struct {
	Title   words.Message `json:"title"`
	Sub     string        `json:"sub"`
	Company string        `json:"company"`
	Phone   string        `json:"phone" doc:"whom to call; empty: not said"`
	Made    words.Message `json:"made"`
	Blocks  []Block       `json:"blocks" nullable:"false"`
	For     words.Printer `json:"-"` // who reads it
}

// Block is one piece of a paper; its kind says which of the others it fills.
type Block struct {
	Kind  BlockKind         `json:"kind" enum:"heading,text,caution,facts,table,chart,picture"`
	Text  words.Message     `json:"text,omitempty"`
	Facts []Fact            `json:"facts,omitempty"`
	Head  []words.Message   `json:"head,omitempty" doc:"of a table"`
	Rows  [][]words.Message `json:"rows,omitempty"`
	Wide  int               `json:"wide,omitempty" doc:"of a table: the column that takes the room, from 0"`
	Chart *Chart            `json:"chart,omitempty"`
	JPEG  []byte            `json:"jpeg,omitempty" doc:"of a picture, whose words are its text"`
}

// BlockKind says how a block is set.
type BlockKind string

// The kinds of block.
const (
	Heading BlockKind = "heading"
	Text    BlockKind = "text"
	Caution BlockKind = "caution" // stands out, in a frame of its own
	Facts   BlockKind = "facts"
	Table   BlockKind = "table"
	Trend   BlockKind = "chart"
	Picture BlockKind = "picture"
)

// Fact is a name and what it is.
type Fact struct {
	Name  words.Message `json:"name"`
	Value words.Message `json:"value"`
}

// Chart is something measured by date, with its limit.
type Chart struct {
	Name   words.Message `json:"name"`
	Unit   words.Message `json:"unit"`
	Limit  float64       `json:"limit"`
	Points []Point       `json:"points" nullable:"false"`
}

// Point is one measurement; a cut begins the line anew after it.
type Point struct {
	At    time.Time `json:"at"`
	Value float64   `json:"value"`
	Cut   bool      `json:"cut"`
}

// tick is the size of a paper's small print.
const tick = 8

// Set makes the PDF of a document for its reader; times are in the zone given.
func Set(d Page, zone *time.Location) ([]byte, error) {
	p := d.For
	m, err := sheet(p.Say(d.Title), orientation.Vertical)
	if err != nil {
		return nil, err
	}
	who := d.Company
	if d.Phone != "" {
		who += " · " + d.Phone
	}
	m.AddRows(
		text.NewRow(6, who, props.Text{Size: 9}),
		text.NewAutoRow(p.Say(d.Title), props.Text{Style: fontstyle.Bold, Size: 18, Bottom: 1}),
		text.NewAutoRow(d.Sub, props.Text{Size: 11, Bottom: 2}),
		line.NewRow(3, props.Line{SizePercent: 100}),
	)
	for _, b := range d.Blocks {
		rows, err := b.set(zone, p)
		if err != nil {
			return nil, fmt.Errorf("setting %q: %w", d.Title, err)
		}
		m.AddRows(rows...)
	}
	m.AddRows(text.NewAutoRow(p.Say(d.Made), props.Text{Size: tick, Top: 4}))
	doc, err := m.Generate()
	if err != nil {
		return nil, fmt.Errorf("setting %q: %w", d.Title, err)
	}
	return doc.GetBytes(), nil
}

func (b Block) set(zone *time.Location, p words.Printer) ([]core.Row, error) {
	message := p.Say(b.Text)
	switch b.Kind {
	case Heading:
		return []core.Row{text.NewAutoRow(message, props.Text{Style: fontstyle.Bold, Size: 13, Top: 4, Bottom: 2})}, nil
	case Text:
		return []core.Row{text.NewAutoRow(message, props.Text{Bottom: 2})}, nil
	case Caution:
		frame := &props.Cell{BorderType: border.Full, BorderThickness: 0.8}
		return []core.Row{
			row.New().
				Add(text.NewCol(grid, message, props.Text{Style: fontstyle.Bold, Top: 2, Bottom: 3, Left: 3, Right: 3})).
				WithStyle(frame),
			row.New(2),
		}, nil
	case Facts:
		var out []core.Row
		for _, f := range b.Facts {
			out = append(
				out,
				row.New().
					Add(text.NewCol(7, p.Say(f.Name), props.Text{Bottom: 1}), text.NewCol(grid-7, p.Say(f.Value), props.Text{Style: fontstyle.Bold, Bottom: 1})),
			)
		}
		return append(out, row.New(2)), nil
	case Table:
		return b.table(p), nil
	case Trend:
		png, err := b.Chart.draw(zone, p)
		if err != nil {
			return nil, err
		}
		return []core.Row{
			text.NewRow(5, p.Say(b.Chart.Name)+", "+p.Say(b.Chart.Unit), props.Text{Size: tick}),
			image.NewFromBytesRow(58, png, extension.Png),
			row.New(2),
		}, nil
	case Picture:
		return []core.Row{
			text.NewAutoRow(message, props.Text{Size: 9, Bottom: 1}),
			image.NewFromBytesRow(90, b.JPEG, extension.Jpg, props.Rect{Percent: 100}),
			row.New(3),
		}, nil
	}
	return nil, fmt.Errorf("a paper has no block of kind %q", b.Kind)
}

func (b Block) table(printer words.Printer) []core.Row {
	n := len(b.Head)
	size := make([]int, n)
	left := grid
	for i := range size {
		size[i] = max(2, grid/(n+2))
		left -= size[i]
	}
	size[b.Wide] += left
	cells := func(values []words.Message, p props.Text, under bool) core.Row {
		r := row.New()
		for i := range n {
			r.Add(col.New(size[i]).Add(text.New(printer.Say(values[i]), p)))
		}
		if under {
			return r.WithStyle(&props.Cell{BorderType: border.Bottom})
		}
		return r
	}
	out := []core.Row{cells(b.Head, props.Text{Size: tick, Style: fontstyle.Bold, Bottom: 1}, true)}
	for _, v := range b.Rows {
		out = append(out, cells(v, props.Text{Size: 9, Top: 1, Bottom: 1.5, Right: 2}, true))
	}
	return append(out, row.New(3))
}

// draw makes the chart's picture: the measured line in strokes between cuts, the limit
// solid, dots that read without colour.
func (c *Chart) draw(zone *time.Location, by words.Printer) ([]byte, error) {
	p := plot.New()
	at := func(t float64) time.Time { return time.Unix(int64(t), 0).In(zone) }
	p.X.Tick.Marker = plot.TickerFunc(func(low, top float64) []plot.Tick {
		ticks := plot.TimeTicks{Format: time.DateOnly, Time: at}.Ticks(low, top)
		for i := range ticks {
			if ticks[i].Label != "" {
				ticks[i].Label = by.Say(words.Of("paper.tick", "on", words.DayMonth(at(ticks[i].Value))))
			}
		}
		return ticks
	})
	p.Y.Min, p.Y.Label.Text = 0, ""
	p.Y.Max = c.Limit * 1.1
	ink := color.RGBA{0x14, 0x20, 0x2b, 0xff}
	measured := color.RGBA{0x97, 0x0c, 0x59, 0xff}
	var run plotter.XYs
	stroke := func() error {
		if len(run) == 0 {
			return nil
		}
		l, dots, err := plotter.NewLinePoints(run)
		if err != nil {
			return err
		}
		l.Color, l.Width = measured, vg.Points(1.4)
		dots.Color, dots.Radius, dots.Shape = measured, vg.Points(2), draw.CircleGlyph{}
		p.Add(l, dots)
		run = nil
		return nil
	}
	for _, pt := range c.Points {
		p.Y.Max = max(p.Y.Max, pt.Value*1.05)
		run = append(run, plotter.XY{X: float64(pt.At.Unix()), Y: pt.Value})
		if pt.Cut {
			if err := stroke(); err != nil {
				return nil, fmt.Errorf("drawing %s: %w", c.Name, err)
			}
		}
	}
	if err := stroke(); err != nil {
		return nil, fmt.Errorf("drawing %s: %w", c.Name, err)
	}
	if len(c.Points) > 0 {
		limit, err := plotter.NewLine(
			plotter.XYs{
				{X: float64(c.Points[0].At.Unix()), Y: c.Limit},
				{X: float64(c.Points[len(c.Points)-1].At.Unix()), Y: c.Limit},
			},
		)
		if err != nil {
			return nil, fmt.Errorf("drawing the limit of %s: %w", c.Name, err)
		}
		limit.Color, limit.Width = ink, vg.Points(1)
		p.Add(limit)
	}
	canvas := vgimg.NewWith(vgimg.UseWH(18*vg.Centimeter, 5.6*vg.Centimeter), vgimg.UseDPI(170))
	p.Draw(draw.New(canvas))
	var out bytes.Buffer
	if _, err := (vgimg.PngCanvas{Canvas: canvas}).WriteTo(&out); err != nil {
		return nil, fmt.Errorf("drawing %s: %w", c.Name, err)
	}
	return out.Bytes(), nil
}
