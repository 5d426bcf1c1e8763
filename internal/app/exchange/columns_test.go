package exchange

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/internal/sheet"
)

// fields are what the columns of a list were taken for, by their headings.
func fields(t testing.TB, name, content string, chosen, before map[string]Field) map[string]Field {
	t.Helper()
	tables, err := sheet.Read(name, []byte(content))
	require.NoError(t, err)
	require.Len(t, tables, 1)
	out := map[string]Field{}
	for _, c := range match(&tables[0], chosen, before) {
		out[c.Heading] = c.Field
	}
	return out
}

// Lists as companies have them: other headings, marks, languages, titles over the head.
func TestColumnsAreFound(t *testing.T) {
	for name, x := range map[string]struct {
		list string
		want map[string]Field
	}{
		"the usual one": {
			"Customer Name,Address,City,State,Zip,Phone,Email,Service Day,Gallons\n" +
				"Dana Marsh,9 Alder Run,Cedar Hollow,AZ,00412,555-0171,dana@marsh.example,Tues,18000\n",
			map[string]Field{"Customer Name": FieldName, "Address": FieldStreet, "City": FieldCity, "State": FieldState,
				"Zip": FieldZIP, "Phone": FieldPhone, "Email": FieldEmail, "Service Day": FieldDay, "Gallons": FieldVolume},
		},
		"semicolons, a title, Spanish": {
			"Clientes de octubre;;;;\nNombre;Dirección;Teléfono;Día de servicio;Técnico\nInés Calder;Calle Roble 41;" +
				"555 0178;lunes;Mateo\nPaul Greene;Calle Fresno 2;555 0179;miércoles;Mateo\n",
			map[string]Field{"Nombre": FieldName, "Dirección": FieldStreet, "Teléfono": FieldPhone,
				"Día de servicio": FieldDay, "Técnico": FieldTech},
		},
		"tabs, first and last name, a size": {
			"First\tLast\tStreet Address\tPool Size\tTech\nOtto\tReyes\t17 Wren Street\t16x32x5\tRosa\n",
			map[string]Field{"First": FieldFirst, "Last": FieldLast, "Street Address": FieldStreet, "Pool Size": FieldSize,
				"Tech": FieldTech},
		},
		"headings that say nothing": {
			"A,B,C,D\nKay,19 Heron Reach,kay@x.example,(555) 010-0180\nJon,7 Wren Street,jon@x.example,(555) 010-0181\n",
			map[string]Field{"A": LeaveOut, "B": FieldStreet, "C": FieldEmail, "D": FieldPhone},
		},
		"a balance and an empty column are left out": {
			"Client,Svc Address,Balance,\nDana,9 Alder Run,$85.00,\n",
			map[string]Field{"Client": FieldName, "Svc Address": FieldStreet, "Balance": LeaveOut, "Col4": LeaveOut},
		},
	} {
		assert.Equal(t, x.want, fields(t, "list.csv", x.list, nil, nil), name)
	}
	list := "Who,Where\nDana,9 Alder Run\n"
	assert.Equal(t, FieldName, fields(t, "l.csv", list, map[string]Field{"Who": FieldName}, nil)["Who"], "as chosen")
	assert.Equal(t, FieldName, fields(t, "l.csv", list, nil, map[string]Field{"who": FieldName})["Who"], "as the last time")
	assert.Equal(t, LeaveOut, fields(t, "l.csv", list, map[string]Field{"Where": LeaveOut}, nil)["Where"])
}

// Whatever a list holds, no field is taken twice, and each column says what it is.
func TestNoFieldIsTakenTwice(t *testing.T) {
	words := strings.Fields("name phone street city zip day gallons 12 tues 555-0171 a@b.example AZ 00412 Main 9")
	rapid.Check(t, func(t *rapid.T) {
		width := rapid.IntRange(1, 9).Draw(t, "width")
		var lines []string
		for range rapid.IntRange(1, 6).Draw(t, "rows") {
			lines = append(lines, strings.Join(
				rapid.SliceOfN(rapid.SampledFrom(words), width, width).Draw(t, "row"), ","))
		}
		tables, err := sheet.Read("list.csv", []byte(strings.Join(lines, "\n")))
		require.NoError(t, err)
		seen := map[Field]bool{}
		for _, c := range match(&tables[0], nil, nil) {
			assert.False(t, c.Field != LeaveOut && seen[c.Field], "%s twice", c.Field)
			seen[c.Field] = true
			assert.LessOrEqual(t, c.Fit, c.Of)
			assert.Equal(t, c.Field == LeaveOut, c.Trust == "out", c.Trust)
		}
	})
}

func TestDaysAreRead(t *testing.T) {
	for cell, want := range map[string][]int{
		"Tue": {2}, "Tues": {2}, "tuesday": {2}, "Tuesdays": {2}, "martes": {2}, "Mié": {3}, "miércoles": {3}, "sábado": {6},
		"2": {2}, "7": {0}, "0": {0}, "Th": {4}, "Tu/Th": {2, 4}, "Mon & Thu": {1, 4}, "MWF": {1, 3, 5}, "M": {1},
		"Mon, Mon": {1}, "": nil, "weekly": nil, "12": nil, "Dana": nil, "8": nil, "every Tuesday": {2},
	} {
		assert.Equal(t, want, daysIn(cell), cell)
	}
}

func TestDatesAreRead(t *testing.T) {
	for text, want := range map[string]string{
		"2024-05-01": "2024-05-01", "5/1/2024": "2024-05-01", "5/1/24": "2024-05-01", "1.5.2024": "2024-05-01",
		"May 1, 2024": "2024-05-01", "13/1/2024": "", "soon": "",
	} {
		day, ok := dateOf(text, true)
		assert.Equal(t, want != "", ok, text)
		if ok {
			assert.Equal(t, want, day.Format("2006-01-02"), text)
		}
	}
	day, ok := dateOf("13/1/2024", false)
	assert.True(t, ok)
	assert.Equal(t, "2024-01-13", day.Format("2006-01-02"))
	assert.True(t, dayFirst([]string{"1/2/2024", "13/1/2024"}))
	assert.False(t, dayFirst([]string{"1/13/2024", "13/1/2024"}), "they disagree")
	assert.False(t, dayFirst([]string{"1/2/2024"}))
}
