package hearth

import (
	"strconv"
	"strings"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// A kind is one kind of entry as its form has it: the key that opens it, how its
// fields are read, and how they are written to be corrected. Its words, its
// sentence and its sign are a row of say.
type kind struct {
	key   string // empty: a tap, or the key of its control
	read  func(x reading) error
	write func(u lang.Locale, b store.Burn, e burn.Entry, set func(field, value string))
}

// A reading is one form that is read into an entry. shown is the form as it was
// shown of the entry that is corrected, nil for a new one.
type reading struct {
	Room
	q     *kit.Request
	f     *kit.Form
	b     store.Burn
	e     *burn.Entry
	shown *kit.Form
}

// same tells whether a field was sent back as it was shown.
func (x reading) same(field string) bool {
	return x.shown != nil && x.f.Text(field) == x.shown.Text(field)
}

// kinds are the kinds of entry; a new one is a row here, one in say, and its sheet
// on the page.
var kinds = map[burn.Kind]kind{
	burn.Light:      {key: "i"},
	burn.Out:        {key: "o"},
	burn.Prime:      {key: "w"},
	burn.Rake:       {key: "k"},
	burn.Black:      {key: "a"},
	burn.Jets:       {key: "p"},
	burn.Whistle:    {key: "v"},
	burn.Riddle:     {key: "g"},
	burn.AshOut:     {key: "h"},
	burn.ToCoals:    {key: "j"},
	burn.WentOut:    {key: "x"},
	burn.WindowOpen: {}, burn.WindowShut: {},
	burn.NotYet:    {},
	burn.GasFlames: {}, burn.AtBaffle: {}, burn.Draws: {}, burn.Ticks: {}, burn.Hisses: {}, burn.GlassEdge: {},
	burn.COAlarm: {}, burn.ChimneyFire: {}, burn.Glaze: {},
	burn.CO: {key: "c", read: valued(readCO), write: func(_ lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) {
		set("value", units.Number(e.PPM, 0))
	}},
	burn.Bed: {key: "e", read: valued(readBed), write: func(u lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) {
		set("value", u.Size(e.Depth))
	}},
	burn.Control: {read: readControl, write: func(u lang.Locale, b store.Burn, e burn.Entry, set func(field, value string)) {
		if c, ok := b.Stove.Control(e.Control); ok {
			set("value", say.Mark(c.Scale, e.Opening, u))
		}
	}},
	burn.Temperature: {key: "t", read: valued(readTemperature), write: func(u lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) {
		set("value", u.RoomTemperature(e.Reading))
	}},
	burn.Draft: {key: "r", read: valued(readDraft), write: func(u lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) {
		set("value", u.Draft(e.Draft))
	}},
	burn.Door: {key: "d", read: valued(readDoor), write: func(_ lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) {
		set("value", doorValue(e.Door))
	}},
	burn.Smoke: {key: "s", read: valued(func(x reading) { x.e.Smoke = strings.ToLower(x.f.Text("value")) }),
		write: func(_ lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) { set("value", e.Smoke) }},
	burn.Note: {key: "n", read: func(x reading) error { x.e.Note = x.f.Text("note"); return nil },
		write: func(_ lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) { set("note", e.Note) }},
	burn.Load:    {key: "l", read: readLoad, write: writeLoad},
	burn.Mineral: {read: readLoad, write: writeLoad},
}

// valued is the reading of a kind whose one field is "value": what is sent back as
// it was shown stays what it was.
func valued(read func(x reading)) func(reading) error {
	return func(x reading) error {
		if !x.same("value") {
			x.e.Typed = x.f.Text("value")
			read(x)
		}
		return nil
	}
}

func readControl(x reading) error {
	if x.shown == nil {
		x.e.Control = x.f.Text("control")
	}
	c, ok := x.b.Stove.Control(x.e.Control)
	switch {
	case ok && !x.same("value"):
		x.e.Opening, x.e.Typed = kit.Parse(x.f, "value", say.ReadMark(c.Scale, x.q.Locale())), x.f.Text("value")
	case !ok && x.shown == nil:
		return kit.BadInput(x.q.T("This stove has no such control."))
	}
	return nil
}

func readTemperature(x reading) {
	if x.shown == nil {
		x.e.Place = stove.Place(x.f.Text("place"))
	}
	x.e.Reading = kit.Parse(x.f, "value", kit.In(units.ParseTemperature, x.q.Locale().System))
}

func readDraft(x reading) {
	x.e.Draft = kit.Parse(x.f, "value", kit.In(units.ParseDraft, x.q.Locale().System))
}

func readCO(x reading) {
	x.e.PPM = kit.Parse(x.f, "value", func(t string) (float64, error) {
		return units.ParseNumber(strings.TrimSpace(strings.TrimSuffix(strings.ToLower(t), "ppm")), x.q.T("reading of the CO display"), 0, 5000)
	})
}

func readBed(x reading) {
	x.e.Depth = kit.Parse(x.f, "value", kit.In(units.ParseSmallLength, x.q.Locale().System))
}

// doors are the words of the door.
var doors = map[string]fire.Door{"shut": fire.Shut, "ajar": fire.Ajar, "open": fire.Open}

func readDoor(x reading) {
	door, ok := doors[strings.ToLower(x.f.Text("value"))]
	if !ok {
		x.f.Wrong("value", x.q.T("the door is shut, ajar or open"))
	}
	x.e.Door = door
}

func writeLoad(u lang.Locale, _ store.Burn, e burn.Entry, set func(field, value string)) {
	set("pieces", strconv.Itoa(e.Load.Pieces))
	set("mass", u.Mass(e.Load.Mass()))
}

// readLoad reads what is put on: from a stack, or, where a load is corrected, how
// much it was.
func readLoad(x reading) error {
	if x.shown != nil {
		l := *x.e.Load
		l.Pieces = kit.Parse(x.f, "pieces", units.ParsePieces)
		if m := kit.Kept(x.f, x.shown, "mass", x.e.Load.Mass(), kit.In(units.ParseMass, x.q.Locale().System)); l.Pieces > 0 && !x.same("mass") {
			l.PieceMass = m / units.Kilogram(l.Pieces)
		}
		x.e.Load = &l
		return nil
	}
	l, err := x.newLoad(x.q, x.f, x.b)
	if err == nil && l != nil {
		if x.e.Load = l; l.Species.Mineral {
			x.e.Kind = burn.Mineral
		}
	}
	return err
}
