package words

import (
	"regexp"
	"strconv"
	"strings"
	"sync"

	"golang.org/x/text/feature/plural"
	"golang.org/x/text/language"
)

// Lang is a language that people read.
type Lang string

// The languages.
const (
	English Lang = "en"
	Spanish Lang = "es"
)

// Languages are those with a catalogue; the first is what the others fall back on.
var Languages = []Lang{English, Spanish}

// catalogue is a language's sentences, parted once.
type catalogue struct {
	texts map[string][]sentence
	tag   language.Tag
}

// sentence is one sentence of a text: words and holes by turns.
type sentence []piece

type piece struct {
	words string // as they stand
	hole  string // name of an argument
	as    string // what is done to it: low, cap
	value float64
	upTo  float64 // of a range
	unit  string  // a quantity that the text itself holds
}

// catalogues are the languages', each parted when it is first read.
var catalogues = func() map[Lang]func() *catalogue {
	out := map[Lang]func() *catalogue{}
	for _, l := range append([]Lang{Stretched}, Languages...) {
		out[l] = sync.OnceValue(func() *catalogue { return load(l) })
	}
	return out
}()

// of is a language's catalogue; English's for one that there is none of.
func of(lang Lang) *catalogue {
	if c, ok := catalogues[lang]; ok {
		return c()
	}
	return catalogues[English]()
}

func load(lang Lang) *catalogue {
	said := func(text string) string { return text }
	source := lang
	if lang == Stretched {
		source, said = English, Stretch
	}
	texts, err := Texts(source)
	if err != nil {
		panic(err) // shipped and tested
	}
	c := &catalogue{texts: make(map[string][]sentence, len(texts)), tag: language.Make(string(lang))}
	for key, text := range texts {
		c.texts[key] = part(said(text))
	}
	return c
}

var (
	holes       = regexp.MustCompile(`\{\{([^{}]+)\}\}`)
	sentenceEnd = regexp.MustCompile(`[.?!] `)
)

// part parts a text into its sentences, and those into words and holes.
func part(text string) []sentence {
	var out []sentence
	for text != "" {
		one := text
		if at := sentenceEnd.FindStringIndex(text); at != nil {
			one, text = text[:at[0]+1], text[at[1]:]
		} else {
			text = ""
		}
		var s sentence
		last := 0
		for _, at := range holes.FindAllStringSubmatchIndex(one, -1) {
			s = append(s, piece{words: one[last:at[0]]}, hole(one[at[2]:at[3]]))
			last = at[1]
		}
		out = append(out, append(s, piece{words: one[last:]}))
	}
	return out
}

var constant = regexp.MustCompile(`^(-?[\d.]+)(?:–([\d.]+))? (.+)$`)

func hole(inside string) piece {
	if g := constant.FindStringSubmatch(inside); g != nil {
		p := piece{unit: g[3]}
		p.value, _ = strconv.ParseFloat(g[1], 64) // digits by the pattern
		if g[2] != "" {
			p.upTo, _ = strconv.ParseFloat(g[2], 64)
		}
		return p
	}
	name, as, _ := strings.Cut(inside, ",")
	return piece{hole: strings.TrimSpace(name), as: strings.TrimSpace(as)}
}

// Asks are the arguments that a message's words ask for in English, in their order.
func Asks(m Message) []string { return names(m.Key()) }

func names(key string) []string {
	var out []string
	seen := map[string]bool{}
	for _, k := range []string{key, key + "_one", key + "_other"} {
		for _, s := range of(English).texts[k] {
			for _, p := range s {
				if p.hole != "" && !seen[p.hole] {
					seen[p.hole] = true
					out = append(out, p.hole)
				}
			}
		}
	}
	return out
}

// Has says whether the catalogue has words for a key.
func Has(key string) bool {
	t := of(English).texts
	_, plain := t[key]
	_, counted := t[key+"_other"]
	return plain || counted
}

// find gives a key's sentences in a language, by its count where it has one.
func (c *catalogue) find(key string, count int, counted bool) ([]sentence, bool) {
	if s, ok := c.texts[key]; ok {
		return s, true
	}
	form := "_other"
	if counted && plural.Cardinal.MatchPlural(c.tag, count, 0, 0, 0, 0) == plural.One {
		form = "_one"
	}
	s, ok := c.texts[key+form]
	return s, ok
}
