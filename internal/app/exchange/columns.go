package exchange

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"

	"golang.org/x/text/runes"
	"golang.org/x/text/transform"
	"golang.org/x/text/unicode/norm"

	"fairlap/internal/sheet"
)

// Field is what a column of a customer list is taken for.
type Field string

// The fields of a customer list. Those of a pools table of our own are called as there.
const (
	LeaveOut    Field = ""
	FieldStreet Field = "street"
	FieldHouse  Field = "house" // the number alone
	FieldWhich  Field = "which"
	FieldCity   Field = "city"
	FieldState  Field = "state"
	FieldZIP    Field = "zip"
	FieldName   Field = "customer"
	FieldFirst  Field = "first_name"
	FieldLast   Field = "last_name"
	FieldPhone  Field = "phone"
	FieldEmail  Field = "email"
	FieldDay    Field = "weekday"
	FieldTech   Field = "technician"
	FieldVolume Field = "volume_gal"
	FieldLiters Field = "volume_l"
	FieldSize   Field = "size" // length by width by depth, ft
	FieldLength Field = "length_ft"
	FieldWidth  Field = "width_ft"
	FieldDepth  Field = "depth_ft"
	FieldFinish Field = "surface"
	FieldWayIn  Field = "access_note"
	FieldTime   Field = "minutes"
	FieldOrder  Field = "lap_order"
	FieldSince  Field = "since"
	FieldLat    Field = "lat"
	FieldLon    Field = "lon"
)

// known is one field: what headings call it (English and Spanish, letters and digits alone), and which
// cells look like it.
type knownField struct {
	Field    Field
	Headings string
	Fits     func(string) bool
	// ByCells tells that its cells alone are enough for a guess.
	ByCells bool
}

var (
	phoneLike  = regexp.MustCompile(`^\+?(\D{0,2}\d){7,15}\s*(x\s*\d{1,6})?$`)
	emailLike  = regexp.MustCompile(`^[^@\s]+@[^@\s]+\.[^@\s]{2,}$`)
	zipLike    = regexp.MustCompile(`^\d{5}(-\d{4})?$|^[A-Za-z]\d[A-Za-z] ?\d[A-Za-z]\d$`)
	stateLike  = regexp.MustCompile(`^[A-Za-z]{2,3}\.?$`)
	streetLike = regexp.MustCompile(`^\d+[A-Za-z]?\s+\p{L}|\p{L}\s+#?\d+`)
	sizeLike   = regexp.MustCompile(`(?i)^\s*[\d.,]+\s*('|ft|feet)?\s*[x×*]\s*[\d.,]+`)
	figureLike = regexp.MustCompile(`^[\d.,'’\s]*\d[\d.,OoKk\s]*(gal(lons?|s)?\.?|galones|l|liters?|litros|lts?\.?)?$`)
	dayLike    = func(s string) bool { return len(daysIn(s)) > 0 }
	dateLike   = func(s string) bool { _, ok := dateOf(s, true); return ok }
	anything   = func(s string) bool { return s != "" }
	lettered   = func(s string) bool { return strings.ContainsFunc(s, unicode.IsLetter) }
	named      = func(s string) bool { return lettered(s) && !strings.ContainsAny(s, "0123456789@") }
)

