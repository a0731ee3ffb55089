package wood

import (
	"database/sql"
	"errors"
	"math"
	"net/http"
	"strconv"
	"strings"
	"time"

	"smolder/internal/app/shed"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// mostPieces is how many pieces are read at once.
const mostPieces = 40

// readReading reads what a meter read: in one piece or in several, with how warm the wood
// was where that is known; nil where it could not be read.
func readReading(_ *kit.Request, f *kit.Form) *store.StackReading {
	mean, spread, n, err := parseReadings(f.Text("reading"))
	if err != nil {
		f.Wrong("reading", say.Error(err, f.Locale()))
		return nil
	}
	r := &store.StackReading{Reading: mean, Spread: spread, Pieces: n}
	if f.Has("wood-temp") {
		t := kit.Parse(f, "wood-temp", kit.In(parseWoodTemp, f.Locale().System))
		r.WoodTemp = sql.Null[float64]{V: float64(t), Valid: true}
	}
	return r
}

func parseWoodTemp(typed string, s units.System) (units.Celsius, error) {
	return kit.Bounded(typed, s, "wood temperature", -20, 60)
}

// parseReadings reads "18 %", or a reading a piece: "18 21 17.5". It returns their mean
// and their standard deviation, which is 0 of a single one.
func parseReadings(typed string) (mean, spread units.Fraction, n int, err error) {
	text := strings.NewReplacer("%", " ", ";", " ", "/", " ", ", ", " ").Replace(typed)
	parts := strings.Fields(text)
	if len(parts) == 0 {
		_, err = units.ParseMoisture("")
		return 0, 0, 0, err
	}
	if len(parts) > mostPieces {
		return 0, 0, 0, lang.Errorf("that is more than %d readings; the mean of them would do", mostPieces)
	}
	sum, square := 0.0, 0.0
	for _, part := range parts {
		u, err := units.ParseMoisture(part + " %")
		if err != nil {
			return 0, 0, 0, err
		}
		sum, square = sum+float64(u), square+float64(u*u)
	}
	n = len(parts)
	m := sum / float64(n)
	if n > 1 {
		spread = units.Fraction(math.Sqrt(math.Max(0, square-float64(n)*m*m) / float64(n-1)))
	}
	return units.Fraction(m), spread, n, nil
}

// dayOf reads on which day something of a stack was done: today where nothing is said.
func dayOf(q *kit.Request, f *kit.Form) time.Time {
	if !f.Has("on") {
		return q.Now()
	}
	day := kit.Parse(f, "on", func(typed string) (time.Time, error) { return when.ParseDay(typed, q.Now()) })
	if day.After(q.Now()) {
		f.Wrong("on", q.T("that day is still to come"))
	}
	if f.Errors["on"] == "" && q.Now().Sub(day) > 20*365*24*time.Hour {
		f.Wrong("on", q.T("that is more than twenty years ago"))
	}
	if day.Year() == q.Now().Year() && day.YearDay() == q.Now().YearDay() {
		return q.Now()
	}
	return day
}

func (s Room) addReading(q *kit.Request) error {
	return s.addTo(q, func(st shed.Stack, f *kit.Form) error {
		r, at := readReading(q, f), dayOf(q, f)
		if r == nil || !f.Ok() {
			return nil
		}
		r.At = at
		if !st.Since.IsZero() && at.Before(st.Since) {
			f.Wrong("on", f.Locale().T("that was before it was split; a later day would do, or another day of splitting"))
			return nil
		}
		return q.Home.AddReading(q.Ctx(), st.ID, *r)
	})
}

// addTo reads a small form of a stack and shows the stack again: with what is wrong, or
// with what was added.
func (s Room) addTo(q *kit.Request, add func(shed.Stack, *kit.Form) error) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	err = add(st, f)
	switch {
	case errors.Is(err, store.ErrMany):
		f.Wrong("on", q.T("this stack has as many as are kept; take an old one back first"))
	case err != nil:
		return err
	}
	if !f.Ok() {
		return s.showStack(q, http.StatusUnprocessableEntity, st, f)
	}
	q.Say("Kept.")
	return q.SeeOther("/wood/" + strconv.FormatInt(st.ID, 10))
}

func (s Room) undoReading(q *kit.Request) error { return s.undo(q, q.Home.UndoReading) }
func (s Room) undoCount(q *kit.Request) error   { return s.undo(q, q.Home.UndoCount) }

// undo takes a reading or a count back, or puts it back, by how the address ends.
func (s Room) undo(q *kit.Request, change undoing) error {
	st, err := s.stackOf(q)
	if err != nil {
		return err
	}
	n, err := q.ID("n")
	if err != nil {
		return err
	}
	if err := change(q.Ctx(), st.ID, n, strings.HasSuffix(q.Request.URL.Path, "/undo"), q.Now()); err != nil {
		return err
	}
	return q.SeeOther("/wood/" + strconv.FormatInt(st.ID, 10))
}

// readAmount reads how much wood there is, as it was counted; nil where it could not be.
func readAmount(q *kit.Request, f *kit.Form, field string, st wood.Stack, shape wood.Shape) *store.StackCount {
	k := wood.Kind{Species: st.Species, PieceMass: st.PieceMass, PieceLength: st.PieceLength, Moisture: st.Moisture(), Spread: st.Spread, Shape: shape}
	c, err := wood.ParseAmount(f.Text(field), q.Locale().System, k)
	if err != nil {
		f.Wrong(field, say.Error(err, f.Locale()))
		return nil
	}
	return &store.StackCount{Way: c.Way, Typed: f.Text(field), Amount: c.Amount}
}

func (s Room) addCount(q *kit.Request) error {
	return s.addTo(q, func(st shed.Stack, f *kit.Form) error {
		c, at := readAmount(q, f, "amount", st.Wood(), wood.Shape(f.Text("shape"))), dayOf(q, f)
		if c == nil || !f.Ok() {
			return nil
		}
		c.At, c.Adds = at, f.Has("adds")
		return q.Home.AddCount(q.Ctx(), st.ID, *c)
	})
}
