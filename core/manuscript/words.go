package manuscript

import (
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
