//go:build long

package drawn

const part, stride = 1, 1
