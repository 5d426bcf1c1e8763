package gate

import (
	"net/http"
	"regexp"
)

// The headers by which a device knows that what answered is this program, and that it answered this very send: a guest
// network's page, a proxy's error or a copy of an older answer says neither.
const (
	ServedBy = "Served-By"
	SentID   = "Sent-Id"
	us       = "fairlap"
)

// sentID is what an id of a send may look like; anything else is not given back.
var sentID = regexp.MustCompile(`^[A-Za-z0-9.-]{1,64}$`)

// Proved puts the proof on every answer, refusals and files too.
func Proved(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		w.Header().Set(ServedBy, us)
		if id := r.Header.Get(SentID); sentID.MatchString(id) {
			w.Header().Set(SentID, id)
		}
		next.ServeHTTP(w, r)
	})
}
