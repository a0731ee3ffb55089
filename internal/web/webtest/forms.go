package webtest

import (
	"html"
	"regexp"
	"strings"
)

// Fields reads back what a page's form would send unchanged.
func Fields(page string) []string {
	var out []string
	main := Between(page, `<main`, `</main>`)
	for _, m := range regexp.MustCompile(`<input[^>]*>`).FindAllString(main, -1) {
		name, value := Between(m, `name="`, `"`), Between(m, `value="`, `"`)
		if name == "" || regexp.MustCompile(`type="(checkbox|radio)"`).MatchString(m) && !strings.Contains(m, " checked") {
			continue
		}
		out = append(out, name, html.UnescapeString(value))
	}
	for _, m := range regexp.MustCompile(`(?s)<select.*?</select>`).FindAllString(main, -1) {
		chosen := Between(m, `<option value="`, `"`)
		if _, rest, ok := strings.Cut(m, `" selected>`); ok {
			before := m[:len(m)-len(rest)-len(`" selected>`)]
			chosen = before[strings.LastIndex(before, `value="`)+len(`value="`):]
		}
		out = append(out, Between(m, `name="`, `"`), chosen)
	}
	return out
}
