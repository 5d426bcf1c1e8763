package exchange

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/clock"
	"fairlap/internal/store"
)

// ImportView is how an import stands.
type ImportView struct {
	ID      uuid.UUID     `json:"id" format:"uuid"`
	State   string        `json:"state" enum:"reading,read,writing,done,failed" doc:"read: a dry run that can be taken, or not"`
	File    string        `json:"file"`
	Done    int           `json:"done" doc:"of total, while it writes"`
	Total   int           `json:"total"`
	Text    words.Message `json:"says" doc:"why it failed, in a sentence"`
	Tables  []ImportTable `json:"tables" nullable:"false"`
	Refused int           `json:"refused" doc:"rows; while there are any, nothing is taken, unless they are to be left out"`
	// Of a customer list.
	Columns []ImportColumn `json:"columns" nullable:"false" doc:"of a customer list, what each is taken for; empty: a table of our own"`
	Choices ImportChoices  `json:"choices"`
	Missing []string       `json:"missing" nullable:"false" doc:"technicians that nobody here is called"`
	By      string         `json:"by"`
	MadeAt  time.Time      `json:"madeAt"`
	Until   *time.Time     `json:"until" doc:"until when what came in can be taken back; null: no more"`
	Pools   int            `json:"pools" doc:"that came in"`
	Seconds float64        `json:"seconds" doc:"since this state began, or that it took"`
}

// ImportTable counts the outcomes of one table's rows.
type ImportTable struct {
	Name    string `json:"name"`
	New     int    `json:"new"`
	Gap     int    `json:"gap" doc:"of the new: they come in otherwise than the file has them"`
	Known   int    `json:"known"`
	Refused int    `json:"refused"`
}

// Of an import: the steps that are done beside other work, and their states.
const (
	reading = "reading"
	dryRun  = "read"
	writing = "writing"
	done    = "done"
	failed  = "failed"
)

// Later does a step of an import beside other work, on whichever server has time.
type Later func(ctx context.Context, id uuid.UUID) error

// DoLater has the steps of imports done by a queue that outlives this program; without one
// they are done here.
func (s *Service) DoLater(l Later) { s.later = l }

// here does a step in this program.
func (s *Service) here(ctx context.Context, id uuid.UUID) error {
	go func() { _ = s.WorkImport(context.WithoutCancel(ctx), id, true) }() // told at the import
	return nil
}

func (s *Service) importOf(ctx context.Context, a access.Actor, id uuid.UUID) (store.Import, error) {
	i, err := s.keeper.Store.ImportByID(ctx, id, false)
	if err == nil && i.Owner != a.ID {
		err = store.ErrNotFound
	}
	if err != nil {
		return i, fmt.Errorf("finding the import: %w", err)
	}
	return i, nil
}

func (s *Service) view(i store.Import) (ImportView, error) {
	v := ImportView{
		ID:      i.ID,
		State:   i.State,
		File:    i.File,
		Done:    i.Done,
		Total:   i.Total,
		Text:    words.Message(i.Says),
		Tables:  []ImportTable{},
		Refused: i.Refused,
		Seconds: i.Seconds,
	}
	if i.State == reading || i.State == writing {
		v.Seconds = s.keeper.Now().Sub(i.BeganAt).Seconds()
	}
	v.Columns, v.Missing, v.MadeAt = []ImportColumn{}, []string{}, i.MadeAt
	var came brought
	for from, into := range map[*json.RawMessage]any{&i.Tables: &v.Tables, &i.Columns: &v.Columns,
		&i.Choices: &v.Choices, &i.Brought: &came} {
		if len(*from) == 0 {
			continue
		}
		if err := json.Unmarshal(*from, into); err != nil {
			return v, fmt.Errorf("reading the import: %w", err)
		}
	}
	v.Missing, v.Pools = append(v.Missing, came.Missing...), len(came.Pools)
	if until := i.MadeAt.Add(importsKept); i.State == done && i.WithdrawnAt == nil && len(came.Pools) > 0 {
		v.Until = &until
	}
	return v, nil
}

// brought is what an import wrote, to be taken back; before it wrote, what it could not find.
type brought struct {
	Pools   []uuid.UUID `json:"pools,omitempty"`
	People  []uuid.UUID `json:"people,omitempty"`
	Missing []string    `json:"missing,omitempty"`
}

