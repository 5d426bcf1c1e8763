package api

import (
	"context"
	"crypto/sha256"
	"encoding/base64"
	"io"
	"net/http"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/text/language"

	"fairlap/core/words"
)

// reader is who reads an answer: what the browser asks for until the session says more.
type reader struct {
	words.Printer
	known bool // by their session
}

type readerKey struct{}

// readerOf is who reads the answer to a request.
func readerOf(ctx context.Context) *reader {
	if r, ok := ctx.Value(readerKey{}).(*reader); ok {
		return r
	}
	return &reader{Printer: words.Plain}
}

// reads notes who reads the answer, before anybody is known: the company's units, and of
// its languages the browser's.
func (a *API) reads(next http.Handler) http.Handler {
	tags := make([]language.Tag, len(words.Languages))
	for i, l := range words.Languages {
		tags[i] = language.Make(string(l))
	}
	match := language.NewMatcher(tags)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		p := words.Plain
		if a.service != nil {
			p = a.service.Company.House()
		}
		if asked := r.Header.Get("Accept-Language"); asked != "" {
			_, i := language.MatchStrings(match, asked)
			p.Lang = words.Languages[i]
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), readerKey{}, &reader{Printer: p})))
	})
}

// addressed is an answer with who reads it and, where it may be asked for again, to which
// request.
type addressed struct {
	v  any
	p  words.Printer
	to huma.Context
}

// tell turns an answer's messages into its reader's words: a problem's at once, an
// answer's when it is written. What the contract itself refuses comes before anybody has
// asked whose session it is.
func (a *API) tell(ctx huma.Context, _ string, v any) (any, error) {
	m, refused := v.(*huma.ErrorModel)
	if refused && m.Status == http.StatusUnprocessableEntity && !readerOf(ctx.Context()).known {
		_, _ = a.actor(ctx.Context()) // nobody: as the browser asks
	}
	p := readerOf(ctx.Context()).Printer
	if refused {
		m.Instance = requestURN(ctx.Context())
		m.Detail = p.Say(words.Message(m.Detail))
		for _, e := range m.Errors {
			e.Message = p.Say(words.Message(e.Message))
		}
	}
	if refused || ctx.Method() != http.MethodGet {
		ctx = nil
	}
	return addressed{v, p, ctx}, nil
}

// formats are the API's.
func formats() map[string]huma.Format {
	out := map[string]huma.Format{}
	for name, f := range huma.DefaultFormats {
		out[name] = f
	}
	plain := huma.DefaultJSONFormat
	read := func(data []byte, v any) error {
		if err := readableBody(data); err != nil {
			return err
		}
		return plain.Unmarshal(data, v)
	}
	said := huma.Format{Unmarshal: read, Marshal: func(w io.Writer, v any) error {
		t, ok := v.(addressed)
		if !ok {
			return plain.Marshal(w, v)
		}
		b, err := t.p.Marshal(t.v)
		if err != nil {
			return err
		}
		if t.to != nil && unchanged(t.to, b) {
			return nil
		}
		_, err = w.Write(append(b, '\n'))
		return err
	}}
	out["application/json"], out["json"] = said, said
	return out
}

// unchanged marks an answer by its content, and tells whether the caller has it already.
func unchanged(ctx huma.Context, answer []byte) bool {
	sum := sha256.Sum256(answer)
	tag := `"` + base64.RawURLEncoding.EncodeToString(sum[:12]) + `"`
	ctx.SetHeader("ETag", "W/"+tag) // packed or not, it says the same
	for known := range strings.SplitSeq(ctx.Header("If-None-Match"), ",") {
		if strings.TrimPrefix(strings.TrimSpace(known), "W/") == tag {
			ctx.SetStatus(http.StatusNotModified)
			return true
		}
	}
	return false
}
