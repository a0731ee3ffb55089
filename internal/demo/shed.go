package demo

import (
	"context"
	"database/sql"
	"fmt"
	"math"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/drying"
	"smolder/internal/core/fixture"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/upkeep"
	"smolder/internal/core/wood"
	"smolder/internal/store"
)

// A lying is how a stack of the household lies, when it was read, and how it was counted.
type lying struct {
	told   store.Siting
	mass   float64 // kg when the season began; 0: as it is told
	split  int     // days before the season; 0: nobody knows
	read   []int   // days of the season on which a meter was stuck into four pieces of it
	count  string  // at the beginning
	counts []int   // days on which it was counted again
}

// more is how much more is burnt than is logged: a log put on and forgotten.
const more = 1.13

func some(v float64) sql.Null[float64] { return sql.Null[float64]{V: v, Valid: true} }

// lies are the stacks of [fixture.Stacks], in their order.
var lies = []lying{
	fixture.Beech:  {store.Siting{Cover: wood.Roof, Wind: some(0.5), Sun: some(0.5)}, 1320, 560, []int{60, 150}, "1320 kg", []int{70, 125, 165}},
	fixture.Oak:    {store.Siting{Cover: wood.Top, Wind: some(0.5), Sun: some(0)}, 1270, 940, []int{90}, "1270 kg", []int{80, 150}},
	fixture.Spruce: {store.Siting{Cover: wood.Top, Wind: some(1), Sun: some(0.5)}, 420, 420, nil, "420 kg", []int{130}},
	fixture.NewAsh: {store.Siting{Cover: wood.Wrap, Wind: some(0), Sun: some(0), OnGround: true, Round: true, Crooked: true}, 0, 0, []int{50, 110, 170},
		"900 kg", nil},
	fixture.CabinCuts: {store.Siting{Cover: wood.Roof}, 0, 500, nil, "430 pieces", nil},
	fixture.Offcuts:   {store.Siting{Cover: wood.Inside}, 0, 400, nil, "8 crates of 75 L", nil},
}

// addStacks puts the household's wood up as it lay when the season began.
func addStacks(ctx context.Context, h store.Household, today time.Time) ([]store.Stack, error) {
	start := begins(today)
	var out []store.Stack
	for i, w := range Stacks() {
		l := lies[i]
		if l.mass > 0 {
			w.Mass = units.Kilogram(l.mass)
		}
		s, r, c := shed.Bare(w)
		s.Siting = l.told
		if l.split > 0 {
			s.Since = start.AddDate(0, 0, -l.split)
		}
		r.Pieces, r.Spread, c.Typed = 4, 0.015, l.count
		id, err := h.AddStack(ctx, s, r, c, start)
		if err != nil {
			return nil, fmt.Errorf("adding %s: %w", w.Name, err)
		}
		s.ID, s.Readings = id, []store.StackReading{*r}
		out = append(out, s)
	}
	return out, nil
}

// afterSeason adds what meters read in the stacks through the season, and how they were
// counted again: from what they would be, with a little luck on either side.
func afterSeason(ctx context.Context, h store.Household, stacks []store.Stack, today time.Time) error {
	start := begins(today)
	for stack, n := range map[int]int{fixture.Beech: 14, fixture.Offcuts: 30} { // carried in the evening before
		if _, err := h.Carry(ctx, stacks[stack].ID, n, today.Add(-16*time.Hour)); err != nil {
			return err
		}
	}
	if err := tended(ctx, h, today); err != nil {
		return err
	}
	for i, s := range stacks {
		for j, day := range lies[i].read {
			at := start.AddDate(0, 0, day)
			u := drying.Believe(shed.Drying(s), drying.At(time.UTC), at).Moisture().Middle + units.Fraction(0.006*float64(1-j%3))
			r := store.StackReading{At: at, Reading: units.Fraction(math.Round(1000*float64(u)) / 1000), Pieces: 4, Spread: 0.018}
			if err := h.AddReading(ctx, s.ID, r); err != nil {
				return err
			}
		}
		for _, day := range lies[i].counts {
			at := start.AddDate(0, 0, day)
			used, err := h.UsedBetween(ctx, s.ID, start, at)
			if err != nil {
				return err
			}
			left := wood.DryMass(s.Mass, s.Moisture()) - used*more
			// The mill has a sack scale.
			typed := fmt.Sprintf("%.0f kg", float64(left)*(1+float64(s.Moisture())))
			c, err := wood.ParseAmount(typed, units.Metric, wood.Kind{Species: s.Species, Moisture: s.Moisture(), Spread: 0.01})
			if err != nil {
				return fmt.Errorf("counting %s: %w", s.Name, err)
			}
			if err := h.AddCount(ctx, s.ID, store.StackCount{At: at, Way: c.Way, Typed: typed, Amount: c.Amount}); err != nil {
				return err
			}
		}
	}
	return nil
}

// tended is what was looked after before the season and in it. Nobody has ever looked into
// Clinker's horizontal run, and the mail boat's inlet was seen last in spring.
func tended(ctx context.Context, h store.Household, today time.Time) error {
	stoves, err := h.Stoves(ctx)
	if err != nil {
		return err
	}
	begun := begins(today)
	for i, st := range stoves {
		for k, at := range map[upkeep.Key]time.Time{upkeep.Sweep: begun.AddDate(0, 0, -9), upkeep.Cap: begun.AddDate(0, 0, 30),
			upkeep.Gasket: begun.AddDate(0, 0, -9), upkeep.Inspect: begun.AddDate(0, 0, -9+2*i),
			upkeep.Baffle: begun.AddDate(0, 0, -9), upkeep.Glass: today.AddDate(0, 0, -11-3*i), upkeep.Ash: today.AddDate(0, 0, -12-9*i)} {
			if _, err := h.MarkDone(ctx, st.ID, string(k), "", at); err != nil {
				return err
			}
		}
		if st.Family == stove.Catalytic {
			if _, err := h.MarkDone(ctx, st.ID, string(upkeep.Catalyst), "a few cells shut by ash; brushed", begun.AddDate(0, 0, -9)); err != nil {
				return err
			}
		}
		if st.Small() {
			if _, err := h.MarkDone(ctx, st.ID, string(upkeep.Inlet), "", begun.AddDate(0, 0, 60)); err != nil {
				return err
			}
		}
	}
	_, err = h.MarkDone(ctx, 0, string(upkeep.Extinguisher), "", begun.AddDate(0, 0, -9))
	return err
}
