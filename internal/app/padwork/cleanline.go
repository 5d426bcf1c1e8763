package padwork

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// WalkPoint is one reading of a speed walk beside the line fitted to the walk.
type WalkPoint struct {
	RPM    float64 `json:"rpm"`
	Meter  string  `json:"meter" enum:"tank,vacuum,flow,power"`
	Unit   string  `json:"unit"`
	Read   float64 `json:"read"`
	Fitted float64 `json:"fitted"`
	Off    float64 `json:"off" doc:"how many of the meter's own deviations it lies off the line"`
}

// FittedLine is what each meter says along the speeds.
type FittedLine struct {
	Meter  string      `json:"meter" enum:"tank,vacuum,flow,power"`
	Unit   string      `json:"unit"`
	Points []LineValue `json:"points" nullable:"false"`
}

// LineValue is a fitted value with its spread.
type LineValue struct {
	RPM   float64 `json:"rpm"`
	Value float64 `json:"value"`
	SD    float64 `json:"sd"`
}

// PinnedDown is a fitted quantity: how far it lies from the description, and how
// sure that is.
type PinnedDown struct {
	ID     string  `json:"id" enum:"suction,return,media,head,idle,base,per-flow"`
	Factor float64 `json:"factor" doc:"times the description's figure"`
	Before float64 `json:"before" doc:"one deviation before any reading, as a share"`
	After  float64 `json:"after"`
	// Unlikely: the description, a meter or the pad is not what it is taken for.
	Unlikely bool `json:"unlikely"`
}

// OddView is the reading that disagrees with the rest.
type OddView struct {
	RPM    float64 `json:"rpm"`
	Meter  string  `json:"meter" enum:"tank,vacuum,flow,power"`
	Unit   string  `json:"unit"`
	Read   float64 `json:"read"`
	Rest   float64 `json:"rest" doc:"what the others say it should be"`
	Strays float64 `json:"strays"`
}

// NextView is the reading that would pin the pad down best.
type NextView struct {
	RPM    float64 `json:"rpm"`
	Meter  string  `json:"meter" enum:"tank,vacuum,flow,power"`
	Pins   string  `json:"pins" enum:"suction,return,media,head,idle,base,per-flow"`
	Before float64 `json:"before"`
	After  float64 `json:"after"`
}

// WalkFit is a speed walk with the line through it.
type WalkFit struct {
	Points []WalkPoint  `json:"points" nullable:"false"`
	Lines  []FittedLine `json:"lines" nullable:"false"`
	Pinned []PinnedDown `json:"pinned" nullable:"false"`
	RMS    float64      `json:"rms" doc:"root mean square of the points' deviations; about 1 for a sound walk"`
	Odd    *OddView     `json:"odd"`
	Next   *NextView    `json:"next"`
	Speeds int          `json:"speeds" doc:"different speeds in the walk"`
	// At are the fitted pad's own figures at each speed of the walk, clean.
	At        []SpeedFigures `json:"at" nullable:"false"`
	OtherPump bool           `json:"otherPump" doc:"the fit needs what no pad has: the pump is another one than the description's"`
}

// SpeedFigures are what a speed gives for its power.
type SpeedFigures struct {
	RPM          float64 `json:"rpm"`
	GPM          float64 `json:"gpm"`
	W            float64 `json:"w"`
	AmpsLow      float64 `json:"ampsLow" doc:"at 230 V, of what a drive may draw beside its power"`
	AmpsHigh     float64 `json:"ampsHigh"`
	GalPerKWh    float64 `json:"galPerKwh"`
	TurnoverCost float64 `json:"turnoverCost" doc:"power to turn the pool over once, in money; 0 where its volume is not known"`
	Programmed   bool    `json:"programmed" doc:"the pump's day has this speed"`
}

// mainsVolts is the voltage that amps are worked out by, and the least and best power factors of a pump's drive or
// motor: between them amps can't be told from power (common practice; a clamp meter rules).
const mainsVolts, leastFactor, bestFactor = 230, 0.6, 0.98

