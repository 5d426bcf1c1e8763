package sheet

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"regexp"
	"strconv"
	"strings"
	"unicode/utf16"

	"fairlap/core/words"
)

// A workbook is read by its own text (ECMA-376 part 1, SpreadsheetML), an element at a time: what is in its cells,
// which of them are formulas, and what is merged. How a cell looks is nobody's business here.

// span is a range of merged cells.
type span struct {
	name     string // like B2:B4
	from, to int    // rows
}

// Bounds of a workbook (ours, but for the columns, which are the format's).
const (
	mostMerged  = 20_000
	lastColumn  = 16_384
	mostLetters = 64 << 20 // of all its words together
)

// bounded opens a workbook unless it would unpack to far more than it is: a sheet of words and
// figures packs to a tenth, and hardly ever to a fiftieth.
func bounded(content []byte) (*zip.Reader, error) {
	z, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return nil, Refusal{"sheet.this-spreadsheet-is-damaged-it"}
	}
	most := min(mostUnzip, max(leastUnzip, uint64(len(content))*mostRatio))
	for _, file := range z.File {
		if file.UncompressedSize64 > most {
			return nil, Refusal{"sheet.too-much-unpacked"}
		}
		most -= file.UncompressedSize64
	}
	return z, nil
}

func readXLSX(content []byte) ([]Table, error) {
	z, err := bounded(content)
	if err != nil {
		return nil, err
	}
	b, err := openBook(z)
	if err != nil {
		return nil, err
	}
	var out []Table
	for _, s := range b.sheets {
		t, err := b.read(s)
		if err != nil {
			return nil, err
		}
		if t.settle(); t.Head != nil {
			out = append(out, *t)
		}
	}
	if len(out) == 0 {
		return nil, Refusal{"sheet.this-spreadsheet-holds-no-row"}
	}
	return out, nil
}

// workbook is an open one: its sheets in order, and the words that cells share.
type workbook struct {
	z      *zip.Reader
	sheets []part
	shared []string
}

// part is a sheet by its name, and the file that it is in.
type part struct{ name, file string }

func openBook(z *zip.Reader) (*workbook, error) {
	var parts struct {
		Sheets []struct {
			Name string `xml:"name,attr"`
			Rel  string `xml:"http://schemas.openxmlformats.org/officeDocument/2006/relationships id,attr"`
		} `xml:"sheets>sheet"`
	}
	var rels struct {
		Rels []struct {
			ID     string `xml:"Id,attr"`
			Type   string `xml:"Type,attr"`
			Target string `xml:"Target,attr"`
		} `xml:"Relationship"`
	}
	for name, into := range map[string]any{"xl/workbook.xml": &parts, "xl/_rels/workbook.xml.rels": &rels} {
		r, err := z.Open(name)
		if err != nil {
			return nil, Refusal{"sheet.this-spreadsheet-is-damaged-it"}
		}
		err = xml.NewDecoder(r).Decode(into)
		_ = r.Close()
		if err != nil {
			return nil, Refusal{"sheet.this-spreadsheet-is-damaged-it"}
		}
	}
	b := &workbook{z: z}
	at := map[string]string{}
	for _, rel := range rels.Rels {
		to := rel.Target
		if !strings.HasPrefix(to, "/") {
			to = path.Join("xl", to)
		}
		at[rel.ID] = strings.TrimPrefix(to, "/")
		if strings.HasSuffix(rel.Type, "/sharedStrings") {
			if err := b.readShared(at[rel.ID]); err != nil {
				return nil, Refusal{"sheet.this-spreadsheet-is-damaged-it"}
			}
		}
	}
	for _, s := range parts.Sheets {
		b.sheets = append(b.sheets, part{s.Name, at[s.Rel]})
	}
	return b, nil
}

