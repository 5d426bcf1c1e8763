package office

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/core/upkeep"
	"fairlap/internal/app/access"
)

// The usual choices are within their bounds, and each that is not is named at its field.
func TestChoicesKeepToTheirBounds(t *testing.T) {
	assert.Empty(t, checkChoices(upkeep.Defaults()))
	for field, change := range map[string]func(*upkeep.Settings, float64){
		"limitRisePsi":    func(s *upkeep.Settings, v float64) { s.LimitRisePsi = v },
		"differentialPsi": func(s *upkeep.Settings, v float64) { s.DifferentialPsi = v },
		"sharePercent":    func(s *upkeep.Settings, v float64) { s.SharePercent = v },
		"fixedPsi":        func(s *upkeep.Settings, v float64) { s.FixedPsi = v },
		"flowLossPercent": func(s *upkeep.Settings, v float64) { s.FlowLossPercent = v },
		"cleanAbove":      func(s *upkeep.Settings, v float64) { s.CleanAbove = v },
		"worthDays":       func(s *upkeep.Settings, v float64) { s.WorthDays = v },
	} {
		for _, v := range []float64{-1, 1e6, math.NaN(), math.Inf(1)} {
			s := upkeep.Defaults()
			change(&s, v)
			errs := checkChoices(s)
			if assert.Len(t, errs, 1, "%s = %v", field, v) {
				assert.Equal(t, field, errs[0].Field)
				assert.NotEmpty(t, errs[0].Text)
			}
		}
	}
}

// The owner makes anybody anything, the office only technicians, a technician nobody.
func TestWhoMayRankWhom(t *testing.T) {
	roles := []access.Role{access.Technician, access.Office, access.Owner}
	for _, by := range roles {
		for _, r := range roles {
			may := by == access.Owner || by == access.Office && r == access.Technician
			assert.Equal(t, may, mayRank(access.Actor{Role: by}, r), "%s makes %s", by, r)
		}
	}
}
