package papers

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"fairlap/core/inspection"
	"fairlap/core/words"
	"fairlap/internal/app/company"
	"fairlap/internal/app/inspect"
	"fairlap/internal/app/standing"
	"fairlap/internal/picture"
	"fairlap/internal/store"
)

// inspectionPaper is an inspection on paper; without one named, the last that was closed.
func (s *Service) inspectionPaper(ctx context.Context, w *writer, of *uuid.UUID) error {
	rows, err := s.keeper.Store.InspectionsOf(ctx, w.Record.Pool.ID)
	if err != nil {
		return fmt.Errorf("listing the inspections: %w", err)
	}
	i := slices.IndexFunc(
		rows,
		func(r store.Inspection) bool { return r.ClosedAt != nil && (of == nil || r.ID == *of) },
	)
	if i < 0 {
		return store.ErrNotFound
	}
	row := rows[i]
	fs, err := standing.FindingsOf(&row)
	if err != nil {
		return err
	}
	var answers inspection.Answers
	if err := json.Unmarshal(row.Answers, &answers); err != nil {
		return fmt.Errorf("the answers of inspection %s: %w", row.ID, err)
	}
	w.doc.Title = words.Of("app.inspection-of", "day", w.day(*row.ClosedAt))
	w.poolFactsBlock()
	w.facts("app.inspected-by", words.Named(w.names[row.StartedBy]), "app.findings", one(words.N(len(fs))))
	for _, f := range fs {
		if f.Severity == inspection.Stop {
			w.caution(f.Text)
		}
	}
	severity := map[inspection.Severity]words.Message{
		inspection.Stop: "app.stop",
		inspection.Soon: "app.before-the-next-visit",
		inspection.Act:  "app.mend",
		inspection.Note: "app.good-to-know",
	}
	var table [][]words.Message
	for _, f := range fs {
		table = append(
			table,
			[]words.Message{
				f.Name,
				noted(f.Text, f.Note),
				severity[f.Severity],
				f.Who,
				words.Message("app.cost-" + string(f.Cost)),
			},
		)
	}
	if len(table) == 0 {
		w.say("app.nothing-was-found-that-needs")
	} else {
		w.heading("app.what-was-found")
		w.table(1, []words.Message{"app.at-2", "app.finding", "app.how-grave", "app.who-may", "app.cost"}, table)
	}
	looked := 0
	table = nil
	for _, it := range inspection.On(&w.Cached.Model.Doc, inspect.Schools(w.Company)) {
		x, ok := answers[it.ID]
		if !ok || x.Value == nil && x.Yes == nil {
			continue
		}
		looked++
		if x.Value != nil {
			figure := words.QD(it.Unit, *x.Value, -1)
			if it.Unit == "year" {
				figure = words.Year(int(*x.Value))
			}
			table = append(table, []words.Message{it.Name, one(figure)})
		}
	}
	if len(table) > 0 {
		w.heading("app.what-was-measured")
		w.table(0, []words.Message{"app.at-2", "app.figure"}, table)
	}
	if err := s.picturesInspected(ctx, w, row.ID); err != nil {
		return err
	}
	w.say(words.Of("app.things-looked-at", "n", words.N(looked)))
	return nil
}

// noted is what is said of a finding, with its own note after it.
func noted(text words.Message, note string) words.Message {
	if note == "" {
		return text
	}
	return words.Of("app.noted", "says", words.Msg(text), "note", words.Name(note))
}

// picturesInspected sets an inspection's pictures, each with what it shows.
func (s *Service) picturesInspected(ctx context.Context, w *writer, id uuid.UUID) error {
	rows, err := s.keeper.Store.PhotosInspected(ctx, id)
	if err != nil {
		return fmt.Errorf("listing the inspection's pictures: %w", err)
	}
	for i, r := range rows {
		if i == 0 {
			w.heading("app.pictures")
		}
		content, err := s.keeper.Store.PhotoBytes(ctx, r.Digest)
		if err != nil {
			return fmt.Errorf("reading picture %s: %w", r.ID, err)
		}
		small, err := picture.Smaller(content, onPaper)
		if err != nil {
			return err
		}
		w.picture(company.NoteOf(r.Caption), small)
	}
	return nil
}

// onPaper is the longest side of a picture on a paper, in points.
const onPaper = 900
