package web

import (
	"net/http"
	"sync"

	"github.com/gin-gonic/gin"

	"smolder/internal/core/plan"
)

// meters hold the searches that are under way, one a session: who waits can
// ask how far theirs is.
type meters struct {
	sync.Mutex
	running map[string]*plan.Meter
}

// meter begins to count a search for this session; done ends it.
func (q *request) meter() (m *plan.Meter, done func()) {
	key, all := q.s.sessions.Token(q.ctx()), &q.s.meters
	m = &plan.Meter{}
	all.Lock()
	defer all.Unlock()
	if all.running == nil {
		all.running = map[string]*plan.Meter{}
	}
	all.running[key] = m
	return m, func() {
		all.Lock()
		defer all.Unlock()
		if all.running[key] == m {
			delete(all.running, key)
		}
	}
}

// progress answers how many fires this session's search has burnt, and of how
// many so far; zeros when none is under way.
func (s *Server) progress(q *request) error {
	s.meters.Lock()
	m := s.meters.running[s.sessions.Token(q.ctx())]
	s.meters.Unlock()
	burnt, all := 0, 0
	if m != nil {
		burnt, all = m.Read()
	}
	q.Header("Cache-Control", "no-store")
	q.JSON(http.StatusOK, gin.H{"burnt": burnt, "of": all})
	return nil
}
