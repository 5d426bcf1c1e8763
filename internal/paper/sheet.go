package paper

import (
	"bytes"
	"fmt"
	"strings"
	"unicode/utf8"

	"codeberg.org/go-fonts/liberation/liberationsansbold"
	"codeberg.org/go-fonts/liberation/liberationsansregular"
	"codeberg.org/go-pdf/fpdf"
)

// family is a face that holds more than Latin-1.
const family = "liberation"

// grid is how many columns a row has.
const grid = 24

// The sheet's measures, mm; point is one point in them, leading the distance of lines in
// the size of their letters.
const (
	margin  = 12.0
	foot    = 10.0
	point   = 0.3528
	leading = 1.25
)

// Sizes of letters, points.
const (
	tick  = 8.0 // small print
	small = 9.0
	body  = 10.0
)

// para is some words in a column: their size (0: body), and how far they stand from what is
// above, below and beside them, mm.
type para struct {
	text                     string
	bold                     bool
	size                     float64
	top, bottom, left, right float64
}

// column is paragraphs one below the other, so many of the grid wide; a ruled one has a line
// on its left.
type column struct {
	span  int
	paras []para
	ruled bool
}

func said(span int, p para) column { return column{span: span, paras: []para{p}} }

// sheet sets rows on pages.
type sheet struct {
	pdf  *fpdf.Fpdf
	wide float64 // between the margins, mm
	end  float64 // where a page ends, mm
	pics int
}

// newSheet begins a document; wide ones lie on their side.
func newSheet(title string, wide bool) *sheet {
	way := map[bool]string{false: "P", true: "L"}[wide]
	pdf := fpdf.New(way, "mm", "Letter", "")
	pdf.AddUTF8FontFromBytes(family, "", liberationsansregular.TTF)
	pdf.AddUTF8FontFromBytes(family, "B", liberationsansbold.TTF)
	pdf.SetMargins(margin, margin, margin)
	pdf.SetAutoPageBreak(false, 0)
	pdf.SetTitle(printable(title), true)
	pdf.AliasNbPages("")
	w, h := pdf.GetPageSize()
	s := &sheet{pdf: pdf, wide: w - 2*margin, end: h - foot - 6}
	pdf.SetFooterFunc(func() {
		pdf.SetFont(family, "", tick)
		pdf.SetXY(margin, h-foot)
		pdf.CellFormat(s.wide, 4, fmt.Sprintf("%d / {nb}", pdf.PageNo()), "", 0, "R", false, 0, "")
	})
	pdf.AddPage()
	return s
}

// room begins a page unless so much is left on this one.
func (s *sheet) room(high float64) (fresh bool) {
	if s.pdf.GetY()+high <= s.end || s.pdf.GetY() <= margin {
		return false
	}
	s.pdf.AddPage()
	return true
}

// gap leaves some millimetres free.
func (s *sheet) gap(mm float64) { s.pdf.SetY(s.pdf.GetY() + mm) }

// rule draws a line over the page.
func (s *sheet) rule(below float64) {
	y := s.pdf.GetY() + below/2
	s.pdf.Line(margin, y, margin+s.wide, y)
	s.gap(below)
}

// say sets words over the whole page.
func (s *sheet) say(p para) { s.row("", said(grid, p)) }

func (s *sheet) font(p para) (size float64) {
	size = p.size
	if size == 0 {
		size = body
	}
	s.pdf.SetFont(family, map[bool]string{true: "B"}[p.bold], size)
	return size * point * leading
}

// printable is text as the letters of a paper can set it: what lies outside their plane (small
// pictures, rare scripts) and what is no letter is a box.
func printable(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r > 0xFFFF || r == utf8.RuneError:
			return '\u25a1'
		case r < ' ' && r != '\n':
			return ' '
		}
		return r
	}, text)
}

// row sets columns beside each other, as high as the highest; edge is which sides of it are
// drawn ("B": below, "1": all). A row stands on one page.
func (s *sheet) row(edge string, columns ...column) {
	lines := make([][][]string, len(columns))
	high := 0.0
	for i, c := range columns {
		lines[i] = make([][]string, len(c.paras))
		h := 0.0
		for k, p := range c.paras {
			step := s.font(p)
			lines[i][k] = s.pdf.SplitText(printable(p.text), s.width(c)-p.left-p.right)
			h += p.top + step*float64(len(lines[i][k])) + p.bottom
		}
		high = max(high, h)
	}
	s.room(high)
	x, y := margin, s.pdf.GetY()
	for i, c := range columns {
		at := y
		for k, p := range c.paras {
			step := s.font(p)
			at += p.top
			for _, line := range lines[i][k] {
				s.pdf.SetXY(x+p.left, at)
				s.pdf.CellFormat(s.width(c)-p.left-p.right, step, line, "", 0, "L", false, 0, "")
				at += step
			}
			at += p.bottom
		}
		if c.ruled {
			s.pdf.Line(x, y, x, y+high)
		}
		x += s.width(c)
	}
	s.pdf.SetXY(margin, y)
	if edge != "" {
		s.pdf.CellFormat(s.wide, high, "", edge, 0, "", false, 0, "")
	}
	s.pdf.SetXY(margin, y+high)
}

func (s *sheet) width(c column) float64 { return s.wide * float64(c.span) / grid }

// picture sets one (kind JPG or PNG) as large as fits the page's width and a height, mm.
func (s *sheet) picture(kind string, content []byte, high float64) {
	s.pics++
	name := fmt.Sprintf("picture-%d", s.pics)
	o := fpdf.ImageOptions{ImageType: kind}
	info := s.pdf.RegisterImageOptionsReader(name, o, bytes.NewReader(content))
	if s.pdf.Err() {
		return // told when the document is closed
	}
	w := min(s.wide, high*info.Width()/info.Height())
	h := w * info.Height() / info.Width()
	s.room(h)
	s.pdf.ImageOptions(name, margin+(s.wide-w)/2, s.pdf.GetY(), w, h, false, o, 0, "")
	s.gap(h)
}

// close gives the document.
func (s *sheet) close() ([]byte, error) {
	var out bytes.Buffer
	if err := s.pdf.Output(&out); err != nil {
		return nil, fmt.Errorf("writing the PDF: %w", err)
	}
	return out.Bytes(), nil
}
