package kit

import (
	"encoding/xml"
	"io"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"smolder/internal/core/coach"
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/lang"
	"smolder/internal/say"
)

// Every step that waits for something that is seen has it drawn, beside its opposite.
func TestEverySignIsDrawn(t *testing.T) {
	loc := lang.Locale{}
	for _, k := range []plan.StepKind{plan.GrowIt, plan.ShutDoor, plan.LoadIt, plan.CloseIt, plan.TurnDown, plan.KeepIt, plan.ReloadTime, plan.FeedIt} {
		pair := LooksOf(plan.Step{Kind: k}, loc)
		require.Len(t, pair, 2, k)
		assert.False(t, pair[0].Not, k)
		assert.True(t, pair[1].Not, k)
		assert.NotEqual(t, pair[0].Says, pair[1].Says, k)
		assert.NotEqual(t, pair[0].Drawn, pair[1].Drawn, k)
		for _, l := range pair {
			d := xml.NewDecoder(strings.NewReader(string(l.Drawn)))
			for {
				_, err := d.Token()
				if err == io.EOF { //nolint:errorlint // the very value
					break
				}
				require.NoError(t, err, l.Says)
			}
		}
	}
	charred := LooksOf(plan.Step{Kind: plan.TurnDown, Fire: fire.Move{When: fire.Trigger{Charred: true}}}, loc)
	assert.Equal(t, string(say.AllBlack.Says), charred[0].Says)
	assert.Empty(t, LooksOf(plan.Step{Kind: plan.BedTime}, loc), "of a gate nothing is seen of the fire")
}

// What an advice is about is drawn; where it is about none, what is watched for at the cap.
func TestWhatAnAdviceLooksLike(t *testing.T) {
	of := func(a coach.Answer) string {
		if out := looksOf(a, lang.Locale{}); len(out) > 0 {
			return out[0].Says
		}
		return ""
	}
	assert.Equal(t, string(say.AllBlack.Says), of(coach.Answer{Advice: coach.Advice{Code: coach.NotCharred}}))
	assert.Equal(t, string(say.Vapour.Says), of(coach.Answer{Advice: coach.Advice{Code: coach.Fine}, Watch: []coach.Watched{{Code: coach.WatchCap}}}))
	step := plan.Step{Kind: plan.FeedIt}
	assert.Equal(t, string(say.Coals.Says), of(coach.Answer{Advice: coach.Advice{Code: coach.PlanStep, Step: &step}}))
	assert.Empty(t, of(coach.Answer{Advice: coach.Advice{Code: coach.Fine}}))
}
