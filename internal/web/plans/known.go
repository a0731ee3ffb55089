package plans

import (
	"errors"
	"strconv"
	"time"

	"smolder/internal/core/belief"
	"smolder/internal/core/fire"
	"smolder/internal/core/units"
	"smolder/internal/core/wish"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/web/kit"
)

// coalsLast is how long after a burn has ended its coals may still light another.
const coalsLast = 18 * time.Hour

// inTheStove fills in which stove is meant, and what is in it now: one that burns is planned for
// from when it is down to coals, and one that burnt today from the coals that are left. Nobody is
// held to it: it is said, and whoever looks chooses.
func (p *planPage) inTheStove(q *kit.Request, stoves []store.Stove, set func(name, value string)) error {
	last, err := q.Home.LastBurns(q.Ctx())
	if err != nil || len(stoves) == 0 {
		return err
	}
	burnt := map[int64]store.BurnLine{}
	for _, b := range last {
		burnt[b.StoveID] = b
	}
	chosen := stoves[0]
	if p.Form.Has("stove") {
		for _, st := range stoves {
			if st.ID == p.Form.Number("stove") {
				chosen = st
			}
		}
	} else {
		for i := len(stoves) - 1; i >= 0; i-- { // the first in which nothing burns
			if b, there := burnt[stoves[i].ID]; !there || b.Ended.Valid {
				chosen = stoves[i]
			}
		}
		set("stove", strconv.FormatInt(chosen.ID, 10))
	}
	b, there := burnt[chosen.ID]
	if !there || p.Form.Has("start") || b.Ended.Valid && q.Now().Sub(b.Ended.V) > coalsLast {
		return nil
	}
	whole, err := q.Burn(b.ID)
	if errors.Is(err, store.ErrUnreadable) || err == nil && !whole.Simulated() {
		return nil
	}
	if err != nil {
		return err
	}
	if b.Ended.Valid {
		samples := q.Site.Replays.Replay(whole.Burn, q.Now().UTC()).Samples
		if len(samples) == 0 {
			return nil
		}
		if start := wish.StartOn(samples[len(samples)-1].Coals, chosen.Volume); start != wish.Cold {
			p.Form.Values.Set("start", string(start))
			p.InIt = q.F("%s should be %s by now: look, and choose what you see.", chosen.Name, q.T(say.Starts.Name(start)))
		}
		return nil
	}
	p.whenCoals(q, chosen, whole, set)
	return nil
}

// whenCoals begins the next load of a stove that burns when it should be down to coals.
func (p *planPage) whenCoals(q *kit.Request, st store.Stove, b store.Burn, set func(name, value string)) {
	answer := q.Coach(b).Answer
	coals, at := units.Kilogram(answer.Standing.Coals.Middle), q.Now()
	if ready := answer.Forecast.Events[belief.ReloadFrom]; answer.Phase != fire.Coaling && answer.Phase != fire.Out && ready.Likely > 0 {
		if then := b.Started.Add(ready.Likely); then.After(q.Now()) {
			at = then.In(q.Profile.Location())
			if i := int((ready.Likely - answer.Forecast.From) / max(1, answer.Forecast.Every)); i >= 0 && i < len(answer.Forecast.Coals.Middle) {
				coals = units.Kilogram(answer.Forecast.Coals.Middle[i])
			}
		}
	}
	start := wish.StartOn(coals, st.Volume)
	if start == wish.Cold {
		start = wish.FewCoals
	}
	p.Form.Values.Set("start", string(start))
	if wait := at.Sub(q.Now()); wait >= kit.Soon {
		set("begin", at.Format("15:04"))
	}
	p.InIt = q.F("%s burns. This is for its next load, about %s, %s: look then, and choose what you see.", st.Name, at.Format("15:04"),
		q.T(say.Starts.Name(start)))
}

// near is how far from the hour of a plan another was made that says who is there at this hour.
const near = 3 * time.Hour

// usuallyThere fills in who is there as it was said for the last plan that began at about this hour,
// where it was said by the clock: lengths from then are over.
func (p *planPage) usuallyThere(q *kit.Request, set func(name, value string)) error {
	plans, err := q.Home.LastSentences(q.Ctx(), mostSentences)
	if err != nil {
		return err
	}
	now := q.Now()
	for _, row := range plans {
		begun := row.Begins.In(q.Profile.Location())
		then := time.Date(now.Year(), now.Month(), now.Day(), begun.Hour(), begun.Minute(), 0, 0, now.Location())
		apart := then.Sub(now).Abs()
		if min(apart, 24*time.Hour-apart) > near {
			continue
		}
		if said := askedForm(row.Asked).Text("there"); byTheClock(said) {
			set("there", said)
			return nil
		}
	}
	return nil
}

// mostSentences is how many of the last plans are looked through.
const mostSentences = 12

// byTheClock tells whether a presence was said by times of the day.
func byTheClock(said string) bool {
	for _, r := range said {
		if r == ':' {
			return true
		}
	}
	return false
}