// figures are a fitted pad's figures at the speeds of a walk.
func (f *WalkFit) figures(m *plumbing.Model, walk []pad.Reading, gallons, price float64) error {
	s := m.Solver()
	seen := map[units.Speed]bool{}
	for _, r := range walk {
		if seen[r.Speed] {
			continue
		}
		seen[r.Speed] = true
		st, err := s.Solve(pad.Operation{Speed: r.Speed}, plumbing.Effects{})
		if err != nil {
			return judge.Unsolved(err)
		}
		at := SpeedFigures{
			RPM:      float64(r.Speed),
			GPM:      st.Flow.GPM(),
			W:        float64(st.Power),
			AmpsLow:  float64(st.Power) / mainsVolts / bestFactor,
			AmpsHigh: float64(st.Power) / mainsVolts / leastFactor,
		}
		if at.W > 0 {
			at.GalPerKWh = at.GPM * 60 / at.W * 1000
		}
		if at.GalPerKWh > 0 {
			at.TurnoverCost = gallons / at.GalPerKWh * price
		}
		at.Programmed = slices.ContainsFunc(m.Doc.Programme, func(p pad.Slot) bool { return p.RPM == at.RPM })
		f.At = append(f.At, at)
	}
	return nil
}

// otherPump tells of a fitted quantity that no pad has: a suction of four times the
// description's resistance, or a head a quarter off its curve (ours).
func otherPump(p plumbing.Pinned) bool {
	switch p.Parameter {
	case "suction":
		return p.Factor > 4 || p.Factor < 0.25
	case "head":
		return p.Factor > 1.25 || p.Factor < 0.75
	}
	return false
}

// parseWalk turns a typed walk into readings, every mistake named.
func parseWalk(rows []judge.TypedReading, m *plumbing.Model) ([]pad.Reading, error) {
	var errs figure.FieldErrors
	var out []pad.Reading
	for i, t := range rows {
		if t.Empty() && strings.TrimSpace(t.Speed) == "" {
			continue
		}
		path := fmt.Sprintf("readings[%d]", i)
		r, bad := judge.ParseReading(path, t, m)
		errs = append(errs, bad...)
		switch {
		case len(bad) > 0:
		case r.RPM == 0:
			errs.Add(path+".speed", "app.a-clean-line-is-walked")
		case r.Setting != string(pad.SetFilter):
			errs.Add(path+".setting", "app.a-clean-line-is-walked-2")
		case !t.Empty(): // else the row was only begun
			out = append(out, r.Meters())
		}
	}
	if len(errs) > 0 {
		return nil, errs
	}
	return out, nil
}

// TryWalk fits a speed walk without keeping it.
func (s *Service) TryWalk(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	rows []judge.TypedReading,
) (WalkFit, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return WalkFit{}, err
	}
	cm, _, c, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return WalkFit{}, err
	}
	walk, err := parseWalk(rows, cm.Model)
	if err != nil {
		return WalkFit{}, err
	}
	return fitWalk(cm.Model.Doc, walk, &c.Settings, units.Volume(p.VolumeM3).Gallons(), c.Office.EnergyPerKWh)
}

func fitWalk(doc pad.Document, walk []pad.Reading, settings *upkeep.Settings, gallons, price float64) (WalkFit, error) {
	m, err := judge.Fit(doc, walk, settings)
	if err != nil {
		return WalkFit{}, fmt.Errorf("fitting the walk: %w", err)
	}
	out := WalkFit{Points: []WalkPoint{}, Lines: []FittedLine{}, Pinned: []PinnedDown{}, At: []SpeedFigures{}}
	if err := out.figures(m, walk, gallons, price); err != nil {
		return out, err
	}
	if m.Fit != nil {
		sum := 0.0
		speeds := map[units.Speed]bool{}
		for _, r := range m.Fit.Residuals {
			out.Points = append(
				out.Points,
				WalkPoint{
					RPM:    float64(r.Speed),
					Meter:  string(r.Meter),
					Unit:   judge.MeterUnits[r.Meter],
					Read:   judge.InTrade(r.Meter, r.Read),
					Fitted: judge.InTrade(r.Meter, r.Fitted),
					Off:    r.Standardised,
				},
			)
			sum += r.Standardised * r.Standardised
			speeds[r.Speed] = true
		}
		out.RMS = math.Sqrt(sum / float64(len(m.Fit.Residuals)))
		out.Speeds = len(speeds)
		if o := m.Fit.Odd; o != nil {
			out.Odd = &OddView{
				RPM:    float64(o.Speed),
				Meter:  string(o.Meter),
				Unit:   judge.MeterUnits[o.Meter],
				Read:   judge.InTrade(o.Meter, o.Read),
				Rest:   judge.InTrade(o.Meter, o.Rest),
				Strays: o.Strays,
			}
		}
		for _, p := range m.Fit.Pinned(m.Params) {
			out.OtherPump = out.OtherPump || otherPump(p)
			out.Pinned = append(
				out.Pinned,
				PinnedDown{
					ID:       string(p.Parameter),
					Factor:   p.Factor,
					Before:   p.Before,
					After:    p.After,
					Unlikely: p.Unlikely(),
				},
			)
		}
	}
	next, err := m.NextReading()
	if err != nil {
		return out, fmt.Errorf("finding the next reading: %w", err)
	}
	if next != nil {
		out.Next = &NextView{
			RPM:    float64(next.Speed),
			Meter:  string(next.Meter),
			Pins:   string(next.Parameter),
			Before: next.Before,
			After:  next.After,
		}
	}
	return out, out.draw(m)
}

