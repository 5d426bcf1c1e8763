// Package zone writes a time zone as a file of zone information (RFC 8536), so that a device
// without the time zone database tells times as the server does.
package zone

import (
	"bytes"
	"encoding/binary"
	"slices"
	"time"
)

// kind is one local time of a zone: its offset and what it is called.
type kind struct {
	offset int
	summer bool
	name   string
}

// File is a location from one time to another in version 2 of the format; before that it
// is unknown, and after it as at the end. time.LoadLocationFromTZData reads it.
func File(loc *time.Location, from, to time.Time) []byte {
	var kinds []kind
	at := func(t time.Time) byte {
		name, offset := t.In(loc).Zone()
		k := kind{offset, t.In(loc).IsDST(), name}
		i := slices.Index(kinds, k)
		if i < 0 {
			i, kinds = len(kinds), append(kinds, k)
		}
		return byte(i)
	}
	changes, is := []time.Time{from}, []byte{at(from)}
	for t := from; ; {
		_, next := t.In(loc).ZoneBounds()
		if next.IsZero() || next.After(to) {
			break
		}
		changes, is, t = append(changes, next), append(is, at(next)), next
	}
	var names []byte
	var rows bytes.Buffer
	for _, k := range kinds {
		row := struct {
			Offset int32
			Summer bool
			Name   byte
		}{int32(k.offset), k.summer, byte(len(names))}
		_ = binary.Write(&rows, binary.BigEndian, row) // into memory
		names = append(append(names, k.name...), 0)
	}
	var out bytes.Buffer
	head := func(changes, kinds, letters int) {
		out.WriteString("TZif2")
		out.Write(make([]byte, 15))
		for _, n := range []int{0, 0, 0, changes, kinds, letters} {
			_ = binary.Write(&out, binary.BigEndian, uint32(n))
		}
	}
	head(0, 0, 0) // the first block, of 32-bit times, is for readers of version 1
	head(len(changes), len(kinds), len(names))
	for _, t := range changes {
		_ = binary.Write(&out, binary.BigEndian, t.Unix())
	}
	out.Write(is)
	out.Write(rows.Bytes())
	out.Write(names)
	out.WriteString("\n\n") // no rule for times after the last change
	return out.Bytes()
}
