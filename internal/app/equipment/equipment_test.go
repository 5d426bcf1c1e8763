package equipment

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/company"
	"fairlap/internal/store"
)

var (
	now    = time.Date(2026, 11, 24, 18, 0, 0, 0, time.UTC)
	zone   = time.FixedZone("desert", -7*3600)
	pool   = uuid.MustParse("0199c0de-0000-7000-8000-000000000001")
	filter = uuid.MustParse("0199c0de-0000-7000-8000-000000000002")
	gone   = uuid.MustParse("0199c0de-0000-7000-8000-000000000003")
)

// inPlace is a filter of 2019 and a ring that went out.
func inPlace() map[uuid.UUID]store.Equipment {
	in, out, years := time.Date(2019, 5, 1, 0, 0, 0, 0, time.UTC), time.Date(2024, 1, 1, 0, 0, 0, 0, time.UTC), 9.0
	return map[uuid.UUID]store.Equipment{
		filter: {
			ID:            filter,
			PoolID:        pool,
			Kind:          "cartridge",
			Model:         "Pleat 150",
			InstalledOn:   &in,
			ExpectedYears: &years,
		},
		gone: {ID: gone, PoolID: pool, Kind: "lid-o-ring", Model: "Ring", InstalledOn: &in, RemovedOn: &out},
	}
}

func read(in PartChange) (store.EquipmentEvent, *store.Equipment, *uuid.UUID, map[string]bool) {
	event, fresh, out, errs := readPartChange(company.Company{Zone: zone}, pool, in, inPlace(), now)
	fields := map[string]bool{}
	for _, e := range errs {
		fields[e.Field] = true
	}
	return event, fresh, out, fields
}

// Each slip is named at its field, and nothing comes in or goes out with it.
func TestAPartChangeNamesItsSlips(t *testing.T) {
	id := uuid.New()
	cost := func(v float64) *float64 { return &v }
	for name, x := range map[string]struct {
		in    PartChange
		field string
	}{
		"no id":                  {PartChange{Act: "install", Kind: "cartridge", Model: "M", On: "2026-01-01"}, "id"},
		"no day":                 {PartChange{ID: id, Act: "install", Kind: "cartridge", Model: "M", On: "yesterday"}, "on"},
		"tomorrow":               {PartChange{ID: id, Act: "install", Kind: "cartridge", Model: "M", On: "2026-11-25"}, "on"},
		"no kind":                {PartChange{ID: id, Act: "install", Model: "M", On: "2026-01-01"}, "kind"},
		"no model":               {PartChange{ID: id, Act: "install", Kind: "cartridge", Model: "  ", On: "2026-01-01"}, "model"},
		"a warranty of no day":   {PartChange{ID: id, Act: "install", Kind: "cartridge", Model: "M", On: "2026-01-01", WarrantyUntil: "soon"}, "warrantyUntil"},
		"less than nothing":      {PartChange{ID: id, Act: "install", Kind: "cartridge", Model: "M", On: "2026-01-01", Cost: cost(-1)}, "cost"},
		"part of what is out":    {PartChange{ID: id, Act: "install", Kind: "grids", Model: "M", On: "2026-01-01", PartOf: &gone}, "partOf"},
		"part of nothing":        {PartChange{ID: id, Act: "install", Kind: "grids", Model: "M", On: "2026-01-01", PartOf: &pool}, "partOf"},
		"another pool's part":    {PartChange{ID: id, Act: "replace", Part: &pool, Model: "M", On: "2026-01-01"}, "part"},
		"out before it went in":  {PartChange{ID: id, Act: "remove", Part: &filter, Note: "torn", On: "2018-01-01"}, "on"},
		"mended without a word":  {PartChange{ID: id, Act: "repair", Part: &filter, On: "2026-01-01"}, "note"},
		"removed without a word": {PartChange{ID: id, Act: "remove", Part: &filter, On: "2026-01-01"}, "note"},
	} {
		_, fresh, out, fields := read(x.in)
		assert.True(t, fields[x.field], "%s: %v", name, fields)
		assert.Nil(t, fresh, name)
		assert.Nil(t, out, name)
	}
}

// A day is the company's: what is tomorrow by the server's clock may still be today there,
// and the other way round.
func TestTodayIsTheCompanysDay(t *testing.T) {
	_, _, _, fields := read(PartChange{ID: uuid.New(), Act: "install", Kind: "cartridge", Model: "M", On: "2026-11-24"})
	assert.Empty(t, fields)
	_, _, _, errs := readPartChange(
		company.Company{Zone: zone},
		pool,
		PartChange{ID: uuid.New(), Act: "install", Kind: "cartridge", Model: "M", On: "2026-11-25"},
		inPlace(),
		time.Date(2026, 11, 25, 3, 0, 0, 0, time.UTC),
	) // still the 24th in the desert
	require.Len(t, errs, 1)
	assert.Equal(t, "on", errs[0].Field)
}

// What takes a part's place keeps its kind, its own life and what it belongs to; a kind is
// known by its name in any language.
func TestAReplacementKeepsItsPlace(t *testing.T) {
	cost := 84.495
	event, fresh, out, fields := read(
		PartChange{
			ID:    uuid.New(),
			Act:   "replace",
			Part:  &filter,
			Model: " Pleat 320 ",
			On:    "2026-01-01",
			Kind:  "something else",
			Cost:  &cost,
		},
	)
	require.Empty(t, fields)
	require.NotNil(t, fresh)
	assert.Equal(t, "cartridge", fresh.Kind)
	assert.Equal(t, "Pleat 320", fresh.Model)
	assert.Equal(t, 9.0, *fresh.ExpectedYears)
	assert.Equal(t, filter, *out)
	assert.Equal(t, filter, *event.Replaces)
	assert.Equal(t, int64(8450), *event.CostCents, "to the cent, halves up")
	for _, named := range []string{"cartridge", "Cartridge", "cartucho"} {
		_, fresh, _, fields := read(
			PartChange{ID: uuid.New(), Act: "install", Kind: named, Model: "M", On: "2026-01-01"},
		)
		require.Empty(t, fields)
		assert.Equal(t, "cartridge", fresh.Kind, named)
	}
}

// The same change sent again is the same part, whatever the clock says by then.
func TestAPartsIdFollowsFromItsChange(t *testing.T) {
	in := PartChange{ID: uuid.New(), Act: "install", Kind: "cartridge", Model: "M", On: "2026-01-01"}
	_, first, _, _ := read(in)
	_, again, _, _ := read(in)
	assert.Equal(t, first.ID, again.ID)
	in.ID = uuid.New()
	_, other, _, _ := read(in)
	assert.NotEqual(t, first.ID, other.ID)
}
