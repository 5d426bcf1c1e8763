package gate

import (
	"bytes"
	"io"
	"net"
	"net/http"
	"net/http/httptest"
	"net/netip"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/clock"
)

// Only a proxy that is trusted is believed about where a request comes from, and of what it was
// told only the part that it saw itself.
func TestTheClientsAddressIsBelievedFromATrustedProxyAlone(t *testing.T) {
	var seen string
	h := Behind([]netip.Prefix{netip.MustParsePrefix("10.0.0.0/8"), netip.MustParsePrefix("::1/128")},
		http.HandlerFunc(func(_ http.ResponseWriter, r *http.Request) { seen, _, _ = net.SplitHostPort(r.RemoteAddr) }))
	for _, x := range []struct{ from, told, want string }{
		{"10.0.0.5:900", "203.0.113.9", "203.0.113.9"},
		{"10.0.0.5:900", "198.51.100.1, 203.0.113.9", "203.0.113.9"}, // the first is what the client made up
		{"10.0.0.5:900", "203.0.113.9, 10.1.1.1", "203.0.113.9"},     // two proxies of ours
		{"[::1]:900", "2001:db8::7", "2001:db8::7"},
		{"10.0.0.5:900", "", "10.0.0.5"},
		{"10.0.0.5:900", "nonsense", "10.0.0.5"},
		{"203.0.113.7:900", "198.51.100.1", "203.0.113.7"}, // nobody's proxy
	} {
		r := httptest.NewRequest(http.MethodGet, "/", nil)
		r.RemoteAddr = x.from
		if x.told != "" {
			r.Header.Set("X-Forwarded-For", x.told)
		}
		h.ServeHTTP(httptest.NewRecorder(), r)
		assert.Equal(t, x.want, seen, "%s told %q", x.from, x.told)
	}
}

// An answer that nobody reads is ended, and what it held is free again; one that is read slowly
// comes whole.
func TestAnAnswerThatNobodyReadsIsEnded(t *testing.T) {
	const size, most = 24 << 20, 300 * time.Millisecond
	ended := make(chan error, 2)
	s := httptest.NewServer(Patient(most, http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
		_, err := w.Write(bytes.Repeat([]byte("x"), size))
		ended <- err
	})))
	defer s.Close()
	stalled, err := net.Dial("tcp", s.Listener.Addr().String())
	require.NoError(t, err)
	defer stalled.Close()
	_, err = stalled.Write([]byte("GET / HTTP/1.1\r\nHost: here\r\n\r\n"))
	require.NoError(t, err)
	select {
	case err := <-ended:
		assert.Error(t, err)
	case <-time.After(20 * time.Second):
		t.Fatal("it was held for ever")
	}
	res, err := http.Get(s.URL)
	require.NoError(t, err)
	defer res.Body.Close()
	n, part := 0, make([]byte, 2<<20)
	for begun := clock.Now(); ; {
		k, err := io.ReadFull(res.Body, part)
		n += k
		if err != nil {
			break
		}
		if clock.Since(begun) < 3*most { // slower than one piece's time, in all
			time.Sleep(most / 4)
		}
	}
	assert.Equal(t, size, n)
	assert.NoError(t, <-ended)
}
