package visit

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fairlap/internal/app/company"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"fairlap/core/casefile"
	"fairlap/core/diagnosis"
	"fairlap/core/fault"
	"fairlap/core/figure"
	"fairlap/core/judge"
	"fairlap/core/pad"
	"fairlap/core/plumbing"
	"fairlap/core/stop"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/access"
	"fairlap/internal/app/standing"
	"fairlap/internal/store"
)

// Work is one piece of work done at a visit.
type Work struct {
	Kind string `json:"kind" enum:"cleaned,basket,skimmer,lid-seal,handle,level,part,other"`
	Note string `json:"note" maxLength:"500"`
}

// VisitDraft is a visit as it is closed on the device.
type VisitDraft struct {
	ID           uuid.UUID           `json:"id" format:"uuid" doc:"made by whoever writes the visit, so that a repeated save is one save"`
	StopID       uuid.UUID           `json:"stopId" format:"uuid"`
	PoolID       *uuid.UUID          `json:"poolId,omitempty" format:"uuid" doc:"the stop's pool, so that a server that does not know the stop any more takes the visit"`
	ArrivedAt    time.Time           `json:"arrivedAt"`
	ClosedAt     time.Time           `json:"closedAt"`
	Findings     judge.Findings      `json:"findings"`
	After        *judge.TypedReading `json:"after,omitempty" doc:"read at the same speed after a cleaning"`
	Works        []Work              `json:"works" maxItems:"20" nullable:"false"`
	ChemicalsAt  *time.Time          `json:"chemicalsAt,omitempty"`
	PrimeSeconds *float64            `json:"primeSeconds,omitempty" doc:"the pot took to fill"`
	DrainSeconds *float64            `json:"drainSeconds,omitempty" doc:"a filter element took to drain"`
	Confirmed    string              `json:"confirmed" maxLength:"60" doc:"a fault's id, \"nothing\", \"open:\" and a fault's id, or empty"`
	ConfirmedHow string              `json:"confirmedHow" maxLength:"500"`
	Note         string              `json:"note" maxLength:"4000"`
	Corrects     *uuid.UUID          `json:"corrects,omitempty" format:"uuid" doc:"the visit that this one corrects"`
	LeftReason   string              `json:"leftReason,omitempty" maxLength:"500" doc:"why the pad is left unlike daily use, where it is"`
}

// hash tells two drafts of one id apart.
func (d VisitDraft) hash() string {
	d.PoolID = nil          // says nothing that the stop does not
	b, _ := json.Marshal(d) // plain data: cannot fail
	sum := sha256.Sum256(b)
	return hex.EncodeToString(sum[:])
}

// VisitRecord is a visit on record.
type VisitRecord struct {
	ID           string          `json:"id"`
	PoolID       string          `json:"poolId"`
	StopID       string          `json:"stopId" doc:"empty: no stop of a lap"`
	Street       string          `json:"street"`
	Technician   string          `json:"technician"`
	ArrivedAt    time.Time       `json:"arrivedAt"`
	ClosedAt     time.Time       `json:"closedAt"`
	Readings     []PhaseReading  `json:"readings" nullable:"false"`
	Signs        map[string]bool `json:"signs"`
	Works        []Work          `json:"works" nullable:"false"`
	Cleaned      bool            `json:"cleaned"`
	ChemicalsAt  *time.Time      `json:"chemicalsAt"`
	PrimeSeconds *float64        `json:"primeSeconds"`
	DrainSeconds *float64        `json:"drainSeconds"`
	Confirmed    string          `json:"confirmed"`
	ConfirmedAs  words.Message   `json:"confirmedAs" doc:"in words"`
	ConfirmedHow string          `json:"confirmedHow"`
	Note         string          `json:"note"`
	Load         *float64        `json:"load"`
	LoadAfter    *float64        `json:"loadAfter"`
	Rejudged     *time.Time      `json:"rejudged,omitempty" doc:"when its loads were judged again, since its clean line was called off"`
	LeftOpen     words.Message   `json:"leftOpen" doc:"what was left unlike daily use, and why; empty: nothing"`
	Corrects     string          `json:"corrects"`
	CorrectedBy  string          `json:"correctedBy"`
	TakenBack    *time.Time      `json:"takenBack" doc:"by whoever made it: it counts for nothing"`
	Verdict      *judge.Verdict  `json:"verdict,omitempty" doc:"the diagnosis as it was shown"`
}

