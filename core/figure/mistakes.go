package figure

import (
	"fmt"

	"fairlap/core/words"
)

// FieldError is a mistake in what was typed: where, and one plain sentence.
type FieldError struct {
	Field string
	Text  words.Message
}

// FieldErrors are all the mistakes of one request.
type FieldErrors []FieldError

func (e FieldErrors) Error() string { return fmt.Sprintf("%d fields need another look", len(e)) }

// Add names one more mistake.
func (e *FieldErrors) Add(field string, text words.Message) {
	*e = append(*e, FieldError{Field: field, Text: text})
}

// Wrong is one mistake alone.
func Wrong(field string, text words.Message) FieldErrors {
	return FieldErrors{{Field: field, Text: text}}
}
