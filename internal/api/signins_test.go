package api

import (
	"context"
	"net/http"
	"net/url"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/app/office"
	"fairlap/internal/demo/demotest"
)

// Everybody sees where they are signed in and ends any of it, and nobody another's; the table
// holds nothing that would sign one in.
func TestSignInsAreSeenAndEndedOneByOne(t *testing.T) {
	w := serve(t)
	one, two, other := w.as("owner"), w.as("owner"), w.as("office")
	var ins []office.SignInRow
	one.get("/api/v1/me/sign-ins", &ins)
	require.Len(t, ins, 2)
	here := 0
	var away uuid.UUID
	for _, in := range ins {
		if in.Here {
			here++
		} else {
			away = in.ID
		}
	}
	assert.Equal(t, 1, here)
	assert.Equal(
		t,
		http.StatusNotFound,
		other.do("DELETE", "/api/v1/me/sign-ins/"+away.String(), nil, nil),
		"another's",
	)
	assert.Equal(t, http.StatusOK, two.do("GET", "/api/v1/office", nil, nil))
	assert.Less(t, one.do("DELETE", "/api/v1/me/sign-ins/"+away.String(), nil, nil), 300)
	assert.Equal(t, http.StatusUnauthorized, two.do("GET", "/api/v1/office", nil, nil), "it ended at once")
	assert.Equal(t, http.StatusOK, one.do("GET", "/api/v1/office", nil, nil))
	one.get("/api/v1/me/sign-ins", &ins)
	assert.Len(t, ins, 1)
	var tokens, rows string
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(context.Background(), "select string_agg(token, ' ') from sessions").Scan(&tokens),
	)
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(context.Background(), "select string_agg(s::text, ' ') from sign_ins s").Scan(&rows),
	)
	for _, c := range one.http.Jar.Cookies(mustURL(t, w.server.URL)) {
		assert.NotContains(t, tokens, c.Value)
		assert.NotContains(t, rows, c.Value)
	}
	assert.Less(t, one.do("POST", "/api/v1/sign-out", nil, nil), 300)
	var ended int
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(context.Background(), "select count(*) from sign_ins where ended_at is not null").
			Scan(&ended),
	)
	assert.Equal(t, 2, ended)
}

// Somebody new chooses their own password by a link that is good once; whoever it is not for
// makes none, and a password that is easy to guess is refused in a sentence.
func TestAnInvitationIsGoodOnce(t *testing.T) {
	w := serve(t)
	desk, owner := w.as("office"), w.as("owner")
	who := map[string]any{
		"id":      uuid.NewString(),
		"login":   "newt",
		"name":    "N. Newt",
		"role":    "technician",
		"active":  true,
		"version": 0,
		"mine":    false,
	}
	require.Equal(t, http.StatusOK, desk.do("PUT", "/api/v1/people", who, nil), "without a password")
	path := "/api/v1/people/" + who["id"].(string) + "/invitation"
	var first, link office.Invitation
	require.Equal(t, http.StatusOK, desk.do("POST", path, nil, &first))
	require.Equal(t, http.StatusOK, desk.do("POST", path, nil, &link))
	assert.Equal(t, http.StatusForbidden, w.as("technician").do("POST", path, nil, nil))
	var people []office.PersonRow
	owner.get("/api/v1/people", &people)
	for _, p := range people {
		if p.Role == "owner" {
			assert.Equal(
				t,
				http.StatusForbidden,
				desk.do("POST", "/api/v1/people/"+p.ID.String()+"/invitation", nil, nil),
				"the desk invites no owner",
			)
		}
	}
	nobody := w.nobody()
	assert.Equal(
		t,
		http.StatusUnauthorized,
		nobody.do("POST", "/api/v1/sign-in", map[string]string{"login": "newt", "password": "anything at all"}, nil),
		"no password, no way in",
	)
	assert.Equal(
		t,
		http.StatusNotFound,
		nobody.do("GET", "/api/v1/invitations/"+first.Secret, nil, nil),
		"a later one ends it",
	)
	var in office.Invited
	nobody.get("/api/v1/invitations/"+link.Secret, &in)
	assert.Equal(t, "N. Newt", in.Name)
	accept := func(password string) (int, problemBody) {
		var p problemBody
		return nobody.do("POST", "/api/v1/invitations/"+link.Secret, map[string]string{"password": password}, &p), p
	}
	for _, weak := range []string{"short", "password1234", "qwertyuiop12", "newtnewtnewt", "pellamridge1", "aaaaaaaaaaaa", "111111111111"} {
		status, p := accept(weak)
		assert.Equal(t, http.StatusUnprocessableEntity, status, weak)
		assert.NotEmpty(t, p.at("password"), weak)
	}
	status, _ := accept("seven herons wade slowly")
	require.Equal(t, http.StatusOK, status)
	assert.Equal(t, http.StatusOK, nobody.do("GET", "/api/v1/pools", nil, nil), "and they are signed in")
	status, _ = accept("another good long phrase")
	assert.Equal(t, http.StatusNotFound, status, "good once")
	assert.Equal(
		t,
		http.StatusOK,
		w.nobody().
			do("POST", "/api/v1/sign-in", map[string]string{"login": "newt", "password": "seven herons wade slowly"}, nil),
	)
}

