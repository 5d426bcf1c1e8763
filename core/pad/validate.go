package pad

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"regexp"
	"strconv"
	"strings"

	"fairlap/core/hydraulics"
	"fairlap/core/words"
)

// FieldError is a document's mistake: the path of the field and a sentence.
type FieldError struct {
	Path string
	Text words.Message
}

func (e *FieldError) Error() string { return e.Path + ": " + words.Plain.Say(e.Text) }

// LargestDocument is how many bytes of a pad document are read.
const LargestDocument = 1 << 20

// Read decodes one pad document and validates it. The mistakes come with the
// path of the field; the document is good only when there are none.
func Read(r io.Reader) (Document, []FieldError) {
	var doc Document
	if err := Decode(r, LargestDocument, &doc); err != nil {
		return doc, []FieldError{*err}
	}
	return doc, doc.Validate()
}

// Decode reads one JSON document of at most some bytes into v: a field that v does not know,
// and anything after the document, is a mistake.
func Decode(r io.Reader, most int64, v any) *FieldError {
	b, err := io.ReadAll(io.LimitReader(r, most+1))
	if err != nil {
		return &FieldError{"", words.Of("pad.unreadable", "error", words.Name(err.Error()))}
	}
	if int64(len(b)) > most {
		return &FieldError{"", words.Of("pad.a-document-of-this-kind", "most", words.Q("MB", float64(most>>20)))}
	}
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	if err := dec.Decode(v); err != nil {
		e := DecodeError(err)
		return &e
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return &FieldError{"", "pad.something-follows-the-document-s"}
	}
	return nil
}

// DecodeError turns a JSON decoder's error into the field at fault and a sentence.
func DecodeError(err error) FieldError {
	var kind *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch {
	case errors.As(err, &kind):
		want := words.Message("pad.a-number")
		switch kind.Type.Kind() {
		case reflect.String:
			want = "pad.text"
		case reflect.Bool:
			want = "pad.true-or-false"
		case reflect.Slice:
			want = "pad.a-list"
		case reflect.Struct, reflect.Pointer:
			want = "pad.an-object"
		}
		return FieldError{
			kind.Field,
			words.Of("pad.wrong-kind", "want", words.Msg(want), "got", words.Name(kind.Value)),
		}
	case errors.As(err, &syntax):
		return FieldError{
			"",
			words.Of(
				"pad.this-is-not-json-at",
				"error",
				words.Name(syntax.Error()),
				"offset",
				words.N(float64(syntax.Offset)),
			),
		}
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return FieldError{"", "pad.the-document-ends-too-early"}
	}
	if name, ok := strings.CutPrefix(err.Error(), "json: unknown field "); ok {
		return FieldError{strings.Trim(name, `"`), "pad.a-pad-has-no-such"}
	}
	return FieldError{"", words.Named(err.Error())}
}

// Validate checks a document and returns every mistake found.
func (d *Document) Validate() []FieldError {
	v := &validator{}
	v.value("", reflect.ValueOf(d).Elem(), "")
	v.errs = append(v.errs, d.Pump.check("pump.")...)
	d.checkLines(v)
	d.checkValves(v)
	hours := 0.0
	for i, s := range d.Programme {
		hours += s.Hours
		if s.RPM > d.Pump.TopRPM && s.RPM <= 4000 {
			v.bad(
				fmt.Sprintf("programme[%d].rpm", i),
				words.Of("pad.is-over-the-pump-s", "topRPM", words.QD("rpm", d.Pump.TopRPM, -1)),
			)
		}
	}
	if hours > 24 {
		v.bad("programme", words.Of("pad.a-day-has-24-hours", "hours", words.N(math.Round(hours*10)/10)))
	}
	if d.HeaterBypass != nil && d.Heater == nil {
		v.bad("heaterBypass", "pad.there-is-no-heater-to")
	}
	if d.Waste != nil && d.Filter.Valve == NoValve {
		v.bad("waste", "pad.a-waste-line-needs-a")
	}
	return v.errs
}

