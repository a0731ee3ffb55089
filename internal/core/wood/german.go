package wood

import "strings"

// germanAmounts are the words of an amount in German and what they are in English, the longer
// before the shorter. A Klafter is left out: it is two, three or four cubic metres, by the region.
var germanAmounts = strings.NewReplacer(german(
	"schüttraummeter", "srm", "schüttmeter", "srm", "raummeter", "rm", "stere", "rm", "festmeter", "fm",
	"ein anhänger von", "a trailer of", "einen anhänger von", "a trailer of", "anhänger", "trailer",
	"ein haufen von", "a heap of", "haufen", "heap",
	"gestapelt", "stacked", "geschichtet", "stacked", "lose", "loose", "geschüttet", "tipped",
	"reihen von", "rows of", "reihe von", "row of", "reihen", "rows", "reihe", "row", "ansteigend um", "rising", "steigend um", "rising",
	"kisten zu", "crates of", "kiste zu", "crate of", "säcke zu", "sacks of", "sack zu", "sack of", "netze zu", "nets of", "netz zu", "net of",
	"schubkarren zu", "barrows of", "körbe zu", "boxes of",
	"paletten", "pallets", "palette", "pallet", "massives holz", "solid", "massiv", "solid",
	"mal", "x", "etwa", "about", "ungefähr", "about",
)...)

// german sets blanks about words, so that only whole ones are changed.
func german(pairs ...string) []string {
	for i, w := range pairs {
		pairs[i] = " " + w + " "
	}
	return pairs
}

// fromGerman is an amount in small letters with its German words in English. Punctuation is set
// apart for it; two words in a row share a blank, so it goes over the text twice.
func fromGerman(text string) string {
	out := " " + strings.ReplaceAll(text, ", ", " , ") + " "
	out = germanAmounts.Replace(germanAmounts.Replace(out))
	return strings.TrimSpace(strings.ReplaceAll(out, " , ", ", "))
}
