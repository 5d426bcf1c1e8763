package route

import (
	"cmp"
	"context"
	"encoding/csv"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/cells"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// dueColumns are the columns of the file of due work.
var dueColumns = []string{"by", "visit", "technician", "pool", "work", "minutes", "ground", "reason", "held"}

// DueFile writes all due work as CSV, a person's after another's, soonest first. No more than a
// page of people's pools is held at a time.
func (s *Service) DueFile(ctx context.Context, a access.Actor, out io.Writer) error {
	_, rows, err := s.drivers(ctx, a)
	if err != nil {
		return err
	}
	w := csv.NewWriter(out)
	if err := w.Write(dueColumns); err != nil {
		return fmt.Errorf("writing the due work: %w", err)
	}
	for page := range slices.Chunk(rows, weekRows) {
		b, err := s.board(ctx, theirs(page))
		if err != nil {
			return err
		}
		for _, r := range page {
			for _, line := range b.due(a, r.ID) {
				if err := w.Write(line); err != nil {
					return fmt.Errorf("writing the due work: %w", err)
				}
			}
		}
	}
	w.Flush()
	return w.Error()
}

// theirs are the pools of some rows of a board.
func theirs(rows []WeekRow) store.Whose {
	whose := store.Whose{}
	for _, r := range rows {
		if id, err := uuid.Parse(r.ID); err == nil {
			whose.People = append(whose.People, id)
		} else {
			whose.Nobody = true
		}
	}
	if len(rows) == 0 { // nobody's pools: none
		whose.People = []uuid.UUID{uuid.Max}
	}
	return whose
}

// due are the lines of the due work at somebody's pools, soonest first; of a technician who asks,
// at the pools too that they were handed a visit of.
func (b *board) due(a access.Actor, whose string) [][]string {
	type line struct {
		by    time.Time
		cells []string
	}
	var lines []line
	for i := range b.pools {
		p := &b.pools[i]
		if company.IDOr(p.TechnicianID) != whose && (a.Role != access.Technician || !b.meansPool(p)) {
			continue
		}
		technician := ""
		if p.TechnicianID != nil {
			technician = b.names[*p.TechnicianID]
		}
		r := &b.routes[i]
		for k, d := range r.Due {
			visit, held := "", words.Message("")
			if at := r.At[k]; at >= 0 {
				visit = r.Visits[at].At.Format(time.DateOnly)
			}
			if d.Hold != nil {
				held = d.Hold.Why
			}
			lines = append(lines, line{d.By, []string{
				d.By.In(b.Zone).
					Format(time.DateOnly),
				visit, technician, p.Name(), a.Printer.Say(d.Name), fmt.Sprintf("%.0f", d.Minutes),
				string(d.Ground), a.Printer.Say(d.Reason), a.Printer.Say(held),
			}})
		}
	}
	slices.SortStableFunc(
		lines,
		func(a, b line) int { return cmp.Or(a.by.Compare(b.by), strings.Compare(a.cells[3], b.cells[3])) },
	)
	out := make([][]string, len(lines))
	for i, l := range lines {
		for k, cell := range l.cells {
			l.cells[k] = cells.Plain(cell)
		}
		out[i] = l.cells
	}
	return out
}
