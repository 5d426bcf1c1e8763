package inspect

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"fairlap/core/figure"
	"fairlap/core/inspection"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/company"
	"fairlap/internal/app/equipment"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/photo"
	"fairlap/internal/app/standing"
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
	Photos    []photo.PhotoView    `json:"photos" nullable:"false" doc:"in the order taken"`
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
func (s *Service) Inspections(ctx context.Context, a access.Actor, pool uuid.UUID) ([]InspectionLine, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return nil, err
	}
	rows, err := s.keeper.Store.InspectionsOf(ctx, pool)
	if err != nil {
		return nil, fmt.Errorf("listing the inspections: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]InspectionLine, len(rows))
	for i, r := range rows {
		fs, err := standing.FindingsOf(&r)
		if err != nil {
			return nil, err
		}
		out[i] = InspectionLine{
			ID:        r.ID.String(),
			StartedAt: r.StartedAt,
			By:        names[r.StartedBy],
			ClosedAt:  r.ClosedAt,
			Findings:  len(fs),
			Gravest:   string(inspection.Gravest(fs)),
		}
	}
	return out, nil
}

// NewInspection begins an inspection.
type NewInspection struct {
	ID    uuid.UUID `json:"id"`
	Begun bool      `json:"begun,omitempty" doc:"it was begun on a device without a line, and stands beside one that was left open"`
}

// StartInspection begins one, or takes up the one that was left open.
func (s *Service) StartInspection(
	ctx context.Context,
	a access.Actor,
	pool uuid.UUID,
	n NewInspection,
) (InspectionView, error) {
	if _, err := s.keeper.SeePool(ctx, a, pool); err != nil {
		return InspectionView{}, err
	}
	rows, err := s.keeper.Store.InspectionsOf(ctx, pool)
	if err != nil {
		return InspectionView{}, fmt.Errorf("looking for one left open: %w", err)
	}
	for _, r := range rows {
		if r.ID == n.ID || r.ClosedAt == nil && !n.Begun {
			return s.Inspection(ctx, a, r.ID)
		}
	}
	now := s.keeper.Now()
	began := a.When(now)
	row := store.Inspection{
		ID:         n.ID,
		PoolID:     pool,
		Answers:    json.RawMessage("{}"),
		Findings:   json.RawMessage("[]"),
		Version:    1,
		StartedAt:  began,
		StartedBy:  a.ID,
		ReceivedAt: access.Late(began, now),
	}
	if err := s.keeper.Store.StartInspection(ctx, row); err != nil {
		return InspectionView{}, fmt.Errorf("beginning the inspection: %w", err)
	}
	return s.Inspection(ctx, a, n.ID)
}

// installation is what a pool's verdicts go by.
func installation(at *standing.Site, now time.Time) *inspection.Installation {
	return &inspection.Installation{
		Model: at.Cached.Model,
		Pool:  units.Volume(at.Record.Pool.VolumeM3),
		Facts: facts(at, now),
	}
}

// facts are what is known of a pool's installation besides its pad.
func facts(at *standing.Site, now time.Time) inspection.Facts {
	in := inspection.Facts{
		Year:    now.In(at.Company.Zone).Year(),
		Schools: Schools(at.Company),
		Anode:   standing.Expected(at.Company, &store.Equipment{Kind: upkeep.Anode}),
	}
	for _, e := range at.Parts {
		if e.Kind == upkeep.Anode && e.InstalledOn != nil {
			in.AnodeOf = max(in.AnodeOf, e.InstalledOn.Year())
		}
		if p := equipment.View(at.Company, &e, now); p.AgeYears != nil && p.ExpectedYears != nil &&
			*p.AgeYears > *p.ExpectedYears {
			in.Old = append(
				in.Old,
				words.Of(
					"app.of-years",
					"kind",
					words.Msg(upkeep.PartName(p.Kind)),
					"ageYears",
					words.ND(*p.AgeYears, 1),
					"expectedYears",
					words.N(*p.ExpectedYears),
				),
			)
		}
	}
	return in
}

// Schools are the company's of what an installation should be.
func Schools(c company.Company) inspection.Schools {
	return inspection.Schools{CodeRun: c.Office.StraightRun == "code", CellClear: c.Office.CellClear}
}

// Inspection shows one as it stands.
func (s *Service) Inspection(ctx context.Context, a access.Actor, id uuid.UUID) (InspectionView, error) {
	row, err := s.keeper.Store.InspectionByID(ctx, id)
	if err != nil {
		return InspectionView{}, fmt.Errorf("finding the inspection: %w", err)
	}
	return s.inspectionView(ctx, a, row)
}

func (s *Service) inspectionView(ctx context.Context, a access.Actor, row store.Inspection) (InspectionView, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, row.PoolID, now)
	if err != nil {
		return InspectionView{}, err
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return InspectionView{}, err
	}
	out := InspectionView{
		ID:        row.ID.String(),
		PoolID:    row.PoolID.String(),
		Street:    at.Record.Pool.Name(),
		Items:     inspection.On(&at.Cached.Model.Doc, Schools(at.Company)),
		Answers:   inspection.Answers{},
		Version:   row.Version,
		StartedAt: row.StartedAt,
		By:        names[row.StartedBy],
		ClosedAt:  row.ClosedAt,
		Straight:  Schools(at.Company).Straight(),
	}
	if err := json.Unmarshal(row.Answers, &out.Answers); err != nil {
		return out, fmt.Errorf("the answers of inspection %s: %w", row.ID, err)
	}
	if row.ClosedAt != nil {
		out.Findings, err = standing.FindingsOf(&row)
	} else {
		out.Findings, err = inspection.Judge(installation(at, now), out.Answers)
	}
	if err != nil {
		return out, judge.Unsolved(err)
	}
	photos, err := s.keeper.Store.PhotosInspected(ctx, row.ID)
	if err != nil {
		return out, fmt.Errorf("listing the pictures: %w", err)
	}
	out.Photos = make([]photo.PhotoView, len(photos))
	for i, p := range photos {
		out.Photos[i] = photo.View(&p, names[p.MadeBy])
	}
	rows, err := s.keeper.Store.InspectionsOf(ctx, row.PoolID)
	if err != nil {
		return out, fmt.Errorf("listing the inspections: %w", err)
	}
	this := slices.IndexFunc(rows, func(r store.Inspection) bool { return r.ID == row.ID })
	out.Before, err = before(rows[this+1:], out)
	return out, err
}

