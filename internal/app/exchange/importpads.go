package exchange

import (
	"encoding/csv"
	"encoding/json"
	"errors"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"

	"fairlap/core/catalogue"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

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
			if !ok || !access.Role(u.Role).Drives() {
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
	if r.text("pump", 80)+r.text("filter", 80) == "" {
		return pad.Presume() // nobody has described it yet
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
