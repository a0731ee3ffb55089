package burn

import (
	"errors"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"smolder/internal/core/fire"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// ErrEntry is the cause of every refused entry.
var ErrEntry = errors.New("this entry cannot be kept")

// Why an entry, a load or the start of a burn cannot be kept, with the
// quantities of each.
const (
	BadID        reason.Code = "entry/id"              //
	Ahead        reason.Code = "entry/ahead"           //
	BeforeStart  reason.Code = "entry/before-start"    //
	TooLate      reason.Code = "entry/too-late"        // the longest burn
	AfterEnd     reason.Code = "entry/after-end"       //
	BadTyped     reason.Code = "entry/typed"           //
	BadHand      reason.Code = "entry/by"              //
	EmptyNote    reason.Code = "entry/note-empty"      //
	LongNote     reason.Code = "entry/note-long"       // most letters
	BadNote      reason.Code = "entry/note-signs"      //
	NoControl    reason.Code = "entry/no-control"      // key
	BadOpening   reason.Code = "entry/opening"         //
	NoPlace      reason.Code = "entry/no-place"        //
	ReadingRange reason.Code = "entry/reading"         // least, most
	DraftRange   reason.Code = "entry/draft"           // least, most
	BadDoor      reason.Code = "entry/door"            //
	BadSmoke     reason.Code = "entry/smoke"           //
	UnknownKind  reason.Code = "entry/kind"            // what was given
	ManyEntries  reason.Code = "entry/many"            // most
	ManyToMend   reason.Code = "entry/many-to-correct" // most

	LoadPieces    reason.Code = "load/pieces"    // most
	LoadWood      reason.Code = "load/wood"      //
	LoadWoodName  reason.Code = "load/wood-name" //
	LoadMixed     reason.Code = "load/mixed"     //
	LoadMoisture  reason.Code = "load/moisture"  // least, most
	LoadMoisture0 reason.Code = "load/moisture0" //
	LoadLength    reason.Code = "load/length"    // least, most
	LoadLay       reason.Code = "load/lay"       // what was given
	LoadDirection reason.Code = "load/direction" //
	LoadStarter   reason.Code = "load/starter"   //
	LoadHeat      reason.Code = "load/heat"      //
	BedRange      reason.Code = "bed/range"      // most
	PPMRange      reason.Code = "co/range"       //
	LoadColder    reason.Code = "load/colder"    // most
	LoadMineral   reason.Code = "load/mineral"   // mass, firebox
	LoadNoRoom    reason.Code = "load/no-room"   // mass, firebox, most

	NoStart      reason.Code = "burn/no-start"     //
	StartAhead   reason.Code = "burn/start-ahead"  //
	EndFirst     reason.Code = "burn/end-first"    //
	EndAhead     reason.Code = "burn/end-ahead"    //
	TooLong      reason.Code = "burn/too-long"     // the longest
	OutdoorRange reason.Code = "burn/outdoor"      // least, most
	RoomRange    reason.Code = "burn/room"         // least, most
	WarmthRange  reason.Code = "burn/warmth"       //
	CoalsRange   reason.Code = "burn/coals"        //
	WantedRange  reason.Code = "burn/wanted"       //
	WindRange    reason.Code = "burn/wind"         //
	BadWeather   reason.Code = "burn/weather"      //
	EndsAhead    reason.Code = "burn/ends-ahead"   //
	EndsEarly    reason.Code = "burn/ends-early"   //
	LoggedAfter  reason.Code = "burn/logged-after" // how long after
)

// What a burn and its entries may be. Ranges of gauges are those of thermometers
// for stoves; those of weather and rooms are beyond any that people heat in.
const (
	// Longest is how long one burn may go on.
	// Two days and nights: whoever keeps a fire longer begins a new log. It bounds what a
	// replay costs.
	Longest = 48 * time.Hour
	// MostPieces is how many pieces one load may have.
	MostPieces = 200

	// Slack for clocks and hands: two devices never show the same minute, and the match is
	// logged before the burn is begun as often as after.
	clockSlack = 2 * time.Minute // that a device's clock may be ahead of this one
	beforehand = time.Minute     // that an entry may lie before the start
	overtime   = time.Hour       // that a burn from a file may be longer
	mostNote   = 2000            // letters
	longestID  = 64
	mostTyped  = 200 // bytes
	mostPoints = 400 // hours of weather
	firstYear  = 1990

	// What any thermometer, barometer or scale at a stove could show. Beyond it lies a slip
	// of the hand, such as a Fahrenheit reading typed as Celsius twice over.
	leastReading, mostReading   units.Celsius  = -60, 1300
	leastDraft, mostDraft       units.Pascal   = -100, 500
	leastOutdoor, mostOutdoor   units.Celsius  = -60, 60
	leastRoom, mostRoom         units.Celsius  = -30, 60
	mostWarmth                  units.Celsius  = 600
	mostCoals                   units.Kilogram = 20
	mostWind                                   = 60     // m/s
	mostBeside                  units.Watt     = 60_000 //
	leastLength, mostLength     units.Metre    = 0.03, 1.5
	leastMoisture, mostMoisture units.Fraction = 0.03, 1.5
	mostHeat                    units.Joule    = 2e7
	mostBed                     units.Metre    = 0.6
	mostPPM                                    = 5000 // carbon monoxide; displays end at 999
	mineralPerLitre                            = 0.6  // kg
	woodPerLitre                               = 0.45 // kg: a firebox filled to the top with dense wood; 0.3 to 0.5
)

func refuse(field string, code reason.Code, values ...reason.Quantity) error {
	return reason.Of(field, code, values...).For(ErrEntry)
}

// unless refuses where something does not hold.
func unless(holds bool, field string, code reason.Code, values ...reason.Quantity) error {
	if holds {
		return nil
	}
	return refuse(field, code, values...)
}

// Check refuses an entry that does not go with this burn, at the given time of
// keeping it: a [reason.Reason] with the field it is about and [ErrEntry] as its
// cause. Nothing may lie in the future or before the burn.
func (b Burn) Check(e Entry, now time.Time) error {
	switch {
	case !goodID(e.ID):
		return refuse("id", BadID)
	case e.At.After(now.Add(clockSlack)):
		return refuse("when", Ahead)
	case e.At.Before(b.Started.Add(-beforehand)):
		return refuse("when", BeforeStart)
	case e.At.After(b.Started.Add(Longest)):
		return refuse("when", TooLate, reason.Duration(Longest))
	case !b.Ended.IsZero() && e.At.After(b.Ended):
		return refuse("when", AfterEnd)
	case len(e.Typed) > mostTyped || !units.Printable(e.Typed, true):
		return refuse("value", BadTyped)
	case !goodHand(e.By):
		return refuse("by", BadHand)
	}
	if e.Kind.Plain() {
		if e.Note != "" { // what was asked
			return checkNote(e.Note)
		}
		return nil
	}
	switch e.Kind {
	case Note:
		return checkNote(e.Note)
	case Load, Mineral:
		return b.checkLoad(e)
	}
	return b.checkValue(e)
}

// goodHand tells whether a name is one that somebody, or a program, may have; empty is nobody.
func goodHand(name string) bool { return name == "" || units.FaultOfName(name) == units.GoodName }

// goodID tells whether an id is one that a browser makes: it stands in addresses, so it
// has letters, digits and dashes only.
func goodID(id string) bool {
	return id != "" && len(id) <= longestID && !strings.ContainsFunc(id, func(r rune) bool {
		return !(r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || r >= '0' && r <= '9' || r == '-' || r == '_')
	})
}

// checkNote refuses a note that is empty, longer than a page, or holds signs that cannot
// be shown.
func checkNote(note string) error {
	switch {
	case strings.TrimSpace(note) == "":
		return refuse("note", EmptyNote)
	case utf8.RuneCountInString(note) > mostNote:
		return refuse("note", LongNote, reason.Count(mostNote))
	case !units.Printable(strings.ReplaceAll(note, "\r\n", "\n"), true):
		return refuse("note", BadNote)
	}
	return nil
}

// checkValue refuses an entry of one value that makes no sense.
func (b Burn) checkValue(e Entry) error {
	check, known := valueChecks[e.Kind]
	if !known {
		return refuse("kind", UnknownKind, reason.Text(string(e.Kind)))
	}
	return check(b, e)
}

// valueChecks are those of each kind. Ranges are asked for so that what is no number is refused
// as well.
var valueChecks = map[Kind]func(b Burn, e Entry) error{
	Control: func(b Burn, e Entry) error {
		if _, ok := b.Stove.Control(e.Control); !ok {
			return refuse("value", NoControl, reason.Text(e.Control))
		}
		return unless(e.Opening >= 0 && e.Opening <= 1, "value", BadOpening)
	},
	Temperature: func(_ Burn, e Entry) error {
		if !e.Place.Known() {
			return refuse("place", NoPlace)
		}
		return unless(e.Reading >= leastReading && e.Reading <= mostReading, "value", ReadingRange,
			reason.Temperature(leastReading), reason.Temperature(mostReading))
	},
	Draft: func(_ Burn, e Entry) error {
		return unless(e.Draft >= leastDraft && e.Draft <= mostDraft, "value", DraftRange, reason.Draft(leastDraft), reason.Draft(mostDraft))
	},
	CO: func(_ Burn, e Entry) error { return unless(e.PPM >= 0 && e.PPM <= mostPPM, "value", PPMRange) },
	Bed: func(_ Burn, e Entry) error {
		return unless(e.Depth > 0 && e.Depth <= mostBed, "value", BedRange, reason.Size(mostBed))
	},
	Door: func(_ Burn, e Entry) error {
		return unless(e.Door >= fire.Shut && e.Door <= fire.Open, "value", BadDoor)
	},
	Smoke: func(_ Burn, e Entry) error {
		return unless(slices.Contains(SmokeSigns, e.Smoke), "value", BadSmoke)
	},
}

// checkLoad refuses a load that is none, and one that this stove does not take.
func (b Burn) checkLoad(e Entry) error {
	l := e.Load
	if l == nil || l.Pieces < 1 || l.Pieces > MostPieces || !(l.PieceMass > 0) {
		return refuse("pieces", LoadPieces, reason.Count(MostPieces))
	}
	if err := checkWood(*l, e.Kind); err != nil {
		return err
	}
	switch {
	case !(l.PieceLength >= leastLength && l.PieceLength <= mostLength):
		return refuse("stack", LoadLength, reason.Size(leastLength), reason.Size(mostLength))
	case l.Lay != "" && !l.Lay.Known():
		return refuse("lay", LoadLay, reason.Text(string(l.Lay)))
	case l.Direction != stove.EndOn && l.Direction != stove.Sideways:
		return refuse("direction", LoadDirection)
	case l.StarterKind != "" && !l.StarterKind.Known():
		return refuse("starter", LoadStarter)
	case !(l.Starter >= 0 && l.Starter <= mostHeat):
		return refuse("starter", LoadHeat)
	}
	if l.StackName != "" {
		if r, good := reason.Name("stack", l.StackName, "stack-name"); !good {
			return r.For(ErrEntry)
		}
	}
	// Mineral fuel is not simulated, so nothing is known of what the manual would say of
	// its mass: only what could not lie in the firebox is refused.
	if e.Kind == Mineral {
		if float64(l.Mass()) > mineralPerLitre*float64(b.Stove.Volume) {
			return refuse("pieces", LoadMineral, reason.Mass(l.Mass()), reason.Volume(b.Stove.Volume))
		}
		return nil
	}
	// What was put on is burning, whatever the manual says: it is kept, and answered as a
	// danger ([Overload]). Only what could not lie in the firebox is a slip of the hand.
	if float64(l.Mass()) > woodPerLitre*float64(b.Stove.Volume) {
		return refuse("pieces", LoadNoRoom, reason.Mass(l.Mass()), reason.Volume(b.Stove.Volume),
			reason.Mass(units.Kilogram(woodPerLitre*float64(b.Stove.Volume))))
	}
	return nil
}

// checkWood refuses wood that makes no sense, or is not of the entry's kind.
func checkWood(l fire.Load, kind Kind) error {
	const mostColder = 60 // K
	const leastGravity, mostGravity, leastGross, mostGross, longestKey = 0.2, 1.4, 10, 30, 80
	// Kinds of wood come with files too, and need not be on our list.
	sp := l.Species
	switch {
	case !(sp.Gravity >= leastGravity && sp.Gravity <= mostGravity && sp.Gross >= leastGross && sp.Gross <= mostGross):
		return refuse("stack", LoadWood)
	case len(sp.Key) > longestKey || units.FaultOfName(sp.Name) != units.GoodName || !units.Printable(sp.Key, false):
		return refuse("stack", LoadWoodName)
	case sp.Mineral != (kind == Mineral):
		return refuse("stack", LoadMixed)
	case !(l.Colder >= 0 && l.Colder <= mostColder):
		return refuse("stack", LoadColder, reason.Degrees(mostColder))
	// Wood drier than 3 % does not lie in any room; the simulator would burn it like
	// nothing that anybody has seen.
	case !(l.Moisture >= leastMoisture && l.Moisture <= mostMoisture) && kind == Load:
		return refuse("stack", LoadMoisture, reason.Share(leastMoisture), reason.Share(mostMoisture))
	case !(l.Moisture >= 0 && l.Moisture <= mostMoisture), !(l.Spread >= 0 && l.Spread <= 1):
		return refuse("stack", LoadMoisture0)
	}
	return nil
}

// CheckStart refuses a burn that cannot have begun like this, at the given time
// of keeping it; the error is a [reason.Reason].
func (b Burn) CheckStart(now time.Time) error {
	switch {
	case b.Started.IsZero() || b.Started.Year() < firstYear:
		return refuse("started", NoStart)
	case b.Started.After(now.Add(clockSlack)):
		return refuse("started", StartAhead)
	case !goodHand(b.LitBy) || !goodHand(b.EndedBy):
		return refuse("lit_by", BadHand)
	case !b.Ended.IsZero() && !b.Ended.After(b.Started):
		return refuse("ended", EndFirst)
	case b.Ended.After(now.Add(clockSlack)):
		return refuse("ended", EndAhead)
	case !b.Ended.IsZero() && b.Ended.Sub(b.Started) > Longest+overtime:
		return refuse("ended", TooLong, reason.Duration(Longest))
	case !(b.Outdoor >= leastOutdoor && b.Outdoor <= mostOutdoor):
		return refuse("outdoor", OutdoorRange, reason.Temperature(leastOutdoor), reason.Temperature(mostOutdoor))
	case !(b.Room >= leastRoom && b.Room <= mostRoom):
		return refuse("room", RoomRange, reason.Temperature(leastRoom), reason.Temperature(mostRoom))
	case !(b.Warmth >= leastOutdoor && b.Warmth <= mostWarmth):
		return refuse("start", WarmthRange)
	case !(b.Coals >= 0 && b.Coals <= mostCoals):
		return refuse("start", CoalsRange)
	case !(b.Wanted[0] >= float64(leastRoom) && b.Wanted[1] <= float64(mostRoom) && b.Wanted[0] <= b.Wanted[1]):
		return refuse("wanted", WantedRange)
	case !(b.Wind >= 0 && b.Wind <= mostWind):
		return refuse("wind", WindRange)
	case !weatherMakesSense(b.Weather) || !besideMakesSense(b.Beside):
		return refuse("weather", BadWeather)
	}
	return nil
}

// weatherMakesSense tells whether points of weather are in order, bounded and possible.
func weatherMakesSense(points []fire.Weather) bool {
	for i, w := range points {
		if !(w.Outdoor >= leastOutdoor && w.Outdoor <= mostOutdoor && w.Wind >= 0 && w.Wind <= mostWind) ||
			w.At < 0 || w.At > 2*Longest || i > 0 && w.At <= points[i-1].At {
			return false
		}
	}
	return len(points) <= mostPoints
}

// besideMakesSense tells that of the heat of another stove. It may have begun before this
// burn did.
func besideMakesSense(points []fire.Beside) bool {
	for i, p := range points {
		if !(p.Heat >= 0 && p.Heat <= mostBeside) || p.At < -Longest || p.At > 2*Longest || i > 0 && p.At <= points[i-1].At {
			return false
		}
	}
	return len(points) <= mostPoints
}
