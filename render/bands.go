package render

import (
	"bytes"
	"cmp"
	"fmt"
	"html/template"
	"slices"
	"strings"

	"chrysagon/core/compose"
	"chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/pieces"
)

// Band is one band as it is drawn.
type Band struct {
	ID   string        `json:"id"`
	HTML template.HTML `json:"html"`
}

// Body draws the bands of a page.
func (r *Renderer) Body(c *pieces.Context, page manuscript.Page) (template.HTML, error) {
	bands, err := r.Bands(c, page)
	return joined(bands), err
}

func joined(bands []Band) template.HTML {
	var out strings.Builder
	for _, b := range bands {
		out.WriteString(string(b.HTML))
	}
	return template.HTML(out.String()) //nolint:gosec // joined from what was drawn
}

// Bands draws the bands of a page that are shown, one by one.
func (r *Renderer) Bands(c *pieces.Context, page manuscript.Page) ([]Band, error) {
	page = r.Registry.Schema().Follow(page)
	var bands []Band
	var above *manuscript.Band // the one that is shown before
	for _, band := range page.Bands {
		if !c.Enter(band) {
			continue
		}
		var columns []string
		drawn := false
		for _, column := range band.Columns {
			inner, err := r.column(c, column)
			if err != nil {
				return nil, fmt.Errorf("band %q: %w", band.Name, err)
			}
			columns = append(columns, inner)
			drawn = drawn || inner != ""
		}
		if !drawn {
			continue
		}
		tag := "section"
		if slices.ContainsFunc(band.Columns, r.hasLegal) {
			tag = "footer"
		}
		var out strings.Builder
		class := string(band.Tone)
		if above != nil && sameGround(*above, band, c.Composition) {
			class += " joined"
		}
		above = &band
		if c.Composition > compose.First {
			class += " " + compose.Of(r.Registry.Schema(), band).Class() + sceneClass(band)
		}
		fmt.Fprintf(&out, `<%s class="band %s" id="band-%s" data-band="%s"%s><div class="in%s">`,
			tag, class, esc(band.ID), esc(band.ID), zeroAt(c, band), columnsClass(band))
		for _, inner := range columns {
			out.WriteString("<div>" + inner + "</div>")
		}
		out.WriteString("</div></" + tag + ">\n")
		bands = append(bands, Band{band.ID, template.HTML(out.String())}) //nolint:gosec // every text in it went through html/template or esc
	}
	return bands, nil
}

// sameGround tells whether nothing is seen between two bands, so that the room
// between them is needed once and not twice.
func sameGround(a, b manuscript.Band, composition int) bool {
	if a.Tone != b.Tone || (a.Tone == manuscript.Night && composition == compose.First) { // whose night had a glow at its foot
		return false
	}
	for _, name := range []string{"ground", "picture", "scene", "edge", style.Wide + "ground", style.Wide + "picture", style.Wide + "scene", style.Wide + "edge"} {
		if a.Look[name] != "" || b.Look[name] != "" {
			return false
		}
	}
	return true
}

func isLegal(t manuscript.Traits) bool { return t.Legal }

// foot draws the store's own footer, where the layout has one and the page
// none of its own.
func (r *Renderer) foot(c *pieces.Context, in Input) (template.HTML, error) {
	if in.Layout != "full" || r.Registry.Schema().Has(in.Page, isLegal) {
		return "", nil
	}
	var out bytes.Buffer
	band, class, open, end := r.storeFoot(), "", "", ""
	if c.Composition > compose.First {
		class, open, end = " "+compose.Of(r.Registry.Schema(), band).Class(), "<div>", "</div>"
	}
	out.WriteString(`<footer class="band paper` + class + `"><div class="in">` + open)
	if err := r.Piece(&out, c, band.Columns[0].Pieces[0]); err != nil {
		return "", err
	}
	out.WriteString(end + "</div></footer>\n")
	return template.HTML(out.String()), nil //nolint:gosec // a view of ours wrote it
}

// storeFoot is the band of the store's own footer.
func (r *Renderer) storeFoot() manuscript.Band {
	return manuscript.Band{Tone: manuscript.Paper, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{
		{ID: "store-footer", Kind: r.Registry.Schema().Named(isLegal), Fields: manuscript.Fields{}},
	}}}}
}

// zeroAt marks a band with the moment at which something happens to it.
func zeroAt(c *pieces.Context, b manuscript.Band) string {
	if b.Deadline == "" || b.AtZero == manuscript.Stays {
		return ""
	}
	d, ok := c.Deadline(b.Deadline)
	if !ok || d.Passed(c.Moment) {
		return ""
	}
	return fmt.Sprintf(` data-zero="%d"`, d.At.UnixMilli())
}

func (r *Renderer) hasLegal(c manuscript.Column) bool {
	return slices.ContainsFunc(c.Pieces, func(p manuscript.Piece) bool { return r.Registry.Schema()[p.Kind].Traits.Legal })
}

func (r *Renderer) column(c *pieces.Context, column manuscript.Column) (string, error) {
	var out bytes.Buffer
	for _, p := range column.Pieces {
		if err := r.Piece(&out, c, p); err != nil {
			return "", err
		}
	}
	return out.String(), nil
}

// Piece draws one piece in its wrapper, or nothing when it has nothing to show.
func (r *Renderer) Piece(out *bytes.Buffer, c *pieces.Context, p manuscript.Piece) error {
	kind, ok := r.Registry.Kind(p.Kind)
	if !ok {
		return fmt.Errorf("there is no piece of kind %q", p.Kind)
	}
	shown := kind.View(c, p)
	if shown == nil {
		return nil
	}
	marks := ""
	if c.Composition > compose.First {
		marks = ` class="r-` + cmp.Or(string(kind.Role), "words") + `"`
	}
	if kind.Live {
		marks += " data-live"
	}
	from := out.Len()
	fmt.Fprintf(out, `<div id="p-%s" data-piece="%s"%s>`, esc(p.ID), esc(p.ID), marks)
	if err := r.Registry.View(p.Kind).Execute(out, shown); err != nil {
		return fmt.Errorf("draw piece %q: %w", p.ID, err)
	}
	if bytes.Contains(out.Bytes()[from:], []byte("<h2")) {
		c.Headed()
	}
	out.WriteString("</div>")
	return nil
}

func columnsClass(b manuscript.Band) string {
	if len(b.Columns) < 2 {
		return ""
	}
	return " cols " + columnsName(b)
}

func columnsName(b manuscript.Band) string {
	name := "w"
	for _, c := range b.Columns {
		name += fmt.Sprintf("-%d", c.Width)
	}
	return name
}
