package home

import (
	"fmt"
	"html/template"
	"net/http"
	"strings"
	"time"

	"smolder/internal/lang"
	"smolder/internal/say"
	"smolder/internal/web/kit"
)

// A word of the glossary as the page has it.
type word struct {
	Anchor, Word, Means string
	Drawn               template.HTML
}

type wordsPage struct {
	kit.Page
	Words []word
}

// words shows what the field's words mean.
func (s Room) words(q *kit.Request) error {
	q.Show(http.StatusOK, "words", &wordsPage{Page: kit.Page{Title: q.T("Words"), Nav: "find", Wide: true}, Words: wordsIn(q.Locale())})
	return nil
}

func wordsIn(loc lang.Locale) []word {
	var out []word
	for _, t := range say.Glossary {
		w := word{Anchor: strings.ReplaceAll(strings.ToLower(string(t.Word)), " ", "-"), Word: loc.T(t.Word), Means: loc.T(t.Means)}
		if t.Drawn != "" {
			w.Drawn = template.HTML(`<svg class="strip" viewBox="0 0 64 40" width="96" height="60" aria-hidden="true">` + t.Drawn + `</svg>`) //nolint:gosec // of our own table
		}
		out = append(out, w)
	}
	return out
}

// A room of the house as it is found: its name, and other words for what is done there.
type place struct {
	Path        string
	Name, Calls lang.Message
}

// places are the pages that are found by their name or by what is done there.
var places = []place{
	{"/", "Now", "what to do, how the fire is"},
	{"/plan", "Plan", "burn, evening, night, which logs, when to turn down"},
	{"/plan/day", "The day's fires", "whole day, night, chain, when is each load due"},
	{"/stove", "At the stove", "live, log, light, coach"},
	{"/burns", "Burns", "history, log book, afterwards, import, export"},
	{"/burns/compare", "Two ways of doing it", "compare, trial, which is better"},
	{"/season", "The season", "week by week, smoke, wood burnt"},
	{"/trouble", "Trouble", "smoke in the room, will not get hot, black glass, runs away, goes out, why"},
	{"/wood", "Wood", "stacks, drying, moisture, species"},
	{"/wood/winter", "Will it last", "wood left, winter, when does it run out"},
	{"/wood/next", "The winters to come", "how much to cut, next year"},
	{"/wood/basket", "The basket", "carry wood in"},
	{"/wood/offer", "An offer", "buy wood, price, cord"},
	{"/wood/trip", "A trip", "wood for days away, boat, van"},
	{"/stoves", "Stove and flue", "chimney, controls, gauges, manual, sensors"},
	{"/upkeep", "Upkeep", "sweep, gasket, ash, alarms, inspection"},
	{"/household", "Household", "units, people, spaces, password, devices, language"},
	{"/words", "Words", "glossary, what does it mean"},
	{"/about", "About", "what the advice is worth, licences"},
}

// A found is one thing that a search leads to.
type found struct{ Link, Name, Why string }

type findPage struct {
	kit.Page
	Asked string
	Found []found
}

// mostFound is how many things are listed of each kind; mostAsked how long a search may be.
const (
	mostFound = 8
	mostAsked = 80
	// lookedThrough is how many of the last burns are searched.
	lookedThrough = 500
)

// find looks for pages, stoves, stacks and words by what was typed.
func (s Room) find(q *kit.Request) error {
	p := &findPage{Page: kit.Page{Title: q.T("Find"), Nav: "find"}, Asked: strings.TrimSpace(q.Request.URL.Query().Get("q"))}
	if letters := []rune(p.Asked); len(letters) > mostAsked {
		p.Asked = string(letters[:mostAsked])
	}
	if p.Asked != "" {
		if err := p.look(q); err != nil {
			return err
		}
	}
	q.Show(http.StatusOK, "find", p)
	return nil
}

func (p *findPage) look(q *kit.Request) error {
	wanted := strings.Fields(strings.ToLower(p.Asked))
	matches := func(text string) bool {
		text = strings.ToLower(text)
		for _, w := range wanted {
			if !strings.Contains(text, w) {
				return false
			}
		}
		return true
	}
	n := 0
	add := func(link, name, why string) {
		if n < mostFound && matches(name+" "+why) {
			p.Found = append(p.Found, found{link, name, why})
			n++
		}
	}
	for _, x := range places {
		add(x.Path, q.T(x.Name), q.T(x.Calls))
	}
	stoves, err := q.Stoves()
	if err != nil {
		return err
	}
	n = 0
	for _, st := range stoves {
		add(fmt.Sprintf("/stoves/%d", st.ID), st.Name, q.T("stove, ")+st.Space.Name)
	}
	stacks, err := q.Stacks()
	if err != nil {
		return err
	}
	n = 0
	for _, st := range stacks {
		add(fmt.Sprintf("/wood/%d", st.ID), st.Name, q.T("stack of ")+st.Species.Name)
	}
	burns, err := q.Home.Burns(q.Ctx(), q.Now().Add(time.Minute), lookedThrough)
	if err != nil {
		return err
	}
	n = 0
	zone := q.Profile.Location()
	for _, b := range burns {
		day := b.Started.In(zone)
		add(fmt.Sprintf("/burns/%d", b.ID), b.Stove+", "+q.Locale().Date(day, "2 January 2006")+day.Format(" 15:04"), q.T("burn"))
	}
	n = 0
	for _, w := range wordsIn(q.Locale()) {
		add("/words#"+w.Anchor, w.Word, w.Means)
	}
	return nil
}
