package say

import (
	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/lang"
)

// smokeWords are what is seen at the cap.
var smokeWords = map[string]lang.Message{
	burn.SmokeClear: "nothing but shimmer at the cap",
	burn.SmokeWhite: "white vapour at the cap",
	burn.SmokeGrey:  "blue-grey smoke at the cap",
	burn.SmokeRoom:  "smoke in the room",
	burn.SmokeGone:  "the smoke in the room is gone",
}

// An entryWords is how one kind of entry is said: in the log, and as a mark on
// the strip. A kind that has no mark stands in a lane, a pen or the fuel.
type entryWords struct {
	Word     lang.Message // what it is called on its button
	Sentence func(burn.Burn, burn.Entry, lang.Locale) string
	Sign     func(burn.Burn, burn.Entry) string // of its mark; nil: none
	Mark     func(burn.Burn, burn.Entry, lang.Locale) string
	Brief    func(burn.Burn, burn.Entry, lang.Locale) string // beside its sign; nil: as Mark
	Means    lang.Message                                    // what a sign says of the fire
}

// entries are the kinds of entry; a new kind is one row.
var entries = map[burn.Kind]entryWords{
	burn.Light: {Word: "lit", Sentence: always("Lit"), Sign: sign("light"), Mark: always("lit")},
	burn.Out:   {Word: "flames gone", Sentence: always("Flames gone, left alone"), Sign: sign("out"), Mark: always("out")},
	burn.Prime: {Word: "flue warmed", Sentence: always("Flue warmed with burning paper"), Sign: sign("prime"), Mark: always("flue warmed")},
	burn.Rake:  {Word: "coals raked", Sentence: always("Coals raked to the air"), Sign: sign("rake"), Mark: always("coals raked")},
	burn.Black: {Word: "black all over", Sentence: always("Every piece black all over"), Sign: sign("black"), Mark: always("black all over"),
		Brief: always("black")},
	burn.Jets: {Word: "jets alight", Sentence: always("Flames at the jets or tubes above the wood"), Sign: sign("jets"), Mark: always("jets alight"),
		Brief: always("jets")},
	burn.Whistle: {Word: "it whistles", Sentence: always("It whistles at the inlet"), Sign: sign("whistle"), Mark: always("it whistles")},
	burn.GasFlames: {Word: "flames float above the wood", Sentence: always("Flames float above the wood"), Sign: sign("gas-flames"), Mark: always("flames float"),
		Brief: always("gas flames"), Means: "its gas burns: it is clean"},
	burn.AtBaffle: {Word: "flames touch the baffle", Sentence: always("Flames touch the baffle"), Sign: sign("baffle"), Mark: always("flames at the baffle"),
		Brief: always("at the baffle"), Means: "much heat: look at the gauge"},
	burn.Draws:     {Word: "the inlet sucks", Sentence: always("The inlet sucks: one hears it"), Sign: sign("draws"), Mark: always("inlet sucks"), Means: "the flue draws"},
	burn.Ticks:     {Word: "the metal ticks", Sentence: always("The metal ticks"), Sign: sign("ticks"), Mark: always("metal ticks"), Means: "it warms or cools quickly"},
	burn.Hisses:    {Word: "the wood hisses", Sentence: always("The wood hisses and crackles"), Sign: sign("hisses"), Mark: always("wood hisses"), Means: "it is wet: leave the air open"},
	burn.GlassEdge: {Word: "the glass blackens", Sentence: always("The glass blackens from its edge"), Sign: sign("glass-edge"), Mark: always("glass blackens"), Means: "too little air, or wet wood"},
	burn.Note:      {Word: "note", Sentence: note, Sign: sign("note"), Mark: note},
	burn.Door: {Word: "door", Sentence: capital(doorSaid), Mark: doorSaid,
		Sign: func(_ burn.Burn, e burn.Entry) string { return DoorSign(e.Door) }},
	burn.Smoke: {Word: "smoke", Sentence: capital(smokeSaid), Mark: smokeSaid, Brief: smokeBrief,
		Sign: func(_ burn.Burn, e burn.Entry) string { return "smoke-" + e.Smoke }},
	burn.Draft:       {Word: "draft", Sentence: capital(draftSaid), Sign: sign("draft"), Mark: draftSaid},
	burn.Temperature: {Word: "temperature", Sentence: reading},
	burn.Control:     {Word: "air", Sentence: control, Sign: bypassSign, Mark: bypass},
	burn.Riddle:      {Word: "riddled", Sentence: always("Grate riddled"), Sign: sign("rake"), Mark: always("riddled")},
	burn.AshOut:      {Word: "ash out", Sentence: always("Ash taken out"), Sign: sign("note"), Mark: always("ash out")},
	burn.CO:          {Word: "CO", Sentence: capital(coSaid), Sign: sign("note"), Mark: coSaid},
	burn.Bed:         {Word: "bed", Sentence: capital(bedSaid), Sign: sign("note"), Mark: bedSaid},
	burn.Load:        {Word: "load", Sentence: load},
	burn.Mineral:     {Word: "mineral fuel", Sentence: mineral},
	burn.ToCoals:     {Word: "down to coals", Sentence: always("Down to coals"), Sign: sign("coals"), Mark: always("down to coals"), Brief: always("coals")},
	burn.WentOut:     {Word: "it went out", Sentence: always("It went out"), Sign: sign("out"), Mark: always("went out")},
	burn.WindowOpen:  {Word: "window open", Sentence: always("A window open a crack"), Sign: sign("window-open"), Mark: always("window open")},
	burn.WindowShut:  {Word: "window shut", Sentence: always("The window shut"), Sign: sign("window-shut"), Mark: always("window shut")},
	burn.NotYet:      {Word: "not yet", Sentence: notYet},
	burn.COAlarm:     {Word: "the CO alarm sounds", Sentence: always("The CO alarm sounds"), Sign: sign("alarm"), Mark: always("CO alarm")},
	burn.ChimneyFire: {Word: "chimney fire", Sentence: always("Chimney fire"), Sign: sign("alarm"), Mark: always("chimney fire")},
	burn.Glaze:       {Word: "glaze in the flue", Sentence: always("Shining tar in the flue"), Sign: sign("note"), Mark: always("glaze seen")},
}

