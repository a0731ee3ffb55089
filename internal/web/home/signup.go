package home

import (
	"errors"
	"net/http"

	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// Where the host of a server allows it, a household comes to one where others live already: whoever
// has a code of the host's, or whoever likes to.

// signUpForm asks who founds a household.
func (s Room) signUpForm(q *kit.Request) error {
	how, err := s.signsUp(q)
	if err != nil {
		return err
	}
	q.Header("Referrer-Policy", "no-referrer") // a code stands in the address
	q.Show(http.StatusOK, "setup", newSetupPage(kit.Filled("household", q.T("our house"), "zone", "UTC", "units", "metric", "code", q.Query("code")), how))
	return nil
}

// signUp founds one.
func (s Room) signUp(q *kit.Request) error {
	how, err := s.signsUp(q)
	if err != nil {
		return err
	}
	return s.founds(q, how)
}

// signsUp is how a household comes to this server; an answer where none does.
func (s Room) signsUp(q *kit.Request) (founding, error) {
	if !s.takesIn() {
		return founding{}, kit.Answer(http.StatusForbidden, q.T("No households are taken in here. Ask whoever runs this server, or run one of your own."))
	}
	return founding{Action: "/sign-up", code: s.SignUp == store.Invited, missing: q.T("the code is missing: whoever runs this server gives you one"),
		wrong: q.T("that code lets nobody in: it was used, it has ended, or a letter of it is wrong"),
		create: func(f *kit.Form, p store.Profile, first store.Space, owner, hash string) (int64, error) {
			_, user, err := s.Store.SignUp(q.Ctx(), s.SignUp, f.Text("code"), s.MostHouseholds, s.Now(), p, first, owner, hash)
			if errors.Is(err, store.ErrClosed) {
				return 0, kit.Answer(http.StatusForbidden, q.F("As many households live here as this server takes: %d. Ask whoever runs it.", s.MostHouseholds))
			}
			return user, err
		}}, nil
}

// takesIn tells whether a household may begin here.
func (s Room) takesIn() bool { return s.SignUp == store.Invited || s.SignUp == store.OpenTo }
