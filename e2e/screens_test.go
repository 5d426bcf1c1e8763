//go:build !long

package e2e

// widths are the screens that every view must fit: a desk, and the least that WCAG asks for. The long walk has two
// between them.
var widths = [][2]int{{1280, 800}, {320, 640}}

// shades are how a device has it: by day. The long walk is by night too.
var shades = []string{"light"}
