// Package api is Smolder for programs: a display on the wall, a home server, a
// thermometer that reports by itself.
//
// Whoever asks shows a token with the scope of what is asked. Answers are JSON;
// refusals are problem documents (RFC 9457) with a sentence that says what would do.
// openapi.json describes every address, and a test holds it and the routes together.
package api

import (
	"compress/gzip"
	"context"
	_ "embed"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/burn"
	"smolder/internal/core/fire"
	"smolder/internal/core/reason"
	"smolder/internal/core/stove"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/exchange/scenario"
	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/trail"
	"smolder/internal/web/kit"
)

// Prefix is where the addresses begin.
const Prefix = "/api/v1"

// written describes the addresses, but for the lists that the core has.
//
//go:embed openapi.json
var written string

// openapi is that with the lists.
var openapi = []byte(strings.NewReplacer(`"{gauge places}"`, listed(stove.Places), `"{aims}"`, listed(wish.Aims), `"{starts}"`, listed(wish.Starts),
	`"{entry kinds}"`, listed(burn.Kinds), `"{smoke signs}"`, listed(burn.SmokeSigns), `"{roles}"`, listed(stove.Roles), `"{lays}"`, listed(fire.Lays),
	`"{starters}"`, listed(starterKeys())).Replace(written))

// starterKeys are what kindling may be lit with.
func starterKeys() (out []fire.Starter) {
	for _, s := range say.Starters {
		out = append(out, s.Key)
	}
	return out
}

// listed are the members of a JSON list.
func listed[T ~string](all []T) string {
	var out []string
	for _, x := range all {
		out = append(out, strconv.Quote(string(x)))
	}
	return strings.Join(out, ", ")
}

// A Room serves these addresses.
type Room struct {
	*kit.Site
	guesses *guesses
	known   *known
}

// New returns the room's own handler: it needs no session.
func New(s *kit.Site) http.Handler {
	r := Room{s, &guesses{count: s.Store.Attempt}, &known{}}
	e := gin.New()
	e.HandleMethodNotAllowed = true
	e.NoRoute(func(c *gin.Context) {
		problem(c, http.StatusNotFound, "There is no such address; "+Prefix+"/openapi.json lists those there are.", nil)
	})
	e.NoMethod(func(c *gin.Context) {
		problem(c, http.StatusMethodNotAllowed, "This address takes no such request; "+Prefix+"/openapi.json says which.", nil)
	})
	e.Use(func(c *gin.Context) { trail.Route(c.Request.Context(), c.FullPath()) })
	v := e.Group(Prefix)
	v.GET("/openapi.json", func(c *gin.Context) { c.Data(http.StatusOK, "application/json; charset=utf-8", openapi) })
	v.GET("/stoves", r.with(store.ScopeRead, r.stoves))
	v.GET("/stacks", r.with(store.ScopeRead, r.stacks))
	v.GET("/stoves/:id/now", r.with(store.ScopeRead, r.now))
	v.GET("/stoves/:id/burn", r.with(store.ScopeRead, r.burnOf))
	v.GET("/burns/:id", r.with(store.ScopeRead, r.burn))
	v.POST("/stoves/:id/plans", r.with(store.ScopeLog, r.plans))
	v.POST("/burns", r.with(store.ScopeLog, r.startBurn))
	v.POST("/burns/:id/entries", r.with(store.ScopeLog, r.addEntries))
	v.POST("/burns/:id/end", r.with(store.ScopeLog, r.endBurn))
	v.POST("/readings", r.with(store.ScopeReadings, r.readings))
	return e
}

// A request is one by a token.
type request struct {
	*gin.Context
	home    store.Household
	caller  store.Caller
	text    []byte // the body, once it is read
	profile store.Profile
}

// asksAMinute is how often one token may ask.
const asksAMinute = 240

