package when

import (
	"regexp"
	"strings"
)

// What is typed in German is read as what it means in English, word by word: times are few words,
// and none of them means something else in the other language.
var germanWords = [][2]string{
	{"die ganze zeit", "all the time"}, {"immer", "all the time"}, {"den ganzen tag", "all day"}, {"die ganze nacht", "all night"}, {"über nacht", "overnight"},
	{"den ganzen abend", "all evening"}, {"zum schlafengehen", "bedtime"}, {"schlafenszeit", "bedtime"}, {"eine halbe stunde", "half an hour"},
	{"bis", "until"}, {"jetzt", "now"}, {"morgen früh", "tomorrow morning"}, {"morgen", "tomorrow"}, {"gestern", "yesterday"}, {"heute", "today"}, {"ab", "from"}, {"von", "from"},
	{"und", "and"}, {"um", "at"}, {"mittag", "noon"}, {"mitternacht", "midnight"},
	{"stunden", "h"}, {"stunde", "h"}, {"std", "h"}, {"minuten", "min"}, {"minute", "min"}, {"jahre", "years"}, {"jahren", "years"}, {"jahr", "year"}, {"monate", "months"},
	{"monaten", "months"}, {"monat", "month"}, {"wochen", "weeks"}, {"woche", "week"},
	{"januar", "january"}, {"februar", "february"}, {"märz", "march"}, {"mai", "may"}, {"juni", "june"}, {"juli", "july"}, {"oktober", "october"}, {"dezember", "december"},
}

// germanHours are hours by their names, from one to twelve.
var germanHours = []string{"eins", "zwei", "drei", "vier", "fünf", "sechs", "sieben", "acht", "neun", "zehn", "elf", "zwölf"}

var englishHours = []string{"one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"}

var (
	// oClock is "22 uhr" or "22 uhr 30".
	oClock = regexp.MustCompile(`\b(\d{1,2}) uhr(?: (\d\d))?\b`)
	// agoBefore is "vor 5 min".
	agoBefore = regexp.MustCompile(`^vor (.+)$`)
)

// fromGerman is a text in small letters with its German words in English.
func fromGerman(text string) string {
	text = oClock.ReplaceAllStringFunc(text, func(found string) string {
		m := oClock.FindStringSubmatch(found)
		if m[2] == "" {
			m[2] = "00"
		}
		return m[1] + ":" + m[2]
	})
	out := " " + text + " "
	for _, w := range germanWords {
		out = strings.ReplaceAll(out, " "+w[0]+" ", " "+w[1]+" ")
		out = strings.ReplaceAll(out, " "+w[0]+", ", " "+w[1]+", ")
	}
	for i, hour := range germanHours {
		before := englishHours[(i+11)%12] // halb elf is half past ten
		out = strings.ReplaceAll(out, " halb "+hour+" ", " half past "+before+" ")
		out = strings.ReplaceAll(out, " viertel nach "+hour+" ", " quarter past "+englishHours[i]+" ")
		out = strings.ReplaceAll(out, " viertel vor "+hour+" ", " quarter to "+englishHours[i]+" ")
		out = strings.ReplaceAll(out, " "+hour+" ", " "+englishHours[i]+" ")
	}
	out = strings.TrimSpace(out)
	if m := agoBefore.FindStringSubmatch(out); m != nil {
		return m[1] + " ago"
	}
	return out
}
