package manuscript

import "strings"

// Hit is one text of a page in which words were found.
type Hit struct {
	Piece string `json:"piece"`
	Field string `json:"field"`
	Was   string `json:"was"`
	Is    string `json:"is"` // with the words replaced
	Times int    `json:"times"`
}

// ReplaceWords replaces words wherever they were written: in texts, never in
// choices, links or names. It answers with a copy of the page and each text
// that differs. Capitals count.
func (s Schema) ReplaceWords(p Page, find, with string) (Page, []Hit) {
	next := p.Clone()
	if find == "" {
		return next, nil
	}
	var hits []Hit
	next.Walk(func(_ Band, piece Piece) {
		replaceIn(s[piece.Kind].Fields, piece.Fields, find, with, func(field, was, is string, times int) {
			hits = append(hits, Hit{Piece: piece.ID, Field: field, Was: was, Is: is, Times: times})
		})
	})
	return next, hits
}

func replaceIn(declared []Field, values map[string]any, find, with string, hit func(field, was, is string, times int)) {
	for _, f := range declared {
		switch f.Type { //nolint:exhaustive // only these hold words
		case List:
			list, _ := values[f.Name].([]any)
			for _, one := range list {
				if item, ok := one.(map[string]any); ok {
					replaceIn(f.Items, item, find, with, hit)
				}
			}
		case Line, Prose:
			was, _ := values[f.Name].(string)
			if times := strings.Count(was, find); times > 0 {
				is := strings.ReplaceAll(was, find, with)
				values[f.Name] = is
				hit(f.Name, was, is, times)
			}
		}
	}
}
