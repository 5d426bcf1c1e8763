package upkeep

import (
	"strings"
	"time"

	"fairlap/core/words"
)

// owedItem begins the items of parts that a run found bad.
const owedItem = "owed:"

// owedParts are the parts that runs look at, and what a new one is on the van.
var owedParts = map[string]Material{
	"pump-basket":   {"upkeep.pump-basket", 1, ""},
	"pump-lid":      {"upkeep.pump-lid", 1, ""},
	"lid-o-ring":    {"upkeep.lid-o-ring", 1, ""},
	"tank-o-ring":   {"upkeep.tank-o-ring", 1, ""},
	"pump-fittings": {"upkeep.pump-inlet-and-outlet-fittings", 1, "set"},
	"pump-motor":    {"upkeep.pump-motor", 1, ""},
	"check-valve":   {"upkeep.check-valve", 1, ""},
	"cartridge":     {"upkeep.cartridge", 1, ""},
	"element":       {"upkeep.filter-elements", 1, "set"},
	"grid":          {"upkeep.de-grid", 1, ""},
	"manifold":      {"upkeep.de-manifold", 1, ""},
	"lateral":       {"upkeep.lateral", 1, ""},
	"sand":          {"upkeep.no-20-silica", 1, "bag"},
}

// OwedItem is the item of a part that a run found bad; "" for a part that no run knows.
func OwedItem(part string) string {
	if _, ok := owedParts[part]; !ok {
		return ""
	}
	return owedItem + part
}

func owedName(item string) words.Message {
	if m, ok := owedParts[strings.TrimPrefix(item, owedItem)]; ok && strings.HasPrefix(item, owedItem) {
		return words.Of("upkeep.new-part", "part", words.Msg(m.Name))
	}
	return ""
}

// owed are the parts found bad that nobody has put right since: to bring at the next
// visit.
func (l *Ledger) owed() []Due {
	found := map[string]time.Time{}
	var order []string
	for _, m := range l.Marks {
		if m.Act != MarkOwe || owedName(m.Item) == "" {
			continue
		}
		if _, ok := found[m.Item]; !ok {
			order = append(order, m.Item)
		}
		found[m.Item] = m.At
	}
	var out []Due
	for _, item := range order {
		at := found[item]
		if !l.doneAt(item).Before(at) {
			continue
		}
		out = append(
			out,
			Due{
				Item:    item,
				Name:    owedName(item),
				Ground:  ByCalendar,
				Opens:   at,
				By:      at.Add(daysOf(mendSoon)),
				Harm:    0.6,
				Minutes: 15,
				Reason: words.Of(
					"upkeep.found-bad",
					"day",
					words.Day(at.In(l.Now.Location())),
				),
				Materials: []Material{owedParts[strings.TrimPrefix(item, owedItem)]},
			},
		)
	}
	return out
}
