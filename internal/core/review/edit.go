package review

import (
	"errors"
	"slices"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// An EditKind is a way in which a burn could have been another.
type EditKind string

// The kinds.
const (
	Later    EditKind = "later"    // an entry so much later; earlier where By is negative
	SetTo    EditKind = "to"       // a control to another opening, or a load of so many pieces
	Without  EditKind = "without"  // an entry not at all
	Turned   EditKind = "turned"   // a control moved where nobody moved it: at By since the start, to To
	LaidOut  EditKind = "laid-out" // the first wood and its kindling as another lay
	Drier    EditKind = "drier"    // all wood at another moisture
	DoorShut EditKind = "door"     // the door shut at By since the start, after it was lit
)

// An Edit is one change to what was done in a burn.
type Edit struct {
	Kind  EditKind      `json:"kind"`
	Entry string        `json:"entry,omitempty"` // its id, where the edit is about one
	By    time.Duration `json:"by,omitempty"`
	To    float64       `json:"to,omitempty"` // an opening, pieces, or a moisture
	Key   string        `json:"key,omitempty"`
	Lay   fire.Lay      `json:"lay,omitempty"`
}

// Edits that cannot be made.
var (
	ErrNoEntry  = errors.New("there is no such entry in this burn, or it does nothing to the fire")
	ErrTooMany  = errors.New("more changes than are looked at in one go")
	ErrNoSense  = errors.New("this entry cannot be changed so")
	ErrTooEarly = errors.New("that is before the burn began, or long after it")
)

const (
	// mostEdits is how many are looked at in one go.
	mostEdits = 12
	// mostPieces is how many a load may have.
	mostPieces = 60
	// farOff is how far an entry may be moved behind the end of the burn.
	farOff = 2 * time.Hour
)

// With is the burn with changes made to it. The burn itself stays as it is.
func With(b burn.Burn, edits []Edit) (burn.Burn, error) {
	if len(edits) > mostEdits {
		return b, ErrTooMany
	}
	b.Entries = b.Valid()
	for _, e := range edits {
		if err := e.make(&b); err != nil {
			return b, err
		}
	}
	slices.SortStableFunc(b.Entries, func(a, c burn.Entry) int { return a.At.Compare(c.At) })
	return b, nil
}

func (e Edit) make(b *burn.Burn) error {
	switch e.Kind {
	case Turned:
		c, ok := b.Stove.Control(e.Key)
		if !ok || e.To < 0 || e.To > 1 {
			return ErrNoSense
		}
		return e.add(b, burn.Entry{ID: "what-if-" + e.Key, Kind: burn.Control, Control: c.Key, Opening: e.To})
	case DoorShut:
		return e.add(b, burn.Entry{ID: "what-if-door", Kind: burn.Door, Door: fire.Shut})
	case LaidOut, Drier:
		for i := range b.Entries {
			e.load(&b.Entries[i])
		}
		return nil
	}
	i := slices.IndexFunc(b.Entries, func(x burn.Entry) bool { return x.ID == e.Entry && Moves(x) })
	if i < 0 {
		return ErrNoEntry
	}
	entry := &b.Entries[i]
	switch e.Kind {
	case Without:
		b.Entries = slices.Delete(b.Entries, i, i+1)
		return nil
	case Later:
		entry.At = entry.At.Add(e.By)
		if entry.At.Before(b.Started) || !b.Ended.IsZero() && entry.At.After(b.Ended.Add(farOff)) {
			return ErrTooEarly
		}
		return nil
	case SetTo:
		switch {
		case entry.Kind == burn.Control && e.To >= 0 && e.To <= 1:
			entry.Opening = e.To
			return nil
		case entry.Kind == burn.Load && entry.Load != nil && e.To >= 1 && e.To <= mostPieces:
			l := *entry.Load
			l.Pieces = int(e.To)
			entry.Load = &l
			return nil
		}
	}
	return ErrNoSense
}

// add puts in something that nobody did.
func (e Edit) add(b *burn.Burn, entry burn.Entry) error {
	if e.By < 0 || !b.Ended.IsZero() && b.Started.Add(e.By).After(b.Ended) {
		return ErrTooEarly
	}
	entry.At = b.Started.Add(e.By)
	b.Entries = append(b.Entries, entry)
	return nil
}

// load changes what is put on, where the edit is about all of it.
func (e Edit) load(entry *burn.Entry) {
	if entry.Load == nil || entry.Kind != burn.Load {
		return
	}
	l := *entry.Load
	switch {
	case e.Kind == LaidOut && l.Lay != fire.OnCoals:
		l.Lay = e.Lay
	case e.Kind == Drier && !l.Kindling:
		l.Moisture = min(l.Moisture, units.Fraction(e.To))
	}
	entry.Load = &l
}

// Moves tells whether an entry does something to the fire, so that it can be moved.
func Moves(e burn.Entry) bool {
	switch e.Kind {
	case burn.Control, burn.Load, burn.Door, burn.Rake, burn.Prime:
		return true
	}
	return false
}

// airMoves are the entries that move the main air.
func airMoves(b burn.Burn) (air stove.Control, moves []burn.Entry) {
	air, _ = b.Stove.MainAir()
	for e := range b.NotReadings() {
		if e.Kind == burn.Control && e.Control == air.Key {
			moves = append(moves, *e)
		}
	}
	return air, moves
}
