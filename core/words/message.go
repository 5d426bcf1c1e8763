// Package words is how the core speaks: it answers with messages, a key of the catalogue
// and arguments, and a printer writes them in somebody's language and units. What a person
// typed is an argument and stays as it was typed.
package words

import (
	"math"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"time"

	"fairlap/core/units"
)

// Message is what there is to say, in its written form: a key of the catalogue and its
// arguments like a URL's query, "pad.over-clean?by=q:psi:8.2". The record keeps it so. The
// zero value says nothing; text without the form of a key is a sentence of an older
// record, and is shown as it was written.
type Message string

// Arg is an argument of a message in its written form, a letter for its kind before it.
type Arg string

// Args are arguments by name.
type Args map[string]Arg

// The kinds of argument.
const (
	quantityArg = "q" // value, unit and decimals
	numberArg   = "n" // a count or a bare number
	shareArg    = "p" // a share of one, told in percent
	timeArg     = "t" // a wall-clock time and how it is told
	nameArg     = "s" // what somebody typed or named
	messageArg  = "m"
	listArg     = "l" // messages, joined by and, or, or a comma
	eitherArg   = "e" // one argument in trade units, another in metric: both whole measures
)

// Of is the message of a key with arguments: name, Arg, name, Arg.
func Of(key string, pairs ...any) Message {
	var b strings.Builder
	n := len(key)
	for i := 0; i+1 < len(pairs); i += 2 {
		n += len(pairs[i].(string)) + len(pairs[i+1].(Arg)) + len("&=")
	}
	b.Grow(n)
	b.WriteString(key)
	sep := byte('?')
	for i := 0; i+1 < len(pairs); i += 2 {
		b.WriteByte(sep)
		b.WriteString(pairs[i].(string))
		b.WriteByte('=')
		b.WriteString(string(pairs[i+1].(Arg)))
		sep = '&'
	}
	return Message(b.String())
}

// With is a message with those of the arguments that its words ask for, beside its own.
func With(m Message, args Args) Message {
	key, carried := m.args()
	var b strings.Builder
	b.WriteString(string(m))
	for _, name := range names(key) {
		a, given := args[name]
		if _, has := carried[name]; has || !given {
			continue
		}
		sep := "&"
		if !strings.Contains(b.String(), "?") {
			sep = "?"
		}
		b.WriteString(sep + name + "=" + string(a))
	}
	return Message(b.String())
}

// Q is a quantity in a trade unit, with the unit's own decimals.
func Q(unit string, value float64) Arg {
	return Arg(quantityArg + ":" + url.QueryEscape(unit) + ":" + number(value))
}

// QD is a quantity in a trade unit with so many decimals where that unit is shown.
func QD(unit string, value float64, decimals int) Arg {
	return Q(unit, value) + Arg(":"+strconv.Itoa(decimals))
}

// N is a count, or a bare number as short as it goes.
func N[T int | float64](v T) Arg { return Arg(numberArg + ":" + number(float64(v))) }

// ND is a bare number with so many decimals.
func ND(v float64, decimals int) Arg { return N(v) + Arg(":"+strconv.Itoa(decimals)) }

// Share is a share of one, told in whole percent.
func Share(v float64) Arg { return Arg(shareArg + ":" + number(v)) }

// Name is what somebody typed or named.
func Name(s string) Arg { return Arg(nameArg + ":" + url.QueryEscape(s)) }

// Msg is another message.
func Msg(m Message) Arg { return Arg(messageArg + ":" + url.QueryEscape(string(m))) }

// Either is one argument for who reads trade units and another for metric: measures that
// are whole in both.
func Either(trade, metric Arg) Arg {
	return Arg(eitherArg + ":" + url.QueryEscape(string(trade)) + ":" + url.QueryEscape(string(metric)))
}

// Value is the figure of a quantity, count or share; 0 of anything else.
func (a Arg) Value() float64 {
	parts := strings.Split(string(a), ":")
	at := map[string]int{quantityArg: 2, numberArg: 1, shareArg: 1}[parts[0]]
	if at == 0 || at >= len(parts) {
		return 0
	}
	v, _ := strconv.ParseFloat(parts[at], 64) // 0 where it is none
	return v
}

