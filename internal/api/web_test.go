package api

import (
	"fairlap/internal/demo/demotest"
	"fairlap/internal/gate"
	"html"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// built is a front end as a build leaves it, as far as the server looks into it.
var built = fstest.MapFS{
	"index.html": {Data: []byte(`<html><meta name="csp-nonce" content="__NONCE__"><!--ahead-->` +
		`<link rel="modulepreload" href="/en.js" data-lang="en"><link rel="modulepreload" href="/es.js" data-lang="es"><!--first--></html>`)},
	"assets/app-1.js":  {Data: []byte("1")},
	"mark.svg":         {Data: []byte("<svg/>")},
	"assets/style.css": {Data: []byte("a{}")},
}

func page(t *testing.T) *httptest.Server { return serve(t).server }

func get(t *testing.T, url string) (*http.Response, string) {
	res, err := http.Get(url)
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	return res, string(b)
}

func TestThePageCarriesItsOwnNonce(t *testing.T) {
	s := page(t)
	seen := map[string]bool{}
	for _, path := range []string{"/", "/index.html", "/stops/any", "/pools"} {
		res, body := get(t, s.URL+path)
		assert.Equal(t, 200, res.StatusCode, path)
		m := regexp.MustCompile(`content="([^"]+)"`).FindStringSubmatch(body)
		require.Len(t, m, 2, path)
		assert.Contains(t, res.Header.Get("Content-Security-Policy"), "'nonce-"+m[1]+"'", path)
		assert.False(t, seen[m[1]], "a nonce is used once")
		seen[m[1]] = true
		assert.Equal(t, "no-cache", res.Header.Get("Cache-Control"))
	}
}

// A page names what its first view will ask for, a stop's only where somebody is signed in,
// and the words of the reader's language alone.
func TestThePageNamesWhatItWillAskFor(t *testing.T) {
	s := page(t)
	const stop = "/stops/01a22758-0926-7a13-9407-53e63754de9a"
	asked := func(path, cookie, lang string) string {
		req, err := http.NewRequest(http.MethodGet, s.URL+path, nil)
		require.NoError(t, err)
		req.Header.Set("Cookie", cookie)
		req.Header.Set("Accept-Language", lang)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return string(b)
	}
	assert.Contains(t, asked("/", "", "en"), `href="/api/v1/me"`)
	assert.Contains(t, asked(stop, "fairlap=any", "en"), `href="/api/v1`+stop+`"`)
	assert.NotContains(t, asked(stop, "", "en"), "/api/v1"+stop, "nobody is signed in")
	assert.NotContains(t, asked(`/stops/x"><script>`, "fairlap=any", "en"), "<script>")
	for lang, other := range map[string]string{"en-GB,en;q=0.9": "es", "es-MX": "en"} {
		body := asked("/", "", lang)
		assert.Contains(t, body, `data-lang="`+lang[:2]+`"`)
		assert.NotContains(t, body, `data-lang="`+other+`"`)
	}
}

// Before its scripts run a page says what its reader came for: the same words that the view
// will show, to nobody else, and kept by no cache.
func TestThePageSaysFirstWhatItsReaderCameFor(t *testing.T) {
	w := serve(t)
	says := func(c *client, path string) (string, string) {
		res, err := c.http.Get(w.server.URL + path)
		require.NoError(t, err)
		defer res.Body.Close()
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		first := regexp.MustCompile(`<p>(.*)</p><b>(.*)</b>`).FindStringSubmatch(string(body))
		if first == nil {
			assert.Equal(t, "no-cache", res.Header.Get("Cache-Control"))
			return "", ""
		}
		assert.Equal(t, "no-store", res.Header.Get("Cache-Control"))
		return html.UnescapeString(first[1]), html.UnescapeString(first[2])
	}
	tech := w.as("technician")
	var bench struct {
		Pool    struct{ Street string }
		Verdict struct{ Says string }
	}
	tech.get("/api/v1/stops/"+w.stop, &bench)
	head, text := says(tech, "/stops/"+w.stop)
	assert.Equal(t, bench.Pool.Street, head)
	assert.Equal(t, bench.Verdict.Says, text)
	_, day := says(tech, "/")
	assert.Contains(t, day, bench.Pool.Street)
	for _, c := range []*client{w.nobody(), w.other()} {
		_, text = says(c, "/stops/"+w.stop)
		assert.Empty(t, text)
	}
	_, text = says(tech, "/pools")
	assert.Empty(t, text)
}

func TestAssetsAndUnknownPaths(t *testing.T) {
	s := page(t)
	res, body := get(t, s.URL+"/assets/app-1.js")
	assert.Equal(t, "1", body)
	assert.Contains(t, res.Header.Get("Cache-Control"), "immutable")
	assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
	for _, path := range []string{"/assets/none.js", "/api/v1/none"} {
		res, body = get(t, s.URL+path)
		assert.Equal(t, 404, res.StatusCode, path)
		assert.Equal(t, "application/problem+json", strings.Split(res.Header.Get("Content-Type"), ";")[0], path)
		assert.Contains(t, body, "nothing", path)
	}
	res, _ = get(t, s.URL+"/api/../../etc/passwd")
	assert.NotContains(t, res.Header.Get("Content-Type"), "octet")
	post, err := http.Post(s.URL+"/pools", "text/plain", nil)
	require.NoError(t, err)
	post.Body.Close()
	assert.Equal(t, 404, post.StatusCode)
}

func TestProbesAndMetrics(t *testing.T) {
	m := gate.NewMetrics()
	h, _ := New(demotest.Town(t).Service, Options{Metrics: m, Log: slog.New(slog.NewTextHandler(io.Discard, nil))})
	says := func(h http.Handler, path string) (int, string) {
		rec := httptest.NewRecorder()
		h.ServeHTTP(rec, httptest.NewRequest("GET", path, nil))
		return rec.Code, rec.Body.String()
	}
	for path, want := range map[string]string{"/healthz": "ok", "/readyz": "ready"} {
		code, body := says(h, path)
		assert.Equal(t, 200, code, path)
		assert.Contains(t, body, want)
	}
	// What is counted is on the listener of whoever keeps the machine, and nowhere else.
	_, body := says(m.Handler(), "/metrics")
	assert.Contains(t, body, `fairlap_request_seconds_count{method="GET",route="/readyz",status="OK"} 1`)
	code, _ := says(h, "/metrics")
	assert.Equal(t, 404, code)
}

// Over HTTPS a browser is told to stay with it, and the sign-in belongs to this host alone.
func TestASecureServerSaysSo(t *testing.T) {
	town := demotest.Town(t)
	h, _ := New(
		town.Service,
		Options{Secure: true, Sessions: town.Store.Pool, Log: slog.New(slog.NewTextHandler(io.Discard, nil))},
	)
	req := httptest.NewRequest("POST", "/api/v1/demo/sign-in", strings.NewReader(`{"role":"technician"}`))
	req.Header.Set("Content-Type", "application/json")
	rec := httptest.NewRecorder()
	h.ServeHTTP(rec, req)
	require.Equal(t, http.StatusOK, rec.Code)
	assert.Regexp(t, `^__Host-fairlap=[^;]+; Path=/;.*HttpOnly; Secure; SameSite=Lax`, rec.Header().Get("Set-Cookie"))
	assert.Contains(t, rec.Header().Get("Strict-Transport-Security"), "max-age=31536000")
	token, _, _ := strings.Cut(strings.TrimPrefix(rec.Header().Get("Set-Cookie"), "__Host-fairlap="), ";")
	var held, digests int
	require.NoError(t, town.Store.Pool.QueryRow(
		t.Context(),
		"select count(*) filter (where token = $1), count(*) filter (where token = $2) from sessions",
		token,
		digestOf(token),
	).Scan(&held, &digests))
	assert.Equal(t, [2]int{0, 1}, [2]int{held, digests}, "the table holds what nobody can sign in with")
}

// Pictures of a map come from the origin that whoever serves has named, and from no other.
func TestTilesAreAllowedByTheirOriginAlone(t *testing.T) {
	for address, want := range map[string]string{
		"https://tiles.example/{z}/{x}/{y}.png": " https://tiles.example",
		"https://tiles.example":                 " https://tiles.example",
		"":                                      "",
		"tiles.example/{z}":                     "",
	} {
		assert.Equal(t, want, originOf(address), address)
	}
}
