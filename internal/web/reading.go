package web

import (
	"errors"
	"fmt"

	"github.com/google/uuid"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
)

// knownChoice refuses a choice that is not in the list.
func knownChoice(f *form, name string, known bool) {
	if !known {
		f.wrong(name, "choose one of the list")
	}
}

func parseOutdoor(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "outdoor temperature", -50, 45)
}

func parseRoom(typed string, s units.System) (units.Celsius, error) {
	return bounded(typed, s, "room temperature", -20, 40)
}

func bounded(typed string, s units.System, what string, low, high units.Celsius) (units.Celsius, error) {
	v, err := units.ParseTemperature(typed, s)
	if wrong := new(units.ParseError); errors.As(err, &wrong) {
		wrong.What, wrong.Try = what, s.Temperature((low+high*2)/3)
	}
	if err == nil && (v < low || v > high) {
		return 0, &units.ParseError{Input: typed, What: what, Reason: fmt.Sprintf("it lies between %s and %s", s.Temperature(low), s.Temperature(high)), Try: s.Temperature((low + high*2) / 3)}
	}
	return v, err
}

func celsius(v float64) units.Celsius { return units.Celsius(v) }

// forecastWord stands in the field for outdoors when the forecast is taken.
const forecastWord = "forecast"

// newEntryID names what was typed without a script.
func newEntryID() string { return uuid.NewString() }

// handGauge reads which gauge's band the strip shows.
func handGauge(q *request) stove.Place { return stove.Place(q.Query("gauge")) }

// usualBand is the room temperature that is wanted until somebody says.
var usualBand = [2]units.Celsius{19, 21.5}
