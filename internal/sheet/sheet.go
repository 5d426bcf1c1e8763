// Package sheet reads and writes tables as spreadsheets keep them: CSV in the
// encodings and with the separators that are about, and XLSX. It knows nothing of what
// the tables hold, and computes nothing: a formula is refused, not worked out.
package sheet

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"sort"
	"strings"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"

	plain "fairlap/core/cells"
	"fairlap/core/words"
)

// Table is one table of a file.
type Table struct {
	Name string // of the sheet, or of the file
	Head []string
	Rows []Row
	// titles are the heads as the file writes them, pending a first row of one cell: a title, or a head.
	titles  []string
	pending *Row
	// Serial says that a day may stand as a spreadsheet's number of days.
	Serial bool
}

// Row is one row below the head; Line is where a reader finds it, from 1.
type Row struct {
	Line  int
	Cells []string
	Wrong words.Message // why the row can't be read; empty: it can
}

// Bounds of what is read (ours).
const (
	MostRows    = 250_000
	mostColumns = 80
	mostCells   = 4_000_000
	mostUnzip   = 512 << 20
	leastUnzip  = 16 << 20 // a small file may unpack to this
	mostRatio   = 60       // times its own size that a workbook may unpack to
	atOnce      = 2        // files that are read at the same time
)

// turn holds who reads a file: what one takes is bounded, and so is what all take.
var turn = make(chan struct{}, atOnce)

// Refusal is why a file was not read, in one plain sentence.
type Refusal struct{ Text words.Message }

func (r Refusal) Error() string { return words.Plain.Say(r.Text) }

// Read finds the tables of a file. The error is a Refusal for what is no spreadsheet.
func Read(name string, content []byte) ([]Table, error) {
	turn <- struct{}{}
	defer func() { <-turn }()
	switch {
	case len(content) == 0:
		return nil, Refusal{"sheet.this-file-is-empty"}
	case bytes.HasPrefix(content, []byte("PK\x03\x04")):
		return readXLSX(content)
	case bytes.HasPrefix(content, []byte("\xd0\xcf\x11\xe0")):
		return nil, Refusal{"sheet.this-is-an-old-or"}
	}
	return readCSV(name, content)
}

// decode turns the encodings that spreadsheets write into UTF-8.
func decode(content []byte) (string, error) {
	var from encoding.Encoding
	switch {
	case bytes.HasPrefix(content, []byte("\xef\xbb\xbf")):
		content = content[3:]
	case bytes.HasPrefix(content, []byte("\xff\xfe")):
		from = unicode.UTF16(unicode.LittleEndian, unicode.UseBOM)
	case bytes.HasPrefix(content, []byte("\xfe\xff")):
		from = unicode.UTF16(unicode.BigEndian, unicode.UseBOM)
	case !utf8.Valid(content):
		from = charmap.Windows1252 // what spreadsheets write where they don't write UTF-8
	}
	if from != nil {
		b, err := from.NewDecoder().Bytes(content)
		if err != nil {
			return "", Refusal{"sheet.this-file-s-letters-can"}
		}
		content = b
	}
	if bytes.IndexByte(content, 0) >= 0 {
		return "", Refusal{"sheet.this-file-is-no-table"}
	}
	return string(content), nil
}

// separators are those that spreadsheets write.
var separators = []rune{',', ';', '\t', '|'}

// separator is the one that the first lines have as often as each other, outside of quotes: a title may stand over the
// head, and an address may be full of commas.
func separator(text string) rune {
	lines := separated(text)
	best, alike, most := ',', 0, 0
	for k, r := range separators {
		if len(lines) == 0 {
			break
		}
		n, same := lines[len(lines)-1][k], 0
		for _, l := range lines {
			if n > 0 && l[k] == n {
				same++
			}
		}
		if same > alike || same == alike && n > most {
			best, alike, most = r, same, n
		}
	}
	return best
}

// separated counts the separators of the first lines that hold something.
func separated(text string) [][]int {
	var out [][]int
	quoted, filled, line := false, false, make([]int, len(separators))
	end := func() {
		if filled {
			out = append(out, line)
		}
		filled, line = false, make([]int, len(separators))
	}
	for _, c := range text {
		switch k := slices.Index(separators, c); {
		case c == '"':
			quoted, filled = !quoted, true
		case c == '\n' && !quoted:
			if end(); len(out) == separatedIn {
				return out
			}
		case k >= 0 && !quoted:
			line[k]++
		case c != '\r' && c != ' ' && c != '\n':
			filled = true
		}
	}
	end()
	return out
}

// separatedIn is how many lines are looked at for the separator.
const separatedIn = 3

