package exchange

import (
	"encoding/json"
	"errors"
	"io"
	"math"
	"strings"
	"time"

	"smolder/internal/core/units"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// A Shed is a household's wood in one file: what is told of every stack, what meters read
// in it and how it was counted. What follows from that is in no file.
type Shed struct {
	Format  string      `json:"format"`
	Version int         `json:"version"`
	Stacks  []ShedStack `json:"stacks"`
}

// A ShedStack is one stack.
type ShedStack struct {
	Name          string        `json:"name"`
	Species       string        `json:"species"`
	PieceMass     float64       `json:"piece_mass_kg"` // with the water of piece_moisture
	PieceMoisture float64       `json:"piece_moisture"`
	PieceLength   float64       `json:"piece_length_m"`
	Thin          float64       `json:"thin_piece_kg,omitempty"`
	Thick         float64       `json:"thick_piece_kg,omitempty"`
	Kindling      bool          `json:"kindling,omitempty"`
	Round         bool          `json:"round,omitempty"`
	Crooked       bool          `json:"crooked,omitempty"`
	Cover         string        `json:"cover,omitempty"`
	Wind          *float64      `json:"wind,omitempty"`
	Sun           *float64      `json:"sun,omitempty"`
	OnGround      bool          `json:"on_ground,omitempty"`
	Heap          bool          `json:"heap,omitempty"`
	StandingDead  bool          `json:"standing_dead,omitempty"`
	Since         *time.Time    `json:"since,omitempty"`
	Assumed       []string      `json:"assumed,omitempty"`
	Readings      []ShedReading `json:"readings,omitempty"`
	Counts        []ShedCount   `json:"counts,omitempty"`
}

// A ShedReading is what a meter read in it.
type ShedReading struct {
	At       time.Time `json:"at"`
	Reading  float64   `json:"reading"` // mean, as read, of dry wood
	Spread   float64   `json:"spread,omitempty"`
	Pieces   int       `json:"pieces"`
	WoodTemp *float64  `json:"wood_temperature_c,omitempty"`
	Guessed  bool      `json:"guessed,omitempty"`
}

// A ShedCount is how it was counted.
type ShedCount struct {
	At    time.Time `json:"at"`
	Way   string    `json:"way"`
	Typed string    `json:"typed,omitempty"`
	Dry   float64   `json:"dry_kg"`
	Own   float64   `json:"own_doubt"`
	Same  float64   `json:"same_doubt"`
	Adds  bool      `json:"adds,omitempty"`
}

// ErrShed says that a file is no wood, or not wood that makes sense.
var ErrShed = lang.Errorf("this is no wood that can be read")

const (
	shedName    = "smolder wood"
	shedVersion = 1
	// MostShed is how large a file of wood may be, bytes; MostStacks how many stacks it has.
	MostShed   = 4 << 20
	MostStacks = 400
	// mostOfStack is how many readings, or counts, one stack of a file may have.
	mostOfStack = 600
)

// WriteShed writes one.
func WriteShed(w io.Writer, s Shed) error {
	s.Format, s.Version = shedName, shedVersion
	enc := json.NewEncoder(w)
	enc.SetIndent("", " ")
	return enc.Encode(s)
}

// ReadShed reads what [WriteShed] wrote and checks all of it, at the given time. An error
// says which stack is wrong and what would do; it is an [ErrShed].
func ReadShed(r io.Reader, now time.Time) (Shed, error) {
	var s Shed
	limited := &io.LimitedReader{R: r, N: MostShed + 1}
	dec := json.NewDecoder(newSqueezed(limited))
	dec.DisallowUnknownFields()
	err := dec.Decode(&s)
	switch {
	case limited.N <= 0:
		return Shed{}, lang.Errorf("%w: it is larger than %d MB; the wood of one household would do", ErrShed, MostShed>>20)
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return Shed{}, lang.Errorf("%w: the file ends in the middle", ErrShed)
	case err != nil:
		return Shed{}, lang.Errorf("%w: %w", ErrShed, err)
	case s.Format != shedName || s.Version != shedVersion:
		return Shed{}, lang.Errorf("%w: its format is %q, version %d; %q, version %d would do", ErrShed, shortened(s.Format), s.Version, shedName, shedVersion)
	case len(s.Stacks) > MostStacks:
		return Shed{}, lang.Errorf("%w: more than %d stacks", ErrShed, MostStacks)
	}
	for i, st := range s.Stacks {
		if err := st.check(now); err != nil {
			return Shed{}, lang.Errorf("%w: stack %d: %w", ErrShed, i+1, err)
		}
	}
	return s, nil
}

// covers are the words for how a stack lies.
func knownCover(c string) bool {
	for _, k := range wood.Covers {
		if string(k.Key) == c {
			return true
		}
	}
	return c == ""
}

// check holds a stack to what its form would have kept.
func (s ShedStack) check(now time.Time) error {
	if _, err := wood.SpeciesByKey(s.Species); err != nil {
		return err
	}
	for _, rule := range shedRules {
		if rule.breaks(s, now) {
			return lang.Errorf(rule.would)
		}
	}
	if !knownCover(s.Cover) {
		return lang.Errorf("its cover is %q; roof, top, open, wrap or inside would do", shortened(s.Cover))
	}
	for _, a := range s.Assumed {
		if a != "mass" && a != "piece-mass" && a != "piece-length" {
			return lang.Errorf("%q cannot be assumed; mass, piece-mass or piece-length would do", shortened(a))
		}
	}
	for _, r := range s.Readings {
		if !r.sensible(now) {
			return lang.Errorf("its reading of %s makes no sense: a share of dry wood, of some pieces, up to now, would do", r.At.Format(time.DateOnly))
		}
	}
	for _, c := range s.Counts {
		if !c.sensible(now) {
			return lang.Errorf("its count of %s makes no sense: kilograms of dry wood, up to now, would do", c.At.Format(time.DateOnly))
		}
	}
	return nil
}

const (
	oldestSplit = 60 * 365 * 24 * time.Hour
	mostAssumed = 200 // letters
)

// shedRules are what is asked of a stack from a file, with what would do.
var shedRules = []struct {
	breaks func(s ShedStack, now time.Time) bool
	would  lang.Message
}{
	{func(s ShedStack, _ time.Time) bool { return units.FaultOfName(s.Name) != units.GoodName },
		"its name is missing, too long, or has signs in it that cannot be shown"},
	{func(s ShedStack, _ time.Time) bool {
		return !within(s.PieceMass, 0.01, 30) || !within(s.Thin, 0, 30) || !within(s.Thick, 0, 30) || !within(s.PieceLength, 0.03, 1.5) || !within(s.PieceMoisture, 0, 3)
	}, "a piece weighs 0.01 to 30 kg and is 0.03 to 1.5 m long"},
	{func(s ShedStack, _ time.Time) bool { return !isShare(s.Wind) || !isShare(s.Sun) }, "wind and sun are shares from 0 to 1"},
	{func(s ShedStack, now time.Time) bool {
		return s.Since != nil && (s.Since.After(now) || now.Sub(*s.Since) > oldestSplit)
	}, "it was split between sixty years ago and now"},
	{func(s ShedStack, _ time.Time) bool {
		return len(s.Readings) > mostOfStack || len(s.Counts) > mostOfStack
	},
		"more than 600 readings or counts"},
	{func(s ShedStack, _ time.Time) bool { return len(strings.Join(s.Assumed, " ")) > mostAssumed }, "what is assumed of it is too long"},
}

// within tells whether a value is a number between two others.
func within(v, low, high float64) bool { return v >= low && v <= high && !math.IsNaN(v) }

// isShare tells whether a value is a share, where it is told at all.
func isShare(v *float64) bool { return v == nil || within(*v, 0, 1) }

// sensible tells whether it can have been read: moisture of dry wood, °C of the wood.
func (r ShedReading) sensible(now time.Time) bool {
	return within(r.Reading, 0.01, 3) && within(r.Spread, 0, 2) && r.Pieces >= 1 && r.Pieces <= 1000 &&
		(r.WoodTemp == nil || within(*r.WoodTemp, -40, 80)) && !r.At.After(now)
}

// sensible tells whether it can have been counted: kg of dry wood, and how far off, as shares.
func (c ShedCount) sensible(now time.Time) bool {
	return within(c.Dry, 0, 300_000) && within(c.Own, 0, 5) && within(c.Same, 0, 5) && !c.At.After(now) &&
		len(c.Typed) <= 200 && units.Printable(c.Typed, false) && len(c.Way) <= 20
}

// Guarded is a row of a table in which no cell is taken for a formula.
func Guarded(cells ...string) []string { return guarded(cells) }
