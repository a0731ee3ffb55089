package webtest

import (
	"regexp"
)

// Metric finds figures with a unit that no imperial household reads; g of smoke, pascals and
// percent are the same everywhere, and so is kWh, which is how heat is sold.
var Metric = regexp.MustCompile(`[0-9] ?((kg|°C|cm|mm|m2|m3|km/h|m/s|litres?|L|MJ|W/K)\b|m²|m³|t/m³)`)
