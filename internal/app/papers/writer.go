package papers

import (
	"time"

	"github.com/google/uuid"

	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/standing"
	"fairlap/internal/paper"
)

// writer puts one paper together.
type writer struct {
	*standing.Site
	doc   paper.Page
	names map[uuid.UUID]string
	p     words.Printer // for what is drawn, not set
	now   time.Time
}

func (w *writer) add(blocks ...paper.Block) { w.doc.Blocks = append(w.doc.Blocks, blocks...) }

func (w *writer) heading(text words.Message) { w.add(paper.Block{Kind: paper.Heading, Text: text}) }

func (w *writer) say(text words.Message) {
	w.add(paper.Block{Kind: paper.Text, Text: text})
}

func (w *writer) caution(text words.Message) { w.add(paper.Block{Kind: paper.Caution, Text: text}) }

func (w *writer) facts(pairs ...words.Message) {
	b := paper.Block{Kind: paper.Facts}
	for i := 0; i+1 < len(pairs); i += 2 {
		if pairs[i+1] != "" {
			b.Facts = append(b.Facts, paper.Fact{Name: pairs[i], Value: pairs[i+1]})
		}
	}
	w.add(b)
}

func (w *writer) table(wide int, head []words.Message, rows [][]words.Message) {
	if len(rows) > 0 {
		w.add(paper.Block{Kind: paper.Table, Head: head, Rows: rows, Wide: wide})
	}
}

func (w *writer) picture(text words.Message, jpeg []byte) {
	w.add(paper.Block{Kind: paper.Picture, Text: text, JPEG: jpeg})
}

func (w *writer) day(t time.Time) words.Arg { return words.Date(t.In(w.Company.Zone)) }

func (w *writer) short(t time.Time) words.Message { return words.Of("app.day", "day", w.day(t)) }

// dateOf is a day without a zone.
func dateOf(t time.Time) words.Message { return words.Of("app.day", "day", words.Date(t)) }

// one is a quantity as a cell of a table.
func one(a words.Arg) words.Message { return words.Of("app.of-one", "one", a) }

func (w *writer) money(v float64) words.Arg {
	return words.Name(w.Company.Office.Currency + units.Grouped(v, 2))
}
