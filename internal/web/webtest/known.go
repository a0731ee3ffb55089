package webtest

import (
	"github.com/stretchr/testify/require"
)

// Short is a stove and a stack of which only the first answers are given.
func (s *Site) Short() {
	s.T.Helper()
	require.Equal(s.T, "/stoves/new", s.SetUp().To)
	stove := s.Post("/stoves", Change(Fields(s.Get("/stoves/new").Body), "volume", "55 L", "chimney-height", "6 m")...)
	require.Equal(s.T, "/wood/new", stove.To, stove.Words())
	stack := s.Post("/wood", Change(Fields(s.Get("/wood/new").Body), "lain", "2 years")...)
	require.Equal(s.T, "/plan", stack.To, stack.Words())
}
