package api

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/record"
)

// Letters that no record can keep are refused with a sentence, in a body and in an address (they
// were a fault of the server's); what only looks like them is kept as it was typed.
func TestLettersThatCantBeKeptAreRefusedInWords(t *testing.T) {
	w := serve(t)
	tech := w.as("technician")
	notes := "/api/v1/pools/" + w.pool + "/notes"
	for name, body := range map[string]string{
		"NUL escaped":      `{"id":"` + uuid.NewString() + `","text":"gate\u0000code"}`,
		"NUL in a name":    `{"id":"` + uuid.NewString() + `","te\u0000xt":"gate"}`,
		"NUL as it is":     "{\"id\":\"" + uuid.NewString() + "\",\"text\":\"gate\x00code\"}",
		"broken UTF-8":     "{\"id\":\"" + uuid.NewString() + "\",\"text\":\"gate\xff\"}",
		"half a character": "{\"id\":\"" + uuid.NewString() + "\",\"text\":\"gate\xe2\x82\"}",
	} {
		var p problemBody
		res, err := tech.http.Post(w.server.URL+notes, "application/json", strings.NewReader(body))
		require.NoError(t, err, name)
		require.NoError(t, json.NewDecoder(res.Body).Decode(&p), name)
		require.NoError(t, res.Body.Close())
		assert.Contains(t, []int{http.StatusBadRequest, http.StatusUnprocessableEntity}, res.StatusCode, name)
		require.NotEmpty(t, p.Errors, name)
		assert.Contains(t, p.Errors[0].Message, "can't be read or kept", name)
	}
	for _, path := range []string{"/api/v1/pools?find=%00", "/api/v1/find?q=%ff%fe", "/api/v1/pools/" + w.pool + "/log?find=a%00b"} {
		var p problemBody
		assert.Equal(t, http.StatusUnprocessableEntity, tech.do("GET", path, nil, &p), path)
		assert.Contains(t, p.Detail, "can't be read or kept", path)
	}
	require.Equal(
		t,
		http.StatusNoContent,
		tech.do("POST", notes, map[string]any{"id": uuid.New(), "text": `write \u0000 and \\u0000 out`}, nil),
	)
	var log record.LogPage
	tech.get("/api/v1/pools/"+w.pool+"/log?kind=note", &log)
	assert.Equal(t, `write \u0000 and \\u0000 out`, say(log.Entries[0].Detail))
}
