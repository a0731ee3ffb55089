package lang

import (
	"errors"
	"fmt"
	"strings"
)

// An Error is an error that somebody reads: a message, with what fills it in.
type Error struct {
	Message Message
	Args    []any
}

// Errorf returns an error of a message. An argument that is an error is filled in with %w,
// as [fmt.Errorf] has it.
func Errorf(m Message, args ...any) error { return &Error{m, args} }

// Error says it in English.
func (e *Error) Error() string { return fmt.Errorf(e.Message.English(), e.Args...).Error() }

// Unwrap returns the errors it was made of.
func (e *Error) Unwrap() []error {
	var out []error
	for _, a := range e.Args {
		if err, ok := a.(error); ok {
			out = append(out, err)
		}
	}
	return out
}

// Error says an error in the language, and with it those that it was made of. say says one
// that is none of this package; nil: as it says itself.
func (l Locale) Error(err error, say func(error) string) string {
	var e *Error
	if !errors.As(err, &e) {
		if say != nil {
			return say(err)
		}
		return err.Error()
	}
	args := make([]any, len(e.Args))
	for i, a := range e.Args {
		args[i] = a
		if inner, ok := a.(error); ok {
			args[i] = l.Error(inner, say)
		}
	}
	format := e.Message.English()
	if l.lang != nil {
		format = l.lang.text(e.Message)
	}
	return fmt.Sprintf(strings.ReplaceAll(format, "%w", "%s"), args...)
}
