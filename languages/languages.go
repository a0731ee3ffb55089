// Package languages ships the languages besides English, each a file as docs/formats.md has it.
package languages

import "embed"

// Files are they.
//
//go:embed *.json
var Files embed.FS
