package judge

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fairlap/core/casefile"
	"fairlap/core/fault"
	"fairlap/core/procedure"
	"fairlap/core/stop"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// given is a pack and what was found with it.
type given struct {
	name  string
	pack  Pack
	found Findings
	now   time.Time
}

// examples are the documents' cases as packs: their pads and readings, with a history, a
// season, wear and work of their own.
func examples(t testing.TB, each int) []given {
	files, err := filepath.Glob("../../docs/examples/*.case.json")
	require.NoError(t, err)
	require.Greater(t, len(files), 10)
	chance := rand.New(rand.NewPCG(19, 1))
	var out []given
	for _, f := range files {
		text, err := os.Open(f)
		require.NoError(t, err)
		c, wrong := casefile.Read(text)
		require.NoError(t, text.Close())
		require.Empty(t, wrong, f)
		for i := range each {
			now := time.Date(
				2026,
				time.Month(1+chance.IntN(12)),
				1+chance.IntN(28),
				6+chance.IntN(12),
				chance.IntN(60),
				0,
				0,
				time.UTC,
			)
			dosed := now.Add(-time.Duration(chance.IntN(60)) * time.Hour)
			p := Pack{
				Pool:      fmt.Sprintf("Pool %d", i),
				Gallons:   8000 + 20000*chance.Float64(),
				Zone:      "America/Phoenix",
				Pad:       c.Pad,
				CleanLine: c.CleanLine,
				Settings:  upkeep.Defaults(),
				Ways:      procedure.DefaultWays(),
				Next:      now.AddDate(0, 0, 7),
				History: upkeep.History{Filter: upkeep.Filter{
					State: upkeep.State{
						Load:      chance.Float64(),
						Growth:    0.01 * chance.Float64(),
						VarLoad:   0.04,
						VarGrowth: 1e-5,
					},
					HadForecast: i%2 == 0,
					Chemicals:   &dosed,
					PerDay:      5 + 20*chance.Float64(),
					Scale:       1,
				}},
				Priors: map[fault.ID]float64{
					fault.FilterLoaded: 0.1 * chance.Float64(),
				},
				Worn:      map[fault.ID]float64{},
				Installed: map[fault.ID]words.Message{},
				Open:      []fault.ID{},
				Book:      stop.Book{},
			}
			found := Findings{Readings: []TypedReading{}, Signs: c.Signs, Called: i%3 == 0}
			for _, r := range c.Readings {
				show := func(x *float64) string {
					if x == nil {
						return ""
					}
					return fmt.Sprintf("%.1f", *x*(0.95+0.1*chance.Float64()))
				}
				found.Readings = append(
					found.Readings,
					TypedReading{
						Setting: r.Setting,
						Speed:   fmt.Sprintf("%.0f", r.RPM),
						Tank:    show(r.TankPsi),
						Vacuum:  show(r.VacuumInHg),
						Flow:    show(r.FlowGPM),
						Power:   show(r.PowerW),
					},
				)
			}
			if i%2 == 1 && len(c.Readings) > 0 {
				rig := procedure.RigOf(&c.Pad)
				p.Book = append(p.Book, stop.Entry{
					ID: "wash", At: now.Add(-time.Minute), Kind: stop.Ran,
					Run: &stop.Run{Name: "Backwash", Over: true, State: rig.Daily(), Result: procedure.Result{
						Work:        "cleaned",
						Before:      &c.Readings[0],
						Signs:       map[fault.Sign]bool{},
						WashSeconds: 90,
						WashUsual:   120,
					}},
				})
			}
			out = append(out, given{fmt.Sprintf("%s %d", filepath.Base(f), i), p, found, now})
		}
	}
	return out
}

func told(t testing.TB, s *Stop, g given) string {
	v, _, err := s.Judge(g.found, g.now, nil)
	require.NoError(t, err, g.name)
	text, err := json.Marshal(v)
	require.NoError(t, err, g.name)
	return string(text)
}

// A pack that went through a file is judged to the byte as the one that it was made from,
// on a pad that was calibrated before and on one calibrated there; and judging leaves it
// as it was.
func TestAPackIsJudgedAlikeWhereverItIs(t *testing.T) {
	for _, g := range examples(t, 3) {
		text, err := json.Marshal(g.pack)
		require.NoError(t, err, g.name)
		here, err := g.pack.Ready()
		require.NoError(t, err, g.name)
		said := told(t, here, g)
		var sent Pack
		require.NoError(t, json.Unmarshal(text, &sent), g.name)
		there, err := sent.Ready()
		require.NoError(t, err, g.name)
		assert.Equal(t, said, told(t, there, g), g.name)
		cached, err := sent.On(here.Calibrated)
		require.NoError(t, err, g.name)
		assert.Equal(t, said, told(t, cached, g), g.name)
		after, err := json.Marshal(here.Pack)
		require.NoError(t, err, g.name)
		assert.Equal(t, string(text), string(after), "%s: judging changed the pack", g.name)
	}
}

