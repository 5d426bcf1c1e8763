package exchange

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/figure"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

// listed is a list with these people, and a row of it that says these cells.
func listed(cells map[Field]string, people ...store.User) (*customerList, *listRow) {
	im := &importer{plan: &plan{}, now: time.Date(2026, 11, 24, 17, 0, 0, 0, time.UTC),
		users: map[string]store.User{}, customers: map[[3]string]uuid.UUID{}, week: map[uuid.UUID]*[7]int{}}
	for _, u := range people {
		im.users[u.Login] = u
	}
	l := &customerList{importer: im, marks: figure.DecimalPoint, monthFirst: true,
		street: map[string]int{}, who: map[string]int{}}
	r := &listRow{rowReader: &rowReader{row: &sheet.Row{Line: 2}}, columns: map[Field]int{}}
	for f, c := range cells {
		r.columns[f] = len(r.row.Cells)
		r.row.Cells = append(r.row.Cells, c)
	}
	return l, r
}

func driver(login, name string) store.User {
	return store.User{ID: uuid.Must(uuid.NewV7()), Login: login, Name: name, Role: string(access.Technician),
		Active: true}
}

// A volume comes as lists write it, or from the measures; what can't be read is taken as usual, and said.
// A cubic foot is 7.48 gal and a gallon 3.785 L (handbook, common practice).
func TestAVolumeIsReadAsListsWriteIt(t *testing.T) {
	for name, x := range map[string]struct {
		cells   map[Field]string
		gallons float64
		gaps    int
	}{
		"plain":                 {map[Field]string{FieldVolume: "18000"}, 18000, 0},
		"with a mark":           {map[Field]string{FieldVolume: "18,000 gal"}, 18000, 0},
		"in thousands":          {map[Field]string{FieldVolume: "18k"}, 18000, 0},
		"a letter for a nought": {map[Field]string{FieldVolume: "1800O"}, 18000, 1},
		"liters in a cell":      {map[Field]string{FieldVolume: "68,000 liters"}, 17964, 0},
		"liters by heading":     {map[Field]string{FieldLiters: "68000"}, 17964, 0},
		"gallons before liters": {map[Field]string{FieldVolume: "18000", FieldLiters: "99000"}, 18000, 0},
		"liters where no gal":   {map[Field]string{FieldVolume: "", FieldLiters: "68000"}, 17964, 0},
		"one column of measures": {
			map[Field]string{FieldSize: "30 x 15 x 5"}, 16800, 0},
		"feet and marks":       {map[Field]string{FieldSize: "30' x 15' x 5'"}, 16800, 0},
		"without a depth":      {map[Field]string{FieldSize: "30x15"}, 16800, 0},
		"three columns":        {map[Field]string{FieldLength: "30", FieldWidth: "15", FieldDepth: "5"}, 16800, 0},
		"one measure is none":  {map[Field]string{FieldLength: "32"}, 15000, 1},
		"measures of a puddle": {map[Field]string{FieldSize: "2 x 1 x 1"}, 15000, 1},
		"words":                {map[Field]string{FieldVolume: "big"}, 15000, 1},
		"nothing":              {nil, 15000, 1},
		"at the least":         {map[Field]string{FieldVolume: "100"}, 100, 0},
		"under the least":      {map[Field]string{FieldVolume: "99"}, 15000, 1},
		"at the most":          {map[Field]string{FieldVolume: "1000000"}, 1e6, 0},
		"over the most":        {map[Field]string{FieldVolume: "1000001"}, 15000, 1},
	} {
		for range 8 { // in whatever order a map would give
			l, r := listed(x.cells)
			assert.InDelta(t, x.gallons, l.gallons(r), 1, name)
			assert.Len(t, r.gaps, x.gaps, name)
		}
	}
}

