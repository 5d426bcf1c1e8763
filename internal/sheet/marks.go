package sheet

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"path"
	"strings"

	"github.com/xuri/excelize/v2"
)

// marks are what of a sheet can't be read as rows: where its formulas stand, and what is merged.
type marks struct {
	formulas map[int]string // the first formula's cell, by its row
	merged   []span
}

// span is a range of merged cells.
type span struct {
	name     string // like B2:B4
	from, to int    // rows
}

// mostMerged is how many merged ranges a sheet may have (ours).
const mostMerged = 20_000

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

// marksOf looks through the sheets' own text as it is unpacked, without keeping it.
func marksOf(z *zip.Reader) (map[string]marks, error) {
	names, err := sheetNames(z)
	if err != nil {
		return nil, err
	}
	out := map[string]marks{}
	for _, file := range z.File {
		name, ok := names[file.Name]
		if !ok {
			continue
		}
		has, err := marked(file)
		if err == nil && has {
			out[name], err = marksIn(file)
		}
		if err != nil {
			return nil, Refusal{"sheet.this-spreadsheet-is-damaged-it-2"}
		}
	}
	return out, nil
}

// sheetNames are a workbook's sheets by the files that they stand in.
func sheetNames(z *zip.Reader) (map[string]string, error) {
	var book struct {
		Sheets []struct {
			Name string `xml:"name,attr"`
			Rel  string `xml:"http://schemas.openxmlformats.org/officeDocument/2006/relationships id,attr"`
		} `xml:"sheets>sheet"`
	}
	var rels struct {
		Rels []struct {
			ID     string `xml:"Id,attr"`
			Target string `xml:"Target,attr"`
		} `xml:"Relationship"`
	}
	for name, into := range map[string]any{"xl/workbook.xml": &book, "xl/_rels/workbook.xml.rels": &rels} {
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
	at := map[string]string{}
	for _, rel := range rels.Rels {
		to := rel.Target
		if !strings.HasPrefix(to, "/") {
			to = path.Join("xl", to)
		}
		at[rel.ID] = strings.TrimPrefix(to, "/")
	}
	out := map[string]string{}
	for _, s := range book.Sheets {
		out[at[s.Rel]] = s.Name
	}
	return out, nil
}

// marked tells whether a sheet has any mark at all, a piece at a time: most have none, and their
// text needs no parsing for it.
func marked(file *zip.File) (bool, error) {
	r, err := file.Open()
	if err != nil {
		return false, err
	}
	defer r.Close()
	const overlap = 16
	buf := make([]byte, overlap+256<<10)
	kept := 0
	for {
		n, err := io.ReadFull(r, buf[kept:])
		text := buf[:kept+n]
		for _, mark := range []string{"<f>", "<f ", "<f/", "<mergeCell "} {
			if bytes.Contains(text, []byte(mark)) {
				return true, nil
			}
		}
		if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
			return false, nil
		}
		if err != nil {
			return false, err
		}
		kept = copy(buf, text[len(text)-overlap:])
	}
}

// marksIn reads the marks of one sheet, element by element.
func marksIn(file *zip.File) (marks, error) {
	out := marks{formulas: map[int]string{}}
	r, err := file.Open()
	if err != nil {
		return out, err
	}
	defer r.Close()
	cell := ""
	for d := xml.NewDecoder(r); ; {
		token, err := d.RawToken()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			return out, err
		}
		e, ok := token.(xml.StartElement)
		if !ok {
			continue
		}
		switch e.Name.Local {
		case "c":
			cell = attr(e, "r")
		case "f":
			if _, row, err := excelize.CellNameToCoordinates(cell); err == nil && out.formulas[row] == "" {
				out.formulas[row] = cell
			}
		case "mergeCell":
			from, to, _ := strings.Cut(attr(e, "ref"), ":")
			_, first, err1 := excelize.CellNameToCoordinates(from)
			_, last, err2 := excelize.CellNameToCoordinates(to)
			if len(out.merged) == mostMerged {
				return out, errors.New("more merged cells than anybody makes")
			}
			if err1 == nil && err2 == nil {
				out.merged = append(out.merged, span{from + ":" + to, first, last})
			}
		}
	}
}

func attr(e xml.StartElement, name string) string {
	for _, a := range e.Attr {
		if a.Name.Local == name {
			return a.Value
		}
	}
	return ""
}
