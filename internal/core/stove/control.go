package stove

import "slices"

// A Role is what a control moves.
type Role string

// The roles. The Combined lever moves primary, secondary and wash together.
const (
	Combined   Role = "combined"
	PrimaryAir Role = "primary"
	SecondAir  Role = "secondary"
	GlassWash  Role = "wash"
	UnderGrate Role = "under-grate"
	TopAir     Role = "top-air"
	DoorVent   Role = "door-vent"
	BypassRole Role = "bypass"
	Damper     Role = "flue-damper"
	Barometric Role = "barometric"
	Fan        Role = "fan"
	Blower     Role = "blower"
	OutsideAir Role = "outside-air"
	Riddle     Role = "riddle"
	AshFlap    Role = "ash-flap"
)

// Roles lists the roles.
var Roles = []Role{Combined, PrimaryAir, SecondAir, GlassWash, UnderGrate, TopAir, DoorVent, BypassRole, Damper, Barometric, Fan, Blower,
	OutsideAir, Riddle, AshFlap}

// Known tells whether r is one of [Roles].
func (r Role) Known() bool { return slices.Contains(Roles, r) }

// Air tells whether the control lets air into the fire or drives it.
func (r Role) Air() bool {
	switch r {
	case Combined, PrimaryAir, SecondAir, GlassWash, UnderGrate, TopAir, DoorVent, AshFlap, Fan, OutsideAir:
		return true
	}
	return false
}

// A Control is something the owner moves, with the owner's own marks.
type Control struct {
	Key   string // stable within the stove, such as "lever"
	Name  string
	Role  Role
	Scale Scale
}
