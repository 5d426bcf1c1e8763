package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/pad"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/store"
)

// LogEntry is one entry of a pool's log. Of a visit, the visit itself says what it was.
type LogEntry struct {
	Kind   string        `json:"kind" enum:"visit,run,part,note,photo,pad,clean-line,due,inspection"`
	ID     string        `json:"id"`
	At     time.Time     `json:"at"`
	By     string        `json:"by"`
	What   string        `json:"what" doc:"a code of its kind: a decision, an act, a procedure"`
	Detail words.Message `json:"words" doc:"as they were written down"`
	Visit  *VisitRecord  `json:"visit,omitempty"`
}

// LogPage is a piece of a log.
type LogPage struct {
	Entries []LogEntry `json:"entries" nullable:"false"`
	Next    string     `json:"next,omitempty" doc:"the cursor to read on from; absent at the end"`
}

// LogAsk says which piece of a log.
type LogAsk struct {
	From  store.Cursor
	Kinds []string // empty: all
	Find  string
}

// logPage is how many entries a page of the log holds.
const logPage = 25

// sought is what somebody looks for, each of which must be found.
func sought(text string) []string {
	w := strings.Fields(text)
	return w[:min(len(w), 6)]
}

// Log reads a pool's log, newest first.
func (s *Service) Log(ctx context.Context, a Actor, id uuid.UUID, ask LogAsk) (LogPage, error) {
	p, err := s.seePool(ctx, a, id)
	if err != nil {
		return LogPage{}, err
	}
	c, err := s.company(ctx)
	if err != nil {
		return LogPage{}, err
	}
	return s.log(ctx, c, p, ask)
}

func (s *Service) log(ctx context.Context, c company, p store.Pool, ask LogAsk) (LogPage, error) {
	kind, err := s.kindOf(ctx, p.ID)
	if err != nil {
		return LogPage{}, err
	}
	kinds := ask.Kinds
	if len(kinds) == 0 {
		kinds = store.LogKinds()
	}
	rows, err := s.store.History(ctx, p.ID, c.zone.String(), ask.From, kinds, sought(ask.Find), logPage)
	if err != nil {
		return LogPage{}, fmt.Errorf("reading the log: %w", err)
	}
	names, err := s.names(ctx)
	if err != nil {
		return LogPage{}, err
	}
	var ids []uuid.UUID
	for _, r := range rows {
		if r.Kind == "visit" {
			ids = append(ids, r.ID)
		}
	}
	visits, correctedBy, err := s.store.VisitsByID(ctx, ids)
	if err != nil {
		return LogPage{}, fmt.Errorf("reading the visits: %w", err)
	}
	out := LogPage{Entries: make([]LogEntry, len(rows))}
	for i, r := range rows {
		e := LogEntry{Kind: r.Kind, ID: r.ID.String(), At: r.At, What: r.What, Detail: words.Named(r.Detail)}
		if r.By != nil {
			e.By = names[*r.By]
		}
		switch r.Kind {
		case "run":
			e.Detail = words.Message(r.Detail)
		case "photo":
			if e.Detail = noteOf(r.Detail); r.What == "gone" {
				e.Detail = words.Message(r.Detail)
			}
		case "pad":
			e.Detail = noteOf(r.Detail)
		case "visit":
			v := visitRecord(visits[r.ID], p.Name(), e.By, kind, false)
			if by, ok := correctedBy[r.ID]; ok {
				v.CorrectedBy = by.String()
			}
			e.Visit, e.What, e.Detail = &v, "", ""
		case "part":
			of := strings.SplitN(r.Detail, store.LogPart, 3)
			e.Detail = partWords(of[0], of[1], of[2])
		case "due":
			item, why, _ := strings.Cut(r.Detail, store.LogPart)
			if name := upkeep.ItemName(item, kind); name != "" {
				e.Detail = name
				if why != "" {
					e.Detail = words.Of("app.why-of", "name", words.Msg(name), "why", words.Msg(noteOf(why)))
				}
			}
		}
		out.Entries[i] = e
	}
	if len(rows) == logPage {
		last := rows[len(rows)-1]
		out.Next = store.Cursor{At: last.At, ID: last.ID}.String()
	}
	return out, nil
}

// FoundPool is a pool that a search found.
type FoundPool struct {
	ID       string        `json:"id"`
	Street   string        `json:"street"`
	Customer string        `json:"customer"`
	Archived bool          `json:"archived"`
	Part     words.Message `json:"part" doc:"the part that the letters are in; empty: the street or the customer"`
}

// foundAtMost is how many pools a search shows.
const foundAtMost = 60

