// Package form is what is kept and sent, as it is written: JSON with a version.
//
// The types of the core are free to change; these are not. Each has the keys
// that it was first written with, plain numbers in SI (times in nanoseconds,
// temperatures in °C) and two functions, one from the core's type and one back.
// When a form has to change, [Version] goes up, an upgrade says what became of
// the old keys, and the golden file of the old version stays for a test to read.
//
//	b, err := form.Write(form.PlanOf(p))
//	p, err := form.Read[form.Plan](b)
package form

import (
	"bytes"
	"encoding/json"
	"fmt"
)

// Version is that of everything written now. Forms from before they had one
// count as version 1.
const Version = 2

// A kind is what a form is of.
type kind string

// Written is a form that can be read back.
type Written[C any] interface {
	Core() C
	kind() kind
}

func (Stove) kind() kind { return "stove" }
func (House) kind() kind { return "house" }
func (Burn) kind() kind  { return "burn" }
func (Entry) kind() kind { return "entry" }
func (Plan) kind() kind  { return "plan" }
func (Day) kind() kind   { return "day" }
func (Eye) kind() kind   { return "eye" }

// Write returns a form as JSON with its version.
func Write[C any](f Written[C]) ([]byte, error) {
	b, err := json.Marshal(f)
	if err != nil {
		return nil, fmt.Errorf("writing a %s: %w", f.kind(), err)
	}
	head := fmt.Appendf(nil, `{"form":%d`, Version)
	if body := bytes.TrimPrefix(b, []byte("{")); !bytes.Equal(body, []byte("}")) {
		head = append(head, ',')
	}
	return append(head, b[1:]...), nil
}

// Read returns what a form of any version was written from. One that is newer
// than this code is an error: a server that is older than its database.
func Read[F Written[C], C any](b []byte) (C, error) {
	var f F
	fail := func(err error) (C, error) {
		var none C
		return none, fmt.Errorf("reading a %s: %w", f.kind(), err)
	}
	version, err := versionOf(b)
	switch {
	case err != nil:
		return fail(err)
	case version > Version:
		return fail(fmt.Errorf("its form is %d and this server reads up to %d", version, Version))
	case version < Version:
		if b, err = upgraded(f.kind(), version, b); err != nil {
			return fail(err)
		}
	}
	if err := json.Unmarshal(b, &f); err != nil {
		return fail(err)
	}
	return f.Core(), nil
}

// versionOf is the version of a form.
func versionOf(b []byte) (int, error) {
	var head struct {
		Form int `json:"form"`
	}
	head.Form = 1
	if i := bytes.IndexByte(b, ','); i > 0 && i < 40 && bytes.HasPrefix(b, []byte(`{"form":`)) {
		b = append(bytes.Clone(b[:i]), '}') // it stands first: no need to go through the rest
	}
	err := json.Unmarshal(b, &head)
	return head.Form, err
}

// all turns a list, a nil one into a nil one.
func all[A, B any](list []A, turn func(A) B) []B {
	if list == nil {
		return nil
	}
	out := make([]B, len(list))
	for i, v := range list {
		out[i] = turn(v)
	}
	return out
}

// pointer turns what is pointed to, nil into nil.
func pointer[A, B any](p *A, turn func(A) B) *B {
	if p == nil {
		return nil
	}
	v := turn(*p)
	return &v
}

// keys turns the keys of a map.
func keys[A, B comparable, V any](m map[A]V, turn func(A) B) map[B]V {
	if m == nil {
		return nil
	}
	out := make(map[B]V, len(m))
	for k, v := range m {
		out[turn(k)] = v
	}
	return out
}
