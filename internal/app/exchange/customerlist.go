package exchange

import (
	"encoding/json"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/pool"
	"fairlap/core/units"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/sheet"
	"fairlap/internal/store"
)

// ImportChoices is what somebody decided about a customer list before it comes in.
type ImportChoices struct {
	Columns map[string]Field            `json:"columns,omitempty" doc:"what a column is taken for, by its heading; empty: left out"`
	Fixes   map[string]map[Field]string `json:"fixes,omitempty" doc:"cells as corrected, by the row's number and the field"`
	People  bool                        `json:"people,omitempty" doc:"technicians that nobody here is called are added, to be invited later"`
}

// usualMinutes are how long a visit takes where a list does not say (common practice).
const usualMinutes = 25

// listRow reads one row of a customer list: what a field says, as it was fixed or as the file has it.
type listRow struct {
	*rowReader
	columns map[Field]int
	fixes   map[Field]string
	gaps    []words.Message
	trouble []Field
}

func (r *listRow) get(f Field) string {
	if v, ok := r.fixes[f]; ok {
		return strings.TrimSpace(v)
	}
	i, ok := r.columns[f]
	if !ok {
		return ""
	}
	return strings.Join(strings.Fields(r.row.Cells[i]), " ")
}

// short is what a field says, as far as the record has room for it.
func (r *listRow) short(f Field, most int) string {
	v := []rune(strings.Map(func(c rune) rune {
		if c < ' ' {
			return ' '
		}
		return c
	}, r.get(f)))
	if len(v) > most {
		r.gap(f, words.Of("app.list-cut", "most", words.N(most)))
		v = v[:most]
	}
	return string(v)
}

// gap says what comes in otherwise than the file has it; refuse, why a row stays out.
func (r *listRow) gap(f Field, text words.Message) {
	r.gaps, r.trouble = append(r.gaps, text), append(r.trouble, f)
}

func (r *listRow) refuse(f Field, text words.Message) {
	r.refusals, r.trouble = append(r.refusals, text), append(r.trouble, f)
}

// readList takes a customer list in: with whatever a row lacks it comes in, but for a street.
func (im *importer) readList(t *sheet.Table, columns []ImportColumn, choices ImportChoices) {
	at := map[Field]int{}
	for i, c := range columns {
		if c.Field != LeaveOut {
			at[c.Field] = i
		}
	}
	var volumes, dates []string
	for i := range t.Rows {
		for f, into := range map[Field]*[]string{FieldVolume: &volumes, FieldLiters: &volumes, FieldSince: &dates} {
			if n, ok := at[f]; ok {
				*into = append(*into, t.Rows[i].Cells[n])
			}
		}
	}
	list := &customerList{importer: im, people: choices.People, marks: figure.MarksOf(volumes),
		monthFirst: !dayFirst(dates), street: map[string]int{}, who: map[string]int{}}
	im.rows(t, func(r *rowReader) (string, string) {
		row := &listRow{rowReader: r, columns: at, fixes: choices.Fixes[line(r.row.Line)]}
		key, outcome := list.read(row)
		if outcome == outcomeNew && len(row.gaps) > 0 {
			outcome = outcomeGap
		}
		r.notes, r.trouble = row.gaps, row.trouble
		return key, outcome
	})
	im.missing = list.missing
}

// customerList is a list while it is read.
type customerList struct {
	*importer
	people     bool
	marks      figure.Marks
	monthFirst bool
	street     map[string]int // rows by the pool's name, in small letters
	who        map[string]int // and by name and street
	missing    []string       // technicians that nobody here is called
}

