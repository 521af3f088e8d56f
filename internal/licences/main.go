// Command licences writes what of others ships with White Barn and under which terms, from the
// modules that are linked in and the packages that the front end is built of.
package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
)

// Ships is one package.
type Ships struct {
	Name    string `json:"name"`
	Version string `json:"version"`
	Licence string `json:"licence"`
	Text    string `json:"text"`
}

func main() {
	text, err := all(".")
	if err == nil {
		_, err = os.Stdout.Write(text)
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, "licences:", err)
		os.Exit(1)
	}
}

func all(root string) ([]byte, error) {
	mods, err := modules(root)
	if err != nil {
		return nil, err
	}
	web, err := packages(filepath.Join(root, "web"))
	if err != nil {
		return nil, err
	}
	out := append(append(mods, web...), passwords)
	slices.SortFunc(out, func(a, b Ships) int { return strings.Compare(a.Name, b.Name) })
	text, err := json.MarshalIndent(out, "", " ")
	return append(text, '\n'), err
}

// modules are those that the program links.
func modules(root string) ([]Ships, error) {
	cmd := exec.Command("go", "list", "-tags", "nomsgpack", "-deps", "-json=Module", "./cmd/whitebarn") // as it is built
	cmd.Dir = root
	text, err := cmd.Output()
	if err != nil {
		return nil, fmt.Errorf("list the modules: %w", err)
	}
	seen := map[string]bool{}
	var out []Ships
	for d := json.NewDecoder(strings.NewReader(string(text))); ; {
		var p struct {
			Module *struct {
				Path, Version, Dir string
				Main               bool
			}
		}
		err := d.Decode(&p)
		if errors.Is(err, io.EOF) {
			return append(out, goItself()), nil
		}
		if err != nil {
			return nil, err
		}
		if p.Module == nil || p.Module.Main || seen[p.Module.Path] {
			continue
		}
		seen[p.Module.Path] = true
		s, err := read(p.Module.Path, p.Module.Version, p.Module.Dir)
		if err != nil {
			return nil, err
		}
		out = append(out, s)
	}
}

// passwords is the one list of others that ships: data, under a licence of its own.
var passwords = Ships{Name: "SecLists: most used passwords", Version: "10 million, the first million", Licence: "CC-BY-SA-3.0",
	Text: "The ten thousand most used passwords of twelve letters and more, in small letters, of the list 10_million_password_list_top_1M of the SecLists " +
		"project by Daniel Miessler and Jason Haddix (OWASP), under the Creative Commons Attribution-ShareAlike 3.0 licence: " +
		"https://creativecommons.org/licenses/by-sa/3.0/. The shortened list is under the same licence.\n"}

// goItself is the language's own library, whose licence stands beside its sources.
func goItself() Ships {
	root, err := exec.Command("go", "env", "GOROOT").Output()
	if err == nil {
		if s, err := read("Go standard library", "", strings.TrimSpace(string(root))); err == nil {
			return s
		}
	}
	return Ships{Name: "Go standard library", Licence: "BSD-3-Clause", Text: "Copyright 2009 The Go Authors. See https://go.dev/LICENSE"}
}

// packages are those of the front end that are not for building it alone.
func packages(web string) ([]Ships, error) {
	text, err := os.ReadFile(filepath.Join(web, "package-lock.json"))
	if err != nil {
		return nil, err
	}
	var lock struct {
		Packages map[string]struct {
			Version, License string
			Dev, Optional    bool
		}
	}
	if err := json.Unmarshal(text, &lock); err != nil {
		return nil, err
	}
	var out []Ships
	for path, p := range lock.Packages {
		if path == "" || p.Dev || p.Optional || strings.HasPrefix(path, "node_modules/@types/") {
			continue
		}
		s, err := read(path[strings.LastIndex(path, "node_modules/")+len("node_modules/"):], p.Version, filepath.Join(web, path))
		if err != nil {
			return nil, err
		}
		if p.License != "" {
			s.Licence = p.License
		}
		out = append(out, s)
	}
	return out, nil
}

var licenceFile = regexp.MustCompile(`(?i)^(licen[cs]e|copying|ofl)`)

func read(name, version, dir string) (Ships, error) {
	s := Ships{Name: name, Version: version}
	files, err := os.ReadDir(dir)
	if err != nil {
		return s, fmt.Errorf("look for the licence of %s: %w", name, err)
	}
	for _, f := range files {
		if !f.IsDir() && licenceFile.MatchString(f.Name()) && s.Text == "" {
			text, err := os.ReadFile(filepath.Join(dir, f.Name()))
			if err != nil {
				return s, err
			}
			s.Text = string(text)
		}
	}
	s.Licence = kindOf(s.Text)
	return s, nil
}

// kindOf tells the licence by its words.
func kindOf(text string) string {
	flat := strings.Join(strings.Fields(text), " ")
	for _, k := range []struct{ says, kind string }{
		{"Apache License", "Apache-2.0"}, {"SIL OPEN FONT LICENSE", "OFL-1.1"}, {"Mozilla Public License", "MPL-2.0"},
		{"Permission is hereby granted, free of charge", "MIT"}, {"Permission to use, copy, modify, and/or distribute",
			"ISC"}, {"Permission to use, copy, modify, and distribute", "ISC"},
		{"Neither the name", "BSD-3-Clause"}, {"Redistribution and use in source and binary forms", "BSD-2-Clause"},
	} {
		if strings.Contains(flat, k.says) {
			return k.kind
		}
	}
	return ""
}
