package plan

import (
	"fmt"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/house"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wood"
)

// An Aim is what the burn is for.
type Aim string

// The aims.
const (
	WarmUp    Aim = "warm-up"
	Hold      Aim = "hold"
	Overnight Aim = "overnight"
	TakeOff   Aim = "take-off"
	Away      Aim = "away"
	DryOut    Aim = "dry-out" // a damp room, or a new stove's first small fires
)

// Aims lists the aims with the words shown for them.
var Aims = []struct {
	Key  Aim
	Name string
}{
	{Hold, "hold an evening"},
	{WarmUp, "warm up quickly"},
	{Overnight, "hold the night"},
	{TakeOff, "take the chill off"},
	{Away, "last while nobody is in"},
	{DryOut, "dry out a room or a new stove"},
}

// A Start is what is in the stove now.
type Start string

// The starts.
const (
	Cold       Start = "cold"
	FewCoals   Start = "few-coals"
	LayerCoals Start = "layer-of-coals"
	GoodCoals  Start = "good-coals"
)

// Starts lists the starts with the words shown, the coals in kg in a 55 L
// firebox and how warm the stove's body is.
var Starts = []struct {
	Key    Start
	Name   string
	Coals  units.Kilogram
	Warmth units.Celsius
}{
	{Cold, "cold", 0, 0},
	{FewCoals, "on a handful of coals", 0.1, 70},
	{LayerCoals, "on a layer of coals", 0.3, 90},
	{GoodCoals, "on a good bed of coals", 0.7, 130},
}

// Known tells whether a is one of [Aims].
func (a Aim) Known() bool {
	for _, k := range Aims {
		if k.Key == a {
			return true
		}
	}
	return false
}

// Known tells whether s is one of [Starts].
func (s Start) Known() bool {
	for _, k := range Starts {
		if k.Key == s {
			return true
		}
	}
	return false
}

// few tells whether the coals are too few to light big wood by themselves.
func (s Start) few() bool { return s == FewCoals || s == LayerCoals }

// firstFire tells whether a first fire is made, and the load goes on its coals.
func (s Start) firstFire() bool { return s == Cold || s.few() }

// Coals returns the coals and the body temperature of a start in a stove.
func (s Start) Coals(v units.Litre) (units.Kilogram, units.Celsius) {
	for _, k := range Starts {
		if k.Key == s {
			return k.Coals * units.Kilogram(v/55), k.Warmth
		}
	}
	return 0, 0
}

// A Pick is a stack to burn from, with its number in the household.
type Pick struct {
	ID    int64      `json:"id"`
	Stack wood.Stack `json:"stack"`
}

// A Wish is everything the plan is made for.
type Wish struct {
	Stove    stove.Stove    `json:"stove"`
	House    house.House    `json:"house"`
	Aim      Aim            `json:"aim"`
	For      time.Duration  `json:"for"`
	Outdoor  units.Celsius  `json:"outdoor_c"`
	Weather  []fire.Weather `json:"weather,omitempty"`          // by the hour, where it is known; it goes before Outdoor
	Humidity units.Fraction `json:"outdoor_humidity,omitempty"` // relative, over the wish; 0: not known
	Room     units.Celsius  `json:"room_c"`
	Low      units.Celsius  `json:"wanted_from_c"`
	High     units.Celsius  `json:"wanted_to_c"`
	Start    Start          `json:"start"`
	Wood     Pick           `json:"wood"`
	Others   []Pick         `json:"others,omitempty"`   // more stacks to choose from
	LeftOut  int            `json:"left_out,omitempty"` // stacks that there were besides, too many to try
	Kindling *Pick          `json:"kindling,omitempty"`
	Lay      fire.Lay       `json:"lay,omitempty"`     // of the first fire; empty: whichever is best
	Body     units.Celsius  `json:"body_c,omitempty"`  // of the stove, where it is known; 0: as the start says
	There    Presence       `json:"there,omitempty"`   // when somebody is by the stove
	Help     Help           `json:"help,omitzero"`     // for the draft
	Starter  fire.Starter   `json:"starter,omitempty"` // what the kindling is lit with; empty: a wax block
	Beside   []fire.Beside  `json:"beside,omitempty"`  // what another stove in the same space gives meanwhile

	single bool  // one load, also where the wish is longer
	primed *bool // whether the flue is warmed first, once that is worked out
}

