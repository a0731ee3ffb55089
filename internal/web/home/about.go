package home

import (
	"net/http"

	"smolder/internal/notices"
	"smolder/internal/web/kit"
)

type aboutPage struct {
	kit.Page
	Version string
	Notices []notices.Notice
}

// about says which Smolder this is, what its advice is worth, and whose work is in
// it.
func (s Room) about(q *kit.Request) error {
	q.Show(http.StatusOK, "about", &aboutPage{Page: kit.Page{Title: q.T("About"), Nav: "household", Wide: true}, Version: notices.Version(),
		Notices: notices.All()})
	return nil
}
