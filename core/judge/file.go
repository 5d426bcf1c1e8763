package judge

import (
	"fmt"
	"io"
	"time"

	"fairlap/core/diagnosis"
	"fairlap/core/pad"
)

// File is a stop as a file: what was known before anybody looked, what was found and done there, and when. Judged again
// it gives the verdict that the page showed.
type File struct {
	Pack     Pack      `json:"pack"`
	Findings Findings  `json:"findings"`
	At       time.Time `json:"at"`
}

// File is the stop as a file, with what was found there.
func (s *Stop) File(f Findings, now time.Time) (File, error) {
	if _, err := f.Parse(s.Model); err != nil {
		return File{}, err
	}
	return File{s.Pack, f, now}, nil
}

// Judge is the verdict on the stop that a file tells of.
func (f *File) Judge() (Verdict, *diagnosis.Result, error) {
	s, err := f.Pack.Ready()
	if err != nil {
		return Verdict{}, nil, fmt.Errorf("the stop of the file: %w", err)
	}
	return s.Judge(f.Findings, f.At, nil)
}

// largestFile is how many bytes of a stop's file are read: a year of visits is a tenth of it.
const largestFile = 8 << 20

// ReadFile decodes and checks a stop's file. The mistakes come with the path of the field.
func ReadFile(r io.Reader) (*File, []pad.FieldError) {
	var f File
	if err := pad.Decode(r, largestFile, &f); err != nil {
		return nil, []pad.FieldError{*err}
	}
	var errs []pad.FieldError
	for _, e := range f.Pack.Pad.Validate() {
		errs = append(errs, pad.FieldError{Path: "pack.pad." + e.Path, Text: e.Text})
	}
	if _, err := time.LoadLocation(f.Pack.Zone); err != nil {
		errs = append(errs, pad.FieldError{Path: "pack.zone", Text: "app.type-a-time-zone-like"})
	}
	if f.At.IsZero() {
		errs = append(errs, pad.FieldError{Path: "at", Text: "app.add-the-time-of-the-stop"})
	}
	return &f, errs
}
