package storetest

import (
	"context"
	"io"
	"net"
	"net/url"
	"sync"
	"testing"

	"github.com/stretchr/testify/require"

	"smolder/internal/store"
)

// A Wire is what a store hangs on; it can be cut and mended.
type Wire struct {
	mu    sync.Mutex
	cut   bool
	conns map[net.Conn]bool
}

// OnAWire opens the database of a store once more, over a wire of its own.
func OnAWire(t testing.TB, s *store.Store) (*store.Store, *Wire) {
	t.Helper()
	var name string
	require.NoError(t, s.DB().QueryRow(`SELECT current_database()`).Scan(&name))
	at, err := url.Parse(address(name))
	require.NoError(t, err)
	server := at.Host
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	t.Cleanup(func() { _ = l.Close() })
	w := &Wire{conns: map[net.Conn]bool{}}
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			go w.carry(c, server)
		}
	}()
	at.Host = l.Addr().String()
	other, err := store.Open(context.Background(), at.String())
	require.NoError(t, err)
	t.Cleanup(func() { w.Cut(); _ = other.Close() })
	return other, w
}

// carry carries both ways until one side ends or the wire is cut.
func (w *Wire) carry(c net.Conn, server string) {
	defer func() { _ = c.Close() }()
	far, err := net.Dial("tcp", server)
	if err != nil {
		return
	}
	defer func() { _ = far.Close() }()
	w.mu.Lock()
	if w.cut {
		w.mu.Unlock()
		return
	}
	w.conns[c], w.conns[far] = true, true
	w.mu.Unlock()
	var both sync.WaitGroup
	for _, way := range [][2]net.Conn{{c, far}, {far, c}} {
		both.Go(func() {
			_, _ = io.Copy(way[0], way[1])
			_, _ = c.Close(), far.Close()
		})
	}
	both.Wait()
	w.mu.Lock()
	defer w.mu.Unlock()
	delete(w.conns, c)
	delete(w.conns, far)
}

// Cut ends every connection, and lets none come about until [Wire.Mend].
func (w *Wire) Cut() {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.cut = true
	for c := range w.conns {
		_ = c.Close()
	}
}

// Mend lets connections come about again.
func (w *Wire) Mend() {
	w.mu.Lock()
	defer w.mu.Unlock()
	w.cut = false
}
