package storetest

import (
	"encoding/json"
	"net"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// A MessageLog is a server of NATS on loopback, whose disk stays when it is killed.
type MessageLog struct {
	t       testing.TB
	program string
	dir     string
	at      *url.URL // nil before its first start
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
	m := &MessageLog{t: t, program: program, dir: t.TempDir()}
	m.Start()
	t.Cleanup(m.Kill)
	return m
}

// Address is where it is.
func (m *MessageLog) Address() string { return m.at.String() }

// Start starts it, also after it was killed: then where it was. It takes a port that is free
// itself, and says in a file which.
func (m *MessageLog) Start() {
	port := "-1"
	if m.at != nil {
		port = m.at.Port()
	}
	m.run = exec.Command(m.program, "-js", "-sd", m.dir, "-a", "127.0.0.1", "-p", port, "--ports_file_dir", m.dir)
	require.NoError(m.t, m.run.Start())
	require.Eventually(m.t, m.answers, time.Minute, 20*time.Millisecond, "the message log begins")
}

// answers tells whether somebody answers there.
func (m *MessageLog) answers() bool {
	if m.at == nil {
		files, err := filepath.Glob(filepath.Join(m.dir, "*.ports"))
		if err != nil || len(files) == 0 {
			return false
		}
		text, err := os.ReadFile(files[0])
		var ports struct {
			NATS []string `json:"nats"`
		}
		if err != nil || json.Unmarshal(text, &ports) != nil || len(ports.NATS) == 0 {
			return false // it is being written
		}
		if m.at, err = url.Parse(ports.NATS[0]); err != nil {
			return false
		}
	}
	c, err := net.Dial("tcp", m.at.Host)
	if err == nil {
		_ = c.Close()
	}
	return err == nil
}

// Kill ends it as a broken machine does.
func (m *MessageLog) Kill() {
	if m.run != nil {
		_ = m.run.Process.Kill()
		_ = m.run.Wait()
		m.run = nil
	}
}
