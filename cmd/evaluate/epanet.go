package main

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"

	"fairlap/internal/evaluation"
)

// epanet runs the engine in a process of its own, one network a line.
type epanet struct {
	in      io.WriteCloser
	answers *bufio.Scanner
	cmd     *exec.Cmd
}

// startEPANET starts node in the front end's folder, where the package lies.
func startEPANET() (*epanet, error) {
	cmd := exec.Command("node", "../cmd/evaluate/epanet.mjs")
	cmd.Dir, cmd.Stderr = "web", os.Stderr
	in, err := cmd.StdinPipe()
	if err != nil {
		return nil, fmt.Errorf("starting EPANET: %w", err)
	}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, fmt.Errorf("starting EPANET: %w", err)
	}
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("starting EPANET (run from the project's root, after make build): %w", err)
	}
	answers := bufio.NewScanner(out)
	answers.Buffer(nil, 1<<20)
	return &epanet{in, answers, cmd}, nil
}

func (e *epanet) solve(input string) (evaluation.Solution, error) {
	line, err := json.Marshal(input)
	if err != nil {
		return evaluation.Solution{}, err
	}
	if _, err := e.in.Write(append(line, '\n')); err != nil {
		return evaluation.Solution{}, fmt.Errorf("asking EPANET: %w", err)
	}
	if !e.answers.Scan() {
		return evaluation.Solution{}, errors.Join(errors.New("EPANET ended"), e.answers.Err())
	}
	var answer struct {
		evaluation.Solution
		Error string
	}
	if err := json.Unmarshal(e.answers.Bytes(), &answer); err != nil {
		return evaluation.Solution{}, fmt.Errorf("reading EPANET's answer: %w", err)
	}
	if answer.Error != "" {
		return evaluation.Solution{}, errors.New(answer.Error)
	}
	return answer.Solution, nil
}

func (e *epanet) close() error {
	if err := e.in.Close(); err != nil {
		return fmt.Errorf("ending EPANET: %w", err)
	}
	return e.cmd.Wait()
}
