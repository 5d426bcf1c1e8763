//go:build !js

package words

import (
	"embed"
	"encoding/json"
	"fmt"
	"io/fs"
)

//go:embed en/*.json es/*.json
var files embed.FS

// Texts are a language's texts by key, as its files have them. Errors are those of a
// file that is broken or says a key twice.
func Texts(lang Lang) (map[string]string, error) {
	out := map[string]string{}
	names, err := fs.Glob(files, string(lang)+"/*.json")
	if err != nil || len(names) == 0 {
		return nil, fmt.Errorf("no catalogue of %q", lang)
	}
	for _, name := range names {
		b, err := files.ReadFile(name)
		if err != nil {
			return nil, fmt.Errorf("reading %s: %w", name, err)
		}
		var texts map[string]string
		if err := json.Unmarshal(b, &texts); err != nil {
			return nil, fmt.Errorf("reading %s: %w", name, err)
		}
		for k, v := range texts {
			if _, twice := out[k]; twice {
				return nil, fmt.Errorf("%s: %q is said twice", name, k)
			}
			out[k] = v
		}
	}
	return out, nil
}
