package words

import (
	"math"
	"net/url"
	"regexp"
	"strconv"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"fairlap/core/units"
)

// Printer writes messages for one reader.
type Printer struct {
	Lang  Lang
	Units units.System
}

// Plain is the printer of the trade's English and units.
var Plain = Printer{English, units.US}

// Say writes a message. A sentence that lacks an argument is left out; a key that this
// version does not know is told as one.
func (p Printer) Say(m Message) string {
	if m == "" || !m.IsKey() {
		return string(m)
	}
	key, args := m.args()
	count, counted := 0, false
	if n, ok := strings.CutPrefix(args["count"], numberArg+":"); ok {
		v, err := strconv.ParseFloat(n, 64)
		count, counted = int(v), err == nil
	}
	text, ok := of(p.Lang).find(key, count, counted)
	if !ok {
		if text, ok = of(English).find(key, count, counted); !ok {
			return p.Say(Of("words.unknown", "key", Name(key)))
		}
	}
	out := make([]string, 0, len(text))
	for _, s := range text {
		if one, whole := p.sentence(s, args); whole {
			out = append(out, one)
		}
	}
	return strings.Join(out, " ")
}

func (p Printer) sentence(s sentence, args map[string]string) (string, bool) {
	var b strings.Builder
	for _, piece := range s {
		switch {
		case piece.unit != "" && piece.upTo != 0:
			b.WriteString(p.Units.Range(piece.value, piece.upTo, piece.unit))
		case piece.unit != "":
			b.WriteString(p.Units.Stated(piece.value, piece.unit))
		case piece.hole != "":
			a, ok := args[piece.hole]
			if !ok {
				return "", false
			}
			said, ok := p.arg(a)
			if !ok {
				return "", false
			}
			switch piece.as {
			case "low":
				said = low(said)
			case "cap":
				said = turn(said, unicode.ToUpper)
			}
			b.WriteString(said)
		default:
			b.WriteString(piece.words)
		}
	}
	return b.String(), true
}

// low writes a name as it stands within a sentence; what is all capitals stays.
func low(s string) string {
	if r, n := utf8.DecodeRuneInString(s); n < len(s) && unicode.IsUpper(r) {
		if next, _ := utf8.DecodeRuneInString(s[n:]); unicode.IsUpper(next) {
			return s
		}
	}
	return turn(s, unicode.ToLower)
}

func turn(s string, by func(rune) rune) string {
	r, n := utf8.DecodeRuneInString(s)
	if n == 0 {
		return s
	}
	return string(by(r)) + s[n:]
}

// arg writes one argument; false for one that is broken, or of a kind that this version
// does not know.
func (p Printer) arg(a string) (string, bool) {
	kind, rest, _ := strings.Cut(a, ":")
	parts := strings.Split(rest, ":")
	plain := func(i int) string {
		if i >= len(parts) {
			return ""
		}
		s, err := url.QueryUnescape(parts[i])
		if err != nil {
			return ""
		}
		return s
	}
	sound := true
	figure := func(i int) float64 {
		v, err := strconv.ParseFloat(plain(i), 64)
		sound = sound && err == nil && !math.IsNaN(v) && !math.IsInf(v, 0)
		return v
	}
	decimals := func(i int) int {
		d := figure(i)
		sound = sound && d >= -1 && d <= 6 // -1: as short as it goes
		return int(d)
	}
	var said string
	switch kind {
	case quantityArg:
		v := figure(1)
		if plain(2) == "" {
			said = p.Units.Figure(v, plain(0))
		} else if d := decimals(2); sound {
			said = p.Units.FigureTo(v, plain(0), d)
		}
	case numberArg:
		v := figure(0)
		if plain(1) == "" {
			said = units.Shortest(v)
		} else if d := decimals(1); sound {
			said = units.Grouped(v, d)
		}
	case shareArg:
		said = units.Grouped(100*figure(0), 0) + " %"
	case timeArg:
		t, err := time.Parse(wall, plain(0))
		said, sound = p.time(t, plain(1)), err == nil
	case nameArg:
		said = plain(0)
	case messageArg:
		said = p.Say(Message(plain(0)))
	case eitherArg:
		if p.Units == units.Metric {
			return p.arg(plain(1))
		}
		return p.arg(plain(0))
	case listArg:
		said = p.list(Joint(plain(0)), plain(1))
	default:
		sound = false
	}
	return said, sound
}

// time tells a time; a style that this version does not know is a date. Who reads US units reads a 12-hour clock,
// and in English the month before the day; who reads metric, the day first and 24 hours (CLDR, en-US, es-US, en-GB).
// The page writes its own times alike: dates.json holds the two together.
func (p Printer) time(t time.Time, style string) string {
	monthFirst := p.Units != units.Metric && p.Lang != Spanish
	weekday := func() string { return p.Say(Message("words.day-" + strconv.Itoa(int(t.Weekday())))) }
	name := func() string { return p.Say(Message("words.month-" + strconv.Itoa(int(t.Month())))) }
	switch style {
	case clock:
		return p.clock(t)
	case moment:
		return weekday() + " " + p.clock(t)
	case day:
		if monthFirst {
			return weekday() + ", " + name() + t.Format(" 2")
		}
		return weekday() + t.Format(" 2 ") + name()
	case month:
		if monthFirst {
			return name() + t.Format(" 2")
		}
		return t.Format("2 ") + name()
	}
	if monthFirst {
		return name() + t.Format(" 2, 2006")
	}
	return t.Format("2 ") + name() + t.Format(" 2006")
}

func (p Printer) clock(t time.Time) string {
	switch {
	case p.Units == units.Metric:
		return t.Format(clock)
	case p.Lang != Spanish:
		return t.Format("3:04 PM")
	case t.Hour() < 12:
		return t.Format("3:04 ") + "a.m."
	}
	return t.Format("3:04 ") + "p.m."
}

// list joins messages that are parted by bars. Of a language's joints the last may differ.
func (p Printer) list(by Joint, text string) string {
	var said []string
	for _, one := range strings.Split(text, "|") {
		if m, err := url.QueryUnescape(one); err == nil {
			if s := p.Say(Message(m)); s != "" {
				said = append(said, s)
			}
		}
	}
	switch by {
	case Stop:
		return strings.Join(said, " ")
	case Semicolon:
		return strings.Join(said, "; ")
	}
	n := len(said)
	if n < 2 || by == Comma {
		return strings.Join(said, ", ")
	}
	last := p.Say(Message("words." + string(by) + before(said[n-1])))
	return strings.Join(said[:n-1], ", ") + " " + last + " " + said[n-1]
}

var soundsI, soundsO = regexp.MustCompile(`(?i)^(?:i|hi(?:[^ae]|$))`), regexp.MustCompile(`(?i)^h?o`)

// before tells the sound that a joint stands before where a language may say another for
// it: Spanish does, "e" before an i and "u" before an o (CLDR's list patterns).
func before(word string) string {
	switch {
	case soundsI.MatchString(word):
		return "-before-i"
	case soundsO.MatchString(word):
		return "-before-o"
	}
	return ""
}
