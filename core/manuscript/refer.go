package manuscript

import (
	"strings"

	"chrysagon/core/rich"
	"chrysagon/core/style"
	"chrysagon/core/target"
)

// Refer gives what a page refers to other IDs: to is asked for each by its type
// (a link to a page as Link) and answers with the new one, or "" for none. What
// stands for no ID stays.
func (s Schema) Refer(p Page, to func(of FieldType, id string) string) Page {
	next := p.Clone()
	change := func(of FieldType, id *string) {
		if *id != "" {
			*id = to(of, *id)
		}
	}
	change(Picture, &next.Sharing.Picture)
	for i := range next.Bands {
		b := &next.Bands[i]
		change(Deadline, &b.Deadline)
		change(Link, &b.LeadTo)
		if id, is := b.Only.Shelf(); is {
			if change(Shelf, &id); id == "" {
				b.Only = ""
			} else {
				b.Only = OnlyOf(id)
			}
		}
		for _, name := range []string{"picture", style.Wide + "picture"} {
			if id, ok := b.Look[name]; ok {
				if change(Picture, &id); id == "" {
					delete(b.Look, name)
				} else {
					b.Look[name] = id
				}
			}
		}
	}
	next.Walk(func(_ Band, piece Piece) {
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
			text := values.Text(f.Name)
			if text == "" {
				return
			}
			switch f.Type {
			case Product, Deadline, Picture, Shelf, Group, Video, Mailing:
				values[f.Name] = to(f.Type, text)
			case Link:
				values[f.Name] = referLink(text, to)
			case Rich:
				values[f.Name] = referRich(text, to)
			case Sign:
				if s, ok := SignOf(text); ok && s.Picture != "" {
					s.Picture = to(Picture, s.Picture)
					values[f.Name] = s.String()
				}
			case Attribute, Line, Prose, Choice, Slots, File, List:
			}
		})
	})
	return next
}

func referLink(text string, to func(FieldType, string) string) string {
	leads, err := target.Parse(text)
	if err != nil || leads.Refers() == "" {
		return text
	}
	if leads.Value = to(FieldType(leads.Refers()), leads.Value); leads.Value == "" {
		return ""
	}
	return leads.String()
}

// referRich changes the links of copy; a link to nowhere keeps its words.
func referRich(text string, to func(FieldType, string) string) string {
	return relink(text, func(text string) string { return referLink(text, to) })
}

// relink lets the links of copy lead elsewhere.
func relink(text string, to func(text string) string) string {
	var pairs []string
	for _, was := range rich.Targets(text) {
		if is := to(was); is != was {
			pairs = append(pairs, `<a href="`+was+`">`, `<a href="`+is+`">`)
		}
	}
	return rich.Clean(strings.NewReplacer(pairs...).Replace(text), target.Leads)
}

// Fresh gives the bands and pieces of a page identifiers of their own, made by
// id; links between its bands go along, wherever they stand.
func (s Schema) Fresh(p Page, id func() string) Page {
	p = p.Clone()
	bands := map[string]string{}
	for i := range p.Bands {
		b := &p.Bands[i]
		fresh := id()
		was, is := target.Target{Kind: target.Band, Value: b.ID}, target.Target{Kind: target.Band, Value: fresh}
		bands[was.String()], b.ID = is.String(), fresh
		for j := range b.Columns {
			for k := range b.Columns[j].Pieces {
				b.Columns[j].Pieces[k].ID = id()
			}
		}
	}
	along := func(was string) string {
		if is, known := bands[was]; known {
			return is
		}
		return was
	}
	p.Walk(func(_ Band, piece Piece) {
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
			switch text := values.Text(f.Name); {
			case text == "":
			case f.Type == Link:
				values[f.Name] = along(text)
			case f.Type == Rich:
				values[f.Name] = relink(text, along)
			}
		})
	})
	return p
}
