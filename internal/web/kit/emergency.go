package kit

type emergencyPage struct {
	Page
	Which string
}