// with lets those pass whose token has a scope and who do not ask too often.
func (r Room) with(scope string, h func(*request) error) gin.HandlerFunc {
	return func(c *gin.Context) {
		token, ok := strings.CutPrefix(c.GetHeader("Authorization"), "Bearer ")
		if !ok || len(token) > 200 {
			c.Header("WWW-Authenticate", "Bearer")
			problem(c, http.StatusUnauthorized, "A token is missing; make one on the page of the stove, and send it as Authorization: Bearer …", nil)
			return
		}
		from := kit.AddressOf(c.Request, r.Proxy)
		if !r.guesses.may(from, r.Now()) {
			c.Header("Retry-After", "60")
			problem(c, http.StatusTooManyRequests, "Too many unknown tokens come from this address: try again in a minute.", nil)
			return
		}
		token = strings.TrimSpace(token)
		caller, err := r.call(c.Request.Context(), token, scope)
		if errors.Is(err, store.ErrMissing) {
			if err := r.guesses.missed(c.Request.Context(), from, r.Now()); err != nil {
				r.fail(c, err)
				return
			}
			c.Header("WWW-Authenticate", `Bearer error="invalid_token"`)
			problem(c, http.StatusUnauthorized, "This token is not known here, or was revoked; make one on the page of the stove.", nil)
			return
		}
		q := &request{Context: c, caller: caller}
		switch {
		case err != nil:
		case !slices.Contains(caller.Scopes, scope):
			problem(c, http.StatusForbidden, fmt.Sprintf("This token may %s and not %s; one with the scope %q would do.",
				strings.Join(caller.Scopes, ", "), scope, scope), nil)
			return
		case caller.Asked > asksAMinute:
			c.Header("Retry-After", strconv.Itoa(61-r.Now().Second()))
			problem(c, http.StatusTooManyRequests, fmt.Sprintf("A token may ask %d times a minute; send readings in batches, or ask less often.", asksAMinute), nil)
			return
		default:
			q.home = r.Store.Household(caller.Home).As(caller.Name)
			if q.profile, err = q.home.Profile(c.Request.Context()); err == nil {
				err = h(q)
			}
		}
		if err != nil && (scope != store.ScopeReadings || !r.later(c, token, err, q.body)) {
			r.fail(c, err)
		}
	}
}

// call is who shows a token. Where readings can wait elsewhere, a database that does not answer is
// not waited for long.
func (r Room) call(ctx context.Context, token, scope string) (store.Caller, error) {
	if r.Later == nil || scope != store.ScopeReadings {
		return r.Store.Call(ctx, token, r.Now())
	}
	ctx, cancel := context.WithTimeout(ctx, answersWithin)
	defer cancel()
	caller, err := r.Store.Call(ctx, token, r.Now())
	if err == nil || errors.Is(err, store.ErrMissing) {
		r.known.saw(token, slices.Contains(caller.Scopes, scope), r.Now())
	}
	return caller, err
}

// A fault is one of the things that are wrong with a request.
type fault struct {
	Field  string `json:"field,omitempty"`
	Line   int    `json:"line,omitempty"`
	Detail string `json:"detail"`
}

// refusal is a request that makes no sense.
type refusal struct {
	status int
	detail string
	faults []fault
}

func (r *refusal) Error() string { return r.detail }

func refuse(status int, detail string, faults ...fault) error {
	return &refusal{status, detail, faults}
}

// problem answers with a problem document (RFC 9457).
func problem(c *gin.Context, status int, detail string, faults []fault) {
	doc := map[string]any{"type": "about:blank", "title": http.StatusText(status), "status": status, "detail": detail}
	if len(faults) > 0 {
		doc["errors"] = faults
	}
	text, err := json.Marshal(doc)
	if err != nil {
		text = []byte("{}")
	}
	c.Data(status, "application/problem+json; charset=utf-8", text)
	c.Abort()
}

// fail answers an error.
func (r Room) fail(c *gin.Context, err error) {
	var no *refusal
	var large *http.MaxBytesError
	var why reason.Reason
	var field *scenario.Error
	switch {
	case c.Request.Context().Err() != nil: // whoever asked has gone, or it took too long
		if !c.Writer.Written() {
			problem(c, http.StatusServiceUnavailable, "That took too long, and was given up: send it again.", nil)
		}
	case errors.As(err, &no):
		problem(c, no.status, no.detail, no.faults)
	case errors.As(err, &field):
		problem(c, http.StatusUnprocessableEntity, field.Error(), []fault{{Field: field.Field, Detail: field.Error()}})
	case errors.As(err, &why):
		said := say.Error(err, lang.Metric)
		problem(c, http.StatusUnprocessableEntity, units.UpperFirst(said)+".", []fault{{Field: why.Field, Detail: said}})
	case errors.As(err, &large):
		problem(c, http.StatusRequestEntityTooLarge,
			fmt.Sprintf("That is more than this address takes: up to %d kB would do; send the rest in the next.", large.Limit>>10), nil)
	case errors.Is(err, store.ErrMissing):
		problem(c, http.StatusNotFound, "There is no such thing in this household.", nil)
	case errors.Is(err, store.ErrBurning):
		problem(c, http.StatusConflict, "This stove already has a burn that is not ended; end that one first.", nil)
	default:
		status, text := r.StatusOf(err, lang.Metric)
		r.Note(c.Request.Context(), "api", status, err)
		problem(c, status, text, nil)
	}
}

