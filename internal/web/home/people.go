package home

import (
	"errors"
	"html/template"
	"net/http"
	"slices"
	"time"

	"smolder/internal/lang"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// roles are what somebody may be, with their words.
var roles = []kit.Choice{
	{Value: string(store.Member), Label: "member: fires, wood, upkeep"},
	{Value: string(store.Looks), Label: "looks only: changes nothing"},
	{Value: string(store.Owner), Label: "owner: everything, and who is in"},
}

// roleWords are they in a list.
var roleWords = map[store.Role]lang.Message{store.Owner: "owner", store.Member: "member", store.Looks: "looks only"}

// asksIn is what the page of an invitation says first.
var asksIn = map[store.Role]lang.Message{
	store.Owner: "%s asks you in, as an owner.", store.Member: "%s asks you in, as a member.", store.Looks: "%s asks you in, to look on.",
}

// lasts are for how long an invitation may stand.
var lasts = []struct {
	kit.Choice
	For time.Duration
}{
	{kit.Choice{Value: "day", Label: "for a day"}, 24 * time.Hour},
	{kit.Choice{Value: "hour", Label: "for an hour"}, time.Hour},
	{kit.Choice{Value: "week", Label: "for a week"}, 7 * 24 * time.Hour},
}

type peoplePage struct {
	kit.Page
	People  []personLine
	Owner   bool // who asks may change them
	Alone   bool // there is nobody else
	Form    *kit.Form
	Roles   []kit.Option
	Lasts   []kit.Option
	Invited []invitedLine
	Link    string        // of the invitation that was just made; it is shown once
	Code    template.HTML // the same as a pattern that a phone reads
	Wrong   string
}

type personLine struct {
	ID               int64
	Name, Role, Seen string
	Me               bool
	Others           []kit.Option // what they may be, chosen what they are
}

type invitedLine struct {
	ID              int64
	Role, By, Until string
}

// clockDay is a moment in words: its day and its clock.
func clockDay(q *kit.Request, at time.Time) string {
	return q.Locale().Date(at.In(q.Profile.Location()), "2 January 2006, 15:04")
}

func (s Room) showPeople(q *kit.Request, status int, f *kit.Form, link, wrong string) error {
	p := &peoplePage{Page: kit.Page{Title: q.T("People"), Nav: "household"}, Owner: q.User.Role == store.Owner, Form: f, Link: link, Wrong: wrong}
	people, err := q.Home.People(q.Ctx())
	if err != nil {
		return err
	}
	p.Alone = len(people) == 1
	if link != "" {
		if p.Code, err = kit.Code(link, q.T("The link, for the camera of a phone")); err != nil {
			return err
		}
	}
	for _, one := range people {
		line := personLine{ID: one.ID, Name: one.Name, Role: q.T(roleWords[one.Role]), Me: one.ID == q.User.ID, Others: kit.Said(roles, q.Locale())}
		for i := range line.Others {
			line.Others[i].Chosen = line.Others[i].Value == string(one.Role)
		}
		if one.Seen.Valid {
			line.Seen = q.DayWord(one.Seen.V)
		}
		p.People = append(p.People, line)
	}
	if !p.Owner {
		q.Show(status, "people", p)
		return nil
	}
	p.Roles = kit.Said(roles, q.Locale())
	for _, l := range lasts {
		p.Lasts = append(p.Lasts, kit.Option{Value: l.Value, Label: q.T(l.Label)})
	}
	invited, err := q.Home.Invitations(q.Ctx(), s.Now())
	if err != nil {
		return err
	}
	for _, in := range invited {
		p.Invited = append(p.Invited, invitedLine{in.ID, q.T(roleWords[in.Role]), in.By, clockDay(q, in.Ends)})
	}
	q.Show(status, "people", p)
	return nil
}

func (s Room) people(q *kit.Request) error {
	return s.showPeople(q, http.StatusOK, kit.Filled("role", string(store.Member), "lasts", "day"), "", "")
}

// parseRole reads a role of the list.
func parseRole(loc lang.Locale) func(string) (store.Role, error) {
	return func(typed string) (store.Role, error) {
		if r := store.Role(typed); slices.Contains(store.Roles, r) {
			return r, nil
		}
		return "", errors.New(loc.T("There is no such role: owner, member or looks only would do."))
	}
}

// invite makes a link for one more person, and shows it once.
func (s Room) invite(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	role := kit.Parse(f, "role", parseRole(q.Locale()))
	stands := time.Duration(0)
	for _, l := range lasts {
		if l.Value == f.Text("lasts") {
			stands = l.For
		}
	}
	if stands == 0 {
		f.Wrong("lasts", q.T("An invitation stands for an hour, a day or a week."))
	}
	if !f.Ok() {
		return s.showPeople(q, http.StatusUnprocessableEntity, f, "", "")
	}
	token, err := q.Home.Invite(q.Ctx(), role, s.Now(), s.Now().Add(stands))
	if errors.Is(err, store.ErrMany) {
		f.Wrong("role", q.F("A household has up to %d people and %d open invitations: take one back first.", store.MostPeople, store.MostInvitations))
		return s.showPeople(q, http.StatusConflict, f, "", "")
	}
	if err != nil {
		return err
	}
	return s.showPeople(q, http.StatusOK, f, q.Address()+"/join/"+token, "")
}

func (s Room) withdraw(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if err := q.Home.Withdraw(q.Ctx(), id); err != nil {
		return err
	}
	q.Say("That invitation lets nobody in any more.")
	return q.SeeOther("/household/people")
}

const saysLastOwner lang.Message = "Somebody must be owner. Make somebody else owner first."

// changeRole makes somebody an owner, a member, or one who looks on: a household is handed over by it.
func (s Room) changeRole(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	f, err := q.Form()
	if err != nil {
		return err
	}
	role, err := parseRole(q.Locale())(f.Text("role"))
	if err != nil {
		return kit.BadInput(err.Error())
	}
	switch err := q.Home.SetRole(q.Ctx(), id, role); {
	case errors.Is(err, store.ErrLastOwner):
		return s.showPeople(q, http.StatusConflict, kit.Filled("role", string(store.Member), "lasts", "day"), "", q.T(saysLastOwner))
	case err != nil:
		return err
	}
	q.Say("Kept.")
	return q.SeeOther("/household/people")
}

// letGo takes somebody out of the household.
func (s Room) letGo(q *kit.Request) error {
	id, err := q.ID("id")
	if err != nil {
		return err
	}
	if id == q.User.ID {
		return s.leave(q)
	}
	switch err := q.Home.RemovePerson(q.Ctx(), id); {
	case errors.Is(err, store.ErrLastOwner):
		return s.showPeople(q, http.StatusConflict, kit.Filled(), "", q.T(saysLastOwner))
	case err != nil:
		return err
	}
	q.Say("They are signed out everywhere. What they logged keeps their name.")
	return q.SeeOther("/household/people")
}

// leave takes whoever asks out of the household.
func (s Room) leave(q *kit.Request) error {
	switch err := q.Home.RemovePerson(q.Ctx(), q.User.ID); {
	case errors.Is(err, store.ErrLastOwner):
		return s.showPeople(q, http.StatusConflict, kit.Filled("role", string(store.Member), "lasts", "day"), "", q.T(saysLastOwner))
	case err != nil:
		return err
	}
	if err := s.Sessions.Destroy(q.Ctx()); err != nil {
		return err
	}
	return q.SeeOther("/sign-in")
}

type joinPage struct {
	kit.Page
	Form     *kit.Form
	Gone     bool // the invitation has ended, or was used
	Somebody bool // is signed in already in this browser
	House    string
	Asks     string // who asks whom in, and as what
	Until    string
	Kinds    []kit.Option
}

// invitation is that of a link, with its household; nil: it lets nobody in any more.
func (s Room) invitation(q *kit.Request, f *kit.Form) (*joinPage, error) {
	p := &joinPage{Page: kit.Page{Title: q.T("Join")}, Form: f, Somebody: s.Sessions.GetInt64(q.Ctx(), store.SessionUser) != 0}
	in, err := s.Store.Invited(q.Ctx(), q.Param("token"), s.Now())
	if errors.Is(err, store.ErrMissing) {
		p.Gone = true
		return p, nil
	}
	if err != nil {
		return nil, err
	}
	home, err := s.Store.Household(in.Household).Profile(q.Ctx())
	if err != nil {
		return nil, err
	}
	p.House, p.Asks = home.Name, q.F(asksIn[in.Role], in.By)
	p.Until = q.Locale().Date(in.Ends.In(home.Location()), "2 January 2006, 15:04")
	p.Kinds = append([]kit.Option{{Value: "", Label: q.T("as the household has them")}}, unitOptions(q.Locale())...)
	return p, nil
}

func (p *joinPage) status(ok int) int {
	if p.Gone {
		return http.StatusGone
	}
	return ok
}

func (s Room) joinForm(q *kit.Request) error {
	p, err := s.invitation(q, kit.Filled())
	if err != nil {
		return err
	}
	q.Header("Referrer-Policy", "no-referrer") // whoever knows the address gets in by it
	q.Show(p.status(http.StatusOK), "join", p)
	return nil
}

// join makes a user by an invitation, and signs them in.
func (s Room) join(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	name := f.Name("name", "your-name")
	own := store.Own{}
	if f.Has("units") {
		own.Units = kit.Parse(f, "units", parseUnits)
	}
	password := f.Values.Get("password")
	f.Values.Del("password")
	if text := PasswordProblem(password, q.Locale()); text != "" {
		f.Wrong("password", text)
	}
	p, err := s.invitation(q, f)
	if err != nil {
		return err
	}
	refuse := func(status int) error {
		q.Show(p.status(status), "join", p)
		return nil
	}
	if p.Gone || !f.Ok() {
		return refuse(http.StatusUnprocessableEntity)
	}
	full, _, err := s.Store.Attempt(q.Ctx(), s.Now(), store.Limit{Key: "join from " + s.address(q.Request), Most: setupsAddress, Within: guessesAddrIn})
	if err != nil {
		return err
	}
	if full != nil {
		f.Wrong("name", q.T("too many tries from here; wait ten minutes"))
		return refuse(http.StatusTooManyRequests)
	}
	hash, err := s.hashInTurn(q.Ctx(), password)
	if err != nil {
		return kit.Answer(http.StatusServiceUnavailable, q.T("Many people are signing in just now; try again in a moment."))
	}
	user, err := s.Store.Join(q.Ctx(), q.Param("token"), name, hash, s.Now())
	switch {
	case errors.Is(err, store.ErrTaken):
		f.Wrong("name", q.T("somebody on this server has that name already; another one would do"))
		return refuse(http.StatusConflict)
	case errors.Is(err, store.ErrMissing):
		p.Gone = true
		return refuse(http.StatusGone)
	case errors.Is(err, store.ErrMany):
		f.Wrong("name", q.F("this household has its %d people already; its owner can make room", store.MostPeople))
		return refuse(http.StatusConflict)
	case err != nil:
		return err
	}
	if own != (store.Own{}) {
		if err := s.Store.SaveOwn(q.Ctx(), user, own); err != nil {
			return err
		}
	}
	return s.enter(q, user, "/", "")
}

// saveOwn keeps how whoever asks reads.
func (s Room) saveOwn(q *kit.Request) error {
	f, err := q.Form()
	if err != nil {
		return err
	}
	own := q.User.Own
	own.Units = ""
	if f.Has("own-units") {
		own.Units = kit.Parse(f, "own-units", parseUnits)
	}
	if f.Values.Has("own-language") {
		own.Language = kit.Parse(f, "own-language", s.parseLanguage(q.Locale()))
	}
	own.Colours = f.Text("colours")
	if !kit.IsColour(own.Colours) {
		f.Wrong("colours", q.T("There are no such colours here: one of the list would do."))
	}
	if !f.Ok() {
		return kit.BadInput(f.First())
	}
	if err := s.Store.SaveOwn(q.Ctx(), q.User.ID, own); err != nil {
		return err
	}
	q.KeepColours(own.Colours)
	q.Say("Kept.")
	return q.SeeOther("/household")
}

// ownPaths are what everybody may send, whatever their role: it changes only what is their own.
var ownPaths = []string{"/sign-out", "/household/own", "/household/password", "/household/leave", "/household/sessions/:key/end", "/household/sessions/end",
	"/household/passkeys", "/household/passkeys/ask", "/household/passkeys/:key/remove", "/calls", "/calls/browser", "/calls/browser/gone",
	"/practice", "/practice/:id/do", "/practice/:id/again", "/practice/:id/go"}

// ownersPaths are what only an owner may send.
var ownersPaths = []string{"/household", "/household/archive", "/household/leaving", "/household/invitations",
	"/household/invitations/:id/withdraw", "/household/people/:id/role", "/household/people/:id/go",
	"/stoves/:id/tokens", "/stoves/:id/tokens/:token/revoke"}

// May tells whether a role may send something to a path, as a route has it.
func May(r store.Role, method, path string) bool {
	switch {
	case method == http.MethodGet, method == http.MethodHead, slices.Contains(ownPaths, path), r == store.Owner:
		return true
	case r == store.Member:
		return !slices.Contains(ownersPaths, path)
	}
	return false
}

const (
	saysLooks  lang.Message = "You look on here, so nothing was changed. An owner can make you a member, under Household, People."
	saysOwners lang.Message = "Only an owner changes this, so nothing was changed. Household, People says who is owner."
)

// refused is the answer to who may not.
func refused(q *kit.Request) error {
	says := saysOwners
	if q.User.Role == store.Looks {
		says = saysLooks
	}
	return kit.Answer(http.StatusForbidden, q.T(says))
}
