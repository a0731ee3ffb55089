package say

import (
	"smolder/internal/core/fire"
	"smolder/internal/core/review"
	"smolder/internal/core/stove"
	"smolder/internal/core/wood"
	"smolder/internal/lang"
)

// What the core names itself, in words that a language can say: a test finds one that has
// no row here.

// species are the kinds of wood, by their keys.
var species = map[string]lang.Message{
	"holm-oak":         "holm oak",
	"red-gum":          "river red gum",
	"olive":            "olive",
	"eucalypt":         "eucalypt, others",
	"hornbeam":         "hornbeam",
	"fruit-wood":       "apple, pear, plum",
	"walnut":           "walnut",
	"sycamore":         "sycamore maple",
	"elm":              "elm",
	"chestnut":         "sweet chestnut",
	"lime":             "lime",
	"scots-pine":       "Scots pine",
	"radiata-pine":     "radiata pine",
	"silver-fir":       "silver fir",
	"willow":           "willow",
	"hickory":          "shagbark hickory",
	"locust":           "black locust",
	"white-oak":        "white oak",
	"oak":              "red oak",
	"sugar-maple":      "sugar maple",
	"beech":            "beech",
	"ash":              "white ash",
	"birch":            "yellow birch",
	"larch":            "larch",
	"maple":            "red maple",
	"paper-birch":      "paper birch",
	"cherry":           "cherry",
	"douglas-fir":      "Douglas fir",
	"alder":            "alder",
	"yellow-poplar":    "yellow poplar",
	"hemlock":          "hemlock",
	"lodgepole-pine":   "lodgepole pine",
	"spruce":           "spruce",
	"aspen":            "aspen",
	"pine":             "white pine",
	"poplar":           "balsam poplar",
	"mixed-hardwood":   "mixed hardwood",
	"mixed-softwood":   "mixed softwood",
	"softwood-offcuts": "untreated softwood offcuts",
	"pressed-logs":     "compressed logs",
	"mineral-fuel":     "manufactured mineral fuel (recorded, not simulated)",
}

// Species names a kind of wood; one that a file brought with it by its own name.
func Species(s wood.Species, loc lang.Locale) string {
	if name, known := species[s.Key]; known && name.English() == s.Name {
		return loc.T(name)
	}
	return s.Name
}

// phases are those of a fire.
var phases = map[fire.Phase]lang.Message{
	fire.Preparing: "preparing", fire.Lighting: "lighting", fire.Establishing: "establishing", fire.Charring: "charring", fire.Cruising: "cruising",
	fire.Coaling: "coaling", fire.Out: "out", review.Smouldering: "smouldering",
}

// Phase names a phase of a fire.
func Phase(p fire.Phase, loc lang.Locale) string { return loc.T(phases[p]) }

// directions are how pieces lie in a firebox.
var directions = map[stove.Direction]lang.Message{stove.EndOn: "end-on", stove.Sideways: "sideways"}

// Direction says how pieces lie, as a part of a sentence.
func Direction(d stove.Direction) lang.Message { return directions[d] }

// eyeMarks are what an eye may have seen, by the core's word for it, and what is asked.
var eyeMarks = map[string]lang.Message{
	"the glass": "the glass", "clear": "clear", "hazed": "hazed", "black": "black¦of glass",
	"coals left": "coals left", "a good bed": "a good bed", "a layer": "a layer", "a handful": "a handful", "none": "none",
	"smoke at the cap": "smoke at the cap", "none seen": "none seen", "for a while": "for a while", "for long": "for long",
	"smell in the room": "smell in the room", "a little": "a little", "of smoke": "of smoke",
	"the room was": "the room was", "right": "right¦of a room", "too warm": "too warm", "too cold": "too cold",
}

// EyeMark says what an eye has seen, or what is asked of it, by the core's word for it.
func EyeMark(word string, loc lang.Locale) string { return loc.T(eyeMarks[word]) }

// charcoals are how much charcoal there was in the ash, by the core's words for it.
var charcoals = map[string]lang.Message{"hardly any charcoal": "hardly any charcoal", "some charcoal": "some charcoal",
	"half of it charcoal": "half of it charcoal", "mostly charcoal": "mostly charcoal"}

// Charcoal says how much charcoal there was in the ash, by the core's word for it.
func Charcoal(word string, loc lang.Locale) string { return loc.T(charcoals[word]) }

// shares are the shares of a lever's way that have a word, by the word that is typed for them.
var shares = map[string]lang.Message{
	"an eighth": "an eighth", "a sixth": "a sixth", "a quarter": "a quarter", "a third": "a third", "a half": "a half", "two thirds": "two thirds",
	"three quarters": "three quarters",
}

// StackName is what a stack is called; what was left from a fire before is a stack of ours.
func StackName(name string, loc lang.Locale) string {
	if name == fire.LeftOver {
		return loc.T("what was left from the fire before")
	}
	return name
}
