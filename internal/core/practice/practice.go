// Package practice is a fire that somebody can fail at: their own stove, computed, with all
// that a hand can do to it.
//
// A [Spec] is all that a practice is made of. Its stove is a world drawn by a seed from what is
// believed of it ([belief.OneWorld]): what the lever opens, how wet the wood is inside and what
// a gauge makes of it differ each time, so that the fire must be read and not learned by heart.
// Everything that is done is kept with its moment ([Done]); the same spec with the same acts is
// the same fire, so that it can be taken up again anywhere by burning them once more.
//
// A [Lesson] begins somewhere in a burn and is judged by what came of it ([Practice.Marks]). Its
// hints are the steps of one way to do it, by their own signs, and what the coach would say
// besides ([plan.Adviser]); how much of them is said is the lesson's. Afterwards the practice is
// a burn like any other ([Practice.Burn]), and is reviewed like one.
package practice

import (
	"math"
	"slices"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
)

// Why something cannot be done, with the quantities of each.
const (
	NoSuchAct  reason.Code = "practice/act"
	TooMany    reason.Code = "practice/pieces" // most
	Full       reason.Code = "practice/full"   // most that still goes in
	NotLaid    reason.Code = "practice/not-laid"
	LitAlready reason.Code = "practice/lit"
	LongEnough reason.Code = "practice/acts" // most
	IsOver     reason.Code = "practice/over"
	NoSpec     reason.Code = "practice/spec"
)

// MostActs is how many things are done in one practice at the most.
const MostActs = 2000

// mostAtOnce is how many pieces go in at one time.
const mostAtOnce = 60

// Step is how finely its time runs.
const Step = fire.DefaultStep

// A Kind is what is done.
type Kind string

// The kinds.
const (
	Lay      Kind = "lay"      // pieces to light with: Of, Pieces, and how
	Kindle   Kind = "kindling" // an armful
	Light    Kind = "light"
	Load     Kind = "load" // pieces on the coals
	Control  Kind = "control"
	Door     Kind = "door"
	Rake     Kind = "rake"
	Prime    Kind = "prime"
	Window   Kind = "window"
	HouseFan Kind = "fan"
	Look     Kind = "look" // nothing is done
)

// An Act is something that a hand does.
type Act struct {
	Kind      Kind            `json:"kind"`
	Of        int             `json:"of,omitempty"` // which wood
	Pieces    int             `json:"pieces,omitempty"`
	Direction stove.Direction `json:"direction,omitempty"`
	Lay       fire.Lay        `json:"lay,omitempty"`
	Control   string          `json:"control,omitempty"`
	Opening   float64         `json:"opening,omitempty"`
	Door      fire.Door       `json:"door,omitempty"`
	On        bool            `json:"on,omitempty"` // of window and fan
}

// A Done is an act with its moment since the practice's fire began.
type Done struct {
	At  time.Duration `json:"at"`
	Act Act           `json:"act"`
}

// A happening is something that the fire is given at a moment, by a hand, the lesson or chance.
type happening struct {
	at    time.Duration
	acts  []fire.Act
	given bool // not by whoever practises
}

// A Practice is a fire somebody practises on. It is not safe for concurrent use.
type Practice struct {
	Spec   Spec
	Lesson Lesson
	Wish   wish.Wish
	Begins time.Duration // since the fire's start: what was done before was given
	Done   []Done

	plan   plan.Plan // one way to do it
	world  belief.World
	setup  fire.Setup // as it is in this world
	fire   *fire.Fire
	chance []Chance

	happened []happening // in the order of time
	next     int         // of them, that the fire was not given yet
	laid     []fire.Load
	kindling *fire.Load
	isLit    bool
	opening  map[string]float64
	door     fire.Door
	window   bool
	fan      bool
	readings []reading
	samples  []fire.Sample // by the minute

	adviser *plan.Adviser
	advice  advice
}

