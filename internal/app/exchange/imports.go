package exchange

import (
	"context"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"runtime"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"fairlap/core/casefile"
	"fairlap/core/catalogue"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

// RowOutcome is what becomes of one row of a spreadsheet.
type RowOutcome struct {
	Table   string          `json:"table"`
	Line    int             `json:"line"`
	Key     string          `json:"key" doc:"what the row is about"`
	Outcome string          `json:"outcome" enum:"new,known,refused" doc:"known: on record already, left as it is"`
	Text    []words.Message `json:"says,omitempty" doc:"why it is refused, a sentence each"`
}

// outcomes of rows.
const (
	outcomeNew     = "new"
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

// rowReader reads one row by column names and gathers what is wrong with it.
type rowReader struct {
	table    *sheet.Table
	row      *sheet.Row
	column   map[string]int
	refusals []words.Message
	marks    figure.Marks // of decimals, as far as the table tells
	zone     *time.Location
}

func (r *rowReader) bad(column string, refusals words.Message) {
	r.refusals = append(r.refusals, words.Of("app.column", "column", words.Name(column), "says", words.Msg(refusals)))
}

func (r *rowReader) text(column string, most int) string {
	i, ok := r.column[column]
	if !ok {
		return ""
	}
	v := r.row.Cells[i]
	if len([]rune(v)) > most {
		r.bad(column, words.Of("app.longer-than-letters", "most", words.N(most)))
	}
	if strings.ContainsFunc(v, func(c rune) bool { return c < ' ' && c != '\n' && c != '\t' && c != '\r' }) {
		r.bad(column, "app.holds-letters-that-can-t")
	}
	return v
}

func (r *rowReader) need(column string, most int) string {
	v := r.text(column, most)
	if v == "" {
		r.bad(column, "app.must-not-be-empty")
	}
	return v
}

// number reads a figure with a decimal point or comma; nil for an empty cell.
func (r *rowReader) number(column string, low, high float64) *float64 {
	v := r.text(column, 60)
	if v == "" {
		return nil
	}
	x, err := figure.Number(v, figure.Span{Low: low, Top: high}, r.marks)
	if err != nil {
		r.bad(column, figure.Problem(err))
		return nil
	}
	return &x
}

func (r *rowReader) whole(column string, low, high, usual int) int {
	x := r.number(column, float64(low), float64(high))
	if x == nil {
		return usual
	}
	if *x != math.Trunc(*x) {
		r.bad(column, "app.must-be-a-whole-number")
	}
	return int(*x)
}

func (r *rowReader) choice(column string, usual string, options ...string) string {
	v := strings.ToLower(r.text(column, 60))
	if v == "" {
		return usual
	}
	if !slices.Contains(options, v) {
		r.bad(
			column,
			words.Of("app.is-none-of", "v", words.Name(v), "options", words.Name(strings.Join(options, ", "))),
		)
		return usual
	}
	return v
}

// serialDays is the span in which a number may be a spreadsheet's day: 1954 to 2119.
const serialFrom, serialTo = 20_000, 80_000

// serial reads a spreadsheet's number of days, which counts from the last day but one
// of 1899.
func (r *rowReader) serial(v string) (time.Time, bool) {
	x, err := strconv.ParseFloat(v, 64)
	if !r.table.Serial || err != nil || x < serialFrom || x > serialTo {
		return time.Time{}, false
	}
	days := math.Floor(x)
	return time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC).
			AddDate(0, 0, int(days)).
			Add(time.Duration(math.Round((x-days)*24*60)) * time.Minute),
		true
}

func (r *rowReader) day(column string) *time.Time {
	v := r.text(column, 40)
	if v == "" {
		return nil
	}
	t, ok := r.serial(v)
	if !ok {
		var err error
		if t, err = time.Parse(time.DateOnly, v); err != nil {
			r.bad(column, words.Of("app.is-no-day-write-it", "v", words.Name(v)))
			return nil
		}
	}
	if !access.Reasonable(t) {
		r.bad(column, access.NotReasonable)
		return nil
	}
	return &t
}

// at reads a time in the company's zone.
func (r *rowReader) at(column string) *time.Time {
	v := r.text(column, 40)
	if v == "" {
		return nil
	}
	if t, ok := r.serial(v); ok {
		t = time.Date(t.Year(), t.Month(), t.Day(), t.Hour(), t.Minute(), 0, 0, r.zone)
		return &t
	}
	for _, layout := range []string{minuteLayout, "2006-01-02 15:04:05", "2006-01-02T15:04", time.DateOnly} {
		if t, err := time.ParseInLocation(layout, v, r.zone); err == nil {
			return &t
		}
	}
	if t, err := time.Parse(time.RFC3339, v); err == nil {
		return &t
	}
	r.bad(column, words.Of("app.is-no-time-write-it", "v", words.Name(v)))
	return nil
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
func (s *Service) planImport(ctx context.Context, a access.Actor, name string, content []byte) (*plan, error) {
	tables, err := sheet.Read(name, content)
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
	}
	if err := im.readRecord(ctx); err != nil {
		return nil, err
	}
	order := []struct {
		name, key string
		read      func(*sheet.Table) error
	}{{"catalogue", "top_rpm", im.readCatalogue}, {"pools", "volume_gal", im.readPools}, {"equipment", "kind", im.readParts}, {"visits", "arrived_at", im.readVisits}, {"readings", "rpm", im.readReadings}}
	taken := 0
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
			if len(r.refusals) > 0 {
				f.Outcome, f.Text = outcomeRefused, r.refusals
			}
		}
		im.outcomes = append(im.outcomes, f)
	}
}

