//go:build js

package words

import (
	"encoding/json"
	"fmt"
)

// learned are the languages that this device was given: a browser reads one.
var learned = map[Lang]map[string]string{}

// Learn takes a language's texts in, as one object of JSON, before anything is said in it.
func Learn(lang Lang, texts []byte) error {
	all := map[string]string{}
	if err := json.Unmarshal(texts, &all); err != nil {
		return fmt.Errorf("reading the words of %q: %w", lang, err)
	}
	learned[lang] = all
	return nil
}

// Texts are a language's texts by key. The error says that it was not learned.
func Texts(lang Lang) (map[string]string, error) {
	texts, ok := learned[lang]
	if !ok {
		return nil, fmt.Errorf("no catalogue of %q", lang)
	}
	return texts, nil
}
