package company

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"fmt"
)

// Digest is what is kept of a secret.
func Digest(secret string) []byte {
	d := sha256.Sum256([]byte(secret))
	return d[:]
}

// NewSecret makes an address that nobody can guess: 256 random bits.
func NewSecret() (string, error) {
	b := make([]byte, 32)
	if _, err := rand.Read(b); err != nil {
		return "", fmt.Errorf("making a secret: %w", err)
	}
	return base64.RawURLEncoding.EncodeToString(b), nil
}
