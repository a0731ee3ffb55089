package kit

import (
	"context"
	"errors"
	"maps"
	"net/http"
	"net/url"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"smolder/internal/core/reason"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Form is what was typed, and what is wrong with it, field by field. What
// was typed always stays.
type Form struct {
	Values url.Values
	Errors map[string]string
	Taken  map[string]string // what is taken for a field that stays empty
	order  []string
	loc    lang.Locale
}

type heldKey struct{}

// WithHeld marks a request whose form was sent before its person had signed in.
func WithHeld(ctx context.Context) context.Context { return context.WithValue(ctx, heldKey{}, true) }

func isHeld(ctx context.Context) bool { held, _ := ctx.Value(heldKey{}).(bool); return held }

// mostFields is how many fields a form may have: the largest here has some
// eighty.
const mostFields = 400

// Form returns the request's form. Files come by their own way ([request.file]).
func (q *Request) Form() (*Form, error) {
	if strings.HasPrefix(q.ContentType(), "multipart/") {
		return nil, &InputError{http.StatusUnsupportedMediaType, q.T("This page takes no files; they are read in under Burns.")}
	}
	if err := q.Request.ParseForm(); err != nil {
		if tooLarge := new(http.MaxBytesError); errors.As(err, &tooLarge) {
			return nil, err
		}
		return nil, BadInput(q.T("The form could not be read; go back and send it again."))
	}
	f := &Form{Values: q.Request.Form, Errors: map[string]string{}, loc: q.Locale()}
	if len(f.Values) > mostFields {
		return nil, BadInput(q.T("That is more fields than any form here has."))
	}
	for name, values := range f.Values {
		for i, v := range values {
			if text := asSent.Replace(v); !units.Printable(text, true) {
				f.Values[name][i] = printable(text)
				f.Wrong(name, q.T("there were signs in it that cannot be shown; they are left out here: look it over and send it again"))
			} else {
				f.Values[name][i] = text
			}
		}
	}
	if isHeld(q.Ctx()) {
		f.Wrong("held", q.T("you had been signed out, so nothing has been kept or done yet: look it over and send it now"))
	}
	return f, nil
}

// asSent turns what browsers send into what is kept: line ends, and the signs with which a page
// keeps figures together, where somebody has copied them out of it.
var asSent = strings.NewReplacer("\r\n", "\n", joiner, "")

// printable leaves out what cannot be kept.
func printable(text string) string {
	return strings.Map(func(r rune) rune {
		if r == utf8.RuneError || !units.Printable(string(r), true) {
			return -1
		}
		return r
	}, text)
}

// Filled returns a form with values already in it.
func Filled(pairs ...string) *Form {
	f := &Form{Values: url.Values{}, Errors: map[string]string{}}
	for i := 0; i+1 < len(pairs); i += 2 {
		f.Values.Set(pairs[i], pairs[i+1])
	}
	return f
}

// Part is a form of some of its fields under other names.
func (f *Form) Part(values url.Values) *Form {
	return &Form{Values: values, Errors: map[string]string{}, loc: f.loc}
}

// Units are those of the household that sent it.
func (f *Form) Locale() lang.Locale { return f.loc }

// Text returns a field without blanks around it.
func (f *Form) Text(name string) string { return strings.TrimSpace(f.Values.Get(name)) }

func (f *Form) Has(name string) bool { return f.Text(name) != "" }

// Wrong notes what is wrong with a field; the first stays.
func (f *Form) Wrong(name, text string) {
	if _, there := f.Errors[name]; !there {
		f.Errors[name] = say.Sentence(text)
		f.order = append(f.order, name)
	}
}

// Fails notes an error of the core: under the field that it names, in the
// household's units, else under the given one.
func (f *Form) Fails(name string, err error) {
	var because reason.Reason
	if errors.As(err, &because) && because.Field != "" && name == "" {
		name = because.Field
	}
	f.Wrong(name, say.Error(err, f.loc))
}

// FailsAll notes every error of a joined one under its own field, which rename
// turns into the form's name for it.
func (f *Form) FailsAll(err error, rename func(string) string) {
	if err == nil {
		return
	}
	if joined, ok := err.(interface{ Unwrap() []error }); ok { //nolint:errorlint // the list itself is wanted
		for _, e := range joined.Unwrap() {
			f.FailsAll(e, rename)
		}
		return
	}
	var because reason.Reason
	errors.As(err, &because)
	f.Wrong(rename(because.Field), say.Error(err, f.loc))
}

func (f *Form) Ok() bool { return len(f.Errors) == 0 }

// First is the first thing wrong, for a summary at the top.
func (f *Form) First() string {
	if len(f.order) == 0 {
		return ""
	}
	return f.Errors[f.order[0]]
}

// Held says that the form was sent before its person had signed in.
func (f *Form) Held() string { return f.Errors["held"] }

// Parse reads a field with a parser of the core and notes its error.
func Parse[T any](f *Form, name string, read func(string) (T, error)) T {
	v, err := read(f.Text(name))
	if err != nil {
		f.Fails(name, err)
	}
	return v
}

// Optional is parse for a field that may stay empty.
func Optional[T any](f *Form, name string, read func(string) (T, error)) (T, bool) {
	var zero T
	if !f.Has(name) {
		return zero, false
	}
	return Parse(f, name, read), true
}

// Kept is parse for a field of something that is there already: what is sent
// back as it was shown is what it was, to the last digit, and not what its
// rounded words would be read as.
func Kept[T any](f, shown *Form, name string, was T, read func(string) (T, error)) T {
	if shown != nil && f.Text(name) == shown.Text(name) && shown.Has(name) {
		return was
	}
	return Parse(f, name, read)
}

// KeptOptional is kept for a field that may be empty.
func KeptOptional[T any](f, shown *Form, name string, was T, read func(string) (T, error)) T {
	var none T
	if !f.Has(name) {
		return none
	}
	return Kept(f, shown, name, was, read)
}

// In binds a parser to the household's units.
func In[T any](read func(string, units.System) (T, error), s units.System) func(string) (T, error) {
	return func(typed string) (T, error) { return read(typed, s) }
}

// Number reads a field as an id.
func (f *Form) Number(name string) int64 {
	n, _ := strconv.ParseInt(f.Text(name), 10, 64)
	return n
}

// Name reads a name of up to 60 letters.
func (f *Form) Name(field, what string) string {
	s := strings.Join(strings.Fields(f.Text(field)), " ")
	if r, good := reason.Name(field, s, what); !good {
		f.Fails(field, r)
	}
	return s
}

// Version is the one of what the form shows, as it was when it was opened.
func (f *Form) Version() int {
	n, _ := strconv.Atoi(f.Text("version"))
	return n
}

// picks are the fields of times and days, and which of the browser's controls fills
// each; words are understood in all of them.
var picks = map[string]string{"begin": "datetime-local", "for": "time", "when": "time", "alarms": "date"}

// Wrongs tells whether any of these fields is wrong: what they are folded away in
// stands open then.
func (f *Form) Wrongs(names ...string) bool {
	for _, name := range names {
		for wrong := range f.Errors {
			if wrong == name || strings.HasPrefix(wrong, name) && strings.HasSuffix(name, "-") {
				return true
			}
		}
	}
	return false
}

// Unfolds tells whether what is folded away under a form stands open when the form comes back: it
// was open, or something in it is wrong. asked are the fields that are never folded; one that ends
// with "-" stands for all that begin so.
func (f *Form) Unfolds(asked ...string) bool {
	if f.Has("opened") {
		return true
	}
	rest := Form{Errors: maps.Clone(f.Errors)}
	maps.DeleteFunc(rest.Errors, func(name, _ string) bool {
		one := Form{Errors: map[string]string{name: ""}}
		return name == "" || one.Wrongs(asked...)
	})
	return !rest.Ok()
}

// reads are the fields that say, while somebody types, what they understand.
var reads = map[string]string{"begin": "begin", "for": "until", "there": "there", "room": "felt", "outdoor": "outdoors", "low": "room", "high": "room"}

// A field is one input for the template.
type field struct {
	Name, Label, Value, Error, Hint, Kind string
	Pick                                  string // the browser's control that can fill it: "time", "date", "datetime-local"
	Read                                  string // what it is read as, of words that may be said in many ways
	Unknown                               bool   // it may stay empty, and a value is taken for it
	Taken                                 string // which, and what knowing it would change
	Other                                 string // what somebody else has made of it meanwhile
}

func newField(f *Form, name, label, kind, hint string) field {
	out := field{Name: name, Label: label, Hint: hint, Kind: kind, Pick: picks[name], Read: reads[name]}
	if f != nil {
		out.Value, out.Error = f.Values.Get(name), f.Errors[name]
		out.Other = f.Values.Get(otherPrefix + name)
		out.Taken, out.Unknown = f.Taken[name]
	}
	return out
}

// otherPrefix marks, in a form's values, what stands in the database now where
// that differs from what was typed.
const otherPrefix = "other version of "

// Conflict puts what somebody else has made of it beside what was typed, field
// by field, and lets the next sending go on from there.
func (f *Form) Conflict(now *Form, version int) {
	for name, values := range now.Values {
		if text := values[0]; text != f.Values.Get(name) {
			if text == "" {
				text = f.loc.T("nothing")
			}
			f.Values.Set(otherPrefix+name, text)
		}
	}
	f.Values.Set("version", strconv.Itoa(version))
	f.Wrong("version", f.loc.T("somebody else has changed this since you opened it, and nothing of yours is kept yet: what stands there now is shown beside what you typed; send it again to keep yours"))
}

// An Option is one entry of a choice.
type Option struct {
	Value, Label string
	Chosen       bool
}

// choiceField is a field with options.
type choiceField struct {
	field
	Options []Option
}

func newChoice(f *Form, name, label string, options []Option) choiceField {
	c := choiceField{field: newField(f, name, label, "", "")}
	for _, o := range options {
		o.Chosen = o.Value == c.Value
		if o.Value == c.Other && c.Other != "" {
			c.Other = o.Label
		}
		c.Options = append(c.Options, o)
	}
	return c
}

// readers are the kinds of quantity that a field can say it understood.
var readers = map[string]func(string, lang.Locale) (string, error){
	"temperature": said(units.ParseTemperature, lang.Locale.Temperature),
	"room":        said(units.ParseTemperature, lang.Locale.RoomTemperature),
	"mass":        said(units.ParseMass, lang.Locale.Piece),
	"length":      said(units.ParseLength, lang.Locale.Length),
	"size":        said(units.ParseSmallLength, lang.Locale.Size),
	"volume":      said(units.ParseVolume, lang.Locale.Volume),
	"firebox": said(units.ParseFirebox, func(loc lang.Locale, b units.Firebox) string {
		if b.Sides[0] == 0 {
			return loc.Volume(b.Volume)
		}
		return loc.F("%s: %s wide, %s deep, %s high", loc.Volume(b.Volume), loc.Size(b.Sides[0]), loc.Size(b.Sides[1]), loc.Size(b.Sides[2]))
	}),
	"heatloss": said(units.ParseHeatLoss, lang.Locale.HeatLoss),
	"rooms":    said(units.ParseRoomVolume, lang.Locale.Air),
	"area":     said(units.ParseArea, lang.Locale.Area),
	"wind":     said(units.ParseWind, lang.Locale.Speed),
	"flow":     said(units.ParseFlow, lang.Locale.Flow),
	"draft":    said(units.ParseDraft, lang.Locale.Draft),
	"power":    said(units.ParsePower, lang.Locale.Power),
	"moisture": func(t string, loc lang.Locale) (string, error) {
		v, err := units.ParseMoisture(t)
		return loc.F("%s on dry basis", loc.Percent(v, 0)), err
	},
	"span": func(t string, loc lang.Locale) (string, error) {
		v, err := when.ParseDuration(t)
		return loc.Duration(v), err
	},
	"pieces": func(t string, loc lang.Locale) (string, error) {
		v, err := units.ParsePieces(t)
		return PieceWord(v, loc), err
	},
}

func said[T any](read func(string, units.System) (T, error), print func(lang.Locale, T) string) func(string, lang.Locale) (string, error) {
	return func(typed string, loc lang.Locale) (string, error) {
		v, err := read(typed, loc.System)
		if err != nil {
			return "", err
		}
		return print(loc, v), nil
	}
}

// A Choice is one entry of a list that is the same for everybody.
type Choice struct {
	Value string
	Label lang.Message
}

// Said are choices in somebody's language.
func Said(choices []Choice, loc lang.Locale) []Option {
	out := make([]Option, len(choices))
	for i, c := range choices {
		out[i] = Option{Value: c.Value, Label: loc.T(c.Label)}
	}
	return out
}

// PieceWord counts pieces.
func PieceWord(n int, loc lang.Locale) string { return loc.N(n, "%d piece", "%d pieces") }

// spokenReaders are the kinds that are read by what stands beside them: when it begins, and which
// band of the room is wanted.
var spokenReaders = map[string]func(q *Request, typed string) (string, error){
	"begin": func(q *Request, typed string) (string, error) {
		at, err := when.ParseBegin(typed, q.Now())
		return q.DayWord(at), err
	},
	"until": func(q *Request, typed string) (string, error) {
		begin := q.begins()
		span, err := when.ParseUntil(typed, begin)
		return q.F("%s, until %s", q.Locale().Duration(span), begin.Add(span).Format("15:04")), err
	},
	"there": func(q *Request, typed string) (string, error) {
		begin := q.begins()
		there, err := when.ParsePresence(typed, begin)
		return presenceSays(there, begin, q.Locale()), err
	},
	"felt": func(q *Request, typed string) (string, error) {
		low, high := q.band()
		t, err := RoomBetween(low, high, q.Locale())(typed)
		return q.Locale().RoomTemperature(t), err
	},
	"outdoors": func(q *Request, typed string) (string, error) {
		if q.IsForecast(typed) {
			return q.T("hour by hour, from the forecast"), nil
		}
		t, err := units.ParseTemperature(typed, q.Locale().System)
		return q.Locale().Temperature(t), err
	},
}

// begins is when it begins by what stands beside a field; now where that says nothing.
func (q *Request) begins() time.Time {
	if begin, err := when.ParseBegin(q.Query("begin"), q.Now()); err == nil {
		return begin
	}
	return q.Now()
}

// usualBand is the room's band where none is told.
var usualBand = [2]units.Celsius{19, 21.5}

// band is the room's band by what stands beside a field.
func (q *Request) band() (low, high units.Celsius) {
	band := usualBand
	for i, name := range []string{"low", "high"} {
		if t, err := ParseRoom(q.Query(name), q.Locale().System); err == nil {
			band[i] = t
		}
	}
	return band[0], band[1]
}

// mostSpansSaid is how many spans are said of when somebody is there: they come back every day.
const mostSpansSaid = 3

// presenceSays says when somebody is there.
func presenceSays(p when.Presence, begin time.Time, loc lang.Locale) string {
	if p == nil {
		return loc.T("all the time")
	}
	var out []string
	for _, s := range p[:min(mostSpansSaid, len(p))] {
		from, to := begin.Add(s.From).Format("15:04"), begin.Add(s.To).Format("15:04")
		switch {
		case s.To >= when.FarAhead:
			out = append(out, loc.F("from %s on", from))
		case s.From == 0:
			out = append(out, loc.F("until %s", to))
		default:
			out = append(out, loc.F("%s to %s", from, to))
		}
	}
	return strings.Join(out, ", ")
}

// understand answers a script that asks what a field would be read as.
func (q *Request) understood(kind, typed string) (string, error) {
	if read, spoken := spokenReaders[kind]; spoken {
		text, err := read(q, typed)
		if err != nil {
			return "", BadInput(say.Sentence(say.Error(err, q.Locale())))
		}
		return text, nil
	}
	read, ok := readers[kind]
	if !ok {
		return "", BadInput(q.T("That kind of quantity is not known."))
	}
	text, err := read(typed, q.Locale())
	if err != nil {
		return "", BadInput(say.Sentence(say.Error(err, q.Locale())))
	}
	return text, nil
}

func (s *Site) Understand(q *Request) error {
	text, err := q.understood(q.Query("kind"), q.Query("typed"))
	if err != nil {
		return err
	}
	q.JSON(http.StatusOK, map[string]string{"understood": text})
	return nil
}
