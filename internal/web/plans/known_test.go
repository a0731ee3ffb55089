package plans_test

import (
	"net/http"
	"net/url"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/web/webtest"
)

// The first click of the sentence as it comes makes a plan, whatever burns: a stove in which
// nothing does, else the next load of one that does, when it should be down to coals.
func TestTheSentenceKnows(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	begin := func(query string) map[string]string { return webtest.FieldsOf(s.Get("/plan" + query)) }
	free := begin("")["stove"]
	require.NotEmpty(t, free)
	first := s.Post("/plan", webtest.Fields(s.Get("/plan").Body)...)
	require.Equal(t, http.StatusSeeOther, first.Status, first.Words())
	s.Post("/stove", "stove", free, "start", "good-coals", "room", "18 C", "outdoor", "2 C")
	assert.NotEqual(t, free, begin("")["stove"], "what burns is not lit again")
	page := s.Get("/plan?stove=" + free)
	assert.Contains(t, page.Words(), "This is for its next load")
	assert.NotEqual(t, "cold", webtest.FieldsOf(page)["start"])
	next := s.Post("/plan", webtest.Fields(page.Body)...)
	assert.Equal(t, http.StatusSeeOther, next.Status, next.Words())

	// Who said at this hour when somebody is there need not say it again.
	q := url.Values{}
	for name, value := range begin("") {
		q.Set(name, value)
	}
	q.Set("there", "until 23:59")
	require.Equal(t, http.StatusOK, s.Wish("/plan?"+q.Encode()).Status)
	assert.Equal(t, "until 23:59", begin("")["there"])
	s.Clock.At = s.Clock.Now().Add(7 * time.Hour)
	assert.NotEqual(t, "until 23:59", begin("")["there"], "at another hour other people are in")
}

// What was understood of a word is said while it is typed, by what stands beside it.
func TestWhatIsUnderstoodOfTheSentence(t *testing.T) {
	s := webtest.New(t, true)
	s.SignIn()
	ask := func(kind, typed string, beside ...string) webtest.Answer {
		q := url.Values{"kind": {kind}, "typed": {typed}}
		for i := 0; i+1 < len(beside); i += 2 {
			q.Set(beside[i], beside[i+1])
		}
		return s.Get("/understand?" + q.Encode())
	}
	for _, c := range []struct{ kind, typed, begin, says string }{
		{"until", "till ten", "tomorrow 18:00", "4 h, until 22:00"},
		{"until", "bedtime", "tomorrow 18:00", "4 h 30 min, until 22:30"},
		{"until", "all night", "tomorrow 22:00", "8 h 30 min, until 06:30"},
		{"there", "until bedtime", "tomorrow 18:00", "until 22:30"},
		{"there", "all the time", "", "all the time"},
		{"felt", "chilly", "", "17"},
		{"outdoors", "forecast", "", "hour by hour"},
	} {
		got := ask(c.kind, c.typed, "begin", c.begin, "low", "19 °C", "high", "21.5 °C")
		require.Equal(t, http.StatusOK, got.Status, c.typed)
		assert.Contains(t, got.Body, c.says, c.typed)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, ask("until", "soon").Status)
	assert.Equal(t, http.StatusUnprocessableEntity, ask("felt", "so-so").Status)
}

// In German the sentence as it comes makes a plan too: what stands in its fields is understood as
// it is written.
func TestTheSentenceInGerman(t *testing.T) {
	s := webtest.InGerman(t)
	s.SignIn()
	fields := webtest.FieldsOf(s.Get("/plan"))
	assert.Equal(t, "jetzt", fields["begin"])
	assert.Equal(t, "die ganze Zeit", fields["there"])
	assert.Equal(t, "Vorhersage", fields["outdoor"])
	made := s.Post("/plan", webtest.Change(webtest.Fields(s.Get("/plan").Body), "room", "kühl", "for", "bis halb elf")...)
	require.Equal(t, http.StatusSeeOther, made.Status, made.Words())
	words := s.Get(made.To).Words()
	assert.Contains(t, words, "Was zu tun ist")
	assert.Contains(t, words, "Kein Thermometer sagt, wie warm der Raum ist")
	wrong := s.Post("/plan", webtest.Change(webtest.Fields(s.Get("/plan").Body), "for", "bald")...)
	assert.Equal(t, http.StatusUnprocessableEntity, wrong.Status)
	assert.Equal(t, "bald", webtest.FieldsOf(wrong)["for"])
}
