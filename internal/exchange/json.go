// Package exchange reads and writes burns in open formats: JSON for programs,
// CSV for spreadsheets. Both hold everything, so that what is written can be
// read back; docs/formats.md describes them.
package exchange

import (
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
)

const (
	formatName    = "smolder burn"
	formatVersion = 1
	mostEntries   = 5000
	mostBytes     = 8 << 20
)

// ErrFormat is the cause of everything that cannot be read.
var ErrFormat = errors.New("this is not a burn that can be read")

// A File is one burn on its way in or out.
type File struct {
	Format  string     `json:"format"`
	Version int        `json:"version"`
	Title   string     `json:"title,omitempty"`
	Burn    burn.Burn  `json:"burn"`
	Plan    *plan.Plan `json:"plan,omitempty"`
}

// WriteJSON writes a burn, struck entries left out.
func WriteJSON(w io.Writer, f File) error {
	f.Format, f.Version = formatName, formatVersion
	f.Burn.Entries = f.Burn.Valid()
	enc := json.NewEncoder(w)
	enc.SetIndent("", " ")
	return enc.Encode(f)
}

// ReadJSON reads what WriteJSON wrote and checks it.
func ReadJSON(r io.Reader) (File, error) {
	var f File
	dec := json.NewDecoder(io.LimitReader(r, mostBytes))
	if err := dec.Decode(&f); err != nil {
		return File{}, fmt.Errorf("%w: %w", ErrFormat, err)
	}
	if f.Format != formatName {
		return File{}, fmt.Errorf(`%w: its "format" is %q; %q would do`, ErrFormat, f.Format, formatName)
	}
	if f.Version != formatVersion {
		return File{}, fmt.Errorf("%w: its version is %d; version %d would do", ErrFormat, f.Version, formatVersion)
	}
	return f, f.check()
}

// check holds the file to what the application itself would have kept.
func (f File) check() error {
	b := f.Burn
	if err := b.Stove.Check(); err != nil {
		return fmt.Errorf("%w: its stove: %w", ErrFormat, err)
	}
	if err := b.House.Check(); err != nil {
		return fmt.Errorf("%w: its house: %w", ErrFormat, err)
	}
	if b.Started.IsZero() {
		return fmt.Errorf("%w: it has no start", ErrFormat)
	}
	if !b.Ended.IsZero() && b.Ended.Before(b.Started) {
		return fmt.Errorf("%w: it ends before it starts", ErrFormat)
	}
	if b.Outdoor < -60 || b.Outdoor > 60 || b.Room < -30 || b.Room > 60 || b.Coals < 0 || b.Coals > 20 {
		return fmt.Errorf("%w: its temperatures or coals at the start make no sense", ErrFormat)
	}
	if len(b.Entries) > mostEntries {
		return fmt.Errorf("%w: %d entries; up to %d would do", ErrFormat, len(b.Entries), mostEntries)
	}
	seen := map[string]bool{}
	for i, e := range b.Entries {
		if e.ID == "" || len(e.ID) > 64 || seen[e.ID] {
			return fmt.Errorf("%w: entry %d has no id of its own", ErrFormat, i+1)
		}
		seen[e.ID] = true
		if err := b.Check(e, b.Started.Add(72*time.Hour)); err != nil {
			return fmt.Errorf("%w: entry %d: %w", ErrFormat, i+1, err)
		}
	}
	return nil
}
