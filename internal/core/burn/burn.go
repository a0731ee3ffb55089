// Package burn is one burn as it was logged: from the first match to the last
// coals, with every control change, load, reading and remark in between.
//
// The log is the truth. Nothing in it is overwritten: a correction is a new
// entry that takes the place of an old one, and an undone entry is struck but
// kept, so that it can be put back. What the burn came to is computed from the
// log each time ([Measure]), by replaying it through the fire simulator and by
// reading the gauges that the owner read.
package burn

import (
	"errors"
	"fmt"
	"sort"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Kind is what an entry records.
type Kind string

// The kinds of entry.
const (
	Light       Kind = "light"
	Load        Kind = "load"
	Control     Kind = "control" // air, bypass and every other control
	Temperature Kind = "temperature"
	Door        Kind = "door"
	Smoke       Kind = "smoke"
	Draft       Kind = "draft"
	Note        Kind = "note"
	Out         Kind = "out"
	Prime       Kind = "prime" // the flue warmed with burning paper
	Rake        Kind = "rake"  // the coals, to where the air comes in
)

// Smoke colours seen at the cap.
const (
	SmokeClear = "clear"
	SmokeWhite = "white"
	SmokeGrey  = "grey"
)

// An Entry is one line of the log.
type Entry struct {
	ID    string    `json:"id"` // made where it was typed, so that it is kept once
	At    time.Time `json:"at"`
	Kind  Kind      `json:"kind"`
	Typed string    `json:"typed,omitempty"` // as the owner said it

	Control string        `json:"control,omitempty"` // key of the control
	Opening float64       `json:"opening,omitempty"` // 0–1
	Place   stove.Place   `json:"place,omitempty"`
	Reading units.Celsius `json:"reading_c,omitempty"`
	Draft   units.Pascal  `json:"draft_pa,omitempty"`
	Door    fire.Door     `json:"door,omitempty"`
	Smoke   string        `json:"smoke,omitempty"`
	Load    *fire.Load    `json:"load,omitempty"`
	Note    string        `json:"note,omitempty"`

	Struck bool `json:"struck,omitempty"` // undone, or corrected by another
}

// A Burn is one burn with everything that held when it began.
type Burn struct {
	Stove   stove.Stove    `json:"stove"`
	House   house.House    `json:"house"`
	Outdoor units.Celsius  `json:"outdoor_c"`
	Room    units.Celsius  `json:"room_c"`
	Wanted  [2]float64     `json:"wanted_room_c,omitempty"`
	Warmth  units.Celsius  `json:"stove_warmth_c"` // of the body before lighting
	Coals   units.Kilogram `json:"coals_kg"`       // from the fire before
	Started time.Time      `json:"started"`
	Ended   time.Time      `json:"ended,omitzero"` // zero while it burns
	Entries []Entry        `json:"entries"`
}

// Valid returns the entries that count, in order of time.
func (b Burn) Valid() []Entry {
	out := make([]Entry, 0, len(b.Entries))
	for _, e := range b.Entries {
		if !e.Struck {
			out = append(out, e)
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].At.Before(out[j].At) })
	return out
}

// ErrEntry is the cause of every refused entry.
var ErrEntry = errors.New("this entry cannot be kept")

// longest is how long one burn may go on.
const longest = 48 * time.Hour

// Check refuses an entry that does not go with this burn, at the given time of
// keeping it. Nothing may lie in the future or before the burn.
func (b Burn) Check(e Entry, now time.Time) error {
	refuse := func(format string, args ...any) error {
		return fmt.Errorf("%w: %s", ErrEntry, fmt.Sprintf(format, args...))
	}
	switch {
	case e.At.After(now.Add(2 * time.Minute)):
		return refuse("its time lies ahead")
	case e.At.Before(b.Started.Add(-time.Minute)):
		return refuse("its time is before the burn was started")
	case e.At.After(b.Started.Add(longest)):
		return refuse("a burn is at most 48 hours long; start a new one")
	case !b.Ended.IsZero() && e.At.After(b.Ended):
		return refuse("its time is after the burn ended")
	}
	switch e.Kind {
	case Light, Out, Prime, Rake:
	case Note:
		if e.Note == "" {
			return refuse("the note is empty")
		}
		if len(e.Note) > 2000 {
			return refuse("a note of up to 2000 letters would do")
		}
	case Control:
		if _, ok := b.Stove.Control(e.Control); !ok {
			return refuse("this stove has no control %q", e.Control)
		}
		if !(e.Opening >= 0 && e.Opening <= 1) {
			return refuse("an opening lies between shut and fully open")
		}
	case Temperature:
		if !e.Place.Known() {
			return refuse("a temperature without its place is not a reading")
		}
		if !(e.Reading >= -60 && e.Reading <= 1300) {
			return refuse("a gauge reads between −60 and 1300 °C")
		}
	case Draft:
		if !(e.Draft >= -100 && e.Draft <= 500) {
			return refuse("a draft lies between −100 and 500 Pa")
		}
	case Door:
		if e.Door < fire.Shut || e.Door > fire.Open {
			return refuse("the door is shut, ajar or open")
		}
	case Smoke:
		if e.Smoke != SmokeClear && e.Smoke != SmokeWhite && e.Smoke != SmokeGrey {
			return refuse("smoke is clear, white or grey")
		}
	case Load:
		if e.Load == nil || e.Load.Pieces < 1 || e.Load.Pieces > 200 || !(e.Load.PieceMass > 0) {
			return refuse("a load has 1 to 200 pieces with a mass")
		}
		if err := plausible(*e.Load); err != nil {
			return fmt.Errorf("%w: %w", ErrEntry, err)
		}
		if err := b.Stove.CheckLoad(e.Load.Mass(), e.Load.Moisture, e.Load.Species); err != nil {
			return fmt.Errorf("%w: %w", ErrEntry, err)
		}
	default:
		return refuse("%q is not a kind of entry", string(e.Kind))
	}
	return nil
}