// before is the newest closed one of rows beside an inspection; nil for none.
func before(rows []store.Inspection, now InspectionView) (*InspectionBefore, error) {
	for _, r := range rows {
		if r.ClosedAt == nil {
			continue
		}
		then, err := standing.FindingsOf(&r)
		if err != nil {
			return nil, err
		}
		out := &InspectionBefore{ClosedAt: *r.ClosedAt, Findings: then}
		out.Mended, out.New = inspection.Since(then, now.Findings, now.Answers)
		return out, nil
	}
	return nil, nil
}

// Begin is what a device begins an inspection with when it has no line.
type Begin struct {
	Blank InspectionView   // with nothing answered; its id is the device's to give
	Facts inspection.Facts // for its verdicts
}

// Ready is what a pool's next inspection will be begun with.
func (s *Service) Ready(ctx context.Context, a access.Actor, pool uuid.UUID) (Begin, error) {
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, pool, now)
	if err != nil {
		return Begin{}, err
	}
	rows, err := s.keeper.Store.InspectionsOf(ctx, pool)
	if err != nil {
		return Begin{}, fmt.Errorf("listing the inspections: %w", err)
	}
	in := installation(at, now)
	blank := InspectionView{
		PoolID:   pool.String(),
		Street:   at.Record.Pool.Name(),
		Items:    inspection.On(&at.Cached.Model.Doc, in.Schools),
		Answers:  inspection.Answers{},
		Version:  1,
		By:       a.Name,
		Straight: in.Schools.Straight(),
		Photos:   []photo.PhotoView{},
	}
	if blank.Findings, err = inspection.Judge(in, blank.Answers); err != nil {
		return Begin{}, judge.Unsolved(err)
	}
	if blank.Before, err = before(rows, blank); err != nil {
		return Begin{}, err
	}
	if blank.Before != nil {
		in.Before = blank.Before.Findings
	}
	return Begin{blank, in.Facts}, nil
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
func (s *Service) SaveInspection(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	in InspectionEdit,
) (InspectionView, error) {
	row, err := s.keeper.Store.InspectionByID(ctx, id)
	if err != nil {
		return InspectionView{}, fmt.Errorf("finding the inspection: %w", err)
	}
	now := s.keeper.Now()
	at, err := s.keeper.AtPool(ctx, a, row.PoolID, now)
	if err != nil {
		return InspectionView{}, err
	}
	var errs figure.FieldErrors
	for item, text := range inspection.Wrong(in.Answers) {
		errs.Add("answers."+string(item), text)
	}
	for item, x := range in.Answers {
		if len(x.Note) > 500 {
			errs.Add("answers."+string(item), "app.a-note-of-500-letters")
		}
	}
	if len(errs) > 0 {
		return InspectionView{}, errs
	}
	if row.ClosedAt != nil || row.Version != in.Version {
		out, err := s.inspectionView(ctx, a, row)
		return out, errors.Join(store.ErrVersion, err)
	}
	findings, err := inspection.Judge(installation(at, now), in.Answers)
	if err != nil {
		return InspectionView{}, judge.Unsolved(err)
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
			made := a.When(now)
			row.ClosedAt = &made
		}
		_, err := s.keeper.Store.SaveInspection(ctx, row)
		return err
	})
	if err != nil && !errors.Is(err, store.ErrVersion) {
		return InspectionView{}, fmt.Errorf("keeping the inspection: %w", err)
	}
	kept, bad := s.keeper.Store.InspectionByID(ctx, id)
	if bad != nil {
		return InspectionView{}, fmt.Errorf("reading the inspection again: %w", bad)
	}
	out, bad := s.inspectionView(ctx, a, kept)
	return out, errors.Join(err, bad)
}

