package wood

import (
	"fmt"
	"sort"
	"strings"

	"smolder/internal/core/units"
)

// A Species is a kind of wood as the Wood Handbook knows it.
type Species struct {
	Key     string  // short, lower case, as typed on the command line
	Name    string  // as shown
	Gravity float64 // oven-dry mass over green volume, t/m³
	Gross   float64 // gross heating value, MJ per kg oven dry
	Mineral bool    // manufactured mineral fuel: recorded, not simulated
}

// MineralMoisture is taken for the water in mineral fuel, of its dry mass: no meter is
// stuck into it, and nothing but its mass is computed from it.
const MineralMoisture units.Fraction = 0.05

// Gross heating values, MJ/kg oven dry (Wood Handbook): resin lifts softwoods.
const (
	grossHard  = 19.7
	grossSoft  = 20.8
	grossOther = 20.0
)

// species is Wood Handbook table 5 ("basic specific gravity"); kinds of Europe and the south
// by the Global Wood Density Database (Zanne et al. 2009), middles to 0.01, which trees of
// one kind are off by a tenth.
var species = []Species{
	{Key: "holm-oak", Name: "holm oak", Gravity: 0.74, Gross: grossHard},
	{Key: "red-gum", Name: "river red gum", Gravity: 0.71, Gross: grossHard},
	{Key: "olive", Name: "olive", Gravity: 0.72, Gross: grossHard},
	{Key: "eucalypt", Name: "eucalypt, others", Gravity: 0.62, Gross: grossHard},
	{Key: "hornbeam", Name: "hornbeam", Gravity: 0.64, Gross: grossHard},
	{Key: "fruit-wood", Name: "apple, pear, plum", Gravity: 0.59, Gross: grossHard},
	{Key: "walnut", Name: "walnut", Gravity: 0.51, Gross: grossHard},
	{Key: "sycamore", Name: "sycamore maple", Gravity: 0.51, Gross: grossHard},
	{Key: "elm", Name: "elm", Gravity: 0.50, Gross: grossHard},
	{Key: "chestnut", Name: "sweet chestnut", Gravity: 0.46, Gross: grossHard},
	{Key: "lime", Name: "lime", Gravity: 0.42, Gross: grossHard},
	{Key: "scots-pine", Name: "Scots pine", Gravity: 0.42, Gross: grossSoft},
	{Key: "radiata-pine", Name: "radiata pine", Gravity: 0.42, Gross: grossSoft},
	{Key: "silver-fir", Name: "silver fir", Gravity: 0.37, Gross: grossSoft},
	{Key: "willow", Name: "willow", Gravity: 0.36, Gross: grossHard},
	{Key: "hickory", Name: "shagbark hickory", Gravity: 0.64, Gross: grossHard},
	{Key: "locust", Name: "black locust", Gravity: 0.66, Gross: grossHard},
	{Key: "white-oak", Name: "white oak", Gravity: 0.60, Gross: grossHard},
	{Key: "oak", Name: "red oak", Gravity: 0.56, Gross: grossHard},
	{Key: "sugar-maple", Name: "sugar maple", Gravity: 0.56, Gross: grossHard},
	{Key: "beech", Name: "beech", Gravity: 0.56, Gross: grossHard},
	{Key: "ash", Name: "white ash", Gravity: 0.55, Gross: grossHard},
	{Key: "birch", Name: "yellow birch", Gravity: 0.55, Gross: grossHard},
	{Key: "larch", Name: "larch", Gravity: 0.48, Gross: grossSoft},
	{Key: "maple", Name: "red maple", Gravity: 0.49, Gross: grossHard},
	{Key: "paper-birch", Name: "paper birch", Gravity: 0.48, Gross: grossHard},
	{Key: "cherry", Name: "cherry", Gravity: 0.47, Gross: grossHard},
	{Key: "douglas-fir", Name: "Douglas fir", Gravity: 0.45, Gross: grossSoft},
	{Key: "alder", Name: "alder", Gravity: 0.37, Gross: grossHard},
	{Key: "yellow-poplar", Name: "yellow poplar", Gravity: 0.40, Gross: grossHard},
	{Key: "hemlock", Name: "hemlock", Gravity: 0.38, Gross: grossSoft},
	{Key: "lodgepole-pine", Name: "lodgepole pine", Gravity: 0.38, Gross: grossSoft},
	{Key: "spruce", Name: "spruce", Gravity: 0.37, Gross: grossSoft},
	{Key: "aspen", Name: "aspen", Gravity: 0.35, Gross: grossHard},
	{Key: "pine", Name: "white pine", Gravity: 0.34, Gross: grossSoft},
	{Key: "poplar", Name: "balsam poplar", Gravity: 0.31, Gross: grossHard},
	{Key: "mixed-hardwood", Name: "mixed hardwood", Gravity: 0.52, Gross: grossHard},
	{Key: "mixed-softwood", Name: "mixed softwood", Gravity: 0.38, Gross: grossSoft},
	{Key: "softwood-offcuts", Name: "untreated softwood offcuts", Gravity: 0.40, Gross: grossSoft},
	{Key: "pressed-logs", Name: "compressed logs", Gravity: 1.00, Gross: grossOther},
	{Key: "mineral-fuel", Name: "manufactured mineral fuel (recorded, not simulated)", Gravity: 0.80, Gross: 29, Mineral: true},
}

// AllSpecies returns the species, densest first.
func AllSpecies() []Species {
	all := append([]Species(nil), species...)
	sort.SliceStable(all, func(i, j int) bool { return all[i].Gravity > all[j].Gravity })
	return all
}

// SpeciesByKey finds a species by its key or its name.
func SpeciesByKey(key string) (Species, error) {
	wanted := strings.ToLower(strings.TrimSpace(key))
	for _, s := range species {
		if s.Key == wanted || strings.ToLower(s.Name) == wanted {
			return s, nil
		}
	}
	keys := make([]string, len(species))
	for i, s := range species {
		keys[i] = s.Key
	}
	sort.Strings(keys)
	return Species{}, fmt.Errorf("%q is not a known wood: one of %s would do", key, strings.Join(keys, ", "))
}
