//go:build long

package drawn

const part = 1
