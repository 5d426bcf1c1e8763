// Package paper sets what goes out on paper as PDF. It lays out what it is given
// and knows no rules of the job.
package paper

import (
	"fmt"
	"strconv"
	"time"

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

// LapSheet sets a lap on paper, with boxes to write the readings in. Times are in
// the zone they come in.
func LapSheet(l Lap, p words.Printer) ([]byte, error) {
	title := p.Say(words.Of("paper.lap-of", "day", words.Date(l.Day), "who", words.Name(l.Technician)))
	s := newSheet(title, true)
	s.say(para{text: title, bold: true, size: 15, bottom: 1})
	s.say(para{text: p.Say(words.Of("paper.lap-sum", "company", words.Name(l.Company), "stops", words.N(len(l.Stops)),
		"minutes", words.N(l.Minutes), "limit", words.N(l.Limit))), size: small, bottom: 1})
	van := words.Message("paper.nothing-special")
	if len(l.Van) > 0 {
		van = words.Join(words.Comma, l.Van...)
	}
	s.say(para{text: p.Say(words.Of("paper.on-the-van", "van", words.Msg(van))), bottom: 3})
	s.rule(2)
	lapHead(s, p)
	for i, st := range l.Stops {
		if s.room(stopHigh) {
			lapHead(s, p)
		}
		lapStop(s, p, i+1, &st)
	}
	out, err := s.close()
	if err != nil {
		return nil, fmt.Errorf("setting the lap sheet: %w", err)
	}
	return out, nil
}

// lapBoxes are what is written by hand at each stop, by their units.
var lapBoxes = []string{"rpm", "psi", "inHg", "gpm", "W"}

// stopHigh is about how high a stop is, mm.
const stopHigh = 14.0

func lapHead(s *sheet, p words.Printer) {
	head := func(span int, text string) column {
		return said(span, para{text: text, bold: true, size: tick, bottom: 1, left: 0.5})
	}
	row := []column{
		head(1, ""), head(2, p.Say("paper.head-arrive")), head(6, p.Say("paper.head-pool")),
		head(6, p.Say("paper.head-what")), head(2, p.Say("paper.head-min")),
	}
	for _, unit := range lapBoxes {
		row = append(row, head(1, p.Units.Unit(unit)))
	}
	s.row("B", append(row, head(2, p.Say("paper.head-done-note")))...)
}

func lapStop(s *sheet, p words.Printer, n int, st *Stop) {
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
	row := []column{
		said(1, para{text: strconv.Itoa(n), bold: true, top: 1, bottom: 3}),
		said(2, para{text: p.Say(words.Of("words.at", "at", words.Clock(st.Arrive))), top: 1}),
		{span: 6, paras: []para{
			{text: st.Street, bold: true, top: 1, right: 2},
			{text: p.Say(st.Equipment), size: tick, bottom: 2, right: 2},
		}},
		said(6, para{text: what, size: small, top: 1, right: 2, bottom: 3}),
		said(2, para{text: strconv.Itoa(st.Minutes), top: 1}),
	}
	for range lapBoxes {
		row = append(row, column{span: 1, ruled: true})
	}
	last := said(2, para{text: done, top: 1, left: 1})
	last.ruled = true
	s.row("B", append(row, last)...)
}
