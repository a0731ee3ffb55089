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
	"iter"
	"math"
	"slices"
	"sort"
	"strings"
	"time"
	"unicode/utf8"

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
	Prime       Kind = "prime"   // the flue warmed with burning paper
	Rake        Kind = "rake"    // the coals, to where the air comes in
	Mineral     Kind = "mineral" // a load of manufactured mineral fuel: recorded, not simulated
)

// Known tells whether k is a kind of entry.
func (k Kind) Known() bool {
	switch k {
	case Light, Load, Control, Temperature, Door, Smoke, Draft, Note, Out, Prime, Rake, Mineral:
		return true
	}
	return false
}

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

	Struck   bool   `json:"struck,omitempty"`   // does not count: undone, or corrected by one that counts
	Undone   bool   `json:"-"`                  // by hand
	Seq      int64  `json:"-"`                  // counts up in the order in which entries were made
	Corrects string `json:"corrects,omitempty"` // id of the entry whose place it takes
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

	// What the weather did, by the hour since the start, where it is known; it
	// goes before Outdoor and Wind.
	Weather []fire.Weather `json:"weather,omitempty"`
	Wind    float64        `json:"wind_m_s,omitempty"`
	Window  bool           `json:"window_open,omitempty"` // a crack, on the stove's level, all the time
	Beside  []fire.Beside  `json:"beside,omitempty"`      // what another stove in the same space gives

	// What nobody has said: Room and Outdoor are then assumed.
	RoomUnknown    bool `json:"room_unknown,omitempty"`
	OutdoorUnknown bool `json:"outdoor_unknown,omitempty"`
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

// ErrEntry is the cause of every refused entry.
var ErrEntry = errors.New("this entry cannot be kept")

const (
	// Longest is how long one burn may go on.
	Longest = 48 * time.Hour
	// clockSlack is how far a device's clock may be ahead of this one.
	clockSlack = 2 * time.Minute
	// mostNote is how many letters a note may have.
	mostNote = 2000
)

