package api

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/base64"
	"io/fs"
	"net/http"
	"path"
	"regexp"
	"strings"

	"github.com/gin-gonic/gin"

	"fairlap/internal/front"
)

type contextKey string

const nonceKey contextKey = "nonce"

// noncePlaceholder stands in the built page where each answer's nonce goes.
const noncePlaceholder = "__NONCE__"

// catalogueLink is one language's words, named ahead by the build.
var catalogueLink = regexp.MustCompile(`<link [^>]*data-lang="(\w+)"[^>]*>\s*`)

// oneLanguage leaves of the catalogues that a page names the reader's.
func oneLanguage(page []byte, lang string) []byte {
	return catalogueLink.ReplaceAllFunc(page, func(link []byte) []byte {
		if string(catalogueLink.FindSubmatch(link)[1]) == lang {
			return link
		}
		return nil
	})
}

func isAPI(p string) bool { return strings.HasPrefix(p, "/api/") }

// securityHeaders sets a strict content policy. Styles made at run time carry
// the page's nonce; nothing may come from another origin but pictures of a map, from the
// one that whoever serves has named.
func securityHeaders(secure bool, pictures string, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		b := make([]byte, 16)
		_, _ = rand.Read(b)
		nonce := base64.RawStdEncoding.EncodeToString(b)
		h := w.Header()
		h.Set(
			"Content-Security-Policy",
			"default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'nonce-"+nonce+"'; style-src-attr 'unsafe-inline'; "+
				"img-src 'self' data: blob:"+pictures+"; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
		)
		h.Set("X-Content-Type-Options", "nosniff")
		if secure {
			h.Set("Strict-Transport-Security", "max-age=31536000; includeSubDomains")
		}
		h.Set("Referrer-Policy", "same-origin")
		h.Set("Cross-Origin-Opener-Policy", "same-origin")
		h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
		if isAPI(r.URL.Path) {
			h.Set("Cache-Control", "no-store")
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), nonceKey, nonce)))
	})
}

// originOf is the origin of an address, with a space in front; empty for none.
func originOf(address string) string {
	scheme, rest, ok := strings.Cut(address, "://")
	if !ok {
		return ""
	}
	host, _, _ := strings.Cut(rest, "/")
	return " " + scheme + "://" + host
}

// serveAssets serves the built front end; any unknown path is the page, whose
// router takes it from there.
func (a *API) serveAssets(engine *gin.Engine, assets fs.FS) {
	engine.HandleMethodNotAllowed = true
	engine.NoMethod(func(c *gin.Context) {
		writeProblem(c.Request.Context(), c.Writer, http.StatusMethodNotAllowed, "api.there-is-nothing-at-this")
	})
	engine.NoRoute(func(c *gin.Context) {
		p := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
		if isAPI(c.Request.URL.Path) || assets == nil ||
			(c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead) {
			writeProblem(c.Request.Context(), c.Writer, http.StatusNotFound, "api.there-is-nothing-at-this")
			return
		}
		if p != "" && p != "index.html" {
			if front.Has(assets, p) {
				if strings.HasPrefix(p, "assets/") {
					c.Header("Cache-Control", "public, max-age=31536000, immutable")
				} else {
					c.Header("Cache-Control", "no-cache") // the worker, the manifest, the icons
				}
				front.Serve(c.Writer, c.Request, assets, p)
				return
			}
			if strings.HasPrefix(p, "assets/") {
				writeProblem(c.Request.Context(), c.Writer, http.StatusNotFound, "api.there-is-nothing-at-this")
				return
			}
		}
		page, err := fs.ReadFile(assets, "index.html")
		if err != nil {
			writeProblem(c.Request.Context(), c.Writer, http.StatusNotFound, "api.the-front-end-was-not")
			return
		}
		nonce, _ := c.Request.Context().Value(nonceKey).(string)
		c.Header("Cache-Control", "no-cache")
		page = bytes.ReplaceAll(page, []byte(noncePlaceholder), []byte(nonce))
		page = bytes.Replace(page, []byte(aheadPlaceholder), []byte(a.ahead(c.Request)), 1)
		if first := a.first(c.Request); first != "" {
			c.Header("Cache-Control", "no-store") // it is of somebody's pool
			page = bytes.Replace(page, []byte(firstPlaceholder), []byte(first), 1)
		}
		page = oneLanguage(page, string(readerOf(c.Request.Context()).Lang))
		c.Data(http.StatusOK, "text/html; charset=utf-8", page)
	})
}

// loggedPath is a path as the log may hold it: a secret address is a key.
func loggedPath(path string) string {
	for _, secret := range []string{"/api/calendar/", "/api/v1/shared/", "/api/v1/invitations/"} {
		if strings.HasPrefix(path, secret) {
			return secret + "…"
		}
	}
	return path
}
