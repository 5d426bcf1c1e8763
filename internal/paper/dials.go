package paper

import (
	"bytes"
	"fmt"
	"image/color"
	"image/jpeg"
	"math"
	"sync"

	"codeberg.org/go-fonts/liberation/liberationsansregular"
	"git.sr.ht/~sbinet/gg"
	"github.com/golang/freetype/truetype"
	"golang.org/x/image/font"

	"fairlap/core/words"
)

// Dial is a three-way valve as it should be set: what hangs on its ports, and where the
// closed mark of its handle points, 0° at port a and 180° at port b.
type Dial struct {
	Name, A, B string
	AngleDeg   float64
}

// The drawing's measures, points; its dots to an inch, and so to a point.
const (
	dialWide, dialHigh = 198.0, 142.0
	dialRadius         = 30.0
	dialDPI            = 160.0
	dots               = dialDPI / 72
)

var (
	ink   = color.Gray{Y: 30}
	faint = color.Gray{Y: 170}
)

// face is the letters of a size, points.
func face(size float64) (font.Face, error) {
	f, err := letters()
	if err != nil {
		return nil, fmt.Errorf("reading the letters: %w", err)
	}
	return truetype.NewFace(f, &truetype.Options{Size: size, DPI: dialDPI}), nil
}

var letters = sync.OnceValues(func() (*truetype.Font, error) { return truetype.Parse(liberationsansregular.TTF) })

// Dials draws a pad's valves side by side: the open ways as thick pipes, the shut port
// behind the handle's mark, as their reader says it. It is a JPEG for a picture block.
// Errors are the letters' and the encoder's.
func Dials(list []Dial, p words.Printer) ([]byte, error) {
	c := gg.NewContext(int(dots*dialWide*float64(len(list))), int(math.Round(dots*dialHigh)))
	c.SetColor(color.White)
	c.Clear()
	small, err := face(8)
	if err != nil {
		return nil, err
	}
	large, err := face(11)
	if err != nil {
		return nil, err
	}
	for i, d := range list {
		dial{c, dialWide * float64(i), small, large}.draw(d, p)
	}
	var b bytes.Buffer
	if err := c.EncodeJPG(&b, &jpeg.Options{Quality: 88}); err != nil {
		return nil, fmt.Errorf("drawing the handles: %w", err)
	}
	return b.Bytes(), nil
}

// dial draws one valve, in points from the left of its own picture and up from the foot.
type dial struct {
	c            *gg.Context
	left         float64
	small, large font.Face
}

func (d dial) at(x, y float64) (float64, float64) { return dots * (d.left + x), dots * (dialHigh - y) }

func (d dial) line(x1, y1, x2, y2, wide float64, in color.Color) {
	d.c.SetColor(in)
	d.c.SetLineCapButt()
	d.c.SetLineWidth(dots * wide)
	fromX, fromY := d.at(x1, y1)
	toX, toY := d.at(x2, y2)
	d.c.DrawLine(fromX, fromY, toX, toY)
	d.c.Stroke()
}

// letter sets words at a height's middle: from the left (0), about a place (0.5) or up to it (1).
func (d dial) letter(message string, x, y, anchor float64, in color.Color, f font.Face) {
	d.c.SetColor(in)
	d.c.SetFontFace(f)
	px, py := d.at(x, y)
	d.c.DrawStringAnchored(message, px, py, anchor, 0.35)
}

func (d dial) draw(v Dial, p words.Printer) {
	midX, midY := dialWide/2, 0.46*dialHigh
	reach := func(angle, far float64) (float64, float64) {
		return midX + far*math.Cos(angle), midY + far*math.Sin(angle)
	}
	ray := func(angle, from, to, wide float64, in color.Color) {
		x1, y1 := reach(angle, from)
		x2, y2 := reach(angle, to)
		d.line(x1, y1, x2, y2, wide, in)
	}
	// Port a lies left, port b right, the common pipe below; the mark turns over the top.
	shutA, shutB := v.AngleDeg <= 20, v.AngleDeg >= 160
	pipe := func(angle float64, shut bool) {
		col := color.Color(ink)
		if shut {
			col = faint
		}
		ray(angle, 0, 1.9*dialRadius, 5, col)
	}
	pipe(math.Pi, shutA)
	pipe(0, shutB)
	pipe(-math.Pi/2, false)
	x, y := d.at(midX, midY)
	d.c.DrawCircle(x, y, dots*dialRadius)
	d.c.SetColor(color.White)
	d.c.FillPreserve()
	d.c.SetColor(ink)
	d.c.SetLineWidth(dots * 1.6)
	d.c.Stroke()
	mark := math.Pi - v.AngleDeg*math.Pi/180
	ray(mark, -0.8*dialRadius, 0, 6, ink)
	ray(mark, -4, 0.92*dialRadius, 15, ink)
	onX, onY := reach(mark, 0.46*dialRadius)
	d.letter("OFF", onX, onY, 0.5, color.White, d.small)
	d.letter(v.Name, midX, dialHigh-10, 0.5, ink, d.large)
	label := func(x float64, name string, shut bool, anchor float64) {
		message := words.Message("paper.open")
		if shut {
			message = "paper.shut"
		}
		d.letter(name, x, midY+26, anchor, ink, d.small)
		d.letter(p.Say(message), x, midY-14, anchor, ink, d.small)
	}
	label(6, v.A, shutA, 0)
	label(dialWide-6, v.B, shutB, 1)
}
