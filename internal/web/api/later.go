package api

import (
	"crypto/sha256"
	"errors"
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"smolder/internal/store"
)

const (
	// mostKnown is how many tokens are remembered.
	mostKnown = 100_000
	// knownFor is how long a token counts as known after it was last shown while the database
	// answered.
	knownFor = 24 * time.Hour
	// answersWithin is how long the database may take to know a token where readings can wait
	// in a message log instead.
	answersWithin = 5 * time.Second
)

// known are tokens that may send readings, as the database said lately: while it is away their
// readings may wait in the message log, and nobody else's.
type known struct {
	mu sync.Mutex
	of map[[sha256.Size]byte]time.Time
}

// saw remembers a token, or forgets one that is not known any more.
func (k *known) saw(token string, good bool, now time.Time) {
	k.mu.Lock()
	defer k.mu.Unlock()
	if k.of == nil || len(k.of) >= mostKnown {
		k.of = map[[sha256.Size]byte]time.Time{} // the next time each is shown it is there again
	}
	if good {
		k.of[sha256.Sum256([]byte(token))] = now
	} else {
		delete(k.of, sha256.Sum256([]byte(token)))
	}
}

// has tells whether a token was shown lately, and was good.
func (k *known) has(token string, now time.Time) bool {
	k.mu.Lock()
	defer k.mu.Unlock()
	at, there := k.of[sha256.Sum256([]byte(token))]
	return there && now.Sub(at) < knownFor
}

// later hands readings to the message log where the database does not answer; false: it is not
// for that, or the log is away too, and the error is to be told.
func (r Room) later(c *gin.Context, token string, err error, text func() ([]byte, error)) bool {
	if r.Later == nil || !store.Silent(err) || !r.known.has(token, r.Now()) {
		return false
	}
	body, err := text()
	if err == nil {
		err = r.Later.Put(c.Request.Context(), token, c.GetHeader("Content-Type"), body)
	}
	if err != nil {
		var no *refusal
		if !errors.As(err, &no) {
			r.Log.WarnContext(c.Request.Context(), "readings for the message log", "error", err)
		}
		return false
	}
	c.JSON(http.StatusAccepted, map[string]any{"waits": true,
		"detail": "The database does not answer just now: these readings are written down and are kept when it does. There is no need to send them again."})
	return true
}
