package wood

import "smolder/internal/core/units"

// A Shape is how pieces lie together; it decides how much wood is in the
// outline of a stack.
type Shape string

// The shapes.
const (
	Neat    Shape = "neat"    // splits, stacked
	Rounds  Shape = "rounds"  // unsplit, stacked
	Crooked Shape = "crooked" // stacked, but gnarled
	Tipped  Shape = "tipped"  // loose, as it fell
)

// Shapes lists the shapes and the share of wood: usual, and the range that four
// out of five piles lie in (Wood Handbook: 0.60 to 0.70 stacked).
var Shapes = []struct {
	Key              Shape
	Share, Low, High float64
}{
	{Neat, SolidShare, 0.60, 0.70},
	{Rounds, 0.70, 0.65, 0.75},
	{Crooked, 0.60, 0.53, 0.66},
	{Tipped, 0.43, 0.38, 0.48},
}

// InStack returns the wood in an outline: oven-dry mass from its volume.
func InStack(s Species, outline units.Litre, shape Shape) units.Kilogram {
	share := SolidShare
	for _, k := range Shapes {
		if k.Key == shape {
			share = k.Share
		}
	}
	return units.Kilogram(float64(outline) * share * s.Gravity)
}
