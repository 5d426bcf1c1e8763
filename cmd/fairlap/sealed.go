package main

import (
	"bufio"
	"errors"
	"fmt"
	"io"
	"os"
	"strings"

	"filippo.io/age"
	"github.com/spf13/cobra"
)

// locks say how an archive is encrypted (age-encryption.org/v1): by a passphrase, or to keys of
// whoever may open it.
type locks struct {
	passphrase string // file that holds it
	recipients []string
	identity   string // file of keys that open
}

// shutFlags are for a command that writes.
func (l *locks) shutFlags(cmd *cobra.Command) *cobra.Command {
	cmd.Flags().StringVar(&l.passphrase, "passphrase-file", "", "encrypt with the passphrase in this file")
	cmd.Flags().
		StringSliceVar(&l.recipients, "recipient", nil, "encrypt to this age key, like age1...; as often as there are keys")
	return cmd
}

// openFlags are for a command that reads.
func (l *locks) openFlags(cmd *cobra.Command) *cobra.Command {
	cmd.Flags().
		StringVar(&l.passphrase, "passphrase-file", "", "file that holds the passphrase of an encrypted archive")
	cmd.Flags().StringVar(&l.identity, "identity-file", "", "file of age keys, of which one opens an encrypted archive")
	return cmd
}

func (l *locks) secret() (string, error) {
	text, err := os.ReadFile(l.passphrase)
	if err != nil {
		return "", fmt.Errorf("reading the passphrase: %w", err)
	}
	secret := strings.TrimRight(string(text), "\r\n")
	if secret == "" {
		return "", fmt.Errorf("%s holds no passphrase", l.passphrase)
	}
	return secret, nil
}

// unlocked is a writer that nothing is encrypted by.
type unlocked struct{ io.Writer }

func (unlocked) Close() error { return nil }

// shut encrypts what is written, as far as that was asked for; what it gives must be closed.
func (l *locks) shut(w io.Writer) (io.WriteCloser, error) {
	var to []age.Recipient
	for _, key := range l.recipients {
		r, err := age.ParseX25519Recipient(key)
		if err != nil {
			return nil, fmt.Errorf("--recipient: %w", err)
		}
		to = append(to, r)
	}
	if l.passphrase != "" {
		if len(to) > 0 {
			return nil, errors.New("an archive is encrypted with a passphrase or to keys, not both")
		}
		secret, err := l.secret()
		if err != nil {
			return nil, err
		}
		r, err := age.NewScryptRecipient(secret)
		if err != nil {
			return nil, fmt.Errorf("taking the passphrase: %w", err)
		}
		to = append(to, r)
	}
	if len(to) == 0 {
		return unlocked{w}, nil
	}
	return age.Encrypt(w, to...)
}

// ageMagic begins an encrypted file.
const ageMagic = "age-encryption.org/"

// open decrypts an archive that is encrypted; others are read as they are.
func (l *locks) open(r io.Reader) (io.Reader, error) {
	in := bufio.NewReader(r)
	if head, _ := in.Peek(len(ageMagic)); string(head) != ageMagic {
		return in, nil
	}
	var keys []age.Identity
	if l.identity != "" {
		f, err := os.Open(l.identity)
		if err != nil {
			return nil, fmt.Errorf("opening the keys: %w", err)
		}
		defer f.Close()
		if keys, err = age.ParseIdentities(f); err != nil {
			return nil, fmt.Errorf("reading the keys: %w", err)
		}
	}
	if l.passphrase != "" {
		secret, err := l.secret()
		if err != nil {
			return nil, err
		}
		k, err := age.NewScryptIdentity(secret)
		if err != nil {
			return nil, fmt.Errorf("taking the passphrase: %w", err)
		}
		keys = append(keys, k)
	}
	if len(keys) == 0 {
		return nil, errors.New("this archive is encrypted: give --passphrase-file or --identity-file")
	}
	out, err := age.Decrypt(in, keys...)
	if err != nil {
		return nil, fmt.Errorf("opening the archive: %w", err)
	}
	return out, nil
}
