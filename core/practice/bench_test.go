package practice

import "testing"

func BenchmarkReady(b *testing.B) {
	c, _ := Find("as-dirty-as-it-looks")
	for b.Loop() {
		if _, err := Set(c); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkAct(b *testing.B) {
	var d Desk
	for b.Loop() {
		if _, err := d.Answer(Ask{Which: Which{ID: "as-dirty-as-it-looks"}, Mode: Beside, Events: []Event{{Act: ActRead}}}); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkDebrief(b *testing.B) {
	var d Desk
	s, err := d.Scene(Which{ID: "as-dirty-as-it-looks"})
	if err != nil {
		b.Fatal(err)
	}
	events, _, err := s.Best()
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := s.Debrief(Alone, events); err != nil {
			b.Fatal(err)
		}
	}
}

func BenchmarkDraw(b *testing.B) {
	seed := uint64(0)
	for b.Loop() {
		seed++
		if _, err := Draw(OldHand, Filter, seed); err != nil {
			b.Fatal(err)
		}
	}
}