// Find looks pools up by street, customer, model or part.
func (s *Service) Find(ctx context.Context, a Actor, text string) ([]FoundPool, error) {
	out := []FoundPool{}
	w := sought(text)
	if len(w) == 0 {
		return out, nil
	}
	c, err := s.company(ctx)
	if err != nil {
		return out, err
	}
	var mine *uuid.UUID
	if a.Role == Technician {
		mine = &a.ID
	}
	rows, err := s.store.Find(ctx, mine, c.today(s.now()), w, foundAtMost)
	if err != nil {
		return out, fmt.Errorf("looking for pools: %w", err)
	}
	for _, r := range rows {
		found := FoundPool{r.ID.String(), r.Name, r.Customer, r.Archived, ""}
		if kind, what, ok := strings.Cut(r.Part, ": "); ok {
			found.Part = words.Of("app.part-model", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(what))
		}
		out = append(out, found)
	}
	return out, nil
}

// OlderLine is a clean line that a later one took the place of.
type OlderLine struct {
	At     time.Time   `json:"at"`
	Points []LinePoint `json:"points" nullable:"false"`
}

// olderShown is how many earlier clean lines are drawn under the one in force.
const olderShown = 2

// olderLines draws a pool's earlier clean lines on the pad that it has now.
func (s *Service) olderLines(ctx context.Context, c company, rec *store.PoolRecord) ([]OlderLine, error) {
	out := []OlderLine{}
	if rec.CleanLine == nil {
		return out, nil
	}
	lines, err := s.store.CleanLinesOf(ctx, rec.Pool.ID)
	if err != nil {
		return out, fmt.Errorf("reading the clean lines: %w", err)
	}
	lines = slices.DeleteFunc(lines, func(l store.CleanLine) bool { return !l.TakenAt.Before(rec.CleanLine.TakenAt) })
	for _, l := range lines[:min(len(lines), olderShown)] {
		was := *rec
		was.CleanLine = &l
		cm, err := s.model(&was, c.settings)
		if err != nil {
			return out, err
		}
		points, err := cleanLine(cm.Model)
		if err != nil {
			return out, fmt.Errorf("drawing the clean line of %s: %w", l.TakenAt.Format(time.DateOnly), err)
		}
		out = append(out, OlderLine{l.TakenAt, points})
	}
	return out, nil
}

// ownNotes begin the keys of what the program itself notes.
var ownNotes = []string{"app.pad-follows.", "app.anode-year-read", "app.guided-run", "procedure.", "inspection."}

// noteOf is what a row is noted with, or a picture called: words of ours by their key, or
// what somebody typed.
func noteOf(kept string) words.Message {
	m := words.Message(kept)
	for _, own := range ownNotes {
		if strings.HasPrefix(kept, own) && words.Has(m.Key()) {
			return m
		}
	}
	return words.Named(kept)
}

// partWords name a part with its model, and the note that goes with what was done.
func partWords(kind, model, note string) words.Message {
	if note == "" {
		return words.Of("app.part-model", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(model))
	}
	return words.Of("app.part-model-note", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(model), "note", words.Msg(noteOf(note)))
}

// follow gives a pad the model of a part that came in, where the catalogue has it and
// the pad's words name another.
func (s *Service) follow(ctx context.Context, a Actor, id uuid.UUID, kind, model, act string) error {
	slot, ok := map[string]string{"pump": "pump", "filter-tank": "filter", "heater": "heater", "salt-cell": "cell"}[kind]
	if !ok {
		return nil
	}
	items, err := s.Catalogue(ctx)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(items, func(i CatalogueItem) bool { return i.Kind == slot && strings.EqualFold(i.Model, model) })
	pool, err := s.PoolPad(ctx, a, id)
	if err != nil {
		return err
	}
	doc := pool.Document
	note := words.Of("app.pad-follows.replaced", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(model))
	switch {
	case act == "remove" && slot == "heater":
		doc.Heater, doc.HeaterBypass, doc.CheckValve, note = nil, nil, false, "app.pad-follows.heater-out"
	case act == "remove" && slot == "cell":
		doc.Cell, note = nil, "app.pad-follows.cell-out"
	case act == "remove" || at < 0:
		return nil // nothing to draw it by: the pad's page says what it still describes
	default:
		doc = items[at].Into(doc)
	}
	if len(pad.Diff(pool.Document, doc)) == 0 || len(doc.Validate()) > 0 {
		return nil
	}
	_, err = s.SavePad(ctx, a, id, PadChange{BasedOn: pool.Revision, Reason: store.ReasonWork, Note: string(note), Document: doc})
	if err != nil {
		return fmt.Errorf("letting the pad follow: %w", err)
	}
	return nil
}
