package units

import (
	"fmt"
	"math"
	"strconv"
	"strings"
	"unicode"
)

// Kind names what a typed figure stands for, and so which units it may carry
// and which values are believable at a residential pad.
type Kind string

// The figures that a technician types.
const (
	KindSpeed  Kind = "speed"
	KindTank   Kind = "tank"
	KindVacuum Kind = "vacuum"
	KindFlow   Kind = "flow"
	KindPower  Kind = "power"
)

// Refusal is why a typed figure was not taken: one plain sentence for its field.
type Refusal string

func (r Refusal) Error() string { return string(r) }

func refuse(format string, args ...any) error { return Refusal(fmt.Sprintf(format, args...)) }

type kindRule struct {
	name     string // as the field is called in a sentence
	unit     string // understood when none is typed
	factors  map[string]float64
	min, max float64 // in the bare unit; outside is refused, never clamped
	grouping bool    // "2,400" means two thousand four hundred
}

// Believable spans (ours): wider than anything a sound or broken residential
// pad shows, narrow enough to catch a slipped digit or another field's figure.
var kindRules = map[Kind]kindRule{
	KindSpeed: {"pump speed", "rpm", map[string]float64{"rpm": 1, "min-1": 1, "1/min": 1}, 0, 4000, true},
	KindTank: {"tank gauge", "psi", map[string]float64{"psi": 1, "psig": 1, "kpa": kPa / psi, "bar": bar / psi},
		-15, 100, false},
	KindVacuum: {"vacuum", "inHg", map[string]float64{"inhg": 1, "\"hg": 1, "in": 1, "kpa": kPa / inHg, "bar": bar / inHg,
		"mbar": bar / 1000 / inHg, "mmhg": 1 / 25.4}, 0, 30, false},
	KindFlow: {"flow", "gpm", map[string]float64{"gpm": 1, "m3/h": cubicMHour / gpm, "m³/h": cubicMHour / gpm,
		"l/min": 0.001 / 60 / gpm, "lpm": 0.001 / 60 / gpm, "l/s": 0.001 / gpm}, 0, 250, false},
	KindPower: {"power", "W", map[string]float64{"w": 1, "watt": 1, "watts": 1, "kw": 1000}, 0, 6000, true},
}

// foreign lists units that belong to another field, to say so by name.
var foreign = map[string]Kind{
	"rpm": KindSpeed, "psi": KindTank, "inhg": KindVacuum, "gpm": KindFlow, "m3/h": KindFlow, "w": KindPower, "kw": KindPower,
}

// Parse reads a figure the way it is typed at a pad: "17.5", "17,5",
// "17.5 psi", "1.2 bar", "2,400 rpm". The result is in the kind's bare unit
// (rpm, psi, inHg, gpm, W). The error is a Refusal;
// a value outside the believable span is refused, never clamped.
func Parse(kind Kind, text string) (float64, error) {
	rule, ok := kindRules[kind]
	if !ok {
		return 0, fmt.Errorf("unknown kind of figure %q", kind)
	}
	s := strings.TrimSpace(strings.ReplaceAll(text, "−", "-"))
	if s == "" {
		return 0, refuse("Type the %s, or leave the reading out.", rule.name)
	}
	cut := strings.IndexFunc(s, func(r rune) bool {
		return !(unicode.IsDigit(r) || strings.ContainsRune("+-.,'\u00a0\u202f ", r))
	})
	number, unit := s, ""
	if cut >= 0 {
		number, unit = s[:cut], strings.ToLower(strings.ReplaceAll(s[cut:], " ", ""))
	}
	value, err := parseNumber(number, rule.grouping)
	if err != nil {
		return 0, refuse("%q is not a number for the %s. Type it like %s.", text, rule.name, example(rule))
	}
	factor := 1.0
	if unit != "" {
		if factor, ok = rule.factors[unit]; !ok {
			if other, known := foreign[unit]; known && other != kind {
				return 0, refuse("%q reads like a %s; this field is the %s in %s.", text, kindRules[other].name, rule.name, rule.unit)
			}
			return 0, refuse("The unit in %q is not known for the %s; use %s.", text, rule.name, rule.unit)
		}
	}
	value *= factor
	switch {
	case value < rule.min && rule.min == 0:
		return 0, refuse("The %s can't be below zero.", rule.name)
	case value < rule.min || value > rule.max:
		return 0, refuse("%s %s is not believable for the %s; it lies between %g and %g.",
			strconv.FormatFloat(math.Round(value*100)/100, 'f', -1, 64), rule.unit, rule.name, rule.min, rule.max)
	}
	return value, nil
}

// parseNumber accepts a decimal point or comma. A comma before exactly three
// digits groups thousands where the kind's figures reach that far.
func parseNumber(s string, grouping bool) (float64, error) {
	s = strings.NewReplacer(" ", "", "'", "", "\u00a0", "", "\u202f", "").Replace(s)
	if grouping {
		if i := strings.IndexByte(s, ','); i > 0 && len(strings.TrimLeft(s[:i], "+-")) <= 3 && len(s)-i-1 >= 3 &&
			(len(s)-i-1 == 3 || s[i+4] == '.') {
			s = s[:i] + s[i+1:]
		}
	}
	if strings.Count(s, ",") == 1 && !strings.Contains(s, ".") {
		s = strings.Replace(s, ",", ".", 1)
	}
	v, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
		return 0, fmt.Errorf("not a number: %q", s)
	}
	return v, nil
}

func example(r kindRule) string {
	if r.grouping {
		return "2,400 or 2400"
	}
	return "17.5 or 17,5"
}