func (l *customerList) read(r *listRow) (key, outcome string) {
	street, town := l.address(r)
	name := r.short(FieldName, 120)
	if name == "" {
		name = strings.TrimSpace(r.short(FieldFirst, 60) + " " + r.short(FieldLast, 60))
	}
	if street == "" {
		r.refuse(FieldStreet, "app.list-no-street")
	}
	p := store.Pool{
		ID: uuid.Must(uuid.NewV7()), Street: street, Town: town, Which: r.short(FieldWhich, 40), InGround: true,
		Surface: r.short(FieldFinish, 40), AccessNote: r.short(FieldWayIn, 500), Version: 1,
		BaseMinutes: l.whole(r, FieldTime, 1, 480, usualMinutes), LapOrder: l.whole(r, FieldOrder, 0, 100_000, 0),
		OnRecordSince: l.c.Today(l.now), Cleaning: json.RawMessage(`{}`),
	}
	key = strings.Join(slices.DeleteFunc([]string{name, store.PoolName(street, p.Which)},
		func(s string) bool { return s == "" }), ", ")
	if street != "" {
		l.repeats(r, &p, name)
	}
	if len(r.refusals) > 0 {
		r.cells = l.shown(r, &p, name, "")
		return key, outcomeRefused
	}
	full := strings.ToLower(p.Name())
	if l.pools[full] != nil {
		r.cells = l.shown(r, &p, name, "")
		return p.Name(), outcomeKnown
	}
	p.VolumeM3 = float64(units.Gallons(l.gallons(r)))
	tech := l.technician(r, &p)
	p.Weekday = l.weekday(r, &p)
	l.since(r, &p)
	l.place(r, &p)
	l.customer(r, &p, name)
	document, err := json.Marshal(pad.Presume())
	if err != nil {
		r.refuse(FieldStreet, "app.can-t-be-written-down")
		return key, outcomeRefused
	}
	first := store.Plumbing{ID: uuid.Must(uuid.NewV7()), PoolID: p.ID, Revision: 1, Document: document,
		Reason: store.ReasonDescription, CreatedBy: &l.a.ID, CreatedAt: p.OnRecordSince}
	l.pools[full] = &importPool{id: p.ID, name: p.Name(), plumbing: first.ID, doc: pad.Presume(),
		fresh: map[string]uuid.UUID{}}
	l.batch.Pools, l.batch.Plumbing = append(l.batch.Pools, p), append(l.batch.Plumbing, first)
	r.cells = l.shown(r, &p, name, tech)
	return p.Name(), outcomeNew
}

// repeats compares a pool's name with the rows before: the same name and street is the same pool, another's name at
// the street is called by that name.
func (l *customerList) repeats(r *listRow, p *store.Pool, name string) {
	both := strings.ToLower(name + "\n" + p.Name())
	if before, twice := l.who[both]; twice {
		r.refuse(FieldWhich, words.Of("app.list-twice", "row", words.N(before)))
		return
	}
	l.who[both] = r.row.Line
	if before, twice := l.street[strings.ToLower(p.Name())]; twice {
		p.Which = strings.TrimSpace(p.Which + " " + name)
		if p.Which = string([]rune(p.Which)[:min(40, len([]rune(p.Which)))]); p.Which == "" {
			p.Which = line(r.row.Line)
		}
		r.gap(FieldWhich, words.Of("app.list-same-street", "row", words.N(before), "name", words.Name(p.Name())))
	}
	l.street[strings.ToLower(p.Name())] = r.row.Line
}

// shown is what a row comes in as, in the words of a list.
func (l *customerList) shown(r *listRow, p *store.Pool, name, tech string) map[Field]string {
	out := map[Field]string{FieldName: name, FieldStreet: p.Name(), FieldCity: p.Town, FieldPhone: r.get(FieldPhone),
		FieldTech: tech}
	if p.VolumeM3 > 0 {
		out[FieldVolume] = fmt.Sprint(math.Round(units.Volume(p.VolumeM3).Gallons()))
		out[FieldDay] = fmt.Sprint(p.Weekday)
	}
	return out
}

// stateAndZIP ends an address: AZ 00412.
var stateAndZIP = regexp.MustCompile(`(?i)\s*,?\s*([a-z]{2})?\s*(\d{5}(?:-\d{4})?)\s*$`)

