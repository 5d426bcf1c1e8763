package sheet

import (
	"archive/zip"
	"bytes"
	"io"
	"runtime"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"pgregory.net/rapid"
)

const town = "Street;Volume gal\nRuhegäßchen 3;18500,5\n'=1+1;2\n"

func TestTheEncodingsAndSeparatorsThatAreAbout(t *testing.T) {
	latin, err := charmap.Windows1252.NewEncoder().String(town)
	require.NoError(t, err)
	wide, err := unicode.UTF16(unicode.LittleEndian, unicode.UseBOM).NewEncoder().String(town)
	require.NoError(t, err)
	for name, content := range map[string]string{"plain": town, "marked": "\xef\xbb\xbf" + town, "latin": latin,
		"wide": wide, "tabs": strings.ReplaceAll(town, ";", "\t"),
		"windows lines": strings.ReplaceAll(town, "\n", "\r\n")} {
		ts, err := Read("pools.csv", []byte(content))
		require.NoError(t, err, name)
		require.Len(t, ts, 1)
		assert.Equal(t, []string{"street", "volume_gal"}, ts[0].Head, name)
		require.Len(t, ts[0].Rows, 2, name)
		assert.Equal(t, []string{"Ruhegäßchen 3", "18500,5"}, ts[0].Rows[0].Cells, name)
		assert.Equal(t, "=1+1", ts[0].Rows[1].Cells[0], "words, not a formula")
		assert.Equal(t, 3, ts[0].Rows[1].Line)
	}
}

func book(t *testing.T, fill func(*excelize.File)) []byte {
	f := excelize.NewFile()
	require.NoError(t, f.SetSheetRow("Sheet1", "A1", &[]any{"street", "volume_gal"}))
	require.NoError(t, f.SetSheetRow("Sheet1", "A2", &[]any{"3 Mill Hill", 12000}))
	require.NoError(t, f.SetSheetRow("Sheet1", "A3", &[]any{"5 Mill Hill", 13000}))
	fill(f)
	var b bytes.Buffer
	_, err := f.WriteTo(&b)
	require.NoError(t, err)
	return b.Bytes()
}

func TestFormulasAndMergedCellsAreTold(t *testing.T) {
	ts, err := Read("x", book(t, func(f *excelize.File) {
		require.NoError(t, f.SetCellFormula("Sheet1", "B2", "6000*2"))
		require.NoError(t, f.MergeCell("Sheet1", "A3", "A4"))
	}))
	require.NoError(t, err)
	assert.Contains(t, say(ts[0].Rows[0].Wrong), "Cell B2 has a formula")
	assert.Contains(t, say(ts[0].Rows[1].Wrong), "A3 to A4 are merged")
}

func TestWhatIsNoTableIsRefused(t *testing.T) {
	for text, content := range map[string][]byte{
		"empty": {}, "old or locked": []byte("\xd0\xcf\x11\xe0rest"), "damaged": []byte("PK\x03\x04rest"),
		"not a table": []byte("a,b\x00c\n"), "no row": []byte("\n\n ,\n"),
		"more than 80 columns": []byte(strings.Repeat("a,", 90) + "b\n"),
	} {
		_, err := Read("x.csv", content)
		var r Refusal
		require.ErrorAs(t, err, &r, text)
		assert.Contains(t, err.Error(), text)
	}
}

