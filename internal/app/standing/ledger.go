package standing

import (
	"time"

	"fairlap/core/lap"
	"fairlap/core/upkeep"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Ledger is what a pool's due work follows from.
func Ledger(
	c company.Company,
	r *store.PoolRecord,
	cm *Pad,
	h *upkeep.History,
	parts []store.Equipment,
	marks []store.DueMark,
	inspected []upkeep.Inspected,
	planned []lap.Visit,
	now time.Time,
) upkeep.Ledger {
	l := upkeep.Ledger{
		Now:         now.In(c.Zone),
		Doc:         &cm.Model.Doc,
		Kind:        cm.Model.Doc.Filter.Kind,
		Settings:    c.Settings,
		History:     h,
		Since:       r.Pool.OnRecordSince,
		KGalPerDay:  cm.KGalPerDay,
		NoDischarge: c.Settings.NoDischargeOn,
	}
	if r.CleanLine != nil {
		l.CleanLine = &r.CleanLine.TakenAt
	}
	l.Later = planned[1].At
	for _, e := range parts {
		p := upkeep.Part{Kind: e.Kind, Model: e.Model}
		if e.InstalledOn != nil {
			p.Installed = *e.InstalledOn
		}
		if e.ExpectedYears != nil {
			p.Years = *e.ExpectedYears
		}
		l.Parts = append(l.Parts, p)
	}
	l.Marks, l.Inspected = Marks(c, marks), inspected
	return l
}

// Marks are decisions as the core has them.
func Marks(c company.Company, marks []store.DueMark) []upkeep.Mark {
	var out []upkeep.Mark
	for _, m := range marks {
		k := upkeep.Mark{Item: m.Item, Act: upkeep.MarkAct(m.Act), At: m.MadeAt}
		if m.Until != nil {
			k.Until = m.Until.In(c.Zone)
		}
		out = append(out, k)
	}
	return out
}

// Free tells whether held work may be done at a visit.
func Free(c company.Company, d *upkeep.Due, at time.Time) bool {
	if d.Item != string(upkeep.CleanFilter) {
		return true
	}
	if d.Hold != nil && at.Before(d.Hold.Until) {
		return false
	}
	return !c.Settings.NoDischargeOn(at) || d.Freed != nil && c.Today(*d.Freed).Equal(c.Today(at))
}