// plausible refuses wood that cannot be.
func plausible(l fire.Load) error {
	switch {
	case !(l.Species.Gravity >= 0.2 && l.Species.Gravity <= 1.4 && l.Species.Gross >= 10 && l.Species.Gross <= 30):
		return errors.New("its wood has no sensible density or energy")
	case !(l.Moisture >= 0.03 && l.Moisture <= 1.5):
		return errors.New("its moisture must lie between 3 and 150 % of dry wood")
	case !(l.PieceLength >= 0.03 && l.PieceLength <= 1.5):
		return errors.New("its pieces must be 3 to 150 cm long")
	case l.StarterKind != "" && !l.StarterKind.Known():
		return errors.New("what it was lit with is not known: wax-block, paper, gel, torch or hot-air would do")
	case !(l.Starter >= 0 && l.Starter <= 2e7):
		return errors.New("its starter must give 0 to 20 MJ")
	}
	return nil
}

// Setup returns what the simulator needs to replay the burn.
func (b Burn) Setup() fire.Setup {
	return fire.Setup{Stove: b.Stove, House: b.House, Outdoor: b.Outdoor, Room: b.Room, Warmth: b.Warmth, Coals: b.Coals}
}

// Steps returns the log as timed steps for the simulator. Readings and remarks
// change nothing and are left out.
func (b Burn) Steps() []fire.Step {
	var steps []fire.Step
	add := func(at time.Time, a fire.Act) {
		steps = append(steps, fire.Step{When: fire.Trigger{At: max(0, at.Sub(b.Started))}, Do: []fire.Act{a}})
	}
	for _, e := range b.Valid() {
		switch e.Kind {
		case Light:
			add(e.At, fire.Act{Kind: fire.ActLight})
		case Prime:
			add(e.At, fire.Act{Kind: fire.ActPrime, Heat: fire.PaperPrimer})
		case Rake:
			add(e.At, fire.Act{Kind: fire.ActRake})
		case Load:
			add(e.At, fire.Act{Kind: fire.ActLoad, Load: e.Load})
		case Door:
			add(e.At, fire.Act{Kind: fire.ActDoor, Door: e.Door})
		case Control:
			if c, ok := b.Stove.Control(e.Control); ok {
				add(e.At, fire.Act{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: e.Opening})
			}
		}
	}
	return steps
}

// Replay runs the log through the simulator until the given time.
func (b Burn) Replay(until time.Time) fire.Result {
	span := min(max(until.Sub(b.Started), time.Minute), longest)
	return fire.Run(b.Setup(), b.Steps(), fire.Options{Until: span, Step: 4 * time.Second})
}

// Used returns the wood put on, as it was fired.
func (b Burn) Used() units.Kilogram {
	var sum units.Kilogram
	for _, e := range b.Valid() {
		if e.Kind == Load && e.Load != nil {
			sum += e.Load.Mass()
		}
	}
	return sum
}

// UsedFrom returns the wood put on from one stack.
func (b Burn) UsedFrom(stack int64) units.Kilogram {
	var sum units.Kilogram
	for _, e := range b.Valid() {
		if e.Kind == Load && e.Load != nil && e.Load.StackID == stack {
			sum += e.Load.Mass()
		}
	}
	return sum
}

// Last returns the newest valid entry that keep accepts.
func (b Burn) Last(keep func(Entry) bool) (Entry, bool) {
	valid := b.Valid()
	for i := len(valid) - 1; i >= 0; i-- {
		if keep(valid[i]) {
			return valid[i], true
		}
	}
	return Entry{}, false
}

// Readings returns the valid readings of the gauge at a place.
func (b Burn) Readings(p stove.Place) []Entry {
	var out []Entry
	for _, e := range b.Valid() {
		if e.Kind == Temperature && e.Place == p {
			out = append(out, e)
		}
	}
	return out
}
