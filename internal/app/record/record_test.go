package record

import (
	"math"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/words"
	"fairlap/internal/app/company"
)

var technician = uuid.MustParse("0199c0de-0000-7000-8000-000000000001")

// asOnRecord is a pool's facts with nothing wrong with them.
func asOnRecord() PoolEdit {
	lat, lon := 33.4, -112.1
	return PoolEdit{
		Street: "14 Quince Court", Town: "Pellam", Gallons: 18500, Surface: "plaster", InGround: true, Weekday: 2,
		TechnicianID: &technician, Minutes: 30, LapOrder: 3, Lat: &lat, Lon: &lon, SeasonOpens: "04-15",
		SeasonCloses: "10-20", Version: 4,
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
		"street":  {func(p *PoolEdit) { p.Street = "16 Quince Court" }, "14 Quince Court"},
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
