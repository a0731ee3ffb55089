package ways

import (
	"math/rand/v2"
	"slices"

	"smolder/internal/core/review"
)

// A Trial asks a question of the next burns, each in a way that is drawn by lot.
type Trial struct {
	Question
	By   Figure // that it is decided by, an observed one
	Seed uint64
	Most int // burns
}

// How many burns a trial may have.
const (
	LeastBurns, UsualBurns, MostBurns = 6, 10, 40
)

// clearAt is how seldom chance makes such a difference, where a trial is stopped before its
// end: far under what is asked at its end, since it is looked at after every burn
// (Pocock 1977).
const clearAt = 0.01

// Lot is the way of the n-th burn of a trial, from 0 on: in each pair of burns both ways
// come once, in an order that is drawn.
func (t Trial) Lot(n int) string {
	r := rand.New(rand.NewPCG(t.Seed, uint64(n/2))) //nolint:gosec // a lot, not a secret
	first := r.IntN(2) == 0
	if first == (n%2 == 0) {
		return t.A
	}
	return t.B
}

// Asks tells whether a burn can be one of the trial's.
func (t Trial) Asks(w review.Way) bool {
	way := WayIn(t.Subject, w)
	return way == t.A || way == t.B
}

// A Standing is how far a trial is.
type Standing struct {
	Burns   int    // that count
	Kept    int    // that were made as the lot said
	Next    string // the way of the next; empty: it is over
	Clear   bool   // stopped early
	Over    bool
	Verdict Verdict // by the trial's figure
}

// Standing tells how a trial stands by the burns since it was begun, in the order of time.
func (t Trial) Standing(burns []Burn) Standing {
	s := Standing{}
	by := t.By
	if !slices.Contains(Observed, by) {
		by = Early
	}
	var counted []Burn
	for _, b := range burns {
		if !t.Asks(b.Way) || s.Over {
			continue
		}
		if WayIn(t.Subject, b.Way) == t.Lot(s.Burns) {
			s.Kept++
		}
		s.Burns++
		counted = append(counted, b)
		v := Compare(t.Question, by, counted)
		s.Clear = !v.TooFew && !v.Small && v.Chance < clearAt && v.Low*v.High > 0 && s.Burns >= LeastBurns
		s.Over = s.Clear || s.Burns >= t.Most
	}
	s.Verdict = Compare(t.Question, by, counted)
	if !s.Over {
		s.Next = t.Lot(s.Burns)
	}
	return s
}

// Whole tells whether a question can be asked.
func (q Question) Whole() bool {
	return slices.Contains(Subjects, q.Subject) && q.A != "" && q.B != "" && q.A != q.B
}
