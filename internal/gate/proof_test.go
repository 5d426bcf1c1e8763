package gate

import (
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Every answer says whose it is and gives back the id that was sent, whatever came of it; what is no id is not
// given back.
func TestEveryAnswerIsProved(t *testing.T) {
	for _, status := range []int{200, 201, 204, 404, 413, 422, 429, 503} {
		h := Proved(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { w.WriteHeader(status) }))
		for sent, back := range map[string]string{
			"0194fdc2-fa2f-7cc0-81d3-ff1207457000": "0194fdc2-fa2f-7cc0-81d3-ff1207457000",
			"":                                     "",
			strings.Repeat("a", 64):                strings.Repeat("a", 64),
			strings.Repeat("a", 65):                "",
			"a b":                                  "",
			"a\"b":                                 "",
		} {
			r := httptest.NewRequest(http.MethodPost, "/api/v1/visits", nil)
			r.Header.Set(SentID, sent)
			w := httptest.NewRecorder()
			h.ServeHTTP(w, r)
			assert.Equal(t, "fairlap", w.Header().Get(ServedBy), status)
			assert.Equal(t, back, w.Header().Get(SentID), "%d %q", status, sent)
		}
	}
}
