// Package figure reads figures as people type them: at a bench, in a form, in a
// spreadsheet. It is the one reader; what could mean two things is asked, never guessed.
package figure

import (
	"errors"
	"strings"
	"unicode"

	"fairlap/core/units"
	"fairlap/core/words"
)

// Kind names what a typed figure stands for, and so which units it may carry
// and which values are believable at a residential pad.
type Kind string

// The figures that a technician types.
const (
	Speed  Kind = "speed"
	Tank   Kind = "tank"
	Vacuum Kind = "vacuum"
	Flow   Kind = "flow"
	Power  Kind = "power"
)

// Refusal is why a typed figure was not taken: one plain sentence for its field.
type Refusal words.Message

func (r Refusal) Error() string { return words.Plain.Say(words.Message(r)) }

func refuse(key string, pairs ...any) error { return Refusal(words.Of(key, pairs...)) }

// Problem is what a refusal says; another error as it stands.
func Problem(err error) words.Message {
	if r, ok := errors.AsType[Refusal](err); ok {
		return words.Message(r)
	}
	return words.Named(err.Error())
}

type rule struct {
	name    words.Message // as the field is called in a sentence
	unit    string        // understood when none is typed
	factors map[string]float64
	span    Span   // in the bare unit; outside is refused, never clamped
	example string // how it is typed
}

// One of each unit in the bare unit of its kind.
var (
	kpaInPsi  = (units.Pressure(1e3)).PSI()
	barInPsi  = (units.Pressure(1e5)).PSI()
	kpaInInHg = (units.Pressure(1e3)).InHg()
	barInInHg = (units.Pressure(1e5)).InHg()
	m3hInGpm  = (units.Flow(1.0 / 3600)).GPM()
	lpmInGpm  = (units.Flow(0.001 / 60)).GPM()
)

// The believable spans (ours, rules.json) are wider than anything a sound or broken
// residential pad shows, narrow enough to catch a slipped digit or another field's figure.
// Between none and Least a figure is a slip: no pump turns at 2.4 rpm.
var rules = map[Kind]rule{
	Speed: {
		"figure.speed",
		"rpm",
		map[string]float64{"rpm": 1, "min-1": 1, "1/min": 1},
		written.Spans["rpm"],
		"2,400",
	},
	Tank: {
		"figure.tank",
		"psi",
		map[string]float64{"psi": 1, "psig": 1, "kpa": kpaInPsi, "bar": barInPsi},
		written.Spans["psi"],
		"17.5",
	},
	Vacuum: {
		"figure.vacuum",
		"inHg",
		map[string]float64{
			"inhg": 1,
			"\"hg": 1,
			"in":   1,
			"kpa":  kpaInInHg,
			"bar":  barInInHg,
			"mbar": barInInHg / 1000,
			"mmhg": 1 / 25.4,
		},
		written.Spans["inHg"],
		"4.5",
	},
	Flow: {
		"figure.flow",
		"gpm",
		map[string]float64{
			"gpm":   1,
			"m3/h":  m3hInGpm,
			"m³/h":  m3hInGpm,
			"l/min": lpmInGpm,
			"lpm":   lpmInGpm,
			"l/s":   60 * lpmInGpm,
		},
		written.Spans["gpm"],
		"42.5",
	},
	Power: {
		"figure.power",
		"W",
		map[string]float64{"w": 1, "watt": 1, "watts": 1, "kw": 1000},
		written.Spans["W"],
		"1,105",
	},
}

// foreign lists units that belong to another field, to say so by name.
var foreign = map[string]Kind{
	"rpm": Speed, "psi": Tank, "inhg": Vacuum, "gpm": Flow, "m3/h": Flow, "w": Power, "kw": Power,
}

// Read reads a figure of a kind the way it is typed at a pad: "17.5", "17,5", "17 1/2",
// "1.2 bar", "2,400 rpm". The result is in the kind's bare unit (rpm, psi, inHg, gpm, W).
// The error is a Refusal; a value outside the believable span is refused, never clamped.
func Read(kind Kind, text string) (float64, error) {
	r := rules[kind]
	name := words.Msg(r.name)
	s := plain(text)
	if s == "" {
		return 0, refuse("figure.none", "name", name)
	}
	number, unit := s, ""
	if cut := strings.IndexFunc(s, func(c rune) bool {
		return !(unicode.IsDigit(c) || strings.ContainsRune("+-.,' /", c))
	}); cut >= 0 {
		number, unit = s[:cut], strings.ToLower(strings.ReplaceAll(s[cut:], " ", ""))
		if n, ok := strings.CutSuffix(number, "1/"); ok && unit == "min" { // 1/min is a unit
			number, unit = n, "1/min"
		}
	}
	if strings.TrimSpace(number) == "" {
		unit = ""
	}
	factor := 1.0
	if unit != "" {
		f, ok := r.factors[unit]
		if !ok {
			if other, known := foreign[unit]; known && other != kind {
				return 0, refuse(
					"figure.other-field",
					"text",
					words.Name(text),
					"other",
					words.Msg(rules[other].name),
					"name",
					name,
					"unit",
					words.Name(r.unit),
				)
			}
			return 0, refuse("figure.unknown-unit", "text", words.Name(text), "name", name, "unit", words.Name(r.unit))
		}
		factor = f
	}
	v, err := Number(number, Span{r.span.Low / factor, r.span.Top / factor, r.span.Least / factor}, Unknown)
	if err != nil {
		switch Problem(err).Key() {
		case "figure.not-a-number":
			return 0, refuse(
				"figure.not-a-number-for",
				"text",
				words.Name(text),
				"name",
				name,
				"example",
				words.Name(r.example),
			)
		case "figure.outside":
			n, _ := Number(number, Span{}, Unknown)
			if n < 0 && r.span.Low == 0 {
				return 0, refuse("figure.below-zero", "name", name)
			}
			return 0, refuse(
				"figure.not-believable",
				"value",
				words.Q(r.unit, n*factor),
				"name",
				name,
				"low",
				words.Q(r.unit, r.span.Low),
				"top",
				words.Q(r.unit, r.span.Top),
			)
		}
		return 0, err
	}
	return v * factor, nil
}