// address is the street of a row and the rest of its address, from one column or several.
func (l *customerList) address(r *listRow) (street, town string) {
	street = r.short(FieldStreet, 160)
	if house := r.short(FieldHouse, 12); house != "" && !strings.Contains(street, house) {
		street = strings.TrimSpace(house + " " + street)
	}
	city, state, zip := r.short(FieldCity, 80), r.short(FieldState, 20), r.get(FieldZIP)
	if n := len(zip); n >= 3 && n < 5 && strings.Trim(zip, "0123456789") == "" {
		zip = strings.Repeat("0", 5-n) + zip // a spreadsheet took it for a number
	}
	if head, rest, ok := strings.Cut(street, ","); ok && city == "" {
		street, city = strings.TrimSpace(head), strings.TrimSpace(rest)
	} else if m := stateAndZIP.FindStringIndex(street); m != nil && city == "" && m[0] > 0 {
		street, city = strings.TrimSpace(street[:m[0]]), strings.TrimSpace(strings.Trim(street[m[0]:], ", "))
	}
	if runes := []rune(street); len(runes) > 120 {
		r.gap(FieldStreet, words.Of("app.list-cut", "most", words.N(120)))
		street = string(runes[:120])
	}
	last := strings.TrimSpace(state + " " + zip)
	switch {
	case city == "":
		town = last
	case last == "" || strings.HasSuffix(city, last):
		town = city
	default:
		town = city + ", " + last
	}
	return street, string([]rune(town)[:min(120, len([]rune(town)))])
}

func (l *customerList) customer(r *listRow, p *store.Pool, name string) {
	who := store.Customer{ID: uuid.Must(uuid.NewV7()), Name: name, Phone: r.short(FieldPhone, 60),
		Email: strings.ToLower(r.short(FieldEmail, 200)), Version: 1, CreatedAt: l.now}
	if who.Email != "" && !emailLike.MatchString(who.Email) {
		r.gap(FieldEmail, words.Of("app.list-no-email", "text", words.Name(who.Email)))
		who.Email = ""
	}
	if who.Name == "" {
		if who.Phone == "" && who.Email == "" {
			return
		}
		who.Name = p.Street // somebody lives there
		r.gap(FieldName, "app.list-no-name")
	}
	k := [3]string{who.Name, who.Phone, who.Email}
	id, ok := l.customers[k]
	if !ok {
		id = who.ID
		l.customers[k] = id
		l.batch.Customers = append(l.batch.Customers, who)
	}
	p.CustomerID = &id
}

// figureIn is a figure of a cell with letters around it: 18,000 gal, 15k, 1800O.
func (l *customerList) figureIn(cell string) (float64, bool) {
	s := strings.ToLower(strings.TrimSpace(cell))
	times := 1.0
	s = strings.TrimRight(s, "abcdefghijlmnopqrstuvwxyz. ")
	if t, ok := strings.CutSuffix(s, "k"); ok {
		s, times = strings.TrimSpace(t), 1000
	}
	x, err := figure.Number(s, figure.Span{Low: 0, Top: 1e7}, l.marks)
	return x * times, err == nil
}

// litersInGallon are those of a US gallon.
var litersInGallon = 1000 * float64(units.Gallons(1))

// gallons is what a pool holds: by its volume, by its measures, else as usual.
func (l *customerList) gallons(r *listRow) float64 {
	const low, top = 100.0, 1e6
	known := pool.Usual.Volume.Gallons()
	usual := func(f Field, text words.Message) float64 {
		r.gap(f, text)
		return known
	}
	for _, f := range [...]Field{FieldVolume, FieldLiters} {
		per := 1.0
		if f == FieldLiters {
			per = litersInGallon
		}
		text := r.get(f)
		if text == "" {
			continue
		}
		x, ok := l.figureIn(text)
		if zero := letterO.ReplaceAllString(text, "${1}0"); zero != text {
			if x, ok = l.figureIn(zero); ok {
				r.gap(f, words.Of("app.list-letter-o", "text", words.Name(text), "read", words.ND(x, 0)))
			}
		}
		if lower := strings.ToLower(text); per == 1 && (strings.HasSuffix(lower, "l") && !strings.HasSuffix(lower, "gal") ||
			strings.Contains(lower, "lit")) {
			per = litersInGallon
		}
		if x /= per; !ok || !(x >= low && x <= top) {
			return usual(f, words.Of("app.list-no-volume", "text", words.Name(text), "usual", words.Q("gal", known)))
		}
		return x
	}
	if v, err := l.measures(r).Volume(); err == nil {
		return math.Round(v.Gallons()/100) * 100
	}
	return usual(FieldVolume, words.Of("app.list-volume-unknown", "usual", words.Q("gal", known)))
}

