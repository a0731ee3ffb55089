package web

type emergencyPage struct {
	page
	Which string
}
