package upkeep

import (
	"slices"
	"strings"
	"sync"
	"time"

	"fairlap/core/pad"
	"fairlap/core/words"
)

// ServiceID names a piece of recurring work.
type ServiceID string

// The recurring work (handbook; common practice).
const (
	CleanFilter   ServiceID = "clean-filter"
	TakeCleanLine ServiceID = "clean-line"
	ThoroughClean ServiceID = "thorough-clean"
	TearDown      ServiceID = "tear-down"
	CellDescale   ServiceID = "cell-descale"
	HeaterCheck   ServiceID = "heater-check"
	AnodeLook     ServiceID = "anode-look"
	SeasonClose   ServiceID = "season-close"
	SeasonOpen    ServiceID = "season-open"
)

// Material is something to have on the van.
type Material struct {
	Name   words.Message `json:"name"`
	Amount float64       `json:"amount"`
	Unit   string        `json:"unit"`
}

// Service is one piece of recurring work and how often it falls due.
type Service struct {
	ID      ServiceID
	Name    words.Message
	Days    float64 // the default interval
	Season  bool    // on a day of the year that the company sets, not by an interval
	Minutes float64
	// On tells which pads it is for; nil is all.
	On        func(*Gear) bool
	Materials func(*Gear) []Material
	Why       words.Message
}

func filterIs(k pad.FilterKind) func(*Gear) bool {
	return func(g *Gear) bool { return g.Kind == k }
}

// DEChargePerFt2 is pounds of DE for a square foot of grid: a pound for ten; after
// a backwash four fifths of it, since some stays (handbook; the label rules).
const (
	DEChargePerFt2  = 0.1
	DEAfterBackwash = 0.8
)

// degreaserGallons and acidGallons soak one filter's elements (ours; the labels
// rule, and the two never meet).
const (
	degreaserGallons = 0.5
	acidGallons      = 1
)

func soakMaterials(g *Gear) []Material {
	out := []Material{{"upkeep.degreaser", degreaserGallons, "gal"}, {"upkeep.muriatic-acid", acidGallons, "gal"}}
	if g.Kind == pad.DE {
		out = append(out, Material{"upkeep.de-powder", DEChargePerFt2 * g.AreaFt2, "lb"})
	}
	return out
}

// Services lists the recurring work beside the filter's own cleaning, which falls
// due by its load.
var Services = []Service{
	{ID: TakeCleanLine, Name: "upkeep.clean-line.name", Days: 365, Minutes: 12, Why: "upkeep.clean-line.why",
		On: func(g *Gear) bool { return g.Kind != pad.Unknown }},
	{
		ID:        ThoroughClean,
		Name:      "upkeep.thorough-clean.name",
		Days:      365,
		Minutes:   60,
		On:        filterIs(pad.Cartridge),
		Materials: soakMaterials,
		Why:       "upkeep.thorough-clean.why",
	},
	{
		ID:        TearDown,
		Name:      "upkeep.tear-down.name",
		Days:      365,
		Minutes:   90,
		On:        filterIs(pad.DE),
		Materials: soakMaterials,
		Why:       "upkeep.tear-down.why",
	},
	{
		ID:        CellDescale,
		Name:      "upkeep.cell-descale.name",
		Days:      91,
		Minutes:   15,
		On:        func(g *Gear) bool { return g.Cell },
		Materials: func(*Gear) []Material { return []Material{{"upkeep.muriatic-acid", 0.25, "gal"}} },
		Why:       "upkeep.cell-descale.why",
	},
	{
		ID:      HeaterCheck,
		Name:    "upkeep.heater-check.name",
		Days:    365,
		Minutes: 10,
		On:      func(g *Gear) bool { return g.Heater },
		Why:     "upkeep.heater-check.why",
	},
	{
		ID:      AnodeLook,
		Name:    "upkeep.anode-look.name",
		Days:    365,
		Minutes: 5,
		On:      func(g *Gear) bool { return g.Cell || g.Heater },
		Why:     "upkeep.anode-look.why",
	},
	{ID: SeasonClose, Name: "upkeep.season-close.name", Season: true, Minutes: 120, Why: "upkeep.season-close.why"},
	{ID: SeasonOpen, Name: "upkeep.season-open.name", Season: true, Minutes: 90, Why: "upkeep.season-open.why"},
}

// IsService tells an item of Services with an interval.
func IsService(id string) bool {
	for i := range Services {
		if string(Services[i].ID) == id && !Services[i].Season {
			return true
		}
	}
	return false
}

// ServiceOn tells an item of Services that a pad has.
func ServiceOn(id string, g *Gear) bool {
	for i := range Services {
		if s := &Services[i]; string(s.ID) == id {
			return s.On == nil || s.On(g)
		}
	}
	return false
}

// EachVisit is what every visit looks at (common practice).
var EachVisit = []words.Message{
	"upkeep.skimmer-and-pump-baskets", "upkeep.lid-o-ring-and-pot", "upkeep.leaks", "upkeep.water-level", "upkeep.movement-at-the-returns", "upkeep.gauges-at-a-noted-speed", "upkeep.tank-gauge-at-rest", "upkeep.ground-fault-test-where-the",
}

