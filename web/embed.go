// Package web carries the built front end in the binary.
package web

import "embed"

// Dist is the output of the front end's build; only .keep before the first one.
//
//go:embed all:dist
var Dist embed.FS