// draw follows each meter along the speeds.
func (f *WalkFit) draw(m *plumbing.Model) error {
	low := math.Max(600, m.Doc.Pump.LeastRPM)
	steps := 12
	if m.Doc.Pump.TopRPM-low < 1 {
		steps = 0
	}
	lines := make([]FittedLine, len(pad.AllMeters))
	for k, meter := range pad.AllMeters {
		lines[k] = FittedLine{Meter: string(meter), Unit: judge.MeterUnits[meter], Points: []LineValue{}}
	}
	s := m.Solver()
	for i := range steps + 1 {
		rpm := m.Doc.Pump.TopRPM
		if steps > 0 {
			rpm = low + (m.Doc.Pump.TopRPM-low)*float64(i)/float64(steps)
		}
		op := pad.Operation{Speed: units.Speed(rpm)}
		st, err := s.Solve(op, plumbing.Effects{})
		if err != nil {
			return fmt.Errorf("drawing the line: %w", err)
		}
		wide, err := m.Spread(op, 0)
		if err != nil {
			return fmt.Errorf("drawing the line: %w", err)
		}
		for k, meter := range pad.AllMeters {
			lines[k].Points = append(
				lines[k].Points,
				LineValue{RPM: rpm, Value: judge.InTrade(meter, st.Value(meter)), SD: judge.InTrade(meter, wide[k])},
			)
		}
	}
	f.Lines = lines
	return nil
}

// NewCleanLine is a speed walk to keep as the pad's clean line.
type NewCleanLine struct {
	ID       uuid.UUID            `json:"id" format:"uuid" doc:"made by whoever writes it, so that a repeated save is one save"`
	TakenAt  time.Time            `json:"takenAt"`
	Note     string               `json:"note" maxLength:"500"`
	Readings []judge.TypedReading `json:"readings" maxItems:"12" nullable:"false"`
}

// CleanLineView is a clean line on record.
type CleanLineView struct {
	ID      string    `json:"id"`
	TakenAt time.Time `json:"takenAt"`
	Note    string    `json:"note"`
	By      string    `json:"by"`
	InForce bool      `json:"inForce"`
	Points  int       `json:"points"`
	Fit     WalkFit   `json:"fit"`
	// Withdrawn is who called it off, and why; nil: nobody.
	Withdrawn *WithdrawnView `json:"withdrawn,omitempty"`
}

// WithdrawnView is that a clean line was called off.
type WithdrawnView struct {
	At     time.Time `json:"at"`
	By     string    `json:"by"`
	Reason string    `json:"reason"`
}

