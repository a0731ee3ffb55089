package exchange

import (
	"fmt"
	"io"
	"strings"
	"time"
	"unicode"

	ics "github.com/arran4/golang-ical"
)

// An Appointment is something to be done at the stove, for a calendar.
type Appointment struct {
	ID         string
	From, Till time.Time
	Title      string
	Text       string
}

// plainText leaves out what would end a line in the middle of a text.
func plainText(s string) string {
	return strings.Map(func(r rune) rune {
		if r != '\n' && unicode.IsControl(r) || r == '\u2028' || r == '\u2029' {
			return ' '
		}
		return r
	}, s)
}

// WriteICal writes appointments as iCalendar (RFC 5545, with its line ends), each with a reminder
// five minutes before.
func WriteICal(w io.Writer, name string, made time.Time, list []Appointment) error {
	cal := ics.NewCalendar()
	cal.SetMethod(ics.MethodPublish)
	cal.SetProductId("-//Smolder//a day of fires//EN")
	cal.SetName(plainText(name))
	for _, a := range list {
		a.Title, a.Text = plainText(a.Title), plainText(a.Text)
		e := cal.AddEvent(plainText(a.ID))
		e.SetDtStampTime(made.UTC())
		e.SetStartAt(a.From.UTC())
		e.SetEndAt(a.Till.UTC())
		e.SetSummary(a.Title)
		e.SetDescription(a.Text)
		alarm := e.AddAlarm()
		alarm.SetAction(ics.ActionDisplay)
		alarm.SetTrigger("-PT5M")
		alarm.SetProperty(ics.ComponentPropertyDescription, a.Title)
	}
	if err := cal.SerializeTo(w, ics.WithNewLineWindows); err != nil {
		return fmt.Errorf("writing the calendar: %w", err)
	}
	return nil
}