// letterO is the letter that fingers take for a nought, after a figure.
var letterO = regexp.MustCompile(`(\d)[oO]`)

var measure = regexp.MustCompile(`[\d.,]+`)

// measures are length, width and depth, taken as a rectangle's: the shape is not in a list.
func (l *customerList) measures(r *listRow) pool.Dimensions {
	var m []float64
	for _, s := range measure.FindAllString(r.get(FieldSize), 3) {
		if x, ok := l.figureIn(strings.Trim(s, ".,")); ok {
			m = append(m, x)
		}
	}
	if len(m) == 0 {
		for _, f := range []Field{FieldLength, FieldWidth, FieldDepth} {
			if x, ok := l.figureIn(r.get(f)); ok && r.get(f) != "" {
				m = append(m, x)
			}
		}
	}
	if len(m) == 2 {
		m = append(m, pool.Usual.DepthFt)
	}
	if len(m) != 3 {
		return pool.Dimensions{}
	}
	return pool.Dimensions{Shape: pool.Rectangle, LengthFt: m[0], WidthFt: m[1], ShallowFt: m[2]}
}

func (l *customerList) whole(r *listRow, f Field, low, top, usual int) int {
	text := r.get(f)
	if text == "" {
		return usual
	}
	x, ok := l.figureIn(text)
	if !ok || x < float64(low) || x > float64(top) {
		r.gap(f, words.Of("app.list-no-figure", "text", words.Name(text), "usual", words.N(usual)))
		return usual
	}
	return int(math.Round(x))
}

// technician is whose pool it is, by login or by name: the whole of it, or as much as is one person's alone.
func (l *customerList) technician(r *listRow, p *store.Pool) string {
	text := r.get(FieldTech)
	if text == "" {
		return ""
	}
	if u := l.called(text); u != nil {
		p.TechnicianID = &u.ID
		return u.Name
	}
	if l.people && strings.ContainsFunc(text, isLetter) {
		u := l.newcomer(text)
		p.TechnicianID = &u.ID
		return u.Name
	}
	if !slices.Contains(l.missing, text) {
		l.missing = append(l.missing, text)
	}
	r.gap(FieldTech, words.Of("app.list-nobody-called", "name", words.Name(text)))
	return ""
}

func isLetter(c rune) bool { return lettered(string(c)) }

// called is the one who drives and whose whole login or name this is, else the only one whose name begins so.
func (l *customerList) called(text string) *store.User {
	want := folded(text)
	var whole, begins []store.User
	for _, u := range l.users {
		if !u.Active || !access.Role(u.Role).Drives() {
			continue
		}
		first, _, _ := strings.Cut(u.Name, " ")
		if folded(u.Login) == want || folded(u.Name) == want {
			whole = append(whole, u)
		}
		if folded(first) == want || strings.HasPrefix(folded(u.Name), want) && len(want) >= 3 {
			begins = append(begins, u)
		}
	}
	for _, found := range [...][]store.User{whole, begins} {
		if len(found) == 1 {
			return &found[0]
		}
	}
	return nil
}

// newcomer is a technician that comes in with the list, to be invited later.
func (l *customerList) newcomer(name string) store.User {
	name = string([]rune(name)[:min(120, len([]rune(name)))])
	login := folded(name)
	for n := 2; ; n++ {
		if _, taken := l.users[login]; !taken && login != "" {
			break
		}
		login = fmt.Sprintf("%s%d", folded(name), n)
	}
	login = string([]rune(login)[:min(60, len([]rune(login)))])
	u := store.User{ID: uuid.Must(uuid.NewV7()), Login: login, Name: name, Role: string(access.Technician),
		Active: true, Version: 1, CreatedAt: l.now}
	l.users[login] = u
	l.batch.Users = append(l.batch.Users, u)
	return u
}

