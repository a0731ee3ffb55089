package kit

import (
	"io"
	"net/http"
	"time"
)

// How long a body may take is told by its bytes and its progress, and not by a time for all
// of it: a file of 24 MB over a line of a megabit a second takes minutes and is welcome,
// and somebody who holds a place with a byte now and then is not.
const (
	bodyBegins = 20 * time.Second // until the first bytes, and what any body may take besides
	bodyRests  = 20 * time.Second // between two pieces of it
	leastPace  = 4 << 10          // bytes a second, on the whole
	answerIn   = 2 * time.Minute  // from the last of the body to the end of the answer
)

// paced gives every request its deadlines as it goes on.
func paced(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		c := http.NewResponseController(w)
		begun := time.Now()
		_ = c.SetWriteDeadline(begun.Add(answerIn))
		// Without a body there is nothing to wait for: a deadline would end whoever takes a
		// long answer, for the server reads on meanwhile to see whether he is still there.
		_ = c.SetReadDeadline(time.Time{})
		if r.Body != nil && r.Body != http.NoBody {
			_ = c.SetReadDeadline(begun.Add(bodyBegins))
			r.Body = &pacedBody{ReadCloser: r.Body, control: c, begun: begun}
		}
		next.ServeHTTP(w, r)
	})
}

// A pacedBody moves the deadlines on with what arrives.
type pacedBody struct {
	io.ReadCloser
	control *http.ResponseController
	begun   time.Time
	read    int64
}

func (p *pacedBody) Read(b []byte) (int, error) {
	n, err := p.ReadCloser.Read(b)
	p.read += int64(n)
	now := time.Now()
	if err == nil {
		// Both: it must not rest, and must keep its pace on the whole.
		allowed := p.begun.Add(bodyBegins + time.Duration(float64(p.read)/leastPace*float64(time.Second)))
		_ = p.control.SetReadDeadline(earlier(now.Add(bodyRests), allowed))
	} else {
		_ = p.control.SetReadDeadline(time.Time{}) // what follows is the answer
	}
	_ = p.control.SetWriteDeadline(now.Add(answerIn))
	return n, err
}

func earlier(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}
