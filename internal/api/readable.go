package api

import (
	"bytes"
	"errors"
	"net/http"
	"strings"
	"unicode/utf8"

	"github.com/gin-gonic/gin"
)

// unreadable is said of letters that no record can keep: NUL, and bytes that are no UTF-8.
const unreadable = "api.refused.unreadable"

// readableQuery refuses an address that asks with such letters, before anything is looked up.
func readableQuery(c *gin.Context) {
	for _, values := range c.Request.URL.Query() {
		for _, v := range values {
			if !utf8.ValidString(v) || strings.ContainsRune(v, 0) {
				writeProblem(c.Request.Context(), c.Writer, http.StatusUnprocessableEntity, unreadable)
				c.Abort()
				return
			}
		}
	}
}

// readableBody refuses a body of JSON with such letters, written out or escaped.
func readableBody(data []byte) error {
	if !utf8.Valid(data) || bytes.IndexByte(data, 0) >= 0 {
		return errors.New(unreadable)
	}
	for rest := data; ; {
		i := bytes.Index(rest, []byte(`u0000`))
		if i < 0 {
			return nil
		}
		slashes := len(rest[:i]) - len(bytes.TrimRight(rest[:i], `\`))
		if slashes%2 == 1 { // an even number is backslashes, and letters after them
			return errors.New(unreadable)
		}
		rest = rest[i+1:]
	}
}
