package wood_test

import (
	"context"
	"testing"

	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

var ctx = context.Background()
