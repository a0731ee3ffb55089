package storetest

import (
	"fmt"
	"net"
	"os/exec"
	"strconv"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// A MessageLog is a server of NATS on loopback, whose disk stays when it is killed.
type MessageLog struct {
	t       testing.TB
	program string
	dir     string
	port    int
	run     *exec.Cmd
}

// NewMessageLog starts one, or skips the test with a line that says what would do.
func NewMessageLog(t testing.TB) *MessageLog {
	t.Helper()
	program, err := exec.LookPath("nats-server")
	if err != nil {
		program, err = exec.LookPath("/usr/sbin/nats-server")
	}
	if err != nil {
		t.Skip("nats-server is not installed: scripts/need nats-server brings it from Debian's packages")
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	m := &MessageLog{t: t, program: program, dir: t.TempDir(), port: l.Addr().(*net.TCPAddr).Port}
	require.NoError(t, l.Close())
	m.Start()
	t.Cleanup(m.Kill)
	return m
}

// Address is where it is.
func (m *MessageLog) Address() string { return "nats://127.0.0.1:" + strconv.Itoa(m.port) }

// Start starts it, also after it was killed.
func (m *MessageLog) Start() {
	m.run = exec.Command(m.program, "-js", "-sd", m.dir, "-a", "127.0.0.1", "-p", strconv.Itoa(m.port))
	require.NoError(m.t, m.run.Start())
	require.Eventually(m.t, func() bool {
		c, err := net.Dial("tcp", fmt.Sprintf("127.0.0.1:%d", m.port))
		if err == nil {
			_ = c.Close()
		}
		return err == nil
	}, time.Minute, 20*time.Millisecond, "the message log begins")
}

// Kill ends it as a broken machine does.
func (m *MessageLog) Kill() {
	if m.run != nil {
		_ = m.run.Process.Kill()
		_ = m.run.Wait()
		m.run = nil
	}
}
