package exchange

import (
	"bufio"
	"io"
)

// squeezed is JSON without the white space between its tokens but for one blank of each
// run. Read token by token from a connection that brings some kilobytes at a time, the
// standard library's decoder goes through a run of blanks anew with every read: some
// megabytes of blanks would cost seconds, and growing with the square.
type squeezed struct {
	from          *bufio.Reader
	text, escaped bool // within a string; behind a backslash in it
	blank         bool // the last byte that was given is one
}

func newSqueezed(r io.Reader) *squeezed { return &squeezed{from: bufio.NewReaderSize(r, 64<<10)} }

// Read gives what is left of the next bytes.
func (s *squeezed) Read(p []byte) (n int, err error) {
	for n < len(p) {
		if n > 0 && s.from.Buffered() == 0 {
			return n, nil // what more comes is for the next call
		}
		c, err := s.from.ReadByte()
		if err != nil {
			if n > 0 {
				return n, nil
			}
			return 0, err
		}
		space := !s.text && (c == ' ' || c == '\n' || c == '\r' || c == '\t')
		if space && s.blank {
			continue
		}
		switch {
		case s.escaped:
			s.escaped = false
		case s.text && c == '\\':
			s.escaped = true
		case c == '"':
			s.text = !s.text
		}
		s.blank = space
		p[n] = c
		n++
	}
	return n, nil
}
