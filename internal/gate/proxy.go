// Package gate stands before the API: who asks from where, how long an answer may take, how many
// work at once.
package gate

import (
	"net"
	"net/http"
	"net/netip"
	"slices"
	"strings"
	"time"

	"fairlap/internal/clock"
)

// Behind gives each request its real client's address where a proxy that is trusted stands
// before the server: the last one that such a proxy was asked from. What anybody else says of
// where a request comes from is not believed.
func Behind(proxies []netip.Prefix, next http.Handler) http.Handler {
	if len(proxies) == 0 {
		return next
	}
	trusted := func(address string) bool {
		at, err := netip.ParseAddr(strings.TrimSpace(address))
		return err == nil && slices.ContainsFunc(proxies, func(p netip.Prefix) bool { return p.Contains(at.Unmap()) })
	}
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if host, _, err := net.SplitHostPort(r.RemoteAddr); err == nil && trusted(host) {
			told := strings.Split(strings.Join(r.Header.Values("X-Forwarded-For"), ","), ",")
			for _, address := range slices.Backward(told) {
				if at, err := netip.ParseAddr(strings.TrimSpace(address)); err == nil && !trusted(address) {
					r.RemoteAddr = net.JoinHostPort(at.Unmap().String(), "0")
					break
				}
			}
		}
		next.ServeHTTP(w, r)
	})
}

// Of an answer: a piece that is written at once, and how long somebody may take to read it. A slow
// phone reads 64 kB in a second or two; who reads nothing for half a minute holds the server up.
const (
	piece = 64 << 10
	Stall = 30 * time.Second
)

// Patient ends the answers that nobody reads, and no others: each piece has its own time.
func Patient(most time.Duration, next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		next.ServeHTTP(&pieces{w, http.NewResponseController(w), most}, r)
	})
}

type pieces struct {
	http.ResponseWriter
	control *http.ResponseController
	most    time.Duration
}

func (p *pieces) Unwrap() http.ResponseWriter { return p.ResponseWriter }

func (p *pieces) Write(b []byte) (n int, err error) {
	for len(b) > 0 || n == 0 {
		_ = p.control.SetWriteDeadline(clock.Deadline(p.most)) // a writer that has none is a test's
		k, err := p.ResponseWriter.Write(b[:min(piece, len(b))])
		n += k
		if err != nil || len(b) == 0 {
			return n, err
		}
		b = b[k:]
	}
	return n, nil
}