// readCatalogue hands the table to the catalogue's own reader, row by row.
func (im *importer) readCatalogue(t *sheet.Table) error {
	var wrong error
	im.rows(t, func(r *rowReader) (string, string) {
		var text strings.Builder
		w := csv.NewWriter(&text)
		_ = w.Write(t.Head)
		_ = w.Write(r.row.Cells)
		w.Flush()
		items, errs := catalogue.Read(strings.NewReader(text.String()))
		for _, e := range errs {
			_, at, _ := strings.Cut(e.Path, ", ")
			r.bad(at, words.Of("app.sentence-low", "says", words.Msg(e.Text)))
		}
		if len(errs) > 0 || len(items) != 1 {
			return r.text("model", 80), outcomeRefused
		}
		item := items[0]
		key := item.Kind() + " " + strings.ToLower(item.Model)
		text2, err := json.Marshal(item)
		was, known := im.catalog[key]
		old, err2 := json.Marshal(was)
		wrong = errors.Join(wrong, err, err2)
		im.catalog[key] = item
		if known && string(old) == string(text2) {
			return item.Model, outcomeKnown
		}
		im.items = append(
			im.items,
			store.CatalogueItem{
				Model:      item.Model,
				Kind:       item.Kind(),
				Item:       text2,
				ImportedAt: im.now,
				ImportedBy: &im.a.ID,
			},
		)
		return item.Model, outcomeNew
	})
	return wrong
}

var weekdays = []string{"sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"}

