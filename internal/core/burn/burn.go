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
	"iter"
	"slices"
	"sort"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// Smoke as it is seen: its colour at the cap, that it comes into the room, or that it
// does so no more.
const (
	SmokeRoom  = "room"
	SmokeGone  = "gone"
	SmokeClear = "clear"
	SmokeWhite = "white"
	SmokeGrey  = "grey"
)

// SmokeSigns are what may be seen of smoke.
var SmokeSigns = []string{SmokeClear, SmokeWhite, SmokeGrey, SmokeRoom, SmokeGone}

// An Entry is one line of the log.
type Entry struct {
	ID    string // made where it was typed, so that it is kept once
	At    time.Time
	Kind  Kind
	Typed string // as the owner said it

	Control string  // key of the control
	Opening float64 // 0–1
	Place   stove.Place
	Reading units.Celsius
	Draft   units.Pascal
	Depth   units.Metre // of the bed
	PPM     float64     // of carbon monoxide in the room
	Door    fire.Door
	Smoke   string
	Load    *fire.Load
	Note    string

	Struck   bool   // does not count: undone, or corrected by one that counts
	Undone   bool   // by hand
	Seq      int64  // counts up in the order in which entries were made
	Corrects string // id of the entry whose place it takes
	Tap      string // the same for entries that one tap has made; empty: each by itself
	Reported bool   // by a thermometer, and not by hand: it cannot be undone
	By       string // name of who made it; empty: not known
	UndoneBy string // likewise
}

// Several tells whether more than one is known to have had a hand in the burn.
func (b Burn) Several() bool {
	first := ""
	another := func(name string) bool {
		if first == "" {
			first = name
		}
		return name != "" && name != first
	}
	if another(b.LitBy) || another(b.EndedBy) {
		return true
	}
	return slices.ContainsFunc(b.Entries, func(e Entry) bool { return another(e.By) || another(e.UndoneBy) })
}

// Confined tells whether the burn is in a boat, a van or a hut.
func (b Burn) Confined() bool { return b.House.Mobile() || b.Stove.Small() }

// A Burn is one burn with everything that held when it began.
type Burn struct {
	Stove   stove.Stove
	House   house.House
	Outdoor units.Celsius
	Room    units.Celsius
	Wanted  [2]float64
	Warmth  units.Celsius  // of the body before lighting
	Coals   units.Kilogram // from the fire before
	Started time.Time
	Ended   time.Time // zero while it burns
	LitBy   string    // name of who began it; empty: not known
	EndedBy string    // likewise
	Entries []Entry

	// What the weather did, by the hour since the start, where it is known; it
	// goes before Outdoor and Wind.
	Weather []fire.Weather
	Wind    float64
	Window  bool          // a crack, on the stove's level, all the time
	Beside  []fire.Beside // what another stove in the same space gives

	// What nobody has said: Room and Outdoor are then assumed.
	RoomUnknown    bool
	OutdoorUnknown bool

	known fire.Tuning // of the stove, see [Burn.In]
}

// In is the same burn in a stove that is known better than by its family and its manual:
// it is replayed as that one.
func (b Burn) In(t fire.Tuning) Burn {
	b.known = t
	return b
}

// AssumedRoom and AssumedOutdoor stand in for temperatures that nobody has said:
// a cool room and a mild winter's day.
const AssumedRoom, AssumedOutdoor units.Celsius = 17, 4

// Valid returns the entries that count, in order of time.
func (b Burn) Valid() []Entry {
	out := make([]Entry, 0, len(b.Entries))
	for e := range b.All() {
		out = append(out, *e)
	}
	return out
}

// All goes through the entries that count in order of time, without copying
// them where they lie in order already.
func (b Burn) All() iter.Seq[*Entry] {
	entries := b.Entries
	inOrder := func(i, j int) bool { return entries[i].At.Before(entries[j].At) }
	if !sort.SliceIsSorted(entries, inOrder) {
		entries = slices.Clone(entries)
		sort.SliceStable(entries, inOrder)
	}
	return func(yield func(*Entry) bool) {
		for i := range entries {
			if !entries[i].Struck && !yield(&entries[i]) {
				return
			}
		}
	}
}