// notYet is an answer: what was asked stands in it.
func notYet(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	if e.Note == "" {
		return loc.T("Not yet")
	}
	return e.Note
}

type sentence = func(burn.Burn, burn.Entry, lang.Locale) string

func always(words lang.Message) sentence {
	return func(_ burn.Burn, _ burn.Entry, loc lang.Locale) string { return loc.T(words) }
}

func capital(words sentence) sentence {
	return func(b burn.Burn, e burn.Entry, loc lang.Locale) string { return units.UpperFirst(words(b, e, loc)) }
}

func sign(name string) func(burn.Burn, burn.Entry) string {
	return func(burn.Burn, burn.Entry) string { return name }
}

func note(_ burn.Burn, e burn.Entry, loc lang.Locale) string      { return e.Note }
func doorSaid(_ burn.Burn, e burn.Entry, loc lang.Locale) string  { return Door(e.Door, loc) }
func smokeSaid(_ burn.Burn, e burn.Entry, loc lang.Locale) string { return loc.T(smokeWords[e.Smoke]) }

// smokeBrief is what is seen at the cap in a word.
func smokeBrief(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	words := map[string]lang.Message{burn.SmokeClear: "clear cap", burn.SmokeWhite: "white vapour", burn.SmokeGrey: "grey smoke", burn.SmokeRoom: "smoke in the room",
		burn.SmokeGone: "smoke gone"}
	return loc.T(words[e.Smoke])
}