func (im *importer) readPools(t *sheet.Table) error {
	seen := map[string]int{}
	im.rows(t, func(r *rowReader) (string, string) {
		street := r.need("street", 120)
		which := r.text("which", 40)
		name := store.PoolName(street, which)
		key := strings.ToLower(name)
		if before, twice := seen[key]; twice && street != "" {
			r.bad("street", words.Of("app.stands-in-row-too", "before", words.N(before)))
			return name, outcomeRefused
		}
		seen[key] = r.row.Line
		p := store.Pool{
			ID:         uuid.Must(uuid.NewV7()),
			Street:     street,
			Town:       r.text("town", 120),
			Which:      which,
			Surface:    r.text("surface", 40),
			AccessNote: r.text("access_note", 500),
			Version:    1,
			InGround: r.choice(
				"ground",
				"in",
				"in",
				"above",
			) == "in",
			BaseMinutes:   r.whole("minutes", 1, 480, 25),
			LapOrder:      r.whole("lap_order", 0, 100_000, 0),
			Lat:           r.number("lat", -90, 90),
			Lon:           r.number("lon", -180, 180),
			OnRecordSince: im.c.Today(im.now),
		}
		if v := r.number("volume_gal", 100, 1e6); v != nil {
			p.VolumeM3 = float64(units.Gallons(*v))
		} else if len(r.refusals) == 0 {
			r.bad("volume_gal", "app.must-not-be-empty")
		}
		if (p.Lat == nil) != (p.Lon == nil) {
			r.bad("lat", "app.a-place-needs-both-degrees-2")
		}
		p.Weekday = slices.Index(weekdays, r.choice("weekday", "monday", weekdays...))
		if since := r.day("since"); since != nil {
			p.OnRecordSince = *since
			if since.After(im.c.Today(im.now)) {
				r.bad("since", "app.this-day-is-still-to-2")
			}
		}
		opening := company.Season{Opens: r.text("season_opens", 5), Closes: r.text("season_closes", 5)}
		for _, e := range company.CheckSeason("", opening.Opens, opening.Closes) {
			r.bad(map[string]string{"seasonOpens": "season_opens", "seasonCloses": "season_closes"}[e.Field], e.Text)
		}
		p.Cleaning, _ = json.Marshal(opening) // two words: cannot fail
		login := strings.ToLower(r.text("technician", 60))
		if login != "" {
			u, ok := im.users[login]
			if !ok || access.Role(u.Role) != access.Technician {
				r.bad("technician", words.Of("app.no-technician-signs-in-as", "login", words.Name(login)))
			}
			p.TechnicianID = &u.ID
		}
		who := store.Customer{
			ID:        uuid.Must(uuid.NewV7()),
			Name:      r.text("customer", 120),
			Phone:     r.text("phone", 60),
			Email:     r.text("email", 200),
			Version:   1,
			CreatedAt: im.now,
		}
		if who.Name == "" && (who.Phone != "" || who.Email != "") {
			r.bad("customer", "app.a-phone-or-an-address")
		}
		doc := im.padOf(r)
		if len(r.refusals) > 0 {
			return name, outcomeRefused
		}
		document, err := json.Marshal(doc)
		if err != nil {
			r.bad("pad", "app.can-t-be-written-down")
			return name, outcomeRefused
		}
		first := store.Plumbing{
			ID:        uuid.Must(uuid.NewV7()),
			PoolID:    p.ID,
			Revision:  1,
			Document:  document,
			Reason:    store.ReasonDescription,
			CreatedBy: &im.a.ID,
			CreatedAt: p.OnRecordSince,
		}
		if old := im.pools[key]; old != nil {
			cells, err := poolCells(&p, who, login, &first)
			if err != nil {
				r.bad("pad", "app.can-t-be-read-back")
				return name, outcomeRefused
			}
			for i, name := range poolColumns {
				if _, given := r.column[name]; given && r.text(name, math.MaxInt) != "" && name != "since" &&
					cellText(cells[i]) != cellText(old.cells[i]) {
					r.bad(name, "app.this-pool-is-on-record")
				}
			}
			return name, outcomeKnown
		}
		if who.Name != "" {
			k := [3]string{who.Name, who.Phone, who.Email}
			id, ok := im.customers[k]
			if !ok {
				id = who.ID
				im.customers[k] = id
				im.batch.Customers = append(im.batch.Customers, who)
			}
			p.CustomerID = &id
		}
		im.pools[key] = &importPool{id: p.ID, name: name, plumbing: first.ID, doc: doc, fresh: map[string]uuid.UUID{}}
		im.batch.Pools = append(im.batch.Pools, p)
		im.batch.Plumbing = append(im.batch.Plumbing, first)
		return name, outcomeNew
	})
	return nil
}

