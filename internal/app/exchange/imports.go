package exchange

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"fairlap/core/catalogue"
	"fairlap/core/diagnosis"
	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/padwork"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

// RowOutcome is what becomes of one row of a spreadsheet.
type RowOutcome struct {
	Table   string          `json:"table"`
	Line    int             `json:"line"`
	Key     string          `json:"key" doc:"what the row is about"`
	Outcome string          `json:"outcome" enum:"new,gap,known,refused" doc:"gap: it comes in, with what is said of it; known: on record already, left as it is"`
	Text    []words.Message `json:"says,omitempty" doc:"why it is refused, or what comes in otherwise than the file has it, a sentence each"`
	// Of a customer list.
	Trouble []Field          `json:"trouble,omitempty" doc:"the fields that the sentences are about"`
	Cells   map[Field]string `json:"cells,omitempty" doc:"what it comes in as"`
}

// outcomes of rows.
const (
	outcomeNew     = "new"
	outcomeGap     = "gap"
	outcomeKnown   = "known"
	outcomeRefused = "refused"
)

// plan is what an import would write, and what becomes of each row.
type plan struct {
	outcomes []RowOutcome
	batch    store.Batch
	items    []store.CatalogueItem
	// loads are worked out from readings after the dry run: that is what takes time.
	loads []loadTask
	// Of a customer list: its columns, and the technicians that nobody here is called.
	columns []ImportColumn
	missing []string
}

// loadTask works out what a visit's readings say of the filter.
type loadTask struct {
	visit        int // of the batch
	model        *plumbing.Model
	found, after []diagnosis.Reading
}

func (p *plan) refused() int {
	n := 0
	for _, f := range p.outcomes {
		if f.Outcome == outcomeRefused {
			n++
		}
	}
	return n
}

// importer reads the tables of one file against what is on record.
type importer struct {
	*plan
	c       company.Company
	a       access.Actor
	now     time.Time
	pools   map[string]*importPool // by name, in small letters
	users   map[string]store.User  // by login
	catalog map[string]catalogue.Item
	svc     *Service

	customers map[[3]string]uuid.UUID
	visits    map[string]*importVisit // by the file's own name for it
	known     map[uuid.UUID]bool      // visits on record
	week      map[uuid.UUID]*[7]int   // pools by whose they are and their day
}

// importPool is a pool that rows may be about: on record, or coming in.
type importPool struct {
	id       uuid.UUID
	name     string
	cells    []any // its row as it stands on record; nil for one coming in
	plumbing uuid.UUID
	doc      pad.Document
	clean    *uuid.UUID
	model    *plumbing.Model
	parts    []store.Equipment // in place on record
	fresh    map[string]uuid.UUID
}

type importVisit struct {
	at      int // of the batch; −1 for one on record
	pool    *importPool
	line    int
	outcome int // of the plan
	found   []diagnosis.Reading
	after   []diagnosis.Reading
}

