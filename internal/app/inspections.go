package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/inspection"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/picture"
	"fairlap/internal/store"
)

// InspectionView is a reading of an installation as it stands.
type InspectionView struct {
	ID        string               `json:"id"`
	PoolID    string               `json:"poolId"`
	Street    string               `json:"street"`
	Items     []inspection.Item    `json:"items" nullable:"false" doc:"to look at, in the order of the walk"`
	Answers   inspection.Answers   `json:"answers"`
	Findings  []inspection.Finding `json:"findings" nullable:"false"`
	Version   int                  `json:"version"`
	StartedAt time.Time            `json:"startedAt"`
	By        string               `json:"by"`
	ClosedAt  *time.Time           `json:"closedAt"`
	Straight  float64              `json:"straight" doc:"diameters of straight pipe that are asked for before the pump"`
	Photos    []PhotoView          `json:"photos" nullable:"false" doc:"in the order taken"`
	Before    *InspectionBefore    `json:"before,omitempty" doc:"the last closed one; absent: none"`
}

// InspectionBefore is an earlier inspection to hold this one against.
type InspectionBefore struct {
	ClosedAt time.Time            `json:"closedAt"`
	Findings []inspection.Finding `json:"findings" nullable:"false"`
	Mended   []words.Message      `json:"mended" nullable:"false" doc:"found then; looked at now and as it should be"`
	New      []words.Message      `json:"new" nullable:"false" doc:"found now, not then"`
}

// InspectionLine is one inspection of a pool's list.
type InspectionLine struct {
	ID        string     `json:"id"`
	StartedAt time.Time  `json:"startedAt"`
	By        string     `json:"by"`
	ClosedAt  *time.Time `json:"closedAt"`
	Findings  int        `json:"findings"`
	Gravest   string     `json:"gravest" enum:",stop,soon,act,note"`
}

// Inspections lists a pool's, newest first.
func (s *Service) Inspections(ctx context.Context, a Actor, pool uuid.UUID) ([]InspectionLine, error) {
	if _, err := s.seePool(ctx, a, pool); err != nil {
		return nil, err
	}
	rows, err := s.store.InspectionsOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the inspections: %w", err)
	}
	names, err := s.names(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]InspectionLine, len(rows))
	for i, r := range rows {
		fs, err := findingsOf(&r)
		if err != nil {
			return nil, err
		}
		out[i] = InspectionLine{r.ID.String(), r.StartedAt, names[r.StartedBy], r.ClosedAt, len(fs), string(inspection.Gravest(fs))}
	}
	return out, nil
}

// findingsOf reads what an inspection found; none where there was no inspection.
func findingsOf(r *store.Inspection) ([]inspection.Finding, error) {
	if len(r.Findings) == 0 {
		return nil, nil
	}
	var fs []inspection.Finding
	if err := json.Unmarshal(r.Findings, &fs); err != nil {
		return nil, fmt.Errorf("the findings of inspection %s: %w", r.ID, err)
	}
	return fs, nil
}

// StartInspection begins one, or takes up the one that was left open.
func (s *Service) StartInspection(ctx context.Context, a Actor, pool, id uuid.UUID) (InspectionView, error) {
	if _, err := s.seePool(ctx, a, pool); err != nil {
		return InspectionView{}, err
	}
	rows, err := s.store.InspectionsOf(ctx, pool)
	if err != nil {
		return InspectionView{}, fmt.Errorf("looking for one left open: %w", err)
	}
	for _, r := range rows {
		if r.ClosedAt == nil {
			return s.Inspection(ctx, a, r.ID)
		}
	}
	row := store.Inspection{ID: id, PoolID: pool, Answers: json.RawMessage("{}"), Findings: json.RawMessage("[]"), Version: 1, StartedAt: s.now(), StartedBy: a.ID}
	if err := s.store.StartInspection(ctx, row); err != nil {
		return InspectionView{}, fmt.Errorf("beginning the inspection: %w", err)
	}
	return s.Inspection(ctx, a, id)
}