// Logged are the entries that somebody has made, struck ones included: not what
// thermometers report.
func (b Burn) Logged() []Entry {
	out := make([]Entry, 0, len(b.Entries))
	for _, e := range b.Entries {
		if !e.Reported {
			out = append(out, e)
		}
	}
	return out
}

// Simulated tells whether the simulator can follow the burn: manufactured
// mineral fuel is only recorded.
func (b Burn) Simulated() bool {
	for _, e := range b.Entries {
		if e.Kind == Mineral && !e.Struck {
			return false
		}
	}
	return true
}

// Setup returns what the simulator needs to replay the burn.
func (b Burn) Setup() fire.Setup {
	return fire.Setup{Stove: b.Stove, House: b.House, Outdoor: b.Outdoor, Room: b.Room, Warmth: b.Warmth, Coals: b.Coals,
		Wind: b.Wind, Weather: b.Weather, Beside: b.Beside, Tuning: b.known}
}

// Steps returns the log as timed steps for the simulator. Readings and remarks
// change nothing and are left out.
func (b Burn) Steps() []fire.Move {
	var steps []fire.Move
	add := func(at time.Time, a fire.Act) {
		steps = append(steps, fire.Move{When: fire.Trigger{At: max(0, at.Sub(b.Started))}, Do: []fire.Act{a}})
	}
	if b.Window {
		add(b.Started, fire.Act{Kind: fire.ActWindow, Open: true})
	}
	for e := range b.All() {
		for _, a := range b.acts(e) {
			add(e.At, a)
		}
	}
	return steps
}

// Used returns the wood put on, as it was fired; mineral fuel is not wood.
func (b Burn) Used() units.Kilogram { return b.put(func(e Entry) bool { return e.Kind == Load }) }

// UsedMineral returns the mineral fuel put on.
func (b Burn) UsedMineral() units.Kilogram {
	return b.put(func(e Entry) bool { return e.Kind == Mineral })
}

// UsedFrom returns what was put on from one stack.
func (b Burn) UsedFrom(stack int64) units.Kilogram {
	return b.put(func(e Entry) bool { return e.Load != nil && e.Load.StackID == stack })
}

func (b Burn) put(which func(Entry) bool) units.Kilogram {
	var sum units.Kilogram
	for e := range b.All() {
		if e.Load != nil && which(*e) {
			sum += e.Load.Mass()
		}
	}
	return sum
}

// Last returns the newest valid entry that keep accepts.
func (b Burn) Last(keep func(Entry) bool) (Entry, bool) {
	var last *Entry
	for e := range b.All() {
		if keep(*e) {
			last = e
		}
	}
	if last == nil {
		return Entry{}, false
	}
	return *last, true
}

// NewestMade returns the entry made last among those that count: what "undo"
// means, whatever time it is of.
func (b Burn) NewestMade() (Entry, bool) {
	var last *Entry
	for e := range b.All() {
		if !e.Reported && (last == nil || e.Seq >= last.Seq) {
			last = e
		}
	}
	if last == nil {
		return Entry{}, false
	}
	return *last, true
}

// NotReadings goes through the entries that count, but for the readings of
// gauges, of which there may be very many.
func (b Burn) NotReadings() iter.Seq[*Entry] {
	return func(yield func(*Entry) bool) {
		for e := range b.All() {
			if e.Kind != Temperature && !yield(e) {
				return
			}
		}
	}
}

// ReadingsAt counts the readings of the gauge at a place.
func (b Burn) ReadingsAt(p stove.Place) int {
	n := 0
	for i := range b.Entries {
		if e := &b.Entries[i]; e.Place == p && e.Kind == Temperature && !e.Struck {
			n++
		}
	}
	return n
}

// A Reading is what a gauge showed.
type Reading struct {
	At      time.Time
	Reading units.Celsius
}

// Readings returns the valid readings of the gauge at a place.
func (b Burn) Readings(p stove.Place) []Reading {
	n := b.ReadingsAt(p)
	if n == 0 {
		return nil
	}
	out := make([]Reading, 0, n)
	for e := range b.All() {
		if e.Kind == Temperature && e.Place == p {
			out = append(out, Reading{e.At, e.Reading})
		}
	}
	return out
}
