package record

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/visit"
	"fairlap/internal/store"
)

// LogEntry is one entry of a pool's log. Of a visit, the visit itself says what it was.
type LogEntry struct {
	Kind     string             `json:"kind" enum:"visit,run,part,note,photo,pad,clean-line,due,inspection"`
	ID       string             `json:"id"`
	At       time.Time          `json:"at"`
	Received *time.Time         `json:"receivedAt,omitempty" doc:"when it came in, where that was a while later: it was made without a line"`
	By       string             `json:"by"`
	What     string             `json:"what" doc:"a code of its kind: a decision, an act, a procedure"`
	Detail   words.Message      `json:"words" doc:"as they were written down"`
	Visit    *visit.VisitRecord `json:"visit,omitempty"`
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

// Log reads a pool's log, newest first.
func (s *Service) Log(ctx context.Context, a access.Actor, id uuid.UUID, ask LogAsk) (LogPage, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return LogPage{}, err
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return LogPage{}, err
	}
	return s.log(ctx, c, p, ask)
}

func (s *Service) log(ctx context.Context, c company.Company, p store.Pool, ask LogAsk) (LogPage, error) {
	kind, err := s.keeper.KindOf(ctx, p.ID)
	if err != nil {
		return LogPage{}, err
	}
	kinds := ask.Kinds
	if len(kinds) == 0 {
		kinds = store.LogKinds()
	}
	rows, err := s.keeper.Store.History(ctx, p.ID, c.Zone.String(), ask.From, kinds, company.Sought(ask.Find), logPage)
	if err != nil {
		return LogPage{}, fmt.Errorf("reading the log: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return LogPage{}, err
	}
	var ids []uuid.UUID
	for _, r := range rows {
		if r.Kind == "visit" {
			ids = append(ids, r.ID)
		}
	}
	takenBack, err := s.keeper.Store.TakenBack(ctx, ids)
	if err != nil {
		return LogPage{}, fmt.Errorf("reading what was taken back: %w", err)
	}
	visits, correctedBy, err := s.keeper.Store.VisitsByID(ctx, ids)
	if err != nil {
		return LogPage{}, fmt.Errorf("reading the visits: %w", err)
	}
	out := LogPage{Entries: make([]LogEntry, len(rows))}
	for i, r := range rows {
		e := LogEntry{
			Kind:     r.Kind,
			ID:       r.ID.String(),
			At:       r.At,
			Received: r.Received,
			What:     r.What,
			Detail:   words.Named(r.Detail),
		}
		if r.By != nil {
			e.By = names[*r.By]
		}
		switch r.Kind {
		case "run":
			e.Detail = words.Message(r.Detail)
		case "photo":
			if e.Detail = company.NoteOf(r.Detail); r.What == "gone" {
				e.Detail = words.Message(r.Detail)
			}
		case "pad":
			e.Detail = company.NoteOf(r.Detail)
		case "visit":
			v := visit.View(visits[r.ID], p.Name(), e.By, kind, false)
			if by, ok := correctedBy[r.ID]; ok {
				v.CorrectedBy = by.String()
			}
			if at, ok := takenBack[r.ID]; ok {
				v.TakenBack = &at
			}
			e.Visit, e.What, e.Detail = &v, "", ""
		case "part":
			of := strings.SplitN(r.Detail, store.LogPart, 3)
			e.Detail = papers.PartWords(of[0], of[1], of[2])
		case "due":
			item, why, _ := strings.Cut(r.Detail, store.LogPart)
			if name := upkeep.ItemName(item, kind); name != "" {
				e.Detail = name
				if why != "" {
					e.Detail = words.Of("app.why-of", "name", words.Msg(name), "why", words.Msg(company.NoteOf(why)))
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

// OlderLine is a clean line that a later one took the place of.
type OlderLine struct {
	At     time.Time   `json:"at"`
	Points []LinePoint `json:"points" nullable:"false"`
}

// olderShown is how many earlier clean lines are drawn under the one in force.
const olderShown = 2

// olderLines draws a pool's earlier clean lines on the pad that it has now.
func (s *Service) olderLines(ctx context.Context, c company.Company, rec *store.PoolRecord) ([]OlderLine, error) {
	out := []OlderLine{}
	if rec.CleanLine == nil {
		return out, nil
	}
	lines, err := s.keeper.Store.CleanLinesOf(ctx, rec.Pool.ID)
	if err != nil {
		return out, fmt.Errorf("reading the clean lines: %w", err)
	}
	lines = slices.DeleteFunc(lines, func(l store.CleanLine) bool { return !l.TakenAt.Before(rec.CleanLine.TakenAt) })
	for _, l := range lines[:min(len(lines), olderShown)] {
		was := *rec
		was.CleanLine = &l
		cm, err := s.keeper.Model(&was, c.Settings)
		if err != nil {
			return out, err
		}
		points, err := cleanLine(cm.Model)
		if err != nil {
			return out, fmt.Errorf("drawing the clean line of %s: %w", l.TakenAt.Format(time.DateOnly), err)
		}
		out = append(out, OlderLine{At: l.TakenAt, Points: points})
	}
	return out, nil
}
