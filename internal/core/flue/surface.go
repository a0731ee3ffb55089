package flue

import (
	"math"

	"smolder/internal/core/units"
)

const (
	stefanBoltzmann = 5.670374e-8
	emissivity      = 0.9
	innerFilm       = 14.5 // W/m²K, 12 to 17 by flow
)

// GasFromSurface converts a reading on single-wall connector pipe into the
// temperature of the gas inside. What the surface gives to the room by natural
// convection and radiation has come through the inner film:
//
//	h_i (T_gas − T_s) = h_c (T_s − T_room) + εσ(T_s⁴ − T_room⁴)
//
// ε 0.9, h_i 12 to 17 W/m²K, so the answer is good to about ±20 %. Never on
// double-wall pipe, whose outside says little of its inside.
func GasFromSurface(surface, room units.Celsius) units.Celsius {
	return surface + units.Celsius(surfaceLoss(surface, room)/innerFilm)
}

// SurfaceFromGas is the inverse of [GasFromSurface], by Newton's method.
func SurfaceFromGas(gas, room units.Celsius) units.Celsius {
	s := room + (gas-room)*0.55
	for range 4 {
		f := float64(s) + surfaceLoss(s, room)/innerFilm - float64(gas)
		slope := 1 + (6+4*emissivity*stefanBoltzmann*math.Pow(s.Kelvin(), 3))/innerFilm
		s -= units.Celsius(f / slope)
	}
	return s
}

// RefineSurface takes one Newton step from a surface temperature near the one
// that goes with the gas. It needs no power function, for use at every step of
// a simulation.
func RefineSurface(near, gas, room units.Celsius) units.Celsius {
	dt := float64(near - room)
	quarter := math.Sqrt(math.Sqrt(math.Abs(dt) / 0.15))
	s, r := near.Kelvin(), room.Kelvin()
	loss := 1.42*quarter*dt + emissivity*stefanBoltzmann*(s*s*s*s-r*r*r*r)
	slope := innerFilm + 1.25*1.42*quarter + 4*emissivity*stefanBoltzmann*s*s*s
	return near - units.Celsius((innerFilm*float64(near-gas)+loss)/slope)
}

// surfaceLoss is the heat a pipe's surface gives to the room, W/m².
func surfaceLoss(surface, room units.Celsius) float64 {
	dt := float64(surface - room)
	convection := 1.42 * math.Pow(math.Abs(dt)/0.15, 0.25) * dt
	s, r := surface.Kelvin(), room.Kelvin()
	return convection + emissivity*stefanBoltzmann*(s*s*s*s-r*r*r*r)
}
