// Package front serves the built front end's files. The build packs each by brotli and keeps it only so, since the
// program holds them: a browser that takes that gets the file as it is, and for the rare other it is unpacked on the
// way. Whether a path is a page, and what it may carry, is not known here.
package front

import (
	"io"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"

	"github.com/andybalholm/brotli"
)

// packedEnd is the ending of a file that the build has packed.
const packedEnd = ".br"

// Has tells whether the front end has a file, packed or not.
func Has(assets fs.FS, p string) bool {
	for _, name := range []string{p, p + packedEnd} {
		if st, err := fs.Stat(assets, name); err == nil && !st.IsDir() {
			return true
		}
	}
	return false
}

// Serve answers with a file.
func Serve(w http.ResponseWriter, r *http.Request, assets fs.FS, p string) {
	w.Header().Set("Vary", "Accept-Encoding")
	small, err := assets.Open(p + packedEnd)
	if err != nil {
		http.ServeFileFS(w, r, assets, p)
		return
	}
	defer small.Close()
	kind := mime.TypeByExtension(path.Ext(p))
	if kind == "" {
		kind = "application/octet-stream"
	}
	w.Header().Set("Content-Type", kind)
	if takes(r.Header.Get("Accept-Encoding"), "br") {
		w.Header().Set("Content-Encoding", "br")
		http.ServeFileFS(w, r, assets, p+packedEnd)
		return
	}
	w.WriteHeader(http.StatusOK)
	if r.Method != http.MethodHead {
		_, _ = io.Copy(w, brotli.NewReader(small)) // who asked has gone, or reads no further
	}
}

// takes tells whether an Accept-Encoding names a way and does not refuse it.
func takes(accept, way string) bool {
	for one := range strings.SplitSeq(accept, ",") {
		name, rest, _ := strings.Cut(strings.TrimSpace(one), ";")
		if name == way {
			q := strings.ReplaceAll(rest, " ", "")
			return q != "q=0" && q != "q=0.0"
		}
	}
	return false
}
