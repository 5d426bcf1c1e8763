package papers

import (
	"fairlap/core/pad"
	"fairlap/core/units"
	"fairlap/core/upkeep"
	"fairlap/core/words"
	"fairlap/internal/app/padwork"
	"fairlap/internal/app/standing"
	"fairlap/internal/paper"
)

func (w *writer) poolFactsBlock() {
	p := &w.Record.Pool
	ground := words.Message("app.in-the-ground")
	if !p.InGround {
		ground = "app.above-ground"
	}
	d := &w.Cached.Model.Doc
	facts := []words.Message{one(words.Q("gal", units.Volume(p.VolumeM3).Gallons()))}
	if p.Surface != "" {
		facts = append(facts, words.Named(p.Surface))
	}
	gear := upkeep.GearOf(d)
	w.facts(
		"app.pool",
		words.Join(words.Comma, append(facts, ground)...),
		"app.pump",
		words.Named(d.Pump.Model),
		"app.filter-2",
		standing.FilterWords(&gear),
		"app.on-record-since",
		dateOf(p.OnRecordSince),
	)
}

func (w *writer) owner() error {
	d := &w.Cached.Model.Doc
	w.doc.Title = "app.what-is-what-on-your"
	w.poolFactsBlock()
	w.caution("app.the-filter-is-under-pressure")
	w.heading("app.what-you-may-do-and")
	var rows [][]words.Message
	for _, m := range d.OwnerMay(d.Pump.Kind == pad.SingleSpeed) {
		rows = append(rows, []words.Message{m[0], m[1]})
	}
	w.table(1, []words.Message{"app.what", "app.how"}, rows)
	w.say("app.keep-the-water-at-the")
	w.heading("app.the-handles-how-they-should")
	if len(d.Valves) > 0 {
		var dials []paper.Dial
		for _, v := range d.Valves {
			a, b, angle := d.Dial(v)
			dials = append(dials, paper.Dial{Name: v.Name, A: w.p.Say(a), B: w.p.Say(b), AngleDeg: angle})
		}
		jpeg, err := paper.Dials(dials, w.p)
		if err != nil {
			return err
		}
		w.doc.Blocks = append(
			w.doc.Blocks,
			paper.Block{Kind: paper.Picture, Text: "app.as-they-should-stand-the", JPEG: jpeg},
		)
	}
	rows = nil
	for _, h := range d.OwnerHandles() {
		rows = append(rows, []words.Message{h.Name, h.Does, h.Usual, h.Why})
	}
	w.table(1, []words.Message{"app.handle", "app.what-it-does", "app.should-stand", "app.why-it-is-ours"}, rows)
	if len(d.Programme) > 0 {
		w.heading("app.the-pump-s-day")
		rows = nil
		for _, s := range d.Programme {
			rows = append(
				rows,
				[]words.Message{padwork.OwnerHours(s), one(words.Q("rpm", s.RPM)), one(words.QD("h", s.Hours, -1))},
			)
		}
		w.table(0, []words.Message{"app.from-to-2", "app.speed", "app.hours"}, rows)
		w.say("app.if-its-clock-shows-another")
	}
	if spa := d.SpaWords(); spa != nil {
		w.heading("app.the-spa")
		for _, s := range spa {
			w.say(s)
		}
	}
	w.heading("app.when-to-call-at-once")
	w.caution("app.a-drain-cover-that-is")
	if w.Company.Office.Phone != "" {
		w.say(words.Of("app.call", "company", words.Name(w.Company.Name), "phone", words.Name(w.Company.Office.Phone)))
	}
	return nil
}
