package words

import (
	"math"
	"strconv"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	jsonv1 "github.com/go-json-experiment/json/v1"
)

// Marshal writes a value as JSON with its messages as this printer says them: what goes
// out to a reader. A list without anything in it is [], never null. The record keeps messages by
// encoding/json, in their written form.
func (p Printer) Marshal(v any) ([]byte, error) {
	say := json.MarshalToFunc(
		func(e *jsontext.Encoder, m Message) error { return e.WriteToken(jsontext.String(p.Say(m))) },
	)
	return json.Marshal(v, jsonv1.DefaultOptionsV1(), json.FormatNilSliceAsNull(false),
		json.FormatNilMapAsNull(false), jsontext.EscapeForHTML(false), json.WithMarshalers(say))
}

// Digits that a rounded number is told to, more than any gauge has; and below what it is told as 0,
// the rest of two sums that cancel.
const (
	digits  = 6
	nothing = 1e-9
)

// Rounded writes a value with its numbers rounded. A processor's own exponent and sums are not
// Go's own to the last bits, and that grows in what is solved by steps: so rounded, what a phone
// works out is the same text as the server's.
func Rounded(e *jsontext.Encoder, v any) error {
	round := rounding
	if others, ok := json.GetOption(e.Options(), json.WithMarshalers); ok {
		round = json.JoinMarshalers(others, round)
	}
	return json.MarshalEncode(e, v, json.WithMarshalers(round))
}

// Round rounds the numbers of what is kept as JSON in place, so that what is worked out from them
// is the same wherever they were read.
func Round[T any](v *T) error {
	text, err := json.Marshal(v, jsonv1.DefaultOptionsV1(), json.WithMarshalers(rounding))
	if err != nil {
		return err
	}
	var out T
	if err := json.Unmarshal(text, &out, jsonv1.DefaultOptionsV1()); err != nil {
		return err
	}
	*v = out
	return nil
}

var rounding = json.MarshalToFunc(
	func(e *jsontext.Encoder, x float64) error { return e.WriteToken(jsontext.Float(rounded(x))) },
)

// rounded is a number to so many digits; what is whole or none stays as it is.
func rounded(x float64) float64 {
	if math.Abs(x) < nothing {
		return 0
	}
	if x == math.Trunc(x) || math.IsInf(x, 0) || math.IsNaN(x) {
		return x
	}
	short, _ := strconv.ParseFloat(strconv.FormatFloat(x, 'g', digits, 64), 64) // it was just written
	return short
}
