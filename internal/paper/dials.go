package paper

import (
	"bytes"
	"fmt"
	"image/color"
	"image/jpeg"
	"math"

	"gonum.org/v1/plot"
	"gonum.org/v1/plot/font"
	"gonum.org/v1/plot/text"
	"gonum.org/v1/plot/vg"
	"gonum.org/v1/plot/vg/draw"
	"gonum.org/v1/plot/vg/vgimg"

	"fairlap/core/words"
)

// Dial is a three-way valve as it should stand: what hangs on its ports, and where the
// closed mark of its handle points, 0° at port a and 180° at port b.
type Dial struct {
	Name, A, B string
	AngleDeg   float64
}

// The drawing's measures.
const (
	dialWide, dialHigh = 7 * vg.Centimeter, 5 * vg.Centimeter
	dialRadius         = 1.05 * vg.Centimeter
	dialDPI            = 160
)

var (
	ink   = color.Gray{Y: 30}
	faint = color.Gray{Y: 170}
)

// Dials draws a pad's valves side by side: the open ways as thick pipes, the shut port
// behind the handle's mark, as their reader says it. It is a JPEG for a picture block.
// Errors are the encoder's.
func Dials(list []Dial, p words.Printer) ([]byte, error) {
	img := vgimg.NewWith(
		vgimg.UseWH(dialWide*vg.Length(len(list)), dialHigh),
		vgimg.UseDPI(dialDPI),
		vgimg.UseBackgroundColor(color.White),
	)
	c := draw.New(img)
	for i, d := range list {
		d.draw(draw.Crop(c, dialWide*vg.Length(i), -dialWide*vg.Length(len(list)-1-i), 0, 0), p)
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, img.Image(), &jpeg.Options{Quality: 88}); err != nil {
		return nil, fmt.Errorf("drawing the handles: %w", err)
	}
	return b.Bytes(), nil
}

func (d Dial) draw(c draw.Canvas, p words.Printer) {
	mid := vg.Point{X: (c.Min.X + c.Max.X) / 2, Y: c.Min.Y + 0.46*(c.Max.Y-c.Min.Y)}
	letter := func(at vg.Point, message string, size vg.Length, x text.XAlignment, in color.Color) {
		f := font.From(font.Font{Typeface: "Liberation", Variant: "Sans"}, size)
		c.FillText(
			text.Style{Color: in, Font: f, XAlign: x, YAlign: text.YCenter, Handler: plot.DefaultTextHandler},
			at,
			message,
		)
	}
	line := func(a, b vg.Point, wide vg.Length, col color.Color) {
		c.StrokeLine2(draw.LineStyle{Color: col, Width: wide}, a.X, a.Y, b.X, b.Y)
	}
	reach := func(angle float64, far vg.Length) vg.Point {
		return vg.Point{X: mid.X + far*vg.Length(math.Cos(angle)), Y: mid.Y + far*vg.Length(math.Sin(angle))}
	}
	// Port a lies left, port b right, the common pipe below; the mark turns over the top.
	portA, portB, common := math.Pi, 0.0, -math.Pi/2
	shutA, shutB := d.AngleDeg <= 20, d.AngleDeg >= 160
	pipe := func(angle float64, shut bool) {
		col := color.Color(ink)
		if shut {
			col = faint
		}
		line(reach(angle, 0), reach(angle, 1.9*dialRadius), 5, col)
	}
	pipe(portA, shutA)
	pipe(portB, shutB)
	pipe(common, false)
	c.SetColor(color.White)
	var round vg.Path
	round.Move(reach(0, dialRadius))
	round.Arc(mid, dialRadius, 0, 2*math.Pi)
	c.Fill(round)
	c.SetColor(ink)
	c.SetLineWidth(1.6)
	c.Stroke(round)
	mark := math.Pi - d.AngleDeg*math.Pi/180
	line(reach(mark+math.Pi, 0.8*dialRadius), reach(mark, 0), 6, ink)
	line(reach(mark, -4), reach(mark, 0.92*dialRadius), 15, ink)
	letter(reach(mark, 0.46*dialRadius), "OFF", 8, text.XCenter, color.White)
	letter(vg.Point{X: mid.X, Y: c.Max.Y - 10}, d.Name, 11, text.XCenter, ink)
	label := func(x vg.Length, name string, shut bool, align text.XAlignment) {
		message := words.Message("paper.open")
		if shut {
			message = "paper.shut"
		}
		letter(vg.Point{X: x, Y: mid.Y + 26}, name, 8, align, ink)
		letter(vg.Point{X: x, Y: mid.Y - 14}, p.Say(message), 8, align, ink)
	}
	label(c.Min.X+6, d.A, shutA, text.XLeft)
	label(c.Max.X-6, d.B, shutB, text.XRight)
}
