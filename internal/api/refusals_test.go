package api

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What the contract refuses is said in the reader's language too, at its field.
func TestTheContractRefusesInTheReadersWords(t *testing.T) {
	w := serve(t)
	c := w.as("office")
	var p problemBody
	ask := func(body map[string]any) {
		p = problemBody{}
		assert.Equal(t, 422, c.do("PUT", "/api/v1/customers", body, &p))
	}
	long := map[string]any{
		"id":      w.pool,
		"name":    strings.Repeat("x", 200),
		"phone":   "",
		"email":   "",
		"note":    "",
		"version": 0,
		"erased":  false,
	}
	ask(long)
	assert.Equal(t, "At most 120 letters.", p.at("body.name"))
	assert.Equal(t, 200, c.do("PUT", "/api/v1/me/reads", map[string]any{"lang": "es", "units": ""}, nil))
	ask(long)
	assert.Equal(t, "Cuando mucho 120 letras.", p.at("body.name"))
	long["name"], long["version"], long["lang"] = "A", "one", "xx"
	ask(long)
	assert.Equal(t, "Se espera un número entero.", p.at("body.version"))
	assert.Contains(t, p.at("body.lang"), "Uno de estos")
	delete(long, "phone")
	ask(long)
	assert.NotContains(t, p.Detail, "validation")
}