// knownFields are tried in order: of two that fit a column equally the first is taken.
var knownFields = []knownField{
	{FieldEmail, "email emailaddress mail correo correoelectronico emails contactemail", emailLike.MatchString, true},
	{FieldZIP, "zip zipcode postal postalcode postcode cp codigopostal zippostalcode", zipLike.MatchString, true},
	{FieldPhone, "phone phone1 phonenumber mobile mobilephone cellphone homephone telephone tel telefono celular movil " +
		"primaryphone contactphone phoneno cel", phoneLike.MatchString, true},
	{FieldDay, "weekday serviceday svcday day routeday visitday dayofweek dia diadeservicio diaservicio diaderuta " +
		"scheduledday diadevisita dow", dayLike, true},
	{FieldStreet, "street address serviceaddress svcaddress address1 streetaddress serviceaddress1 addressline1 direccion " +
		"calle domicilio location siteaddress propertyaddress pooladdress jobaddress calleynumero serviceaddressline1",
		streetLike.MatchString, true},
	{FieldHouse, "housenumber houseno streetnumber streetno numero numeroexterior numext no", anything, false},
	{FieldWhich, "which unit apt suite address2 addressline2 poolname pool bodyofwater interior numint", anything, false},
	{FieldCity, "city town ciudad poblacion localidad municipio servicecity svccity colonia", named, false},
	{FieldState, "state st province region estado provincia servicestate", stateLike.MatchString, false},
	{FieldName, "customer customername client clientname name nombre cliente fullname displayname accountname homeowner " +
		"contact contactname nombrecompleto nombredelcliente owner propietario billto customerfullname account",
		lettered, false},
	{FieldFirst, "firstname first givenname fname primernombre nombres", lettered, false},
	{FieldLast, "lastname last surname familyname lname apellido apellidos", lettered, false},
	{FieldTech, "technician tech techname tecnico assignedto assigned serviceperson driver routetech employee empleado " +
		"technicianname encargado", lettered, false},
	{FieldVolume, "volumegal gallons gals gal volume poolgallons poolvolume volumen galones capacity poolsize capacidad " +
		"volumegallons poolgals gallonage", figureLike.MatchString, false},
	{FieldLiters, "liters litres litros volumel lts volumeliters", figureLike.MatchString, false},
	{FieldSize, "size poolsize dimensions dimensiones medidas pooldimensions lxwxd lxw", sizeLike.MatchString, true},
	{FieldLength, "length poollength largo longitudalberca", figureLike.MatchString, false},
	{FieldWidth, "width poolwidth ancho", figureLike.MatchString, false},
	{FieldDepth, "depth avgdepth averagedepth pooldepth profundidad profundidadmedia", figureLike.MatchString, false},
	{FieldFinish, "surface finish poolsurface superficie acabado", lettered, false},
	{FieldWayIn, "accessnote access gate gatecode gateinfo wayin entry entrada acceso codigo porton instructions " +
		"instrucciones gateaccess accessnotes accessinstructions locationnotes", anything, false},
	{FieldTime, "minutes duration servicetime minutos duracion stoptime", figureLike.MatchString, false},
	{FieldOrder, "laporder routeorder stop stoporder stopnumber sequence seq orden parada stopno",
		figureLike.MatchString, false},
	{FieldSince, "since customersince startdate start desde fechainicio fechadeinicio servicestart clientedesde",
		dateLike, false},
	{FieldLat, "lat latitude latitud", figureLike.MatchString, false},
	{FieldLon, "lon lng longitude longitud", figureLike.MatchString, false},
}

// ImportColumn is one column of a customer list and what it is taken for.
type ImportColumn struct {
	Heading string `json:"heading"`
	Sample  string `json:"sample" doc:"the first cell that holds something"`
	Field   Field  `json:"field" doc:"empty: left out"`
	Trust   string `json:"trust" enum:"sure,likely,guess,chosen,out"`
	Fit     int    `json:"fit" doc:"cells that look like it"`
	Of      int    `json:"of" doc:"cells that hold something"`
}

// folded is a heading as headings are compared: letters and digits alone, small, without accents.
func folded(heading string) string {
	plain := transform.Chain(norm.NFD, runes.Remove(runes.In(unicode.Mn)), norm.NFC)
	text, _, err := transform.String(plain, strings.ToLower(heading))
	if err != nil {
		text = strings.ToLower(heading)
	}
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) {
			return r
		}
		return -1
	}, text)
}

// looked is how many rows of a column are looked at.
const looked = 400

// match finds what the columns of a list are: as somebody chose, as the heading was taken the last time, by
// the heading, then by what the cells look like. Each field is taken once.
func match(t *sheet.Table, chosen, before map[string]Field) []ImportColumn {
	out := make([]ImportColumn, len(t.Head))
	cells := make([][]string, len(t.Head))
	for i := range out {
		out[i] = ImportColumn{Heading: t.Title(i), Trust: "out"}
		for r := range t.Rows[:min(looked, len(t.Rows))] {
			if c := t.Rows[r].Cells[i]; c != "" {
				cells[i] = append(cells[i], c)
			}
		}
		if out[i].Of = len(cells[i]); out[i].Of > 0 {
			out[i].Sample = cells[i][0]
		}
	}
	taken := map[Field]bool{}
	take := func(i int, f Field, trust string) {
		out[i].Field, out[i].Trust = f, trust
		out[i].Fit = fits(f, cells[i])
		taken[f] = taken[f] || f != LeaveOut
	}
	settled := make([]bool, len(out))
	for i := range out {
		if f, ok := chosen[out[i].Heading]; ok && (f == LeaveOut || !taken[f]) {
			take(i, f, "chosen")
			settled[i] = true
		}
	}
	for i := range out {
		if f, ok := before[folded(out[i].Heading)]; ok && !settled[i] && !taken[f] && out[i].Of > 0 {
			take(i, f, trusted(fits(f, cells[i]), out[i].Of))
			settled[i] = true
		}
	}
	for _, k := range knownFields {
		for i := range out {
			if settled[i] || taken[k.Field] || out[i].Of == 0 ||
				!slices.Contains(meanings(out[i].Heading), k.Field) {
				continue
			}
			// Half of the cells at least look like it: "Pool" may be a name or a volume.
			if n := fits(k.Field, cells[i]); 2*n >= out[i].Of {
				take(i, k.Field, trusted(n, out[i].Of))
				settled[i] = true
			}
		}
	}
	for _, k := range knownFields {
		for i := range out {
			if settled[i] || taken[k.Field] || out[i].Of == 0 || !k.ByCells {
				continue
			}
			if n := fits(k.Field, cells[i]); 5*n >= 4*out[i].Of {
				take(i, k.Field, "guess")
				settled[i] = true
			}
		}
	}
	for _, k := range knownFields { // a heading that means one thing alone is believed against its cells
		for i := range out {
			if !settled[i] && !taken[k.Field] && out[i].Of > 0 && slices.Contains(meanings(out[i].Heading), k.Field) &&
				len(meanings(out[i].Heading)) == 1 {
				take(i, k.Field, "guess")
				settled[i] = true
			}
		}
	}
	return out
}