// ValidatePart checks one piece of equipment, given as a pointer, by itself.
func ValidatePart(part any) []FieldError {
	v := &validator{}
	v.value("", reflect.ValueOf(part).Elem(), "")
	if p, ok := part.(*Pump); ok {
		v.errs = append(v.errs, p.check("")...)
	}
	return v.errs
}

// check finds what a pump's fields say wrong together.
func (p *Pump) check(path string) []FieldError {
	v := &validator{}
	if p.LeastRPM > p.TopRPM {
		v.bad(path+"leastRpm", words.Of("pad.must-not-be-over-the", "topRPM", words.N(p.TopRPM)))
	}
	if _, err := p.Points(); err != nil {
		v.bad(path+"curve", curveSays(err))
	}
	if p.Kind == FlowHolding && p.HoldGPM == 0 {
		v.bad(path+"holdGpm", "pad.say-which-flow-the-pump")
	}
	if (p.NPSHrFt > 0) != (p.NPSHrGPM > 0) {
		v.bad(path+"npshrGpm", "pad.needed-suction-head-goes-with")
	}
	return v.errs
}

// curveSays says what is wrong with a pump's curve.
func curveSays(err error) words.Message {
	if errors.Is(err, hydraulics.ErrRisingCurve) {
		return "pad.the-pump-curve-rises-with"
	}
	return "pad.a-pump-curve-needs-at"
}

// checkLines refuses doubled names, lines on the wrong side and ports that are not there.
func (d *Document) checkLines(v *validator) {
	seen := map[string]words.Message{"multiport": "pad.the-filter-valve", "heater-bypass": "pad.the-heater-s-bypass"}
	once := func(path, id string) {
		if was, ok := seen[id]; ok {
			v.bad(path+".id", words.Of("pad.already-names", "id", words.Name(id), "was", words.Msg(was)))
		}
		seen[id] = words.Named(path)
	}
	for _, side := range []struct {
		path    string
		side    Side
		suction bool
		lines   []Line
	}{{"suction", SuctionSide, true, d.Suction}, {"returns", ReturnSide, false, d.Returns}} {
		for i, l := range side.lines {
			p := fmt.Sprintf("%s[%d]", side.path, i)
			once(p, l.ID)
			fact, known := lineFacts[l.Kind]
			if known && fact.suction != side.suction {
				v.bad(
					p+".kind",
					words.Of(
						"pad.a-line-is-not-on",
						"kind",
						words.Name(string(l.Kind)),
						"side",
						words.Name(string(side.side)),
					),
				)
			}
			if fact.spa && d.Spa == nil {
				v.bad(p+".kind", "pad.there-is-no-spa-on")
			}
			if l.EyeballIn >= 0 && l.EyeballIn < 0.2 && (!side.suction || l.EyeballIn > 0) {
				v.bad(p+".eyeballIn", "pad.must-be-between-0-2")
			}
			d.checkOn(v, p+".on", l.On, side.side)
		}
	}
	for i, val := range d.Valves {
		p := fmt.Sprintf("valves[%d]", i)
		once(p, val.ID)
		d.checkOn(v, p+".on", val.On, val.Side)
	}
}

func (d *Document) checkOn(v *validator, path, on string, side Side) {
	if on == "" {
		return
	}
	id, port, _ := strings.Cut(on, ":")
	for _, val := range d.Valves {
		if val.ID == id && (port == "a" || port == "b") {
			if val.Side != side {
				v.bad(
					path,
					words.Of("pad.stands-on-the-side", "id", words.Name(id), "side", words.Name(string(val.Side))),
				)
			}
			return
		}
	}
	v.bad(path, words.Of("pad.there-is-no-valve-port", "on", words.Name(on)))
}

