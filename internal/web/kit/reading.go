package kit

import (
	"errors"
	"strings"

	"github.com/google/uuid"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// KnownChoice refuses a choice that is not in the list.
func KnownChoice(f *Form, name string, known bool) {
	if !known {
		f.Wrong(name, f.loc.T("choose one of the list"))
	}
}

func ParseOutdoor(typed string, s units.System) (units.Celsius, error) {
	return Bounded(typed, s, "outdoor temperature", -50, 45)
}

func ParseRoom(typed string, s units.System) (units.Celsius, error) {
	return Bounded(typed, s, "room temperature", -20, 40)
}

// RoomBetween reads a room's temperature, or how it is to who has no thermometer, by the band that
// is wanted: cold, chilly, right, warm.
func RoomBetween(low, high units.Celsius, loc lang.Locale) func(string) (units.Celsius, error) {
	return func(typed string) (units.Celsius, error) {
		for _, felt := range wish.Felts {
			if word := strings.ToLower(strings.TrimSpace(typed)); word == string(felt) || word == strings.ToLower(loc.T(say.Felts.Name(felt))) {
				t, _ := felt.Room(low, high)
				return t, nil
			}
		}
		return ParseRoom(typed, loc.System)
	}
}

func Bounded(typed string, s units.System, what string, low, high units.Celsius) (units.Celsius, error) {
	v, err := units.ParseTemperature(typed, s)
	if wrong := new(units.ParseError); errors.As(err, &wrong) {
		wrong.What, wrong.Try = what, s.Temperature((low+high*2)/3)
	}
	if err == nil && (v < low || v > high) {
		return 0, &units.ParseError{Input: typed, What: what,
			Reason: "it lies between %s and %s", Args: []any{s.Temperature(low), s.Temperature(high)}, Try: s.Temperature((low + high*2) / 3)}
	}
	return v, err
}

func celsius(v float64) units.Celsius { return units.Celsius(v) }

// ForecastWord stands in the field for outdoors when the forecast is taken.
const ForecastWord = "forecast"

// IsForecast tells whether a field for outdoors asks for the forecast, in English or as this page says it.
func (q *Request) IsForecast(typed string) bool {
	return strings.EqualFold(typed, ForecastWord) || strings.EqualFold(typed, q.T(ForecastWord))
}

// NewEntryID names what was typed without a script.
func NewEntryID() string { return uuid.NewString() }

// HandGauge reads which gauge's band the strip shows.
func HandGauge(q *Request) stove.Place { return stove.Place(q.Query("gauge")) }

// UsualBand is the room temperature that is wanted until somebody says.
var UsualBand = [2]units.Celsius{19, 21.5}