// Joint is how a list is joined.
type Joint string

// The joints.
const (
	And       Joint = "and"
	Or        Joint = "or"
	Comma     Joint = "comma"
	Semicolon Joint = "semicolon"
	Stop      Joint = "stop" // sentences, one after another
)

// List is messages joined.
func List(by Joint, ms ...Message) Arg {
	parts := make([]string, len(ms))
	for i, m := range ms {
		parts[i] = url.QueryEscape(string(m))
	}
	return Arg(listArg + ":" + string(by) + ":" + url.QueryEscape(strings.Join(parts, "|")))
}

// Join is messages joined into one.
func Join(by Joint, ms ...Message) Message { return Of("words.list", "list", List(by, ms...)) }

// Named is a message of nothing but a name.
func Named(s string) Message { return Of("words.name", "name", Name(s)) }

// The ways a time is told.
const (
	day    = "Mon 2 Jan"
	moment = "Mon 15:04"
	date   = "2 Jan 2006"
	month  = "2 Jan"
	clock  = "15:04"
)

const wall = "2006-01-02T15:04"

func when(t time.Time, style string) Arg {
	return Arg(timeArg + ":" + url.QueryEscape(t.Format(wall)) + ":" + url.QueryEscape(style))
}

// Day is a day near today: its weekday, day and month, on the clock that it carries.
func Day(t time.Time) Arg { return when(t, day) }

// Moment is a weekday and a clock time near today.
func Moment(t time.Time) Arg { return when(t, moment) }

// Clock is a clock time.
func Clock(t time.Time) Arg { return when(t, clock) }

// Hour is an hour of any day on its clock; 24 and more are of the next day.
func Hour(h float64) Arg {
	m := int(math.Round(h*60)) % (24 * 60)
	return Clock(time.Date(2026, time.January, 1, m/60, m%60, 0, 0, time.UTC))
}

// Hours is a span of the day from one hour to another.
func Hours(from, to float64) Message { return Of("words.span", "from", Hour(from), "to", Hour(to)) }

// Date is a day with its year.
func Date(t time.Time) Arg { return when(t, date) }

// DayMonth is a day of the year.
func DayMonth(t time.Time) Arg { return when(t, month) }

// Year is a year, told without a comma.
func Year(v int) Arg { return Name(strconv.Itoa(v)) }

// number writes a figure with more digits than anybody is told, and fewer than two
// machines may part in.
func number(v float64) string {
	if v == math.Trunc(v) && math.Abs(v) < 1e15 {
		return strconv.FormatFloat(v, 'f', 0, 64)
	}
	return strconv.FormatFloat(math.Round(v*1e6)/1e6, 'g', 7, 64)
}

var keyForm = regexp.MustCompile(`^[a-z][a-z0-9-]*(\.[a-zA-Z0-9_-]+)+$`)

// IsKey says whether a message has the form of one: other text is shown as written.
func (m Message) IsKey() bool {
	key, query, _ := strings.Cut(string(m), "?")
	return !strings.ContainsAny(key, " ,") && keyForm.MatchString(key) && !strings.ContainsAny(query, " \t\n\r\f\v")
}

// Key is a message's key; the text itself where it has none.
func (m Message) Key() string {
	if !m.IsKey() {
		return string(m)
	}
	key, _, _ := strings.Cut(string(m), "?")
	return key
}

// args parts a message into key and arguments.
func (m Message) args() (string, map[string]string) {
	key, query, _ := strings.Cut(string(m), "?")
	out := map[string]string{}
	for query != "" {
		var pair string
		pair, query, _ = strings.Cut(query, "&")
		if name, value, ok := strings.Cut(pair, "="); ok {
			out[name] = value
		}
	}
	return key, out
}

// Rounds is a quantity as its trade unit shows it.
func Rounds(unit string, value float64) float64 {
	p := math.Pow10(units.Decimals(unit))
	return math.Round(value*p) / p
}