// padOf is a row's pad: its document, or what its models and one length draw.
func (im *importer) padOf(r *rowReader) pad.Document {
	if text := r.text("pad", 1<<20); text != "" {
		doc, errs := pad.Read(strings.NewReader(text))
		for _, e := range errs {
			r.bad("pad", words.Of("app.at-path", "path", words.Name(e.Path), "says", words.Msg(e.Text)))
		}
		return doc
	}
	find := func(column, kind string) *catalogue.Item {
		name := r.text(column, 80)
		if name == "" {
			return nil
		}
		item, ok := im.catalog[kind+" "+strings.ToLower(name)]
		if !ok {
			r.bad(column, words.Of("app.the-catalogue-has-no-import", "kind", words.Name(kind), "x", words.Name(name)))
			return nil
		}
		return &item
	}
	k := pad.Sketch{PipeIn: 2, Spa: r.choice("spa", "no", "yes", "no") == "yes"}
	if i := find("pump", "pump"); i != nil {
		k.Pump = *i.Pump
	} else if r.text("pump", 80) == "" {
		r.bad("pump", "app.must-not-be-empty-unless")
	}
	if i := find("filter", "filter"); i != nil {
		k.Filter = *i.Filter
	} else if r.text("filter", 80) == "" {
		r.bad("filter", "app.must-not-be-empty-unless")
	}
	if i := find("heater", "heater"); i != nil {
		k.Heater = i.Heater
	}
	if i := find("cell", "cell"); i != nil {
		k.Cell = i.Cell
	}
	if v := r.number("pipe_in", 1, 4); v != nil {
		k.PipeIn = *v
	}
	if v := r.number("length_ft", 1, 500); v != nil {
		k.LengthFt = *v
	} else {
		k.LengthFt = 40 // as usual, with the description's wide doubt
	}
	if len(r.refusals) > 0 {
		return pad.Document{}
	}
	doc := k.Document()
	for _, e := range doc.Validate() {
		r.bad("pad", words.Of("app.at-path", "path", words.Name(e.Path), "says", words.Msg(e.Text)))
	}
	return doc
}

// poolNamed finds the pool that a row is about.
func (im *importer) poolNamed(r *rowReader) *importPool {
	street := r.need("street", 170)
	p := im.pools[strings.ToLower(street)]
	if p == nil && street != "" {
		r.bad("street", words.Of("app.no-pool-is-on-record", "street", words.Name(street)))
	}
	return p
}

func (im *importer) readParts(t *sheet.Table) error {
	taken := map[uuid.UUID]bool{}
	type child struct{ part, row int }
	var children []child
	im.rows(t, func(r *rowReader) (string, string) {
		p := im.poolNamed(r)
		e := store.Equipment{
			ID:            uuid.Must(uuid.NewV7()),
			Kind:          upkeep.PartKind(r.need("kind", 40)),
			Model:         r.text("model", 80),
			Serial:        r.text("serial", 80),
			InstalledOn:   r.day("installed_on"),
			ExpectedYears: r.number("expected_years", 0.1, 50),
			WarrantyUntil: r.day("warranty_until"),
		}
		if cost := r.number("cost", 0, 1e6); cost != nil {
			cents := int64(math.Round(100 * *cost))
			e.CostCents = &cents
		}
		if e.InstalledOn != nil && e.InstalledOn.After(im.c.Today(im.now)) {
			r.bad("installed_on", "app.this-day-is-still-to-2")
		}
		key := strings.TrimSpace(e.Kind + " " + e.Model)
		if len(r.refusals) > 0 || p == nil {
			return key, outcomeRefused
		}
		key = p.name + ", " + key
		e.PoolID = p.id
		for _, old := range p.parts {
			if !taken[old.ID] && old.Kind == e.Kind && old.Model == e.Model && old.Serial == e.Serial &&
				cellText(dayCell(old.InstalledOn)) == cellText(dayCell(e.InstalledOn)) {
				taken[old.ID] = true
				return key, outcomeKnown
			}
		}
		if of := r.text("part_of", 40); of != "" {
			children = append(children, child{len(im.batch.Parts), len(im.outcomes)})
		}
		p.fresh[strings.ToLower(e.Kind)] = e.ID
		im.batch.Parts = append(im.batch.Parts, e)
		return key, outcomeNew
	})
	// A part may stand before what it belongs to.
	first := len(im.outcomes) - len(t.Rows)
	column := slices.Index(t.Head, "part_of")
	byID := map[uuid.UUID]*importPool{}
	for _, p := range im.pools {
		byID[p.id] = p
	}
	for _, c := range children {
		e := &im.batch.Parts[c.part]
		of := strings.ToLower(t.Rows[c.row-first].Cells[column])
		p := byID[e.PoolID]
		parent, ok := p.fresh[of]
		for _, old := range p.parts {
			if !ok && strings.ToLower(old.Kind) == of {
				parent, ok = old.ID, true
			}
		}
		if !ok || parent == e.ID {
			im.outcomes[c.row].Outcome, im.outcomes[c.row].Text = outcomeRefused, []words.Message{
				words.Of("app.no-such-part-in-place", "part", words.Name(of)),
			}
			continue
		}
		e.PartOf = &parent
	}
	return nil
}

