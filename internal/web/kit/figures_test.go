package kit

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestANumberDoesNotPartFromItsUnit(t *testing.T) {
	for text, want := range map[string]string{
		"<p>6.2 kg of oak</p>":               "<p>6.2\u00a0kg of oak</p>",
		"<p>at 240 °C, 18 % dry; 3 h 20 min": "<p>at 240\u00a0°C, 18\u00a0% dry; 3\u00a0h 20\u00a0min",
		`<input value="6.2 kg"> 4–9 min`:     "<input value=\"6.2 kg\"> 4–\u20609\u00a0min",
		"<b>12</b> kg":                       "<b>12</b> kg", // a tag stands between them
		"5 burns, 3 m high, 4 mice":          "5 burns, 3\u00a0m high, 4 mice",
		"120 BTU/h·°F":                       "120 BTU/h·°F",
		"in 4–9 min, end–on, 5–":             "in 4–\u20609\u00a0min, end–on, 5–",
		"<textarea>6 kg, 4–9</textarea>5 kg": "<textarea>6 kg, 4–9</textarea>5\u00a0kg",
		"ends with 5 ":                       "ends with 5 ",
		"":                                   "",
	} {
		assert.Equal(t, want, string(together([]byte(text))))
	}
}
