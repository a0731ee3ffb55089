package review

import (
	"math"
	"time"

	"smolder/internal/core/fire"
	"smolder/internal/core/stove"
)

// An Aim is the one thing to do otherwise next time. It is the first finding of the last
// burn that had one.
type Aim struct {
	Finding
	Burn int64     // where it was found
	Of   time.Time // when that was lit
}

// An Answer is what came of the one thing that was to be done otherwise: how it was done
// this time, and how much smoke there was beside the burns before.
type Answer struct {
	Code     Matter
	Done     bool    // in the direction that was asked for
	By       float64 // more than last time: minutes, opening, points of moisture; for a lay 1
	Asked    float64
	Smoke    float64 // g per kg of this burn over the mean of those before, −0.4 is 40 % less
	Beside   int     // how many those are; 0: too few to say
	Control  stove.Control
	From, To float64 // openings
}

// StopAfter is after how many burns that were told the same, and did not do it, it is told
// no more; and Often after how many it is told in other words.
const StopAfter = 5

// Weary takes account of what the burns before, the newest first, were told already: what
// was told often and never done goes to the end, and is left out after [StopAfter] times.
func Weary(findings []Finding, before []Review) []Finding {
	var fresh, again []Finding
	for _, f := range findings {
		for _, r := range before {
			told := len(r.Findings) > 0 && r.Findings[0].Code == f.Code
			if r.Answer != nil && r.Answer.Code == f.Code && r.Answer.Done {
				break // it was done since
			}
			if told {
				f.Again++
			}
		}
		switch {
		case f.Again >= StopAfter:
		case f.Again >= StopAfter-2:
			again = append(again, f)
		default:
			fresh = append(fresh, f)
		}
	}
	return append(fresh, again...)
}

// beside is how many burns before are compared with.
const beside = 3

// Answered tells what came of the aim of an earlier burn in this one; before are the burns
// of the stove before this, the newest first. It is nil where the aim says nothing of a burn
// such as this.
func Answered(aim Aim, then, r Review, before []Review) *Answer {
	a := &Answer{Code: aim.Code, Control: aim.Control}
	// By is what was done otherwise than last time, Asked what was to be: in the same unit,
	// and with the same sign where it was done in the direction that was asked for.
	minutes := func(was, is time.Duration) { a.By, a.Asked = (is - was).Minutes(), aim.By.Minutes() }
	switch aim.Code {
	case Lit:
		if !r.Way.Cold {
			return nil
		}
		if a.Asked = 1; r.Way.Lay == fire.TopDown {
			a.By = 1
		}
	case ShutEarly, AjarLong:
		if !r.Way.Cold || r.Way.Ajar == 0 || then.Way.Ajar == 0 {
			return nil
		}
		minutes(then.Way.Ajar, r.Way.Ajar)
	case DownEarly:
		if r.Way.Hold < 0 || then.Way.Hold < 0 {
			return nil
		}
		minutes(then.Way.Hold, r.Way.Hold)
	case DownLate:
		a.Asked = -1
		if r.Way.Hold >= 0 && (then.Way.Hold < 0 || r.Way.Hold < then.Way.Hold) {
			a.By = -1
		}
	case TooFar, TooOpen:
		if r.Way.Final < 0 {
			return nil
		}
		a.From, a.To = aim.From, r.Way.Final
		a.By, a.Asked = r.Way.Final-aim.From, aim.To-aim.From
	case Wet:
		a.From, a.To = aim.From, float64(r.Way.Moisture)
		a.By, a.Asked = float64(r.Way.Moisture)-aim.From, aim.To-aim.From
	default:
		return nil
	}
	// Half of what was asked for is done: nobody keeps to the minute.
	a.Done = a.By*a.Asked > 0 && math.Abs(a.By) >= math.Abs(a.Asked)/2
	// Burns that were begun as this one was are comparable: a cold start smokes more than a
	// load on coals, whatever its maker does.
	sum := 0.0
	for _, b := range before {
		if b.Simulated && b.Way.Cold == r.Way.Cold && b.SmokePerKg > 0 && a.Beside < beside {
			sum += b.SmokePerKg
			a.Beside++
		}
	}
	if a.Beside < beside {
		a.Beside = 0
	} else {
		a.Smoke = r.SmokePerKg/(sum/beside) - 1
	}
	return a
}
