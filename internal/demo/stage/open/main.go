// Command open runs another command beside one open stage, so that the test programs of many packages copy one town:
// go run ./internal/demo/stage/open go test ./...
package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"os/exec"

	"fairlap/internal/demo/stage"
)

func main() {
	err := run(os.Args[1:])
	var ended *exec.ExitError
	switch {
	case errors.As(err, &ended):
		os.Exit(ended.ExitCode())
	case err != nil:
		fmt.Fprintln(os.Stderr, "stage:", err)
		os.Exit(1)
	}
}

func run(command []string) error {
	if len(command) == 0 {
		return errors.New("name a command to run")
	}
	s, err := stage.Open(context.Background(), stage.Now())
	if err != nil {
		return err
	}
	defer s.Close()
	setting, err := s.Share()
	if err != nil {
		return err
	}
	c := exec.Command(command[0], command[1:]...) // what the Makefile names
	c.Env = append(os.Environ(), setting)
	c.Stdin, c.Stdout, c.Stderr = os.Stdin, os.Stdout, os.Stderr
	return c.Run()
}
