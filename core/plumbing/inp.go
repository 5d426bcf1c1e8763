package plumbing

import (
	"bufio"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"strconv"
	"strings"

	"fairlap/core/hydraulics"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/words"
)

// The EPANET input format, version 2.2 (US EPA, public domain): a pad under one
// operation as a network that any EPANET engine solves to our flows and heads.
// Every link is a pipe of one bore whose length and fitting loss give the link's
// own resistances; what is linear in flow (media, the pump curve's linear term)
// is a two-point head-loss curve, which EPANET takes exactly. The pad document
// rides along in comments, so that our own exports can be read back.

// inpDatum lifts every head so that no pressure is negative.
const inpDatum = 100

// inpBore is the diameter that every pipe is written with, m.
const inpBore = 0.05

// inpMark begins the comment lines that carry the document.
const inpMark = ";fairlap "

// inpNote is what rides along.
type inpNote struct {
	Document pad.Document `json:"document"`
	RPM      float64      `json:"rpm"`
	Setting  pad.Setting  `json:"setting"`
	Handles  pad.Handles  `json:"handles,omitempty"`
	Load     float64      `json:"load"`
	TempC    float64      `json:"tempC"`
	LimitPsi float64      `json:"limitPsi"`
	Params   Parameters   `json:"parameters"`
}

// WriteINP writes the model under an operation and a load as an EPANET file.
func (m *Model) WriteINP(w io.Writer, op pad.Operation, load float64) error {
	s := m.Solver()
	if _, err := s.Solve(op, Effects{Load: load}); err != nil {
		return err
	}
	note, err := json.Marshal(
		inpNote{
			m.Doc,
			float64(op.Speed),
			op.Setting,
			op.Handles,
			load,
			float64(m.Water.Temperature),
			m.LimitRise.PSI(),
			m.Params,
		},
	)
	if err != nil {
		return fmt.Errorf("writing the document into the file: %w", err)
	}
	out := bufio.NewWriter(w)
	fmt.Fprintf(out, "[TITLE]\nA pool pad at %g rpm, filter valve on %s\n", float64(op.Speed), setting(op))
	// EPANET refuses lines over 1,024 letters, quotes count twice.
	for text := string(note); text != ""; {
		n := min(len(text), 480)
		fmt.Fprintf(out, "%s%s\n", inpMark, strconv.Quote(text[:n]))
		text = text[n:]
	}
	s.writeNetwork(out, float64(op.Speed)/m.Doc.Pump.TopRPM)
	return out.Flush()
}

func setting(op pad.Operation) pad.Setting {
	if op.Setting == "" {
		return pad.SetFilter
	}
	return op.Setting
}

func (s *Solver) writeNetwork(out io.Writer, ratio float64) {
	v := s.View
	wet := v.reached()
	var junctions, tanks, pipes, pumps, valves, curves bytes.Buffer
	for i, n := range v.nodes {
		if !wet[i] {
			continue
		}
		if n.Fixed {
			fmt.Fprintf(&tanks, "n%d\t%.9g\t;%s\n", i, inpDatum+float64(n.Head), n.Name)
		} else {
			fmt.Fprintf(&junctions, "n%d\t0\t0\t;%s\n", i, n.Name)
		}
	}
	perMetre := hydraulics.HazenWilliams(1, inpBore, hydraulics.PVC)
	perK := hydraulics.MinorLoss(1, inpBore)
	for i, l := range v.links {
		if !wet[l.From] || !wet[l.To] {
			continue
		}
		id, from, to := fmt.Sprintf("l%d", i), fmt.Sprintf("n%d", l.From), fmt.Sprintf("n%d", l.To)
		linear := l.Linear
		if l.Pump != nil {
			linear += l.Pump.Slope
		}
		if linear > 0 {
			mid := id + "m"
			fmt.Fprintf(&junctions, "%s\t0\t0\n", mid)
			fmt.Fprintf(&valves, "%sv\t%s\t%s\t50\tGPV\t%sc\t0\n", id, from, mid, id)
			fmt.Fprintf(&curves, "%sc\t0\t0\n%sc\t20\t%.9g\n", id, id, linear*0.02)
			from = mid
		}
		if p := l.Pump; p != nil && ratio > 0 && p.Shutoff > 0 {
			// Three points of H = A − B·Q², at the speed that it runs at.
			q := math.Sqrt(p.Shutoff / math.Max(p.Bend, 1e-3))
			for _, f := range []float64{0, 0.4, 0.9} {
				fmt.Fprintf(&curves, "head\t%.9g\t%.9g\n", 1000*f*q, p.Shutoff-p.Bend*f*f*q*q)
			}
			fmt.Fprintf(&pumps, "%s\t%s\t%s\tHEAD head\t;%s\n", id, from, to, l.Name)
			continue
		} else if p != nil { // water passes a still pump
			l.Quadratic += p.Bend
		}
		status := "Open"
		if l.Shut {
			status = "Closed"
		} else if l.OneWay {
			status = "CV"
		}
		fmt.Fprintf(
			&pipes,
			"%s\t%s\t%s\t%.9g\t50\t150\t%.9g\t%s\t;%s\n",
			id,
			from,
			to,
			math.Max(l.Pipe/perMetre, 1e-3),
			l.Quadratic/perK,
			status,
			l.Name,
		)
	}
	for _, part := range []struct {
		name string
		body *bytes.Buffer
	}{{"JUNCTIONS", &junctions}, {"RESERVOIRS", &tanks}, {"PIPES", &pipes}, {"PUMPS", &pumps}, {"VALVES", &valves}, {"CURVES", &curves}} {
		fmt.Fprintf(out, "\n[%s]\n%s", part.name, part.body)
	}
	fmt.Fprint(
		out,
		"\n[OPTIONS]\nUNITS LPS\nHEADLOSS H-W\nACCURACY 1e-5\nHEADERROR 1e-6\nFLOWCHANGE 1e-6\nTRIALS 200\n\n[END]\n",
	)
}