// elements walks through a file of the workbook. Words are given with the element that they stand in, and how a
// number or a sound beside it is written is passed over.
func (b *workbook) elements(
	file string,
	start func(xml.StartElement) error,
	words func(in, text string),
	end func(string) error,
) error {
	r, err := b.z.Open(file)
	if err != nil {
		return err
	}
	defer r.Close()
	in, silent := "", 0
	for d := xml.NewDecoder(r); ; {
		token, err := d.RawToken()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return err
		}
		switch e := token.(type) {
		case xml.StartElement:
			in = e.Name.Local
			if in == "rPh" {
				silent++
			}
			err = start(e)
		case xml.CharData:
			if silent == 0 {
				words(in, string(e))
			}
		case xml.EndElement:
			if e.Name.Local == "rPh" {
				silent--
			}
			in = ""
			err = end(e.Name.Local)
		}
		if err != nil {
			return err
		}
	}
}

// errTooMuch ends the reading of a workbook with more in it than anybody makes.
var errTooMuch = errors.New("more in it than anybody makes")

// readShared reads the words that cells share.
func (b *workbook) readShared(file string) error {
	var text strings.Builder
	letters := 0
	return b.elements(file,
		func(xml.StartElement) error { return nil },
		func(in, more string) {
			if in == "t" {
				text.WriteString(more)
			}
		},
		func(what string) error {
			if what != "si" {
				return nil
			}
			if letters += text.Len(); letters > mostLetters {
				return errTooMuch
			}
			b.shared = append(b.shared, unescaped(text.String()))
			text.Reset()
			return nil
		})
}

// reading is a sheet as it is read: the row and the cell that are at hand.
type reading struct {
	b                  *workbook
	t                  *Table
	line, column       int
	cells              []string
	kind, name, figure string
	text               strings.Builder
	formula            string // the row's first
	merged             []span
}

// read reads one sheet.
func (b *workbook) read(s part) (*Table, error) {
	r := &reading{b: b, t: &Table{Name: strings.ToLower(strings.TrimSpace(s.name)), Serial: true}}
	err := b.elements(s.file, r.start, r.words, r.end)
	var refused Refusal
	switch {
	case errors.As(err, &refused):
		return nil, refused
	case err != nil && r.line > 0:
		return nil, Refusal{words.Of("sheet.row-unreadable", "line", words.N(r.line), "sheet", words.Name(s.name))}
	case err != nil:
		return nil, Refusal{words.Of("sheet.unreadable", "sheet", words.Name(s.name))}
	}
	r.t.refuseMerged(r.merged)
	return r.t, nil
}

func (r *reading) start(e xml.StartElement) error {
	switch e.Name.Local {
	case "row":
		r.line++
		if n, err := strconv.Atoi(attr(e, "r")); err == nil && n > 0 {
			r.line = n
		}
		r.column, r.cells, r.formula = 0, nil, ""
	case "c":
		r.name, r.kind, r.figure = attr(e, "r"), attr(e, "t"), ""
		r.text.Reset()
		r.column++
		if column, _, ok := place(r.name); ok {
			r.column = column
		} else {
			r.name = nameOf(r.column, r.line)
		}
		if r.column > lastColumn {
			return errTooMuch
		}
	case "f":
		if r.formula == "" {
			r.formula = r.name
		}
	case "mergeCell":
		from, to, _ := strings.Cut(attr(e, "ref"), ":")
		_, first, ok1 := place(from)
		_, last, ok2 := place(to)
		if len(r.merged) == mostMerged {
			return errTooMuch
		}
		if ok1 && ok2 {
			r.merged = append(r.merged, span{from + ":" + to, first, last})
		}
	}
	return nil
}

func (r *reading) words(in, text string) {
	switch in {
	case "v":
		r.figure += text
	case "t":
		r.text.WriteString(text)
	}
}