// installation is what a pool's verdicts go by.
func (at *atStop) installation(now time.Time) *inspection.Installation {
	in := &inspection.Installation{Model: at.cached.Model, Pool: units.Volume(at.record.Pool.VolumeM3), Year: now.In(at.company.zone).Year(), Schools: at.company.schools(), Anode: at.company.expected(&store.Equipment{Kind: upkeep.Anode})}
	for _, e := range at.parts {
		if e.Kind == upkeep.Anode && e.InstalledOn != nil {
			in.AnodeOf = max(in.AnodeOf, e.InstalledOn.Year())
		}
		if p := at.company.part(&e, now); p.AgeYears != nil && p.ExpectedYears != nil && *p.AgeYears > *p.ExpectedYears {
			in.Old = append(in.Old, words.Of("app.of-years", "kind", words.Msg(upkeep.PartName(p.Kind)), "ageYears", words.ND(*p.AgeYears, 1), "expectedYears", words.N(*p.ExpectedYears)))
		}
	}
	return in
}

// schools are the company's of what an installation should be.
func (c company) schools() inspection.Schools {
	return inspection.Schools{CodeRun: c.office.StraightRun == "code", CellClear: c.office.CellClear}
}

// Inspection shows one as it stands.
func (s *Service) Inspection(ctx context.Context, a Actor, id uuid.UUID) (InspectionView, error) {
	row, err := s.store.InspectionByID(ctx, id)
	if err != nil {
		return InspectionView{}, fmt.Errorf("finding the inspection: %w", err)
	}
	return s.inspectionView(ctx, a, row)
}

func (s *Service) inspectionView(ctx context.Context, a Actor, row store.Inspection) (InspectionView, error) {
	now := s.now()
	at, err := s.atPool(ctx, a, row.PoolID, now)
	if err != nil {
		return InspectionView{}, err
	}
	names, err := s.names(ctx)
	if err != nil {
		return InspectionView{}, err
	}
	out := InspectionView{ID: row.ID.String(), PoolID: row.PoolID.String(), Street: at.record.Pool.Name(), Items: inspection.On(&at.cached.Model.Doc, at.company.schools()), Answers: inspection.Answers{}, Version: row.Version, StartedAt: row.StartedAt, By: names[row.StartedBy], ClosedAt: row.ClosedAt, Straight: at.company.schools().Straight()}
	if err := json.Unmarshal(row.Answers, &out.Answers); err != nil {
		return out, fmt.Errorf("the answers of inspection %s: %w", row.ID, err)
	}
	if row.ClosedAt != nil {
		out.Findings, err = findingsOf(&row)
	} else {
		out.Findings, err = inspection.Judge(at.installation(now), out.Answers)
	}
	if err != nil {
		return out, unsolved(err)
	}
	photos, err := s.store.PhotosInspected(ctx, row.ID)
	if err != nil {
		return out, fmt.Errorf("listing the pictures: %w", err)
	}
	out.Photos = make([]PhotoView, len(photos))
	for i, p := range photos {
		out.Photos[i] = photoView(&p, names[p.MadeBy])
	}
	rows, err := s.store.InspectionsOf(ctx, row.PoolID)
	if err != nil {
		return out, fmt.Errorf("listing the inspections: %w", err)
	}
	this := slices.IndexFunc(rows, func(r store.Inspection) bool { return r.ID == row.ID })
	for _, r := range rows[this+1:] {
		if r.ClosedAt == nil {
			continue
		}
		then, err := findingsOf(&r)
		if err != nil {
			return out, err
		}
		before := &InspectionBefore{ClosedAt: *r.ClosedAt, Findings: then}
		before.Mended, before.New = inspection.Since(then, out.Findings, out.Answers)
		out.Before = before
		break
	}
	return out, nil
}

// InspectionEdit are answers to keep; Close ends the inspection with them.
type InspectionEdit struct {
	Answers inspection.Answers `json:"answers"`
	Version int                `json:"version"`
	Close   bool               `json:"close"`
}

