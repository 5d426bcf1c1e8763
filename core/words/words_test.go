package words

import (
	"encoding/json"
	"math"
	"os"
	"strings"
	"testing"
	"time"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fairlap/core/units"
)

var spanish = Printer{Spanish, units.Metric}

// What somebody typed comes back as they typed it, whatever it is, in every language.
func TestAPersonsWordsStayTheirs(t *testing.T) {
	for _, typed := range []string{
		"28 psi, 50 ft", "<b>Bob</b> & \"sons\"", "שלום, מסנן", "🏊 filtro", "a.b-c?x=q:psi:3", "{{name}}", "50 % | 3", "+1 (555) 010-7700", "", "line\nbreak",
	} {
		for _, p := range []Printer{Plain, spanish} {
			assert.Equal(t, typed, p.Say(Named(typed)))
			in, err := json.Marshal(Named(typed))
			require.NoError(t, err)
			var back Message
			require.NoError(t, json.Unmarshal(in, &back))
			assert.Equal(t, typed, p.Say(back), "from the record")
			out, err := p.Marshal(struct{ M Message }{Named(typed)})
			require.NoError(t, err)
			var told struct{ M string }
			require.NoError(t, json.Unmarshal(out, &told))
			assert.Equal(t, typed, told.M, "as it is answered")
		}
	}
	rapid.Check(t, func(t *rapid.T) {
		typed := rapid.String().Filter(utf8.ValidString).Draw(t, "typed")
		assert.Equal(t, typed, spanish.Say(Named(typed)))
	})
}

func TestQuantitiesAreToldInTheReadersUnits(t *testing.T) {
	m := Of("app.of-one", "one", Q("psi", 14.5))
	assert.Equal(t, "14.5 psi", Plain.Say(m))
	assert.Equal(t, "1.00 bar", Printer{English, units.Metric}.Say(m))
	assert.Equal(t, "3,450 rpm", spanish.Say(Of("app.of-one", "one", Q("rpm", 3450))))
	either := Of("app.of-one", "one", Either(N(5), N(19)))
	assert.Equal(t, "5", Plain.Say(either))
	assert.Equal(t, "19", spanish.Say(either))
	assert.InDelta(t, 14.5, Q("psi", 14.5).Value(), 0)
	assert.InDelta(t, 0.37, Share(0.37).Value(), 0)
	assert.Zero(t, Name("14").Value())
}

func TestListsJoinAsEachLanguageDoes(t *testing.T) {
	of := func(by Joint) Message { return Join(by, Named("a"), Named("b"), Named("c")) }
	assert.Equal(t, "a, b and c", Plain.Say(of(And)))
	assert.Equal(t, "a, b y c", spanish.Say(of(And)))
	assert.Equal(t, "a, b o c", spanish.Say(of(Or)))
	for word, joint := range map[string]string{"inspección": "e", "hilo": "e", "Hierro": "y", "hiato": "y", "bomba": "y"} {
		assert.Equal(t, "filtro "+joint+" "+word, spanish.Say(Join(And, Named("filtro"), Named(word))))
		assert.Equal(t, "filtro and "+word, Plain.Say(Join(And, Named("filtro"), Named(word))))
	}
	assert.Equal(t, "filtro u hora", spanish.Say(Join(Or, Named("filtro"), Named("hora"))))
	assert.Equal(t, "a; b; c", Plain.Say(of(Semicolon)))
	assert.Equal(t, "a", Plain.Say(Join(And, Named("a"))))
	assert.Empty(t, Plain.Say(Join(And)))
}

// spoken are the readers of dates.json, which the page's own writer is held to as well.
type spoken struct {
	Lang  Lang         `json:"lang"`
	Units units.System `json:"units"`
	At    time.Time    `json:"at"`
	Day   string       `json:"day"`
	Short string       `json:"short"`
	Clock string       `json:"clock"`
}

