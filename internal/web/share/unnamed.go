package share

import (
	"slices"
	"strings"
	"time"

	"smolder/internal/core/burn"
	"smolder/internal/core/plan"
	"smolder/internal/core/stove"
	"smolder/internal/say"
	"smolder/internal/web/kit"
)

// called is what a stove is called where its name is left out.
func called(q *kit.Request, st stove.Stove) string {
	return q.F("A stove: %s", q.T(say.Families.Name(st.Family)))
}

// unnamed is a burn without names, on its owner's clock: whoever helps is not told where that is.
func unnamed(q *kit.Request, b burn.Burn) burn.Burn {
	out := b.Unnamed(called(q, b.Stove))
	_, offset := b.Started.In(q.Profile.Location()).Zone()
	by := time.Duration(offset) * time.Second
	out.Started = b.Started.Add(by).UTC()
	if !b.Ended.IsZero() {
		out.Ended = b.Ended.Add(by).UTC()
	}
	for i := range out.Entries {
		out.Entries[i].At = out.Entries[i].At.Add(by).UTC()
	}
	return out
}

// unnamedPlan is a plan without names.
func unnamedPlan(p plan.Plan, name string) *plan.Plan {
	p.Wish.Stove = burn.UnnamedStove(p.Wish.Stove, name)
	p.Kindling = burn.UnnamedLoad(p.Kindling)
	p.Steps = slices.Clone(p.Steps)
	for i := range p.Steps {
		do := slices.Clone(p.Steps[i].Fire.Do)
		for k, a := range do {
			if a.Load != nil {
				l := burn.UnnamedLoad(*a.Load)
				do[k].Load = &l
			}
		}
		p.Steps[i].Fire.Do = do
	}
	pick := func(at *string, species string) { *at = strings.ToLower(species) }
	pick(&p.Wish.Wood.Stack.Name, p.Wish.Wood.Stack.Species.Name)
	p.Wish.Wood.ID = 0
	p.Wish.Others = slices.Clone(p.Wish.Others)
	for i := range p.Wish.Others {
		pick(&p.Wish.Others[i].Stack.Name, p.Wish.Others[i].Stack.Species.Name)
		p.Wish.Others[i].ID = 0
	}
	if k := p.Wish.Kindling; k != nil {
		one := *k
		pick(&one.Stack.Name, one.Stack.Species.Name)
		one.ID = 0
		p.Wish.Kindling = &one
	}
	pick(&p.FirstOf.Stack.Name, p.FirstOf.Stack.Species.Name)
	pick(&p.MainOf.Stack.Name, p.MainOf.Stack.Species.Name)
	p.FirstOf.ID, p.MainOf.ID = 0, 0
	p.Feeds = slices.Clone(p.Feeds)
	for i := range p.Feeds {
		pick(&p.Feeds[i].Of.Stack.Name, p.Feeds[i].Of.Stack.Species.Name)
		p.Feeds[i].Of.ID = 0
	}
	return &p
}
