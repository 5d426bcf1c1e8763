// Command notices writes THIRD-PARTY.txt: every library that ships in the program or in its
// page, with its licence as its authors wrote it.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
)

// part is something of somebody else's that ships.
type part struct{ name, version, dir string }

func main() {
	if err := run("THIRD-PARTY.txt"); err != nil {
		fmt.Fprintln(os.Stderr, "notices:", err)
		os.Exit(1)
	}
}

func run(file string) error {
	modules, err := goParts()
	if err != nil {
		return err
	}
	packages, err := pageParts("web")
	if err != nil {
		return err
	}
	var out bytes.Buffer
	out.WriteString("What Fair Lap ships of others, each under its own licence.\n")
	for _, p := range append(modules, packages...) {
		texts, err := licences(p.dir)
		if err != nil {
			return fmt.Errorf("%s: %w", p.name, err)
		}
		fmt.Fprintf(&out, "\n%s\n%s %s\n\n", strings.Repeat("=", 72), p.name, p.version)
		for _, t := range texts {
			out.WriteString(strings.TrimSpace(t) + "\n")
		}
	}
	return os.WriteFile(file, out.Bytes(), 0o644)
}

// goParts are the modules that the program is built from.
func goParts() ([]part, error) {
	type module struct {
		Path, Version, Dir string
		Main               bool
		Replace            *struct{ Version string } // without a version: a folder of ours
	}
	text, err := exec.Command("go", "list", "-deps", "-json=Module", "./cmd/fairlap").Output()
	if err != nil {
		return nil, fmt.Errorf("listing the modules: %w", err)
	}
	seen := map[string]part{}
	for dec := json.NewDecoder(bytes.NewReader(text)); ; {
		var p struct{ Module *module }
		if err := dec.Decode(&p); errors.Is(err, io.EOF) {
			break
		} else if err != nil {
			return nil, fmt.Errorf("reading the modules: %w", err)
		}
		if m := p.Module; m != nil && !m.Main && (m.Replace == nil || m.Replace.Version != "") {
			seen[m.Path] = part{m.Path, m.Version, m.Dir}
		}
	}
	return sorted(seen), nil
}

// pageParts are the packages that the page is built from: what it asks for, and what that
// asks for.
func pageParts(dir string) ([]part, error) {
	seen := map[string]part{}
	var follow func(name string) error
	read := func(folder string) (p struct {
		Name, Version string
		Dependencies  map[string]string
	}, err error) {
		text, err := os.ReadFile(filepath.Join(folder, "package.json"))
		if err != nil {
			return p, err
		}
		return p, json.Unmarshal(text, &p)
	}
	follow = func(name string) error {
		if _, done := seen[name]; done || strings.HasPrefix(name, "@types/") {
			return nil
		}
		folder := filepath.Join(dir, "node_modules", name)
		p, err := read(folder)
		if err != nil {
			return fmt.Errorf("reading %s: %w", name, err)
		}
		seen[name] = part{name, p.Version, folder}
		for next := range p.Dependencies {
			if err := follow(next); err != nil {
				return err
			}
		}
		return nil
	}
	page, err := read(dir)
	if err != nil {
		return nil, fmt.Errorf("reading the page's own list: %w", err)
	}
	for name := range page.Dependencies {
		if err := follow(name); err != nil {
			return nil, err
		}
	}
	return sorted(seen), nil
}

func sorted(by map[string]part) []part {
	out := make([]part, 0, len(by))
	for _, p := range by {
		out = append(out, p)
	}
	slices.SortFunc(out, func(a, b part) int { return strings.Compare(a.name, b.name) })
	return out
}

// licences are the texts that stand in a folder, else, of a package without one, what its list
// says.
func licences(dir string) ([]string, error) {
	entries, err := os.ReadDir(dir)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, e := range entries {
		name := strings.ToUpper(e.Name())
		if e.IsDir() ||
			!(strings.HasPrefix(name, "LICEN") || strings.HasPrefix(name, "COPYING") ||
				strings.HasPrefix(name, "NOTICE") || strings.HasPrefix(name, "OFL")) {
			continue
		}
		text, err := os.ReadFile(filepath.Join(dir, e.Name()))
		if err != nil {
			return nil, err
		}
		out = append(out, string(text))
	}
	if len(out) > 0 {
		return out, nil
	}
	var p struct {
		License string
		Author  any
	}
	if text, err := os.ReadFile(filepath.Join(dir, "package.json")); err == nil && json.Unmarshal(text, &p) == nil &&
		p.License != "" {
		return []string{"Licence: " + p.License}, nil
	}
	return nil, errors.New("no licence is with it")
}
