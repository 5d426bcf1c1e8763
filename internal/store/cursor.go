package store

import (
	"encoding/base64"
	"encoding/binary"
	"errors"
	"time"

	"github.com/google/uuid"
)

// Cursor is where a list that has its newest first is read on: after a row of a time and
// an id, which order rows of one moment too.
type Cursor struct {
	At time.Time
	ID uuid.UUID
}

// ErrCursor is that a text is no cursor.
var ErrCursor = errors.New("this is no place in a list")

// Newest is the cursor that a list begins at: what is later is still to come.
func Newest(now time.Time) Cursor { return Cursor{now.AddDate(0, 0, 1), uuid.Max} }

// String writes a cursor for whoever reads on; it means nothing to them.
func (c Cursor) String() string {
	b := binary.BigEndian.AppendUint64(nil, uint64(c.At.UnixMicro()))
	return base64.RawURLEncoding.EncodeToString(append(b, c.ID[:]...))
}

// ParseCursor reads what String wrote.
func ParseCursor(text string) (Cursor, error) {
	b, err := base64.RawURLEncoding.DecodeString(text)
	if err != nil || len(b) != 24 {
		return Cursor{}, ErrCursor
	}
	return Cursor{time.UnixMicro(int64(binary.BigEndian.Uint64(b))).UTC(), uuid.UUID(b[8:])}, nil
}