// mostUnpacked is how large a body may be once it is unpacked.
const mostUnpacked = 12 << 20

// body is what was sent, unpacked where it is packed; asked for again, it is the same.
func (q *request) body() (text []byte, err error) {
	if q.text == nil {
		q.text, err = q.unpacked()
	}
	return q.text, err
}

func (q *request) unpacked() ([]byte, error) {
	var from io.Reader = q.Request.Body
	switch q.GetHeader("Content-Encoding") {
	case "", "identity":
	case "gzip":
		unpack, err := gzip.NewReader(from)
		if err != nil {
			return nil, refuse(http.StatusBadRequest, "The body is said to be packed with gzip, and is not.")
		}
		from = io.LimitReader(unpack, mostUnpacked+1)
	default:
		return nil, refuse(http.StatusUnsupportedMediaType, "Only gzip is unpacked here; send it so, or unpacked.")
	}
	text, err := io.ReadAll(from)
	switch {
	case len(text) > mostUnpacked:
		return nil, refuse(http.StatusRequestEntityTooLarge, fmt.Sprintf("Unpacked that is more than %d MB; send the rest in the next.", mostUnpacked>>20))
	case errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, gzip.ErrChecksum) || errors.Is(err, gzip.ErrHeader):
		return nil, refuse(http.StatusBadRequest, "The body ends too early, or is not packed with gzip.")
	}
	return text, err
}

// read reads a body of JSON into a form; fields that it does not know are refused.
func (q *request) read(into any) error {
	text, err := q.body()
	if err != nil {
		return err
	}
	if len(strings.TrimSpace(string(text))) == 0 {
		text = []byte("{}")
	}
	dec := json.NewDecoder(strings.NewReader(string(text)))
	dec.DisallowUnknownFields()
	if err := dec.Decode(into); err != nil {
		return refuse(http.StatusBadRequest, "This is not what is taken here: "+wrongJSON(err))
	}
	return nil
}

// wrongJSON says what is wrong with JSON, and where it is written what would do.
func wrongJSON(err error) string {
	return strings.TrimPrefix(err.Error(), "json: ") + ". " + Prefix + "/openapi.json says what would do."
}

// id is a number of the path.
func (q *request) id() (int64, error) {
	n, err := strconv.ParseInt(q.Param("id"), 10, 64)
	if err != nil || n <= 0 {
		return 0, store.ErrMissing
	}
	return n, nil
}

// moment reads a moment of a field; empty is the other one.
func moment(field, text string, or time.Time) (time.Time, error) {
	if text == "" {
		return or, nil
	}
	at, err := time.Parse(time.RFC3339, text)
	if err != nil {
		return or, refuse(http.StatusUnprocessableEntity, field+" is a moment as RFC 3339 has it; 2026-11-26T18:04:05Z would do, or nothing for now.",
			fault{Field: field, Detail: "not a time"})
	}
	return at.UTC(), nil
}

// stove is the one of the path, where the token may see it.
func (q *request) stove() (store.Stove, error) {
	id, err := q.id()
	if err != nil {
		return store.Stove{}, err
	}
	st, err := q.home.Stove(q.Request.Context(), id)
	if err != nil {
		return st, err
	}
	return st, q.mine(id)
}

// mine refuses what is of another stove than the token's.
func (q *request) mine(stoveID int64) error {
	if q.caller.StoveID.Valid && q.caller.StoveID.V != stoveID {
		return refuse(http.StatusForbidden, "This token is for another stove.")
	}
	return nil
}

func (q *request) answer(status int, v any) error {
	q.Header("Cache-Control", "no-store")
	q.JSON(status, v)
	return nil
}
