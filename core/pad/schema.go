package pad

import (
	"math"
	"reflect"
	"strings"
)

// Schema gives the JSON Schema (draft 2020-12) of a document, or of any value
// whose fields carry the same tags, as a tree ready for encoding/json. It says
// what a field may hold; what fields must say together is Validate's.
func Schema(of any, title string) map[string]any {
	out := schemaOf(reflect.TypeOf(of), "")
	out["$schema"] = "https://json-schema.org/draft/2020-12/schema"
	out["title"] = title
	return out
}

func schemaOf(t reflect.Type, tag reflect.StructTag) map[string]any {
	out := map[string]any{}
	if doc := tag.Get("doc"); doc != "" {
		out["description"] = doc
	}
	number := func(key string, otherwise float64) {
		if v := Bound(tag, key, otherwise); !math.IsInf(v, 0) {
			out[key] = v
		}
	}
	switch t.Kind() {
	case reflect.Pointer:
		inner := schemaOf(t.Elem(), tag)
		return map[string]any{"anyOf": []any{inner, map[string]any{"type": "null"}}}
	case reflect.Struct:
		properties, required := map[string]any{}, []string{}
		schemaFields(t, properties, &required)
		out["type"], out["properties"], out["required"], out["additionalProperties"] = "object", properties, required, false
	case reflect.Slice:
		out["type"], out["items"] = "array", schemaOf(t.Elem(), "")
		number("minItems", math.Inf(-1))
		number("maxItems", math.Inf(1))
		if _, least := out["minItems"]; !least { // a Go list that was never made is null
			out["type"] = []string{"array", "null"}
		}
	case reflect.Map:
		out["type"], out["additionalProperties"] = "object", schemaOf(t.Elem(), "")
	case reflect.Float64, reflect.Int, reflect.Uint64:
		out["type"] = "number"
		number("minimum", math.Inf(-1))
		number("maximum", math.Inf(1))
	case reflect.Bool:
		out["type"] = "boolean"
	default:
		out["type"] = "string"
		number("maxLength", math.Inf(1))
		if enum := tag.Get("enum"); enum != "" {
			out["enum"] = strings.Split(enum, ",")
		}
		if p := tag.Get("pattern"); p != "" {
			out["pattern"] = p
		}
	}
	return out
}

func schemaFields(t reflect.Type, properties map[string]any, required *[]string) {
	for i := range t.NumField() {
		f := t.Field(i)
		if f.Anonymous {
			schemaFields(f.Type, properties, required)
			continue
		}
		name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
		properties[name] = schemaOf(f.Type, f.Tag)
		if !strings.Contains(options, "omitempty") {
			*required = append(*required, name)
		}
	}
}
