// Package paper sets what goes out on paper as PDF. It lays out what it is given
// and knows no rules of the job.
package paper

import (
	"fmt"
	"time"

	"codeberg.org/go-fonts/liberation/liberationsansbold"
	"codeberg.org/go-fonts/liberation/liberationsansregular"
	"github.com/johnfercher/maroto/v2"
	"github.com/johnfercher/maroto/v2/pkg/components/col"
	"github.com/johnfercher/maroto/v2/pkg/components/line"
	"github.com/johnfercher/maroto/v2/pkg/components/row"
	"github.com/johnfercher/maroto/v2/pkg/components/text"
	"github.com/johnfercher/maroto/v2/pkg/config"
	"github.com/johnfercher/maroto/v2/pkg/consts/border"
	"github.com/johnfercher/maroto/v2/pkg/consts/fontstyle"
	"github.com/johnfercher/maroto/v2/pkg/consts/orientation"
	"github.com/johnfercher/maroto/v2/pkg/consts/pagesize"
	"github.com/johnfercher/maroto/v2/pkg/core"
	"github.com/johnfercher/maroto/v2/pkg/props"
	"github.com/johnfercher/maroto/v2/pkg/repository"

	"fairlap/core/words"
)

// Stop is one line of a lap sheet.
type Stop struct {
	Arrive    time.Time
	Street    string
	Equipment words.Message
	Reason    words.Message
	Work      []words.Message
	Minutes   int
	Done      bool
}

// Lap is a technician's day on paper. How to get in is not on it: paper is left
// lying about.
type Lap struct {
	Company    string
	Technician string
	Day        time.Time
	Minutes    int
	Limit      int
	Van        []words.Message
	Stops      []Stop
}

const family = "liberation"

// grid is how many columns a row has.
const grid = 24

// sheet begins a document in a face that holds more than Latin-1.
func sheet(title string, way orientation.Type) (core.Maroto, error) {
	fonts, err := repository.New().
		AddUTF8FontFromBytes(family, fontstyle.Normal, liberationsansregular.TTF).
		AddUTF8FontFromBytes(family, fontstyle.Bold, liberationsansbold.TTF).Load()
	if err != nil {
		return nil, fmt.Errorf("loading the fonts: %w", err)
	}
	return maroto.New(config.NewBuilder().WithPageSize(pagesize.Letter).WithOrientation(way).WithMaxGridSize(grid).
		WithLeftMargin(12).WithRightMargin(12).WithTopMargin(12).WithBottomMargin(10).
		WithCustomFonts(fonts).WithDefaultFont(&props.Font{Family: family, Size: 10}).
		WithTitle(title, true).
		WithPageNumber(props.PageNumber{Pattern: "{current} / {total}", Place: props.RightBottom, Size: 8, Family: family}).
		Build()), nil
}

// LapSheet sets a lap on paper, with boxes to write the readings in. Times are in
// the zone they come in.
func LapSheet(l Lap, p words.Printer) ([]byte, error) {
	title := p.Say(words.Of("paper.lap-of", "day", words.Date(l.Day), "who", words.Name(l.Technician)))
	m, err := sheet(title, orientation.Horizontal)
	if err != nil {
		return nil, err
	}
	m.AddRows(
		text.NewRow(9, title, props.Text{Style: fontstyle.Bold, Size: 15}),
		text.NewRow(
			6,
			p.Say(
				words.Of(
					"paper.lap-sum",
					"company",
					words.Name(l.Company),
					"stops",
					words.N(len(l.Stops)),
					"minutes",
					words.N(l.Minutes),
					"limit",
					words.N(l.Limit),
				),
			),
			props.Text{Size: 9},
		),
	)
	van := words.Message("paper.nothing-special")
	if len(l.Van) > 0 {
		van = words.Join(words.Comma, l.Van...)
	}
	m.AddRows(
		text.NewAutoRow(p.Say(words.Of("paper.on-the-van", "van", words.Msg(van))), props.Text{Size: 10, Bottom: 3}),
		line.NewRow(2),
	)
	head := props.Text{Size: 8, Style: fontstyle.Bold}
	m.AddRows(
		row.New(5).
			Add(text.NewCol(1, "", head), text.NewCol(2, p.Say("paper.head-arrive"), head), text.NewCol(6, p.Say("paper.head-pool"), head), text.NewCol(6, p.Say("paper.head-what"), head), text.NewCol(2, p.Say("paper.head-min"), head),
				text.NewCol(1, p.Units.Unit("rpm"), head),
				text.NewCol(1, p.Units.Unit("psi"), head),
				text.NewCol(1, p.Units.Unit("inHg"), head),
				text.NewCol(1, p.Units.Unit("gpm"), head),
				text.NewCol(1, p.Units.Unit("W"), head), text.NewCol(2, p.Say("paper.head-done-note"), head)),
	)
	for i, st := range l.Stops {
		what := p.Say(st.Reason)
		if len(st.Work) > 0 {
			what = p.Say(
				words.Of(
					"paper.reason-and-due",
					"reason",
					words.Msg(st.Reason),
					"due",
					words.List(words.Comma, st.Work...),
				),
			)
		}
		done := ""
		if st.Done {
			done = p.Say("paper.done")
		}
		r := row.New().
			Add(text.NewCol(1, fmt.Sprint(i+1), props.Text{Style: fontstyle.Bold, Top: 1, Bottom: 3}), text.NewCol(2, st.Arrive.Format("15:04"), props.Text{Top: 1}),
				col.New(6).
					Add(text.New(st.Street, props.Text{Style: fontstyle.Bold, Top: 1}), text.New(p.Say(st.Equipment), props.Text{Size: 8, Top: 6, Bottom: 2})),
				text.NewCol(6, what, props.Text{Size: 9, Top: 1, Right: 2, Bottom: 3}),
				text.NewCol(2, fmt.Sprint(st.Minutes), props.Text{Top: 1}))
		for range 5 {
			r.Add(col.New(1).WithStyle(&props.Cell{BorderType: border.Left}))
		}
		r.Add(
			col.New(2).Add(text.New(done, props.Text{Top: 1, Left: 1})).WithStyle(&props.Cell{BorderType: border.Left}),
		)
		m.AddRows(r.WithStyle(&props.Cell{BorderType: border.Bottom}))
	}
	doc, err := m.Generate()
	if err != nil {
		return nil, fmt.Errorf("setting the lap sheet: %w", err)
	}
	return doc.GetBytes(), nil
}
