package kit

import (
	"net"
	"net/http"
	"net/netip"
	"strings"
)

// AddressOf tells who asks, for limits: an IPv6 network counts as one. Behind a proxy it is
// who the proxy says.
func AddressOf(r *http.Request, proxy bool) string {
	host := r.RemoteAddr
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	if list := r.Header.Values("X-Forwarded-For"); proxy && len(list) > 0 {
		parts := strings.Split(list[len(list)-1], ",")
		host = strings.TrimSpace(parts[len(parts)-1])
	}
	ip, err := netip.ParseAddr(host)
	if err != nil {
		return "?"
	}
	if ip = ip.Unmap(); ip.Is6() {
		if network, err := ip.WithZone("").Prefix(64); err == nil {
			return network.String()
		}
	}
	return ip.String()
}