// PhaseReading is a reading of a visit: as found, or after a cleaning.
type PhaseReading struct {
	Phase string `json:"phase" enum:"found,after"`
	casefile.Reading
}

// SaveVisit closes a stop. The same draft saved twice is one visit; the second
// answer is the first one's record. Nothing on record changes.
func (s *Service) SaveVisit(ctx context.Context, a access.Actor, d VisitDraft) (VisitRecord, error) {
	hash := d.hash()
	pool := uuid.Nil
	if d.PoolID != nil {
		pool = *d.PoolID
	}
	if st, _, err := s.keeper.StopFor(ctx, a, d.StopID, pool, d.ArrivedAt); err == nil {
		d.StopID = st.ID
	} else if !errors.Is(err, store.ErrNotFound) {
		return VisitRecord{}, err
	}
	at, err := s.keeper.AtStop(ctx, a, d.StopID, d.ClosedAt)
	if err != nil {
		return VisitRecord{}, err
	}
	if err := s.checkDraft(ctx, at, d); err != nil {
		return VisitRecord{}, err
	}
	found := d.found(a.Name)
	verdict, res, err := at.Judge(found, d.ClosedAt, d.ChemicalsAt)
	var typed figure.FieldErrors
	if errors.As(err, &typed) {
		for i := range typed {
			if after, ok := strings.CutPrefix(typed[i].Field, "cleaned."); ok {
				typed[i].Field = after
				continue
			}
			typed[i].Field = "findings." + typed[i].Field
		}
	}
	if err != nil {
		return VisitRecord{}, err
	}
	left, err := d.leaves(at, found, &verdict)
	if err != nil {
		return VisitRecord{}, err
	}
	shown, err := json.Marshal(verdict)
	if err != nil {
		return VisitRecord{}, fmt.Errorf("writing the diagnosis down: %w", err)
	}
	v := store.Visit{
		ID:            d.ID,
		PoolID:        at.Planned.PoolID,
		StopID:        &d.StopID,
		TechnicianID:  a.ID,
		ArrivedAt:     d.ArrivedAt,
		ClosedAt:      d.ClosedAt,
		CorrectsID:    d.Corrects,
		Note:          d.Note,
		Confirmed:     d.Confirmed,
		ConfirmedHow:  d.ConfirmedHow,
		ChemicalsAt:   d.ChemicalsAt,
		PlumbingID:    at.Record.Plumbing.ID,
		EngineVersion: diagnosis.EngineVersion,
		Diagnosis:     shown,
		LeftOpen:      left,
		ContentHash:   hash,
		RecordedAt:    s.keeper.Now(),
	}
	if at.Record.CleanLine != nil {
		v.CleanLineID = &at.Record.CleanLine.ID
	}
	at.Cached.Unit(&v)
	if res.AsFoundKnown {
		v.LoadMean, v.LoadSD = &res.AsFound.Mean, &res.AsFound.SD
	}
	// What a cleaning left is what the bench says of the reading after it.
	after := func(*plumbing.Model, diagnosis.Reading) (upkeep.Belief, error) { return res.Observed, nil }
	if err := fill(&v, d, at.Cached.Model, after); err != nil {
		return VisitRecord{}, err
	}
	if v.Cleaned && v.AfterMean == nil && res.Known && res.Changed != nil {
		v.AfterMean, v.AfterSD = &res.Observed.Mean, &res.Observed.SD
	}
	var kept store.Visit
	if err := s.inTx(ctx, func(s *Service) (err error) {
		kept,
			err = s.keeper.Store.SaveVisit(ctx, v)
		return err
	}); err != nil {
		return VisitRecord{}, fmt.Errorf("keeping the visit: %w", err)
	}
	return View(kept, at.Record.Pool.Name(), a.Name, at.Cached.Model.Doc.Filter.Kind, true), nil
}