// A second step asks for a code of the authenticator, each good once; whoever keeps the server
// makes a link for an owner who lost it.
func TestASecondStepAsksForACodeThatIsGoodOnce(t *testing.T) {
	w := serve(t)
	ctx, password := context.Background(), "seven herons wade slowly"
	var login string
	require.NoError(
		t,
		w.town.Store.Pool.QueryRow(ctx, "update users set password_hash = $1 where role = 'owner' returning login", office.HashPassword(password)).
			Scan(&login),
	)
	owner := w.as("owner")
	var step office.SecondStep
	require.Equal(t, http.StatusOK, owner.do("POST", "/api/v1/me/second-step", nil, &step))
	assert.Contains(t, step.Address, "otpauth://totp/")
	at := demotest.Now()
	code := func(at time.Time) string {
		c, err := totp.GenerateCode(step.Key, at)
		require.NoError(t, err)
		return c
	}
	set := func(c, pass string) int {
		return owner.do(
			"PUT",
			"/api/v1/me/second-step",
			map[string]string{"password": pass, "key": step.Key, "code": c},
			nil,
		)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, set("000000", password))
	assert.Equal(t, http.StatusUnprocessableEntity, set(code(at), "not the password"))
	signIn := func(c string) (int, problemBody) {
		var p problemBody
		return w.nobody().
				do("POST", "/api/v1/sign-in", map[string]string{"login": login, "password": password, "code": c}, &p),
			p
	}
	status, _ := signIn("")
	require.Equal(t, http.StatusOK, status, "nothing holds yet")
	require.Less(t, set(code(at.Add(-30*time.Second)), password), 300)
	status, p := signIn("")
	assert.Equal(t, http.StatusUnauthorized, status)
	assert.Contains(t, p.Detail, "authenticator")
	status, p = signIn("123456")
	assert.Equal(t, http.StatusUnprocessableEntity, status)
	assert.NotEmpty(t, p.at("code"))
	status, _ = signIn(code(at))
	assert.Equal(t, http.StatusOK, status)
	status, p = signIn(code(at))
	assert.Equal(t, http.StatusUnprocessableEntity, status, "each code is good once")
	assert.Contains(t, p.at("code"), "used")
	_, err := w.town.Service.Office.Recover(ctx, "nobody")
	assert.Error(t, err)
	link, err := w.town.Service.Office.Recover(ctx, login)
	require.NoError(t, err)
	c := w.nobody()
	require.Equal(
		t,
		http.StatusOK,
		c.do(
			"POST",
			"/api/v1/invitations/"+link.Secret,
			map[string]string{"password": "eleven otters sleep late"},
			nil,
		),
	)
	assert.Equal(t, http.StatusOK, c.do("GET", "/api/v1/office", nil, nil))
	assert.Equal(t, http.StatusUnauthorized, owner.do("GET", "/api/v1/office", nil, nil), "their other sign-ins ended")
	assert.Equal(
		t,
		http.StatusOK,
		w.nobody().
			do("POST", "/api/v1/sign-in", map[string]string{"login": strings.ToUpper(login), "password": "eleven otters sleep late"}, nil),
		"the lost authenticator is asked no more",
	)
}

func mustURL(t *testing.T, text string) *url.URL {
	u, err := url.Parse(text)
	require.NoError(t, err)
	return u
}
