package plan

import (
	"smolder/internal/core/fire"
	"smolder/internal/core/policy"
	"smolder/internal/core/wish"
)

// An Adviser looks at a fire over somebody's shoulder: it sees what a hand sees that follows a
// plan, and says what that hand would do, while another one does or does not.
type Adviser struct{ h *hand }

// NewAdviser is one who has come before anything was done.
func NewAdviser(w wish.Wish) *Adviser { return &Adviser{newHand(w)} }

// Saw lets it see what was done.
func (a *Adviser) Saw(f *fire.Fire, act fire.Act) {
	h := a.h
	main := act.Kind == fire.ActControl && (act.Control == h.air || act.Control == "" && act.Role == h.role)
	if main && act.Opening > h.s.Air { // whoever gives air again has their reason: what was found out before is as it was
		h.most = 1
	}
	if main {
		h.to(f, act.Opening)
		h.dark = -1
		return
	}
	h.Doing(f, act)
	if act.Kind == fire.ActDoor && act.Door != fire.Shut && f.Look().Wood >= policy.SomeWood && h.lit {
		h.helping = f.Elapsed()-h.loaded > policy.CatchesIn
	}
}

// Look is the one thing that should be done now, beside the steps of a plan; false: nothing. It
// is asked about once a minute.
func (a *Adviser) Look(f *fire.Fire) (policy.Act, bool) {
	a.h.see(f, f.Elapsed())
	return a.h.s.Decide()
}