// reached tells which nodes join a water surface by links that are open; EPANET
// refuses a network with parts that don't.
func (v *view) reached() []bool {
	wet := make([]bool, len(v.nodes))
	for i, n := range v.nodes {
		wet[i] = n.Fixed
	}
	for again := true; again; {
		again = false
		for _, l := range v.links {
			if !l.Shut && wet[l.From] != wet[l.To] {
				wet[l.From], wet[l.To], again = true, true, true
			}
		}
	}
	return wet
}

// Exported is a pad read back from an EPANET file that we wrote.
type Exported struct {
	Model     *Model
	Operation pad.Operation
	Load      float64
}

// ReadINP reads back a file that WriteINP wrote. A file without our document, or
// whose network no longer says what its document says, is refused.
func ReadINP(r io.Reader) (*Exported, error) {
	b, err := io.ReadAll(io.LimitReader(r, pad.LargestDocument+1))
	if err != nil {
		return nil, fmt.Errorf("reading the EPANET file: %w", err)
	}
	if len(b) > pad.LargestDocument {
		return nil, &pad.FieldError{Path: "", Text: "pad.an-exported-pad-is-never"}
	}
	note, given, err := splitINP(b)
	if err != nil {
		return nil, err
	}
	doc, errs := pad.Read(bytes.NewReader(note.doc))
	if len(errs) > 0 {
		return nil, &pad.FieldError{Path: "document." + errs[0].Path, Text: errs[0].Text}
	}
	op := pad.Operation{Speed: units.Speed(note.RPM), Setting: note.Setting, Handles: note.Handles}
	if err := op.Handles.Check(&doc); err != nil {
		return nil, err
	}
	for i, f := range note.Params.fields() {
		if !(*f > 0.001 && *f < 1000) {
			return nil, &pad.FieldError{
				Path: "parameters",
				Text: words.Of("pad.parameter-is-not-believable", "i", words.N(i+1)),
			}
		}
	}
	if !(note.TempC >= 0 && note.TempC <= 60) || !(note.Load >= -5 && note.Load <= 100) ||
		!(note.LimitPsi >= 0 && note.LimitPsi <= 50) ||
		!(note.RPM >= 0 && note.RPM <= 4000) {
		return nil, &pad.FieldError{Path: "", Text: "pad.the-pad-s-state-in"}
	}
	m, err := New(doc, note.Params, units.Temperature(note.TempC), units.PSI(note.LimitPsi))
	if err != nil {
		return nil, err
	}
	var again bytes.Buffer
	if err := m.WriteINP(&again, op, note.Load); err != nil {
		return nil, err
	}
	_, want, err := splitINP(again.Bytes())
	if err != nil {
		return nil, err
	}
	if err := sameNetwork(given, want); err != nil {
		return nil, err
	}
	return &Exported{m, op, note.Load}, nil
}

type splitNote struct {
	inpNote
	doc []byte
}

// splitINP parts a file into what rides along and the fields of its network's
// lines.
func splitINP(b []byte) (*splitNote, [][]string, error) {
	var text strings.Builder
	var lines [][]string
	scan := bufio.NewScanner(bytes.NewReader(b))
	scan.Buffer(nil, pad.LargestDocument)
	for n := 1; scan.Scan(); n++ {
		line := strings.TrimSpace(scan.Text())
		if part, ok := strings.CutPrefix(line, strings.TrimSpace(inpMark)+" "); ok {
			piece, err := strconv.Unquote(part)
			if err != nil {
				return nil, nil, &pad.FieldError{
					Path: fmt.Sprintf("line %d", n),
					Text: "pad.the-document-in-this-comment",
				}
			}
			text.WriteString(piece)
			continue
		}
		line, _, _ = strings.Cut(line, ";")
		if f := strings.Fields(line); len(f) > 0 && text.Len() > 0 {
			lines = append(lines, f)
		}
	}
	if err := scan.Err(); err != nil {
		return nil, nil, fmt.Errorf("reading the EPANET file: %w", err)
	}
	if text.Len() == 0 {
		return nil, nil, &pad.FieldError{Path: "", Text: "pad.this-file-was-not-written"}
	}
	note := &splitNote{}
	if err := json.Unmarshal([]byte(text.String()), &note.inpNote); err != nil {
		e := pad.DecodeError(err)
		return nil, nil, &e
	}
	var raw struct {
		Document json.RawMessage `json:"document"`
	}
	_ = json.Unmarshal([]byte(text.String()), &raw) // it was read just above
	note.doc = raw.Document
	return note, lines, nil
}

// sameNetwork compares two networks' lines, numbers to six figures.
func sameNetwork(given, want [][]string) error {
	for i := range max(len(given), len(want)) {
		if i >= len(given) || i >= len(want) || len(given[i]) != len(want[i]) {
			return errEdited
		}
		for k := range want[i] {
			a, errA := strconv.ParseFloat(given[i][k], 64)
			b, errB := strconv.ParseFloat(want[i][k], 64)
			switch {
			case errA == nil && errB == nil && math.Abs(a-b) <= 1e-6*math.Max(1e-3, math.Abs(b)):
			case given[i][k] != want[i][k]:
				return errEdited
			}
		}
	}
	return nil
}

var errEdited = &pad.FieldError{Path: "", Text: "pad.the-network-in-this-file"}
