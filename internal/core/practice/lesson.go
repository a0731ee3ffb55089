package practice

import (
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// A Key names a lesson.
type Key string

// The lessons, in the order of a burn.
const (
	FirstFire   Key = "first-fire"
	ShutTheDoor Key = "shut-the-door"
	FirstReload Key = "first-reload"
	TurnDown    Key = "turn-down"
	Catalyst    Key = "catalyst"
	Night       Key = "night"
	FewCoals    Key = "few-coals"
	ColdFlue    Key = "cold-flue"
	WetWood     Key = "wet-wood"
	MildDay     Key = "mild-day"
	TightHouse  Key = "tight-house"
	Boat        Key = "boat"
	Free        Key = "free"
)

// How much is said beforehand.
const (
	OnlyDanger = iota // that something is too hot, or that smoke comes in
	WhenMissed        // a step whose time is over
	WhenDue           // a step whose sign is there
	EachStep          // what comes next, and on what sign
)

// A Lesson is something that is practised: from where, for how long, and by what it is judged.
type Lesson struct {
	Key    Key
	Hints  int           // how much is said the first time; one less after each that went well
	For    time.Duration // from where it begins
	Judged []Judged
	Needs  func(st stove.Stove) bool // nil: any stove

	place func(s *Spec)      // the stove's surroundings, where they are not the household's
	wish  func(w *wish.Wish) // what holds beside the usual
	burns func(w wish.Wish, r *plan.Recipe)
	later int           // loads after the first on coals
	awake time.Duration // until somebody goes to bed; 0: nobody does
	lead  lead
}

// A lead is what has been done when a lesson begins.
type lead string

const (
	nothing   lead = ""
	lit       lead = "lit"         // the wood is laid and lit, the door ajar
	toReload  lead = "to-reload"   // the first fire is nearly down to what a load may go on
	justPutOn lead = "just-put-on" // a load went on the coals a moment ago
)

// Where a lesson begins: after the match, after the door was shut, after a load.
const (
	afterMatch, afterShut, afterLoad = 4 * time.Minute, 2 * time.Minute, 2 * time.Minute
	neverShut                        = 14 * time.Minute // where nothing has the door shut
)

// Shares of the manual's load.
const (
	firstShare, mainShare, nightShare, smallShare = 0.25, 0.55, 0.9, 0.25
	wetter                                        = 0.13 // by which the wet wood of the lesson is over the dry
)

// Lessons are all of them.
var Lessons = []Lesson{
	{Key: FirstFire, Hints: EachStep, For: 40 * time.Minute, Judged: []Judged{{Warm, 3}, {DoorAjar, 1}, {Dark, 2}, {Smoke, 2}, {TooHot, 1}},
		burns: func(_ wish.Wish, r *plan.Recipe) { r.Main = 0 }},
	{Key: ShutTheDoor, Hints: EachStep, For: 35 * time.Minute, Judged: []Judged{{Dark, 3}, {DoorAjar, 3}, {Warm, 1}, {TooHot, 1}}, lead: lit,
		burns: func(_ wish.Wish, r *plan.Recipe) { r.Main = 0 }},
	{Key: FirstReload, Hints: EachStep, For: 50 * time.Minute, Judged: []Judged{{OnCoals, 3}, {BlackFirst, 2}, {Dark, 2}, {Smoke, 2}, {TooHot, 1}},
		lead: toReload},
	{Key: TurnDown, Hints: EachStep, For: 75 * time.Minute, Judged: []Judged{{BlackFirst, 3}, {Down, 3}, {Dark, 2}, {Smoke, 2}, {TooHot, 2}}, lead: justPutOn,
		wish: func(w *wish.Wish) { w.Start = wish.GoodCoals }},
	{Key: Catalyst, Hints: WhenDue, For: 75 * time.Minute, Judged: []Judged{{Engaged, 3}, {NotCold, 2}, {Dark, 1}, {Smoke, 1}, {TooHot, 1}}, lead: justPutOn,
		Needs: func(st stove.Stove) bool { _, ok := st.Bypass(); return ok && st.Family == stove.Catalytic },
		wish:  func(w *wish.Wish) { w.Start = wish.GoodCoals }},
	{Key: Night, Hints: WhenDue, For: 6*time.Hour + 30*time.Minute,
		Judged: []Judged{{CoalsLeft, 3}, {Down, 2}, {BlackFirst, 1}, {Smoke, 2}, {TooHot, 2}}, lead: justPutOn, awake: time.Hour + 15*time.Minute,
		Needs: func(st stove.Stove) bool { return st.Volume >= holdsNights },
		wish: func(w *wish.Wish) {
			w.Start, w.For, w.Outdoor, w.Embers = wish.GoodCoals, 6*time.Hour+30*time.Minute, -2, true
		},
		burns: func(w wish.Wish, r *plan.Recipe) { r.Main, r.Final = pieces(w, 0, nightShare), 0.1 }},
	{Key: FewCoals, Hints: WhenDue, For: 45 * time.Minute, Judged: []Judged{{Warm, 3}, {Dark, 2}, {Smoke, 1}, {TooHot, 1}},
		wish:  func(w *wish.Wish) { w.Start = wish.FewCoals },
		burns: func(_ wish.Wish, r *plan.Recipe) { r.Main = 0 }},
	{Key: ColdFlue, Hints: WhenDue, For: 35 * time.Minute, Judged: []Judged{{Spilled, 4}, {Warm, 2}, {Dark, 1}, {DoorAjar, 1}},
		place: func(s *Spec) {
			s.Stove.Chimney.Outside, s.Stove.Chimney.Height = true, min(s.Stove.Chimney.Height, 5)
			s.House.Fan = 0
		},
		wish:  func(w *wish.Wish) { w.Outdoor, w.Room = 15, 17 },
		burns: func(_ wish.Wish, r *plan.Recipe) { r.Main = 0 }},
	{Key: WetWood, Hints: WhenMissed, For: 75 * time.Minute, Judged: []Judged{{DryWood, 4}, {Smoke, 2}, {Dark, 1}, {TooHot, 1}},
		wish: func(w *wish.Wish) {
			w.Start = wish.GoodCoals
			wet := w.Wood.Stack
			wet.Name, wet.Reading = wetStack, wet.Reading+wetter
			w.Others = []wish.Pick{{ID: 2, Stack: wet}}
		}},
	{Key: MildDay, Hints: WhenMissed, For: 3 * time.Hour, Judged: []Judged{{NotOver, 3}, {Dark, 2}, {Smoke, 2}, {Warmed, 1}},
		wish:  func(w *wish.Wish) { w.Outdoor, w.Room, w.For = 13, w.Low-0.5, 3*time.Hour },
		burns: func(w wish.Wish, r *plan.Recipe) { r.Main, r.First = 0, pieces(w, 0, smallShare) }},
	{Key: TightHouse, Hints: WhenMissed, For: 40 * time.Minute, Judged: []Judged{{Spilled, 4}, {Warm, 2}, {Dark, 1}},
		place: func(s *Spec) {
			s.House.Build, s.House.N50, s.House.Fan, s.House.Volume = house.Tight, 0.8, hood, max(s.House.Volume, 250_000)
		},
		wish:  func(w *wish.Wish) { w.Help.FansOff = true },
		burns: func(_ wish.Wish, r *plan.Recipe) { r.Main = 0 }},
	{Key: Boat, Hints: WhenMissed, For: 2*time.Hour + 30*time.Minute, Judged: []Judged{{Vented, 3}, {BurntDown, 3}, {Dark, 1}, {TooHot, 2}, {Warmed, 1}},
		place: func(s *Spec) {
			s.Stove = stove.Middling(stove.Tiny)
			s.House = house.House{Floor: 14, Build: house.Vehicle, Volume: 28_000, N50: 9}
			s.Wood.PieceLength, s.Wood.PieceMass = min(s.Wood.PieceLength, s.Stove.LongestPiece(stove.Sideways)), min(s.Wood.PieceMass, 0.3)
			s.Prior = nil
		},
		wish:  func(w *wish.Wish) { w.Outdoor, w.Help.Window = 6, true },
		burns: func(w wish.Wish, r *plan.Recipe) { r.Main, r.Final = pieces(w, 0, mainShare), 0.5 }},
	{Key: Free, Hints: OnlyDanger, For: 6 * time.Hour, Judged: []Judged{{Band, 3}, {Smoke, 3}, {Dark, 1}, {TooHot, 2}, {Spilled, 2}, {Thrift, 1}},
		later: 2,
		wish:  func(w *wish.Wish) { w.For = 6 * time.Hour }},
}

// holdsNights is the least firebox, L, that keeps coals through a night: of less nobody says so.
const holdsNights = 20

// wetStack is the wood of the lesson that should stay where it lies.
const wetStack = "new wood"

// hood is what a kitchen hood pulls, m³/h: 200 to 600.
const hood units.Flow = 350

// Of is a lesson by its key; false: there is none.
func Of(k Key) (Lesson, bool) {
	for _, l := range Lessons {
		if l.Key == k {
			return l, true
		}
	}
	return Lesson{}, false
}

// Suits tells whether a lesson can be had with a stove.
func (l Lesson) Suits(st stove.Stove) bool { return l.Needs == nil || l.Needs(st) }

// pieces is how many of a stack make a share of the manual's load, at least one.
func pieces(w wish.Wish, of int, share float64) int {
	return max(1, min(w.MostPieces(of), int(share*float64(w.Stove.MaxLoad)/float64(w.Woods()[of].Stack.PieceMass)+0.5)))
}

// A Spec is all that a practice is made of: the same one is the same fire.
type Spec struct {
	Lesson Key
	Seed   uint64
	Hints  int // how much is said
	Stove  stove.Stove
	House  house.House
	Wood   wood.Stack // that is burnt, and dry
	Low    units.Celsius
	High   units.Celsius
	Prior  *belief.Prior `json:",omitempty"` // of the stove, by its burns; nil: what is usual
}

// Wish is what a practice is wished for: what is known of its evening.
func (s Spec) Wish() wish.Wish {
	w := wish.Wish{Stove: s.Stove, House: s.House, Aim: wish.Hold, For: 4 * time.Hour, Outdoor: 2, Room: s.Low - 2, Low: s.Low, High: s.High, Start: wish.Cold,
		Wood: wish.Pick{ID: 1, Stack: s.Wood}, Known: s.Prior, OneLoad: true}
	if l, ok := Of(s.Lesson); ok && l.wish != nil {
		l.wish(&w)
	}
	return w
}

// recipe is one way to do it that goes well in most stoves.
func (l Lesson) recipe(w wish.Wish) plan.Recipe {
	r := plan.Recipe{First: pieces(w, 0, firstShare), Main: pieces(w, 0, mainShare), Lay: fire.TopDown, Direction: direction(w), Final: 1. / 3,
		Brisk: 1, Most: 1, Pause: 6 * time.Minute}
	if w.Stove.Family == stove.Catalytic {
		r.Brisk = 0.75 // its gas burns twice: with all air most of them pass their limits
	}
	if l.burns != nil {
		l.burns(w, &r)
	}
	if air, ok := w.Stove.MainAir(); ok {
		r.Final = air.Scale.Nearest(r.Final)
	}
	return r
}

// steps are that recipe's, with its later loads.
func (l Lesson) steps(w wish.Wish, r plan.Recipe) ([]plan.Step, []plan.Later) {
	later := make([]plan.Later, l.later)
	for i := range later {
		later[i] = plan.Later{Pieces: r.Main, Left: laterLeft, Brisk: r.Brisk, Final: r.Final}
	}
	return plan.Steps(w, r, later...), later
}

// laterLeft is the share of a load that may still be wood when the next goes on.
const laterLeft = 0.05

// direction is end-on where the pieces go in so.
func direction(w wish.Wish) stove.Direction {
	if w.Fits(0, stove.EndOn) {
		return stove.EndOn
	}
	return stove.Sideways
}
