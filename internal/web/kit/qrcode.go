package kit

import (
	"fmt"
	"html/template"
	"strings"

	"rsc.io/qr"
)

// Code draws a text as a QR code (ISO/IEC 18004), with the four light modules around it that
// readers want.
func Code(text, says string) (template.HTML, error) {
	const rim = 4
	code, err := qr.Encode(text, qr.M)
	if err != nil {
		return "", err
	}
	var dark strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				fmt.Fprintf(&dark, "M%d %dh1v1h-1z", x+rim, y+rim)
			}
		}
	}
	side := code.Size + 2*rim
	return template.HTML(fmt.Sprintf(`<svg class="qr" viewBox="0 0 %d %d" width="%d" role="img" aria-label="%s"><rect width="%d" height="%d"/><path d="%s"/></svg>`, //nolint:gosec // numbers, and a text that is escaped
		side, side, 5*side, template.HTMLEscapeString(says), side, side, dark.String())), nil
}

// Address is this server's address as the browser that asks knows it.
func (q *Request) Address() string {
	scheme := "http://"
	if q.Site.Secure || q.Request.TLS != nil {
		scheme = "https://"
	}
	return scheme + q.Request.Host
}