func readCSV(name string, content []byte) ([]Table, error) {
	text, err := decode(content)
	if err != nil {
		return nil, err
	}
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes = separator(text), -1, true
	t := Table{Name: strings.TrimSuffix(strings.ToLower(name), ".csv")}
	for {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		var bad *csv.ParseError
		if errors.As(err, &bad) {
			return nil, Refusal{
				words.Of("sheet.line-unreadable", "line", words.N(bad.Line), "why", words.Name(bad.Err.Error())),
			}
		}
		if err != nil {
			return nil, fmt.Errorf("reading the file: %w", err)
		}
		line, _ := r.FieldPos(0)
		for i := range cells {
			cells[i] = plain.Typed(cells[i])
		}
		if err := t.add(line, cells); err != nil {
			return nil, err
		}
	}
	if t.settle(); t.Head == nil {
		return nil, Refusal{"sheet.this-file-holds-no-row"}
	}
	return []Table{t}, nil
}

// add takes a row in: the first that is not empty is the head.
func (t *Table) add(line int, cells []string) error {
	for i := range cells {
		cells[i] = strings.TrimSpace(cells[i])
		if rest, ok := strings.CutPrefix(cells[i], "'"); ok && strings.ContainsAny(rest[:min(1, len(rest))], "=+-@") {
			cells[i] = rest // the mark by which words are kept from being a formula
		}
	}
	if strings.Join(cells, "") == "" {
		return nil
	}
	switch {
	case len(cells) > mostColumns && strings.Join(cells[mostColumns:], "") != "":
		return Refusal{words.Of("sheet.too-wide", "line", words.N(line), "most", words.N(mostColumns))}
	case t.Head == nil && t.pending == nil && filled(cells) == 1:
		t.pending = &Row{Line: line, Cells: slices.Clone(cells)}
		return nil
	case t.Head == nil && t.pending != nil && filled(cells) == 1:
		first := t.pending
		t.head(first.Cells)
		return t.add(line, cells)
	case t.Head == nil: // a line of one cell before it was a title
		t.head(cells)
		return nil
	case len(t.Rows) == min(MostRows, mostCells/len(t.Head)):
		return Refusal{words.Of("sheet.too-long", "most", words.N(len(t.Rows)))}
	}
	row := Row{Line: line, Cells: make([]string, len(t.Head))}
	if n := copy(row.Cells, cells); n < len(cells) && strings.Join(cells[n:], "") != "" {
		row.Wrong = "sheet.it-has-more-cells-than"
	}
	t.Rows = append(t.Rows, row)
	return nil
}

// head takes a row as the table's head.
func (t *Table) head(cells []string) {
	t.pending = nil
	for _, c := range cells {
		t.titles = append(t.titles, c)
		t.Head = append(t.Head, strings.ReplaceAll(strings.ToLower(c), " ", "_"))
	}
}

// settle takes a lone row of one cell as the head that it is.
func (t *Table) settle() {
	if t.Head == nil && t.pending != nil {
		t.head(t.pending.Cells)
	}
}

// Title is a column's head as the file writes it; one without is called by its place.
func (t *Table) Title(i int) string {
	if i < len(t.titles) && t.titles[i] != "" {
		return t.titles[i]
	}
	return fmt.Sprintf("Col%d", i+1)
}

// filled is how many cells hold something.
func filled(cells []string) int {
	n := 0
	for _, c := range cells {
		if c != "" {
			n++
		}
	}
	return n
}

// refuseMerged marks the rows that merged cells touch: which row such a value belongs
// to, nobody can tell.
func (t *Table) refuseMerged(merged []span) {
	for _, m := range merged {
		// The rows stand in their order.
		i := sort.Search(len(t.Rows), func(i int) bool { return t.Rows[i].Line >= m.from })
		for ; i < len(t.Rows) && t.Rows[i].Line <= m.to; i++ {
			if t.Rows[i].Wrong == "" {
				from, to, _ := strings.Cut(m.name, ":")
				t.Rows[i].Wrong = words.Of("sheet.merged", "from", words.Name(from), "to", words.Name(to))
			}
		}
	}
}

// Writer writes tables one after the other, row by row.
type Writer interface {
	// Begin starts a table.
	Begin(name string, head []string) error
	// Row adds a row: strings, numbers, or nil for an empty cell.
	Row(cells []any) error
	// Close ends the file.
	Close() error
}

// CSV writes one table as comma-separated values. Words that a spreadsheet would take
// for a formula begin with an apostrophe.
func CSV(w io.Writer) Writer { return &csvWriter{w: csv.NewWriter(w)} }

type csvWriter struct{ w *csv.Writer }

func (c *csvWriter) Begin(_ string, head []string) error { return c.w.Write(head) }

func (c *csvWriter) Row(cells []any) error {
	out := make([]string, len(cells))
	for i, v := range cells {
		switch v := v.(type) {
		case nil:
		case string:
			out[i] = plain.Plain(v)
		default:
			out[i] = fmt.Sprint(v)
		}
	}
	return c.w.Write(out)
}

func (c *csvWriter) Close() error {
	c.w.Flush()
	return c.w.Error()
}