// SaveCleanLine keeps a walk as the pad's clean line; the old ones stay.
func (s *Service) SaveCleanLine(
	ctx context.Context,
	a access.Actor,
	id uuid.UUID,
	n NewCleanLine,
) (CleanLineView, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return CleanLineView{}, err
	}
	cm, _, c, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return CleanLineView{}, err
	}
	walk, err := parseWalk(n.Readings, cm.Model)
	if err != nil {
		return CleanLineView{}, err
	}
	now := s.keeper.Now()
	if !access.Reasonable(n.TakenAt) {
		return CleanLineView{}, figure.Wrong("takenAt", access.NotReasonable)
	}
	if n.TakenAt.After(now.Add(5 * time.Minute)) {
		return CleanLineView{}, figure.Wrong("takenAt", "app.a-clean-line-can-t")
	}
	if err := soundWalk(&cm.Model.Doc, n.Readings, walk, &c.Settings); err != nil {
		return CleanLineView{}, err
	}
	fit, err := fitWalk(cm.Model.Doc, walk, &c.Settings, units.Volume(p.VolumeM3).Gallons(), c.Office.EnergyPerKWh)
	if err != nil {
		return CleanLineView{}, err
	}
	if need := cm.Model.Doc.Pump.FewestSpeeds(); fit.Speeds < need {
		return CleanLineView{}, figure.Wrong(
			"readings",
			words.Of("app.a-clean-line-of-this", "need", words.N(need), "speeds", words.N(fit.Speeds)),
		)
	}
	kept := make([]casefile.Reading, len(walk))
	for i, r := range walk {
		kept[i] = storeReading(r)
	}
	b, err := json.Marshal(kept)
	if err != nil {
		return CleanLineView{}, fmt.Errorf("writing the walk down: %w", err)
	}
	whole, _ := json.Marshal(n) // plain data: cannot fail
	sum := sha256.Sum256(whole)
	line := store.CleanLine{
		ID:          n.ID,
		PoolID:      id,
		TakenAt:     n.TakenAt,
		Note:        n.Note,
		Readings:    b,
		CreatedBy:   &a.ID,
		ContentHash: hex.EncodeToString(sum[:]),
	}
	if err := s.inTx(ctx, func(s *Service) (err error) {
		line,
			err = s.keeper.Store.AddCleanLine(ctx, line)
		return err
	}); err != nil {
		return CleanLineView{}, fmt.Errorf("keeping the clean line: %w", err)
	}
	return CleanLineView{
		ID:      line.ID.String(),
		TakenAt: line.TakenAt,
		Note:    line.Note,
		By:      a.Name,
		InForce: true,
		Points:  len(walk),
		Fit:     fit,
	}, nil
}

// soundWalk refuses a walk that can't be a clean line, at the reading to take again: one that
// rises as the speed falls, or that its own fit stands too far from.
func soundWalk(doc *pad.Document, typed []judge.TypedReading, walk []pad.Reading, settings *upkeep.Settings) error {
	rows := make([]int, 0, len(walk)) // of what was typed
	for i, t := range typed {
		if !t.Empty() {
			rows = append(rows, i)
		}
	}
	told := func(m pad.Meter, v float64) words.Arg { return words.Q(judge.MeterUnits[m], judge.InTrade(m, v)) }
	speed := func(i int) words.Arg { return words.Q("rpm", float64(walk[i].Speed)) }
	if r := plumbing.Reversed(doc, walk); r != nil {
		return figure.Wrong(fmt.Sprintf("readings[%d].%s", rows[r.Slow], r.Meter), judge.ReversedWords(walk, r))
	}
	m, err := judge.Fit(*doc, walk, settings)
	if err != nil {
		return err
	}
	r := m.Fit.Refused()
	if r == nil {
		return nil
	}
	for i := range walk {
		if v, ok := walk[i].Value(r.Meter); ok && walk[i].Speed == r.Speed && v == r.Read {
			return figure.Wrong(fmt.Sprintf("readings[%d].%s", rows[i], r.Meter), words.Of("app.line-off",
				"meter", words.Msg(diagnosis.MeterName(r.Meter)), "read", told(r.Meter, r.Read), "at", speed(i),
				"fits", told(r.Meter, r.Fitted)))
		}
	}
	return nil
}

// Withdrawal calls a clean line off.
type Withdrawal struct {
	Reason string `json:"reason" minLength:"1" maxLength:"300"`
}

