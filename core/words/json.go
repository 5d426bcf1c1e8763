package words

import (
	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
	jsonv1 "github.com/go-json-experiment/json/v1"
)

// Marshal writes a value as JSON with its messages as this printer says them: what goes
// out to a reader. The record keeps messages by encoding/json, in their written form.
func (p Printer) Marshal(v any) ([]byte, error) {
	say := json.MarshalToFunc(
		func(e *jsontext.Encoder, m Message) error { return e.WriteToken(jsontext.String(p.Say(m))) },
	)
	return json.Marshal(v, jsonv1.DefaultOptionsV1(), jsontext.EscapeForHTML(false), json.WithMarshalers(say))
}
