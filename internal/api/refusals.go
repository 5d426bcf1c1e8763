package api

import (
	"fmt"

	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/validation"

	"fairlap/core/words"
)

// The contract's own refusals, what Huma says of a body that does not fit it, are
// messages like every other.
func init() {
	for of, key := range map[*string]string{
		&validation.MsgUnexpectedProperty:      "api.refused.no-such-name",
		&validation.MsgExpectedRFC3339DateTime: "api.refused.expects-time",
		&validation.MsgExpectedBoolean:         "api.refused.expects-yes-or-no",
		&validation.MsgExpectedNumber:          "api.refused.expects-number",
		&validation.MsgExpectedInteger:         "api.refused.expects-whole-number",
		&validation.MsgExpectedString:          "api.refused.expects-text",
		&validation.MsgExpectedArray:           "api.refused.expects-list",
		&validation.MsgExpectedObject:          "api.refused.expects-object",
	} {
		*of = key
	}
	type refusal struct{ key, arg string }
	with := map[string]refusal{
		validation.MsgExpectedRFC4122UUID:            {"api.refused.expects-id", ""},
		validation.MsgExpectedOneOf:                  {"api.refused.one-of", "of"},
		validation.MsgExpectedMinimumNumber:          {"api.refused.number-least", "least"},
		validation.MsgExpectedExclusiveMinimumNumber: {"api.refused.over-number", "least"},
		validation.MsgExpectedMaximumNumber:          {"api.refused.number-most", "most"},
		validation.MsgExpectedExclusiveMaximumNumber: {"api.refused.under-number", "most"},
		validation.MsgExpectedMinLength:              {"api.refused.letters-least", "least"},
		validation.MsgExpectedMaxLength:              {"api.refused.letters-most", "most"},
		validation.MsgExpectedMinItems:               {"api.refused.items-least", "least"},
		validation.MsgExpectedMaxItems:               {"api.refused.items-most", "most"},
		validation.MsgExpectedRequiredProperty:       {"api.refused.lacks", "what"},
	}
	huma.ErrorFormatter = func(format string, a ...any) string {
		r, ok := with[format]
		switch {
		case !ok:
			return fmt.Sprintf(format, a...)
		case r.arg == "" || len(a) == 0:
			return r.key
		}
		return string(words.Of(r.key, r.arg, words.Name(fmt.Sprint(a[0]))))
	}
}
