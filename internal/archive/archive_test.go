package archive_test

import (
	"bytes"
	"encoding/json"
	"errors"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/internal/archive"
)

// Whatever file is given as an archive, it is read to its end or refused as none; a sealed one
// that is cut anywhere is refused.
func FuzzArchive(f *testing.F) {
	f.Add([]byte(`{"format":"fair-lap-archive","schema":24,"sealed":true}` + "\n" + `{"end":0,"sha256":""}` + "\n"))
	f.Add([]byte(`{"format":"fair-lap-archive","schema":1}` + "\n" + `{"table":"company","row":{"id":1}}` + "\n"))
	f.Add([]byte("{}\n{}\n"))
	f.Add([]byte{0xff, 0, '\n'})
	f.Fuzz(func(t *testing.T, file []byte) {
		_, sealed, err := archive.Verify(bytes.NewReader(file))
		if err != nil {
			assert.True(t, errors.Is(err, archive.ErrSpoiled), "%v", err)
			return
		}
		if at := bytes.IndexByte(file, '\n'); sealed && at >= 0 {
			_, _, err = archive.Verify(bytes.NewReader(file[:at+1]))
			assert.Error(t, err, "cut after its head")
		}
	})
}

// What was written is read, row by row; cut after any byte it is refused.
func TestAnArchiveIsReadAsItWasWritten(t *testing.T) {
	var file bytes.Buffer
	w, err := archive.NewWriter(&file, 28)
	require.NoError(t, err)
	rows := []archive.Row{
		{Table: "pools", Row: json.RawMessage(`{"street":"Heron <Bend> & 1"}`)},
		{Table: "visits", Row: json.RawMessage(`{"end":3}`)},
		{Table: "notes", Row: json.RawMessage(`null`)},
	}
	for _, r := range rows {
		require.NoError(t, w.Put(r.Table, r.Row))
	}
	require.NoError(t, w.Close())
	r, err := archive.NewReader(bytes.NewReader(file.Bytes()))
	require.NoError(t, err)
	assert.Equal(t, int64(28), r.Schema)
	for _, want := range rows {
		got, err := r.Next()
		require.NoError(t, err)
		assert.Equal(t, want, got)
	}
	_, err = r.Next()
	require.ErrorIs(t, err, io.EOF)
	for n := range file.Len() - 1 {
		_, _, err := archive.Verify(bytes.NewReader(file.Bytes()[:n]))
		assert.ErrorIs(t, err, archive.ErrSpoiled, "cut at %d", n)
	}
}
