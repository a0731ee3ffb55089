package api_test

import (
	"testing"

	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }
