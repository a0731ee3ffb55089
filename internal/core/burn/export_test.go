package burn

// Moments is how many entries each kept moment of the burn asked for last knows.
func (k *Beliefs) Moments() (out []int) {
	for _, m := range k.burns[len(k.burns)-1].moments {
		out = append(out, len(m.Record()))
	}
	return out
}