// found are the findings with the cleaning that the log has, and what was read after it.
func (d *VisitDraft) found(who string) judge.Findings {
	f := d.Findings.SignedBy(who)
	if !slices.ContainsFunc(d.Works, func(w Work) bool { return w.Kind == "cleaned" }) {
		return f
	}
	by := judge.CleanedBy{At: d.ClosedAt}
	if f.Cleaned != nil {
		by = *f.Cleaned
	}
	if d.After != nil {
		by.After = d.After
	}
	f.Cleaned = &by
	return f
}

// leaves is what the visit leaves unlike daily use; nil for nothing. It takes a reason: a stop is
// not closed over it in silence.
func (d *VisitDraft) leaves(at *standing.Site, found judge.Findings, v *judge.Verdict) (json.RawMessage, error) {
	open := v.Stop.Open
	if len(open) == 0 {
		return nil, nil
	}
	reason := strings.TrimSpace(d.LeftReason)
	if reason == "" {
		return nil, figure.Wrong("leftReason", words.Of("app.left-open-needs-reason", "open", words.Msg(open[0].Says)))
	}
	st, err := at.State(found)
	if err != nil {
		return nil, err
	}
	text, err := json.Marshal(stop.Left{State: st.Pad, Open: open, Reason: reason})
	if err != nil {
		return nil, fmt.Errorf("writing down what is left open: %w", err)
	}
	return text, nil
}

// fill takes a draft's readings, signs and work in, and what the reading after a
// cleaning says.
func fill(
	v *store.Visit,
	d VisitDraft,
	m *plumbing.Model,
	observe func(*plumbing.Model, diagnosis.Reading) (upkeep.Belief, error),
) error {
	rows, err := d.Findings.Parse(m)
	if err != nil {
		return err
	}
	for _, t := range rows {
		v.Readings = append(v.Readings, StoredRow(len(v.Readings), "found", judge.Engine(t.Reading)))
	}
	for id, yes := range d.Findings.Signs {
		v.Signs = append(v.Signs, store.VisitSign{Sign: id, Yes: yes})
	}
	v.PrimeS, v.DrainS = d.PrimeSeconds, d.DrainSeconds
	for i, w := range d.Works {
		v.Works = append(v.Works, store.VisitWork{Seq: i, Kind: w.Kind, Note: w.Note})
		v.Cleaned = v.Cleaned || w.Kind == "cleaned"
	}
	after := d.After
	if after == nil || after.Empty() {
		return nil
	}
	r, bad := judge.ParseReading("after", *after, m)
	if len(bad) == 0 && r.RPM == 0 {
		bad.Add("after.speed", "app.read-it-with-the-pump-2")
	}
	if !v.Cleaned {
		bad.Add("after.tank", "app.a-reading-after-cleaning-needs")
	}
	if len(bad) > 0 {
		return bad
	}
	load, err := observe(m, judge.Engine(r))
	if err != nil {
		return err
	}
	v.AfterMean, v.AfterSD = &load.Mean, &load.SD
	v.Readings = append(v.Readings, StoredRow(len(v.Readings), "after", judge.Engine(r)))
	return nil
}

// longestVisit is how long somebody may be at a pool.
const longestVisit = 24 * time.Hour

