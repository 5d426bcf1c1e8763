// Package chapter keeps the computed chapters of a document apart from what is
// written by hand: each stands between two comment lines.
package chapter

import (
	"fmt"
	"os"
	"strings"
)

// Replace puts text into the named chapter of a Markdown file. It fails when the
// file does not hold the chapter's two marks, in order.
func Replace(path, name, text string) error {
	b, err := os.ReadFile(path)
	if err != nil {
		return fmt.Errorf("reading the document: %w", err)
	}
	begin, end := "<!-- "+name+": computed from here -->\n", "<!-- "+name+": to here -->"
	head, rest, ok := strings.Cut(string(b), begin)
	if !ok {
		return fmt.Errorf("%s has no line %q", path, strings.TrimSpace(begin))
	}
	_, tail, ok := strings.Cut(rest, end)
	if !ok {
		return fmt.Errorf("%s has no line %q after it", path, end)
	}
	if err := os.WriteFile(path, []byte(head+begin+"\n"+strings.TrimSpace(text)+"\n\n"+end+tail), 0o644); err != nil {
		return fmt.Errorf("writing the document: %w", err)
	}
	return nil
}
