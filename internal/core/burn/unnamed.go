package burn

import (
	"slices"
	"strings"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// Unnamed is the burn without anything by which somebody could be known: no names of people, no
// remarks, no names of stove, room and stacks. Everything that is computed of it stays as it is;
// the stove is called by what stands in for its name.
func (b Burn) Unnamed(called string) Burn {
	out := b
	out.Stove = UnnamedStove(b.Stove, called)
	out.LitBy, out.EndedBy = "", ""
	out.Entries = make([]Entry, 0, len(b.Entries))
	for _, e := range b.Valid() {
		if e.Kind == Note || e.Kind == NotYet {
			continue
		}
		e.By, e.UndoneBy, e.Typed, e.Note, e.Tap = "", "", "", "", ""
		if e.Load != nil {
			l := UnnamedLoad(*e.Load)
			e.Load = &l
		}
		out.Entries = append(out.Entries, e)
	}
	return out
}

// UnnamedStove is a stove under another name, without the room it stands in.
func UnnamedStove(st stove.Stove, called string) stove.Stove {
	st.Name, st.Room = called, ""
	st.Controls, st.Gauges = slices.Clone(st.Controls), slices.Clone(st.Gauges)
	return st
}

// UnnamedLoad is a load whose stack is called by its wood; what was left of the fire before stays
// that.
func UnnamedLoad(l fire.Load) fire.Load {
	if l.StackName != fire.LeftOver {
		l.StackName = strings.ToLower(l.Species.Name)
	}
	l.StackID = 0
	return l
}