// unattended tells whether people sleep, or nobody is in, while the fire is in.
func (w Wish) unattended() bool {
	if w.Aim == Overnight || w.Aim == Away {
		return true
	}
	for at := time.Duration(0); at < w.For; at += 5 * time.Minute {
		if !w.there().Somebody(at) {
			return true
		}
	}
	return false
}

// confined tells whether the stove stands where people sleep beside it in little
// air: a boat, a van, a hut.
func (w Wish) confined() bool { return w.House.Mobile() || w.Stove.Small() }

// awayLeave is when nobody is in any more, if the aim says so and nobody said
// when.
const awayLeave = 90 * time.Minute

// watched is how long a fire must burn at its last setting before it is left;
// slack is how much longer than expected everything before may take, with
// wetter wood or a slower hand.
const (
	watched = 15 * time.Minute
	slack   = 1.3
)

// there is when somebody is by the stove, where the aim says so and nobody else.
func (w Wish) there() Presence {
	if w.There == nil && w.Aim == Away {
		return Presence{{0, awayLeave}}
	}
	return w.There
}

// hands returns until when there are hands for the first steps; false: all the
// time.
func (w Wish) hands() (time.Duration, bool) {
	first, _ := w.there().at(0)
	return first.To - watched, first.To < w.For
}

// check refuses a wish that no search could answer.
func (w Wish) check() error {
	for _, pick := range w.woods() {
		if err := w.checkWood(pick.Stack); err != nil {
			return err
		}
	}
	if w.confined() && w.unattended() && !w.Stove.Unattended {
		return plain("In a boat, van or hut nobody sleeps or goes away with a fire in, unless the stove's manual allows it: the air in it is soon used up.",
			"Plan it for while somebody is awake by the stove. If the manual allows a fire at night or alone, say so under Stove and flue.")
	}
	if w.Start == Cold {
		if b := BeforeLighting(w); b.DoNot {
			return w.doNotLight(b)
		}
	}
	if !w.there().Somebody(0) {
		back, ever := w.there().next(0)
		if !ever {
			return plain("Nobody is there to light it.", "Say when somebody is.")
		}
		return plain(fmt.Sprintf("Nobody is there to light it for another %s.", units.Duration(back.Round(time.Minute))), "Plan it when somebody is back, or light it now and say so.")
	}
	if w.Low >= w.High {
		return refusal(func(sys units.System) (string, string) {
			return "The wanted room temperature must rise from a lower to a higher one.", fmt.Sprintf("%s to %s would do.", sys.RoomTemperature(19), sys.RoomTemperature(21))
		})
	}
	if w.Lay != "" && (!w.Lay.Known() || w.Lay == fire.OnCoals) {
		return plain(fmt.Sprintf("There is no lay called %q to light from cold.", w.Lay), "top-down, raft, open-v, lean-to or bottom-up would do, or none: then the best is chosen.")
	}
	return nil
}

// Suits tells whether this stove can be planned for with a stack: that it is wood,
// fits, is there, and is not too wet to burn clean.
func (w Wish) Suits(s wood.Stack) bool { return w.checkWood(s) == nil }

func (w Wish) checkWood(s wood.Stack) error {
	longest := max(w.Stove.LongestPiece(stove.EndOn), w.Stove.LongestPiece(stove.Sideways))
	switch {
	case s.Species.Mineral:
		return plain(fmt.Sprintf("%s is manufactured mineral fuel: its burns are recorded and not simulated, so there is nothing to plan with.", s.Name),
			"Burn it as the stove's manual says, or plan with wood.")
	case s.PieceLength > longest:
		return refusal(func(sys units.System) (string, string) {
			return fmt.Sprintf("The pieces of %s are %s long and this firebox takes %s.", s.Name, sys.Size(s.PieceLength), sys.Size(longest)),
				"Cut them, or burn from another stack."
		})
	case s.Pieces() < 1:
		return plain(fmt.Sprintf("%s is used up.", s.Name), "Choose another stack, or count it again under Wood.")
	case s.PieceMass > w.Stove.MaxLoad:
		return refusal(func(sys units.System) (string, string) {
			return fmt.Sprintf("One piece of %s weighs %s and the manual's largest load is %s.", s.Name, sys.Mass(s.PieceMass), sys.Mass(w.Stove.MaxLoad)),
				"Split the pieces, or burn from another stack."
		})
	case s.Moisture() > 0.35:
		return plain(fmt.Sprintf("%s is at %.0f %%: no setting burns that clean.", s.Name, s.Moisture().Percent()),
			"Burn wood under 25 %, and let this stack dry.")
	}
	return nil
}
