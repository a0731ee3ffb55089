package say

import (
	"html/template"

	"smolder/internal/core/stove"
)

// families are the families of stoves in section, in a box of 72 by 52: the door to the left, the
// flue above.
var families = map[stove.Family]string{
	stove.SecondaryAir: `<path d="M12 12h44v36H12zM46 12V2M54 12V2" class="thin"/><path d="M12 22h34" class="sign"/><path d="M18 22v2M24 22v2M30 22v2M36 22v2M42 22v2" class="sign"/>` +
		`<path d="M20 26c3 3 3 5 0 8c-3-3-3-5 0-8zM30 26c3 3 3 5 0 8c-3-3-3-5 0-8zM40 26c3 3 3 5 0 8c-3-3-3-5 0-8z" class="sign-ember"/><path d="M18 46v-7h30v7z" class="sight-bare"/>`,
	stove.Plain: `<path d="M12 12h44v36H12zM30 12V2M38 12V2" class="thin"/><path d="M4 42h12M12 38l4 4-4 4" class="sign"/><path d="M34 38c-6-6 3-10 0-20c9 6 8 15 4 20z" class="sign-ember"/><path d="M22 46v-7h28v7z" class="sight-bare"/>`,
	stove.Catalytic: `<path d="M12 12h44v36H12zM46 12V2M54 12V2" class="thin"/><path d="M14 14h14v9H14zM14 18h14M19 14v9M23 14v9" class="sign"/><path d="M34 22l12-8" class="sign"/><circle cx="34" cy="22" r="1.6" class="sign-dot"/>` +
		`<path d="M36 38c-4-4 2-7 0-12c6 4 5 9 3 12z" class="sign-ember"/><path d="M18 46v-7h30v7z" class="sight-bare"/>`,
	stove.MultiFuel: `<path d="M12 12h44v38H12zM30 12V2M38 12V2" class="thin"/><path d="M14 40h4M21 40h4M28 40h4M35 40h4M42 40h4M49 40h5" class="sign"/><path d="M16 50v-5h36v5" class="thin"/><path d="M26 48v-5M36 48v-5M46 48v-5" class="sign-ash"/>` +
		`<path d="M34 30c-5-5 3-8 0-15c7 5 6 11 3 15z" class="sign-ember"/><path d="M20 38v-7h30v7z" class="sight-bare"/>`,
	stove.Tiny: `<path d="M24 26h22v18H24zM33 26V2M37 26V2M27 44v4M43 44v4" class="thin"/><path d="M34 36c-3-3 2-4 0-8c4 3 4 6 2 8z" class="sign-ember"/><path d="M29 42v-5h12v5z" class="sight-bare"/>`,
	stove.Refractory: `<path d="M8 8h52v42H8zM16 16h36v26H16zM30 8V2M38 8V2" class="thin"/><path d="M10 12l4-4M22 15l7-7M40 15l7-7M53 24l7-7M53 38l7-7M9 30l7-7M9 44l7-7M24 49l7-7M42 49l7-7" class="sign-ash"/>` +
		`<circle cx="63" cy="45" r="5" class="sign"/><path d="M63 45v-4M63 45l4 2M63 45l-4 2" class="sign"/><path d="M34 34c-5-4 2-7 0-13c7 4 6 10 3 13z" class="sign-ember"/><path d="M24 40v-5h22v5z" class="sight-bare"/>`,
}

// FamilyDrawn is a family of stoves in section; its words stand beside it.
func FamilyDrawn(f stove.Family) template.HTML {
	return template.HTML(`<svg class="strip sight" viewBox="0 0 72 52" width="72" height="52" aria-hidden="true">` + families[f] + `</svg>`) //nolint:gosec // of our own table
}
