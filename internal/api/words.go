package api

import (
	"bytes"
	"encoding/json"
	"io"

	"github.com/danielgtaylor/huma/v2"

	"fairlap/core/units"
)

// asTyped are the fields that people typed, or that name things: nothing in them is
// put into other units.
var asTyped = map[string]bool{
	"note": true, "notes": true, "name": true, "model": true, "street": true, "accessNote": true, "confirmedHow": true, "text": true, "caption": true, "serial": true, "surface": true,
	"speed": true, "tank": true, "vacuum": true, "flow": true, "power": true, "unit": true, "id": true, "kind": true, "login": true, "words": true, "value": true, // a paper's facts come in the company's units already
}

// formats are the API's, with the sentences in the company's units: an answer's figures
// stay in the units that their names say.
func (a *API) formats() map[string]huma.Format {
	out := map[string]huma.Format{}
	for name, f := range huma.DefaultFormats {
		out[name] = f
	}
	plain := huma.DefaultJSONFormat
	told := huma.Format{Unmarshal: plain.Unmarshal, Marshal: func(w io.Writer, v any) error {
		if a.service == nil || a.service.Units() != units.Metric {
			return plain.Marshal(w, v)
		}
		var b bytes.Buffer
		if err := plain.Marshal(&b, v); err != nil {
			return err
		}
		dec := json.NewDecoder(&b)
		dec.UseNumber()
		var any any
		if err := dec.Decode(&any); err != nil {
			return err
		}
		return plain.Marshal(w, inUnits(units.Metric, "", any))
	}}
	out["application/json"], out["json"] = told, told
	return out
}

// inUnits puts the sentences of an answer into a system of units.
func inUnits(s units.System, field string, v any) any {
	switch v := v.(type) {
	case string:
		if asTyped[field] {
			return v
		}
		return s.Say(v)
	case []any:
		for i := range v {
			v[i] = inUnits(s, field, v[i])
		}
	case map[string]any:
		for k := range v {
			if k == "document" { // a pad's own words
				continue
			}
			v[k] = inUnits(s, k, v[k])
		}
	}
	return v
}
