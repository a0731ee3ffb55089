package search

import (
	"time"

	"smolder/internal/core/plan"
	"smolder/internal/core/reason"
	"smolder/internal/core/wish"
	"smolder/internal/core/wood"
)

// Why nothing tried was good enough, with the quantities of each. At best is the
// smoke of the best that was tried, g per kg.
const (
	NoSetting    reason.Code = "search/no-setting"     // the air's control
	TooFewPieces reason.Code = "search/too-few-pieces" //
	SmokeComesIn reason.Code = "search/smoke-comes-in" // the weakest draft
	TooHot       reason.Code = "search/too-hot"        //
	NotInTime    reason.Code = "search/not-in-time"    // how long somebody is there
	LayNotClean  reason.Code = "search/lay-not-clean"  // lay, at best, how long it smoulders
	LastPiece    reason.Code = "search/last-piece"     // stack
	OneUntold    reason.Code = "search/one-untold"     // at best, the load that is taken
	OnePiece     reason.Code = "search/one-piece"      // at best, the manual's load
	WetSmoulders reason.Code = "search/wet-smoulders"  // moisture, at best
	FewCoals     reason.Code = "search/few-coals"      // at best
	NothingClean reason.Code = "search/nothing-clean"  // at best, how long it smoulders
	FixedTooHot  reason.Code = "search/fixed-too-hot"  // the hottest of the flue gas
	FixedSmokes  reason.Code = "search/fixed-smokes"   // the weakest draft
	FixedLate    reason.Code = "search/fixed-late"     // how long somebody is there
	FixedUnclean reason.Code = "search/fixed-unclean"  // at best
	FixedNothing reason.Code = "search/fixed-nothing"  //
)

// refuseFixed says why what the owner has fixed is not offered.
func (s search) refuseFixed(verdicts []verdict) *wish.Refusal {
	if len(verdicts) == 0 {
		return wish.Refuse(FixedNothing)
	}
	best := verdicts[0]
	switch {
	case best.unsafe && !plan.TooHot(best.summary):
		return wish.Refuse(FixedSmokes, reason.Draft(best.summary.MinDraft))
	case best.unsafe:
		return wish.Refuse(FixedTooHot, reason.Temperature(best.summary.PeakGas))
	case best.late:
		until, _ := s.Hands()
		return wish.Refuse(FixedLate, reason.Duration(until+wish.Watched))
	}
	return wish.Refuse(FixedUnclean, reason.Number(best.summary.SmokePerKg, 0))
}

// refuse says why nothing was good enough.
func (s search) refuse(verdicts []verdict) *wish.Refusal {
	if s.Fixed.Any() {
		return s.refuseFixed(verdicts)
	}
	if len(verdicts) == 0 {
		if air, ok := s.Stove.MainAir(); ok && len(plan.Openings(air, 1, plan.Floor)) == 0 {
			return wish.Refuse(NoSetting, reason.Text(air.Name))
		}
		return wish.Refuse(TooFewPieces)
	}
	// Of the reasons that hold, the one is said that its owner can do most about.
	best, moisture := verdicts[0], s.Wood.Stack.Moisture()
	atBest := reason.Number(best.summary.SmokePerKg, 0)
	exactly := reason.Number(best.summary.SmokePerKg, 1)
	smouldering := reason.Duration(best.summary.Smoulder.Round(time.Minute))
	switch {
	case best.unsafe && !plan.TooHot(best.summary):
		return wish.Refuse(SmokeComesIn, reason.Draft(best.summary.MinDraft))
	case best.unsafe:
		return wish.Refuse(TooHot)
	case best.late && !best.dirty:
		until, _ := s.Hands()
		return wish.Refuse(NotInTime, reason.Duration(until+wish.Watched))
	case s.Lay != "" && s.Start == wish.Cold && best.dirty && moisture <= wood.Smoulders:
		return wish.Refuse(LayNotClean, reason.Text(string(s.Lay)), exactly, smouldering)
	case moisture > wood.Smoulders:
		return wish.Refuse(WetSmoulders, reason.Share(moisture), atBest)
	case s.MostPieces(0) == 1 && s.Wood.Stack.Pieces() == 1:
		return wish.Refuse(LastPiece, reason.Text(s.Wood.Stack.Name))
	case s.MostPieces(0) == 1:
		if s.Stove.Takes("max-load") {
			return wish.Refuse(OneUntold, atBest, reason.Mass(s.Stove.MaxLoad))
		}
		return wish.Refuse(OnePiece, atBest, reason.Mass(s.Stove.MaxLoad))
	case s.Start.Few():
		return wish.Refuse(FewCoals, atBest)
	}
	return wish.Refuse(NothingClean, atBest, smouldering)
}