// Check refuses an entry that does not go with this burn, at the given time of
// keeping it: a [units.Problem] with the field it is about and [ErrEntry] as its
// cause. Nothing may lie in the future or before the burn.
func (b Burn) Check(e Entry, now time.Time) error {
	refuse := func(field, format string, args ...any) error {
		return units.Problem{Field: field, Text: fmt.Sprintf(format, args...), Cause: ErrEntry}
	}
	switch {
	case e.ID == "" || len(e.ID) > 64 || strings.ContainsFunc(e.ID, func(r rune) bool {
		return !(r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' || r == '_')
	}):
		return refuse("id", "its id is not one: up to 64 letters, digits and hyphens would do")
	case e.At.After(now.Add(clockSlack)):
		return refuse("when", "its time lies ahead")
	case e.At.Before(b.Started.Add(-time.Minute)):
		return refuse("when", "its time is before the burn was started")
	case e.At.After(b.Started.Add(Longest)):
		return refuse("when", "a burn is at most 48 hours long; start a new one")
	case !b.Ended.IsZero() && e.At.After(b.Ended):
		return refuse("when", "its time is after the burn ended")
	case len(e.Typed) > 200 || !units.Printable(e.Typed, true):
		return refuse("value", "what was typed is too long, or has signs in it that cannot be shown")
	}
	switch e.Kind {
	case Light, Out, Prime, Rake:
	case Note:
		switch {
		case strings.TrimSpace(e.Note) == "":
			return refuse("note", "the note is empty")
		case utf8.RuneCountInString(e.Note) > mostNote:
			return refuse("note", "a note of up to %d letters would do", mostNote)
		case !units.Printable(strings.ReplaceAll(e.Note, "\r\n", "\n"), true):
			return refuse("note", "the note has signs in it that cannot be shown")
		}
	case Control:
		if _, ok := b.Stove.Control(e.Control); !ok {
			return refuse("value", "this stove has no control %q", e.Control)
		}
		if !(e.Opening >= 0 && e.Opening <= 1) {
			return refuse("value", "an opening lies between shut and fully open")
		}
	case Temperature:
		if !e.Place.Known() {
			return refuse("place", "a temperature without its place is not a reading")
		}
		if !(e.Reading >= -60 && e.Reading <= 1300) {
			return units.Problem{Field: "value", Cause: ErrEntry, Say: func(u units.System) string {
				return fmt.Sprintf("a gauge reads between %s and %s", u.Temperature(-60), u.Temperature(1300))
			}}
		}
	case Draft:
		if !(e.Draft >= -100 && e.Draft <= 500) {
			return units.Problem{Field: "value", Cause: ErrEntry, Say: func(u units.System) string {
				return fmt.Sprintf("a draft lies between %s and %s", u.Draft(-100), u.Draft(500))
			}}
		}
	case Door:
		if e.Door < fire.Shut || e.Door > fire.Open {
			return refuse("value", "the door is shut, ajar or open")
		}
	case Smoke:
		if e.Smoke != SmokeClear && e.Smoke != SmokeWhite && e.Smoke != SmokeGrey {
			return refuse("value", "smoke is clear, white or grey")
		}
	case Load, Mineral:
		return b.checkLoad(e)
	default:
		return refuse("kind", "%q is not a kind of entry", shortened(string(e.Kind)))
	}
	return nil
}

func shortened(s string) string {
	if r := []rune(s); len(r) > 20 {
		return string(r[:20]) + "…"
	}
	return s
}

// MostPieces is how many pieces one load may have.
const MostPieces = 200

func (b Burn) checkLoad(e Entry) error {
	refuse := func(field, format string, args ...any) error {
		return units.Problem{Field: field, Text: fmt.Sprintf(format, args...), Cause: ErrEntry}
	}
	l := e.Load
	switch {
	case l == nil || l.Pieces < 1 || l.Pieces > MostPieces || !(l.PieceMass > 0):
		return refuse("pieces", "a load has 1 to %d pieces with a mass", MostPieces)
	case !(l.Species.Gravity >= 0.2 && l.Species.Gravity <= 1.4 && l.Species.Gross >= 10 && l.Species.Gross <= 30):
		return refuse("stack", "its wood has no sensible density or energy")
	case len(l.Species.Key) > 80 || units.NameProblem(l.Species.Name, "wood") != "" || !units.Printable(l.Species.Key, false):
		return refuse("stack", "its wood has no sensible name")
	case !(math.Abs(l.Species.Offset) <= 0.3):
		return refuse("stack", "its wood has no sensible correction for the meter")
	case l.Species.Mineral != (e.Kind == Mineral):
		return refuse("stack", "wood and mineral fuel are loads of different kinds")
	case !(l.Moisture >= 0.03 && l.Moisture <= 1.5) && e.Kind == Load:
		return refuse("stack", "its moisture must lie between 3 and 150 %% of dry wood")
	case !(l.Moisture >= 0 && l.Moisture <= 1.5):
		return refuse("stack", "its moisture makes no sense")
	case !(l.PieceLength >= 0.03 && l.PieceLength <= 1.5):
		return units.Problem{Field: "stack", Cause: ErrEntry, Say: func(u units.System) string {
			return fmt.Sprintf("its pieces must be %s to %s long", u.Size(0.03), u.Size(1.5))
		}}
	case l.Lay != "" && !l.Lay.Known():
		return refuse("lay", "%q is not a lay", shortened(string(l.Lay)))
	case l.Direction != stove.EndOn && l.Direction != stove.Sideways:
		return refuse("direction", "pieces lie end-on or sideways")
	case l.StarterKind != "" && !l.StarterKind.Known():
		return refuse("starter", "what it was lit with is not known: wax-block, paper, gel, torch or hot-air would do")
	case !(l.Starter >= 0 && l.Starter <= 2e7):
		return refuse("starter", "its starter must give 0 to 20 MJ")
	case l.StackName != "" && units.NameProblem(l.StackName, "stack") != "":
		return refuse("stack", "%s", units.NameProblem(l.StackName, "the stack's name"))
	case e.Kind == Mineral && float64(l.Mass()) > 0.6*float64(b.Stove.Volume):
		return units.Problem{Field: "pieces", Cause: ErrEntry, Say: func(u units.System) string {
			return fmt.Sprintf("%s of mineral fuel does not go into a firebox of %s", u.Mass(l.Mass()), u.Volume(b.Stove.Volume))
		}}
	case e.Kind == Mineral:
		return nil
	}
	err := b.Stove.CheckLoad(l.Mass(), l.Moisture, l.Species)
	var problem units.Problem
	if errors.As(err, &problem) {
		problem.Cause = errors.Join(ErrEntry, problem.Cause)
		return problem
	}
	return err
}

// CheckStart refuses a burn that cannot have begun like this, at the given time
// of keeping it; the error is a [units.Problem].
func (b Burn) CheckStart(now time.Time) error {
	refuse := func(field string, say func(units.System) string) error {
		return units.Problem{Field: field, Say: say, Cause: ErrEntry}
	}
	text := func(s string) func(units.System) string { return func(units.System) string { return s } }
	switch {
	case b.Started.IsZero() || b.Started.Year() < 1990:
		return refuse("started", text("it has no sensible start"))
	case b.Started.After(now.Add(clockSlack)):
		return refuse("started", text("it starts in the future; its times are off"))
	case !b.Ended.IsZero() && !b.Ended.After(b.Started):
		return refuse("ended", text("it ends before it starts"))
	case b.Ended.After(now.Add(clockSlack)):
		return refuse("ended", text("it ends in the future"))
	case !b.Ended.IsZero() && b.Ended.Sub(b.Started) > Longest+time.Hour:
		return refuse("ended", text("a burn is at most 48 hours long"))
	case !(b.Outdoor >= -60 && b.Outdoor <= 60):
		return refuse("outdoor", func(u units.System) string {
			return fmt.Sprintf("outdoors lies between %s and %s", u.Temperature(-60), u.Temperature(60))
		})
	case !(b.Room >= -30 && b.Room <= 60):
		return refuse("room", func(u units.System) string {
			return fmt.Sprintf("a room lies between %s and %s", u.Temperature(-30), u.Temperature(60))
		})
	case !(b.Warmth >= -60 && b.Warmth <= 600):
		return refuse("start", text("the stove's warmth at the start makes no sense"))
	case !(b.Coals >= 0 && b.Coals <= 20):
		return refuse("start", text("the coals at the start make no sense"))
	case !(b.Wanted[0] >= -30 && b.Wanted[1] <= 60 && b.Wanted[0] <= b.Wanted[1]):
		return refuse("wanted", text("the wanted room temperature makes no sense"))
	case !(b.Wind >= 0 && b.Wind <= 60):
		return refuse("wind", text("the wind makes no sense"))
	}
	if !weatherMakesSense(b.Weather) || !besideMakesSense(b.Beside) {
		return refuse("weather", text("its weather makes no sense, or does not run forward"))
	}
	return nil
}

// mostPoints is how many hours of weather a burn may have.
const mostPoints = 400

func weatherMakesSense(points []fire.Weather) bool {
	for i, w := range points {
		if !(w.Outdoor >= -60 && w.Outdoor <= 60 && w.Wind >= 0 && w.Wind <= 60) || w.At < 0 || w.At > 2*Longest || i > 0 && w.At <= points[i-1].At {
			return false
		}
	}
	return len(points) <= mostPoints
}

func besideMakesSense(points []fire.Beside) bool {
	for i, p := range points {
		if !(p.Heat >= 0 && p.Heat <= 60_000) || p.At < -Longest || p.At > 2*Longest || i > 0 && p.At <= points[i-1].At {
			return false
		}
	}
	return len(points) <= mostPoints
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
		Wind: b.Wind, Weather: b.Weather, Beside: b.Beside}
}

// Steps returns the log as timed steps for the simulator. Readings and remarks
// change nothing and are left out.
func (b Burn) Steps() []fire.Step {
	var steps []fire.Step
	add := func(at time.Time, a fire.Act) {
		steps = append(steps, fire.Step{When: fire.Trigger{At: max(0, at.Sub(b.Started))}, Do: []fire.Act{a}})
	}
	if b.Window {
		add(b.Started, fire.Act{Kind: fire.ActWindow, Open: true})
	}
	for e := range b.All() {
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
	span := min(max(until.Sub(b.Started), time.Minute), Longest)
	return fire.Run(b.Setup(), b.Steps(), fire.Options{Until: span, Step: 4 * time.Second})
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
		if last == nil || e.Seq >= last.Seq {
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
