package say

import "smolder/internal/lang"

// A Sight is something that is seen of a fire, or at its cap, as it is drawn.
type Sight struct {
	Says  lang.Message
	Drawn string // SVG in a box of 64 by 40, in our own lines
}

// What a beginner has to tell apart. Each stands beside its opposite where it is asked for.
var (
	AllBlack = Sight{"black all over",
		`<path d="M4 36h56" class="thin"/><path d="M9 35v-9h21v9zM34 35v-9h21v9zM21 26v-9h22v9z" class="sight-black"/><path d="M32 15c5-4 3-7 0-12c-3 4-4 8 0 12zM14 24c3-3 2-5 0-8c-2 3-3 5 0 8zM50 24c3-3 2-5 0-8c-2 3-3 5 0 8z" class="sign-ember"/>`}
	StillBare = Sight{"wood shows",
		`<path d="M4 36h56" class="thin"/><path d="M9 35v-9h21v9zM34 35v-9h21v9zM21 26v-9h22v9z" class="sight-bare"/><path d="M9 35v-9h8v9zM47 35v-9h8v9z" class="sight-black"/><path d="M32 15c5-4 3-7 0-12c-3 4-4 8 0 12z" class="sign-ember"/>`}
	Lively = Sight{"lively flames",
		`<path d="M4 36h56" class="thin"/><path d="M9 35c-4-9 5-12 3-22c8 6 8 15 4 22zM24 35c-5-12 6-15 3-31c10 9 11 23 6 31zM41 35c-4-9 5-13 3-25c9 7 9 17 5 25z" class="sign-ember"/>`}
	Lazy = Sight{"lazy flames",
		`<path d="M4 36h56" class="thin"/><path d="M14 35c-9-12 9-17 0-31M31 35c-9-12 9-17 0-31M48 35c-9-12 9-17 0-31" class="sight-lazy"/>`}
	NoFlames = Sight{"no flames",
		`<path d="M4 36h56" class="thin"/><path d="M9 35v-9h21v9zM34 35v-9h21v9zM21 26v-9h22v9z" class="sight-black"/><path d="M24 14c-4-4 4-6 0-11M34 14c-4-4 4-6 0-11M44 22c-3-4 4-6 1-11" class="sign-ash"/>`}
	Vapour = Sight{"white vapour: gone at once",
		`<path d="M22 38V22h20v16M17 22h30" class="thin"/><path d="M27 18c-3-3 2-4 0-8M34 18c-3-3 2-4 0-8M40 18c-3-3 2-4 0-8" class="sign"/><path d="M28 6h.1M36 5h.1M42 6h.1M32 2h.1" class="sign"/>`}
	BlueGrey = Sight{"blue-grey smoke: it trails",
		`<path d="M10 38V22h20v16M5 22h30" class="thin"/><path d="M14 19c-2-9 12-9 48-14M20 19c0-6 14-7 42-9M26 19c2-4 14-5 36-5" class="sight-smoke"/>`}
	Clear = Sight{"only shimmer",
		`<path d="M22 38V22h20v16M17 22h30" class="thin"/><path d="M26 17h2M34 17h2M30 11h2M38 11h2M26 6h2M34 6h2" class="sign-lichen"/>`}
	Coals = Sight{"coals over the floor",
		`<path d="M4 6v30h56V6" class="thin"/><path d="M6 35V24l6-4 7 3 6-6 8 5 8-6 7 5 10-2v16z" class="sign-ember"/><path d="M33 17c3-3 2-5 0-8c-2 3-3 5 0 8z" class="sign-ember"/>`}
	FewCoals = Sight{"too few",
		`<path d="M4 6v30h56V6" class="thin"/><path d="M26 35l4-5 4 3 4-4 4 6z" class="sign-ember"/>`}
	FlamesOn = Sight{"flames on wood: wait",
		`<path d="M4 6v30h56V6" class="thin"/><path d="M12 35v-8h19v8zM33 35v-8h19v8z" class="sight-black"/><path d="M20 26c-4-7 4-10 2-18c7 5 7 13 3 18zM40 26c-4-7 4-10 2-18c7 5 7 13 3 18z" class="sign-ember"/>`}
)

// Sights are those that a page asks for by name: what somebody says of the cap.
var Sights = map[string]Sight{"clear": Clear, "white": Vapour, "grey": BlueGrey}
