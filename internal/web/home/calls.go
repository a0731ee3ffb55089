package home

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"strings"
	"time"

	webpush "github.com/SherClockHolmes/webpush-go"
	"github.com/gin-gonic/gin"

	"smolder/internal/app/calls"
	"smolder/internal/app/winter"
	"smolder/internal/core/season"
	"smolder/internal/core/units"
	"smolder/internal/core/when"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// callsOf is what calls somebody to the stoves of a household now.
func (s Room) callsOf(q *kit.Request) ([]calls.Call, error) {
	out := []calls.Call{}
	open, err := q.Home.OpenBurns(q.Ctx())
	if err != nil {
		return nil, err
	}
	for _, o := range open {
		if o.Unreadable != nil {
			continue
		}
		b, err := q.Burn(o.ID)
		if errors.Is(err, store.ErrUnreadable) || err == nil && !calls.Burns(b.Burn, s.Now()) {
			continue
		}
		if err != nil {
			return nil, err
		}
		if c, ok := calls.OfFire(b, s.Watch.Now(q.Ctx(), b, s.Now().UTC()), q.Locale()); ok {
			out = append(out, c)
		}
	}
	overdue, err := q.Endangers(0)
	if err != nil {
		return nil, err
	}
	for _, text := range overdue {
		out = append(out, calls.Overdue(text, q.Now(), q.Locale()))
	}
	if len(open) > 0 && q.Now().Hour() >= calls.Carrying {
		what, err := s.toCarry(q)
		if err != nil {
			return nil, err
		}
		if c, ok := calls.Carry(what, q.Now(), q.Locale()); ok {
			out = append(out, c)
		}
	}
	return out, nil
}

// toCarry is what tonight and tomorrow want by the stove that is not there yet.
func (s Room) toCarry(q *kit.Request) ([]string, error) {
	w, err := q.Winter()
	if err != nil {
		return nil, err
	}
	in, err := winter.InsideOf(q.Ctx(), q.Home, q.Now())
	if err != nil {
		return nil, err
	}
	usual := season.UsualAir(w.Climate, q.Now())
	if hours, ok := s.Hourly(q, q.Now(), 1); ok {
		usual = units.Celsius(hours[0].Temperature)
	}
	var out []string
	for _, l := range w.Basket(in, usual, usual, winter.UsualSticks).Lines {
		if n := l.Carry(); n > 0 {
			out = append(out, q.F("%s of %s", say.Pieces(n, q.Locale()), l.Stack.Name))
		}
	}
	return out, nil
}

// callsNow answers a page that asks what it is to call its person for.
func (s Room) callsNow(q *kit.Request) error {
	wish, err := q.Home.Calling(q.Ctx(), q.User.ID)
	if err != nil {
		return err
	}
	out := []calls.Call{}
	if wish.Wanted {
		all, err := s.callsOf(q)
		if err != nil {
			return err
		}
		for _, c := range all {
			if wishOf(wish).Wants(c, q.Now()) {
				out = append(out, c)
			}
		}
	}
	q.Header("Cache-Control", "no-store")
	q.JSON(http.StatusOK, map[string]any{"wanted": wish.Wanted, "calls": out})
	return nil
}

func wishOf(c store.Calling) calls.Wish { return calls.Wish{On: c.Wanted, Off: c.Off, Quiet: c.Quiet} }

type callsPage struct {
	kit.Page
	Form  *kit.Form
	Kinds []callKind
	Push  string // the key of whoever sends; empty: this server sends none
	Now   []calls.Call
}

type callKind struct {
	Key, Name string
	On        bool
}

func (s Room) callsForm(q *kit.Request) error {
	c, err := q.Home.Calling(q.Ctx(), q.User.ID)
	if err != nil {
		return err
	}
	f := kit.Filled()
	if c.Wanted {
		f.Values.Set("wanted", "yes")
	}
	if c.Quiet[0] != c.Quiet[1] {
		f.Values.Set("quiet", clockOf(c.Quiet[0])+"-"+clockOf(c.Quiet[1]))
	}
	for _, k := range calls.Kinds {
		if !slices.Contains(c.Off, string(k.Key)) {
			f.Values.Set("kind-"+string(k.Key), "yes")
		}
	}
	return s.showCalls(q, http.StatusOK, f)
}

func clockOf(minute int) string { return fmt.Sprintf("%02d:%02d", minute/60, minute%60) }

func (s Room) showCalls(q *kit.Request, status int, f *kit.Form) error {
	p := &callsPage{Page: kit.Page{Title: q.T("Calls"), Nav: "household"}, Form: f}
	if s.Push != nil {
		p.Push = s.Push.Public
	}
	for _, k := range calls.Kinds {
		p.Kinds = append(p.Kinds, callKind{string(k.Key), q.T(k.Name), f.Has("kind-" + string(k.Key))})
	}
	var err error
	if p.Now, err = s.callsOf(q); err != nil {
		return err
	}
	q.Show(status, "calls", p)
	return nil
}

func (s Room) saveCalls(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	c := store.Calling{Wanted: f.Has("wanted")}
	for _, k := range calls.Kinds {
		if !f.Has("kind-" + string(k.Key)) {
			c.Off = append(c.Off, string(k.Key))
		}
	}
	if f.Has("quiet") {
		c.Quiet = kit.Parse(f, "quiet", func(typed string) ([2]int, error) { return parseQuiet(typed) })
	}
	if !f.Ok() {
		return s.showCalls(q, http.StatusUnprocessableEntity, f)
	}
	if err := q.Home.SaveCalling(q.Ctx(), q.User.ID, c); err != nil {
		return err
	}
	q.Say("Kept.")
	return q.SeeOther("/calls")
}

