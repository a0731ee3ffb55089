package kit

import (
	"smolder/internal/app/due"
	"smolder/internal/core/trouble"
	"smolder/internal/core/upkeep"
	"smolder/internal/say"
)

// Endangers is what of the upkeep is overdue and dangerous, of a stove or of all (0), as
// sentences; the alarms have their own.
func (q *Request) Endangers(stove int64) ([]string, error) {
	lines, err := q.Due()
	if err != nil {
		return nil, err
	}
	var out []string
	for _, l := range due.Dangers(lines, stove, q.Now()) {
		if l.Task.Key == upkeep.Detectors {
			continue
		}
		name := l.Stove.Name
		if stove != 0 {
			name = ""
		}
		out = append(out, say.Endangers(l.Status, name, q.Now(), q.Locale()))
	}
	return out, nil
}

// Troubles are what was found to be wrong with a stove and is not put right, as sentences: those that
// endanger, and the others.
func (q *Request) Troubles(stove int64) (grave, others []string, err error) {
	all, err := q.Home.Troubles(q.Ctx())
	if err != nil {
		return nil, nil, err
	}
	for _, one := range all {
		cause := trouble.Cause(one.Cause)
		w := say.CauseOf(cause)
		if one.Stove != stove || w.Name == "" {
			continue
		}
		text := q.F("Found on %s: %s. %s", q.Locale().Date(one.At.In(q.Profile.Location()), "2 January 2006"), q.Locale().Mid(q.T(w.Name)), q.T(w.Do))
		if cause.Dangerous() {
			grave = append(grave, text)
		} else {
			others = append(others, text)
		}
	}
	return grave, others, nil
}

// Lit refuses a fire in a stove whose chimney has burnt, until an inspection is entered; ""
// allows it.
func (q *Request) Lit(stove int64, name string) (string, error) {
	chimneys, err := q.Home.BurntChimneys(q.Ctx())
	at, burnt := chimneys[stove]
	if err != nil || !burnt {
		return "", err
	}
	return say.NoFireAfter(name, at.In(q.Profile.Location()), q.Locale()), nil
}
