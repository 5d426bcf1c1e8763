//go:build !long

package drawn

const part = 10
