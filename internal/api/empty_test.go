package api

import (
	"context"
	"encoding/json"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/office"
	"fairlap/internal/demo/demotest"
	"fairlap/internal/store"
)

const ownersSecret = "a long enough secret"

// empty is a company with nothing but its owner, being served.
func empty(t *testing.T) *world {
	st := demotest.Empty(t)
	require.NoError(t, st.Insert(
		context.Background(),
		&store.Company{ID: 1, Name: "Cedar Hollow", TimeZone: "America/Phoenix", Settings: json.RawMessage(`{}`),
			Version: 1},
		&store.User{ID: uuid.Must(uuid.NewV7()), Login: "rosa", Name: "Rosa Osei", Role: string(access.Owner),
			PasswordHash: office.HashPassword(ownersSecret), Active: true, Version: 1, CreatedAt: demotest.Now()},
	))
	rooms := app.New(st, demotest.Now, company.World{})
	h, _ := New(rooms, Options{Version: "test", Assets: built, Log: slog.New(slog.NewTextHandler(io.Discard, nil)),
		Sessions: st.Pool})
	w := &world{t: t, town: demotest.Fixture{Store: st, Service: rooms}, server: httptest.NewServer(h)}
	t.Cleanup(w.server.Close)
	return w
}

func (w *world) owner() *client {
	c := w.nobody()
	require.Equal(w.t, http.StatusOK,
		c.do("POST", "/api/v1/sign-in", map[string]string{"login": "rosa", "password": ownersSecret}, nil))
	return c
}

// Every list, page and export of a company that has nothing yet, with one person in it, answers; and no
// list in an answer is null: a page draws it as it comes.
func TestACompanyWithNothingHasAllItsPages(t *testing.T) {
	w := empty(t)
	rosa := w.owner()
	_, doc := New(w.town.Service, Options{Version: "test"})
	asked := 0
	for path, item := range doc.OpenAPI().Paths {
		if item.Get == nil || strings.Contains(path, "{") {
			continue
		}
		query := ""
		for _, p := range item.Get.Parameters {
			if p.Required && p.In == "query" {
				query = "?" + p.Name + "=2026-11-24"
			}
		}
		asked++
		status, _, body := rosa.fetch(path + query)
		assert.Less(t, status, 500, "%s: %s", path, body)
		if json.Valid(body) {
			assert.NotContains(t, string(body), "[null", path)
		}
	}
	assert.Greater(t, asked, 20)
	var week struct {
		Rows *[]any `json:"rows"`
		Days *[]any `json:"days"`
	}
	rosa.get("/api/v1/week", &week)
	require.NotNil(t, week.Rows)
	require.NotNil(t, week.Days)
}

// An empty server is set up once, by who has read its log: with the code, and with nothing wrong in it.
func TestACompanyIsSetUpInTheBrowser(t *testing.T) {
	st := demotest.Empty(t)
	rooms := app.New(st, demotest.Now, company.World{})
	h, _ := New(rooms, Options{Version: "test", Assets: built, Log: slog.New(slog.NewTextHandler(io.Discard, nil)),
		Sessions: st.Pool})
	w := &world{t: t, town: demotest.Fixture{Store: st, Service: rooms}, server: httptest.NewServer(h)}
	t.Cleanup(w.server.Close)
	c := w.nobody()
	var me meOut
	c.get("/api/v1/me", &me)
	require.True(t, me.New)
	code, err := rooms.Office.SetupCode(context.Background())
	require.NoError(t, err)
	require.Len(t, code, 8)
	in := office.SetUp{Code: "WRONG", Company: "Cedar Hollow", Country: "us", TimeZone: "America/Denver", Name: "Rosa Osei",
		Login: "Rosa@Cedar.example", Password: "short"}
	var p problemBody
	require.Equal(t, 422, c.do("POST", "/api/v1/setup", in, &p))
	var at []string
	for _, e := range p.Errors {
		at = append(at, e.Location)
	}
	assert.ElementsMatch(t, []string{"code", "password"}, at)
	in.Code, in.Password = strings.ToLower(code), ownersSecret
	require.Equal(t, 200, c.do("POST", "/api/v1/setup", in, nil))
	me = meOut{}
	c.get("/api/v1/me", &me)
	require.NotNil(t, me.Me, "the owner is signed in")
	assert.Equal(t, "us", me.Me.Units)
	assert.False(t, me.New)
	assert.Equal(t, 403, w.nobody().do("POST", "/api/v1/setup", in, nil), "once")
	again, err := rooms.Office.SetupCode(context.Background())
	require.NoError(t, err)
	assert.Empty(t, again)

	var steps []office.FirstStep
	c.get("/api/v1/first-steps", &steps)
	require.Len(t, steps, 5)
	for _, id := range []string{"people", "customers", "days", "prices"} {
		require.Equal(t, 200, c.do("PUT", "/api/v1/first-steps/"+id, map[string]bool{"skipped": true}, &steps))
	}
	assert.Equal(t, "skipped", steps[0].State)
	assert.Equal(t, "todo", steps[4].State)
	require.Equal(t, 200, c.do("PUT", "/api/v1/first-steps/visit", map[string]bool{"skipped": true}, &steps))
	assert.Empty(t, steps, "nothing is left")
	assert.Equal(t, 404, c.do("PUT", "/api/v1/first-steps/dance", map[string]bool{"skipped": true}, nil))
}
