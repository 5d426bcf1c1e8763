package standing

import (
	"time"

	"fairlap/core/lap"
	"fairlap/core/upkeep"
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Ledger is what a pool's due work follows from at a moment; the filter is carried on to it.
func (s *Keeper) Ledger(c company.Company, k *Kept, planned []lap.Visit, now time.Time) upkeep.Ledger {
	return upkeep.Ledger{
		Now:         now.In(c.Zone),
		Later:       planned[1].At,
		Gear:        k.Gear,
		Settings:    c.Settings,
		Filter:      k.on(s, c, now),
		Worn:        k.Worn,
		CleanLine:   k.CleanLine,
		Since:       k.Since,
		Parts:       k.Parts,
		KGalPerDay:  k.KGalPerDay,
		Marks:       k.Marks,
		Inspected:   k.Inspected,
		NoDischarge: c.Settings.NoDischargeOn,
	}
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
