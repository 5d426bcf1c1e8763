package papers

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/paper"
	"fairlap/internal/store"
)

// PartWords name a part with its model, and the note that goes with what was done.
func PartWords(kind, model, note string) words.Message {
	if note == "" {
		return words.Of("app.part-model", "part", words.Msg(upkeep.PartName(kind)), "model", words.Name(model))
	}
	return words.Of(
		"app.part-model-note",
		"part",
		words.Msg(upkeep.PartName(kind)),
		"model",
		words.Name(model),
		"note",
		words.Msg(company.NoteOf(note)),
	)
}

// PaperKind is what a paper is about.
type PaperKind string

// The papers of a pool.
const (
	VisitPaper      PaperKind = "visit"
	RecordPaper     PaperKind = "report"
	SeasonPaper     PaperKind = "season"
	OwnerPaper      PaperKind = "owner"
	InspectionPaper PaperKind = "inspection"
)

// PaperName is a paper to choose.
type PaperName struct {
	Kind PaperKind     `json:"kind" enum:"visit,report,season,owner,inspection"`
	Name words.Message `json:"name"`
	Of   string        `json:"of" doc:"the visit or inspection that it is of"`
}

// recentVisits is how many visits' reports are offered; recentInspections how many
// inspections'.
const (
	recentVisits      = 6
	recentInspections = 3
)

// papersOf lists a pool's papers.
func (s *Service) papersOf(ctx context.Context, pool uuid.UUID) ([]PaperName, error) {
	out := []PaperName{
		{Kind: OwnerPaper, Name: "app.owner-s-sheet"},
		{Kind: RecordPaper, Name: "app.equipment-and-history"},
		{Kind: SeasonPaper, Name: "app.the-last-twelve-months"},
	}
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return nil, err
	}
	inspections, err := s.keeper.Store.InspectionsOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the inspections: %w", err)
	}
	closed := slices.DeleteFunc(inspections, func(r store.Inspection) bool { return r.ClosedAt == nil })
	for _, r := range closed[:min(len(closed), recentInspections)] {
		out = append(
			out,
			PaperName{
				Kind: InspectionPaper,
				Name: words.Of("app.inspection-of", "day", words.Date(r.ClosedAt.In(c.Zone))),
				Of:   r.ID.String(),
			},
		)
	}
	visits, err := s.keeper.Store.Log(ctx, pool, s.keeper.Now().AddDate(0, 0, 1), recentVisits)
	if err != nil {
		return nil, fmt.Errorf("listing the visits: %w", err)
	}
	for _, v := range visits {
		out = append(
			out,
			PaperName{
				Kind: VisitPaper,
				Name: words.Of("app.visit-of", "day", words.Date(v.ArrivedAt.In(c.Zone))),
				Of:   v.ID.String(),
			},
		)
	}
	return out, nil
}

// Papers lists a pool's papers.
func (s *Service) Papers(ctx context.Context, a access.Actor, pool uuid.UUID) ([]PaperName, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return nil, err
	}
	return s.papersOf(ctx, pool)
}

// Paper writes a pool's paper. How to get in is on none of them.
func (s *Service) Paper(
	ctx context.Context,
	a access.Actor,
	pool uuid.UUID,
	kind PaperKind,
	of *uuid.UUID,
) (paper.Page, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return paper.Page{}, err
	}
	return s.paper(ctx, a.Printer, pool, kind, of)
}

// SharedPaper writes a paper for whoever holds a pool's link.
func (s *Service) SharedPaper(
	ctx context.Context,
	reader words.Printer,
	secret string,
	kind PaperKind,
	of *uuid.UUID,
) (paper.Page, error) {
	p, err := s.sharedPool(ctx, secret)
	if err != nil {
		return paper.Page{}, err
	}
	return s.paper(ctx, reader, p.ID, kind, of)
}

// PaperPDF sets a paper as PDF.
func (s *Service) PaperPDF(ctx context.Context, d paper.Page) (access.File, error) {
	c, err := s.keeper.Company(ctx)
	if err != nil {
		return access.File{}, err
	}
	pdf, err := paper.Set(d, c.Zone)
	return access.File{Name: fileName(d.For.Say(d.Title)) + ".pdf", Type: "application/pdf", Content: pdf}, err
}

// fileName is a title as a file may be called.
func fileName(title string) string {
	return strings.Trim(strings.Map(func(r rune) rune {
		switch {
		case r >= 'a' && r <= 'z', r >= '0' && r <= '9':
			return r
		case r >= 'A' && r <= 'Z':
			return r + 'a' - 'A'
		}
		return '-'
	}, title), "-")
}

func (s *Service) paper(
	ctx context.Context,
	p words.Printer,
	pool uuid.UUID,
	kind PaperKind,
	of *uuid.UUID,
) (paper.Page, error) {
	now := s.keeper.Now()
	at, err := s.keeper.ReadPool(ctx, pool, now)
	if err != nil {
		return paper.Page{}, err
	}
	p.Units = units.System(at.Company.Office.Units) // a customer's, whoever prints it
	if p.Lang, err = s.langOf(ctx, &at.Record.Pool, p.Lang); err != nil {
		return paper.Page{}, err
	}
	w := &writer{Site: at, p: p, now: now.In(at.Company.Zone)}
	if w.names, err = s.keeper.Names(ctx); err != nil {
		return paper.Page{}, err
	}
	w.doc = paper.Page{
		Company: at.Company.Name,
		Phone:   at.Company.Office.Phone,
		Made:    words.Of("paper.made", "on", words.Date(w.now), "at", words.Clock(w.now)),
		Sub:     at.Record.Pool.Name(),
		Blocks:  []paper.Block{},
		For:     p,
	}
	switch kind {
	case OwnerPaper:
		err = w.owner()
	case RecordPaper:
		err = s.reportPaper(ctx, w)
	case SeasonPaper:
		err = s.seasonPaper(ctx, w)
	case VisitPaper:
		err = s.visitPaper(ctx, w, of)
	case InspectionPaper:
		err = s.inspectionPaper(ctx, w, of)
	default:
		err = store.ErrNotFound
	}
	if err != nil {
		return paper.Page{}, err
	}
	return w.doc, nil
}

// langOf is the language of a pool's papers: its customer's, where one is noted.
func (s *Service) langOf(ctx context.Context, p *store.Pool, reader words.Lang) (words.Lang, error) {
	if p.CustomerID == nil {
		return reader, nil
	}
	known, err := s.keeper.Store.Customers(ctx, []uuid.UUID{*p.CustomerID})
	if err != nil {
		return reader, fmt.Errorf("reading the customer: %w", err)
	}
	return cmp.Or(words.Lang(known[*p.CustomerID].Lang), reader), nil
}