// carryOver writes what was read into the equipment and what was measured into the pad's
// description.
func (s *Service) carryOver(
	ctx context.Context,
	a access.Actor,
	at *standing.Site,
	row store.Inspection,
	answers inspection.Answers,
) error {
	pool := row.PoolID
	if year := answers["anode-year"].Value; year != nil {
		if err := s.anodeInPlace(ctx, a, at, row, int(*year)); err != nil {
			return err
		}
	}
	was, err := padwork.New(s.keeper).PoolPad(ctx, a, pool)
	if err != nil {
		return err
	}
	doc := inspection.Into(was.Document, answers)
	if len(pad.Diff(was.Document, doc)) == 0 {
		return nil
	}
	if _, err := padwork.New(s.keeper).SavePad(ctx, a, pool,
		padwork.PadChange{BasedOn: was.Revision, Reason: store.ReasonDescription, Note: "app.pad-follows.measured",
			Document: doc}); err != nil {
		return fmt.Errorf("carrying the measurements over: %w", err)
	}
	return nil
}

// anodeInPlace puts the anode that was found into the equipment, unless it is there.
func (s *Service) anodeInPlace(
	ctx context.Context,
	a access.Actor,
	at *standing.Site,
	row store.Inspection,
	year int,
) error {
	if year > s.keeper.Now().In(at.Company.Zone).Year() {
		return nil
	}
	in := equipment.PartChange{
		ID:    uuid.NewSHA1(row.ID, []byte(upkeep.Anode)),
		Act:   "install",
		Kind:  upkeep.Anode,
		Model: "As found",
		On:    fmt.Sprintf("%d-01-01", year),
		Note:  "app.anode-year-read",
	}
	for _, e := range at.Parts {
		if e.Kind != upkeep.Anode {
			continue
		}
		if e.InstalledOn != nil && e.InstalledOn.Year() >= year {
			return nil
		}
		in.Act, in.Part = "replace", &e.ID
	}
	if err := equipment.New(s.keeper).ChangePart(ctx, a, row.PoolID, in); err != nil {
		return fmt.Errorf("carrying the anode over: %w", err)
	}
	return nil
}
