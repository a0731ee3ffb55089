package stoves

import (
	"errors"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// tokenLine is a token in the list.
type tokenLine struct {
	ID              int64
	Name, May, Seen string
	OnlyHere        bool
}

// scopes are what a token may be for.
var scopes = []kit.Choice{
	{Value: store.ScopeReadings, Label: "send readings"},
	{Value: store.ScopeRead, Label: "ask how the fire is"},
	{Value: store.ScopeLog, Label: "plan, and log"},
}

// tokensOf lists the tokens that are for a stove, or for all.
func tokensOf(q *kit.Request, st store.Stove) ([]tokenLine, error) {
	list, err := q.Home.Tokens(q.Ctx())
	var out []tokenLine
	for _, t := range list {
		if t.StoveID.Valid && t.StoveID.V != st.ID {
			continue
		}
		line := tokenLine{ID: t.ID, Name: t.Name, OnlyHere: t.StoveID.Valid, Seen: q.T("not used yet")}
		if t.Used.Valid {
			line.Seen = q.T("last used ") + q.DayWord(t.Used.V)
		}
		var may []string
		for _, s := range scopes {
			if slices.Contains(t.Scopes, s.Value) {
				may = append(may, q.T(s.Label))
			}
		}
		line.May = strings.Join(may, ", ")
		out = append(out, line)
	}
	return out, err
}

// reportsOf says which gauges report by themselves, and when they last did.
func reportsOf(q *kit.Request, st store.Stove) ([]string, error) {
	last, err := q.Home.LastReported(q.Ctx(), st.ID, q.Now())
	var out []string
	for _, p := range append(slices.Clone(stove.Places), store.DraftPlace) {
		if at, ok := last[string(p)]; ok {
			name := "draft"
			if p != store.DraftPlace {
				name = q.T(say.Places.Short(p))
			}
			out = append(out, name+", "+q.DayWord(at))
		}
	}
	return out, err
}

// makeToken makes a token and shows it, once.
func (s Room) makeToken(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	name := f.Text("name")
	if units.FaultOfName(name) != units.GoodName {
		f.Wrong("name", q.T("a name for what has this token, such as thermometer on the pipe"))
	}
	var may []string
	for _, scope := range scopes {
		if f.Has("may-" + scope.Value) {
			may = append(may, scope.Value)
		}
	}
	if len(may) == 0 {
		f.Wrong("may", q.T("what it may do: at least one of the three"))
	}
	stoveID := st.ID
	if f.Has("all") {
		stoveID = 0
	}
	token := ""
	if f.Ok() {
		token, err = q.Home.MakeToken(q.Ctx(), name, stoveID, may)
		if errors.Is(err, store.ErrMany) {
			f.Wrong("name", q.T("there are as many tokens as there may be; revoke one that is not used"))
		} else if err != nil {
			return err
		}
	}
	status := http.StatusOK
	if !f.Ok() {
		status = http.StatusUnprocessableEntity
	}
	return s.showStove(q, status, st, f, token)
}

// revokeToken ends a token.
func (s Room) revokeToken(q *kit.Request) error {
	st, err := s.stoveOf(q)
	if err != nil {
		return err
	}
	id, err := strconv.ParseInt(q.Param("token"), 10, 64)
	if err != nil {
		return store.ErrMissing
	}
	if err := q.Home.RevokeToken(q.Ctx(), id, q.Now()); err != nil {
		return err
	}
	q.Say("Revoked: whoever has that token is let in no more.")
	return q.SeeOther("/stoves/" + strconv.FormatInt(st.ID, 10))
}
