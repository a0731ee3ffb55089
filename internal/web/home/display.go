package home

import (
	"context"
	"errors"
	"time"

	"smolder/internal/app/calls"
	"smolder/internal/say"
	"smolder/internal/store"
	"smolder/internal/tell"
)

// Displays is how a household's stoves are, for a display at home.
func (s Room) Displays(ctx context.Context, household int64) ([]tell.Display, error) {
	q, err := s.inBackground(ctx, household)
	if err != nil {
		return nil, err
	}
	stoves, err := q.Stoves()
	if err != nil {
		return nil, err
	}
	open, err := q.Home.OpenBurns(ctx)
	if err != nil {
		return nil, err
	}
	all, err := s.callsOf(q)
	if err != nil {
		return nil, err
	}
	burning := map[int64]int64{}
	for _, b := range open {
		burning[b.StoveID] = b.ID
	}
	out := make([]tell.Display, len(stoves))
	for i, st := range stoves {
		d := tell.Display{ID: st.ID, Stove: st.Name, State: q.T("Cold"), Calls: []calls.Call{}, Looked: s.Now()}
		for _, c := range all {
			if c.Stove == st.Name {
				d.Calls = append(d.Calls, c)
			}
		}
		if room, known, err := q.Home.RoomNow(ctx, st.ID, s.Now()); err != nil {
			return nil, err
		} else if known {
			d.Room = &room
		}
		if id, is := burning[st.ID]; is {
			b, err := q.Burn(id)
			if errors.Is(err, store.ErrUnreadable) {
				d.State = q.T("A fire is in")
			} else if err != nil {
				return nil, err
			} else {
				a := s.Watch.Now(ctx, b, s.Now().UTC())
				c := say.Coach(a, b.Stove, a.Plan, q.Locale())
				d.State, d.Do, d.Ready, d.Next = say.AtAGlance(a, q.Locale()), c.Do, a.Advice.Ready, s.nextSays(q, b, a)
				if coals := a.Standing.Coals.Middle; a.Phase != "" {
					coals = float64(int(coals*100+0.5)) / 100
					d.Coals = &coals
				}
				if a.Guided && len(a.Gauges) > 0 && a.Gauges[0].Read() {
					v := float64(a.Gauges[0].Value)
					d.Gauge = &v
				}
			}
		}
		out[i] = d
	}
	return out, nil
}

// TellHome tells the broker that the server was given how the stoves are, until the context ends.
// A broker is a household's own, so that it is done where the server has one household only.
func (s Room) TellHome(ctx context.Context) {
	if s.Display.Broker == "" {
		return
	}
	household, only, err := s.Store.OnlyHousehold(ctx)
	for ; err != nil || !only; household, only, err = s.Store.OnlyHousehold(ctx) { // it is not set up yet, or the database is away
		select {
		case <-ctx.Done():
			return
		case <-time.After(tell.Every):
		}
	}
	look := func(ctx context.Context) ([]tell.Display, error) { return s.Displays(ctx, household) }
	// A broker knows who tells by a name: of several processes one does.
	s.Store.Alone(ctx, "the display at home", func(ctx context.Context) {
		if err := tell.Run(ctx, s.Display.Broker, s.Display.Prefix, household, look, s.Log); err != nil {
			s.Log.Error("the display at home", "error", err)
			<-ctx.Done() // another try would say the same
		}
	})
}
