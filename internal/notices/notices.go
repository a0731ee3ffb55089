// Package notices holds the licences of what others have written and Smolder
// ships: the Go modules in the program, the fonts and scripts of its pages.
// internal/tools/notices collects them (make notices).
package notices

import (
	_ "embed"
	"runtime/debug"
	"strings"
)

// Text is every notice, one after the other.
//
//go:embed notices.txt
var Text string

// A Notice is what one author asks for.
type Notice struct {
	Name    string // of the module or package, with its version
	Licence string // its kind, in a word
	Text    string
}

// rule begins a notice in the file; name and kind follow it.
const rule = "\n======== "

// All returns the notices in the order of the file.
func All() []Notice {
	var out []Notice
	for _, part := range strings.Split("\n"+Text, rule)[1:] {
		head, text, _ := strings.Cut(part, "\n")
		name, licence, _ := strings.Cut(head, " | ")
		out = append(out, Notice{name, licence, strings.TrimSpace(text)})
	}
	return out
}

// Version tells which Smolder this is: its tag or revision, and with which Go it
// was built.
func Version() string {
	info, ok := debug.ReadBuildInfo()
	if !ok {
		return "of unknown version"
	}
	said := map[string]string{}
	for _, s := range info.Settings {
		said[s.Key] = s.Value
	}
	version := info.Main.Version
	if rev := said["vcs.revision"]; version == "" || version == "(devel)" {
		version = "of " + rev[:min(len(rev), 12)]
		if rev == "" {
			version = "built from sources without a revision"
		}
	}
	if at, _, dated := strings.Cut(said["vcs.time"], "T"); dated {
		version += ", " + at
	}
	if said["vcs.modified"] == "true" {
		version += ", changed since"
	}
	return version + ", " + strings.Replace(info.GoVersion, "go", "Go ", 1)
}