// visitSpace makes ids out of names that are none.
var visitSpace = uuid.MustParse("6f1a1d0e-7d0a-4c0e-9a55-5a1d6f4be3c1")

func (im *importer) readVisits(t *sheet.Table) error {
	im.rows(t, func(r *rowReader) (string, string) {
		name := r.need("visit", 80)
		p := im.poolNamed(r)
		arrived, closed := r.at("arrived_at"), r.at("closed_at")
		if before := im.visits[name]; before != nil {
			r.bad("visit", words.Of("app.stands-in-row-too-2", "line", words.N(before.line)))
		}
		if arrived == nil {
			r.bad("arrived_at", "app.must-not-be-empty")
			return name, outcomeRefused
		}
		if closed == nil {
			closed = arrived
		}
		if !access.Reasonable(*arrived) {
			r.bad("arrived_at", access.NotReasonable)
		}
		if closed.Before(*arrived) || closed.After(im.now) {
			r.bad("closed_at", "app.a-visit-ends-after-it")
		}
		u, ok := im.users[strings.ToLower(r.need("technician", 60))]
		if !ok {
			r.bad("technician", "app.nobody-signs-in-by-this")
		}
		v := store.Visit{
			TechnicianID: u.ID,
			ArrivedAt:    *arrived,
			ClosedAt:     *closed,
			Note:         r.text("note", 4000),
			ConfirmedHow: r.text("confirmed_how", 500),
			Confirmed:    r.text("confirmed", 60),
			ChemicalsAt: r.at(
				"chemicals_at",
			),
			PrimeS:     r.number("prime_s", 1, 1800),
			DrainS:     r.number("drain_s", 1, 3600),
			Diagnosis:  json.RawMessage("{}"),
			RecordedAt: im.now.Truncate(time.Microsecond),
		}
		v.Cleaned = r.choice("cleaned", "no", "yes", "no") == "yes"
		if p == nil || len(r.refusals) > 0 {
			return name, outcomeRefused
		}
		kind := p.doc.Filter.Kind
		if c := v.Confirmed; c != "" && c != standing.NothingFound {
			if _, ok := fault.LookUp(fault.ID(strings.TrimPrefix(c, standing.OpenConfirmed)), kind); !ok {
				r.bad("confirmed", words.Of("app.no-fault-is-called", "c", words.Name(c)))
			}
		}
		im.readWorks(r, &v)
		im.readSigns(r, &v)
		id, err := uuid.Parse(name)
		if err != nil {
			id = uuid.NewSHA1(visitSpace, []byte(strings.ToLower(p.name)+"/"+name))
		}
		v.ID, v.PoolID, v.PlumbingID, v.CleanLineID = id, p.id, p.plumbing, p.clean
		key := p.name + ", " + arrived.In(im.c.Zone).Format(minuteLayout)
		x := &importVisit{at: -1, pool: p, line: r.row.Line, outcome: len(im.outcomes)}
		im.visits[name] = x
		if im.known[id] {
			return key, outcomeKnown
		}
		if len(r.refusals) > 0 {
			return key, outcomeRefused
		}
		x.at = len(im.batch.Visits)
		im.batch.Visits = append(im.batch.Visits, v)
		return key, outcomeNew
	})
	return nil
}

