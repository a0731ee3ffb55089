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

// A RoleRow describes a role; its words are in package say, what it does to a fire in package
// fire.
type RoleRow struct {
	Role Role
	Air  bool // it lets air into the fire, or drives it
}

// RoleRows are the roles, in the order in which a stove's form offers them.
var RoleRows = []RoleRow{
	{Combined, true}, {PrimaryAir, true}, {SecondAir, true}, {GlassWash, true}, {UnderGrate, true}, {TopAir, true}, {DoorVent, true},
	{BypassRole, false}, {Damper, false}, {Barometric, false}, {Fan, true}, {Blower, false}, {OutsideAir, true}, {Riddle, false}, {AshFlap, true},
}

// Roles lists the roles.
var Roles = func() (out []Role) {
	for _, r := range RoleRows {
		out = append(out, r.Role)
	}
	return out
}()

// Known tells whether r is one of [Roles].
func (r Role) Known() bool { return slices.Contains(Roles, r) }

// Air tells whether the control lets air into the fire or drives it.
func (r Role) Air() bool { return slices.Contains(RoleRows, RoleRow{r, true}) }

// A Control is something the owner moves, with the owner's own marks.
type Control struct {
	Key   string // stable within the stove, such as "lever"
	Name  string
	Role  Role
	Scale Scale

	ToLight ToLight // how it stands while a fire is lit, where the manual says; empty: as usual
}
