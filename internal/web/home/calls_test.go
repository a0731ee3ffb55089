package home_test

import (
	"context"
	"crypto/aes"
	"crypto/cipher"
	"crypto/ecdh"
	"crypto/hkdf"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/binary"
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	webpush "github.com/SherClockHolmes/webpush-go"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/app/calls"
	"smolder/internal/web"
	"smolder/internal/web/webtest"
)

// What somebody wants to be called for is kept for them alone, and what they typed stays where it
// is not understood.
func TestCalls(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	now := func() (out struct {
		Wanted bool
		Calls  []calls.Call
	}) {
		got := s.Get("/calls/now")
		require.Equal(t, http.StatusOK, got.Status)
		require.NoError(t, json.Unmarshal([]byte(got.Body), &out))
		return out
	}
	assert.False(t, now().Wanted, "nobody is called who has not said so")
	assert.Empty(t, now().Calls)
	wrong := s.Post("/calls", "wanted", "yes", "kind-upkeep", "yes", "quiet", "at night")
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	assert.Contains(t, wrong.Words(), "22:00-07:00 would do")
	assert.Equal(t, "at night", webtest.FieldsOf(wrong)["quiet"])
	assert.False(t, now().Wanted)

	require.Equal(t, "/calls", s.Post("/calls", "wanted", "yes", "kind-upkeep", "yes", "kind-too-hot", "yes", "quiet", "22:00-07:00").To)
	got := now()
	assert.True(t, got.Wanted)
	require.NotEmpty(t, got.Calls, "the demo has upkeep that is overdue")
	for _, c := range got.Calls {
		assert.Equal(t, calls.Upkeep, c.Kind)
	}
	assert.Equal(t, "22:00-07:00", webtest.FieldsOf(s.Get("/calls"))["quiet"])
	s.Clock.At = time.Date(2026, 4, 10, 23, 30, 0, 0, time.UTC)
	assert.Empty(t, now().Calls, "it is night, and this can wait")
	assert.Equal(t, http.StatusUnprocessableEntity, s.Post("/calls/browser", "endpoint", "http://127.0.0.1/", "p256dh", "x", "auth", "y").Status, "there are no keys here")
	s.NewPerson()
	assert.NotEqual(t, http.StatusOK, s.Get("/calls/now").Status)
}

// Where the server has keys, a push service brings the calls: encrypted for the browser alone,
// once each, and a browser that is gone is forgotten.
func TestCallsByAPushService(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	private, public, err := webpush.GenerateVAPIDKeys()
	require.NoError(t, err)
	o := webtest.Options(s, true)
	o.Push, o.LocalWeather = &web.PushKeys{Public: public, Private: private, Contact: "mailto:keeper@example.org"}, true
	handler, err := web.New(o)
	require.NoError(t, err)
	t.Cleanup(handler.Close)
	server := httptest.NewServer(handler)
	t.Cleanup(server.Close)
	s.URL = server.URL

	type sent struct {
		header http.Header
		body   []byte
	}
	came := make(chan sent, 20)
	gone := false
	service := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		body, _ := io.ReadAll(r.Body)
		came <- sent{r.Header.Clone(), body}
		if gone {
			w.WriteHeader(http.StatusGone)
			return
		}
		w.WriteHeader(http.StatusCreated)
	}))
	t.Cleanup(service.Close)
	key, err := ecdh.P256().GenerateKey(rand.Reader)
	require.NoError(t, err)
	secret := make([]byte, 16)
	_, err = rand.Read(secret)
	require.NoError(t, err)

	require.Equal(t, http.StatusSeeOther, s.Post("/calls", "wanted", "yes", "kind-upkeep", "yes").Status)
	enc := base64.RawURLEncoding
	require.Equal(t, http.StatusOK, s.Post("/calls/browser", "endpoint", service.URL+"/browser", "p256dh", enc.EncodeToString(key.PublicKey().Bytes()),
		"auth", enc.EncodeToString(secret)).Status)
	ctx, stop := context.WithCancel(t.Context())
	done := make(chan struct{})
	go func() { handler.Meanwhile[0](ctx); close(done) }() // that which calls
	first := <-came
	stop()
	<-done
	assert.Equal(t, "aes128gcm", first.header.Get("Content-Encoding"))
	assert.True(t, strings.HasPrefix(strings.ToLower(first.header.Get("Authorization")), "vapid t="), first.header.Get("Authorization"))
	var call calls.Call
	require.NoError(t, json.Unmarshal(opened(t, first.body, key, secret), &call))
	assert.Equal(t, calls.Upkeep, call.Kind)
	assert.Equal(t, "/upkeep", call.Link)

	require.Equal(t, http.StatusSeeOther, s.Post("/calls", "wanted", "yes").Status, "nothing is wanted any more, and nothing comes")
	anew, err := s.Store.MarkCalled(t.Context(), 1, call.Key, s.Clock.Now())
	require.NoError(t, err)
	assert.False(t, anew, "it is remembered")
	who, err := s.Store.Called(t.Context())
	require.NoError(t, err)
	require.Len(t, who, 1)
	gone = true
	require.Equal(t, http.StatusOK, s.Post("/calls/browser/gone", "endpoint", service.URL+"/browser").Status)
	who, err = s.Store.Called(t.Context())
	require.NoError(t, err)
	assert.Empty(t, who)
}