// A technician is found by login, whole name or the beginning of one that is one person's alone.
func TestATechnicianIsOnePersonOrNobody(t *testing.T) {
	mateo, vega, ruiz := driver("mateo", "Mateo Luna"), driver("mv", "Marta Vega"), driver("mr", "Marta Ruiz")
	short, gone := driver("ruben", "Ruben Ortiz"), driver("gone", "Nora Pike")
	gone.Active = false
	desk := driver("desk", "Dana Orr")
	desk.Role = string(access.Office)
	for text, want := range map[string]*store.User{
		"mateo": &mateo, "MATEO LUNA": &mateo, "Mateo": &mateo, "Marta": nil, "Marta Vega": &vega, "marta r": &ruiz,
		"mv": &vega, "Rub": &short, "Ru": nil, "Nora Pike": nil, "Dana Orr": nil, "Zed": nil,
	} {
		for range 8 {
			l, _ := listed(nil, mateo, vega, ruiz, short, gone, desk)
			got := l.called(text)
			if want == nil {
				assert.Nil(t, got, text)
				continue
			}
			if assert.NotNil(t, got, text) {
				assert.Equal(t, want.ID, got.ID, text)
			}
		}
	}
	// A login that is one person's, and others' first name.
	l, _ := listed(nil, driver("kim", "Ada Stone"), driver("k1", "Kim Hale"), driver("k2", "Kim Moss"))
	for range 8 {
		require.NotNil(t, l.called("kim"))
		assert.Equal(t, "Ada Stone", l.called("kim").Name, "the whole login is before two beginnings")
	}
}

// People that come in with a list get logins that nobody has.
func TestNewcomersGetLoginsOfTheirOwn(t *testing.T) {
	l, _ := listed(nil, driver("mateo", "Mateo Luna"))
	seen := map[string]bool{"mateo": true}
	for range 3 {
		u := l.newcomer("Mateo")
		assert.False(t, seen[u.Login], u.Login)
		seen[u.Login] = true
		assert.Equal(t, string(access.Technician), u.Role)
		assert.Empty(t, u.PasswordHash, "to be invited later")
	}
	assert.NotEmpty(t, l.newcomer("…").Login, "a name of no letters")
}

// An address comes in one column or in six.
func TestAnAddressIsPutTogether(t *testing.T) {
	for name, x := range map[string]struct {
		cells        map[Field]string
		street, town string
	}{
		"six": {map[Field]string{FieldHouse: "9", FieldStreet: "Alder Run", FieldCity: "Cedar Hollow", FieldState: "AZ",
			FieldZIP: "00412"}, "9 Alder Run", "Cedar Hollow, AZ 00412"},
		"one": {map[Field]string{FieldStreet: "9 Alder Run, Cedar Hollow, AZ 00412"}, "9 Alder Run",
			"Cedar Hollow, AZ 00412"},
		"a ZIP as a number": {map[Field]string{FieldStreet: "9 Alder Run", FieldZIP: "412"}, "9 Alder Run", "00412"},
		"ZIP in the street": {map[Field]string{FieldStreet: "9 Alder Run AZ 00412"}, "9 Alder Run", "AZ 00412"},
		"a house twice":     {map[Field]string{FieldHouse: "9", FieldStreet: "9 Alder Run"}, "9 Alder Run", ""},
		"a city alone": {map[Field]string{FieldStreet: "9 Alder Run", FieldCity: "Cedar Hollow"}, "9 Alder Run",
			"Cedar Hollow"},
	} {
		l, r := listed(x.cells)
		street, town := l.address(r)
		assert.Equal(t, [2]string{x.street, x.town}, [2]string{street, town}, name)
	}
}

// Pools without a day go where the week of whose they are is shortest, and never to a weekend.
func TestPoolsWithoutADaySpreadOverTheWeek(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l, _ := listed(nil)
		var week [7]int
		for n := range rapid.IntRange(1, 60).Draw(t, "pools") {
			_, r := listed(nil)
			d := l.weekday(r, &store.Pool{})
			week[d]++
			assert.Len(t, r.gaps, 1, "pool %d is said to have no day", n)
		}
		assert.Zero(t, week[0]+week[6])
		for _, n := range week[1:6] {
			assert.InDelta(t, week[1], n, 1)
		}
	})
}

// What a cell is too long for is cut to what the record holds, and said; a corrected cell is before the file's.
func TestACellIsCutAndCorrected(t *testing.T) {
	_, r := listed(map[Field]string{FieldFinish: "plaster with a long story", FieldWayIn: "a\tb\n c"})
	assert.Equal(t, "plaster", r.short(FieldFinish, 7))
	assert.Equal(t, []words.Message{words.Of("app.list-cut", "most", words.N(7))}, r.gaps)
	assert.Equal(t, []Field{FieldFinish}, r.trouble)
	assert.Equal(t, "a b c", r.short(FieldWayIn, 10))
	r.fixes = map[Field]string{FieldFinish: " vinyl "}
	assert.Equal(t, "vinyl", r.get(FieldFinish))
	assert.Empty(t, r.get(FieldCity), "a column that the list has not")
}