// planImport reads a file and says what would become of each row. Nothing is written.
func (s *Service) planImport(ctx context.Context, a access.Actor, i *store.Import) (*plan, error) {
	var choices ImportChoices
	if err := json.Unmarshal(i.Choices, &choices); err != nil {
		return nil, fmt.Errorf("reading what was decided about the list: %w", err)
	}
	tables, err := sheet.Read(i.File, i.Content)
	var refused sheet.Refusal
	if errors.As(err, &refused) {
		return nil, figure.Wrong("file", refused.Text)
	}
	if err != nil {
		return nil, err
	}
	im := &importer{
		plan:      &plan{},
		a:         a,
		now:       s.keeper.Now(),
		svc:       s,
		pools:     map[string]*importPool{},
		users:     map[string]store.User{},
		customers: map[[3]string]uuid.UUID{},
		visits:    map[string]*importVisit{},
		known:     map[uuid.UUID]bool{},
		catalog:   map[string]catalogue.Item{},
		week:      map[uuid.UUID]*[7]int{},
	}
	if err := im.readRecord(ctx); err != nil {
		return nil, err
	}
	order := []struct {
		name, key string
		read      func(*sheet.Table) error
	}{{"catalogue", "top_rpm", im.readCatalogue}, {"pools", "volume_gal", im.readPools},
		{"equipment", "kind", im.readParts}, {"visits", "arrived_at", im.readVisits},
		{"readings", "rpm", im.readReadings}}
	taken := 0
	if t, columns, err := im.asList(ctx, tables, choices.Columns); err != nil {
		return nil, err
	} else if t != nil {
		t.Name = "pools"
		im.columns = columns
		im.readList(t, columns, choices)
		return im.plan, nil
	}
	for _, o := range order {
		for i := range tables {
			t := &tables[i]
			if !slices.Contains(t.Head, o.key) || t.Name != o.name && len(tables) > 1 {
				continue
			}
			if o.name == "equipment" && slices.Contains(t.Head, "top_rpm") {
				continue // a catalogue says its kinds too
			}
			t.Name = o.name
			taken++
			if err := o.read(t); err != nil {
				return nil, err
			}
		}
	}
	if taken == 0 {
		return nil, figure.Wrong("file", "app.no-table-here-has-the")
	}
	im.finishVisits()
	return im.plan, nil
}

// asList finds the customer list of a file that is none of our own; nil where there is none.
func (im *importer) asList(ctx context.Context, tables []sheet.Table, chosen map[string]Field) (
	*sheet.Table, []ImportColumn, error,
) {
	before, err := im.svc.keeper.Store.ImportHeadings(ctx)
	if err != nil {
		return nil, nil, fmt.Errorf("reading what headings were taken for: %w", err)
	}
	last := make(map[string]Field, len(before))
	for heading, f := range before {
		last[heading] = Field(f)
	}
	for i := range tables {
		t := &tables[i]
		if ours(t) || slices.Contains(t.Head, "top_rpm") || slices.Contains(t.Head, "arrived_at") ||
			slices.Contains(t.Head, "rpm") || slices.Contains(t.Head, "installed_on") {
			return nil, nil, nil
		}
	}
	for i := range tables {
		columns := match(&tables[i], chosen, last)
		if len(tables[i].Rows) > 0 && (len(chosen) > 0 || listLike(columns)) {
			return &tables[i], columns, nil
		}
	}
	return nil, nil, nil
}

// readRecord reads what rows are held against.
func (im *importer) readRecord(ctx context.Context) (err error) {
	st := im.svc.keeper.Store
	if im.c, err = im.svc.keeper.Company(ctx); err != nil {
		return err
	}
	people, err := st.Everybody(ctx)
	if err != nil {
		return fmt.Errorf("listing the people: %w", err)
	}
	logins := map[uuid.UUID]string{}
	for _, u := range people {
		im.users[u.Login] = u
		logins[u.ID] = u.Login
	}
	items, err := padwork.New(im.svc.keeper).Catalogue(ctx)
	if err != nil {
		return err
	}
	for _, i := range items {
		im.catalog[i.Kind+" "+strings.ToLower(i.Model)] = i.Item
	}
	pools, err := st.AllPools(ctx)
	if err != nil {
		return fmt.Errorf("listing the pools: %w", err)
	}
	ids := make([]uuid.UUID, len(pools))
	for i := range pools {
		ids[i] = pools[i].ID
		whose := uuid.Nil
		if id := pools[i].TechnicianID; id != nil {
			whose = *id
		}
		if im.week[whose] == nil {
			im.week[whose] = new([7]int)
		}
		im.week[whose][pools[i].Weekday%7]++
	}
	for from := 0; from < len(pools); from += equipment.PoolsAtOnce {
		part := pools[from:min(from+equipment.PoolsAtOnce, len(pools))]
		rows, err := im.svc.poolRows(ctx, part, logins)
		if err != nil {
			return fmt.Errorf("reading the pools: %w", err)
		}
		records, err := st.PoolRecords(ctx, ids[from:from+len(part)])
		if err != nil {
			return fmt.Errorf("reading the pads: %w", err)
		}
		parts, err := st.EquipmentOf(ctx, ids[from:from+len(part)]...)
		if err != nil {
			return fmt.Errorf("reading the equipment: %w", err)
		}
		for i, p := range part {
			rec := records[p.ID]
			e := &importPool{
				id:       p.ID,
				name:     p.Name(),
				cells:    rows[i],
				plumbing: rec.Plumbing.ID,
				parts:    parts[p.ID],
				fresh:    map[string]uuid.UUID{},
			}
			if err := json.Unmarshal(rec.Plumbing.Document, &e.doc); err != nil {
				return fmt.Errorf("the pad of %s: %w", p.Name(), err)
			}
			if rec.CleanLine != nil {
				e.clean = &rec.CleanLine.ID
				cm, err := im.svc.keeper.Model(rec, im.c.Settings)
				if err != nil {
					return err
				}
				e.model = cm.Model
			}
			im.pools[strings.ToLower(p.Name())] = e
		}
	}
	ids, err = st.VisitIDs(ctx)
	for _, id := range ids {
		im.known[id] = true
	}
	return err
}