func (r *reading) end(what string) error {
	switch what {
	case "c":
		value := r.figure
		switch r.kind {
		case "s":
			n, err := strconv.Atoi(strings.TrimSpace(r.figure))
			if err != nil || n < 0 || n >= len(r.b.shared) {
				return errors.New("a cell's words are missing")
			}
			value = r.b.shared[n]
		case "inlineStr":
			value = unescaped(r.text.String())
		case "str":
			value = unescaped(r.figure)
		}
		if value == "" {
			return nil
		}
		for len(r.cells) < r.column {
			r.cells = append(r.cells, "")
		}
		r.cells[r.column-1] = value
	case "row":
		before := len(r.t.Rows)
		if err := r.t.add(r.line, r.cells); err != nil {
			return err
		}
		if r.formula != "" && len(r.t.Rows) > before {
			r.t.Rows[before].Wrong = words.Of("sheet.formula", "cell", words.Name(r.formula))
		}
	}
	return nil
}

func attr(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}

var cellForm = regexp.MustCompile(`^\$?([A-Z]{1,3})\$?([1-9][0-9]{0,6})$`)

// place is a cell's column and row by its name, like B12, from 1.
func place(name string) (column, row int, ok bool) {
	m := cellForm.FindStringSubmatch(name)
	if m == nil {
		return 0, 0, false
	}
	for _, letter := range m[1] {
		column = 26*column + int(letter-'A') + 1
	}
	row, err := strconv.Atoi(m[2])
	return column, row, err == nil
}

func nameOf(column, row int) string {
	letters := ""
	for ; column > 0; column = (column - 1) / 26 {
		letters = string(rune('A'+(column-1)%26)) + letters
	}
	return letters + strconv.Itoa(row)
}

// escape is a letter that XML can't hold, as workbooks write it: its number in UTF-16.
var escape = regexp.MustCompile(`_x[0-9A-Fa-f]{4}_`)

func unescaped(text string) string {
	if !strings.Contains(text, "_x") {
		return text
	}
	return escape.ReplaceAllStringFunc(text, func(one string) string {
		n, err := strconv.ParseUint(one[2:6], 16, 16)
		if err != nil || utf16.IsSurrogate(rune(n)) {
			return one
		}
		return string(rune(n))
	})
}

// XLSX writes tables as the sheets of a workbook, each row as it comes.
func XLSX(w io.Writer) Writer { return &xlsxWriter{z: zip.NewWriter(w)} }

type xlsxWriter struct {
	z      *zip.Writer
	to     io.Writer // the sheet that is being written
	sheets []string
	line   int
	row    bytes.Buffer
}

const (
	declared  = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>` + "\n"
	mainNames = `xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"`
	relations = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
	packages  = "http://schemas.openxmlformats.org/package/2006/"
	kinds     = "application/vnd.openxmlformats-officedocument.spreadsheetml."
	// The head stays in sight.
	sheetHead = `<worksheet ` + mainNames + `><sheetViews><sheetView workbookViewId="0">` +
		`<pane ySplit="1" topLeftCell="A2" activePane="bottomLeft" state="frozen"/></sheetView></sheetViews><sheetData>`
	sheetFoot = `</sheetData></worksheet>`
)

// longestName is how many letters a sheet's name may have, by the format.
const longestName = 31

