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
	"smolder/internal/core/units"
	"smolder/internal/form"
	"smolder/internal/lang"
	"smolder/internal/say"
)

const (
	formatName    = "smolder burn"
	formatVersion = 2
	oldVersion    = 1 // without weather; mineral fuel among the loads of wood
	mostEntries   = burn.MostEntries
	mostLoads     = 300
	mostBytes     = 8 << 20
	mostTitle     = 200
)

// ErrFormat is the cause of everything that cannot be read.
var ErrFormat = lang.Errorf("this is not a burn that can be read")

// A File is one burn on its way in or out.
type File struct {
	Format  string
	Version int
	Title   string
	Burn    burn.Burn
	Plan    *plan.Plan
	Eye     burn.Eye // what the owner saw at its end
}

// fileForm is a file as it is written.
type fileForm struct {
	Format  string     `json:"format"`
	Version int        `json:"version"`
	Title   string     `json:"title,omitempty"`
	Burn    form.Burn  `json:"burn"`
	Plan    *form.Plan `json:"plan,omitempty"`
	Eye     *form.Eye  `json:"eye,omitempty"`

	Reported []gaugeSeries `json:"reported,omitempty"` // by thermometers
}

func (f fileForm) file() File {
	out := File{Format: f.Format, Version: f.Version, Title: f.Title, Burn: f.Burn.Core()}
	if f.Plan != nil {
		p := f.Plan.Core()
		out.Plan = &p
	}
	if f.Eye != nil {
		out.Eye = f.Eye.Core()
	}
	return out
}

// WriteJSON writes a burn, struck entries left out.
func WriteJSON(w io.Writer, f File) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", " ")
	return enc.Encode(f.form())
}

// ReadJSON reads what WriteJSON wrote and checks it, at the given time.
func ReadJSON(r io.Reader, now time.Time) (File, error) {
	var read fileForm
	limited := &io.LimitedReader{R: r, N: mostBytes}
	dec := json.NewDecoder(newSqueezed(limited))
	if err := dec.Decode(&read); err != nil {
		switch {
		case limited.N <= 0:
			return File{}, tooLarge()
		case errors.Is(err, io.EOF):
			return File{}, lang.Errorf("%w: the file is empty", ErrFormat)
		case errors.Is(err, io.ErrUnexpectedEOF):
			return File{}, lang.Errorf("%w: the file ends in the middle", ErrFormat)
		}
		return File{}, lang.Errorf("%w: %w", ErrFormat, err)
	}
	f := read.file()
	if f.Format != formatName {
		return File{}, lang.Errorf(`%w: its "format" is %q; %q would do`, ErrFormat, shortened(f.Format), formatName)
	}
	if f.Version != formatVersion && f.Version != oldVersion {
		return File{}, lang.Errorf("%w: its version is %d; version %d would do", ErrFormat, f.Version, formatVersion)
	}
	f.upgrade()
	if err := f.check(now); err != nil {
		return f, err
	}
	return f, addSeries(&f.Burn, read.Reported)
}

func tooLarge() error {
	return lang.Errorf("%w: it is larger than %d MB; one burn in a file would do", ErrFormat, mostBytes>>20)
}

func shortened(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}

// upgrade brings a file of an older version to this one.
func (f *File) upgrade() {
	if f.Version != oldVersion {
		return
	}
	f.Version = formatVersion
	for i, e := range f.Burn.Entries {
		if e.Kind == burn.Load && e.Load != nil && e.Load.Species.Mineral {
			f.Burn.Entries[i].Kind = burn.Mineral
		}
	}
}

// check holds the file to what the application itself would have kept: what
// comes in is checked as strictly as what is typed, by the same checks.
func (f *File) check(now time.Time) error {
	b := &f.Burn
	wrong := func(what string, err error) error {
		return lang.Errorf("%w: %s%s", ErrFormat, what, say.Error(err, lang.Metric))
	}
	if len(f.Title) > mostTitle || !units.Printable(f.Title, false) {
		return lang.Errorf("%w: its title is too long, or has signs in it that cannot be shown: up to %d letters would do", ErrFormat, mostTitle)
	}
	if err := b.Stove.Check(); err != nil {
		return wrong("its stove: ", err)
	}
	if err := b.House.Check(); err != nil {
		return wrong("its house: ", err)
	}
	if err := b.CheckStart(now); err != nil {
		return wrong("", err)
	}
	if len(b.Entries) > mostEntries {
		return lang.Errorf("%w: %d entries; up to %d would do", ErrFormat, len(b.Entries), mostEntries)
	}
	seen, loads := map[string]bool{}, 0
	for i := range b.Entries {
		e := &b.Entries[i]
		if seen[e.ID] {
			return lang.Errorf("%w: entry %d has no id of its own", ErrFormat, i+1)
		}
		seen[e.ID] = true
		if e.Load != nil {
			loads++
		}
		e.Struck, e.Corrects, e.Undone = false, "", false // only what counts is written
		if err := b.Check(*e, now); err != nil {
			return wrong(fmt.Sprintf("entry %d: ", i+1), err)
		}
	}
	if loads > mostLoads {
		return lang.Errorf("%w: %d loads in one burn; up to %d would do", ErrFormat, loads, mostLoads)
	}
	if f.Plan != nil {
		if err := f.Plan.Check(); err != nil {
			return wrong("its plan: ", err)
		}
	}
	return f.checkEye()
}