// New is a practice as it stands after what was done.
func New(spec Spec, done []Done) (*Practice, error) {
	l, ok := Of(spec.Lesson)
	if !ok || !l.Suits(spec.Stove) || len(done) > MostActs {
		return nil, reason.Of("", NoSpec)
	}
	if l.place != nil {
		l.place(&spec)
	}
	p := &Practice{Spec: spec, Lesson: l, Wish: spec.Wish().Prepared(), opening: map[string]float64{}}
	p.world = belief.OneWorld(p.Wish.Belief(), belief.Doubt{}, spec.Seed)
	setup := p.Wish.Setup()
	setup.House = spec.House // a fan runs until somebody turns it off
	setup.Tuning = fire.Tuning{}
	if l.Key == Free {
		p.chance = chances(spec.Seed, l.For, &setup, &p.Wish)
	}
	p.setup = p.world.In(setup)
	p.fan = setup.House.Fan > 0
	r := l.recipe(p.Wish)
	steps, later := l.steps(p.Wish, r)
	p.plan = plan.Make(p.Wish, r, later, plan.Run(p.Wish, steps), 0)
	p.fire, p.adviser = fire.New(p.setup, Step), plan.NewAdviser(p.Wish)
	for _, c := range spec.Stove.Controls {
		p.opening[c.Key] = fire.ReadyToLight(c.Role, spec.Stove.FromAbove())
	}
	p.leadIn()
	for _, c := range p.chance {
		p.happened = append(p.happened, happening{p.Begins + c.At, c.acts, true})
	}
	p.goTo(p.Begins)
	for _, d := range done {
		p.goTo(d.At)
		if err := p.Do(d.Act); err != nil {
			return nil, err
		}
	}
	return p, nil
}

// leadIn does what was done before the lesson begins.
func (p *Practice) leadIn() {
	steps := plan.Fires(p.plan.Steps)
	give := func(at time.Duration, acts []fire.Act) {
		p.happened = append(p.happened, happening{at, p.inWorld(acts), true})
		p.isLit = true
		for _, a := range acts {
			p.note(a)
		}
	}
	switch p.Lesson.lead {
	case lit:
		give(0, steps[0].Do)
		p.Begins = afterMatch
	case justPutOn:
		give(0, steps[0].Do)
		p.Begins = afterLoad
	case toReload:
		n := slices.IndexFunc(p.plan.Steps, func(s plan.Step) bool { return s.Kind == plan.LoadIt })
		if n < 0 {
			return
		}
		done := fire.Run(p.setup, p.world.Moves(steps[:n]), fire.Options{Until: time.Hour}).Done
		p.Begins = neverShut
		for i := range n {
			if done[i] >= 0 {
				give(done[i], steps[i].Do)
				p.Begins = max(p.Begins, done[i]+afterShut)
			}
		}
	}
}

// inWorld are acts as they are in this world: its wood is as wet as it is there.
func (p *Practice) inWorld(acts []fire.Act) []fire.Act {
	return p.world.Moves([]fire.Move{{Do: acts}})[0].Do
}

// note remembers how an act leaves what a hand moves.
func (p *Practice) note(a fire.Act) {
	switch a.Kind {
	case fire.ActControl:
		for _, c := range p.Spec.Stove.Controls {
			if c.Key == a.Control || a.Control == "" && c.Role == a.Role {
				p.opening[c.Key] = a.Opening
			}
		}
	case fire.ActDoor:
		p.door = a.Door
	case fire.ActWindow:
		p.window = a.Open
	case fire.ActFan:
		p.fan = a.Flow > 0
	case fire.ActLight:
		p.isLit = true
	}
}

// Now is how long the lesson has lasted.
func (p *Practice) Now() time.Duration { return p.fire.Elapsed() - p.Begins }

// Asleep tells whether whoever practises has gone to bed: nothing is said to them any more.
func (p *Practice) Asleep() bool { return p.Lesson.awake > 0 && p.Now() >= p.Lesson.awake }

// Left is how long it still lasts.
func (p *Practice) Left() time.Duration { return max(0, p.Lesson.For-p.Now()) }

// GoTo lets the lesson go on to a moment since its beginning, at most to its end.
func (p *Practice) GoTo(at time.Duration) { p.goTo(p.Begins + min(at, p.Lesson.For)) }

