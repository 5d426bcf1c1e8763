package evaluation

import (
	"bufio"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
)

// EPANET runs the engine in a process of its own, one network a line.
type EPANET struct {
	in      io.WriteCloser
	answers *bufio.Scanner
	cmd     *exec.Cmd
}

// StartEPANET starts node in the front end's folder, where the package lies; root
// is the project's.
func StartEPANET(root string) (*EPANET, error) {
	cmd := exec.Command("node", "../internal/evaluation/epanet.mjs")
	cmd.Dir, cmd.Stderr = filepath.Join(root, "web"), os.Stderr
	in, err := cmd.StdinPipe()
	if err != nil {
		return nil, fmt.Errorf("starting EPANET: %w", err)
	}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return nil, fmt.Errorf("starting EPANET: %w", err)
	}
	if err := cmd.Start(); err != nil {
		return nil, fmt.Errorf("starting EPANET (it needs node and the front end's packages): %w", err)
	}
	answers := bufio.NewScanner(out)
	answers.Buffer(nil, 1<<20)
	return &EPANET{in, answers, cmd}, nil
}

// Solve is an Engine.
func (e *EPANET) Solve(input string) (Solution, error) {
	line, err := json.Marshal(input)
	if err != nil {
		return Solution{}, err
	}
	if _, err := e.in.Write(append(line, '\n')); err != nil {
		return Solution{}, fmt.Errorf("asking EPANET: %w", err)
	}
	if !e.answers.Scan() {
		return Solution{}, errors.Join(errors.New("EPANET ended"), e.answers.Err())
	}
	var answer struct {
		Solution
		Error string
	}
	if err := json.Unmarshal(e.answers.Bytes(), &answer); err != nil {
		return Solution{}, fmt.Errorf("reading EPANET's answer: %w", err)
	}
	if answer.Error != "" {
		return Solution{}, errors.New(answer.Error)
	}
	return answer.Solution, nil
}

// Close ends the process.
func (e *EPANET) Close() error {
	if err := e.in.Close(); err != nil {
		return fmt.Errorf("ending EPANET: %w", err)
	}
	return e.cmd.Wait()
}
