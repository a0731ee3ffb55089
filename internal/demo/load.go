package demo

import (
	"context"
	"fmt"
	"math/rand/v2"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/search"
	"smolder/internal/core/wish"
	"smolder/internal/store"
)

// Load makes the demo household in an empty store, under the given password
// hash, with a season that ends on the day before, and returns its number.
func Load(ctx context.Context, s *store.Store, passwordHash string, today time.Time) (int64, error) {
	profile := Profile(today)
	spaces, stoves := Spaces(), Stoves()
	id, _, err := s.Create(ctx, profile, spaces[0], User, passwordHash)
	if err != nil {
		return 0, err
	}
	h := s.Household(id)
	for _, sp := range spaces[1:] {
		if _, err := h.AddSpace(ctx, sp); err != nil {
			return 0, fmt.Errorf("adding the %s: %w", sp.Name, err)
		}
	}
	if spaces, err = h.Spaces(ctx); err != nil {
		return 0, err
	}
	for i := range stoves {
		stoves[i].Space = spaces[i]
		if stoves[i].ID, err = h.AddStove(ctx, stoves[i]); err != nil {
			return 0, fmt.Errorf("adding %s: %w", stoves[i].Name, err)
		}
	}
	stacks, err := addStacks(ctx, h, today)
	if err != nil {
		return 0, err
	}
	r := rand.New(rand.NewPCG(seed, 1)) //nolint:gosec // the same season every time
	all := evenings(today, stoves, stacks, r)
	for i, e := range all {
		var p *plan.Plan
		if i >= len(all)-5 { // the last weeks were planned first
			p = e.plan(ctx)
		}
		b := e.burn(r)
		burnID, err := h.StartBurn(ctx, e.stove.ID, e.title(), b, p)
		if err != nil {
			return 0, fmt.Errorf("burn of %s: %w", e.start.Format(time.DateOnly), err)
		}
		if eye := e.eye(i); eye != (burn.Eye{}) {
			if err := h.KeepEye(ctx, burnID, eye); err != nil {
				return 0, err
			}
		}
	}
	return id, afterSeason(ctx, h, stacks, today)
}

// eye is what its people marked at the end: of every third burn, and of those in which
// something went wrong.
func (e evening) eye(n int) burn.Eye {
	if n%3 != 0 && e.wrong == none {
		return burn.Eye{}
	}
	eye := burn.Eye{Glass: "clear", Smoke: "for a while", Comfort: "right"}
	switch e.wrong {
	case downTooEarly, wetWood:
		eye.Glass, eye.Smoke, eye.Smell = "black", "for long", "a little"
	case forgotten:
		eye.Comfort = "too warm"
	case doorTooEarly:
		eye.Glass = "hazed"
	}
	if e.night {
		eye.Coals, eye.Meant = "a handful", "coals for the morning"
	}
	return eye
}

func (e evening) title() string {
	if e.night {
		return "for the night"
	}
	return ""
}

// plan is what Smolder would have said that evening; none when it would have
// refused.
func (e evening) plan(ctx context.Context) *plan.Plan {
	w := wish.Wish{Stove: e.stove.Stove, House: e.stove.Space.House, Aim: wish.Hold, For: 6 * time.Hour, Outdoor: e.outdoor, Room: e.room,
		Low: e.stove.Space.Wanted[0], High: e.stove.Space.Wanted[1], Start: wish.Cold, Wood: wish.Pick{ID: e.wood.ID, Stack: e.wood.Stack},
		Kindling: &wish.Pick{ID: e.kind.ID, Stack: e.kind.Stack}}
	if e.night {
		w.Aim, w.For = wish.Overnight, 9*time.Hour
	}
	p, err := search.Best(ctx, w, search.Usual, nil)
	if err != nil {
		return nil
	}
	return &p
}

// burnDay is the day on which the season of [Burn] ends.
var burnDay = time.Date(2026, time.April, 6, 0, 0, 0, 0, time.UTC)

// Burn returns one evening of the season without a store, for drawings and
// tests: the first in Auntie with nothing wrong.
func Burn() burn.Burn {
	burns := burnsWhere(1, func(e evening) bool { return e.stove.Name == "Auntie" && e.wrong == none && !e.unread })
	return burns[0]
}

// Burns returns the first n burns of a stove of the season, without a store.
func Burns(stove string, n int) []burn.Burn {
	return burnsWhere(n, func(e evening) bool { return e.stove.Name == stove })
}

func burnsWhere(n int, which func(evening) bool) []burn.Burn {
	stoves := Stoves()
	var stacks []store.Stack
	for i, w := range Stacks() {
		stacks = append(stacks, store.Stack{ID: int64(i + 1), Stack: w})
	}
	for i := range stoves {
		stoves[i].ID = int64(i + 1)
	}
	r := rand.New(rand.NewPCG(seed, 1)) //nolint:gosec // the same season every time
	var out []burn.Burn
	for _, e := range evenings(burnDay, stoves, stacks, r) {
		if len(out) < n && which(e) {
			out = append(out, e.burn(r))
		}
	}
	return out
}
