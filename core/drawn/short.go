//go:build !long

package drawn

const part, stride = 10, 7