// goTo burns to a moment since the fire's start, and gives it what happens until then.
func (p *Practice) goTo(at time.Duration) {
	for {
		now := p.fire.Elapsed()
		for p.next < len(p.happened) && p.happened[p.next].at <= now {
			for _, a := range p.happened[p.next].acts {
				p.fire.Do(a)
				p.adviser.Saw(p.fire, a)
				p.note(a)
			}
			p.next++
		}
		if now >= readEvery*time.Duration(len(p.readings)) {
			p.read(now)
		}
		if now >= time.Minute*time.Duration(len(p.samples)) {
			p.samples = append(p.samples, p.fire.Sample())
		}
		if now >= at {
			return
		}
		p.fire.Step()
	}
}

// Do does something now.
func (p *Practice) Do(a Act) error {
	if p.Left() == 0 {
		return reason.Of("", IsOver)
	}
	if len(p.Done) >= MostActs {
		return reason.Of("", LongEnough, reason.Count(MostActs))
	}
	acts, err := p.acts(a)
	if err != nil {
		return err
	}
	p.Done = append(p.Done, Done{p.fire.Elapsed(), a})
	if len(acts) == 0 {
		return nil
	}
	// What chance brings later comes after it.
	p.happened = slices.Insert(p.happened, p.next, happening{at: p.fire.Elapsed(), acts: p.inWorld(acts)})
	p.goTo(p.fire.Elapsed())
	return nil
}

// acts are what an act does to the fire; none where it only lays wood.
func (p *Practice) acts(a Act) ([]fire.Act, error) {
	switch a.Kind {
	case Lay, Load, Kindle:
		return p.wood(a)
	case Light:
		return p.light()
	case Control:
		c, ok := p.Spec.Stove.Control(a.Control)
		if !ok || !(a.Opening >= 0 && a.Opening <= 1) {
			return nil, reason.Of("", NoSuchAct)
		}
		return []fire.Act{{Kind: fire.ActControl, Control: c.Key, Role: c.Role, Opening: c.Scale.Nearest(a.Opening)}}, nil
	case Door:
		if a.Door < fire.Shut || a.Door > fire.Open {
			return nil, reason.Of("", NoSuchAct)
		}
		return []fire.Act{{Kind: fire.ActDoor, Door: a.Door}}, nil
	case Rake:
		return []fire.Act{{Kind: fire.ActRake}}, nil
	case Prime:
		return []fire.Act{{Kind: fire.ActPrime, Heat: fire.PaperPrimer}}, nil
	case Window:
		return []fire.Act{{Kind: fire.ActWindow, Open: a.On}}, nil
	case HouseFan:
		act := fire.Act{Kind: fire.ActFan}
		if a.On {
			act.Flow = max(p.Spec.House.Fan, hood)
		}
		return []fire.Act{act}, nil
	case Look:
		return nil, nil
	}
	return nil, reason.Of("", NoSuchAct)
}

// wood puts pieces into the firebox, or lays them where nothing burns yet.
func (p *Practice) wood(a Act) ([]fire.Act, error) {
	if a.Kind == Kindle {
		l := p.Wish.KindlingLoad(p.lay(a.Lay))
		if !p.burns() {
			if p.kindling != nil {
				return nil, reason.Of("", TooMany, reason.Count(1))
			}
			p.kindling = &l
			return nil, nil
		}
		l.Lay, l.Starter, l.StarterKind = fire.OnCoals, 0, ""
		if room := p.room(); float64(l.Mass()) > room*roomGives {
			return nil, reason.Of("", Full, reason.Count(0))
		}
		return []fire.Act{{Kind: fire.ActLoad, Load: &l}}, nil
	}
	woods := p.Wish.Woods()
	if a.Of < 0 || a.Of >= len(woods) || a.Direction != stove.EndOn && a.Direction != stove.Sideways || !p.Wish.Fits(a.Of, a.Direction) {
		return nil, reason.Of("", NoSuchAct)
	}
	if a.Pieces < 1 || a.Pieces > mostAtOnce {
		return nil, reason.Of("", TooMany, reason.Count(mostAtOnce))
	}
	l := p.Wish.LoadOf(a.Of, a.Pieces, a.Direction, fire.OnCoals)
	if !p.burns() {
		l = p.Wish.FirstLoad(a.Of, a.Pieces, a.Direction, p.lay(a.Lay))
	}
	if goes := int(p.room() * roomGives / float64(woods[a.Of].Stack.PieceMass)); a.Pieces > goes {
		return nil, reason.Of("", Full, reason.Count(goes))
	}
	if !p.burns() {
		p.laid = append(p.laid, l)
		return nil, nil
	}
	return []fire.Act{{Kind: fire.ActLoad, Load: &l}}, nil
}

