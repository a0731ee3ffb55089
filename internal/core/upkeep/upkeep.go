// Package upkeep knows what a stove, its chimney and its household want looked after, and
// when: by use where use is what wears, by the calendar where time is, by whichever comes
// first where both are.
//
// Every task stands in one table ([Tasks]) with its limits; how far it is gone since it was
// done last is a share of them ([Status.Share]): 1 is due. What is dangerous when it is
// overdue is marked so, and stands wherever a fire is about to be lit. Sentences are in
// package say.
//
// Sources: NFPA 211 (inspection every year, a sweep at 3 mm of deposits), NFPA 72 and EN
// 50292 (alarms tested monthly), NFPA 10 (extinguishers looked at yearly). The rest is
// general practice; the stove's manual wins.
package upkeep

import (
	"math"
	"slices"
	"strings"
	"time"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// A Key names a task.
type Key string

// The tasks.
const (
	Sweep        Key = "sweep"        // flue, connector and cap
	LevelRun     Key = "level-run"    // the horizontal run, on its own
	Cap          Key = "cap"          // and its spark screen
	Gasket       Key = "gasket"       // of the door, by a strip of paper
	Baffle       Key = "baffle"       // and air tubes
	Catalyst     Key = "catalyst"     // looked at and cleaned
	Grate        Key = "grate"        // and what riddles it
	Ash          Key = "ash"          // taken out
	Glass        Key = "glass"        // cleaned
	Inlet        Key = "inlet"        // outside air, or the room's own opening
	Detectors    Key = "detectors"    // CO and smoke alarms
	Extinguisher Key = "extinguisher" // and the way out
	TravelCap    Key = "travel-cap"   // for the road, or the sea
	CurePaint    Key = "first-fires"  // of a new or repainted stove: three small ones
	Inspect      Key = "inspect"      // flue, stove and hearth, by a sweep or installer
	AlarmsLife   Key = "alarms-life"  // the alarms themselves, at the end of theirs
	CatLife      Key = "cat-life"     // a new catalyst
	Rope         Key = "rope"         // a new one for the door
	AshGasket    Key = "ash-gasket"   // of the ash door
	Bricks       Key = "bricks"       // firebricks and board
	GlassCrack   Key = "glass-crack"  // the pane and what holds it
	Joints       Key = "joints"       // of the connector, and its screws
	Clearances   Key = "clearances"   // nothing that burns within them
	Summer       Key = "summer"       // closing for the summer
)

// What is told of besides: that a stove is new or was painted ([Painted]), and that its
// chimney burnt.
const ChimneyFire Key = "chimney-fire"

// Painted marks that a stove is new or was painted, so that it wants its first fires.
const Painted Key = "painted"

// A Place is what a task is done to.
type Place struct {
	Stove  stove.Stove
	Small  bool // in a boat, a van or a hut
	Tight  bool // a room that leaks little
	Winter bool // it is, or was within six weeks, lit
}

// Use is what a stove has been through since something was done.
type Use struct {
	Burns    int
	Hours    float64        // of fire
	Dry      units.Kilogram // wood, oven-dry
	Mineral  units.Kilogram
	Smoulder float64   // hours
	Settled  []float64 // g a section of the flue, from the stove up; the last is the horizontal run
	Black    int       // burns after which the owner called the glass black
	Painted  bool      // it is new or was painted, and has not had its first fires
	Burnt    bool      // its chimney burnt, and nobody has inspected it since
	Charcoal float64   // share of charcoal in the ash, by volume, as it was last taken out
	Fallen   float64   // K that the catalyst reaches less than it did
}

// A Task is something to be looked after.
type Task struct {
	Key       Key
	Household bool // once for all stoves
	Months    float64
	Burns     int     // 0: not by burns
	Hours     float64 // of fire; 0: not by hours
	Dangerous bool    // when it is overdue
	Seasonal  bool    // its months count only while the stove is lit
	Autumn    bool    // on the list for autumn
	Monthly   bool    // on the list for every month
	Move      bool    // on the list for a move
	AtOnce    bool    // asked for before anybody has told of it
	Sweep     bool    // a sweep or installer does it, or looks at it
	Quiet     bool    // not asked for before anybody has told of it
	applies   func(Place) bool
	level     func(Use, Place) float64 // share of what is due, by other use
}

func always(Place) bool { return true }

// Tasks are all of them, the most dangerous first. Months, burns and hours are usual ones.
var Tasks = []Task{
	{Key: Detectors, Household: true, Months: 1, Dangerous: true, AtOnce: true, Autumn: true, Monthly: true, Move: true, applies: always},
	{Key: Sweep, Months: 12, Dangerous: true, AtOnce: true, Autumn: true, Sweep: true, applies: always, level: func(u Use, p Place) float64 {
		return Thickest(u.Settled, p.Stove) / sweepAt
	}},
	{Key: LevelRun, Months: 6, Dangerous: true, Seasonal: true, Autumn: true, applies: func(p Place) bool { return p.Stove.Chimney.Horizontal > 0 },
		level: func(u Use, p Place) float64 { return RunThick(u.Settled, p.Stove) / sweepAt }},
	{Key: Inlet, Months: 2, Dangerous: true, Seasonal: true, Autumn: true, Monthly: true, Move: true, applies: func(p Place) bool {
		outside := false
		for _, c := range p.Stove.Controls {
			outside = outside || c.Role == stove.OutsideAir
		}
		return outside || p.Small || p.Tight
	}},
	{Key: Gasket, Months: 12, Burns: 200, Dangerous: true, Autumn: true, applies: always},
	{Key: Catalyst, Months: 12, Hours: 600, Autumn: true, applies: func(p Place) bool { return p.Stove.Family == stove.Catalytic },
		level: func(u Use, _ Place) float64 { return u.Fallen / fallenAt }},
	{Key: Baffle, Months: 12, Hours: 1500, Autumn: true, applies: func(p Place) bool { return p.Stove.Family != stove.Plain }},
	{Key: Cap, Months: 6, Dangerous: true, Seasonal: true, Autumn: true, Move: true, Sweep: true, applies: always},
	{Key: Grate, Months: 12, Hours: 800, Autumn: true, applies: func(p Place) bool { return p.Stove.Family == stove.MultiFuel }},
	{Key: Ash, Monthly: true, Move: true, applies: always, level: func(u Use, p Place) float64 {
		return float64(AshOf(u)) / float64(BedOf(p.Stove))
	}},
	{Key: Glass, Burns: 40, Monthly: true, applies: func(p Place) bool { return true }, level: func(u Use, _ Place) float64 {
		return math.Max(u.Smoulder/smoulderBlack, float64(u.Black)/2)
	}},
	{Key: Extinguisher, Household: true, Months: 12, Dangerous: true, Autumn: true, Move: true, applies: always},
	{Key: TravelCap, Move: true, applies: func(p Place) bool { return p.Small }},
	{Key: Inspect, Months: 12, Dangerous: true, Autumn: true, Sweep: true, applies: always, level: func(u Use, _ Place) float64 {
		if u.Burnt {
			return 2
		}
		return 0
	}},
	{Key: Joints, Months: 12, Dangerous: true, Autumn: true, Move: true, Quiet: true, applies: always},
	{Key: Clearances, Months: 6, Dangerous: true, Autumn: true, Move: true, Quiet: true, applies: always},
	{Key: GlassCrack, Months: 12, Dangerous: true, Autumn: true, Quiet: true, applies: always},
	{Key: Bricks, Months: 12, Hours: 1500, Autumn: true, Quiet: true, applies: always},
	{Key: AshGasket, Months: 12, Dangerous: true, Autumn: true, Quiet: true, applies: func(p Place) bool {
		return p.Stove.Family == stove.MultiFuel || slices.ContainsFunc(p.Stove.Controls, func(c stove.Control) bool { return c.Role == stove.AshFlap })
	}},
	// Ends of life, from when it was put in: CO sensors are good for five to ten years (the
	// date on the back wins), catalysts for some 10,000 to 14,000 hours, a rope for two to
	// four winters.
	{Key: AlarmsLife, Household: true, Months: 84, Dangerous: true, Quiet: true, applies: always},
	{Key: CatLife, Months: 120, Hours: 12_000, Quiet: true, applies: func(p Place) bool { return p.Stove.Family == stove.Catalytic }},
	{Key: Rope, Months: 36, Burns: 600, Quiet: true, applies: always},
	{Key: Summer, Quiet: true, applies: always, level: func(u Use, p Place) float64 {
		if u.Burns > 0 && !p.Winter {
			return 1
		}
		return 0
	}},
	{Key: CurePaint, Dangerous: true, applies: always, level: func(u Use, _ Place) float64 {
		if u.Painted {
			return 1
		}
		return 0
	}},
}

// Find returns a task.
func Find(k Key) (Task, bool) {
	i := slices.IndexFunc(Tasks, func(t Task) bool { return t.Key == k })
	if i < 0 {
		return Task{}, false
	}
	return Tasks[i], true
}

// Applies tells whether a stove has what the task is about.
func (t Task) Applies(p Place) bool { return t.applies(p) }

const (
	sweepAt       = 3.0 // mm (NFPA 211)
	looseSoot     = 300 // kg/m³ of deposits as they lie; flakes 100, glaze 900
	fallenAt      = 80  // K that a catalyst reaches less, from where it wants cleaning; 50 to 120
	smoulderBlack = 3.0 // hours of smouldering that blacken the glass; 1 to 6
	woodAsh       = 0.008
	mineralAsh    = 0.07 // of what is put on; 0.04 to 0.12
	ashBulk       = 0.4  // kg/L of ash as it lies; 0.3 to 0.5
	ashBed        = 0.03 // m, the deepest bed that is left under wood
	overdueAt     = 1.25
	soonAt        = 0.8
)

// AshOf is the ash that a use has left: 0.8 % of dry wood (0.4 to 1.5, Wood Handbook), 7 %
// of mineral fuel.
func AshOf(u Use) units.Kilogram { return u.Dry*woodAsh + u.Mineral*mineralAsh }

// BedOf is the ash in a bed of 3 cm on the firebox's floor, from where it is taken out.
func BedOf(st stove.Stove) units.Kilogram {
	floor := float64(st.Width) * float64(st.Depth)
	if floor <= 0 {
		floor = math.Pow(float64(st.Volume)/1000, 2./3)
	}
	return units.Kilogram(math.Max(0.1, floor*ashBed*1000*ashBulk))
}

// Thickest is the thickest layer in the sections of the flue, mm, were it even on the wall
// of each.
func Thickest(settled []float64, st stove.Stove) float64 {
	most := 0.0
	for _, mm := range Layers(settled, st) {
		most = math.Max(most, mm)
	}
	return most
}

// Layers are the layers in the sections of the flue from the stove up, mm.
func Layers(settled []float64, st stove.Stove) []float64 {
	n := len(settled) - 1
	if n < 1 || st.Chimney.Diameter <= 0 || st.Chimney.Height <= 0 {
		return nil
	}
	out := make([]float64, n)
	for i := range out {
		out[i] = layer(settled[i], float64(st.Chimney.Height)/float64(n), float64(st.Chimney.Diameter))
	}
	return out
}

// RunThick is the layer in the horizontal run, mm: it lies on the lower third.
func RunThick(settled []float64, st stove.Stove) float64 {
	if len(settled) == 0 || st.Chimney.Horizontal <= 0 || st.Chimney.Diameter <= 0 {
		return 0
	}
	return 3 * layer(settled[len(settled)-1], float64(st.Chimney.Horizontal), float64(st.Chimney.Diameter))
}

// layer is how thick so many grams lie on the wall of a pipe, mm: grams over bulk density
// and the pipe's inner surface. Deposits lie unevenly and are of any density between flakes
// and glaze, so it is right within a factor of two or three, and the sweep's brush is what
// counts.
func layer(grams, length, diameter float64) float64 {
	return grams / 1000 / looseSoot / (math.Pi * diameter * length) * 1000
}

// A Status is how a task stands.
type Status struct {
	Task  Task
	Since time.Time // when it was done last; zero: nobody has said
	Share float64   // of what is due, by whichever is further; 1: due
	ByUse bool      // use is further than the calendar
	Use   Use
	Due   time.Time // when it is, or was, as it goes; zero: not by any date

	PutOff time.Time // until then somebody has put it off; zero: nobody has
	Why    string    // they have
}

// Never tells that nobody has said when it was done.
func (s Status) Never() bool { return s.Since.IsZero() }

// IsDue tells that it is to be done.
func (s Status) IsDue() bool { return s.Share >= 1 }

// Longest is for how long a task may be put off: what is dangerous when it is overdue, for
// a month.
func (t Task) Longest() time.Duration {
	if t.Dangerous {
		return month
	}
	return 12 * month
}

// Rests tells that it is put off at a moment: it stands where it stands and is not asked
// for. After a chimney fire nothing puts the inspection off.
func (s Status) Rests(now time.Time) bool {
	return s.PutOff.After(now) && !(s.Task.Key == Inspect && s.Use.Burnt)
}

// Overdue tells that it should have been done some time ago.
func (s Status) Overdue() bool { return s.Share >= overdueAt }

// Soon tells that it will be due before long.
func (s Status) Soon() bool { return s.Share >= soonAt && s.Share < 1 }

// Danger tells that it is overdue and dangerous so. Of what nobody has ever told of only the
// sweep and the alarms are asked for at once, and what its use calls for: whoever begins is
// not met by a wall of it.
func (s Status) Danger() bool {
	if s.Use.Burnt && s.Task.Key == Inspect {
		return true
	}
	if !s.Task.Dangerous || !s.Never() {
		return s.Task.Dangerous && s.Overdue()
	}
	return s.IsDue() && (s.Task.AtOnce || s.ByUse)
}

// furthest is how far ahead a day is foretold by use: beyond it nothing goes on as it goes.
const furthest = 400 * 24 * time.Hour

// month is a mean one.
const month = 2_630_016 * time.Second // 30.44 days

// Of is how a task stands at a moment, of what was in use since it was done last. What
// nobody has said, and wears by the calendar, is due. Where both calendar and use wear it,
// the one that is further counts, and the day it is due is foretold by that one: by the
// calendar exactly, by use as though it went on as it went since.
func Of(t Task, p Place, since, now time.Time, u Use) Status {
	s := Status{Task: t, Since: since, Use: u}
	lit := !t.Seasonal || p.Winter
	if t.Months > 0 && lit {
		if since.IsZero() {
			s.Share = 1
			if t.Quiet {
				s.Share = 0
			}
		} else {
			s.Share = now.Sub(since).Hours() / (t.Months * month.Hours())
			s.Due = since.Add(time.Duration(t.Months * float64(month)))
		}
	}
	use := 0.0
	if t.level != nil {
		use = t.level(u, p)
	}
	if t.Burns > 0 {
		use = math.Max(use, float64(u.Burns)/float64(t.Burns))
	}
	if t.Hours > 0 {
		use = math.Max(use, u.Hours/t.Hours)
	}
	if math.IsNaN(use) || use <= s.Share {
		return s
	}
	s.Share, s.ByUse = use, true
	if !since.IsZero() && now.After(since) && use > now.Sub(since).Hours()/furthest.Hours() {
		s.Due = since.Add(time.Duration(float64(now.Sub(since)) / use))
	} else if use >= 1 {
		s.Due = now
	}
	return s
}

// Fallen is how much less a catalyst reaches than it did, K, by its highest temperature of
// each burn in their order: the median of the last third against that of the first. known
// is false of fewer than a dozen burns.
func Fallen(peaks []float64) (k float64, known bool) {
	const least = 12
	if len(peaks) < least {
		return 0, false
	}
	third := len(peaks) / 3
	return math.Max(0, median(peaks[:third])-median(peaks[len(peaks)-third:])), true
}

func median(xs []float64) float64 {
	sorted := slices.Clone(xs)
	slices.Sort(sorted)
	return sorted[len(sorted)/2]
}

// Charcoals are how much charcoal there was in the ash, as it is told, and the share of its
// volume that is taken for it.
var Charcoals = []struct {
	Says  string
	Share float64
}{{"hardly any charcoal", 0}, {"some charcoal", 0.25}, {"half of it charcoal", 0.5}, {"mostly charcoal", 0.75}}

// CharcoalOf is the share of charcoal that a note tells of.
func CharcoalOf(note string) float64 {
	for _, c := range Charcoals {
		if strings.HasPrefix(note, c.Says) {
			return c.Share
		}
	}
	return 0
}