// A stop is judged from its file as it was where it was saved, to the byte.
func TestAStopIsJudgedAsItsFile(t *testing.T) {
	for _, g := range examples(t, 1) {
		s, err := g.pack.Ready()
		require.NoError(t, err, g.name)
		v, _, err := s.Judge(g.found, g.now, nil)
		require.NoError(t, err, g.name)
		file, err := s.File(g.found, g.now)
		require.NoError(t, err, g.name)
		text, err := json.Marshal(file)
		require.NoError(t, err)
		again, wrong := ReadFile(bytes.NewReader(text))
		require.Empty(t, wrong, g.name)
		of, _, err := again.Judge()
		require.NoError(t, err, g.name)
		assert.Equal(t, written(t, v), written(t, of), g.name)
	}
}

func written(t *testing.T, v Verdict) string {
	t.Helper()
	text, err := words.Printer{Lang: words.English, Units: units.US}.Marshal(v)
	require.NoError(t, err)
	return string(text)
}

// A file that can't be judged is refused with the field at fault.
func TestAWrongFileSaysWhere(t *testing.T) {
	g := examples(t, 1)[0]
	for field, spoil := range map[string]func(*File){
		"pack.zone":            func(f *File) { f.Pack.Zone = "Mars/Olympus" },
		"at":                   func(f *File) { f.At = time.Time{} },
		"pack.pad.filter.kind": func(f *File) { f.Pack.Pad.Filter.Kind = "paper" },
	} {
		f := File{g.pack, g.found, g.now}
		spoil(&f)
		text, err := json.Marshal(f)
		require.NoError(t, err)
		_, wrong := ReadFile(bytes.NewReader(text))
		var fields []string
		for _, w := range wrong {
			fields = append(fields, w.Path)
		}
		assert.Contains(t, fields, field)
	}
}

// Before anything is read a stop tells the load that lists and lap expect; what is seen of no water changes nothing.
func TestAnUnreadStopTellsWhatWasExpected(t *testing.T) {
	for _, g := range examples(t, 1) {
		s, err := g.pack.Ready()
		require.NoError(t, err, g.name)
		for _, signs := range []map[string]bool{{}, {string(fault.BasketFull): true}, {string(fault.LevelLow): false}} {
			for _, readings := range [][]TypedReading{{}, {{Speed: "0", Tank: "0"}}} { // a needle at rest says nothing of it
				v, _, err := s.Judge(Findings{Signs: signs, Readings: readings}, g.now, nil)
				require.NoError(t, err, g.name)
				if len(g.pack.Book) > 0 || v.Load.SD == 0 {
					continue // a run of the stop has read something, or nobody has described the pad
				}
				assert.Equal(t, g.pack.History.State.LoadBelief(), v.Load, g.name)
			}
		}
	}
}

func TestAPackWithoutAPlaceOnTheMapSaysSo(t *testing.T) {
	p := Pack{Zone: "Nowhere/At all", Pad: testPad(t, nil).Doc, Settings: upkeep.Defaults()}
	_, err := p.Ready()
	assert.ErrorContains(t, err, "time zone")
}

// A suction side that leads nowhere is told as a description to mend, not as a fault of ours.
func TestAPackThatGivesNoFlowIsToBeMended(t *testing.T) {
	d := testPad(t, nil).Doc
	d.Suction = nil
	_, err := Pack{Zone: "UTC", Pad: d, Settings: upkeep.Defaults()}.Ready()
	assert.ErrorIs(t, err, ErrUnsolved)
}

// Warmer water lifts a bed by less: a backwash written out for it asks for no less flow.
func TestASetupGoesByTheWaterThatItIsGiven(t *testing.T) {
	p := Pack{
		Zone:     "UTC",
		Pad:      testPad(t, nil).Doc,
		Gallons:  12000,
		Settings: upkeep.Defaults(),
		Ways:     procedure.DefaultWays(),
	}
	s, err := p.Ready()
	require.NoError(t, err)
	november := time.Date(2026, time.November, 24, 17, 0, 0, 0, time.UTC)
	setup := func(waterF float64, month int) *procedure.Setup {
		out, err := s.Setup(0, waterF, november.AddDate(0, month, 0))
		require.NoError(t, err)
		return out
	}
	cold, warm := setup(50, 0), setup(95, 0)
	assert.NotEqual(t, cold, warm)
	assert.Less(t, cold.Figures["wasteGpm"].Value(), warm.Figures["wasteGpm"].Value())
	assert.Equal(t, cold.Figures["wasteGpm"], setup(50, 8).Figures["wasteGpm"], "a thermometer rules")
	// Nobody took its temperature: November's water is not July's, and it is said whose it is.
	assert.Equal(t, 60.0, setup(0, 0).Figures["waterF"].Value())
	assert.Equal(t, 84.0, setup(0, 8).Figures["waterF"].Value())
	assert.NotEmpty(t, setup(0, 0).Figures["waterGuess"])
	assert.Empty(t, cold.Figures["waterGuess"])
}
