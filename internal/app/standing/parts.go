package standing

import (
	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

// Expected is how many years a part is expected to last: its own, else its kind's.
func Expected(c company.Company, e *store.Equipment) float64 {
	if e.ExpectedYears != nil {
		return *e.ExpectedYears
	}
	return c.Settings.LifeOf(e.Kind).Years
}
