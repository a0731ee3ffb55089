package webtest

const TheDay = "/plan/day?stove=1&aim=hold&for=22:30&low=18&high=21.5&room=16.5&outdoor=1+C&start=cold&wood=1&kindling=6"

// FieldsOf returns what a page's forms hold, by name; the first of each name.
func FieldsOf(a Answer) map[string]string {
	out := map[string]string{}
	pairs := Fields(a.Body)
	for i := 0; i < len(pairs); i += 2 {
		if _, there := out[pairs[i]]; !there {
			out[pairs[i]] = pairs[i+1]
		}
	}
	return out
}
