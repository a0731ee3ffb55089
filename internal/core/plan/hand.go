package plan

import (
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/when"
	"smolder/internal/core/wish"
)

// A hand follows a plan as it asks to be followed: it does the steps, and besides what
// each says to do when what should follow does not.
//
//   - Where a gauge nears its limit it shuts the main air by half of what it is, and no
//     step opens it further while that load burns.
//   - Where no flame is seen for two minutes though there is wood, and the air is not
//     open, it goes one step back, and from then on no step goes lower.
//   - Where a load does not flame with all its air, it sets the door ajar until it does.
//
// It sees what an owner sees (the stove's own gauges, flames, wood), and does nothing
// while nobody is there.
type hand struct {
	air    string
	role   stove.Role
	there  when.Presence
	limits []limit

	set    float64       // opening of the main air
	before float64       // and before it was last turned down
	floor  float64       // under which no step goes any more
	most   float64       // over which none goes while this load burns
	moved  time.Duration // when the air was last moved
	dark   time.Duration // since when no flame is seen; negative: one is
	loaded time.Duration
	ajar   time.Duration // since when the hand has it so; negative: it has not
	lit    bool

	cooled, raised, opened bool // whether it ever helped so
}

type limit struct {
	place stove.Place
	at    float64
}

// What a hand goes by; they are ours, and stand in the words of the steps.
const (
	nearLimit = 0.95            // of a gauge's limit
	coolsTo   = 0.5             // of the opening, when a gauge is there
	coolsOnce = 0.6             // of it, down to which it has been shut already
	darkFor   = 2 * time.Minute // without a flame, before it is answered
	flameSeen = 3e-5            // kg/s of gas in flame for each kg of a full bed
	woodSeen  = 0.15            // kg of wood, that flames should come from
	nearOpen  = 0.9             // opening from which the air is as good as open
	catches   = 6 * time.Minute // that a load has to flame with all its air
	tries     = 30 * time.Minute
	raisesBy  = 2.0 // times the opening, where there was no step before
)

// HandFrom is somebody who goes on with a fire that burns, the main air standing at an
// opening and the last load having been put on at a moment since the start.
func HandFrom(w wish.Wish, opening float64, loaded time.Duration) fire.Hand {
	h := newHand(w)
	h.set, h.before, h.lit, h.loaded, h.moved = opening, opening, true, loaded, loaded
	return h
}

func newHand(w wish.Wish) *hand {
	air, _ := w.Stove.MainAir()
	h := &hand{air: air.Key, role: air.Role, there: w.Presence(), most: 1, set: 1, before: 1, dark: -1, ajar: -1}
	for _, g := range w.Stove.Gauges {
		if g.Place.OfFire() && g.Band.TooHot > 0 {
			h.limits = append(h.limits, limit{g.Place, float64(g.Band.TooHot)})
		}
	}
	return h
}

// Fork is the same hand, which goes its own way.
func (h *hand) Fork() fire.Hand { fork := *h; return &fork }

// Doing keeps a step between what the hand has found out.
func (h *hand) Doing(f *fire.Fire, a fire.Act) fire.Act {
	switch {
	case a.Kind == fire.ActLoad:
		h.loaded, h.lit, h.dark, h.most = f.Elapsed(), true, -1, 1
	case a.Kind == fire.ActDoor:
		h.ajar = -1
	case a.Kind == fire.ActControl && a.Control == h.air:
		a.Opening = min(max(a.Opening, h.floor), h.most)
		h.to(f, a.Opening)
	}
	return a
}

// to remembers how the air stands.
func (h *hand) to(f *fire.Fire, o float64) {
	if o < h.set {
		h.before = h.set
	}
	h.set, h.moved = o, f.Elapsed()
}

// Look helps the fire where it needs it.
func (h *hand) Look(f *fire.Fire) []fire.Act {
	now := f.Elapsed()
	if h.there != nil {
		if _, somebody := h.there.At(now); !somebody {
			return nil
		}
	}
	for _, l := range h.limits {
		if t, ok := f.Reading(l.place); ok && t > nearLimit*l.at && h.most > coolsOnce*h.set {
			h.cooled, h.most = true, coolsTo*h.set
			h.to(f, h.most)
			return h.acts()
		}
	}
	look := f.Look()
	if !h.lit || look.Flame > flameSeen || look.Wood < woodSeen {
		h.dark = -1
		return h.shut(look.Flame > flameSeen)
	}
	if h.dark < 0 {
		h.dark = now
	}
	switch {
	case now-h.dark < darkFor:
	case h.set < nearOpen && now-h.moved >= darkFor:
		h.raised, h.dark = true, now
		h.set, h.moved = max(h.before, min(1, raisesBy*h.set)), now
		h.before, h.floor, h.most = h.set, max(h.floor, h.set), max(h.most, h.set)
		return h.acts()
	case h.set >= nearOpen && h.ajar < 0 && now-h.loaded > catches && now-h.loaded < tries:
		h.opened, h.ajar = true, now
		return []fire.Act{door(fire.Ajar)}
	}
	return nil
}

// shut shuts the door that the hand has set ajar, once there is a flame.
func (h *hand) shut(flames bool) []fire.Act {
	if h.ajar < 0 || !flames {
		return nil
	}
	h.ajar = -1
	return []fire.Act{door(fire.Shut)}
}

func (h *hand) acts() []fire.Act {
	return []fire.Act{{Kind: fire.ActControl, Control: h.air, Role: h.role, Opening: h.set}}
}
