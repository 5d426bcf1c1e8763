package inspection

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"fairlap/core/judge"
	"fairlap/core/pad/padtest"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
)

// Whatever is answered at an inspection, it is refused at its item or judged; every finding can
// be said in every language.
func FuzzAnswers(f *testing.F) {
	doc := padtest.SandPad()
	settings := upkeep.Defaults()
	c, err := judge.Calibrate(doc, nil, &settings)
	require.NoError(f, err)
	in := Installation{Model: c.Model, Pool: units.Gallons(18500), Facts: Facts{Year: 2026}}
	all := Answers{}
	for _, i := range On(&doc, Schools{}) {
		low := i.Low
		no := false
		switch i.Kind {
		case Measure:
			all[i.ID] = Answer{Value: &low}
		case YesNo:
			all[i.ID] = Answer{Yes: &no, Note: "?"}
		}
	}
	text, err := json.Marshal(all)
	require.NoError(f, err)
	f.Add(text)
	f.Add([]byte(`{"bonding":{"yes":false},"gauge-at-rest":{"value":-3}}`))
	f.Add([]byte(`{"":{"value":1e308},"kettle":{"yes":true}}`))
	f.Fuzz(func(t *testing.T, text []byte) {
		var a Answers
		if json.Unmarshal(text, &a) != nil {
			return
		}
		if len(Wrong(a)) > 0 {
			return
		}
		found, err := Judge(&in, a)
		if err != nil {
			t.Fatal(err)
		}
		for _, lang := range words.Languages {
			p := words.Printer{Lang: lang}
			for _, x := range found {
				_ = p.Say(x.Name) + p.Say(x.Text) + p.Say(x.Who)
			}
		}
		_ = Into(doc, a)
	})
}