// weekday is a pool's route day: as the row says, else the shortest of whose pool it is.
func (l *customerList) weekday(r *listRow, p *store.Pool) int {
	whose := uuid.Nil
	if p.TechnicianID != nil {
		whose = *p.TechnicianID
	}
	week := l.week[whose]
	if week == nil {
		week = new([7]int)
		l.week[whose] = week
	}
	text := r.get(FieldDay)
	days := daysIn(text)
	var day int
	switch {
	case len(days) == 1:
		day = days[0]
	case len(days) > 1:
		day = days[0]
		r.gap(FieldDay, words.Of("app.list-two-days", "text", words.Name(text), "day", words.Msg(dayWord(day))))
	default:
		day = 1
		for d := 1; d <= 5; d++ {
			if week[d] < week[day] {
				day = d
			}
		}
		says := words.Of("app.list-no-day", "day", words.Msg(dayWord(day)))
		if text != "" {
			says = words.Of("app.list-unread-day", "text", words.Name(text), "day", words.Msg(dayWord(day)))
		}
		r.gap(FieldDay, says)
	}
	week[day]++
	return day
}

func dayWord(day int) words.Message { return words.Message(fmt.Sprintf("words.weekday-%d", day)) }

func (l *customerList) since(r *listRow, p *store.Pool) {
	text := r.get(FieldSince)
	if text == "" {
		return
	}
	day, ok := r.serial(text)
	if !ok {
		day, ok = dateOf(text, l.monthFirst)
	}
	if !ok || day.After(l.c.Today(l.now)) || !access.Reasonable(day) {
		r.gap(FieldSince, words.Of("app.list-no-date", "text", words.Name(text)))
		return
	}
	p.OnRecordSince = time.Date(day.Year(), day.Month(), day.Day(), 0, 0, 0, 0, time.UTC)
}

func (l *customerList) place(r *listRow, p *store.Pool) {
	lat, ok := l.degrees(r.get(FieldLat), 90)
	lon, both := l.degrees(r.get(FieldLon), 180)
	if ok && both {
		p.Lat, p.Lon = &lat, &lon
	} else if r.get(FieldLat)+r.get(FieldLon) != "" {
		r.gap(FieldLat, "app.a-place-needs-both-degrees-2")
	}
}

func (l *customerList) degrees(text string, most float64) (float64, bool) {
	if text == "" {
		return 0, false
	}
	x, err := figure.Number(text, figure.Span{Low: -most, Top: most}, figure.DecimalPoint)
	return x, err == nil
}

var threeParts = regexp.MustCompile(`^(\d{1,4})[/.-](\d{1,2})[/.-](\d{1,4})$`)

// dateOf reads a day as lists have it: 2024-05-01, 5/1/2024, 1.5.24, May 1, 2024.
func dateOf(text string, monthFirst bool) (time.Time, bool) {
	text = strings.TrimSpace(text)
	for _, layout := range []string{time.DateOnly, "Jan 2, 2006", "January 2, 2006", "2 Jan 2006", "2 January 2006",
		"2006-01-02 15:04:05", "2006/01/02"} {
		if t, err := time.Parse(layout, text); err == nil {
			return t, true
		}
	}
	m := threeParts.FindStringSubmatch(text)
	if m == nil || len(m[1]) > 2 {
		return time.Time{}, false
	}
	layout := "1/2/2006"
	if !monthFirst || strings.Contains(text, ".") {
		layout = "2/1/2006"
	}
	if len(m[3]) == 2 {
		layout = strings.TrimSuffix(layout, "2006") + "06"
	}
	t, err := time.Parse(layout, m[1]+"/"+m[2]+"/"+m[3])
	return t, err == nil
}

// dayFirst tells whether dates begin with the day: some first part is over 12, and no second one.
func dayFirst(dates []string) bool {
	first, second := false, false
	for _, d := range dates {
		if m := threeParts.FindStringSubmatch(strings.TrimSpace(d)); m != nil && len(m[1]) <= 2 {
			first = first || len(m[1]) == 2 && m[1] > "12"
			second = second || len(m[2]) == 2 && m[2] > "12"
		}
	}
	return first && !second
}
