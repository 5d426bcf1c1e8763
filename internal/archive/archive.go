// Package archive writes and reads a company's open archive: a file of lines of JSON, of which the
// first says what it is, each other holds a row of a table, and the last seals them by their
// number and digest. docs/formats.md tells it for whoever else reads one.
package archive

import (
	"bufio"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
)

// format names the file's format in its first line.
const format = "fair-lap-archive"

// ErrSpoiled is that a file is no archive, or a spoiled one; the error says where.
var ErrSpoiled = errors.New("this is no archive that can be taken in")

// head is an archive's first line.
type head struct {
	Format string `json:"format"`
	Schema int64  `json:"schema"`
	// Sealed says that a last line tells how many rows there are and what their text amounts to.
	// Files of earlier programs have none.
	Sealed bool `json:"sealed,omitempty"`
}

// end is a sealed archive's last line.
type end struct {
	End    *int   `json:"end"`
	SHA256 string `json:"sha256"`
}

// Row is every other line: a row of a table.
type Row struct {
	Table string          `json:"table"`
	Row   json.RawMessage `json:"row"`
}

// Writer writes an archive; it is whole once it is closed.
type Writer struct {
	out    *bufio.Writer
	enc    *json.Encoder
	digest hash.Hash
	rows   int
}

// NewWriter begins an archive of a database's schema.
func NewWriter(w io.Writer, schema int64) (*Writer, error) {
	a := &Writer{out: bufio.NewWriter(w), digest: sha256.New()}
	a.enc = json.NewEncoder(io.MultiWriter(a.out, a.digest))
	a.enc.SetEscapeHTML(false)
	if err := a.enc.Encode(head{format, schema, true}); err != nil {
		return nil, fmt.Errorf("writing the archive: %w", err)
	}
	return a, nil
}

// Put writes a row.
func (a *Writer) Put(table string, row json.RawMessage) error {
	a.rows++
	if err := a.enc.Encode(Row{table, row}); err != nil {
		return fmt.Errorf("writing the archive: %w", err)
	}
	return nil
}

// Close seals what was written. What it is written to stays open.
func (a *Writer) Close() error {
	if err := a.enc.Encode(end{&a.rows, hex.EncodeToString(a.digest.Sum(nil))}); err != nil {
		return fmt.Errorf("writing the archive's end: %w", err)
	}
	return a.out.Flush()
}

// Reader reads an archive's rows, and holds a sealed one to its last line.
type Reader struct {
	// Schema is the database's that it was written from.
	Schema int64
	// Sealed tells whether its last line will say that it is whole.
	Sealed bool
	// Rows is how many were read.
	Rows   int
	in     *bufio.Reader
	digest hash.Hash
}

// NewReader reads an archive's first line. What is no archive is ErrSpoiled.
func NewReader(r io.Reader) (*Reader, error) {
	a := &Reader{in: bufio.NewReader(r), digest: sha256.New()}
	first, err := a.line()
	if err != nil {
		return nil, err
	}
	var h head
	if err := json.Unmarshal(first, &h); err != nil || h.Format != format {
		return nil, fmt.Errorf("%w: its first line does not say %s", ErrSpoiled, format)
	}
	if h.Schema < 1 {
		return nil, fmt.Errorf("%w: its first line does not say of which schema it is", ErrSpoiled)
	}
	a.digest.Write(first)
	a.Schema, a.Sealed = h.Schema, h.Sealed
	return a, nil
}

func (a *Reader) line() ([]byte, error) {
	text, err := a.in.ReadBytes('\n')
	if err != nil && !errors.Is(err, io.EOF) {
		return nil, fmt.Errorf("reading the archive: %w", err)
	}
	return text, nil
}

// Next is the next row, and io.EOF after the last. An archive that was cut or changed is
// ErrSpoiled.
func (a *Reader) Next() (Row, error) {
	var row Row
	text, err := a.line()
	switch {
	case err != nil:
		return row, err
	case len(bytes.TrimSpace(text)) == 0 && a.Sealed:
		return row, fmt.Errorf("%w: it ends in the middle, after %d rows", ErrSpoiled, a.Rows)
	case len(bytes.TrimSpace(text)) == 0:
		return row, io.EOF
	case a.Sealed && bytes.HasPrefix(text, []byte(`{"end":`)):
		return row, a.ended(text)
	}
	a.digest.Write(text)
	a.Rows++
	if err := json.Unmarshal(text, &row); err != nil || row.Table == "" {
		return row, a.Bad("it can't be read as JSON")
	}
	return row, nil
}

// Bad is ErrSpoiled with the line that was read last, and what is wrong with it.
func (a *Reader) Bad(why string) error {
	return fmt.Errorf("%w: line %d: %s", ErrSpoiled, a.Rows+1, why)
}

// ended holds what was read to what the last line says of it; io.EOF where it does.
func (a *Reader) ended(text []byte) error {
	var e end
	if err := json.Unmarshal(text, &e); err != nil || e.End == nil {
		return fmt.Errorf("%w: its last line can't be read", ErrSpoiled)
	}
	switch rest, err := a.line(); {
	case err != nil:
		return err
	case len(bytes.TrimSpace(rest)) > 0:
		return fmt.Errorf("%w: it goes on after its end", ErrSpoiled)
	case *e.End != a.Rows:
		return fmt.Errorf("%w: it has %d rows and had %d when it was written", ErrSpoiled, a.Rows, *e.End)
	case e.SHA256 != hex.EncodeToString(a.digest.Sum(nil)):
		return fmt.Errorf("%w: its text is not what was written", ErrSpoiled)
	}
	return io.EOF
}

// Verify reads an archive through, without a database, and tells how many rows it has and
// whether it is sealed. One that was cut or changed is ErrSpoiled.
func Verify(r io.Reader) (rows int, sealed bool, err error) {
	a, err := NewReader(r)
	if err != nil {
		return 0, false, err
	}
	for {
		switch _, err := a.Next(); {
		case errors.Is(err, io.EOF):
			return a.Rows, a.Sealed, nil
		case err != nil:
			return a.Rows, a.Sealed, err
		}
	}
}