// importsKept is how long an import can be taken back.
const importsKept = 7 * 24 * time.Hour

// StartImport takes a spreadsheet to be read as a dry run, beside other work; nothing of it
// is written.
func (s *Service) StartImport(ctx context.Context, a access.Actor, name string, content []byte) (ImportView, error) {
	if a.Role == access.Technician {
		return ImportView{}, access.ErrForbidden
	}
	now := s.keeper.Now()
	i := store.Import{
		ID:      uuid.Must(uuid.NewV7()),
		Owner:   a.ID,
		File:    name,
		Content: content,
		State:   reading,
		Tables:  json.RawMessage("[]"),
		BeganAt: now,
		MadeAt:  now,
	}
	if err := s.keeper.Store.AddImport(ctx, i); err != nil {
		return ImportView{}, fmt.Errorf("taking the file: %w", err)
	}
	if err := s.later(ctx, i.ID); err != nil {
		return ImportView{}, fmt.Errorf("having the file read: %w", err)
	}
	return s.Import(ctx, a, i.ID)
}

// Import tells how an import stands.
func (s *Service) Import(ctx context.Context, a access.Actor, id uuid.UUID) (ImportView, error) {
	i, err := s.importOf(ctx, a, id)
	if err != nil {
		return ImportView{}, err
	}
	return s.view(i)
}

// WorkImport does the step that an import waits for. Done twice it is done once: what it
// writes and that it has are one unit of work. What went wrong by no fault of the file leaves it
// waiting for another try, unless this is the last.
func (s *Service) WorkImport(ctx context.Context, id uuid.UUID, last bool) error {
	i, err := s.keeper.Store.ImportByID(ctx, id, true)
	if err != nil {
		return fmt.Errorf("finding the import: %w", err)
	}
	if i.State != reading && i.State != writing {
		return nil // somebody did it
	}
	u, err := s.keeper.Store.UserByID(ctx, i.Owner)
	if err != nil {
		return fmt.Errorf("finding whose import it is: %w", err)
	}
	a, err := s.keeper.Actor(ctx, u)
	if err != nil {
		return err
	}
	began := clock.Now()
	p, err := s.planImport(ctx, a, &i)
	switch {
	case err != nil:
	case i.State == reading:
		err = s.keepDryRun(ctx, i, p, began)
	default:
		err = s.write(ctx, a, i, p, began)
	}
	var typed figure.FieldErrors
	if err == nil || ctx.Err() != nil || !last && !errors.As(err, &typed) {
		return err
	}
	return s.fail(ctx, i, began, err)
}

// fail ends an import; a file that says what is wrong with it is not tried again.
func (s *Service) fail(ctx context.Context, i store.Import, began time.Time, err error) error {
	says := words.Message("app.this-file-could-not-be")
	if i.State == writing {
		says = "app.the-record-changed-meanwhile-or"
	}
	var typed figure.FieldErrors
	if errors.As(err, &typed) {
		says = typed[0].Text
	}
	_, moved := s.keeper.Store.MoveImport(
		ctx,
		i.ID,
		i.State,
		map[string]any{"state": failed, "says": string(says), "seconds": clock.Since(began).Seconds(), "content": nil},
	)
	if typed != nil {
		return moved
	}
	return errors.Join(err, moved)
}

// keepDryRun writes down what would become of each row.
func (s *Service) keepDryRun(ctx context.Context, i store.Import, p *plan, began time.Time) error {
	rows := make([]store.ImportRow, len(p.outcomes))
	for n, o := range p.outcomes {
		text, err := json.Marshal(o)
		if err != nil {
			return fmt.Errorf("writing what becomes of row %d: %w", n, err)
		}
		rows[n] = store.ImportRow{ImportID: i.ID, N: n, Outcome: o.Outcome, Row: text}
	}
	if err := s.keeper.Store.KeepImportRows(ctx, i.ID, rows); err != nil {
		return fmt.Errorf("keeping what becomes of the rows: %w", err)
	}
	tables, err := json.Marshal(tally(p.outcomes))
	if err != nil {
		return fmt.Errorf("counting the rows: %w", err)
	}
	columns, err := json.Marshal(p.columns)
	if err != nil {
		return fmt.Errorf("writing the columns: %w", err)
	}
	missing, err := json.Marshal(brought{Missing: p.missing})
	if err != nil {
		return fmt.Errorf("writing who is missing: %w", err)
	}
	_, err = s.keeper.Store.MoveImport(ctx, i.ID, reading, map[string]any{"state": dryRun, "refused": p.refused(),
		"columns": string(columns), "brought": string(missing),
		"total": p.batch.Size() + len(
			p.items,
		) + len(
			p.loads,
		), "tables": string(tables), "seconds": clock.Since(began).Seconds()})
	return err
}

