package kit

import (
	"context"
	"errors"
	"net"
	"net/http"
	"net/netip"
	"net/url"
	"strings"
	"syscall"
	"time"

	"smolder/internal/weather"
)

// ParseWeatherURL reads the address of a forecast that speaks docs/formats.md.
func ParseWeatherURL(typed string) (string, error) {
	u, err := url.Parse(strings.TrimRight(typed, "/"))
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" || u.User != nil || u.RawQuery != "" || u.Fragment != "" || len(typed) > 300 {
		return "", errors.New("that is not the address of a forecast: http://weather.example:8430 would do, or nothing")
	}
	return u.String(), nil
}

// Sky is where a household's weather comes from: what it names itself, else what
// the server was started with; nil where it is typed.
func (s *Site) Sky(q *Request) weather.Source {
	if q.Profile.WeatherURL == "" {
		return s.Weather
	}
	return weather.Service{Base: q.Profile.WeatherURL, Client: s.OutClient()}
}

// errPrivate says that an address is not one of the wide net.
var errPrivate = errors.New("the address leads to this machine or its network")

// inside are networks that are no part of the wide net besides those the standard library
// knows as private: what carriers and clouds give their customers behind one address (RFC
// 6598), benchmarks (RFC 2544), protocol assignments (RFC 6890), and what is reserved.
var inside = []netip.Prefix{netip.MustParsePrefix("100.64.0.0/10"), netip.MustParsePrefix("198.18.0.0/15"), netip.MustParsePrefix("192.0.0.0/24"),
	netip.MustParsePrefix("0.0.0.0/8"), netip.MustParsePrefix("240.0.0.0/4"), netip.MustParsePrefix("64:ff9b:1::/48"), netip.MustParsePrefix("fec0::/10")}

// carried are prefixes of IPv6 that carry an address of IPv4 in them (NAT64, RFC 6052;
// 6to4, RFC 3056), with where it begins.
var carried = []struct {
	in   netip.Prefix
	from int
}{{netip.MustParsePrefix("64:ff9b::/96"), 12}, {netip.MustParsePrefix("2002::/16"), 2}, {netip.MustParsePrefix("::/96"), 12}}

// inner tells whether an address leads to this machine or a network behind it.
func inner(ip netip.Addr) bool {
	if ip.IsLoopback() || ip.IsPrivate() {
		return true
	}
	for _, p := range inside {
		if p.Contains(ip) {
			return true
		}
	}
	for _, c := range carried {
		if c.in.Contains(ip) && ip.Is6() {
			all := ip.As16()
			var four [4]byte
			copy(four[:], all[c.from:c.from+4])
			if v4 := netip.AddrFrom4(four); inner(v4) || v4.IsLinkLocalUnicast() || v4.IsUnspecified() {
				return true
			}
		}
	}
	return false
}

// OutClient asks only addresses of the wide net, unless the server's owner
// lets households ask this machine and its network too: what somebody types into
// a form must not reach what only the server reaches.
func (s *Site) OutClient() *http.Client {
	dialer := &net.Dialer{Timeout: 2 * time.Second, Control: func(_, address string, _ syscall.RawConn) error {
		host, _, err := net.SplitHostPort(address)
		if err != nil {
			return err
		}
		ip, err := netip.ParseAddr(host)
		if err != nil {
			return err
		}
		ip = ip.Unmap()
		if ip.IsLinkLocalUnicast() || ip.IsLinkLocalMulticast() || ip.IsMulticast() || ip.IsUnspecified() || !s.LocalWeather && inner(ip) {
			return errPrivate
		}
		return nil
	}}
	return &http.Client{Timeout: 3 * time.Second, Transport: &http.Transport{DialContext: dialer.DialContext, DisableKeepAlives: true},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
}

// Hourly asks the household's forecast; false where there is none, or it does
// not answer.
func (s *Site) Hourly(q *Request, from time.Time, hours int) ([]weather.Hour, bool) {
	source := s.Sky(q)
	if source == nil {
		return nil, false
	}
	ctx, cancel := context.WithTimeout(q.Ctx(), 4*time.Second)
	defer cancel()
	list, err := source.Hourly(ctx, from, min(max(1, hours), weather.MostHours))
	if err != nil || len(list) == 0 {
		if away := new(url.Error); errors.As(err, &away) {
			err = away.Err // its address tells where somebody lives
		}
		s.Log.WarnContext(q.Ctx(), "forecast", "household", q.Home.ID(), "error", err)
		return nil, false
	}
	return list, true
}

// ForecastNow says where the weather comes from and whether it answers, for the
// household's page.
func (s *Site) ForecastNow(q *Request) string {
	if s.Sky(q) == nil {
		return q.T("None yet: you type temperature and wind when you plan.")
	}
	whose := q.T("the server's own")
	if q.Profile.WeatherURL != "" {
		whose = q.T("the one below")
	}
	if hours, ok := s.Hourly(q, s.Now(), 1); ok {
		return q.F("From %s: %s outside just now.", whose, q.Locale().Temperature(celsius(hours[0].Temperature)))
	}
	return q.F("From %s, which does not answer just now.", whose)
}
