package store_test

import (
	"bytes"
	"errors"
	"testing"

	"github.com/stretchr/testify/assert"

	"fairlap/internal/store"
)

// Whatever file is given as an archive, it is read to its end or refused as none; a sealed one
// that is cut anywhere is refused.
func FuzzArchive(f *testing.F) {
	f.Add([]byte(`{"format":"fair-lap-archive","schema":24,"sealed":true}` + "\n" + `{"end":0,"sha256":""}` + "\n"))
	f.Add([]byte(`{"format":"fair-lap-archive","schema":1}` + "\n" + `{"table":"company","row":{"id":1}}` + "\n"))
	f.Add([]byte("{}\n{}\n"))
	f.Add([]byte{0xff, 0, '\n'})
	f.Fuzz(func(t *testing.T, file []byte) {
		_, sealed, err := store.VerifyArchive(bytes.NewReader(file))
		if err != nil {
			assert.True(t, errors.Is(err, store.ErrArchive), "%v", err)
			return
		}
		if at := bytes.IndexByte(file, '\n'); sealed && at >= 0 {
			_, _, err = store.VerifyArchive(bytes.NewReader(file[:at+1]))
			assert.Error(t, err, "cut after its head")
		}
	})
}
