package paper

import (
	"fmt"
	"time"

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

// Set makes the PDF of a document for its reader; times are in the zone given.
func Set(d Page, zone *time.Location) ([]byte, error) {
	p := d.For
	s := newSheet(p.Say(d.Title), false)
	who := d.Company
	if d.Phone != "" {
		who += " · " + d.Phone
	}
	s.say(para{text: who, size: small, bottom: 2})
	s.say(para{text: p.Say(d.Title), bold: true, size: 18, bottom: 1})
	s.say(para{text: d.Sub, size: 11, bottom: 2})
	s.rule(3)
	for _, b := range d.Blocks {
		if err := b.set(s, zone, p); err != nil {
			return nil, fmt.Errorf("setting %q: %w", d.Title, err)
		}
	}
	s.say(para{text: p.Say(d.Made), size: tick, top: 4})
	out, err := s.close()
	if err != nil {
		return nil, fmt.Errorf("setting %q: %w", d.Title, err)
	}
	return out, nil
}

// How high a chart and a picture may be, and how much of what it heads stands with a
// heading, mm.
const (
	chartHigh   = 58.0
	pictureHigh = 90.0
	keptWith    = 24.0
)

func (b Block) set(s *sheet, zone *time.Location, p words.Printer) error {
	message := p.Say(b.Text)
	switch b.Kind {
	case Heading:
		s.room(keptWith)
		s.say(para{text: message, bold: true, size: 13, top: 4, bottom: 2})
	case Text:
		s.say(para{text: message, bottom: 2})
	case Caution:
		s.pdf.SetLineWidth(0.8)
		s.row("1", said(grid, para{text: message, bold: true, top: 2, bottom: 3, left: 3, right: 3}))
		s.pdf.SetLineWidth(0.2)
		s.gap(2)
	case Facts:
		for _, f := range b.Facts {
			s.row(
				"",
				said(7, para{text: p.Say(f.Name), bottom: 1, right: 2}),
				said(grid-7, para{text: p.Say(f.Value), bold: true, bottom: 1}),
			)
		}
		s.gap(2)
	case Table:
		b.table(s, p)
	case Trend:
		s.room(chartHigh + 5)
		s.say(para{text: p.Say(b.Chart.Name) + ", " + p.Say(b.Chart.Unit), size: tick})
		b.Chart.draw(s, zone, p)
		s.gap(2)
	case Picture:
		s.room(pictureHigh + 5)
		s.say(para{text: message, size: small, bottom: 1})
		s.picture("JPG", b.JPEG, pictureHigh)
		s.gap(3)
	default:
		return fmt.Errorf("a paper has no block of kind %q", b.Kind)
	}
	return nil
}

// table sets a table; its head stands on each page that it comes to.
func (b Block) table(s *sheet, printer words.Printer) {
	n := len(b.Head)
	size := make([]int, n)
	left := grid
	for i := range size {
		size[i] = max(2, grid/(n+2))
		left -= size[i]
	}
	size[b.Wide] += left
	row := func(values []words.Message, p para) {
		columns := make([]column, n)
		for i := range columns {
			p.text = printer.Say(values[i])
			columns[i] = said(size[i], p)
		}
		s.row("B", columns...)
	}
	head := func() { row(b.Head, para{size: tick, bold: true, bottom: 1, right: 2}) }
	s.room(keptWith)
	head()
	for _, v := range b.Rows {
		if s.room(keptWith / 2) {
			head()
		}
		row(v, para{size: small, top: 1, bottom: 1.5, right: 2})
	}
	s.gap(3)
}
