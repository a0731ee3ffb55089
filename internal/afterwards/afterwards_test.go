package afterwards_test

import (
	"context"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"smolder/internal/afterwards"
	"smolder/internal/demo"
	"smolder/internal/storetest"
)

func TestMain(m *testing.M) { storetest.Main(m) }

func TestX(t *testing.T) {
	ctx := context.Background()
	s := storetest.New(t)
	id, err := demo.Load(ctx, s, "hash", time.Date(2026, 4, 10, 9, 0, 0, 0, time.UTC))
	require.NoError(t, err)
	w := &afterwards.Worker{Store: s}
	begin := time.Now()
	require.NoError(t, w.Quick(ctx, id))
	t.Log("quick", time.Since(begin))
	require.NoError(t, w.CatchUp(ctx, id))
	t.Log("all", time.Since(begin))
	behind, err := s.Behind(ctx)
	require.NoError(t, err)
	require.Empty(t, behind)
	h := s.Household(id)
	counts := map[string]int{}
	stoves, _ := h.Stoves(ctx)
	for _, st := range stoves {
		reviews, err := h.ReviewsBefore(ctx, st.ID, time.Now().AddDate(1, 0, 0), 500)
		require.NoError(t, err)
		for _, r := range reviews {
			if len(r.Review().Findings) == 0 {
				counts[st.Name+" none"]++
			}
			for i, f := range r.Review().Findings {
				counts[st.Name+" "+string(f.Code)]++
				if i == 0 {
					t.Logf("%s %v %s at %v by %v %.2f→%.2f smoke %+.0f %% (%.0f to %.0f) hot %+.0f per kg %+.0f %% lasts %+.0f", st.Name, r.Started.Format("01-02"), f.Code, f.At, f.By, f.From, f.To, 100*f.Would.Share.Middle, 100*f.Would.Share.Low, 100*f.Would.Share.High, f.Would.TooHot.Middle, 100*f.Would.PerKilo.Middle, f.Would.Lasts.Middle)
				}
			}
			if a := r.Review().Answer; a != nil {
				t.Logf("   answer %s done %v by %.2f of %.2f smoke %+.0f%%", a.Code, a.Done, a.By, a.Asked, 100*a.Smoke)
			}
		}
	}
	t.Log(counts)
}
