package plan

import (
	"slices"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

const (
	// Every lies between the points of a plan's curve.
	Every = 2 * time.Minute
	// Tail is how far beyond the wish a plan's burn is followed, to see its coals.
	Tail = 30 * time.Minute
	// LoadTakes is about how long a load on coals needs somebody by it, until it is
	// charred, turned down and seen to burn.
	LoadTakes = time.Hour
	// airDensity is that of room air, kg/m³.
	airDensity = 1.2
	// inTheMiddle is how far between two looks a sign comes, on average.
	inTheMiddle = 0.5
)

// Run burns steps for a wish at full accuracy, as a plan is made of.
func Run(w wish.Wish, steps []Step) fire.Result {
	return fire.Run(w.Setup(), Looked(w, steps, inTheMiddle), runOptions(w))
}

func runOptions(w wish.Wish) fire.Options {
	return fire.Options{Until: w.For + Tail, Every: Every}
}

// Make makes a plan of a recipe and what [Run] made of it, and burns it in so many
// worlds for its ranges. What the search has found besides is filled in by it.
func Make(w wish.Wish, r Recipe, later []Later, burnt fire.Result, worlds int) Plan {
	woods := w.Woods()
	p := Plan{Wish: w, Lay: r.Lay, FirstOf: woods[r.FirstOf], MainOf: woods[r.MainOf], Direction: r.Direction,
		First: r.First, Main: r.Main, Final: r.Final, Capped: r.Most < 1, Steps: Steps(w, r, later...)}
	for _, l := range later {
		p.Feeds = append(p.Feeds, Feed{woods[r.MainOf], l.Pieces, l.Final})
	}
	p.Before = wish.Before{OnCoals: true}
	if w.Start == wish.Cold {
		p.Before = wish.BeforeLighting(w)
	}
	if w.Start.FirstFire() {
		p.Kindling = w.KindlingLoad(r.Lay)
	}
	bare := p
	p.settle(p.besides(p.keepCoals(burnt)), worlds)
	if len(p.Extras) > 0 && p.Unsafe() { // not for a little more heat
		bare.settle(bare.keepCoals(burnt), worlds)
		p = bare
	}
	if surer, changed := p.surerSigns(); changed {
		again := p
		again.Steps = surer
		again.settle(Run(w, surer), worlds)
		if s := again.Summary; !TooHot(s) && !Spills(s) && (!again.Unclean() || p.Unclean()) {
			p = again
		}
	}
	if p.tooWet() {
		p.IfDry = p.dried()
	}
	return p
}

// settle takes what the steps came to, adds the window for the next load, and burns them
// in so many worlds.
func (p *Plan) settle(burnt fire.Result, worlds int) {
	p.predict(burnt)
	p.reload(burnt)
	p.live(worlds)
}

// keepCoals adds a step that keeps the coals, where the flames are gone long before the
// wish is over, somebody is there, and the air is far open; it returns what the steps come
// to then.
func (p *Plan) keepCoals(burnt fire.Result) fire.Result {
	air, ok := p.Wish.Stove.MainAir()
	loads := p.AllLoads()
	last := burnt.Done[len(burnt.Done)-1]
	if !ok || p.Final <= keepsFrom || len(loads) == 0 || last < 0 {
		return burnt
	}
	there := p.Wish.Presence()
	for _, s := range burnt.Samples {
		if s.At <= last+feedAtFirst || s.Phase != fire.Coaling {
			continue
		}
		when := fire.Trigger{After: feedAtFirst, WoodLeft: units.Kilogram(max(leastLeft, keepLeft*loads[len(loads)-1].Dry()))}
		opening := air.Scale.Nearest(keepAt)
		steps := append(slices.Clone(p.Steps), Step{Kind: KeepIt, Control: air.Key, Opening: opening,
			Fire: fire.Move{When: when, Do: []fire.Act{setting(air, opening)}}})
		kept := Run(p.Wish, steps)
		at := kept.Done[len(steps)-1]
		if span, somebody := there.At(at); at < 0 || !somebody || span.To-at < keepStays || p.Wish.For-at < keepFor {
			return burnt
		}
		p.Steps = steps
		return kept
	}
	return burnt
}

// surely is the share of the worlds in which a sign must come to stand alone.
const surely = 0.8

// surerSigns are the steps with signs that this stove is sure to show: where a gauge
// would stay under its mark in too many stoves like it, black wood and the flames stand
// for it.
func (p *Plan) surerSigns() (steps []Step, changed bool) {
	for _, s := range p.Steps {
		if s.Kind == ReloadTime {
			continue
		}
		if when := &s.Fire.When; when.Gauge != "" && s.Share > 0 && s.Share < surely {
			switch s.Kind {
			case TurnDown:
				*when, changed = fire.Trigger{After: max(when.After, downBlind), Charred: true, PassedBy: when.PassedBy}, true
			case ShutDoor:
				*when, changed = fire.Trigger{After: shutBlind}, true
			}
		}
		steps = append(steps, s)
	}
	return steps, changed
}

// predict takes what a burn came to.
func (p *Plan) predict(r fire.Result) {
	p.Summary, p.Predicted = r.Summary, curveOf(p.Wish.Stove, r)
	for _, s := range r.Samples {
		p.body = append(p.body, s.Body)
		if s.At < p.Wish.For {
			p.Air += s.Flow * Every.Seconds() / airDensity
		}
	}
	for i := range p.Steps {
		at := r.Done[i]
		p.Steps[i].Earliest, p.Steps[i].Expected, p.Steps[i].Latest = at, at, at
	}
}

// tooWet tells whether a load of the plan is.
func (p *Plan) tooWet() bool {
	return slices.ContainsFunc(p.AllLoads(), func(l fire.Load) bool { return l.Moisture > wood.ReadyTo })
}

// dried is what the same pieces would come to if they were dry.
func (p *Plan) dried() *fire.Summary {
	steps := p.changed(func(a *fire.Act, _ Step) {
		if a.Load != nil {
			a.Load.Moisture = min(a.Load.Moisture, wood.Seasoned)
		}
	})
	sum := fire.Run(p.Wish.Setup(), steps, runOptions(p.Wish)).Summary
	return &sum
}

// reload adds the window for the next load: when the last wood has gone to
// coals, there are still enough of them, and somebody is there for it.
func (p *Plan) reload(r fire.Result) {
	there := p.Wish.Presence()
	last := p.Steps[len(p.Steps)-1].Expected
	for _, s := range r.Samples {
		span, somebody := there.At(s.At)
		if last >= 0 && s.At > last && s.Phase == fire.Coaling && s.At <= p.Wish.For && somebody && span.To-s.At >= LoadTakes {
			p.Steps = append(p.Steps, Step{Kind: ReloadTime, Expected: s.At, Earliest: s.At, Latest: s.At})
			return
		}
	}
}

// guideOf is the gauge that a plan's range is drawn for.
func guideOf(s stove.Stove) stove.Gauge {
	if g, ok := s.Guide(); ok {
		return g
	}
	return stove.NewGauge(stove.ConnectorProbe)
}