// meanings are the fields that a heading may mean.
func meanings(heading string) []Field {
	var out []Field
	for _, k := range knownFields {
		if slices.Contains(strings.Fields(k.Headings), folded(heading)) {
			out = append(out, k.Field)
		}
	}
	return out
}

// trusted is how sure a heading and its cells make.
func trusted(fit, of int) string {
	if 20*fit >= 19*of {
		return "sure"
	}
	return "likely"
}

func fits(f Field, cells []string) int {
	n := 0
	for _, k := range knownFields {
		if k.Field != f {
			continue
		}
		for _, c := range cells {
			if k.Fits(c) {
				n++
			}
		}
	}
	return n
}

// ours tells a table that we wrote out: its columns mean what they say, and others may have been added.
func ours(t *sheet.Table) bool {
	has := func(h string) bool { return slices.Contains(t.Head, h) }
	return has("street") && has("volume_gal") && (has("pump") && has("filter") ||
		!slices.ContainsFunc(t.Head, func(h string) bool { return !slices.Contains(poolColumns, h) }))
}

// listLike tells whether a table may be a list of customers or pools: some column of it is an address, or a
// name beside something else that a customer has.
func listLike(columns []ImportColumn) bool {
	has := map[Field]bool{}
	for _, c := range columns {
		has[c.Field] = true
	}
	called := has[FieldName] || has[FieldLast]
	return has[FieldStreet] || called && (has[FieldPhone] || has[FieldDay] || has[FieldCity])
}

// dayWords are weekdays by the letters that they begin with, folded.
var dayWords = []struct {
	begins string
	day    int
}{
	{"su", 0}, {"do", 0}, {"mo", 1}, {"lu", 1}, {"tu", 2}, {"ma", 2}, {"we", 3}, {"mi", 3}, {"th", 4}, {"ju", 4},
	{"fr", 5}, {"vi", 5}, {"sa", 6},
}

var wordsOrFigures = regexp.MustCompile(`\p{L}+|\d+`)

// daysIn are the weekdays that a cell names: Tue, Tuesday, martes, mié, 2 (Monday is 1), Tu/Th, MWF.
func daysIn(cell string) []int {
	var out []int
	add := func(d int) {
		if !slices.Contains(out, d) {
			out = append(out, d)
		}
	}
	for _, w := range wordsOrFigures.FindAllString(cell, -1) {
		w = folded(w)
		if w == "" {
			continue
		}
		if d := w[0]; d >= '0' && d <= '9' {
			if len(w) != 1 || d > '7' {
				return nil
			}
			add(int(d-'0') % 7)
			continue
		}
		if strings.Trim(w, "mtwhfs") == "" && len(w) <= 3 && w != "th" {
			letters := map[string]int{"m": 1, "t": 2, "w": 3, "f": 5, "mw": -1, "mwf": -1, "mf": -1, "wf": -1}
			if d, ok := letters[w]; ok && d >= 0 {
				add(d)
				continue
			} else if ok {
				for _, r := range w {
					add(letters[string(r)])
				}
				continue
			}
		}
		found := false
		for _, x := range dayWords {
			if strings.HasPrefix(w, x.begins) && len(w) >= 2 && dayName(w) {
				add(x.day)
				found = true
				break
			}
		}
		if !found && !slices.Contains([]string{"and", "y", "e", "every", "cada", "los", "el", "am", "pm"}, w) {
			return nil
		}
	}
	return out
}

// dayName tells whether letters begin, or are, a weekday in English or Spanish, one day or many.
func dayName(w string) bool {
	for _, name := range []string{"sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "domingo",
		"lunes", "martes", "miercoles", "jueves", "viernes", "sabado"} {
		if strings.HasPrefix(name, w) || strings.TrimSuffix(w, "s") == name {
			return true
		}
	}
	return slices.Contains([]string{"tues", "weds", "thur", "thurs"}, w)
}

// line is a row's number as choices name it.
func line(n int) string { return fmt.Sprint(n) }
