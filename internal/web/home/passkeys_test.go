package home_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// A device makes a passkey and signs in with it, to where its owner wanted to; removed, it opens
// nothing; the same device makes no second one.
func TestPasskeys(t *testing.T) {
	s := webtest.New(t, true)
	s.URL = strings.Replace(s.URL, "127.0.0.1", "localhost", 1) // browsers make none for a number
	p := webtest.Browse(t, s, 1280, 800)
	require.NoError(t, p.Keyring())
	p.SignsIn()
	p.GoTo("/household/passkeys")
	p.Sees("You have none yet")
	p.Must(p.Fill("[data-passkey-make] input", "the phone in the kitchen"))
	p.Clicks("[data-passkey-make] button")
	p.Sees("this device signs you in without a password")
	p.Sees("the phone in the kitchen")
	p.Sees("not used yet")
	p.Clicks("[data-passkey-make] button")
	p.Sees("This device has a passkey here already")

	signOut := func() {
		p.GoTo("/household")
		p.Clicks(`form[action="/sign-out"] button`)
		p.Must(p.WaitPath("^/sign-in"))
	}
	signOut()
	p.GoTo("/wood")
	p.Must(p.WaitPath("^/sign-in"))
	p.Clicks("[data-passkey-enter] button")
	p.Must(p.WaitPath("^/wood$"))
	p.GoTo("/household/passkeys")
	p.Sees("used last")
	p.Fits("passkeys")
	p.Clicks(`[aria-label="Remove the phone in the kitchen"]`)
	p.Sees("it opens nothing here")
	signOut()
	p.Clicks("[data-passkey-enter] button")
	p.Sees("This passkey opens nothing here")

	s.URL = strings.Replace(s.URL, "localhost", "127.0.0.1", 1)
	assert.NotContains(t, s.Get("/sign-in").Body, "data-passkey-enter")
	s.SignIn()
	assert.Contains(t, s.Get("/household/passkeys").Words(), "The one you came by is a number")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/household/passkeys/ask").Status)
}

// What nobody has signed opens nothing, what was not asked is not kept, and whoever tries often waits.
func TestForgedPasskeys(t *testing.T) {
	s := webtest.New(t, true)
	s.URL = strings.Replace(s.URL, "127.0.0.1", "localhost", 1)
	send := func(path, body string) webtest.Answer {
		r, err := http.NewRequest(http.MethodPost, s.URL+path, strings.NewReader(body))
		require.NoError(t, err)
		r.Header.Set("Content-Type", "application/json")
		r.Header.Set("Accept", "application/json")
		r.Header.Set("Origin", s.URL)
		return s.Do(r)
	}
	const forged = `{"id": "AAAA", "rawId": "AAAA", "type": "public-key", "response": {"clientDataJSON": "e30", "authenticatorData": "AAAA", "signature": "AAAA", "userHandle": "AAAAAAAAAAE"}}`
	got := send("/sign-in/passkey", forged)
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status, "nobody was asked")
	for _, body := range []string{forged, `{}`, `no JSON`, ""} {
		require.Equal(t, http.StatusOK, send("/sign-in/passkey/ask", "").Status)
		got = send("/sign-in/passkey", body)
		assert.Equal(t, http.StatusUnprocessableEntity, got.Status, body)
		assert.Contains(t, got.Body, "opens nothing here")
		assert.Equal(t, http.StatusSeeOther, s.Get("/wood").Status, "still not signed in")
	}
	for range 40 {
		require.Equal(t, http.StatusOK, send("/sign-in/passkey/ask", "").Status)
		got = send("/sign-in/passkey", forged)
	}
	assert.Equal(t, http.StatusTooManyRequests, got.Status)

	s.SignIn()
	got = send("/household/passkeys", forged)
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status, "nothing was asked")
	require.Equal(t, http.StatusOK, send("/household/passkeys/ask", "").Status)
	got = send("/household/passkeys", forged)
	assert.Equal(t, http.StatusUnprocessableEntity, got.Status)
	assert.Contains(t, got.Body, "nothing was changed")
	assert.Zero(t, webtest.Count(s, "passkeys"))
	assert.Equal(t, http.StatusNotFound, s.Post("/household/passkeys/AAAA/remove").Status)
	assert.Equal(t, http.StatusNotFound, s.Post("/household/passkeys/not-a-key!/remove").Status)
}
