package main

import (
	"bytes"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// ask runs the command line and returns what it prints.
func ask(args string) (string, error) {
	cmd := root()
	var out bytes.Buffer
	cmd.SetOut(&out)
	cmd.SetErr(&out)
	cmd.SetArgs(strings.Fields(args))
	err := cmd.Execute()
	return out.String(), err
}

func TestCalc(t *testing.T) {
	for args, want := range map[string]map[string]float64{
		"moisture --reading 18% --wood-temp 0C":                          {"dry_basis_pct": 21.1, "wet_basis_pct": 17.4, "net_energy_mj_per_kg": 15.0},
		"emc --temp 21C --rh 65%":                                        {"emc_pct": 12.0},
		"emc --temp 70F --rh 65":                                         {"emc_pct": 12.0},
		"draft --height 6m --flue 200C --outdoor 0C":                     {"draft_pa": 31.9},
		"draft --height 20ft --flue 392F --outdoor 32F --altitude 2000m": {"draft_pa": 25.5},
		"load --species beech --moisture 18% --mass 6kg": {"dry_mass_kg": 5.08, "energy_mj": 91.1, "energy_kwh": 25.3,
			"stacked_volume_l": 13.97},
		"house-pressure --fan 300m3/h --n50 3 --volume 400m3": {"pressure_pa": 5.92},
		"loss --flue 250C --room 20C --co2 9% --co 0.2% --moisture 18%": {"sensible_pct": 19.0, "co_pct": 1.4, "efficiency_net_pct": 79.6,
			"o2_pct": 11.6, "air_factor": 2.2},
	} {
		out, err := ask("calc " + args)
		require.NoError(t, err, args)
		var got map[string]float64
		require.NoError(t, json.Unmarshal([]byte(out), &got), args)
		for name, v := range want {
			assert.InEpsilon(t, v, got[name], 0.02, "%s: %s", args, name)
		}
	}
}

func TestCalcRefusesNonsense(t *testing.T) {
	for args, says := range map[string]string{
		"moisture --reading 400%": "between 4 and 120 %",
		"moisture":                "a moisture reading is missing",
		"moisture --reading 18% --wood-temp 900C":                "the correction holds",
		"emc --temp 21C --rh 120%":                               "between 0 and 100 %",
		"draft --height 0m --flue 200C --outdoor 0C":             "6m would do",
		"draft --height tall --flue 200C --outdoor 0C":           `--height: "tall" is not a length`,
		"load --species plywood --moisture 18% --mass 6kg":       "is not a known wood",
		"load --species beech --moisture 18% --mass 0kg":         "6kg would do",
		"house-pressure --fan 300m3/h --n50 lots --volume 400m3": "air change rate",
		"loss --flue 250C --co2 30%":                             "no wood fire makes this gas",
		"loss --flue 250C":                                       "percentage is missing",
		"":                                                       "calc needs to know what",
		"draft --heigth 6m":                                      "unknown flag",
	} {
		out, err := ask("calc " + args)
		require.ErrorAs(t, err, new(usageError), args)
		assert.ErrorContains(t, err, says, args)
		assert.NotContains(t, out, "{", "nothing is printed for %q", args)
	}
}

func TestHelpAndConfiguration(t *testing.T) {
	for _, name := range []string{"serve", "migrate", "demo", "calc", "calc draft", "with-postgres"} {
		out, err := ask(name + " --help")
		require.NoError(t, err)
		assert.Contains(t, out, "Usage:", name)
	}
	t.Setenv("DATABASE_URL", "")
	t.Setenv("SMOLDER_WAIT", "0s")
	_, err := ask("serve")
	assert.ErrorContains(t, err, "set DATABASE_URL or --database")
	_, err = ask("migrate --database postgres://nobody@127.0.0.1:1/none")
	assert.ErrorContains(t, err, "connecting to the database")
}

// Nobody holds a connection for ever; how long a body and its answer may take is kept by
// their progress (kit.TestABodyKeepsItsPace).
func TestConnectionsEndInTime(t *testing.T) {
	s := newHTTPServer(nil)
	for name, limit := range map[string]time.Duration{"header": s.ReadHeaderTimeout, "idle": s.IdleTimeout} {
		assert.True(t, limit > 0 && limit <= 2*time.Minute, "%s: %s", name, limit)
	}
	assert.LessOrEqual(t, s.MaxHeaderBytes, 64<<10)
}
