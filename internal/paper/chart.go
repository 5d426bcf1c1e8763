package paper

import (
	"math"
	"strconv"
	"time"

	"fairlap/core/words"
)

// The chart's measures, mm: what stands left of its axis and below it, and how far a letter is from a mark.
const (
	axisWide = 11.0
	axisHigh = 6.0
	nearby   = 1.2
)

// Colors of the chart: what was measured, and the ink of all else.
var (
	measuredRGB = [3]int{0x97, 0x0c, 0x59}
	inkRGB      = [3]int{0x14, 0x20, 0x2b}
	faintRGB    = [3]int{0xc8, 0xcc, 0xd0}
)

// frame is where a chart's figures lie on the sheet.
type frame struct {
	left, top, wide, high float64 // mm
	first                 time.Time
	span                  time.Duration
	most                  float64
}

func (f frame) x(at time.Time) float64 {
	return f.left + f.wide*float64(at.Sub(f.first))/float64(f.span)
}

func (f frame) y(v float64) float64 { return f.top + f.high*(1-v/f.most) }

// draw sets the chart on the sheet: the measured line in strokes between cuts, the limit solid, dots that read
// without color.
func (c *Chart) draw(s *sheet, zone *time.Location, p words.Printer) {
	f := c.frame(margin+axisWide, s.pdf.GetY()+1, s.wide-axisWide-2, chartHigh-axisHigh-1)
	s.pdf.SetFont(family, "", tick)
	c.axes(s, f, zone, p)
	s.pdf.SetDrawColor(inkRGB[0], inkRGB[1], inkRGB[2])
	s.pdf.SetLineWidth(0.35)
	s.pdf.Line(f.left, f.y(c.Limit), f.left+f.wide, f.y(c.Limit))
	s.pdf.SetDrawColor(measuredRGB[0], measuredRGB[1], measuredRGB[2])
	s.pdf.SetFillColor(measuredRGB[0], measuredRGB[1], measuredRGB[2])
	s.pdf.SetLineWidth(0.5)
	for i, pt := range c.Points {
		x, y := f.x(pt.At), f.y(pt.Value)
		s.pdf.Circle(x, y, 0.7, "F")
		if i > 0 && !c.Points[i-1].Cut {
			s.pdf.Line(f.x(c.Points[i-1].At), f.y(c.Points[i-1].Value), x, y)
		}
	}
	s.pdf.SetLineWidth(0.2)
	s.pdf.SetDrawColor(0, 0, 0)
	s.pdf.SetFillColor(0, 0, 0)
	s.pdf.SetXY(margin, f.top-1+chartHigh)
}

// frame finds the room that the figures take: all points by time, and from nothing to above the highest.
func (c *Chart) frame(left, top, wide, high float64) frame {
	f := frame{left: left, top: top, wide: wide, high: high, most: 1.1 * c.Limit}
	for i, pt := range c.Points {
		f.most = max(f.most, 1.05*pt.Value)
		if i == 0 || pt.At.Before(f.first) {
			f.first = pt.At
		}
	}
	for _, pt := range c.Points {
		f.span = max(f.span, pt.At.Sub(f.first))
	}
	f.span = max(f.span, 24*time.Hour)
	f.most = max(f.most, 1e-9)
	return f
}

// axes draws the marks: figures on the left, days below.
func (c *Chart) axes(s *sheet, f frame, zone *time.Location, p words.Printer) {
	s.pdf.SetDrawColor(faintRGB[0], faintRGB[1], faintRGB[2])
	step := roundStep(f.most / 5)
	for i := 0; float64(i)*step <= f.most; i++ {
		v := float64(i) * step
		s.pdf.Line(f.left, f.y(v), f.left+f.wide, f.y(v))
		s.pdf.SetXY(margin, f.y(v)-1.5)
		s.pdf.CellFormat(axisWide-nearby, 3, strconv.FormatFloat(v, 'f', -1, 64), "", 0, "R", false, 0, "")
	}
	if len(c.Points) == 0 {
		return
	}
	const each = 24.0 // mm that a day's name may take
	days := int(math.Ceil(f.span.Hours() / 24 * each / f.wide))
	from := f.first.In(zone)
	for day := from; !day.After(f.first.Add(f.span)); day = day.AddDate(0, 0, max(1, days)) {
		x := f.x(day)
		s.pdf.Line(x, f.top+f.high, x, f.top+f.high+nearby)
		wide := min(each, f.left+f.wide-x+2)
		s.pdf.SetXY(x-nearby, f.top+f.high+nearby)
		s.pdf.CellFormat(wide, 3, p.Say(words.Of("paper.tick", "on", words.DayMonth(day))), "", 0, "L", false, 0, "")
	}
}

// roundStep is the least of 1, 2 and 5 times a power of ten that is no less than a step.
func roundStep(least float64) float64 {
	power := math.Pow(10, math.Floor(math.Log10(least)))
	for _, times := range []float64{1, 2, 5} {
		if times*power >= least {
			return times * power
		}
	}
	return 10 * power
}