// Life is how long a kind of part lasts, by time and, where somebody says so, by
// water filtered.
type Life struct {
	Years float64 `json:"years"`
	KGal  float64 `json:"kgal" doc:"thousand gallons; 0: not by use"`
}

// PartLife is a kind of part with its default life and how long it takes to renew.
type PartLife struct {
	Kind    string
	Years   float64
	Minutes float64
}

// Anode is the kind of part that corrodes in the others' stead.
const Anode = "zinc-anode"

// PartLives are the defaults (handbook for sand, cartridge and anode; the rest
// ours, from memory of common practice).
var PartLives = []PartLife{
	{
		"sand",
		4,
		180,
	}, {"cartridge", 2, 30}, {"grids", 7, 90}, {"multiport-gasket", 6, 45}, {"filter-tank", 18, 240}, {"pump", 8, 120}, {"lid-o-ring", 2, 6},
	{"tank-gauge", 6, 10}, {"heater", 11, 240}, {"salt-cell", 5, 20}, {Anode, 2.5, 15},
}

// media are the parts that the filter's wear speaks of.
var media = map[pad.FilterKind]string{pad.Sand: "sand", pad.Cartridge: "cartridge", pad.DE: "grids"}

// partNames begins the keys of what kinds of parts are called; the rest is the kind's id.
const partNames = "part."

// PartName is what a kind of part is called; one of somebody's own has its own name.
func PartName(kind string) words.Message {
	if words.Has(partNames + kind) {
		return words.Message(partNames + kind)
	}
	return words.Named(kind)
}

// kindsByName are the ids of kinds by what every language calls them, in small letters,
// and by themselves.
var kindsByName = sync.OnceValue(func() map[string]string {
	out := map[string]string{}
	for _, lang := range words.Languages {
		texts, err := words.Texts(lang)
		if err != nil {
			panic(err) // embedded and tested
		}
		for key, text := range texts {
			if id, ok := strings.CutPrefix(key, partNames); ok {
				out[id], out[strings.ToLower(text)] = id, id
			}
		}
	}
	return out
})

// PartKind is the id of the kind that somebody named, in any language or by its id; a kind
// of their own stays as they wrote it.
func PartKind(named string) string {
	named = strings.TrimSpace(named)
	if id, ok := kindsByName()[strings.ToLower(named)]; ok {
		return id
	}
	return named
}

// KindsCalled are the ids of kinds whose name holds some letters, in any language.
func KindsCalled(letters string) []string {
	var out []string
	for name, id := range kindsByName() {
		if strings.Contains(name, strings.ToLower(letters)) && !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	slices.Sort(out)
	return out
}

func partLife(kind string) *PartLife {
	for i := range PartLives {
		if PartLives[i].Kind == kind {
			return &PartLives[i]
		}
	}
	return nil
}

// IsPartKind tells a kind that has a default life.
func IsPartKind(kind string) bool { return partLife(kind) != nil }

// LifeOf is what a company expects of a kind of part; zero for an unknown kind.
func (s *Settings) LifeOf(kind string) Life {
	if l, ok := s.PartLives[kind]; ok {
		return l
	}
	if l := partLife(kind); l != nil {
		return Life{Years: l.Years}
	}
	return Life{}
}

// Lives are the years that a company expects of each kind of part that it knows.
func (s *Settings) Lives() map[string]float64 {
	out := map[string]float64{}
	for _, l := range PartLives {
		out[l.Kind] = s.LifeOf(l.Kind).Years
	}
	for kind, l := range s.PartLives {
		out[kind] = l.Years
	}
	return out
}

// DaysOf is how often a company does a service.
func (s *Settings) DaysOf(v *Service) float64 {
	if d, ok := s.ServiceDays[string(v.ID)]; ok {
		return d
	}
	return v.Days
}

// seasonDay reads a day of the year like "11-01"; false for none.
func seasonDay(text string) (time.Month, int, bool) {
	d, err := time.Parse("01-02", text)
	return d.Month(), d.Day(), err == nil
}

// Idle tells the days on which a place's pools are closed for the season; nil where
// no season is set.
func (s *Settings) Idle() func(day time.Time) bool {
	om, od, opens := seasonDay(s.SeasonOpens)
	cm, cd, closes := seasonDay(s.SeasonCloses)
	if !opens || !closes {
		return nil
	}
	at := func(m time.Month, d int) int { return 100*int(m) + d }
	open, close := at(om, od), at(cm, cd)
	return func(day time.Time) bool {
		now := at(day.Month(), day.Day())
		if open <= close {
			return now < open || now >= close
		}
		return now < open && now >= close
	}
}

// cleaningMaterials are what the filter's own cleaning takes.
func cleaningMaterials(g *Gear) []Material {
	if g.Kind == pad.DE {
		return []Material{{"upkeep.de-powder", DEChargePerFt2 * DEAfterBackwash * g.AreaFt2, "lb"}}
	}
	return nil
}
