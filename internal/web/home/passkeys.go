package home

import (
	"encoding/base64"
	"encoding/binary"
	"encoding/json"
	"errors"
	"net"
	"net/http"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"smolder/internal/core/units"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// Passkeys (WebAuthn level 3) beside passwords: a device keeps a key for this address alone and signs
// with it once its owner has shown that it is they. Nothing that is kept here lets anybody in.

const (
	sessionMaking = "passkey is made"  // what was asked of a device that makes one
	sessionAsked  = "passkey is asked" // of one that signs in
	passkeyLasts  = 5 * time.Minute    // that a device may take
	passkeyTries  = 30                 // sign-ins from one address, likewise
	mostPasskeyID = 1023               // bytes, of the standard
)

// relying is who a passkey is for: this site as its browser knows it. Where the address is a number
// and no name, browsers make none: nil.
func (s Room) relying(r *http.Request) (*webauthn.WebAuthn, error) {
	host, _, err := net.SplitHostPort(r.Host)
	if err != nil {
		host = r.Host
	}
	if net.ParseIP(host) != nil {
		return nil, nil
	}
	scheme := "http://"
	if s.Secure || r.TLS != nil {
		scheme = "https://"
	}
	limit := webauthn.TimeoutConfig{Enforce: true, Timeout: passkeyLasts, TimeoutUVD: passkeyLasts}
	return webauthn.New(&webauthn.Config{RPID: host, RPDisplayName: "Smolder", RPOrigins: []string{scheme + r.Host},
		AuthenticatorSelection: protocol.AuthenticatorSelection{ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired},
		Timeouts:               webauthn.TimeoutsConfig{Login: limit, Registration: limit}})
}

// A keeper is somebody who has passkeys, as the library asks of them.
type keeper struct {
	user store.User
	keys []webauthn.Credential
}

// WebAuthnID is by what a device remembers who somebody is here: their number.
func (k keeper) WebAuthnID() []byte { return binary.BigEndian.AppendUint64(nil, uint64(k.user.ID)) } //nolint:gosec // a number of the database's

// WebAuthnName is what the device shows.
func (k keeper) WebAuthnName() string { return k.user.Name }

// WebAuthnDisplayName likewise.
func (k keeper) WebAuthnDisplayName() string { return k.user.Name }

// WebAuthnCredentials are all of theirs.
func (k keeper) WebAuthnCredentials() []webauthn.Credential { return k.keys }

func (s Room) keeper(q *kit.Request, user store.User) (keeper, error) {
	k := keeper{user: user}
	kept, err := s.Store.Passkeys(q.Ctx(), user.ID)
	for _, p := range kept {
		var c webauthn.Credential
		if json.Unmarshal(p.Credential, &c) == nil {
			k.keys = append(k.keys, c)
		}
	}
	return k, err
}

type passkeysPage struct {
	kit.Page
	Kept []passkeyRow
	Can  bool // the address has a name, so that browsers make them
}

type passkeyRow struct{ Key, Name, Made, Used string }

func (s Room) passkeys(q *kit.Request) error {
	kept, err := s.Store.Passkeys(q.Ctx(), q.User.ID)
	if err != nil {
		return err
	}
	site, err := s.relying(q.Request)
	if err != nil {
		return err
	}
	p := &passkeysPage{Page: kit.Page{Title: q.T("Sign in without a password")}, Can: site != nil}
	for _, k := range kept {
		row := passkeyRow{Key: base64.RawURLEncoding.EncodeToString(k.ID), Name: k.Name, Made: q.DayWord(k.MadeAt)}
		if k.UsedAt != nil {
			row.Used = q.DayWord(*k.UsedAt)
		}
		p.Kept = append(p.Kept, row)
	}
	q.Show(http.StatusOK, "passkeys", p)
	return nil
}

// noPasskeys is said where the address is a number.
func noPasskeys(q *kit.Request) error {
	return kit.BadInput(q.T("Browsers make passkeys only for an address with a name, such as https://wood.example or http://localhost:8420; this one is a number."))
}

// askForPasskey begins to make one: what the device is asked.
func (s Room) askForPasskey(q *kit.Request) error {
	site, err := s.relying(q.Request)
	if err != nil {
		return err
	}
	if site == nil {
		return noPasskeys(q)
	}
	k, err := s.keeper(q, q.User)
	if err != nil {
		return err
	}
	if len(k.keys) >= store.MostPasskeys {
		return kit.BadInput(q.F("You have %d passkeys, which is as many as there may be: remove one first.", store.MostPasskeys))
	}
	asked, session, err := site.BeginRegistration(k, webauthn.WithExclusions(webauthn.Credentials(k.keys).CredentialDescriptors()))
	if err != nil {
		return err
	}
	return s.ask(q, sessionMaking, session, asked)
}

// ask remembers what a device is asked, and asks it.
func (s Room) ask(q *kit.Request, as string, session *webauthn.SessionData, asked any) error {
	text, err := json.Marshal(session)
	if err != nil {
		return err
	}
	s.Sessions.Put(q.Ctx(), as, string(text))
	q.JSON(http.StatusOK, asked)
	return nil
}

// asked is what the device was asked, once.
func (s Room) asked(q *kit.Request, as string) (out webauthn.SessionData, ok bool) {
	text := s.Sessions.PopString(q.Ctx(), as)
	return out, text != "" && json.Unmarshal([]byte(text), &out) == nil
}

// addPasskey keeps what the device made.
func (s Room) addPasskey(q *kit.Request) error {
	site, err := s.relying(q.Request)
	if err != nil {
		return err
	}
	asked, ok := s.asked(q, sessionMaking)
	wrong := kit.BadInput(q.T("This passkey could not be kept. Begin once more; nothing was changed."))
	if site == nil || !ok {
		return wrong
	}
	name := q.Query("name")
	if units.FaultOfName(name) != units.GoodName {
		name = agentWord(agentOf(q.Request), q.Locale())
	}
	k, err := s.keeper(q, q.User)
	if err != nil {
		return err
	}
	made, err := site.FinishRegistration(k, asked, q.Request)
	if err != nil || len(made.ID) > mostPasskeyID {
		return wrong
	}
	text, err := json.Marshal(made)
	if err != nil {
		return err
	}
	err = s.Store.AddPasskey(q.Ctx(), q.User.ID, store.Passkey{ID: made.ID, Name: name, Credential: text, MadeAt: s.Now()})
	switch {
	case errors.Is(err, store.ErrMany):
		return kit.BadInput(q.F("You have %d passkeys, which is as many as there may be: remove one first.", store.MostPasskeys))
	case errors.Is(err, store.ErrTaken):
		return kit.BadInput(q.T("This device has a passkey here already."))
	case err != nil:
		return err
	}
	q.Say("Kept: this device signs you in without a password.")
	q.JSON(http.StatusOK, map[string]bool{"kept": true})
	return nil
}

func (s Room) removePasskey(q *kit.Request) error {
	id, err := base64.RawURLEncoding.DecodeString(q.Param("key"))
	if err != nil {
		return store.ErrMissing
	}
	if err := s.Store.RemovePasskey(q.Ctx(), q.User.ID, id); err != nil {
		return err
	}
	q.Say("Removed. The device may still offer it; it opens nothing here.")
	return q.SeeOther("/household/passkeys")
}

// askWho asks a device who it signs in; it shows its owner those it has for this address.
func (s Room) askWho(q *kit.Request) error {
	site, err := s.relying(q.Request)
	if err != nil {
		return err
	}
	if site == nil {
		return noPasskeys(q)
	}
	asked, session, err := site.BeginDiscoverableLogin()
	if err != nil {
		return err
	}
	return s.ask(q, sessionAsked, session, asked)
}

// signInBy signs in whoever's device has signed what it was asked.
func (s Room) signInBy(q *kit.Request) error {
	site, err := s.relying(q.Request)
	if err != nil {
		return err
	}
	asked, ok := s.asked(q, sessionAsked)
	unknown := kit.Answer(http.StatusUnprocessableEntity, q.T("This passkey opens nothing here. Sign in with your password, and make one under Household."))
	if site == nil || !ok {
		return unknown
	}
	full, taken, err := s.Store.Attempt(q.Ctx(), s.Now(), store.Limit{Key: "passkey from " + s.address(q.Request), Most: passkeyTries, Within: passkeyLasts})
	if err != nil {
		return err
	}
	if full != nil {
		return kit.Answer(http.StatusTooManyRequests, q.T("Too many tries: wait ")+q.Locale().Duration(full.Within)+q.T(" and try again."))
	}
	var silent error // the database's, which the library would take for nobody
	who, key, err := site.FinishPasskeyLogin(func(_, handle []byte) (webauthn.User, error) {
		if len(handle) != 8 {
			return nil, store.ErrMissing
		}
		user, err := s.Store.User(q.Ctx(), int64(binary.BigEndian.Uint64(handle))) //nolint:gosec // one that is not there is missing
		if err != nil {
			if !errors.Is(err, store.ErrMissing) {
				silent = err
			}
			return nil, err
		}
		return s.keeper(q, user)
	}, asked, q.Request)
	if silent != nil {
		return silent
	}
	k, known := who.(keeper)
	// A key that counts backwards was copied: what it signs is worth nothing.
	if err != nil || !known || key.Authenticator.CloneWarning {
		return unknown
	}
	text, err := json.Marshal(key)
	if err != nil {
		return err
	}
	if err := errors.Join(s.Store.UsedPasskey(q.Ctx(), k.user.ID, key.ID, text, s.Now()), s.Store.Forgive(q.Ctx(), taken),
		s.Store.Remember(q.Ctx(), k.user.ID, s.address(q.Request), s.Now())); err != nil {
		return err
	}
	q.KeepColours(k.user.Colours)
	back := q.Query("back")
	if !within(back) {
		back = "/"
	}
	if err := s.begin(q, k.user.ID); err != nil {
		return err
	}
	q.JSON(http.StatusOK, map[string]string{"to": back})
	return nil
}
