package practice

import (
	"encoding/json"
	"fairlap/core/words"
	"fmt"

	"github.com/go-json-experiment/json/jsontext"
)

// Drawn names a drawn case: the same three give the same case.
type Drawn struct {
	Level Level  `json:"level" enum:"first-week,season,old-hand"`
	Theme Theme  `json:"theme" enum:"air,suction,filter,spa,electrical,holding,small,opening"`
	Seed  uint64 `json:"seed" minimum:"1" maximum:"999999"`
}

// Which is a case: one of the library by its id, a drawn one, or one that somebody wrote.
type Which struct {
	ID   string `json:"id,omitempty" maxLength:"60"`
	Draw *Drawn `json:"draw,omitempty"`
	Case *Case  `json:"case,omitempty"`
}

// Find gives the case. Errors are ErrCase and the engine's.
func (w Which) Find() (*Case, error) {
	switch {
	case w.Case != nil:
		return w.Case, nil
	case w.Draw != nil:
		return Draw(w.Draw.Level, w.Draw.Theme, w.Draw.Seed)
	}
	c, ok := Find(w.ID)
	if !ok {
		return nil, ErrCase
	}
	return c, nil
}

// CaseRow is a case as it is chosen from.
type CaseRow struct {
	Which
	Title words.Message `json:"title"`
	Story words.Message `json:"story"`
	Level Level         `json:"level" enum:"first-week,season,old-hand"`
	Theme Theme         `json:"theme" enum:"air,suction,filter,spa,electrical,holding,small,opening"`
}

// Row is a written case to choose.
func (c *Case) Row() CaseRow {
	return CaseRow{Which: Which{ID: c.ID}, Title: c.Title, Story: c.Story, Level: c.Level, Theme: c.Theme}
}

// Rows are the written cases, easiest first.
func Rows() []CaseRow {
	out := []CaseRow{}
	for _, c := range Library() {
		out = append(out, c.Row())
	}
	return out
}

// Ask is a case as far as somebody worked it.
type Ask struct {
	Which
	Mode   Mode    `json:"mode" enum:"alone,odds,hints,beside"`
	Events []Event `json:"events" maxItems:"400" nullable:"false"`
}

// Answer is how it stands, and when it is over what is told of it.
type Answer struct {
	View    *View    `json:"view"`
	Debrief *Debrief `json:"debrief"`
}

// MarshalJSONTo tells an answer to a reader: words.Rounded.
func (a Answer) MarshalJSONTo(e *jsontext.Encoder) error {
	type plain Answer
	return words.Rounded(e, plain(a))
}

// Desk answers asks, and keeps the last case ready: its pad is fitted once. The zero value
// is an empty desk; it is for one at a time.
type Desk struct {
	key   string
	scene *Scene
}

// Scene is a case made ready. Errors are ErrCase and the engine's.
func (d *Desk) Scene(w Which) (*Scene, error) {
	key, err := json.Marshal(w)
	if err != nil {
		return nil, fmt.Errorf("naming the case: %w", err)
	}
	if d.scene != nil && d.key == string(key) {
		return d.scene, nil
	}
	c, err := w.Find()
	if err != nil {
		return nil, err
	}
	s, err := Set(c)
	if err != nil {
		return nil, err
	}
	d.key, d.scene = string(key), s
	return s, nil
}

// Answer works the events and shows where they led. Errors are those of acts that can't be
// taken, ErrCase and the engine's.
func (d *Desk) Answer(q Ask) (*Answer, error) {
	s, err := d.Scene(q.Which)
	if err != nil {
		return nil, err
	}
	a, err := s.Fold(q.Mode, q.Events)
	if err != nil {
		return nil, err
	}
	out := &Answer{}
	if out.View, err = a.View(); err != nil || !a.Over {
		return out, err
	}
	out.Debrief, err = s.Debrief(q.Mode, q.Events)
	return out, err
}
