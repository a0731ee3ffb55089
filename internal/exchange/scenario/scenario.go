// Package scenario reads a burn to be simulated from a JSON document: a stove,
// its flue, the house, the weather, the wood, and what is done when.
//
// Quantities are written as people say them ("6 m", "450F", "18%"); a bare
// number is metric. Whatever makes no sense is refused with the path of its
// field and what would do, in an [Error]:
//
//	flue.height: "0 m": a chimney of 0.0 m makes no draft: ... 6 m would do
//
// A scenario needs little: everything but stove.family, stove.firebox,
// flue.height and the wood of its loads has a usual value. docs/formats.md
// describes the fields; the scenarios folder has examples.
package scenario

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// A Scenario is a burn ready to be simulated.
type Scenario struct {
	Name    string
	Setup   fire.Setup
	Steps   []fire.Move
	Options fire.Options
}

// Run simulates the scenario.
func (s Scenario) Run() fire.Result { return fire.Run(s.Setup, s.Steps, s.Options) }

// An Error says which field of a scenario makes no sense.
type Error struct {
	Field string // its path, such as actions[2].to
	Err   error
}

func (e *Error) Error() string { return e.Field + ": " + say.Error(e.Err, lang.Metric) }

// Unwrap returns the cause.
func (e *Error) Unwrap() error { return e.Err }

// text is a quantity: a string as people say it, or a bare number.
type text string

// UnmarshalJSON takes a string or a number.
func (t *text) UnmarshalJSON(b []byte) error {
	if len(b) > 0 && b[0] == '"' {
		return json.Unmarshal(b, (*string)(t))
	}
	var n json.Number
	if err := json.Unmarshal(b, &n); err != nil {
		return err
	}
	*t = text(n)
	return nil
}

// or returns the text, or a usual value where nothing was said.
func (t text) or(usual string) string {
	if strings.TrimSpace(string(t)) == "" {
		return usual
	}
	return string(t)
}

// document is the JSON form.
type document struct {
	Name    string      `json:"name"`
	Stove   stoveDoc    `json:"stove"`
	Flue    flueDoc     `json:"flue"`
	House   houseDoc    `json:"house"`
	Weather weatherDoc  `json:"weather"`
	Start   startDoc    `json:"start"`
	Fuel    []fuelDoc   `json:"fuel"`
	Actions []actionDoc `json:"actions"`
	Run     runDoc      `json:"run"`
	Plan    planDoc     `json:"plan"`
}

type runDoc struct {
	For   text `json:"for"`
	Every text `json:"every"`
	Step  text `json:"step"`
}

const (
	mostActions = 500
	mostSamples = 20000
)

// Parse reads a scenario. The error is an *[Error] where one field is at fault.
func Parse(b []byte) (Scenario, error) {
	dec := json.NewDecoder(bytes.NewReader(b))
	dec.DisallowUnknownFields()
	var d document
	if err := dec.Decode(&d); err != nil {
		return Scenario{}, explain(err)
	}
	if _, err := dec.Token(); !errors.Is(err, io.EOF) {
		return Scenario{}, &Error{"scenario", errors.New("there is something behind its end; one JSON object would do")}
	}
	p := &parser{}
	s := Scenario{Name: d.Name, Setup: p.setup(d)}
	woods := p.woods(d.Fuel)
	s.Steps = p.steps(d.Actions, s.Setup.Stove, woods)
	s.Options = p.options(d.Run)
	return s, p.err
}

// explain turns the decoder's words into ours.
func explain(err error) error {
	var kind *json.UnmarshalTypeError
	var syntax *json.SyntaxError
	switch {
	case errors.As(err, &kind):
		return &Error{kind.Field, fmt.Errorf("a %s stands there; docs/formats.md says what would do", kind.Value)}
	case errors.As(err, &syntax):
		return &Error{"scenario", fmt.Errorf("it is not JSON: %w (at byte %d)", err, syntax.Offset)}
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return &Error{"scenario", errors.New("it is empty or ends too early; a JSON object would do")}
	}
	if name, ok := strings.CutPrefix(err.Error(), "json: unknown field "); ok {
		return &Error{strings.Trim(name, `"`), errors.New("there is no such field; docs/formats.md lists those there are")}
	}
	return &Error{"scenario", err}
}

// parser keeps the first error with its field.
type parser struct{ err error }

func (p *parser) fail(field string, err error) {
	if p.err == nil && err != nil {
		p.err = &Error{field, err}
	}
}

// read parses one quantity and keeps its error.
func read[T any](p *parser, field string, parse func(string) (T, error), typed string) T {
	v, err := parse(typed)
	p.fail(field, err)
	return v
}

func (p *parser) options(d runDoc) fire.Options {
	o := fire.Options{
		Until: read(p, "run.for", parseSpan, d.For.or("10 h")),
		Every: read(p, "run.every", parseSpan, d.Every.or("1 min")),
		Step:  read(p, "run.step", parseSpan, d.Step.or("2 s")),
	}
	switch {
	case o.Until < time.Minute || o.Until > 48*time.Hour:
		p.fail("run.for", errors.New("a run is between a minute and 48 hours long; 10 h would do"))
	case o.Step < 500*time.Millisecond || o.Step > 8*time.Second:
		p.fail("run.step", errors.New("steps are between 0.5 and 8 seconds long; 2 s would do"))
	case o.Every < o.Step:
		p.fail("run.every", errors.New("samples cannot lie closer than the steps; 1 min would do"))
	case o.Until/o.Every > mostSamples:
		p.fail("run.every", fmt.Errorf("that makes more than %d samples; 1 min would do", mostSamples))
	}
	return o
}

// kindOf is the wood of a load, by its name in the scenario.
type kindOf struct {
	species  wood.Species
	template fire.Load
}