// roomGives is how much wood lies in a firebox that is filled to the baffle, kg a litre: pieces of
// 600 kg/m³ with gaps between.
const roomGives = 0.3

// room is how many litres of the firebox are free.
func (p *Practice) room() float64 {
	kilos := p.fire.Look().Wood
	for _, l := range p.laid {
		kilos += float64(l.Mass())
	}
	return math.Max(0, float64(p.Spec.Stove.Volume)-kilos/roomGives)
}

// burns tells whether wood goes onto a fire or coals, and is not laid to be lit.
func (p *Practice) burns() bool { return p.isLit || p.Wish.Start != wish.Cold }

// lay is how a first fire is laid.
func (p *Practice) lay(asked fire.Lay) fire.Lay {
	if asked.Known() && asked != fire.OnCoals {
		return asked
	}
	for _, l := range p.laid {
		return l.Lay
	}
	return fire.TopDown
}

// light lights what is laid.
func (p *Practice) light() ([]fire.Act, error) {
	if p.burns() && len(p.laid) == 0 && p.kindling == nil {
		// a fire that went out is lit again on what lies there
		l := p.Wish.KindlingLoad(fire.OnCoals)
		l.StarterKind, l.Starter = fire.WaxBlock, 0
		if !p.fire.Look().Out && p.fire.Look().Flame > 0 {
			return nil, reason.Of("", LitAlready)
		}
		return []fire.Act{{Kind: fire.ActLoad, Load: &l}, {Kind: fire.ActLight}}, nil
	}
	if p.kindling == nil {
		return nil, reason.Of("", NotLaid)
	}
	var acts []fire.Act
	for i := range p.laid {
		l := p.laid[i]
		l.Lay = p.kindling.Lay
		acts = append(acts, fire.Act{Kind: fire.ActLoad, Load: &l})
	}
	acts = append(acts, fire.Act{Kind: fire.ActLoad, Load: p.kindling}, fire.Act{Kind: fire.ActLight})
	p.laid, p.kindling, p.isLit = nil, nil, true
	return acts, nil
}

// Scene is what is seen through the glass now; what is laid and not lit lies there too.
func (p *Practice) Scene() fire.Scene {
	s := p.fire.Scene()
	for _, l := range p.laid {
		s.Lying = append(s.Lying, fire.Lying{Pieces: l.Pieces, Left: 1})
	}
	if p.kindling != nil {
		s.Lying = append(s.Lying, fire.Lying{Pieces: p.kindling.Pieces, Kindling: true, Left: 1})
	}
	return s
}

// Dials are the stove's gauges of the fire.
func (p *Practice) Dials() (out []stove.Gauge) {
	for _, g := range p.Spec.Stove.Gauges {
		if g.Place.OfFire() {
			out = append(out, g)
		}
	}
	return out
}

// Shown is what each of the dials shows.
func (p *Practice) Shown() []units.Celsius {
	out := []units.Celsius{}
	for _, g := range p.Dials() {
		t, ok := p.fire.Reading(g.Place)
		if !ok {
			t = float64(p.fire.Room())
		}
		out = append(out, units.Celsius(t))
	}
	return out
}

// Room is the temperature of its air.
func (p *Practice) Room() units.Celsius { return p.fire.Room() }

// Door is how the door stands; Window and Fan whether the one is open a crack and the other runs;
// Opening how a control stands.
func (p *Practice) Door() fire.Door { return p.door }

// Window tells whether one is open a crack.
func (p *Practice) Window() bool { return p.window }

// Fan tells whether the house's fans run.
func (p *Practice) Fan() bool { return p.fan }

// Opening is how a control stands, 0 to 1.
func (p *Practice) Opening(key string) float64 { return p.opening[key] }

// Laid is how many pieces are laid and not lit, and whether kindling is.
func (p *Practice) Laid() (pieces int, kindling bool) {
	for _, l := range p.laid {
		pieces += l.Pieces
	}
	return pieces, p.kindling != nil
}

// Burns tells whether it was lit, or lies on coals.
func (p *Practice) Burns() bool { return p.burns() }
