package figure

import (
	"math"
	"slices"
	"strconv"
	"strings"

	"fairlap/core/words"
)

// Span is what a figure may be; the zero value is anything. What is nearer to none than
// Least without being none is no value of it.
type Span struct{ Low, Top, Least float64 }

func (s Span) has(v float64) bool {
	return s == Span{} || v >= s.Low && v <= s.Top && (v == 0 || math.Abs(v) >= s.Least)
}

// Marks says which mark parts a file's decimals.
type Marks int

// The marks.
const (
	Unknown Marks = iota
	DecimalPoint
	DecimalComma
)

// Number reads a bare number within a span: "2400", "17.5", "17,5", "2,400", "2 400",
// "18.500,5", "17 1/2". "1,200" is 1200 or 1.2: where the span and the file's marks leave
// both it is refused with both readings. The error is a Refusal.
func Number(text string, span Span, marks Marks) (float64, error) {
	s := plain(text)
	sign := 1.0
	if t, ok := strings.CutPrefix(s, "-"); ok {
		s, sign = strings.TrimSpace(t), -1
	} else {
		s = strings.TrimSpace(strings.TrimPrefix(s, "+"))
	}
	could := readings(s, marks)
	if len(could) == 0 {
		return 0, refuse("figure.not-a-number", "text", words.Name(text))
	}
	var can []float64
	for _, v := range could {
		if v *= sign; span.has(v) && !slices.Contains(can, v) {
			can = append(can, v)
		}
	}
	switch {
	case len(can) == 1, len(can) > 1 && !strings.Contains(s, ","):
		return can[0], nil
	case len(can) > 1:
		return 0, refuse(
			"figure.which",
			"text",
			words.Name(text),
			"one",
			words.Name(exactly(can[0])),
			"other",
			words.Name(exactly(can[1])),
		)
	}
	return 0, refuse(
		"figure.outside",
		"value",
		words.N(sign*could[0]),
		"low",
		words.N(span.Low),
		"top",
		words.N(span.Top),
	)
}

// readings are the values that a text without its sign may stand for, the likelier first.
func readings(s string, marks Marks) []float64 {
	switch {
	case digits.MatchString(s):
		return value(s)
	case fraction.MatchString(s):
		g := fraction.FindStringSubmatch(s)
		over := value(g[3])
		if len(over) == 0 || over[0] == 0 {
			return nil
		}
		v := value(g[2])[0] / over[0]
		if g[1] != "" {
			v += value(g[1])[0]
		}
		return []float64{v}
	case spaced.MatchString(s):
		return value(strings.ReplaceAll(strings.NewReplacer(" ", "", "'", "").Replace(s), ",", "."))
	case both.MatchString(s):
		if strings.LastIndexByte(s, ',') > strings.LastIndexByte(s, '.') {
			s = strings.NewReplacer(".", "", ",", ".").Replace(s)
		}
		return value(strings.ReplaceAll(s, ",", ""))
	case grouped.MatchString(s):
		mark := s[strings.IndexAny(s, ".,")]
		whole := value(strings.ReplaceAll(s, string(mark), ""))
		if strings.Count(s, string(mark)) > 1 {
			return whole
		}
		parted := value(strings.ReplaceAll(s, ",", "."))
		switch {
		case mark == ',' && marks == DecimalPoint, mark == '.' && marks == DecimalComma:
			return whole
		case mark == ',' && marks == DecimalComma, mark == '.' && marks == DecimalPoint:
			return parted
		case mark == '.': // a point parts decimals here unless that can't be
			return append(parted, whole...)
		}
		return append(whole, parted...)
	case bare.MatchString(s):
		return value(strings.ReplaceAll(s, ",", "."))
	}
	return nil
}

func value(s string) []float64 {
	v, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(v, 0) {
		return nil
	}
	return []float64{v}
}

func exactly(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }

// MarksOf tells which mark parts decimals in a file, by the cells that leave no doubt;
// Unknown where none does, or where they disagree.
func MarksOf(cells []string) Marks {
	seen := Unknown
	for _, c := range cells {
		m := Unknown
		switch s := strings.TrimPrefix(plain(c), "-"); {
		case both.MatchString(s):
			m = DecimalPoint
			if strings.LastIndexByte(s, ',') > strings.LastIndexByte(s, '.') {
				m = DecimalComma
			}
		case digits.MatchString(s), grouped.MatchString(s), !bare.MatchString(s):
		case strings.ContainsRune(s, ','):
			m = DecimalComma
		case strings.ContainsRune(s, '.'):
			m = DecimalPoint
		}
		if m != Unknown && seen != Unknown && m != seen {
			return Unknown
		}
		if m != Unknown {
			seen = m
		}
	}
	return seen
}
