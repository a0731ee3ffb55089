package coach

import (
	"smolder/internal/core/fire"
	"smolder/internal/core/plan"
	"smolder/internal/core/policy"
)

// What is watched for.
const (
	WatchLimit  RuleID = "watch-limit"  // a gauge near its limit: less air
	WatchFlames RuleID = "watch-flames" // they should stay: else a step back
	WatchBlack  RuleID = "watch-black"  // the wood turns black
	WatchProbe  RuleID = "watch-probe"  // the catalyst at light-off
	WatchCoals  RuleID = "watch-coals"  // too few to light a load
	WatchDoor   RuleID = "watch-door"   // it stands ajar
	WatchCap    RuleID = "watch-cap"    // nobody has looked at it
)

// aboutHeat tells whether an advice is to shut the air because it is hot.
func aboutHeat(c RuleID) bool {
	switch c {
	case OverLimit, Climbing, Cooled, FlapOpen, Overloaded:
		return true
	}
	return false
}

// watches are what is watched for meanwhile, at most three.
func (s *situation) watches(a Advice) []Watched {
	var out []Watched
	if s.now.Phase == fire.Out || !s.isLit() {
		return nil
	}
	if door, _ := s.doorStands(); door != fire.Shut && a.Code != DoorAjar {
		out = append(out, Watched{Code: WatchDoor})
	}
	if g, at, ok := plan.Limit(s.Burn.Stove); ok && s.now.Phase != fire.Coaling && a.Code != Climbing && a.Code != OverLimit {
		out = append(out, Watched{Code: WatchLimit, Gauge: g.Place, Limit: at, Control: s.air, Opening: s.air.Scale.Nearest(s.opening / 2)})
	}
	if _, chars := s.chars(); chars && s.known && s.now.Black < policy.Bright {
		out = append(out, Watched{Code: WatchBlack})
	} else if s.isMoved && s.opening < s.before && s.now.Wood.Middle > policy.SomeWood && a.Code != TooFar && !aboutHeat(a.Code) && !s.nearLimit() {
		// No further open than it bears: two answers to one fire would be none.
		out = append(out, Watched{Code: WatchFlames, Control: s.air, Opening: s.air.Scale.Nearest(min(s.before, s.most))})
	}
	if _, open, _, ok := s.bypass(); ok && open && a.Code != BypassReady {
		if g, read := s.probe(); read {
			out = append(out, Watched{Code: WatchProbe, Gauge: g.Place, Limit: plan.Engaged(s.Burn.Stove, g.Gauge)})
		}
	}
	if s.coaling() && a.Code != CoalsGoing {
		out = append(out, Watched{Code: WatchCoals})
	}
	if seen, _ := s.cap(); seen == "" && s.known && s.now.Phase == fire.Cruising {
		out = append(out, Watched{Code: WatchCap})
	}
	if len(out) > 3 {
		out = out[:3]
	}
	return out
}
