package api

import (
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Each refusal has a type that a program can tell apart, and the contract declares what a
// route may answer.
func TestProblemsHaveTypes(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	note := map[string]any{"id": uuid.NewString(), "text": "one"}
	require.Less(t, desk.do("POST", "/api/v1/pools/"+w.pool+"/notes", note, nil), 300)
	require.Less(t, desk.do("POST", "/api/v1/pools/"+w.pool+"/notes", note, nil), 300, "the same again")
	other := map[string]any{"id": note["id"], "text": "another"}
	for _, x := range []struct {
		who          *client
		method, path string
		in           any
		status       int
		kind         string
	}{
		{desk, "POST", "/api/v1/pools/" + w.pool + "/notes", other, http.StatusConflict, "id-in-use"},
		{desk, "GET", "/api/v1/pools/" + uuid.NewString(), nil, http.StatusNotFound, "not-found"},
		{desk, "POST", "/api/v1/pools/" + w.pool + "/notes", map[string]any{"id": uuid.NewString(), "text": " "}, http.StatusUnprocessableEntity, "invalid"},
		{desk, "PUT", "/api/v1/pools/" + w.pool + "/about", about("14 Quince Court", 77), http.StatusConflict, "changed-meanwhile"},
		{w.as("technician"), "GET", "/api/v1/audit", nil, http.StatusForbidden, "forbidden"},
		{w.nobody(), "GET", "/api/v1/lap", nil, http.StatusUnauthorized, "sign-in"},
		{w.nobody(), "POST", "/api/v1/sign-in", map[string]string{"login": "x", "password": "y"}, http.StatusUnauthorized, "wrong-login"},
	} {
		var p struct{ Type, Title string }
		assert.Equal(t, x.status, x.who.do(x.method, x.path, x.in, &p), x.path)
		assert.Equal(t, "urn:fairlap:problem:"+x.kind, p.Type, x.path)
	}
	_, _, contract := desk.fetch("/api/v1/openapi.yaml")
	for _, said := range []string{"securitySchemes:", "tags:", `"409":`, `"503":`} {
		assert.True(t, strings.Contains(string(contract), said), said)
	}
}