// told is how many rows are written between two words on how far an import is.
const told = 500

// write takes a plan's rows in, all or none.
func (s *Service) write(ctx context.Context, a access.Actor, i store.Import, p *plan, began time.Time) error {
	if p.refused() > i.Refused || p.refused() > 0 && !i.LeaveOut {
		return figure.Wrong("file", "app.the-record-changed-meanwhile-or")
	}
	var rows atomic.Int64
	step := func(n int) {
		if now := rows.Add(int64(n)); now/told != (now-int64(n))/told { // beside the unit of work: a word on the way
			_, _ = s.keeper.Store.MoveImport(ctx, i.ID, writing, map[string]any{"done": now})
		}
	}
	err := p.workOut(ctx, step)
	came := brought{}
	for _, pool := range p.batch.Pools {
		came.Pools = append(came.Pools, pool.ID)
	}
	for _, u := range p.batch.Users {
		came.People = append(came.People, u.ID)
	}
	all, bad := json.Marshal(came)
	if err = errors.Join(err, bad); err == nil {
		b := &p.batch
		text := words.Of("app.took-in-pools-parts-visits", "file", words.Name(i.File), "pools", words.N(len(b.Pools)),
			"parts", words.N(len(b.Parts)), "visits", words.N(len(b.Visits)), "items", words.N(len(p.items)))
		err = s.keeper.Audited(ctx, a, "import", nil, text, func(st *store.Store) error {
			if err := st.AddBatch(ctx, b, p.items, step); err != nil {
				return err
			}
			for _, c := range p.columns {
				if err := st.KeepImportHeading(ctx, folded(c.Heading), string(c.Field)); err != nil {
					return fmt.Errorf("remembering the columns: %w", err)
				}
			}
			still, err := st.MoveImport(
				ctx,
				i.ID,
				writing,
				map[string]any{"state": done, "done": i.Total, "brought": string(all), "seconds": clock.Since(began).Seconds(), "content": nil},
			)
			if err == nil && !still {
				err = store.ErrVersion // another server was quicker
			}
			return err
		})
	}
	return err
}

func tally(outcomes []RowOutcome) []ImportTable {
	out := []ImportTable{}
	for _, f := range outcomes {
		if len(out) == 0 || out[len(out)-1].Name != f.Table {
			out = append(out, ImportTable{Name: f.Table})
		}
		t := &out[len(out)-1]
		switch f.Outcome {
		case outcomeNew:
			t.New++
		case outcomeGap:
			t.New++
			t.Gap++
		case outcomeKnown:
			t.Known++
		default:
			t.Refused++
		}
	}
	return out
}

// outcomesAtOnce is how many rows' outcomes a page shows.
const outcomesAtOnce = 200

// ImportRows lists rows' outcomes from a place on; of one outcome, or of all.
func (s *Service) ImportRows(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	outcome string,
	from int,
) ([]RowOutcome, error) {
	if _, err := s.importOf(ctx, a, id); err != nil {
		return nil, err
	}
	rows, err := s.keeper.Store.ImportRows(ctx, id, outcome, from, outcomesAtOnce)
	if err != nil {
		return nil, fmt.Errorf("reading what becomes of the rows: %w", err)
	}
	out := make([]RowOutcome, len(rows))
	for n, text := range rows {
		if err := json.Unmarshal(text, &out[n]); err != nil {
			return nil, fmt.Errorf("reading what becomes of the rows: %w", err)
		}
	}
	return out, nil
}

