// Package cells writes words into a spreadsheet so that it takes none for a formula, and reads
// them back.
package cells

import "strings"

// begins are the letters with which a spreadsheet begins a formula, or what it may take for one.
const begins = "=+-@\t\r"

// Plain marks words that a spreadsheet would run as words.
func Plain(words string) string {
	if words != "" && (strings.ContainsAny(words[:1], begins) || words[0] == '\'' && Typed(words) != words) {
		return "'" + words
	}
	return words
}

// Typed is what Plain was given.
func Typed(cell string) string {
	if len(cell) > 1 && cell[0] == '\'' && strings.ContainsAny(cell[1:2], begins+"'") &&
		(cell[1] != '\'' || Typed(cell[1:]) != cell[1:]) {
		return cell[1:]
	}
	return cell
}