// rows walks a table; read gives the row's key, or says what is wrong by the reader.
func (im *importer) rows(t *sheet.Table, read func(*rowReader) (key, outcome string)) {
	column := map[string]int{}
	for i, h := range t.Head {
		if _, twice := column[h]; !twice {
			column[h] = i
		}
	}
	var cells []string
	for i := range t.Rows {
		cells = append(cells, t.Rows[i].Cells...)
	}
	marks := figure.MarksOf(cells)
	for i := range t.Rows {
		r := &rowReader{table: t, row: &t.Rows[i], column: column, marks: marks, zone: im.c.Zone}
		f := RowOutcome{Table: t.Name, Line: t.Rows[i].Line}
		if t.Rows[i].Wrong != "" {
			f.Outcome, f.Text = outcomeRefused, []words.Message{t.Rows[i].Wrong}
		} else {
			f.Key, f.Outcome = read(r)
			f.Text, f.Trouble, f.Cells = r.notes, r.trouble, r.cells
			if len(r.refusals) > 0 {
				f.Outcome, f.Text = outcomeRefused, r.refusals
			}
		}
		im.outcomes = append(im.outcomes, f)
	}
}

// workOut says what the readings of visits show of the filter, on all processors.
func (p *plan) workOut(ctx context.Context, done func(int)) error {
	group, ctx := errgroup.WithContext(ctx)
	group.SetLimit(runtime.NumCPU())
	const partSize = 64
	for from := 0; from < len(p.loads); from += partSize {
		tasks := p.loads[from:min(from+partSize, len(p.loads))]
		group.Go(func() error {
			for i := range tasks {
				if ctx.Err() != nil {
					return ctx.Err()
				}
				if err := tasks[i].judge(&p.batch.Visits[tasks[i].visit]); err != nil {
					return err
				}
			}
			done(len(tasks))
			return nil
		})
	}
	return group.Wait()
}

// judge fills in a visit's loads, as they show if nothing else was amiss then.
func (t *loadTask) judge(v *store.Visit) error {
	if t.model == nil {
		return nil
	}
	if u := t.model.LoadUnit(); u > 0 {
		v.LoadUnit = &u
	}
	observe := func(readings []diagnosis.Reading) (*upkeep.Belief, error) {
		if len(readings) == 0 {
			return nil, nil
		}
		b, err := diagnosis.Observe(t.model, readings)
		if err != nil {
			return nil, fmt.Errorf("judging the readings of %s: %w", v.ArrivedAt.Format(minuteLayout), err)
		}
		return &b, nil
	}
	found, err := observe(t.found)
	if err != nil {
		return err
	}
	if found != nil {
		v.LoadMean, v.LoadSD = &found.Mean, &found.SD
	}
	if !v.Cleaned {
		return nil
	}
	after, err := observe(t.after)
	if after != nil {
		v.AfterMean, v.AfterSD = &after.Mean, &after.SD
	}
	return err
}
