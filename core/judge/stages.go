package judge

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/words"
)

// mostReadings is how many sets of meters one stage is judged by, the last of them.
const mostReadings = 6

// book is the day book of the stop: what the pack has of it, and what was found. A sign that
// a run answered and nobody looked at since is the run's.
func (s *Stop) book(f *Findings, rows []typed) stop.Book {
	out := slices.Clone(s.Book)
	var after *casefile.Reading
	ofRuns := map[fault.Sign]bool{}
	for i := range s.Book {
		if r := s.Book[i].Run; r != nil && r.Over {
			for id := range r.Result.Signs {
				ofRuns[id] = true
			}
		}
	}
	when := func(t *time.Time) time.Time {
		if t == nil {
			return time.Time{}
		}
		return *t
	}
	for i, x := range f.Said {
		out = append(out, stop.Entry{ID: "said-" + strconv.Itoa(i), At: x.At, By: x.By, Kind: stop.Said, Pump: x.Pump})
	}
	for _, t := range rows {
		r := t.Reading
		if t.row < 0 {
			after = &r
			continue
		}
		if !t.set {
			r.Setting = ""
		}
		out = append(out, stop.Entry{
			ID: "read-" + strconv.Itoa(t.row), At: when(t.at), Kind: stop.Read, Reading: &r, Row: t.row,
		})
	}
	listed := map[string]bool{}
	for i, x := range f.Seen {
		listed[x.Sign] = true
		out = append(out, stop.Entry{
			ID: fmt.Sprintf("seen-%s-%03d", x.Sign, i), At: when(x.At), Kind: stop.Seen,
			Sign: fault.Sign(x.Sign), Yes: x.Yes,
		})
	}
	for id, yes := range f.Signs {
		at, dated := f.SignsAt[id]
		if listed[id] {
			continue
		}
		if ofRuns[fault.Sign(id)] && !dated {
			continue
		}
		out = append(out, stop.Entry{ID: "seen-" + id, At: at, Kind: stop.Seen, Sign: fault.Sign(id), Yes: yes})
	}
	ran, read := cleanedByRun(s.Book)
	if d := f.Cleaned; d != nil && !ran {
		work := &casefile.Done{Name: s.cleaning(), Cleaned: true}
		out = append(out, stop.Entry{ID: "cleaned", At: d.At, Kind: stop.Done, Work: work})
	}
	if after != nil && !read {
		out = append(out, stop.Entry{
			ID: "read-after", At: f.Cleaned.At.Add(time.Millisecond), Kind: stop.Read, Reading: after, Row: -1,
		})
	}
	return out
}

// cleanedByRun tells whether a run cleaned the filter, and whether it read the gauge after: what
// the log says of it then is the run's.
func cleanedByRun(b stop.Book) (ran, read bool) {
	for i := range b {
		if r := b[i].Run; r != nil && r.Result.Work == "cleaned" {
			ran, read = true, read || r.Result.After != nil
		}
	}
	return ran, read
}

// cleaning is what this pad's cleaning is called.
func (s *Stop) cleaning() words.Message {
	name, _ := fault.Cleaning(s.Model.Doc.Filter.Kind)
	return name
}

// rig is what the pad's rules depend on.
func (s *Stop) rig() *procedure.Rig {
	r := procedure.RigOf(&s.Model.Doc)
	return &r
}

// State is the state of the stop with what was found; mistakes of what was typed are
// figure.FieldErrors.
func (s *Stop) State(f Findings) (stop.State, error) {
	rows, err := f.Parse(s.Model)
	if err != nil {
		return stop.State{}, err
	}
	return s.book(&f, rows).State(s.rig(), s.Left), nil
}

// inStages puts what was found at a stop into the case, parted by the work done there.
func inStages(c *casefile.Case, st *stop.State) {
	for _, b := range st.Before {
		c.Before = append(c.Before, casefile.Stage{
			Readings: lastOf(b.Readings), Signs: named(b.Signs), Work: *b.Work,
		})
	}
	c.Readings, c.Signs = lastOf(st.Now.Readings), named(st.Now.Signs)
}

func lastOf(all []stop.Taken) []casefile.Reading {
	all = all[max(0, len(all)-mostReadings):]
	var out []casefile.Reading
	for _, t := range all {
		out = append(out, t.Reading)
	}
	return out
}

func named(signs map[fault.Sign]bool) map[string]bool {
	out := make(map[string]bool, len(signs))
	for id, yes := range signs {
		out[string(id)] = yes
	}
	return out
}

// Slot is the speed that the pad's program has at a moment, rpm; 0 is off, and false where the
// pad has no program that says.
func (s *Stop) Slot(at time.Time) (units.Speed, bool) {
	d := &s.Model.Doc
	if len(d.Programme) == 0 {
		return 0, false
	}
	for _, x := range d.Programme {
		if x.Holds(at.In(s.zone)) {
			return units.Speed(x.RPM), true
		}
	}
	return 0, true
}

// PadState is the state of the stop as every page and paper shows it.
type PadState struct {
	Pump    stop.Pump     `json:"pump" enum:"running,off,locked,unknown"`
	Says    words.Message `json:"says" doc:"who made or said it, and when; empty: nobody"`
	RPM     float64       `json:"rpm" doc:"last read, or by its program at this hour; 0: not known, or off"`
	Program bool          `json:"program" doc:"rpm is what the program has"`
	Setting string        `json:"setting" doc:"how a reading without a setting is taken"`
	Valve   words.Message `json:"valve" doc:"where the filter valve is; empty: not known, or none"`
	Open    []stop.Open   `json:"open" nullable:"false" doc:"what is not as in daily use: it goes with the stop until it is undone"`
	Entries int           `json:"entries" doc:"readings, signs, words and runs that it is folded from"`
}

// shown is the state of the stop at a moment, in words.
func (s *Stop) shown(st *stop.State, entries int, now time.Time) PadState {
	out := PadState{
		Pump: st.Pump, RPM: st.Speed, Setting: string(st.Setting()), Open: append([]stop.Open{}, st.Open...),
		Entries: entries,
	}
	turns := st.Pump == stop.Unknown || st.Pump == stop.Running
	if slot, ok := s.Slot(now); ok && out.RPM == 0 && turns && !st.Pad.ByHand {
		out.RPM, out.Program = float64(slot), slot > 0
	}
	if st.Valve && s.rig().Valve != "" {
		out.Valve = st.Pad.Setting.Words()
	}
	if st.Pump != stop.Unknown && !st.At.IsZero() {
		at := words.Clock(s.Local(st.At))
		out.Says = words.Of("app.pump-since", "at", at)
		if who := strings.TrimSpace(st.By); who != "" {
			out.Says = words.Of("app.pump-by", "by", words.Name(who), "at", at)
		}
	}
	return out
}