// readWorks reads "basket; part: new ring".
func (im *importer) readWorks(r *rowReader, v *store.Visit) {
	for _, w := range strings.Split(r.text("works", 4000), ";") {
		kind, note, _ := strings.Cut(strings.TrimSpace(w), ":")
		if kind = strings.TrimSpace(kind); kind == "" {
			continue
		}
		if _, ok := papers.WorkWords[kind]; !ok {
			r.bad("works", words.Of("app.no-work-is-called", "kind", words.Name(kind)))
			continue
		}
		v.Works = append(v.Works, store.VisitWork{Seq: len(v.Works), Kind: kind, Note: strings.TrimSpace(note)})
		v.Cleaned = v.Cleaned || kind == "cleaned"
	}
	if v.Cleaned && !slices.ContainsFunc(v.Works, func(w store.VisitWork) bool { return w.Kind == "cleaned" }) {
		v.Works = append(v.Works, store.VisitWork{Seq: len(v.Works), Kind: "cleaned"})
	}
}

// readSigns reads "air-in-pot=yes; basket-full=no".
func (im *importer) readSigns(r *rowReader, v *store.Visit) {
	for _, g := range strings.Split(r.text("signs", 4000), ";") {
		id, answer, _ := strings.Cut(strings.TrimSpace(g), "=")
		if id == "" {
			continue
		}
		if _, ok := fault.LookUpSign(fault.Sign(id)); !ok || answer != "yes" && answer != "no" {
			r.bad("signs", words.Of("app.is-no-sign-with-yes", "g", words.Name(g)))
			continue
		}
		if !slices.ContainsFunc(v.Signs, func(s store.VisitSign) bool { return s.Sign == id }) {
			v.Signs = append(v.Signs, store.VisitSign{Sign: id, Yes: answer == "yes"})
		}
	}
}

func (im *importer) readReadings(t *sheet.Table) error {
	im.rows(t, func(r *rowReader) (string, string) {
		name := r.need("visit", 80)
		v := im.visits[name]
		if v == nil {
			if name != "" {
				r.bad("visit", "app.no-visit-of-this-name")
			}
			return name, outcomeRefused
		}
		phase := r.choice("phase", "found", "found", "after")
		setting := pad.Setting(
			r.choice(
				"setting",
				string(pad.SetFilter),
				"filter",
				"backwash",
				"rinse",
				"waste",
				"recirculate",
				"closed",
				"winter",
				"spa",
			),
		)
		rpm := r.number("rpm", 0, 4000)
		if rpm == nil {
			r.bad("rpm", "app.a-reading-needs-its-speed")
			return name, outcomeRefused
		}
		typed := casefile.Reading{
			RPM:        *rpm,
			Setting:    string(setting),
			TankPsi:    r.number("tank_psi", -15, 100),
			VacuumInHg: r.number("vacuum_inhg", 0, 30),
			FlowGPM:    r.number("flow_gpm", 0, 250),
			PowerW:     r.number("power_w", 0, 6000),
		}
		if len(r.refusals) > 0 {
			return name, outcomeRefused
		}
		if v.at < 0 {
			return name, outcomeKnown
		}
		reading := diagnosis.Reading{Reading: typed.Meters(), Setting: setting}
		b := &im.batch.Visits[v.at]
		b.Readings = append(b.Readings, visit.StoredRow(len(b.Readings), phase, reading))
		if setting == pad.SetFilter && *rpm > 0 && *rpm <= v.pool.doc.Pump.TopRPM*1.02 {
			if phase == "after" {
				v.after = append(v.after, reading)
			} else {
				v.found = append(v.found, reading)
			}
		}
		return name, outcomeNew
	})
	return nil
}

// finishVisits gathers what is to be worked out from readings once the file is taken.
func (im *importer) finishVisits() {
	for _, v := range im.visits {
		if v.at >= 0 && len(v.found)+len(v.after) > 0 {
			im.loads = append(
				im.loads,
				loadTask{visit: v.at, found: v.found, after: v.after, model: im.modelOf(v.pool)},
			)
		}
	}
}

// modelOf solves a pool's pad once for all its visits; nil for one that can't be.
func (im *importer) modelOf(p *importPool) *plumbing.Model {
	if p.model == nil {
		if m, err := judge.Fit(p.doc, nil, &im.c.Settings); err == nil {
			p.model = m
		}
	}
	return p.model
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