func draftSaid(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	return loc.T("draft ") + loc.Draft(e.Draft)
}

func coSaid(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	return loc.F("CO display at %s ppm", loc.Number(e.PPM, 0))
}

func bedSaid(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	return loc.T("bed ") + loc.Size(e.Depth) + loc.T(" deep")
}

func reading(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	if e.Place == stove.RoomAir {
		return loc.T("Room ") + loc.RoomTemperature(e.Reading)
	}
	return units.UpperFirst(loc.T(Places.Short(e.Place))) + " " + loc.Temperature(e.Reading)
}

func control(b burn.Burn, e burn.Entry, loc lang.Locale) string {
	c, ok := b.Stove.Control(e.Control)
	if !ok {
		return ""
	}
	return c.Name + loc.T(" to ") + Mark(c.Scale, e.Opening, loc)
}

// bypass is the mark of a bypass; other controls have lanes.
func bypass(b burn.Burn, e burn.Entry, loc lang.Locale) string {
	c, _ := b.Stove.Control(e.Control)
	return loc.Mid(c.Name) + " " + Mark(c.Scale, e.Opening, loc)
}

func bypassSign(b burn.Burn, e burn.Entry) string {
	if c, ok := b.Stove.Control(e.Control); ok && c.Role == stove.BypassRole {
		return "bypass"
	}
	return ""
}

func load(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	l := e.Load
	switch {
	case l == nil:
		return ""
	case l.Kindling:
		return loc.F("Kindling: %s of %s", loc.Mass(l.Mass()), StackName(l.StackName, loc))
	}
	return loc.F("Load: %d × %s of %s, %s at %s, %s", l.Pieces, loc.Piece(l.PieceMass), StackName(l.StackName, loc), loc.Mass(l.Mass()),
		loc.Percent(l.Moisture, 0), Direction(l.Direction))
}

func mineral(_ burn.Burn, e burn.Entry, loc lang.Locale) string {
	if e.Load == nil {
		return ""
	}
	return loc.F("Mineral fuel: %s of %s, recorded", loc.Mass(e.Load.Mass()), e.Load.StackName)
}

// Entry puts an entry into words for the log, without a full stop.
func Entry(b burn.Burn, e burn.Entry, loc lang.Locale) string {
	if words, known := entries[e.Kind]; known {
		if text := words.Sentence(b, e, loc); text != "" {
			return text
		}
	}
	return string(e.Kind)
}

// EntryWord is what a kind of entry is called on its button.
func EntryWord(k burn.Kind, loc lang.Locale) string { return loc.T(entries[k].Word) }

// EntryMeans is what a sign says of the fire; empty for what is none.
func EntryMeans(k burn.Kind, loc lang.Locale) string {
	if entries[k].Means == "" {
		return ""
	}
	return loc.T(entries[k].Means)
}

// EntryWords are the words of all kinds, as a page's script lists what waits on a device:
// empty where the value that follows says what it is.
func EntryWords(loc lang.Locale) map[burn.Kind]string {
	out := map[burn.Kind]string{}
	for _, k := range burn.Kinds {
		out[k] = EntryWord(k, loc)
	}
	out[burn.Temperature], out[burn.Control], out[burn.NotYet] = "", "", ""
	return out
}

// EntryMark is the sign and the word of an entry's mark on the strip; both are
// empty where it has none.
func EntryMark(b burn.Burn, e burn.Entry, loc lang.Locale) (sign, word, brief string) {
	words := entries[e.Kind]
	if words.Sign == nil {
		return "", "", ""
	}
	if sign = words.Sign(b, e); sign == "" {
		return "", "", ""
	}
	word = words.Mark(b, e, loc)
	if brief = word; words.Brief != nil {
		brief = words.Brief(b, e, loc)
	}
	return sign, word, brief
}

// DoorSign is the sign of a door's mark.
func DoorSign(d fire.Door) string { return "door-" + string(doorWords[d]) }