func (s *Service) checkDraft(ctx context.Context, at *standing.Site, d VisitDraft) error {
	var errs figure.FieldErrors
	if d.ID == uuid.Nil {
		errs.Add("id", "app.the-visit-needs-an-id")
	}
	if d.ClosedAt.Before(d.ArrivedAt) {
		errs.Add("closedAt", "app.the-visit-ends-before-it")
	}
	if d.ClosedAt.Sub(d.ArrivedAt) > longestVisit {
		errs.Add("arrivedAt", "app.a-visit-is-over-within-a-day")
	}
	var off figure.FieldErrors
	if errors.As(access.Believable("closedAt", d.ClosedAt, s.keeper.Now()), &off) {
		errs = append(errs, off...)
	}
	if c := d.Confirmed; c != "" && c != standing.NothingFound {
		if _, ok := fault.LookUp(fault.ID(strings.TrimPrefix(c, standing.OpenConfirmed)),
			at.Cached.Model.Doc.Filter.Kind); !ok {
			errs.Add("confirmed", "app.this-fault-is-not-known")
		}
	}
	if d.ChemicalsAt != nil && d.ChemicalsAt.After(d.ClosedAt.Add(time.Minute)) {
		errs.Add("chemicalsAt", "app.chemicals-can-t-have-gone")
	}
	if s := d.PrimeSeconds; s != nil && !(*s >= 1 && *s <= 1800) {
		errs.Add("primeSeconds", "app.seconds-until-the-pot-was")
	}
	if s := d.DrainSeconds; s != nil && !(*s >= 1 && *s <= 3600) {
		errs.Add("drainSeconds", "app.seconds-until-the-element-was")
	}
	if len(errs) > 0 {
		return errs
	}
	if d.Corrects == nil {
		return nil
	}
	if back, err := s.keeper.Store.TakenBack(ctx, []uuid.UUID{*d.Corrects}); err != nil || len(back) > 0 {
		return cmp.Or(err, error(figure.Wrong("corrects", "app.the-visit-to-correct-is")))
	}
	old, err := s.keeper.Store.VisitByID(ctx, *d.Corrects)
	if errors.Is(err, store.ErrNotFound) || (err == nil && old.PoolID != at.Planned.PoolID) {
		return figure.Wrong("corrects", "app.the-visit-to-correct-is")
	}
	return err
}

// StoredRow is a reading as the record keeps it, SI.
func StoredRow(seq int, phase string, r diagnosis.Reading) store.VisitReading {
	row := store.VisitReading{Seq: seq, Phase: phase, Setting: string(r.Setting), SpeedRPM: float64(r.Speed)}
	for m, p := range map[pad.Meter]**float64{pad.MeterTank: &row.TankPa, pad.MeterVacuum: &row.VacuumPa,
		pad.MeterFlow: &row.FlowM3s, pad.MeterPower: &row.PowerW} {
		if x, ok := r.Value(m); ok {
			*p = &x
		}
	}
	return row
}

// TradeRow is a reading of the record in the trade's units.
func TradeRow(r store.VisitReading) casefile.Reading {
	si := func(m pad.Meter, p *float64) *float64 {
		return judge.As(p, func(v float64) float64 { return judge.InTrade(m, v) })
	}
	return casefile.Reading{
		RPM:        r.SpeedRPM,
		Setting:    r.Setting,
		TankPsi:    si(pad.MeterTank, r.TankPa),
		VacuumInHg: si(pad.MeterVacuum, r.VacuumPa),
		FlowGPM:    si(pad.MeterFlow, r.FlowM3s),
		PowerW:     si(pad.MeterPower, r.PowerW),
	}
}

// View is a visit of the record in words; its verdict as it was shown, where it is asked
// for.
func View(v store.Visit, street, technician string, kind pad.FilterKind, withVerdict bool) VisitRecord {
	out := VisitRecord{
		ID:           v.ID.String(),
		PoolID:       v.PoolID.String(),
		StopID:       company.IDOr(v.StopID),
		Street:       street,
		Technician:   technician,
		ArrivedAt:    v.ArrivedAt,
		ClosedAt:     v.ClosedAt,
		Readings:     []PhaseReading{},
		Signs:        map[string]bool{},
		Works:        []Work{},
		Cleaned:      v.Cleaned,
		ChemicalsAt:  v.ChemicalsAt,
		Confirmed:    v.Confirmed,
		ConfirmedHow: v.ConfirmedHow,
		Note:         v.Note,
		LoadAfter:    v.AfterMean,
		Rejudged:     v.Rejudged,
		PrimeSeconds: v.PrimeS,
		DrainSeconds: v.DrainS,
	}
	if left := standing.LeftOf(&v); left != nil {
		out.LeftOpen = words.Of("app.left-because", "left", words.Msg(left.Says()), "reason", words.Name(left.Reason))
	}
	if standing.BeliefOf(v.LoadMean, v.LoadSD).Tells() {
		out.Load = v.LoadMean
	}
	switch id, open := strings.CutPrefix(v.Confirmed, standing.OpenConfirmed); {
	case v.Confirmed == standing.NothingFound:
		out.ConfirmedAs = "app.nothing-found"
	case v.Confirmed != "":
		if f, ok := fault.LookUp(fault.ID(id), kind); ok {
			out.ConfirmedAs = f.Name
		}
		if open {
			out.ConfirmedAs = words.Of("app.suspect-open-2", "fault", words.Msg(out.ConfirmedAs))
		}
	}
	if v.CorrectsID != nil {
		out.Corrects = v.CorrectsID.String()
	}
	for _, r := range v.Readings {
		out.Readings = append(out.Readings, PhaseReading{Phase: r.Phase, Reading: TradeRow(r)})
	}
	for _, sg := range v.Signs {
		out.Signs[sg.Sign] = sg.Yes
	}
	for _, w := range v.Works {
		out.Works = append(out.Works, Work{Kind: w.Kind, Note: w.Note})
	}
	if withVerdict && v.EngineVersion != "" {
		var verdict judge.Verdict
		if json.Unmarshal(v.Diagnosis, &verdict) == nil {
			out.Verdict = &verdict
		}
	}
	return out
}