// ChooseImport decides about a list that was read, and reads it again.
func (s *Service) ChooseImport(ctx context.Context, a access.Actor, id uuid.UUID, c ImportChoices) (ImportView, error) {
	i, err := s.importOf(ctx, a, id)
	if err != nil {
		return ImportView{}, err
	}
	for heading, f := range c.Columns {
		if f != LeaveOut && !slices.ContainsFunc(knownFields, func(k knownField) bool { return k.Field == f }) {
			return ImportView{}, figure.Wrong("columns", words.Of("app.list-no-such-field", "heading", words.Name(heading)))
		}
	}
	if i.State != dryRun {
		v, err := s.view(i)
		return v, errors.Join(err, figure.Wrong("file", "app.list-too-late"))
	}
	text, err := json.Marshal(c)
	if err != nil {
		return ImportView{}, fmt.Errorf("writing what was decided: %w", err)
	}
	mine, err := s.keeper.Store.MoveImport(ctx, id, dryRun,
		map[string]any{"state": reading, "choices": string(text), "began_at": s.keeper.Now()})
	if err != nil {
		return ImportView{}, fmt.Errorf("keeping what was decided: %w", err)
	}
	if mine {
		if err := s.later(ctx, id); err != nil {
			return ImportView{}, fmt.Errorf("having the file read: %w", err)
		}
	}
	return s.Import(ctx, a, id)
}

// Imports lists what came in lately, newest first.
func (s *Service) Imports(ctx context.Context, a access.Actor) ([]ImportView, error) {
	if a.Role == access.Technician {
		return nil, access.ErrForbidden
	}
	rows, err := s.keeper.Store.ImportsOf(ctx, importsListed)
	if err != nil {
		return nil, fmt.Errorf("listing the imports: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return nil, fmt.Errorf("reading the people: %w", err)
	}
	out := []ImportView{}
	for _, i := range rows {
		v, err := s.view(i)
		if err != nil {
			return nil, err
		}
		v.By = names[i.Owner]
		out = append(out, v)
	}
	return out, nil
}

// importsListed is how many of the last imports are shown.
const importsListed = 10

// WithdrawImport takes back what an import brought: pools that nothing was recorded of since go out of care, and
// people who never signed in out of the company.
func (s *Service) WithdrawImport(ctx context.Context, a access.Actor, id uuid.UUID) (ImportView, error) {
	if a.Role == access.Technician {
		return ImportView{}, access.ErrForbidden
	}
	i, err := s.keeper.Store.ImportByID(ctx, id, false)
	if err != nil {
		return ImportView{}, fmt.Errorf("finding the import: %w", err)
	}
	var came brought
	if err := json.Unmarshal(i.Brought, &came); err != nil {
		return ImportView{}, fmt.Errorf("reading what came in: %w", err)
	}
	now := s.keeper.Now()
	err = s.keeper.Audited(ctx, a, "import", nil, words.Of("app.took-an-import-back", "file", words.Name(i.File)),
		func(st *store.Store) error {
			mine, err := st.WithdrawImport(ctx, id, now)
			if err != nil || !mine {
				return err
			}
			_, _, err = st.TakeBack(ctx, came.Pools, came.People, now)
			return err
		})
	if err != nil {
		return ImportView{}, fmt.Errorf("taking the import back: %w", err)
	}
	if i, err = s.keeper.Store.ImportByID(ctx, id, false); err != nil {
		return ImportView{}, fmt.Errorf("finding the import: %w", err)
	}
	return s.view(i)
}

// TakeImport has what a dry run found written, all of it or nothing, beside other work. One
// with refused rows is taken only where they are to be left out.
func (s *Service) TakeImport(ctx context.Context, a access.Actor, id uuid.UUID, leaveOut bool) (ImportView, error) {
	i, err := s.importOf(ctx, a, id)
	if err != nil {
		return ImportView{}, err
	}
	if i.State == dryRun && (i.Refused == 0 || leaveOut) {
		mine, err := s.keeper.Store.MoveImport(
			ctx,
			id,
			dryRun,
			map[string]any{"state": writing, "done": 0, "leave_out": leaveOut, "began_at": s.keeper.Now()},
		)
		if err != nil {
			return ImportView{}, fmt.Errorf("taking the import: %w", err)
		}
		if mine {
			if err := s.later(ctx, id); err != nil {
				return ImportView{}, fmt.Errorf("having the import written: %w", err)
			}
		}
		return s.Import(ctx, a, id)
	}
	v, err := s.view(i)
	if i.State == writing || i.State == done {
		return v, err // asked twice is asked once
	}
	return v, figure.Wrong("file", "app.rows-are-refused-nothing-is")
}