// checkValves refuses rings of valves and ports that lead nowhere.
func (d *Document) checkValves(v *validator) {
	if len(v.errs) > 0 {
		return
	}
	used := map[string]bool{}
	for _, l := range append(append([]Line(nil), d.Suction...), d.Returns...) {
		used[l.On] = true
	}
	for _, val := range d.Valves {
		used[val.On] = true
	}
	for i, val := range d.Valves {
		at := val
		for range d.Valves {
			if at.On == "" {
				break
			}
			at = *d.valve(at.On)
		}
		if at.On != "" {
			v.bad(fmt.Sprintf("valves[%d].on", i), "pad.these-valves-hang-on-each")
			return
		}
		for _, port := range []string{"a", "b"} {
			if !used[val.ID+":"+port] {
				v.bad(
					fmt.Sprintf("valves[%d]", i),
					words.Of("pad.nothing-hangs-on-port-of", "port", words.Name(port), "id", words.Name(val.ID)),
				)
			}
		}
	}
}

// valve finds the valve of a port's name.
func (d *Document) valve(on string) *Diverter {
	id, _, _ := strings.Cut(on, ":")
	for i := range d.Valves {
		if d.Valves[i].ID == id {
			return &d.Valves[i]
		}
	}
	return nil
}

// validator walks a document by its tags.
type validator struct{ errs []FieldError }

func (v *validator) bad(path string, text words.Message) {
	v.errs = append(v.errs, FieldError{path, text})
}

func (v *validator) value(path string, x reflect.Value, tag reflect.StructTag) {
	switch x.Kind() {
	case reflect.Pointer:
		if !x.IsNil() {
			v.value(path, x.Elem(), tag)
		}
	case reflect.Struct:
		v.fields(path, x)
	case reflect.Slice:
		if least := Bound(tag, "minItems", 0); float64(x.Len()) < least {
			v.bad(path, words.Of("pad.needs-at-least", "least", words.N(least)))
		}
		if most := Bound(tag, "maxItems", math.Inf(1)); float64(x.Len()) > most {
			v.bad(path, words.Of("pad.has-more-than", "most", words.N(most)))
			return
		}
		for i := range x.Len() {
			v.value(fmt.Sprintf("%s[%d]", path, i), x.Index(i), "")
		}
	case reflect.Float64:
		lo, hi := Bound(tag, "minimum", math.Inf(-1)), Bound(tag, "maximum", math.Inf(1))
		if f := x.Float(); !(f >= lo && f <= hi) {
			v.bad(path, words.Of("pad.must-be-between-and", "lo", words.N(lo), "hi", words.N(hi)))
		}
	case reflect.Int:
		v.value(path, reflect.ValueOf(float64(x.Int())), tag)
	case reflect.String:
		v.text(path, x.String(), tag)
	}
}

func (v *validator) fields(path string, x reflect.Value) {
	for i := range x.NumField() {
		f := x.Type().Field(i)
		if f.Anonymous {
			v.fields(path, x.Field(i))
			continue
		}
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		if strings.Contains(options, "omitempty") && x.Field(i).IsZero() {
			continue // not there
		}
		if path != "" {
			name = path + "." + name
		}
		v.value(name, x.Field(i), f.Tag)
	}
}

func (v *validator) text(path, s string, tag reflect.StructTag) {
	if float64(len(s)) > Bound(tag, "maxLength", math.Inf(1)) {
		v.bad(path, words.Of("pad.is-longer-than-letters", "get", words.Name(tag.Get("maxLength"))))
	}
	if enum := tag.Get("enum"); enum != "" {
		for _, e := range strings.Split(enum, ",") {
			if s == e {
				return
			}
		}
		v.bad(path, words.Of("pad.must-be-one-of", "enum", words.Name(strings.ReplaceAll(enum, ",", ", "))))
	}
	if pattern := tag.Get("pattern"); pattern != "" && !identifier.MatchString(s) {
		v.bad(path, "pad.must-be-small-letters-figures")
	}
}

// identifier is the one pattern that documents use in their tags.
var identifier = regexp.MustCompile(`^[a-z][a-z0-9-]*$`)

// Bound is a bound of a field's tag; otherwise what holds without one.
func Bound(tag reflect.StructTag, key string, otherwise float64) float64 {
	if s := tag.Get(key); s != "" {
		if f, err := strconv.ParseFloat(s, 64); err == nil {
			return f
		}
	}
	return otherwise
}
