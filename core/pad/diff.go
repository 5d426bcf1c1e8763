package pad

import (
	"fmt"
	"reflect"
	"strings"
)

// Change is one field that differs between two documents, as a person would
// write it; "" stands for a field that is not there.
type Change struct {
	Path string `json:"path"`
	Was  string `json:"was"`
	Is   string `json:"is"`
}

// Diff lists what changed from one document to another, in the document's order.
// Lines and valves are matched by their id, so that adding one moves no other.
func Diff(was, is Document) []Change {
	var out []Change
	diff("", reflect.ValueOf(was), reflect.ValueOf(is), &out)
	return out
}

func diff(path string, a, b reflect.Value, out *[]Change) {
	switch a.Kind() {
	case reflect.Pointer:
		switch {
		case a.IsNil() && b.IsNil():
		case a.IsNil():
			*out = append(*out, Change{path, "", written(b.Elem())})
		case b.IsNil():
			*out = append(*out, Change{path, written(a.Elem()), ""})
		default:
			diff(path, a.Elem(), b.Elem(), out)
		}
	case reflect.Struct:
		for i := range a.NumField() {
			f := a.Type().Field(i)
			at := path
			if !f.Anonymous {
				name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
				at = strings.TrimPrefix(path+"."+name, ".")
			}
			diff(at, a.Field(i), b.Field(i), out)
		}
	case reflect.Slice:
		diffLists(path, a, b, out)
	default:
		if was, is := written(a), written(b); was != is {
			*out = append(*out, Change{path, was, is})
		}
	}
}

// diffLists compares lists by id where their items have one, else by place.
func diffLists(path string, a, b reflect.Value, out *[]Change) {
	key := func(x reflect.Value, i int) string {
		if x.Index(i).Kind() == reflect.Struct {
			if id := x.Index(i).FieldByName("ID"); id.IsValid() {
				return id.String()
			}
		}
		return fmt.Sprint(i + 1)
	}
	in := map[string]reflect.Value{}
	for i := range b.Len() {
		in[key(b, i)] = b.Index(i)
	}
	seen := map[string]bool{}
	for i := range a.Len() {
		k := key(a, i)
		seen[k] = true
		at := path + " " + k
		if other, ok := in[k]; ok {
			diff(at, a.Index(i), other, out)
		} else {
			*out = append(*out, Change{at, written(a.Index(i)), ""})
		}
	}
	for i := range b.Len() {
		if k := key(b, i); !seen[k] {
			*out = append(*out, Change{path + " " + k, "", written(b.Index(i))})
		}
	}
}

// written writes a value shortly: a part by its model or name, a plain value as it
// stands.
func written(v reflect.Value) string {
	if v.Kind() == reflect.Struct {
		for _, name := range []string{"Model", "Name"} {
			if f := v.FieldByName(name); f.IsValid() && f.String() != "" {
				return f.String()
			}
		}
		var parts []string
		for i := range v.NumField() {
			name, _, _ := strings.Cut(v.Type().Field(i).Tag.Get("json"), ",")
			if f := v.Field(i); !f.IsZero() && f.Kind() != reflect.Struct {
				parts = append(parts, fmt.Sprintf("%s %v", name, f.Interface()))
			}
		}
		if len(parts) == 0 {
			return "✓"
		}
		return strings.Join(parts, ", ")
	}
	return fmt.Sprint(v.Interface())
}
