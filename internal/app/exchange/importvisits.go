package exchange

import (
	"encoding/json"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/papers"
	"fairlap/internal/app/standing"
	"fairlap/internal/app/visit"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

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
