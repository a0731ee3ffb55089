package web

import (
	"errors"
	"net/http"
	"net/url"
	"strconv"
	"strings"

	"smolder/internal/core/units"
)

// A form is what was typed, and what is wrong with it, field by field. What
// was typed always stays.
type form struct {
	Values url.Values
	Errors map[string]string
	order  []string
}

// read returns the request's form.
func (q *request) form() (*form, error) {
	var err error
	if strings.HasPrefix(q.ContentType(), "multipart/") {
		err = q.Request.ParseMultipartForm(2 << 20)
	} else {
		err = q.Request.ParseForm()
	}
	if err != nil {
		if tooLarge := new(http.MaxBytesError); errors.As(err, &tooLarge) {
			return nil, err
		}
		return nil, badInput("The form could not be read; go back and send it again.")
	}
	return &form{Values: q.Request.Form, Errors: map[string]string{}}, nil
}

// filled returns a form with values already in it.
func filled(pairs ...string) *form {
	f := &form{Values: url.Values{}, Errors: map[string]string{}}
	for i := 0; i+1 < len(pairs); i += 2 {
		f.Values.Set(pairs[i], pairs[i+1])
	}
	return f
}

// text returns a field without blanks around it.
func (f *form) text(name string) string { return strings.TrimSpace(f.Values.Get(name)) }

func (f *form) has(name string) bool { return f.text(name) != "" }

// wrong notes what is wrong with a field; the first stays.
func (f *form) wrong(name, text string) {
	if _, there := f.Errors[name]; !there {
		f.Errors[name] = sentence(text)
		f.order = append(f.order, name)
	}
}

func (f *form) ok() bool { return len(f.Errors) == 0 }

// First is the first thing wrong, for a summary at the top.
func (f *form) First() string {
	if len(f.order) == 0 {
		return ""
	}
	return f.Errors[f.order[0]]
}

// sentence gives a message a capital and a full stop.
func sentence(text string) string {
	text = strings.TrimSpace(text)
	if text == "" {
		return text
	}
	if c := text[0]; c >= 'a' && c <= 'z' {
		text = strings.ToUpper(text[:1]) + text[1:]
	}
	if !strings.ContainsAny(text[len(text)-1:], ".?") {
		text += "."
	}
	return text
}

// parse reads a field with a parser of the core and notes its error.
func parse[T any](f *form, name string, read func(string) (T, error)) T {
	v, err := read(f.text(name))
	if err != nil {
		f.wrong(name, err.Error())
	}
	return v
}

// optional is parse for a field that may stay empty.
func optional[T any](f *form, name string, read func(string) (T, error)) (T, bool) {
	var zero T
	if !f.has(name) {
		return zero, false
	}
	return parse(f, name, read), true
}

// in binds a parser to the household's units.
func in[T any](read func(string, units.System) (T, error), s units.System) func(string) (T, error) {
	return func(typed string) (T, error) { return read(typed, s) }
}

// number reads a field as an id.
func (f *form) number(name string) int64 {
	n, _ := strconv.ParseInt(f.text(name), 10, 64)
	return n
}

// name reads a name of up to 60 letters.
func (f *form) name(field, what string) string {
	s := f.text(field)
	switch {
	case s == "":
		f.wrong(field, what+" is missing")
	case len([]rune(s)) > 60:
		f.wrong(field, what+" is too long: up to 60 letters would do")
	}
	return s
}

// A field is one input for the template.
type field struct {
	Name, Label, Value, Error, Hint, Kind string
}

func newField(f *form, name, label, kind, hint string) field {
	out := field{Name: name, Label: label, Hint: hint, Kind: kind}
	if f != nil {
		out.Value, out.Error = f.Values.Get(name), f.Errors[name]
	}
	return out
}

// An option is one entry of a choice.
type option struct {
	Value, Label string
	Chosen       bool
}

// choiceField is a field with options.
type choiceField struct {
	field
	Options []option
}

func newChoice(f *form, name, label string, options []option) choiceField {
	c := choiceField{field: newField(f, name, label, "", "")}
	for _, o := range options {
		o.Chosen = o.Value == c.Value
		c.Options = append(c.Options, o)
	}
	return c
}

// readers are the kinds of quantity that a field can say it understood.
var readers = map[string]func(string, units.System) (string, error){
	"temperature": func(t string, s units.System) (string, error) {
		v, err := units.ParseTemperature(t, s)
		return s.Temperature(v), err
	},
	"room": func(t string, s units.System) (string, error) {
		v, err := units.ParseTemperature(t, s)
		return s.RoomTemperature(v), err
	},
	"mass": func(t string, s units.System) (string, error) { v, err := units.ParseMass(t, s); return s.Mass(v), err },
	"length": func(t string, s units.System) (string, error) {
		v, err := units.ParseLength(t, s)
		return s.Length(v), err
	},
	"size": func(t string, s units.System) (string, error) {
		v, err := units.ParseSmallLength(t, s)
		return s.Size(v), err
	},
	"volume": func(t string, s units.System) (string, error) {
		v, err := units.ParseVolume(t, s)
		return s.Volume(v), err
	},
	"flow": func(t string, s units.System) (string, error) { v, err := units.ParseFlow(t, s); return s.Flow(v), err },
	"draft": func(t string, s units.System) (string, error) {
		v, err := units.ParseDraft(t, s)
		return s.Draft(v), err
	},
	"power": func(t string, s units.System) (string, error) {
		v, err := units.ParsePower(t, s)
		return s.Power(v), err
	},
	"moisture": func(t string, _ units.System) (string, error) {
		v, err := units.ParseMoisture(t)
		return units.Percent(v, 0) + " on dry basis", err
	},
	"span": func(t string, _ units.System) (string, error) {
		v, err := units.ParseDuration(t)
		return units.Duration(v), err
	},
	"pieces": func(t string, _ units.System) (string, error) {
		v, err := units.ParsePieces(t)
		return strconv.Itoa(v) + " pieces", err
	},
}

// understand answers a script that asks what a field would be read as.
func (q *request) understood(kind, typed string) (string, error) {
	read, ok := readers[kind]
	if !ok {
		return "", badInput("That kind of quantity is not known.")
	}
	text, err := read(typed, q.units())
	if err != nil {
		return "", badInput(sentence(err.Error()))
	}
	return text, nil
}

func (s *Server) understand(q *request) error {
	text, err := q.understood(q.Query("kind"), q.Query("typed"))
	if err != nil {
		return err
	}
	q.JSON(http.StatusOK, map[string]string{"understood": text})
	return nil
}