func (x *xlsxWriter) Begin(name string, head []string) error {
	if len([]rune(name)) > longestName || name == "" || strings.ContainsAny(name, `[]:*?/\`) {
		return fmt.Errorf("a sheet can't be called %q", name)
	}
	if err := x.endSheet(); err != nil {
		return err
	}
	x.sheets = append(x.sheets, name)
	w, err := x.z.Create(fmt.Sprintf("xl/worksheets/sheet%d.xml", len(x.sheets)))
	if err != nil {
		return fmt.Errorf("beginning the sheet %s: %w", name, err)
	}
	x.to, x.line = w, 0
	if _, err := io.WriteString(w, declared+sheetHead); err != nil {
		return fmt.Errorf("beginning the sheet %s: %w", name, err)
	}
	cells := make([]any, len(head))
	for i, h := range head {
		cells[i] = h
	}
	return x.Row(cells)
}

func (x *xlsxWriter) Row(cells []any) error {
	x.line++
	x.row.Reset()
	fmt.Fprintf(&x.row, `<row r="%d">`, x.line)
	for i, v := range cells {
		at := nameOf(i+1, x.line)
		switch v := v.(type) {
		case nil:
		case string:
			fmt.Fprintf(&x.row, `<c r="%s" t="inlineStr"><is><t xml:space="preserve">`, at)
			if err := xml.EscapeText(&x.row, []byte(escaped(v))); err != nil {
				return fmt.Errorf("row %d: %w", x.line, err)
			}
			x.row.WriteString(`</t></is></c>`)
		case bool:
			fmt.Fprintf(&x.row, `<c r="%s" t="b"><v>%d</v></c>`, at, map[bool]int{true: 1}[v])
		case int, int32, int64, uint, uint32, uint64, float32, float64:
			fmt.Fprintf(&x.row, `<c r="%s"><v>%v</v></c>`, at, v)
		default:
			return fmt.Errorf("row %d: a cell can't hold a %T", x.line, v)
		}
	}
	x.row.WriteString("</row>")
	if _, err := x.to.Write(x.row.Bytes()); err != nil {
		return fmt.Errorf("row %d: %w", x.line, err)
	}
	return nil
}

// escaped keeps words that look like an escape, and letters that XML can't hold.
func escaped(text string) string {
	text = escape.ReplaceAllStringFunc(text, func(one string) string { return "_x005F" + one })
	var out strings.Builder
	for _, r := range text {
		if r < ' ' && r != '\t' && r != '\n' {
			fmt.Fprintf(&out, "_x%04X_", r)
			continue
		}
		out.WriteRune(r)
	}
	return out.String()
}

func (x *xlsxWriter) endSheet() error {
	if x.to == nil {
		return nil
	}
	_, err := io.WriteString(x.to, sheetFoot)
	return err
}

func (x *xlsxWriter) Close() error {
	if err := x.endSheet(); err != nil {
		return fmt.Errorf("ending the sheet: %w", err)
	}
	var sheets, rels, types strings.Builder
	for i, name := range x.sheets {
		var as strings.Builder
		_ = xml.EscapeText(&as, []byte(name)) // a builder takes all
		fmt.Fprintf(&sheets, `<sheet name="%s" sheetId="%d" r:id="rId%d"/>`, as.String(), i+1, i+1)
		fmt.Fprintf(
			&rels,
			`<Relationship Id="rId%d" Type="%s/worksheet" Target="worksheets/sheet%d.xml"/>`,
			i+1,
			relations,
			i+1,
		)
		fmt.Fprintf(
			&types,
			`<Override PartName="/xl/worksheets/sheet%d.xml" ContentType="%sworksheet+xml"/>`,
			i+1,
			kinds,
		)
	}
	for _, file := range [][2]string{
		{"xl/workbook.xml", `<workbook ` + mainNames + ` xmlns:r="` + relations + `"><sheets>` + sheets.String() + `</sheets></workbook>`},
		{"xl/_rels/workbook.xml.rels", `<Relationships xmlns="` + packages + `relationships">` + rels.String() + `</Relationships>`},
		{"_rels/.rels", `<Relationships xmlns="` + packages + `relationships"><Relationship Id="rId1" Type="` + relations +
			`/officeDocument" Target="xl/workbook.xml"/></Relationships>`},
		{"[Content_Types].xml", `<Types xmlns="` + packages + `content-types">` +
			`<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>` +
			`<Default Extension="xml" ContentType="application/xml"/>` +
			`<Override PartName="/xl/workbook.xml" ContentType="` + kinds + `sheet.main+xml"/>` + types.String() + `</Types>`},
	} {
		w, err := x.z.Create(file[0])
		if err == nil {
			_, err = io.WriteString(w, declared+file[1])
		}
		if err != nil {
			return fmt.Errorf("writing the workbook: %w", err)
		}
	}
	if err := x.z.Close(); err != nil {
		return fmt.Errorf("writing the workbook: %w", err)
	}
	return nil
}
