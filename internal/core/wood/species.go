package wood

import (
	"fmt"
	"sort"
	"strings"
)

// A Species is a kind of wood as the Wood Handbook knows it.
type Species struct {
	Key     string  // short, lower case, as typed on the command line
	Name    string  // as shown
	Gravity float64 // oven-dry mass over green volume, t/m³
	Gross   float64 // gross heating value, MJ per kg oven dry
}

// Gross heating values, MJ/kg oven dry (Wood Handbook): resin lifts softwoods.
const (
	grossHard  = 19.7
	grossSoft  = 20.8
	grossOther = 20.0
)

// species is Wood Handbook table 5 ("basic specific gravity").
var species = []Species{
	{"hickory", "shagbark hickory", 0.64, grossHard},
	{"locust", "black locust", 0.66, grossHard},
	{"white-oak", "white oak", 0.60, grossHard},
	{"oak", "red oak", 0.56, grossHard},
	{"sugar-maple", "sugar maple", 0.56, grossHard},
	{"beech", "beech", 0.56, grossHard},
	{"ash", "white ash", 0.55, grossHard},
	{"birch", "yellow birch", 0.55, grossHard},
	{"larch", "larch", 0.48, grossSoft},
	{"maple", "red maple", 0.49, grossHard},
	{"paper-birch", "paper birch", 0.48, grossHard},
	{"cherry", "cherry", 0.47, grossHard},
	{"douglas-fir", "Douglas fir", 0.45, grossSoft},
	{"alder", "alder", 0.37, grossHard},
	{"yellow-poplar", "yellow poplar", 0.40, grossHard},
	{"hemlock", "hemlock", 0.38, grossSoft},
	{"lodgepole-pine", "lodgepole pine", 0.38, grossSoft},
	{"spruce", "spruce", 0.37, grossSoft},
	{"aspen", "aspen", 0.35, grossHard},
	{"pine", "white pine", 0.34, grossSoft},
	{"poplar", "balsam poplar", 0.31, grossHard},
	{"softwood-offcuts", "untreated softwood offcuts", 0.40, grossSoft},
	{"pressed-logs", "compressed logs", 1.00, grossOther},
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