// opened decrypts what a push service brings (RFC 8291 over RFC 8188), as a browser does.
func opened(t *testing.T, body []byte, key *ecdh.PrivateKey, secret []byte) []byte {
	salt, length := body[:16], int(body[20])
	_ = binary.BigEndian.Uint32(body[16:20]) // the size of a record: there is one
	theirs, text := body[21:21+length], body[21+length:]
	public, err := ecdh.P256().NewPublicKey(theirs)
	require.NoError(t, err)
	shared, err := key.ECDH(public)
	require.NoError(t, err)
	info := append([]byte("WebPush: info\x00"), append(key.PublicKey().Bytes(), theirs...)...)
	derive := func(from, salt, info []byte, n int) []byte {
		out, err := hkdf.Key(sha256.New, from, salt, string(info), n)
		require.NoError(t, err)
		return out
	}
	input := derive(shared, secret, info, 32)
	block, err := aes.NewCipher(derive(input, salt, []byte("Content-Encoding: aes128gcm\x00"), 16))
	require.NoError(t, err)
	seal, err := cipher.NewGCM(block)
	require.NoError(t, err)
	plain, err := seal.Open(nil, derive(input, salt, []byte("Content-Encoding: nonce\x00"), 12), text, nil)
	require.NoError(t, err)
	return []byte(strings.TrimRight(string(plain), "\x00\x02"))
}

// A browser installs it, and shows its calls once somebody lets it.
func TestAnApplicationOnThePhone(t *testing.T) {
	if testing.Short() {
		t.Skip("browsers are left out of a short run")
	}
	s := webtest.New(t, true)
	p := webtest.Browse(t, s, 390, 844)
	p.SignsIn()
	p.GoTo("/")
	p.Waits(`navigator.serviceWorker.controller !== null`)
	why, err := p.NotInstallable()
	require.NoError(t, err)
	for _, e := range why {
		assert.Contains(t, []string{"in-incognito", "no-url-for-service-worker"}, e, "a test's browser keeps nothing")
	}
	s.SignIn()
	burn := webtest.AtTheStove(s)
	require.Less(t, s.Post(burn+"/entries", "kind", "temperature", "place", "top", "value", "640 C").Status, http.StatusBadRequest)
	require.NoError(t, p.Allow())
	p.GoTo("/calls")
	p.Clicks(`[name="wanted"]`)
	p.Clicks(`main form[action="/calls"] button`)
	p.Sees("Kept.")
	p.Clicks("[data-calls-on]")
	p.Sees("This device calls.")
	p.Waits(`(async () => (await (await navigator.serviceWorker.ready).getNotifications()).length > 0)()`)
	p.Clicks("[data-calls-off]")
	p.Sees("This device does not call yet.")
}