// Visit shows one visit of the record.
func (s *Service) Visit(ctx context.Context, a access.Actor, id uuid.UUID) (VisitRecord, error) {
	v, err := s.keeper.Store.VisitByID(ctx, id)
	if err != nil {
		return VisitRecord{}, fmt.Errorf("finding the visit: %w", err)
	}
	p, err := s.keeper.SeePool(ctx, a, v.PoolID)
	if err != nil {
		return VisitRecord{}, err
	}
	names, err := s.keeper.Names(ctx)
	if err != nil {
		return VisitRecord{}, err
	}
	kind, err := s.keeper.KindOf(ctx, p.ID)
	if err != nil {
		return VisitRecord{}, err
	}
	back, err := s.keeper.Store.TakenBack(ctx, []uuid.UUID{id})
	out := View(v, p.Name(), names[v.TechnicianID], kind, true)
	if at, ok := back[id]; ok {
		out.TakenBack = &at
	}
	return out, err
}

// MayTakeBack is how long a visit may be taken back after it came on record. What the
// screen shows is shorter, so that a slow line does not refuse what it offered.
const MayTakeBack = 90 * time.Second

// TakeBack takes a visit back for whoever made it, as long as it is fresh. It stays on
// record, marked as such.
func (s *Service) TakeBack(ctx context.Context, a access.Actor, id uuid.UUID) (VisitRecord, error) {
	v, err := s.keeper.Store.VisitByID(ctx, id)
	if err != nil {
		return VisitRecord{}, fmt.Errorf("finding the visit: %w", err)
	}
	if _, err := s.keeper.SeePool(ctx, a, v.PoolID); err != nil {
		return VisitRecord{}, err
	}
	if v.TechnicianID != a.ID {
		return VisitRecord{}, access.ErrForbidden
	}
	now := s.keeper.Now()
	back, err := s.keeper.Store.TakenBack(ctx, []uuid.UUID{id})
	if err != nil {
		return VisitRecord{}, fmt.Errorf("reading what was taken back: %w", err)
	}
	if _, did := back[id]; !did {
		if now.Sub(v.RecordedAt) > MayTakeBack {
			return VisitRecord{}, ErrStands
		}
		gone := store.VisitTakenBack{VisitID: id, PoolID: v.PoolID, MadeBy: a.ID, MadeAt: now}
		err := s.inTx(ctx, func(s *Service) error { return s.keeper.Store.TakeBackVisit(ctx, gone) })
		if errors.Is(err, store.ErrVersion) {
			return VisitRecord{}, ErrStands
		}
		if err != nil {
			return VisitRecord{}, fmt.Errorf("taking the visit back: %w", err)
		}
	}
	return s.Visit(ctx, a, id)
}

// ErrStands is that a visit can't be taken back any more: a correction is the way.
var ErrStands = errors.New("the visit stands")
