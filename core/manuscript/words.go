package manuscript

import (
	"reflect"
	"strings"

	"chrysagon/core/rich"
)

// Hit is one text of a page in which words were found.
type Hit struct {
	Piece string `json:"piece"`
	Field string `json:"field"`
	Was   string `json:"was"`
	Is    string `json:"is"` // with the words replaced
	Times int    `json:"times"`
}

// said are the parts of a page's naming in which words are looked for.
var said = []string{Name, Title, Description}

// ReplaceCopy replaces words wherever they were written: in texts, and in the
// page's own name, title and description; never in choices, links or addresses. It answers with a copy of the page and each text
// that differs. Capitals count.
func (s Schema) ReplaceCopy(p Page, find, with string) (Page, []Hit) {
	next := p.Clone()
	if find == "" {
		return next, nil
	}
	var hits []Hit
	for _, field := range said {
		part := next.naming(field)
		if times := strings.Count(*part, find); times > 0 {
			was := *part
			*part = strings.ReplaceAll(was, find, with)
			hits = append(hits, Hit{Field: field, Was: was, Is: *part, Times: times})
		}
	}
	next.Walk(func(_ Band, piece Piece) {
		eachField(s[piece.Kind].Fields, piece.Fields, func(f Field, values Fields) {
			if !f.Written() {
				return
			}
			was := values.Text(f.Name)
			is, times := strings.ReplaceAll(was, find, with), strings.Count(was, find)
			if f.Type == Rich {
				is, times = rich.Replace(was, find, with)
			}
			if times > 0 {
				values[f.Name] = is
				hits = append(hits, Hit{Piece: piece.ID, Field: f.Name, Was: was, Is: is, Times: times})
			}
		})
	})
	return next, hits
}

// Replacing is the one command that replaces words wherever they were written,
// and each text that differs then.
func (s Schema) Replacing(p Page, find, with string) (Command, []Hit) {
	next, hits := s.ReplaceCopy(p, find, with)
	c := Command{Op: Several}
	for _, field := range said {
		if was, is := *p.naming(field), *next.naming(field); was != is {
			c.Steps = append(c.Steps, Command{Op: SetPage, Field: field, Value: is})
		}
	}
	p.Walk(func(_ Band, piece Piece) {
		is, _ := next.Piece(piece.ID)
		for _, f := range s[piece.Kind].Fields {
			if was, is := piece.Fields[f.Name], is.Fields[f.Name]; !reflect.DeepEqual(was, is) {
				c.Steps = append(c.Steps, Command{Op: SetField, Piece: piece.ID, Field: f.Name, Value: is})
			}
		}
	})
	return c, hits
}
