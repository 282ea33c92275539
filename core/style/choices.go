package style

// How words are aligned, words that are no text of their own follow: a list's marks,
// a button, a picture (pieces' styles read --side, --before and --after).
var (
	aligns  = []Choice{{"start", "left", "text-align:start;--side:start;--before:0;--after:auto"}, {"center", "centred", "text-align:center;--side:center;--before:auto;--after:auto"}, {"end", "right", "text-align:end;--side:end;--before:auto;--after:0"}}
	widths  = []Choice{{"contained", "contained", "--width:68rem"}, {"narrow", "narrow", "--width:42rem"}, {"full", "the whole width", "--width:100%"}}
	corners = []Choice{{"none", "square", "border-radius:0"}, {"small", "slightly rounded", "border-radius:4px"}, {"round", "round", "border-radius:14px"}, {"pill", "round ends", "border-radius:99px"}}
	shadows = []Choice{{"none", "none", "box-shadow:none"}, {"soft", "soft", "box-shadow:0 1px 3px #00000024"}, {"firm", "firm", "box-shadow:0 6px 18px #0000002e"}}
	effects = []Choice{{"none", "plain", "text-shadow:none"}, {"lift", "a dark shade behind", "text-shadow:0 1px 3px #000000b3"}, {"glow", "a light shade behind", "text-shadow:0 0 6px #ffffffd9"}, {"caps", "capitals, spaced", "text-transform:uppercase;letter-spacing:.06em"}, {"italic", "italic", "font-style:italic"}}
	seen    = []Choice{{"all", "everywhere", ""}, {"phone", "on phones only", ""}, {"wide", "on wider screens only", ""}}
	fits    = []Choice{{"cover", "fills the band", "background-size:cover"}, {"contain", "is seen whole", "background-size:contain"}}
	veils   = []Choice{{"dark", "dark", ""}, {"light", "light", ""}}
	cuts    = []Choice{{"none", "as it is", "clip-path:none"}, {"round", "round", "clip-path:circle(50%);aspect-ratio:1;object-fit:cover"}, {"arch", "under an arch", "border-radius:50% 50% 0 0/38% 38% 0 0"}, {"leaf", "as a leaf", "border-radius:0 50%"}, {"slant", "aslant", "clip-path:polygon(9% 0,100% 0,91% 100%,0 100%)"}, {"torn", "torn at its foot", "clip-path:" + torn()}}
	tints   = []Choice{{"none", "its own colours", "filter:none;mix-blend-mode:normal"}, {"grey", "greys", "filter:grayscale(1);mix-blend-mode:normal"}, {"duotone", "two tones of the house", "filter:grayscale(1) contrast(1.1);mix-blend-mode:multiply"}, {"night", "the colours of the night", "filter:grayscale(1) contrast(1.1);mix-blend-mode:screen"}, {"warm", "the warmth of old prints", "filter:sepia(.38) saturate(.9) contrast(.97);mix-blend-mode:normal"}}
	// Two tones need a ground to be mixed with, around the picture.
	tintsAround = []Choice{{"none", "", ""}, {"grey", "", ""}, {"duotone", "", "isolation:isolate;background:color-mix(in oklab,var(--action) 42%,var(--card))"}, {"night", "", "isolation:isolate;background:var(--night)"}, {"warm", "", ""}}
	// What a button does under the pointer; what it turns to, see [Look.pressed].
	hovers = []Choice{{"lighten", "", "background:var(--paler);border-color:var(--paler);transform:none"}, {"darken", "", "background:var(--deeper);border-color:var(--deeper);transform:none"}, {"lift", "", "transform:translateY(-2px);box-shadow:0 4px 10px #0000003d"}}
	rims   = []Choice{{"straight", "straight", ""}, {"wave", "in waves", ""}, {"torn", "torn", ""}, {"slope", "falling", ""}, {"hill", "a low hill", ""}, {"scallops", "scalloped", ""}, {"points", "pinked", ""}}
)

// sheetless takes away the sheet under a framed picture that is cut.
func sheetless(cut string) string {
	if cut == "none" {
		return ""
	}
	return "--sheet:none"
}
