// Package http3 is left out: Fair Lap serves HTTP/1 and 2, and a proxy in front speaks what it likes.
package http3

import (
	"errors"
	"net/http"
)

// ListenAndServeQUIC always fails.
func ListenAndServeQUIC(_, _, _ string, _ http.Handler) error {
	return errors.New("HTTP/3 is left out of this program")
}
