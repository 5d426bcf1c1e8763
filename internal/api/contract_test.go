package api

import (
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"fairlap/internal/app/access"
	"fairlap/internal/app/record"
	"fairlap/internal/clock"
	"fmt"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The page of the contract shows every route and shape that the file has, and takes nothing
// from elsewhere.
func TestTheContractHasAPage(t *testing.T) {
	w := serve(t)
	status, _, page := w.nobody().fetch("/api/v1/contract")
	require.Equal(t, http.StatusOK, status)
	text := string(page)
	_, doc := New(w.town.Service, Options{Version: "test"})
	for path, item := range doc.OpenAPI().Paths {
		assert.Contains(t, text, path)
		if item.Put != nil {
			assert.Contains(t, text, `id="`+item.Put.OperationID+`"`)
		}
	}
	for name := range doc.OpenAPI().Components.Schemas.Map() {
		assert.Contains(t, text, `id="shape-`+name+`"`)
	}
	assert.NotContains(t, text, "http:", "nothing from outside")
	assert.NotContains(t, text, "<script")
}

// An answer is marked by its content: asked for again, it is told to be the same until
// something changes.
func TestAnUnchangedAnswerIsNotSentAgain(t *testing.T) {
	w := serve(t)
	desk := w.as("office")
	ask := func(known string) *http.Response {
		req, err := http.NewRequestWithContext(
			context.Background(),
			http.MethodGet,
			w.server.URL+"/api/v1/pools/"+w.pool+"/about",
			nil,
		)
		require.NoError(t, err)
		req.Header.Set("If-None-Match", known)
		res, err := desk.http.Do(req)
		require.NoError(t, err)
		return res
	}
	read := func(res *http.Response) string {
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return string(b)
	}
	first := ask("")
	tag := first.Header.Get("ETag")
	require.NotEmpty(t, tag)
	require.NotEmpty(t, read(first))
	again := ask(`"other", ` + tag)
	assert.Equal(t, http.StatusNotModified, again.StatusCode)
	assert.Empty(t, read(again))
	var v struct{ Version int }
	desk.get("/api/v1/pools/"+w.pool+"/about", &v)
	require.Less(
		t,
		desk.do(
			"PUT",
			"/api/v1/pools/"+w.pool+"/access-note",
			map[string]any{"accessNote": "By the side gate.", "version": v.Version},
			nil,
		),
		300,
	)
	changed := ask(tag)
	assert.Equal(t, http.StatusOK, changed.StatusCode)
	assert.NotEqual(t, tag, changed.Header.Get("ETag"))
	assert.Contains(t, read(changed), "side gate")
}

// send writes a request by hand: a head that promises a body, and none of it.
func send(t *testing.T, w *world, head string, cookies []*http.Cookie) (status int) {
	t.Helper()
	host := strings.TrimPrefix(w.server.URL, "http://")
	conn, err := net.Dial("tcp", host)
	require.NoError(t, err)
	defer conn.Close()
	for _, c := range cookies {
		head += "Cookie: " + c.Name + "=" + c.Value + "\r\n"
	}
	_, err = fmt.Fprintf(conn, "%sHost: %s\r\nConnection: close\r\n\r\n", head, host)
	require.NoError(t, err)
	require.NoError(t, conn.SetReadDeadline(clock.Deadline(10*time.Second)))
	line := make([]byte, 12)
	_, err = io.ReadFull(conn, line)
	require.NoError(t, err, "an answer before the body")
	_, err = fmt.Sscanf(string(line), "HTTP/1.1 %d", &status)
	require.NoError(t, err)
	return status
}

// Whoever has no session is told so before any of a large body is read, and a body that says
// it is too large is refused by its head alone.
func TestBodiesAreLookedAtAfterSignInAndSize(t *testing.T) {
	w := serve(t)
	head := func(path string, bytes int) string {
		return fmt.Sprintf(
			"POST %s HTTP/1.1\r\nContent-Type: application/octet-stream\r\nContent-Length: %d\r\n",
			path,
			bytes,
		)
	}
	status := send(t, w, head("/api/v1/imports?name=pools.csv", 63<<20), nil)
	assert.Equal(t, http.StatusUnauthorized, status, "nobody")
	tech, desk := w.as("technician"), w.as("office")
	at, err := http.NewRequest(http.MethodGet, w.server.URL, nil)
	require.NoError(t, err)
	status = send(t, w, head("/api/v1/imports?name=pools.csv", 63<<20), tech.http.Jar.Cookies(at.URL))
	assert.Equal(t, http.StatusForbidden, status, "a technician imports nothing")
	status = send(t, w, head("/api/v1/imports?name=pools.csv", largestImport+1), desk.http.Jar.Cookies(at.URL))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)
	status = send(t, w, head("/api/v1/visits", largestBody+1), tech.http.Jar.Cookies(at.URL))
	assert.Equal(t, http.StatusRequestEntityTooLarge, status)
	for id := range larger {
		assert.Contains(t, operationIDs(w), id, "the table names a route")
	}
}