// WithdrawCleanLine calls a clean line off. The one before counts again, and what was read since is
// judged again by it; the record stays as it was.
func (s *Service) WithdrawCleanLine(ctx context.Context, a access.Actor, id, line uuid.UUID, w Withdrawal) error {
	if _, err := s.keeper.SeePool(ctx, a, id); err != nil {
		return err
	}
	if strings.TrimSpace(w.Reason) == "" {
		return figure.Wrong("reason", "app.line-withdraw-reason")
	}
	lines, err := s.keeper.Store.CleanLinesOf(ctx, id)
	if err != nil {
		return fmt.Errorf("reading the clean lines: %w", err)
	}
	at := slices.IndexFunc(lines, func(l store.CleanLine) bool { return l.ID == line })
	if at < 0 {
		return store.ErrNotFound
	}
	return s.inTx(ctx, func(s *Service) error {
		now := s.keeper.Now()
		gone := store.CleanLineWithdrawn{
			LineID: line, PoolID: id, Reason: strings.TrimSpace(w.Reason), MadeBy: a.ID, MadeAt: now,
		}
		if err := s.keeper.Store.WithdrawCleanLine(ctx, gone); errors.Is(err, store.ErrTaken) {
			return nil // once is once
		} else if err != nil {
			return fmt.Errorf("calling the clean line off: %w", err)
		}
		return s.judgeAgain(ctx, id, line, now)
	})
}

// judgeAgain judges the readings of visits that went by a line that was called off, by the one in
// force now.
func (s *Service) judgeAgain(ctx context.Context, pool, line uuid.UUID, now time.Time) error {
	cm, _, _, err := s.keeper.PadOf(ctx, pool)
	if err != nil {
		return err
	}
	visits, err := s.keeper.Store.VisitsOf(ctx, []uuid.UUID{pool})
	if err != nil {
		return fmt.Errorf("reading the visits: %w", err)
	}
	var again []store.VisitRejudged
	for i := range visits[pool] {
		v := &visits[pool][i]
		if v.CleanLineID == nil || *v.CleanLineID != line {
			continue
		}
		row := store.VisitRejudged{VisitID: v.ID, LineID: line, PoolID: pool, MadeAt: now}
		for phase, to := range map[string][2]**float64{
			"found": {&row.LoadMean, &row.LoadSD}, "after": {&row.AfterMean, &row.AfterSD},
		} {
			b, err := standing.Observed(cm, v, phase)
			if err != nil {
				return err
			}
			if b != nil {
				*to[0], *to[1] = &b.Mean, &b.SD
			}
		}
		if u := cm.Model.LoadUnit(); u > 0 {
			row.LoadUnit = &u
		}
		again = append(again, row)
	}
	if len(again) == 0 {
		return nil
	}
	return s.keeper.Store.Rejudge(ctx, again)
}

func storeReading(r pad.Reading) casefile.Reading {
	get := func(m pad.Meter) *float64 {
		if v, ok := r.Value(m); ok {
			v = judge.InTrade(m, v)
			return &v
		}
		return nil
	}
	return casefile.Reading{
		Setting:    string(pad.SetFilter),
		RPM:        float64(r.Speed),
		TankPsi:    get(pad.MeterTank),
		VacuumInHg: get(pad.MeterVacuum),
		FlowGPM:    get(pad.MeterFlow),
		PowerW:     get(pad.MeterPower),
	}
}

// CleanLines lists a pool's clean lines, newest first, each fitted to the pad as
// it is described now.
func (s *Service) CleanLines(ctx context.Context, a access.Actor, id uuid.UUID) ([]CleanLineView, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return nil, err
	}
	cm, rec, c, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return nil, err
	}
	rows, err := s.keeper.Store.CleanLinesOf(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading the clean lines: %w", err)
	}
	gone, err := s.keeper.Store.WithdrawnLines(ctx, id)
	if err != nil {
		return nil, fmt.Errorf("reading what was called off: %w", err)
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return nil, err
	}
	out := make([]CleanLineView, 0, len(rows))
	for _, r := range rows {
		walk, err := walkOf(r)
		if err != nil {
			return nil, err
		}
		fit, err := fitWalk(cm.Model.Doc, walk, &c.Settings, units.Volume(p.VolumeM3).Gallons(), c.Office.EnergyPerKWh)
		if err != nil {
			return nil, err
		}
		v := CleanLineView{
			ID:      r.ID.String(),
			TakenAt: r.TakenAt,
			Note:    r.Note,
			InForce: rec.CleanLine != nil && rec.CleanLine.ID == r.ID,
			Points:  len(walk),
			Fit:     fit,
		}
		if r.CreatedBy != nil {
			v.By = names[*r.CreatedBy]
		}
		if w, off := gone[r.ID]; off {
			v.Withdrawn = &WithdrawnView{At: w.MadeAt, By: names[w.MadeBy], Reason: w.Reason}
		}
		out = append(out, v)
	}
	return out, nil
}

