// Command notices collects the licences of everything that Smolder ships and
// others have written, into internal/notices/notices.txt. It reads the module
// cache and assets/node_modules; run it after either has changed.
package main

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strings"
)

func main() {
	if err := collect("internal/notices/notices.txt"); err != nil {
		fmt.Fprintln(os.Stderr, "notices:", err)
		os.Exit(1)
	}
}

// scripts are the packages of assets whose files are served.
var scripts = []string{"@alpinejs/csp", "@vue/reactivity", "tailwindcss", "@fontsource-variable/atkinson-hyperlegible-next",
	"@fontsource-variable/literata"}

func collect(into string) error {
	var b bytes.Buffer
	add := func(name, text string) {
		text = strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n"))
		fmt.Fprintf(&b, "======== %s | %s\n\n%s\n\n", name, kindOf(text), text)
	}
	goRoot, err := exec.Command("go", "env", "GOROOT", "GOVERSION").Output()
	if err != nil {
		return err
	}
	root := strings.Fields(string(goRoot))
	text, err := os.ReadFile(filepath.Join(root[0], "LICENSE"))
	if err != nil {
		return err
	}
	add("Go and its standard library", string(text))
	modules, err := modulesOf("./cmd/smolder")
	if err != nil {
		return err
	}
	for _, m := range modules {
		text, err := licenceIn(m.Dir)
		if err != nil {
			return fmt.Errorf("%s: %w", m.Path, err)
		}
		add(m.Path+" "+m.Version, text)
	}
	for _, name := range scripts {
		text, version, err := scriptLicence(name)
		if err != nil {
			return fmt.Errorf("%s: %w", name, err)
		}
		add(name+" "+version, text)
	}
	return os.WriteFile(into, b.Bytes(), 0o644)
}

type module struct{ Path, Version, Dir string }

// modulesOf lists the modules that a program is built from.
func modulesOf(program string) ([]module, error) {
	out, err := exec.Command("go", "list", "-deps", "-f", "{{with .Module}}{{if not .Main}}{{.Path}}\t{{.Version}}\t{{.Dir}}{{end}}{{end}}", program).Output()
	if err != nil {
		return nil, err
	}
	seen := map[string]module{}
	for _, line := range strings.Split(string(out), "\n") {
		if p := strings.Split(line, "\t"); len(p) == 3 {
			seen[p[0]] = module{p[0], p[1], p[2]}
		}
	}
	list := make([]module, 0, len(seen))
	for _, m := range seen {
		list = append(list, m)
	}
	sort.Slice(list, func(i, j int) bool { return list[i].Path < list[j].Path })
	return list, nil
}

// licenceIn reads every licence and notice at the top of a directory.
func licenceIn(dir string) (string, error) {
	files, err := os.ReadDir(dir)
	if err != nil {
		return "", err
	}
	var texts []string
	for _, f := range files {
		upper := strings.ToUpper(f.Name())
		if f.IsDir() || !strings.HasPrefix(upper, "LICEN") && !strings.HasPrefix(upper, "NOTICE") && !strings.HasPrefix(upper, "COPYING") {
			continue
		}
		text, err := os.ReadFile(filepath.Join(dir, f.Name()))
		if err != nil {
			return "", err
		}
		texts = append(texts, string(text))
	}
	if len(texts) == 0 {
		return "", errors.New("no licence in it")
	}
	return strings.Join(texts, "\n\n"), nil
}

// scriptLicence reads the licence of a package of assets. One that comes without
// its text is under the licence that it names: the MIT one, with its author.
func scriptLicence(name string) (text, version string, err error) {
	dir := filepath.Join("assets", "node_modules", filepath.FromSlash(name))
	var about struct{ Version, License, Author string }
	raw, err := os.ReadFile(filepath.Join(dir, "package.json"))
	if err != nil {
		return "", "", err
	}
	var loose map[string]any
	if err := json.Unmarshal(raw, &loose); err != nil {
		return "", "", err
	}
	about.Version, _ = loose["version"].(string)
	about.License, _ = loose["license"].(string)
	about.Author, _ = loose["author"].(string)
	text, err = licenceIn(dir)
	if err == nil || about.License != "MIT" {
		return text, about.Version, err
	}
	mit, err := licenceIn(filepath.Join("assets", "node_modules", "tailwindcss"))
	if err != nil {
		return "", "", err
	}
	lines := strings.Split(mit, "\n")
	for i, l := range lines {
		if strings.HasPrefix(l, "Copyright") {
			lines[i] = "Copyright (c) " + about.Author + " and contributors"
		}
	}
	return strings.Join(lines, "\n"), about.Version, nil
}

// kindOf names a licence by words that only it has.
func kindOf(text string) string {
	for _, k := range [][2]string{
		{"SIL OPEN FONT LICENSE", "SIL Open Font License 1.1"},
		{"Mozilla Public License", "Mozilla Public License 2.0"},
		{"Apache License", "Apache License 2.0"},
		{"Eclipse Distribution License", "Eclipse Public or Distribution License"},
		{"Redistribution and use in source and binary forms", "BSD licence"},
		{"Permission is hereby granted, free of charge", "MIT licence"},
		{"Permission to use, copy, modify", "ISC licence"},
	} {
		if strings.Contains(text, k[0]) {
			return k[1]
		}
	}
	return "its own licence"
}