func operationIDs(w *world) []string {
	_, doc := New(w.town.Service, Options{Version: "test"})
	var out []string
	for _, item := range doc.OpenAPI().Paths {
		if item.Post != nil {
			out = append(out, item.Post.OperationID)
		}
	}
	return out
}

// A refusal names its request, as the answer's head does; a method that an address does not
// take is told apart from an address that is not there.
func TestARefusalNamesItsRequest(t *testing.T) {
	w := serve(t)
	for _, x := range []struct {
		method, path string
		status       int
		kind         string
	}{
		{"GET", "/api/v1/pools/0199c0de-0000-7000-8000-00000000dead", http.StatusNotFound, "not-found"},
		{"PATCH", "/api/v1/visits", http.StatusMethodNotAllowed, "method"},
		{"GET", "/api/v1/nothing", http.StatusNotFound, "not-found"},
		{"GET", "/api/pools", http.StatusNotFound, "not-found"},
	} {
		req, err := http.NewRequest(x.method, w.server.URL+x.path, nil)
		require.NoError(t, err)
		res, err := w.as("office").http.Do(req)
		require.NoError(t, err)
		text, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.NoError(t, res.Body.Close())
		assert.Equal(t, x.status, res.StatusCode, x.path)
		assert.Contains(t, string(text), `"urn:fairlap:problem:`+x.kind+`"`)
		id := res.Header.Get("X-Request-Id")
		require.NotEmpty(t, id)
		assert.Contains(t, string(text), `"instance":"urn:uuid:`+id+`"`, x.path)
	}
}

// The front end's files go out packed where the browser takes that, under their own kind;
// answers too, and a reader that takes neither gets them as they are.
func TestWhatGoesOutIsPacked(t *testing.T) {
	w := serve(t)
	script := strings.Repeat("plain ", 1000)
	var small bytes.Buffer
	br := brotli.NewWriter(&small)
	_, err := io.WriteString(br, script)
	require.NoError(t, err)
	require.NoError(t, br.Close())
	files := fstest.MapFS{"index.html": {Data: []byte("<title>x</title>")}, "assets/a.js.br": {Data: small.Bytes()},
		"assets/b.js": {Data: []byte("short")}, "assets/f.woff2": {Data: []byte("font")}}
	h, _ := New(w.town.Service, Options{Version: "test", Assets: files, Sessions: w.town.Store.Pool})
	for _, x := range []struct{ path, takes, gives, body string }{
		{"/assets/a.js", "gzip, br", "br", small.String()},
		{"/assets/a.js", "gzip, br;q=0", "gzip", script},
		{"/assets/a.js", "", "", script},
		{"/assets/a.js", "deflate", "", script},
		{"/assets/b.js", "gzip, br", "", "short"},
		{"/assets/f.woff2", "gzip, br", "", "font"},
	} {
		req := httptest.NewRequest(http.MethodGet, x.path, nil)
		req.Header.Set("Accept-Encoding", x.takes)
		rec := httptest.NewRecorder()
		h.ServeHTTP(rec, req)
		assert.Equal(t, x.gives, rec.Header().Get("Content-Encoding"), x.path+" as "+x.takes)
		body := rec.Body.String()
		if x.gives == "gzip" {
			r, err := gzip.NewReader(rec.Body)
			require.NoError(t, err)
			whole, err := io.ReadAll(r)
			require.NoError(t, err)
			body = string(whole)
		}
		assert.True(t, x.body == body, "%s as %q", x.path, x.takes)
		assert.Contains(t, rec.Header().Values("Vary"), "Accept-Encoding")
		if strings.HasSuffix(x.path, ".js") {
			assert.Contains(t, rec.Header().Get("Content-Type"), "javascript")
		}
		req.Method = http.MethodHead
		rec = httptest.NewRecorder()
		h.ServeHTTP(rec, req)
		assert.Equal(t, http.StatusOK, rec.Code, x.path)
		assert.Empty(t, rec.Body.String(), x.path)
	}
	desk := w.as("office")
	req, err := http.NewRequest(http.MethodGet, w.server.URL+"/api/v1/pools", nil)
	require.NoError(t, err)
	req.Header.Set("Accept-Encoding", "gzip")
	res, err := desk.http.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, "gzip", res.Header.Get("Content-Encoding"))
	packed, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	page, err := gzip.NewReader(bytes.NewReader(packed))
	require.NoError(t, err)
	whole, err := io.ReadAll(page)
	require.NoError(t, err)
	assert.Less(t, 3*len(packed), len(whole), "a list is mostly the same words")
	var list access.Page[record.PoolLine]
	require.NoError(t, json.Unmarshal(whole, &list))
	assert.NotEmpty(t, list.Items)
}
