package front

import (
	"bytes"
	"io"
	"net/http"
	"net/http/httptest"
	"testing"
	"testing/fstest"

	"github.com/andybalholm/brotli"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// files are a front end with one file that the build packed and one that it left.
func files(t *testing.T, text string) fstest.MapFS {
	var b bytes.Buffer
	w := brotli.NewWriter(&b)
	_, err := w.Write([]byte(text))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	return fstest.MapFS{
		"index.js.br": {Data: b.Bytes()},
		"icon.svg":    {Data: []byte("<svg/>")},
		"folder/x":    {Data: []byte("x")},
	}
}

func get(t *testing.T, assets fstest.MapFS, method, p, accept string) *http.Response {
	r := httptest.NewRequest(method, "/"+p, nil)
	if accept != "" {
		r.Header.Set("Accept-Encoding", accept)
	}
	w := httptest.NewRecorder()
	Serve(w, r, assets, p)
	return w.Result()
}

// Whoever takes brotli gets the file as it is kept, and everybody else the same text unpacked.
func TestAFileIsPackedForWhoTakesIt(t *testing.T) {
	const text = "export const pump = 1;"
	assets := files(t, text)
	for accept, packed := range map[string]bool{
		"br": true, "gzip, deflate, br": true, "gzip, br;q=0.8": true,
		"": false, "gzip": false, "br;q=0": false, "br; q=0.0": false, "brx": false, "identity": false,
	} {
		res := get(t, assets, http.MethodGet, "index.js", accept)
		body, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		assert.Equal(t, http.StatusOK, res.StatusCode, accept)
		assert.Equal(t, "Accept-Encoding", res.Header.Get("Vary"))
		assert.Contains(t, res.Header.Get("Content-Type"), "javascript")
		if packed {
			assert.Equal(t, "br", res.Header.Get("Content-Encoding"), accept)
			body, err = io.ReadAll(brotli.NewReader(bytes.NewReader(body)))
			require.NoError(t, err)
		} else {
			assert.Empty(t, res.Header.Get("Content-Encoding"), accept)
		}
		assert.Equal(t, text, string(body), accept)
	}
	head := get(t, assets, http.MethodHead, "index.js", "")
	body, err := io.ReadAll(head.Body)
	require.NoError(t, err)
	assert.Empty(t, body)
}

// What was not packed is served as it is; what is not there is not.
func TestAFileThatIsNotPacked(t *testing.T) {
	assets := files(t, "x")
	res := get(t, assets, http.MethodGet, "icon.svg", "br")
	body, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, "<svg/>", string(body))
	assert.Empty(t, res.Header.Get("Content-Encoding"))
	assert.Equal(t, http.StatusNotFound, get(t, assets, http.MethodGet, "none.js", "br").StatusCode)
	assert.True(t, Has(assets, "index.js"))
	assert.True(t, Has(assets, "icon.svg"))
	assert.False(t, Has(assets, "none.js"))
	assert.False(t, Has(assets, "folder"), "a folder is no file")
}