// parseQuiet reads hours of the day in which nobody is called: "22:00-07:00".
func parseQuiet(typed string) ([2]int, error) {
	wrong := &units.ParseError{Input: typed, What: "time of quiet", Reason: "a time from and one to were expected", Try: "22:00-07:00"}
	from, to, found := strings.Cut(strings.NewReplacer("–", "-", " to ", "-").Replace(typed), "-")
	if !found {
		return [2]int{}, wrong
	}
	var out [2]int
	for i, text := range []string{from, to} {
		clock, err := when.ParseClock(strings.TrimSpace(text))
		if err != nil {
			return [2]int{}, wrong
		}
		out[i] = int(clock / time.Minute)
	}
	return out, nil
}

// addBrowser keeps a browser that a push service reaches.
func (s Room) addBrowser(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	b := store.PushBrowser{Endpoint: f.Text("endpoint"), P256dh: f.Text("p256dh"), Auth: f.Text("auth")}
	at, err := url.Parse(b.Endpoint)
	if s.Push == nil || err != nil || at.Host == "" || at.Scheme != "https" && !s.LocalWeather || len(b.Endpoint) > 2000 || b.P256dh == "" || len(b.P256dh) > 200 || b.Auth == "" ||
		len(b.Auth) > 100 {
		return kit.BadInput(q.T("That is no browser that this server could call."))
	}
	if err := q.Home.AddPushBrowser(q.Ctx(), q.User.ID, b, s.Now()); errors.Is(err, store.ErrManyBrowsers) {
		return kit.BadInput(q.T("Ten browsers of yours are called already: turn it off in one of them first."))
	} else if err != nil {
		return err
	}
	q.JSON(http.StatusOK, map[string]bool{"kept": true})
	return nil
}

func (s Room) removeBrowser(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	if err := s.Store.RemovePushBrowser(q.Ctx(), f.Text("endpoint")); err != nil {
		return err
	}
	q.JSON(http.StatusOK, map[string]bool{"kept": false})
	return nil
}

const (
	// callsEvery is how often it is looked whether somebody is to be called.
	callsEvery = time.Minute
	// callHolds is how long a push service keeps a call that it cannot deliver: after that it is
	// about another fire.
	callHolds = 15 * time.Minute
	callTakes = 10 * time.Second
)

// CallOut calls whoever wants to be called, through the push services of their browsers, until the
// context ends.
func (s Room) CallOut(ctx context.Context) {
	if s.Push == nil {
		return
	}
	tick := time.NewTicker(callsEvery)
	defer tick.Stop()
	for {
		if err := s.CallOnce(ctx); err != nil && ctx.Err() == nil {
			s.Log.WarnContext(ctx, "calls", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-tick.C:
		}
	}
}

// CallOnce looks once, and calls for what is new.
func (s Room) CallOnce(ctx context.Context) error {
	who, err := s.Store.Called(ctx)
	if err != nil {
		return err
	}
	type readers struct {
		household int64
		own       store.Own
	}
	of := map[readers][]calls.Call{}
	var failed error
	for _, c := range who {
		q, err := s.inBackground(ctx, c.Household)
		if err != nil {
			failed = errors.Join(failed, err)
			continue
		}
		q.User.Own = store.Own{Units: c.Own.Units, Language: c.Own.Language}
		as := readers{c.Household, q.User.Own}
		all, known := of[as]
		if !known {
			if all, err = s.callsOf(q); err != nil {
				failed = errors.Join(failed, err)
			}
			of[as] = all
		}
		for _, call := range all {
			if !wishOf(c.Calling).Wants(call, q.Now()) {
				continue
			}
			anew, err := s.Store.MarkCalled(ctx, c.User, call.Key, s.Now())
			if err != nil {
				return errors.Join(failed, err)
			}
			for _, b := range c.Browsers {
				if anew {
					failed = errors.Join(failed, s.push(ctx, b, call))
				}
			}
		}
	}
	return failed
}

// push sends a call to one browser; one that is not there any more is forgotten.
func (s Room) push(ctx context.Context, b store.PushBrowser, call calls.Call) error {
	text, err := json.Marshal(call)
	if err != nil {
		return err
	}
	ctx, cancel := context.WithTimeout(ctx, callTakes)
	defer cancel()
	urgency := webpush.UrgencyNormal
	if call.Urgent {
		urgency = webpush.UrgencyHigh
	}
	answer, err := webpush.SendNotificationWithContext(ctx, text, &webpush.Subscription{Endpoint: b.Endpoint, Keys: webpush.Keys{Auth: b.Auth, P256dh: b.P256dh}},
		&webpush.Options{HTTPClient: s.OutClient(), Subscriber: s.Push.Contact, VAPIDPublicKey: s.Push.Public, VAPIDPrivateKey: s.Push.Private,
			TTL: int(callHolds.Seconds()), Urgency: urgency})
	if err != nil {
		return fmt.Errorf("calling a browser: %w", err)
	}
	defer answer.Body.Close()
	switch {
	case answer.StatusCode == http.StatusGone || answer.StatusCode == http.StatusNotFound:
		return s.Store.RemovePushBrowser(ctx, b.Endpoint)
	case answer.StatusCode >= http.StatusBadRequest:
		return fmt.Errorf("calling a browser: the push service answers %s", answer.Status)
	}
	return nil
}

// inBackground is a request that nobody has made: a household as its own pages would see it.
func (s Room) inBackground(ctx context.Context, household int64) (*kit.Request, error) {
	home := s.Store.Household(household)
	profile, err := home.Profile(ctx)
	if err != nil {
		return nil, err
	}
	request, err := http.NewRequestWithContext(ctx, http.MethodGet, "/", nil)
	if err != nil {
		return nil, err
	}
	return s.AsPage(&gin.Context{Request: request}, home, profile), nil
}
