package kit

import (
	"net/netip"
	"testing"

	"github.com/stretchr/testify/assert"
)

// No address that leads to this machine or behind it is asked for weather, in whichever
// form it is written; one of the wide net is.
func TestAddressesOfInside(t *testing.T) {
	for _, in := range []string{"127.0.0.1", "10.1.2.3", "192.168.1.1", "172.16.0.9", "100.64.0.1", "100.127.255.255", "::1", "fd00::1", "64:ff9b::7f00:1",
		"64:ff9b::a01:203", "64:ff9b::6440:1", "2002:7f00:1::", "::127.0.0.1"} {
		assert.True(t, inner(netip.MustParseAddr(in)), in)
	}
	for _, out := range []string{"93.184.216.34", "100.63.255.255", "100.128.0.0", "2606:2800:220:1::1", "64:ff9b::5db8:d822"} {
		assert.False(t, inner(netip.MustParseAddr(out)), out)
	}
}
