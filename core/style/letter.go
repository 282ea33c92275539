package style

// LetterColours are those of a letter. Mail programs show it as it is by day, and on dark
// ground where their reader has it dark.
type LetterColours struct {
	Paper, Card, Ink, Quiet, Rule, Action, OnAction, Edge Colour
}

// Letter are the colours of a house's letters by day.
func (h House) Letter() LetterColours {
	return LetterColours{
		Paper: h.Colour("paper"), Card: h.Colour("card"), Ink: h.Colour("ink"), Quiet: h.Shade("quiet"), Rule: h.Shade("rule"),
		Action: h.Colour("action"), OnAction: h.Shade("on-action"), Edge: h.edge(),
	}
}

// LetterInTheDark are those of its letters where it is dark: a ground of no house, on which
// the house keeps its button.
func (h House) LetterInTheDark() LetterColours {
	l := h.Letter()
	l.Paper, l.Card = Colour{0x14, 0x19, 0x1b}, Colour{0x1d, 0x24, 0x27}
	l.Ink, l.Quiet = Colour{0xec, 0xe7, 0xdb}, Colour{0xb9, 0xb5, 0xaa}
	l.Edge, _ = Readable(l.Action, ForLarge, l.Card)
	return l
}

// Readings are how well its words, and its button, stand out (WCAG 2.2, 1.4.3 and 1.4.11).
func (l LetterColours) Readings() []Reading {
	return []Reading{
		{What: "The words", Ratio: Contrast(l.Ink, l.Card), Least: ForText, Token: "ink"},
		{What: "The words beneath", Ratio: Contrast(l.Quiet, l.Paper), Least: ForText, Token: "ink"},
		{What: "The words on its button", Ratio: Contrast(l.OnAction, l.Action), Least: ForText, Token: "action"},
		{What: "The edges of its buttons", Ratio: Contrast(l.Edge, l.Card), Least: ForLarge, Token: "action"},
	}
}
