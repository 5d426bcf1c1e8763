package access

import (
	"strings"

	"fairlap/core/figure"
	"fairlap/core/pad"
	"fairlap/core/words"
)

// Mistakes puts a document's mistakes under the request's field.
func Mistakes(prefix string, errs []pad.FieldError) error {
	if len(errs) == 0 {
		return nil
	}
	out := make(figure.FieldErrors, len(errs))
	for i, e := range errs {
		path := strings.Trim(prefix+"."+e.Path, ".")
		out[i] = figure.FieldError{Field: path, Text: words.Of("app.sentence", "says", words.Msg(e.Text))}
	}
	return out
}
