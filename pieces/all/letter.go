package all

import (
	"slices"

	"chrysagon/core/letter"
	m "chrysagon/core/manuscript"
	"chrysagon/core/words"
)

// Lettered is a letter as bands of a page: one for each of its headings, each with a beat
// proposed: what its heading asks for where it says so in plain words, else by where it
// stands. What stands before the first heading is the opening.
func Lettered(parts []letter.Part, schema m.Schema, id func() string) []m.Band {
	sections := letter.Sections(parts)
	var out []m.Band
	for i, section := range sections {
		band := m.Band{ID: id(), Tone: m.Card, Columns: []m.Column{{Width: 1, Pieces: Parted(section, schema, id)}}}
		band.Name, band.Beat = "Opening", proposed(section[0], i, len(sections))
		if section[0].Kind == letter.Heading || section[0].Kind == letter.Title {
			band.Name = words.Cut(section[0].Text, 80)
		}
		if i%3 == 2 { // so that a long letter has places at which the eye rests
			band.Tone = m.Paper
		}
		out = append(out, band)
	}
	return out
}

// proposed is the beat of a section.
func proposed(first letter.Part, at, of int) m.Beat {
	if at == 0 && first.Kind != letter.Heading {
		return m.Attention
	}
	if fit, found := fit(first.Text); found && fit.Beat != m.Plain && (fit.Beat != m.Attention || at == 0) {
		return fit.Beat
	}
	switch {
	case at == 0:
		return m.Attention
	case at == of-1 && of > 2:
		return m.Action
	case 2*at <= of-1:
		return m.Interest
	}
	return m.Desire
}

// Parted is each part of a letter as the piece that it is.
func Parted(parts []letter.Part, schema m.Schema, id func() string) []m.Piece {
	var out []m.Piece
	add := func(kind string, fields m.Fields) {
		piece := Piece(schema[kind], id)
		for name, value := range fields {
			piece.Fields[name] = value
		}
		out = append(out, piece)
	}
	for _, p := range parts {
		switch p.Kind {
		case letter.Title:
			add("heading", m.Fields{"text": p.Text, "level": "1"})
		case letter.Teaser:
			add("text", m.Fields{"text": p.Text, "look": "teaser"})
		case letter.Heading:
			add("heading", m.Fields{"text": p.Text})
		case letter.Copy:
			add("text", m.Fields{"text": p.Rich})
		case letter.Points:
			mark := "check"
			if p.Count {
				mark = "number"
			}
			for list := range slices.Chunk(p.Items, m.MaxItems) {
				var items []any
				for _, item := range list {
					items = append(items, map[string]any{"text": item})
				}
				add("bullets", m.Fields{"items": items, "mark": mark})
			}
		case letter.Quote:
			add("quote", m.Fields{"text": p.Text, "who": p.Who})
		case letter.Aside:
			add("aside", m.Fields{"title": p.Text, "text": p.Rich})
		}
	}
	return out
}
