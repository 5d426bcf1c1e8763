package record

import (
	"cmp"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/words"
	"fairlap/internal/app/company"
)

var technician = uuid.MustParse("0199c0de-0000-7000-8000-000000000001")

// asOnRecord is a pool's facts with nothing wrong with them.
func asOnRecord() PoolEdit {
	lat, lon := 33.4, -112.1
	return PoolEdit{
		Street: "Quince Court 14", Town: "Pellam", Gallons: 18500, Surface: "plaster", InGround: true, Weekday: 2,
		TechnicianID: &technician, Minutes: 30, LapOrder: 3, Lat: &lat, Lon: &lon, SeasonOpens: "04-15", SeasonCloses: "10-20", Version: 4,
	}
}

// Each slip of a pool's facts is named at its field, all of them at once.
func TestAPoolsFactsNameTheirSlips(t *testing.T) {
	crew := []company.Person{{ID: technician.String(), Name: "O. Brandt"}}
	good := asOnRecord()
	assert.Empty(t, checkFacts(&good, crew))
	far, stranger := 200.0, uuid.New()
	for name, x := range map[string]struct {
		change func(*PoolEdit)
		field  string
	}{
		"no street":        {func(p *PoolEdit) { p.Street = "  " }, "street"},
		"a bucket":         {func(p *PoolEdit) { p.Gallons = 20 }, "gallons"},
		"a lake":           {func(p *PoolEdit) { p.Gallons = 2e6 }, "gallons"},
		"no figure":        {func(p *PoolEdit) { p.Gallons = math.NaN() }, "gallons"},
		"no minute":        {func(p *PoolEdit) { p.Minutes = 0 }, "minutes"},
		"a whole day":      {func(p *PoolEdit) { p.Minutes = 481 }, "minutes"},
		"before the first": {func(p *PoolEdit) { p.LapOrder = -1 }, "lapOrder"},
		"off the globe":    {func(p *PoolEdit) { p.Lat = &far }, "lat"},
		"round the globe":  {func(p *PoolEdit) { p.Lon = &far }, "lon"},
		"half a place":     {func(p *PoolEdit) { p.Lon = nil }, "lon"},
		"the other half":   {func(p *PoolEdit) { p.Lat = nil }, "lat"},
		"half a season":    {func(p *PoolEdit) { p.SeasonCloses = "" }, "seasonCloses"},
		"a stranger":       {func(p *PoolEdit) { p.TechnicianID = &stranger }, "technicianId"},
	} {
		p := asOnRecord()
		x.change(&p)
		errs := checkFacts(&p, crew)
		require.NotEmpty(t, errs, name)
		fields := map[string]bool{}
		for _, e := range errs {
			fields[e.Field] = true
			assert.NotEmpty(t, words.Plain.Say(e.Text))
		}
		assert.True(t, fields[x.field], "%s: %v", name, fields)
	}
	all := PoolEdit{Gallons: 1, Minutes: 0, LapOrder: -1, SeasonOpens: "x"}
	assert.GreaterOrEqual(t, len(checkFacts(&all, crew)), 5, "all at once")
}

// The trail names each fact that differs, with what it was; a way in and a customer are
// named and never quoted.
func TestTheTrailNamesWhatChangedAndQuotesNoSecret(t *testing.T) {
	was := asOnRecord()
	assert.Equal(t, words.Message("app.nothing"), changed(was, was))
	customer := uuid.New()
	for name, x := range map[string]struct {
		change func(*PoolEdit)
		says   string
	}{
		"street":  {func(p *PoolEdit) { p.Street = "Quince Court 16" }, "Quince Court 14"},
		"town":    {func(p *PoolEdit) { p.Town = "" }, "none"},
		"volume":  {func(p *PoolEdit) { p.Gallons = 20000 }, "18,500"},
		"weekday": {func(p *PoolEdit) { p.Weekday = 4 }, "Tuesday"},
		"minutes": {func(p *PoolEdit) { p.Minutes = 45 }, "45"},
		"who":     {func(p *PoolEdit) { p.TechnicianID = nil }, "who comes"},
		"place":   {func(p *PoolEdit) { p.Lat, p.Lon = nil, nil }, "map"},
		"season":  {func(p *PoolEdit) { p.SeasonOpens = "05-01" }, "season"},
		"whose":   {func(p *PoolEdit) { p.CustomerID = &customer }, "whose"},
		"way in":  {func(p *PoolEdit) { p.AccessNote = "code 4711" }, "get in"},
	} {
		now := asOnRecord()
		x.change(&now)
		says := words.Plain.Say(changed(was, now))
		assert.Contains(t, says, x.says, name)
		assert.NotContains(t, says, "4711", name)
		assert.NotContains(t, says, customer.String(), name)
	}
	small := asOnRecord()
	small.Gallons += 0.2
	assert.Equal(t, words.Message("app.nothing"), changed(was, small), "what nobody typed is no change")
}

// A list sorted by what may not be known keeps the unknown last both ways round, and is
// otherwise an order: turned round, it is the other one.
func TestTheUnknownComesLastBothWays(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var list []*float64
		for range rapid.IntRange(0, 12).Draw(t, "n") {
			if rapid.Bool().Draw(t, "known") {
				v := float64(rapid.IntRange(0, 5).Draw(t, "v"))
				list = append(list, &v)
			} else {
				list = append(list, nil)
			}
		}
		for _, down := range []bool{false, true} {
			sorted := slices.Clone(list)
			slices.SortStableFunc(sorted, func(a, b *float64) int {
				way := known(a, b, cmp.Compare)
				if down && way != unknownLast && way != -unknownLast {
					way = -way
				}
				return way
			})
			first := slices.IndexFunc(sorted, func(v *float64) bool { return v == nil })
			if first < 0 {
				first = len(sorted)
			}
			for i, v := range sorted {
				assert.Equal(t, i >= first, v == nil)
				if i > 0 && i < first {
					if down {
						assert.GreaterOrEqual(t, *sorted[i-1], *v)
					} else {
						assert.LessOrEqual(t, *sorted[i-1], *v)
					}
				}
			}
		}
	})
}

// Times and figures are compared by what they are.
func TestOrdersKnowTheirColumns(t *testing.T) {
	early, late := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC), time.Date(2026, 2, 1, 0, 0, 0, 0, time.UTC)
	a, b := PoolLine{LastVisit: &early, Technician: "A"}, PoolLine{LastVisit: &late, Technician: "B"}
	assert.Negative(t, poolOrders["visited"](&a, &b))
	assert.Negative(t, poolOrders["technician"](&a, &b))
	assert.Zero(t, poolOrders["load"](&a, &b), "neither is known")
	for by := range ofStanding {
		assert.NotNil(t, poolOrders[by], by)
	}
}
