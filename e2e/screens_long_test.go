//go:build long

package e2e

// widths are the screens that every view must fit: a desk, a tablet, a phone, and the least that WCAG asks for.
var widths = [][2]int{{1280, 800}, {768, 1024}, {390, 844}, {320, 640}}

// shades are how a device has it: by day and by night.
var shades = []string{"light", "dark"}
