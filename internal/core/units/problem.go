package units

// A Problem is what is wrong with one field of something that was typed or read
// in: the field by its code, and a sentence in whichever units its reader uses.
type Problem struct {
	Field string                  // such as "volume"; what a form calls it follows from it
	Say   func(sys System) string // nil: Text says it in any units
	Text  string
	Cause error // for errors.Is
}

func (p Problem) Error() string { return p.In(Metric) }

// In is the sentence in a system of units.
func (p Problem) In(sys System) string {
	if p.Say == nil {
		return p.Text
	}
	return p.Say(sys)
}

// Unwrap returns the cause.
func (p Problem) Unwrap() error { return p.Cause }