// Page and server write a day and a time alike, over a year (dates.json, which the page's own test reads too).
func TestTimesAreToldByStyle(t *testing.T) {
	var want []spoken
	readers := []Printer{{English, units.US}, {English, units.Metric}, {Spanish, units.US}, {Spanish, units.Metric}}
	for _, p := range readers {
		for n := range 74 {
			at := time.Date(2028, 1, 1, (7*n)%24, (13*n)%60, 0, 0, time.UTC).AddDate(0, 0, 5*n)
			tell := func(a Arg) string { return p.Say(Of("app.day", "day", a)) }
			want = append(want, spoken{p.Lang, p.Units, at, tell(Day(at)), tell(DayMonth(at)), tell(Clock(at))})
		}
	}
	kept, err := os.ReadFile("dates.json")
	require.NoError(t, err)
	var got []spoken
	require.NoError(t, json.Unmarshal(kept, &got))
	assert.Equal(t, want, got)
	at := time.Date(2026, 3, 5, 7, 9, 0, 0, time.UTC)
	tell := func(p Printer, a Arg) string { return p.Say(Of("app.day", "day", a)) }
	assert.Equal(t, "Thu, Mar 5", tell(Plain, Day(at)))
	assert.Equal(t, "Mar 5, 2026", tell(Plain, Date(at)))
	assert.Equal(t, "Thu 7:09 AM", tell(Plain, Moment(at)))
	assert.Equal(t, "5 Mar 2026", tell(Printer{English, units.Metric}, Date(at)))
	assert.Equal(t, "jue 5 mar", tell(spanish, Day(at)))
}

// Whatever a row holds, an old one, a newer server's or a broken one, it is shown safely.
func TestTroubleIsShownSafely(t *testing.T) {
	for _, p := range []Printer{Plain, spanish, {"xx", "cubits"}} {
		assert.Equal(
			t,
			"Clean the filter, 18.2 psi over.",
			p.Say("Clean the filter, 18.2 psi over."),
			"an old row's sentence",
		)
		assert.Contains(t, p.Say("nowhere.to-be-found?x=n:3"), "nowhere.to-be-found", "a newer server's key is named")
		for _, broken := range []Message{"app.of-one", "app.of-one?one=", "app.of-one?one=q", "app.of-one?one=q:psi:x", "app.of-one?one=n:Inf", "app.of-one?one=n:3:99", "app.of-one?one=n:3:-2",
			"app.of-one?one=z:3", "app.of-one?one=t:yesterday:x", "app.of-one?one=s:%zz", "app.of-one?two=n:3"} {
			said := p.Say(broken)
			assert.NotContains(t, said, "NaN", string(broken))
			assert.NotContains(t, said, "{{", string(broken))
		}
	}
	assert.Equal(
		t,
		"Mar 5, 2026",
		Plain.Say(Of("app.day", "day", when(time.Date(2026, 3, 5, 0, 0, 0, 0, time.UTC), "lunar"))),
		"an unknown style is a date",
	)
}

func FuzzSay(f *testing.F) {
	for _, s := range []string{"app.of-one?one=q:psi:14.5", "words.list?list=l:and:a%7Cb", "app.of-one?one=m:app.of-one%3Fone%3Dn%3A3", "x", "a.b?&=&", "app.of-one?one=e:n%3A1:n%3A2"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, p := range []Printer{Plain, spanish} {
			if said := p.Say(Message(s)); strings.Contains(said, "{{") && !strings.Contains(s, "{{") &&
				!strings.Contains(s, "%7") {
				t.Fatalf("%q leaves a hole: %q", s, said)
			}
		}
	})
}

// Every text of every language, given every argument it asks for, leaves no hole.
func TestEveryTextIsWhole(t *testing.T) {
	for _, lang := range Languages {
		texts, err := Texts(lang)
		require.NoError(t, err)
		for key := range texts {
			base := strings.TrimSuffix(strings.TrimSuffix(key, "_one"), "_other")
			args := Args{"count": N(2)}
			for _, name := range Asks(Message(base)) {
				args[name] = N(2)
			}
			said := Printer{lang, units.Metric}.Say(With(Message(base), args))
			assert.NotContains(t, said, "{{", key)
			assert.NotEmpty(t, said, key)
		}
	}
}

func TestNumbersSurviveTheRecord(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := rapid.Float64Range(-1e6, 1e6).Draw(t, "v")
		assert.InDelta(t, v, Q("psi", v).Value(), 1e-6+math.Abs(v)*1e-6)
	})
}

// Rendering a bench's worth of sentences must add less than a millisecond to an answer.
func BenchmarkSayHundred(b *testing.B) {
	m := Join(
		And,
		Of("app.of-one", "one", Q("psi", 14.5)),
		Of("app.day", "day", Date(time.Date(2026, 3, 5, 7, 9, 0, 0, time.UTC))),
		Named("14 Quince Court"),
	)
	for b.Loop() {
		for range 100 {
			_ = spanish.Say(m)
		}
	}
}

func TestAnHourIsReadOnItsReadersClock(t *testing.T) {
	us, metric := Printer{Lang: English, Units: units.US}, Printer{Lang: Spanish, Units: units.Metric}
	assert.Equal(t, "9:30 PM–6:00 AM", us.Say(Hours(21.5, 30)))
	assert.Equal(t, "21:30–06:00", metric.Say(Hours(21.5, 30)))
}