func walkOf(l store.CleanLine) ([]pad.Reading, error) {
	stored, err := standing.WalkRows(l)
	out := make([]pad.Reading, len(stored))
	for i, sr := range stored {
		out[i] = sr.Meters()
	}
	return out, err
}

// PadFile writes a pool's pad as a file: "json" the document, "inp" the network
// for EPANET at the programme's fastest speed, "csv" the clean line as a walk.
func (s *Service) PadFile(ctx context.Context, a access.Actor, id uuid.UUID, format string) (access.File, error) {
	p, err := s.keeper.SeePool(ctx, a, id)
	if err != nil {
		return access.File{}, err
	}
	cm, rec, _, err := s.keeper.PadOf(ctx, id)
	if err != nil {
		return access.File{}, err
	}
	name := strings.Map(func(r rune) rune {
		if r >= 'a' && r <= 'z' || r >= '0' && r <= '9' {
			return r
		}
		return '-'
	}, strings.ToLower(p.Name()))
	var b bytes.Buffer
	switch format {
	case "inp":
		op := pad.Operation{Speed: units.Speed(judge.FactsOf(cm.Calibrated).UsualRPM), Setting: pad.SetFilter}
		if err := cm.Model.WriteINP(&b, op, 0); err != nil {
			return access.File{}, fmt.Errorf("writing the network: %w", err)
		}
		return access.File{Name: name + ".inp", Type: "text/plain; charset=utf-8", Content: b.Bytes()}, nil
	case "csv":
		if rec.CleanLine == nil {
			return access.File{}, store.ErrNotFound
		}
		walk, err := walkOf(*rec.CleanLine)
		if err != nil {
			return access.File{}, err
		}
		if err := pad.WriteWalk(&b, walk); err != nil {
			return access.File{}, fmt.Errorf("writing the walk: %w", err)
		}
		return access.File{Name: name + "-clean-line.csv", Type: "text/csv; charset=utf-8", Content: b.Bytes()}, nil
	default:
		if err := json.Indent(&b, rec.Plumbing.Document, "", "  "); err != nil {
			return access.File{}, fmt.Errorf("writing the document: %w", err)
		}
		return access.File{Name: name + ".pad.json", Type: "application/json", Content: b.Bytes()}, nil
	}
}

// ReadPadFile reads a pad document, or an EPANET file that we exported.
func (s *Service) ReadPadFile(text string) (pad.Document, error) {
	if strings.HasPrefix(strings.TrimSpace(text), "{") {
		doc, errs := pad.Read(strings.NewReader(text))
		return doc, access.Mistakes("text", errs)
	}
	got, err := plumbing.ReadINP(strings.NewReader(text))
	if err != nil {
		var field *pad.FieldError
		if errors.As(err, &field) {
			return pad.Document{}, access.Mistakes("text", []pad.FieldError{*field})
		}
		return pad.Document{}, figure.Wrong("text", words.Named(err.Error()))
	}
	return got.Model.Doc, nil
}

// ReadWalkFile reads a speed walk into typed readings for the recorder.
func (s *Service) ReadWalkFile(text string) ([]judge.TypedReading, error) {
	walk, errs := pad.ReadWalk(strings.NewReader(text))
	if err := access.Mistakes("text", errs); err != nil {
		return nil, err
	}
	out := make([]judge.TypedReading, len(walk))
	for i, r := range walk {
		say := func(m pad.Meter) string {
			v, ok := r.Value(m)
			if !ok {
				return ""
			}
			return trimmed(judge.InTrade(m, v))
		}
		out[i] = judge.TypedReading{
			Speed:  trimmed(float64(r.Speed)),
			Tank:   say(pad.MeterTank),
			Vacuum: say(pad.MeterVacuum),
			Flow:   say(pad.MeterFlow),
			Power:  say(pad.MeterPower),
		}
	}
	return out, nil
}

func trimmed(v float64) string {
	s := fmt.Sprintf("%.2f", v)
	return strings.TrimRight(strings.TrimRight(s, "0"), ".")
}