func TestWhatIsWrittenReadsTheSame(t *testing.T) {
	for name, make := range map[string]func(*bytes.Buffer) Writer{"csv": func(b *bytes.Buffer) Writer { return CSV(b) },
		"xlsx": func(b *bytes.Buffer) Writer { return XLSX(b) }} {
		rapid.Check(t, func(t *rapid.T) {
			cell := rapid.StringMatching(`[=+@-]?[a-zA-Zäß€ ;,"']{0,12}[a-z]`)
			rows := rapid.SliceOfN(rapid.SliceOfN(cell, 3, 3), 1, 6).Draw(t, "rows")
			var b bytes.Buffer
			w := make(&b)
			require.NoError(t, w.Begin("pools", []string{"a", "b", "c"}))
			for _, r := range rows {
				require.NoError(t, w.Row([]any{r[0], r[1], r[2]}))
			}
			require.NoError(t, w.Close())
			ts, err := Read("pools.csv", b.Bytes())
			require.NoError(t, err)
			require.Len(t, ts[0].Rows, len(rows), name)
			for i, r := range rows {
				for k := range r {
					want := strings.TrimSpace(r[k])
					if rest, ok := strings.CutPrefix(want, "'"); ok &&
						strings.ContainsAny(rest[:min(1, len(rest))], "=+-@") {
						want = rest
					}
					assert.Equal(t, want, ts[0].Rows[i].Cells[k], name)
				}
			}
		})
	}
}

func FuzzRead(f *testing.F) {
	f.Add([]byte(town))
	f.Add([]byte("\xff\xfea\x00,\x00"))
	f.Add([]byte("PK\x03\x04"))
	f.Fuzz(func(t *testing.T, content []byte) {
		ts, err := Read("x.csv", content)
		if err == nil {
			for _, table := range ts {
				for _, r := range table.Rows {
					assert.Len(t, r.Cells, len(table.Head))
				}
			}
		}
	})
}

// bomb is a workbook of one sheet whose text is long and packs to next to nothing.
func bomb(t *testing.T, row string, rows int) []byte {
	var plain, out bytes.Buffer
	book := XLSX(&plain)
	require.NoError(t, book.Begin("pools", []string{"street"}))
	require.NoError(t, book.Close())
	from, err := zip.NewReader(bytes.NewReader(plain.Bytes()), int64(plain.Len()))
	require.NoError(t, err)
	z := zip.NewWriter(&out)
	for _, file := range from.File {
		if file.Name != "xl/worksheets/sheet1.xml" {
			require.NoError(t, z.Copy(file))
		}
	}
	w, err := z.Create("xl/worksheets/sheet1.xml")
	require.NoError(t, err)
	_, err = io.WriteString(
		w,
		`<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>`,
	)
	require.NoError(t, err)
	for range rows {
		_, err = io.WriteString(w, row)
		require.NoError(t, err)
	}
	_, err = io.WriteString(w, `</sheetData></worksheet>`)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	return out.Bytes()
}

// A small file that would unpack to a hundred times itself is refused before it is unpacked (946 kB
// took 6.2 GB), and one that unpacks to what a file may is read in little more than its rows.
func TestAWorkbookThatUnpacksToTooMuchIsRefused(t *testing.T) {
	row := `<row><c t="inlineStr"><is><t>` + strings.Repeat("a", 400) + `</t></is></c></row>`
	var before, after runtime.MemStats
	used := func(content []byte) (float64, error) {
		runtime.ReadMemStats(&before)
		_, err := Read("a.xlsx", content)
		runtime.ReadMemStats(&after)
		return float64(after.TotalAlloc-before.TotalAlloc) / 1e6, err
	}
	large := bomb(t, row, 60_000)
	require.Less(t, len(large), 1<<20)
	mb, err := used(large)
	var refused Refusal
	require.ErrorAs(t, err, &refused)
	assert.Contains(t, refused.Error(), "unpacks to far more")
	assert.Less(t, mb, 10.0, "megabytes that were asked for in all")
	mb, err = used(bomb(t, `<row><c t="inlineStr"><is><t>a</t></is></c></row>`, 60_000))
	require.NoError(t, err)
	assert.Less(t, mb, 700.0)
}

// Wide tables are bounded by their cells, not by their rows alone.
func TestATableOfTooManyCellsIsRefused(t *testing.T) {
	head := strings.TrimSuffix(strings.Repeat("a,", mostColumns), ",")
	_, err := Read("wide.csv", []byte(head+"\n"+strings.Repeat("1\n", mostCells/mostColumns+1)))
	var refused Refusal
	require.ErrorAs(t, err, &refused)
	assert.Contains(t, refused.Error(), "more than 50,000 rows")
}