// SaveInspection keeps answers. Closing one carries over what it measured into the pad
// and its findings into due work. When somebody else wrote meanwhile, the error is
// store.ErrVersion and it comes as it now stands.
func (s *Service) SaveInspection(ctx context.Context, a Actor, id uuid.UUID, in InspectionEdit) (InspectionView, error) {
	row, err := s.store.InspectionByID(ctx, id)
	if err != nil {
		return InspectionView{}, fmt.Errorf("finding the inspection: %w", err)
	}
	now := s.now()
	at, err := s.atPool(ctx, a, row.PoolID, now)
	if err != nil {
		return InspectionView{}, err
	}
	var errs FieldErrors
	for item, text := range inspection.Wrong(in.Answers) {
		errs = append(errs, FieldError{"answers." + string(item), text})
	}
	for item, x := range in.Answers {
		if len(x.Note) > 500 {
			errs = append(errs, FieldError{"answers." + string(item), "app.a-note-of-500-letters"})
		}
	}
	if len(errs) > 0 {
		return InspectionView{}, errs
	}
	if row.ClosedAt != nil || row.Version != in.Version {
		out, err := s.inspectionView(ctx, a, row)
		return out, errors.Join(store.ErrVersion, err)
	}
	findings, err := inspection.Judge(at.installation(now), in.Answers)
	if err != nil {
		return InspectionView{}, unsolved(err)
	}
	if row.Answers, err = json.Marshal(in.Answers); err != nil {
		return InspectionView{}, fmt.Errorf("writing the answers: %w", err)
	}
	if row.Findings, err = json.Marshal(findings); err != nil {
		return InspectionView{}, fmt.Errorf("writing the findings: %w", err)
	}
	err = s.inTx(ctx, func(s *Service) error {
		if in.Close {
			if err := s.carryOver(ctx, a, at, row, in.Answers); err != nil {
				return err
			}
			row.ClosedAt = &now
		}
		_, err := s.store.SaveInspection(ctx, row)
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return InspectionView{}, fmt.Errorf("keeping the inspection: %w", err)
	}
	kept, bad := s.store.InspectionByID(ctx, id)
	if bad != nil {
		return InspectionView{}, fmt.Errorf("reading the inspection again: %w", bad)
	}
	out, bad := s.inspectionView(ctx, a, kept)
	return out, errors.Join(err, bad)
}

// carryOver writes what was read into the equipment and what was measured into the pad's
// description.
func (s *Service) carryOver(ctx context.Context, a Actor, at *atStop, row store.Inspection, answers inspection.Answers) error {
	pool := row.PoolID
	if year := answers["anode-year"].Value; year != nil {
		if err := s.anodeInPlace(ctx, a, at, row, int(*year)); err != nil {
			return err
		}
	}
	was, err := s.PoolPad(ctx, a, pool)
	if err != nil {
		return err
	}
	doc := inspection.Into(was.Document, answers)
	if len(pad.Diff(was.Document, doc)) == 0 {
		return nil
	}
	if _, err := s.SavePad(ctx, a, pool, PadChange{BasedOn: was.Revision, Reason: store.ReasonDescription, Note: "app.pad-follows.measured", Document: doc}); err != nil {
		return fmt.Errorf("carrying the measurements over: %w", err)
	}
	return nil
}

// anodeInPlace puts the anode that was found into the equipment, unless it is there.
func (s *Service) anodeInPlace(ctx context.Context, a Actor, at *atStop, row store.Inspection, year int) error {
	if year > s.now().In(at.company.zone).Year() {
		return nil
	}
	in := PartChange{ID: uuid.NewSHA1(row.ID, []byte(upkeep.Anode)), Act: "install", Kind: upkeep.Anode, Model: "As found", On: fmt.Sprintf("%d-01-01", year), Note: "app.anode-year-read"}
	for _, e := range at.parts {
		if e.Kind != upkeep.Anode {
			continue
		}
		if e.InstalledOn != nil && e.InstalledOn.Year() >= year {
			return nil
		}
		in.Act, in.Part = "replace", &e.ID
	}
	if _, err := s.ChangePart(ctx, a, row.PoolID, in); err != nil {
		return fmt.Errorf("carrying the anode over: %w", err)
	}
	return nil
}

// inspectedOf is what a pool's last closed inspection asks to be done; r is empty without
// one.
func inspectedOf(r store.Inspection) ([]upkeep.Inspected, error) {
	if r.ClosedAt == nil {
		return nil, nil
	}
	fs, err := findingsOf(&r)
	if err != nil {
		return nil, err
	}
	return inspectedWork(fs, *r.ClosedAt), nil
}

// inspectedWork is what findings ask to be done.
func inspectedWork(fs []inspection.Finding, at time.Time) []upkeep.Inspected {
	var out []upkeep.Inspected
	for _, f := range fs {
		if !f.IsWork() {
			continue
		}
		out = append(out, upkeep.Inspected{Item: string(f.Item), Name: f.Name, Text: f.Text, Who: f.Who, At: at, Stop: f.Severity == inspection.Stop, Soon: f.Severity == inspection.Soon})
	}
	return out
}

// inspectionPaper is an inspection on paper; without one named, the last that was closed.
func (s *Service) inspectionPaper(ctx context.Context, w *writer, of *uuid.UUID) error {
	rows, err := s.store.InspectionsOf(ctx, w.record.Pool.ID)
	if err != nil {
		return fmt.Errorf("listing the inspections: %w", err)
	}
	i := slices.IndexFunc(rows, func(r store.Inspection) bool { return r.ClosedAt != nil && (of == nil || r.ID == *of) })
	if i < 0 {
		return store.ErrNotFound
	}
	row := rows[i]
	fs, err := findingsOf(&row)
	if err != nil {
		return err
	}
	var answers inspection.Answers
	if err := json.Unmarshal(row.Answers, &answers); err != nil {
		return fmt.Errorf("the answers of inspection %s: %w", row.ID, err)
	}
	w.doc.Title = words.Of("app.inspection-of", "day", w.day(*row.ClosedAt))
	w.poolFactsBlock()
	w.facts("app.inspected-by", words.Named(w.names[row.StartedBy]), "app.findings", one(words.N(len(fs))))
	for _, f := range fs {
		if f.Severity == inspection.Stop {
			w.caution(f.Text)
		}
	}
	severity := map[inspection.Severity]words.Message{inspection.Stop: "app.stop", inspection.Soon: "app.before-the-next-visit", inspection.Act: "app.mend", inspection.Note: "app.good-to-know"}
	var table [][]words.Message
	for _, f := range fs {
		table = append(table, []words.Message{f.Name, noted(f.Text, f.Note), severity[f.Severity], f.Who, words.Message("app.cost-" + string(f.Cost))})
	}
	if len(table) == 0 {
		w.say("app.nothing-was-found-that-needs")
	} else {
		w.heading("app.what-was-found")
		w.table(1, []words.Message{"app.at-2", "app.finding", "app.how-grave", "app.who-may", "app.cost"}, table)
	}
	looked := 0
	table = nil
	for _, it := range inspection.On(&w.cached.Model.Doc, w.company.schools()) {
		x, ok := answers[it.ID]
		if !ok || x.Value == nil && x.Yes == nil {
			continue
		}
		looked++
		if x.Value != nil {
			figure := words.QD(it.Unit, *x.Value, -1)
			if it.Unit == "year" {
				figure = words.Year(int(*x.Value))
			}
			table = append(table, []words.Message{it.Name, one(figure)})
		}
	}
	if len(table) > 0 {
		w.heading("app.what-was-measured")
		w.table(0, []words.Message{"app.at-2", "app.figure"}, table)
	}
	if err := s.picturesInspected(ctx, w, row.ID); err != nil {
		return err
	}
	w.say(words.Of("app.things-looked-at", "n", words.N(looked)))
	return nil
}

// noted is what is said of a finding, with its own note after it.
func noted(text words.Message, note string) words.Message {
	if note == "" {
		return text
	}
	return words.Of("app.noted", "says", words.Msg(text), "note", words.Name(note))
}

// picturesInspected sets an inspection's pictures, each with what it shows.
func (s *Service) picturesInspected(ctx context.Context, w *writer, id uuid.UUID) error {
	rows, err := s.store.PhotosInspected(ctx, id)
	if err != nil {
		return fmt.Errorf("listing the inspection's pictures: %w", err)
	}
	for i, r := range rows {
		if i == 0 {
			w.heading("app.pictures")
		}
		content, err := s.store.PhotoBytes(ctx, r.Digest)
		if err != nil {
			return fmt.Errorf("reading picture %s: %w", r.ID, err)
		}
		small, err := picture.Smaller(content, onPaper)
		if err != nil {
			return err
		}
		w.picture(noteOf(r.Caption), small)
	}
	return nil
}

// onPaper is the longest side of a picture on a paper, in points.
const onPaper = 900
