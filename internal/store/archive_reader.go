package store

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

// archiveReader reads an archive's rows, and holds a sealed one to its last line.
type archiveReader struct {
	in     *bufio.Reader
	digest hash.Hash
	sealed bool
	rows   int
}

// openArchive reads an archive's first line. What is no archive is ErrArchive.
func openArchive(r io.Reader) (*archiveReader, archiveHead, error) {
	a := &archiveReader{in: bufio.NewReader(r), digest: sha256.New()}
	var head archiveHead
	first, err := a.line()
	if err != nil {
		return nil, head, err
	}
	if err := json.Unmarshal(first, &head); err != nil || head.Format != archiveFormat {
		return nil, head, fmt.Errorf("%w: its first line does not say %s", ErrArchive, archiveFormat)
	}
	if head.Schema < 1 {
		return nil, head, fmt.Errorf("%w: its first line does not say of which schema it is", ErrArchive)
	}
	a.digest.Write(first)
	a.sealed = head.Sealed
	return a, head, nil
}

func (a *archiveReader) line() ([]byte, error) {
	text, err := a.in.ReadBytes('\n')
	if err != nil && !errors.Is(err, io.EOF) {
		return nil, fmt.Errorf("reading the archive: %w", err)
	}
	return text, nil
}

// next is the next row's text; nil at the end. A sealed archive that was cut or changed is
// ErrArchive.
func (a *archiveReader) next() ([]byte, error) {
	text, err := a.line()
	if err != nil {
		return nil, err
	}
	if len(bytes.TrimSpace(text)) == 0 {
		if a.sealed {
			return nil, fmt.Errorf("%w: it ends in the middle, after %d rows", ErrArchive, a.rows)
		}
		return nil, nil
	}
	if a.sealed && bytes.HasPrefix(text, []byte(`{"end":`)) {
		return nil, a.ended(text)
	}
	a.digest.Write(text)
	a.rows++
	return text, nil
}

// ended holds what was read to what the last line says of it.
func (a *archiveReader) ended(text []byte) error {
	var end archiveEnd
	if err := json.Unmarshal(text, &end); err != nil || end.End == nil {
		return fmt.Errorf("%w: its last line can't be read", ErrArchive)
	}
	switch rest, err := a.line(); {
	case err != nil:
		return err
	case len(bytes.TrimSpace(rest)) > 0:
		return fmt.Errorf("%w: it goes on after its end", ErrArchive)
	case *end.End != a.rows:
		return fmt.Errorf("%w: it has %d rows and had %d when it was written", ErrArchive, a.rows, *end.End)
	case end.SHA256 != hex.EncodeToString(a.digest.Sum(nil)):
		return fmt.Errorf("%w: its text is not what was written", ErrArchive)
	}
	return nil
}

// VerifyArchive reads an archive through, without a database, and tells how many rows it has and
// whether it is sealed. One that was cut or changed is ErrArchive.
func VerifyArchive(r io.Reader) (rows int, sealed bool, err error) {
	a, _, err := openArchive(r)
	if err != nil {
		return 0, false, err
	}
	for {
		text, err := a.next()
		if err != nil {
			return a.rows, a.sealed, err
		}
		if text == nil {
			return a.rows, a.sealed, nil
		}
		var row archiveRow
		if err := json.Unmarshal(text, &row); err != nil || row.Table == "" {
			return a.rows, a.sealed, fmt.Errorf("%w: line %d: it can't be read as JSON", ErrArchive, a.rows+1)
		}
	}
}
