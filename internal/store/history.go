package store

import (
	"context"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
)

// LogRow is one entry of a pool's log: a visit, a run, what was done to a part, a
// note, a picture, a revision of the pad, a clean line, a decision about due work, an
// inspection. At is when it was; What and Detail are its own codes and words.
type LogRow struct {
	Kind   string
	ID     uuid.UUID
	At     time.Time
	By     *uuid.UUID
	What   string
	Detail string
	// Received is when it came in, where that was later than it was made.
	Received *time.Time
}

// LogPart parts what a log's detail is made of.
const LogPart = "\x1f" // chr(31)

// logKinds is each kind of entry as rows of (kind, id, at, by, received, what, detail, letters);
// a detail of several has them parted by LogPart:
// $1 is the pool, $2 the company's zone. letters is what a search goes through.
var logKinds = map[string]string{
	"visit": `select 'visit', id, closed_at, technician_id, case when recorded_at > closed_at + interval '5 minutes' then recorded_at end, confirmed, note, confirmed || ' ' || confirmed_how || ' ' || note
		|| case when cleaned then ' filter cleaned' else '' end || case when chemicals_at is not null then ' chemicals' else '' end
		|| coalesce((select string_agg(' ' || w.kind || ' ' || w.note, '') from visit_works w where w.visit_id = visits.id), '')
		|| coalesce((select string_agg(' ' || replace(g.sign, '-', ' '), '') from visit_signs g where g.visit_id = visits.id and g.yes), '') from visits where pool_id = $1`,
	"run": `select 'run', id, started_at, started_by, received_at, procedure, coalesce(script->>'name', ''), procedure || ' ' || coalesce(script->>'name', '') from runs where pool_id = $1`,
	"part": `select 'part', v.id, (v.happened_on + time '12:00') at time zone $2, v.made_by, v.received_at, v.act, e.kind || chr(31) || e.model || chr(31) || v.note,
		v.act || ' ' || e.kind || ' ' || replace(e.kind, '-', ' ') || ' ' || e.model || ' ' || e.serial || ' ' || v.note || coalesce((select ' ' || o.model from equipment o where o.id = v.replaces), '')
		from equipment_events v join equipment e on e.id = v.equipment_id where v.pool_id = $1`,
	"note":       `select 'note', id, made_at, made_by, received_at, '', text, text from notes where pool_id = $1`,
	"photo":      `select 'photo', id, taken_at, made_by, received_at, case when gone_at is null then '' else 'gone' end, case when gone_at is null then caption else gone_why end, caption || ' picture' from photos where pool_id = $1`,
	"pad":        `select 'pad', id, created_at, created_by, null::timestamptz, reason, note, 'pad revision ' || note from plumbing where pool_id = $1 and revision > 1`,
	"clean-line": `select 'clean-line', id, taken_at, created_by, null::timestamptz, '', note, 'clean line ' || note from clean_lines where pool_id = $1`,
	"inspection": `select 'inspection', id, coalesce(closed_at, started_at), started_by, received_at, case when closed_at is null then 'open' else 'closed' end, jsonb_array_length(findings)::text, 'inspection ' || findings::text from inspections where pool_id = $1`,
	"due":        `select 'due', id, made_at, made_by, received_at, act, item || chr(31) || reason, act || ' ' || replace(item, '-', ' ') || ' ' || reason from due_marks where pool_id = $1`,
}

// History lists a pool's log from a cursor on, newest first: of all kinds or of some, and
// only what holds every word that is looked for.
func (s *Store) History(
	ctx context.Context,
	pool uuid.UUID,
	zone string,
	from Cursor,
	kinds, words []string,
	limit int,
) ([]LogRow, error) {
	var parts []string
	for _, k := range kinds {
		q, ok := logKinds[k]
		if !ok {
			return nil, fmt.Errorf("a log has no entries of kind %q", k)
		}
		parts = append(parts, q)
	}
	args := []any{pool.String(), zone, from.At, limit, from.ID.String()}
	where := "(at, id) < ($3, $5::uuid) and $2::text is not null"
	for _, w := range words {
		args = append(args, "%"+likely(w)+"%")
		where += fmt.Sprintf(" and letters ilike $%d", len(args))
	}
	rows, err := s.query(
		ctx,
		"select kind, id, at, by, received, what, detail from ("+strings.Join(parts, " union all ")+
			") l (kind, id, at, by, received, what, detail, letters) where "+where+" order by at desc, id desc limit $4",
		args...)
	if err != nil {
		return nil, err
	}
	defer rows.Close()
	var out []LogRow
	for rows.Next() {
		var r LogRow
		var by *[16]byte
		if err := rows.Scan(&r.Kind, (*[16]byte)(&r.ID), &r.At, &by, &r.Received, &r.What, &r.Detail); err != nil {
			return nil, err
		}
		if by != nil {
			id := uuid.UUID(*by)
			r.By = &id
		}
		out = append(out, r)
	}
	return out, rows.Err()
}

// LogKinds are the kinds of entry that a log has.
func LogKinds() []string {
	return []string{"visit", "run", "part", "note", "photo", "pad", "clean-line", "due", "inspection"}
}

// VisitsByID finds visits with their rows, and for each corrected one the visit that
// corrects it.
func (s *Store) VisitsByID(ctx context.Context, ids []uuid.UUID) (map[uuid.UUID]Visit, map[uuid.UUID]uuid.UUID, error) {
	var vs []Visit
	if err := s.withRows(ctx).Omit("Diagnosis").Find(&vs, "id in ?", ids).Error; err != nil {
		return nil, nil, err
	}
	if err := s.rejudged(ctx, vs); err != nil {
		return nil, nil, err
	}
	out := make(map[uuid.UUID]Visit, len(vs))
	for _, v := range vs {
		out[v.ID] = v
	}
	var fixes []Visit
	if err := s.db.WithContext(ctx).Select("id", "corrects_id").Find(&fixes, "corrects_id in ?",
		ids).Error; err != nil {
		return nil, nil, err
	}
	by := map[uuid.UUID]uuid.UUID{}
	for _, f := range fixes {
		by[*f.CorrectsID] = f.ID
	}
	return out, by, nil
}

// likely escapes what a pattern would take for its own.
func likely(letters string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(letters)
}
