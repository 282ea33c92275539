// Package render turns a manuscript, its facts and a moment into a page, and
// says until when that page holds.
package render

import (
	"bytes"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"slices"
	"strings"
	"sync"
	"time"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/style"
	"chrysagon/pieces"
	"chrysagon/web"

	"github.com/valyala/fasthttp"
)

// Renderer draws pages with a set of kinds of piece and the built assets.
type Renderer struct {
	Registry *pieces.Registry
	Assets   *web.Assets
	frame    *template.Template
}

// New makes a renderer.
func New(r *pieces.Registry, a *web.Assets) *Renderer {
	return &Renderer{Registry: r, Assets: a, frame: template.Must(template.New("frame").Parse(frame))}
}

// Input is all that a page is a function of.
type Input struct {
	Page        manuscript.Page
	Title       string
	Description string
	Facts       facts.Facts
	Moment      time.Time
	Place       pieces.Place
	Layout      string // bare, header or full; empty is bare
	Origin      string // of the shopfront; empty: the page says nothing to search engines
	Form        pieces.Form
	Proof       bool
	RunOwn      bool          // a proof runs the owner's own code
	Seal        pieces.Sealer // nil: nothing is signed
}

// Result is a drawn page.
type Result struct {
	HTML     []byte
	Until    time.Time // earliest moment at which the page changes by itself; zero: never
	Personal bool      // it differs from visitor to visitor, and must not be kept for others
	Lead     string    // ID of the page to which this one leads since a deadline; empty: it is shown
	Own      Owned     // the owner's code on it
	Style    string    // base64 SHA-256 of the inlined style, for the page's CSP
}

// Weight is how many bytes of it are sent, compressed as a browser takes it.
func (r Result) Weight() int {
	return len(fasthttp.AppendGzipBytesLevel(nil, r.HTML, fasthttp.CompressDefaultCompression))
}

// Weights are how many bytes a page's parts come to, each compressed by itself.
type Weights struct{ Words, Styles int }

// Weights tells what the page's weight is made of. Its parts together come to a
// little more than the whole.
func (r Result) Weights() Weights {
	from, to := bytes.Index(r.HTML, []byte("<style>")), bytes.Index(r.HTML, []byte("</style>"))
	if from < 0 || to < from {
		return Weights{Words: r.Weight()}
	}
	styles := Result{HTML: r.HTML[from:to]}
	words := Result{HTML: slices.Concat(r.HTML[:from], r.HTML[to:])}
	return Weights{words.Weight(), styles.Weight()}
}

// Context makes what pieces are drawn from.
func (r *Renderer) Context(in Input) *pieces.Context {
	seal := in.Seal
	if seal == nil {
		seal = func(*pieces.Context, ...[]offer.Item) string { return "" }
	}
	c := &pieces.Context{
		Facts: in.Facts, Moment: in.Moment, Place: in.Place, Form: in.Form, Proof: in.Proof,
		Icon: r.Assets.Icon, Seal: seal, Leading: r.Registry.Schema().Leading(in.Page),
		Band:  func(id string) string { b, _, _ := in.Page.Band(id); return b.Name },
		Sells: r.Registry.Schema().Sells(in.Page, ""),
	}
	for _, paged := range r.Registry.Schema().Paged(in.Page) {
		c.Paged = paged.Piece
	}
	if r.collects(c, in.Page) {
		c.Facts.Collected, c.Facts.Shipping = true, nil
	}
	c.Cart = func() []offer.Item { return r.cart(c, in.Page) }
	c.Lists = sync.OnceValue(func() []string { return r.lists(c, in.Page) })
	c.Filling = sync.OnceValue(func() *pieces.Filling { return r.filling(c, in.Page) })
	return c
}

// lists are the goods on the lists of a page that are shown now.
func (r *Renderer) lists(c *pieces.Context, page manuscript.Page) []string {
	var out []string
	seen := *c // what a band does at its deadline is noted where it is drawn
	page.Walk(func(b manuscript.Band, p manuscript.Piece) {
		kind, _ := r.Registry.Kind(p.Kind)
		if kind.Lists == nil || !seen.Enter(b) {
			return
		}
		for _, id := range kind.Lists(c, p) {
			if !slices.Contains(out, id) {
				out = append(out, id)
			}
		}
	})
	return out
}

// filling is the checkout of a page into which goods of its lists are put.
func (r *Renderer) filling(c *pieces.Context, page manuscript.Page) *pieces.Filling {
	var found *pieces.Filling
	r.Registry.Schema().Follow(page).Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if kind, _ := r.Registry.Kind(p.Kind); kind.Filling != nil && found == nil {
			found = kind.Filling(c, p)
		}
	})
	return found
}

// collects tells whether what a page's checkout orders is fetched, as its form stands.
func (r *Renderer) collects(c *pieces.Context, page manuscript.Page) bool {
	if c.Form.Values["way"] == "" {
		return false
	}
	found := false
	page.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if kind, _ := r.Registry.Kind(p.Kind); kind.Collects != nil {
			found = found || kind.Collects(c, p)
		}
	})
	return found
}

// cart is what the checkout of a page would order as its form stands.
func (r *Renderer) cart(c *pieces.Context, page manuscript.Page) []offer.Item {
	var cart []offer.Item
	r.Registry.Schema().Follow(page).Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if kind, _ := r.Registry.Kind(p.Kind); kind.Cart != nil && cart == nil {
			cart = kind.Cart(c, p)
		}
	})
	return cart
}

// Blank is what the pieces of a page that show nothing yet say of themselves, by
// their IDs.
func (r *Renderer) Blank(in Input) map[string]string {
	c, out := r.Context(in), map[string]string{}
	r.Registry.Schema().Follow(in.Page).Walk(func(_ manuscript.Band, p manuscript.Piece) {
		kind, _ := r.Registry.Kind(p.Kind)
		if kind.Tell == nil {
			return
		}
		if told := kind.Tell(c, p); told.Trouble {
			out[p.ID] = told.String()
		}
	})
	return out
}

// Page draws the whole document.
func (r *Renderer) Page(in Input) (Result, error) {
	c := r.Context(in)
	bands, err := r.Bands(c, in.Page)
	if err != nil {
		return Result{}, err
	}
	css := r.Style(in)
	first := firstView(bands, css)
	body := joined(bands)
	foot, err := r.foot(c, in)
	if err != nil {
		return Result{}, err
	}
	sum, code := sha256.Sum256([]byte(css)), owned(in)
	var out bytes.Buffer
	err = r.frame.Execute(&out, map[string]any{
		"Title": pieces.Or(in.Title, in.Facts.Store.Name), "Description": in.Description, "Style": template.CSS(css), //nolint:gosec // built from our own styles
		"Body": body, "Icon": r.icon(in.Facts), "Script": r.Assets.Path("page.js"), "Proof": in.Proof, "Personal": c.Personal(), "Foot": foot,
		"Meta": r.meta(c, in), "Head": in.Layout == "header" || in.Layout == "full", "Store": in.Facts.Store.Name, "Logo": in.Facts.Pictures[in.Facts.Store.House.Logo], "Menu": in.Facts.Menu,
		"Fonts": r.fonts(in.Facts.Store.House), "Own": code, "First": first,
	})
	if err != nil {
		return Result{}, fmt.Errorf("draw the page's frame: %w", err)
	}
	return Result{HTML: out.Bytes(), Until: c.Until(), Personal: c.Personal(), Lead: c.Lead(), Own: code, Style: base64.StdEncoding.EncodeToString(sum[:])}, nil
}

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
		tone := string(band.Tone)
		if above != nil && sameGround(*above, band) {
			tone += " joined"
		}
		above = &band
		fmt.Fprintf(&out, `<%s class="band %s" id="band-%s" data-band="%s"%s><div class="in%s">`,
			tag, tone, esc(band.ID), esc(band.ID), zeroAt(c, band), columnsClass(band))
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
func sameGround(a, b manuscript.Band) bool {
	if a.Tone != b.Tone || a.Tone == manuscript.Night {
		return false
	}
	for _, name := range []string{"ground", "picture", "edge", style.Wide + "ground", style.Wide + "picture", style.Wide + "edge"} {
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
	out.WriteString(`<footer class="band paper"><div class="in">`)
	if err := r.Piece(&out, c, manuscript.Piece{ID: "store-footer", Kind: r.Registry.Schema().Named(isLegal), Fields: manuscript.Fields{}}); err != nil {
		return "", err
	}
	out.WriteString("</div></footer>\n")
	return template.HTML(out.String()), nil //nolint:gosec // a view of ours wrote it
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
	live := ""
	if kind.Live {
		live = " data-live"
	}
	from := out.Len()
	fmt.Fprintf(out, `<div id="p-%s" data-piece="%s"%s>`, esc(p.ID), esc(p.ID), live)
	if err := r.Registry.View(p.Kind).Execute(out, shown); err != nil {
		return fmt.Errorf("draw piece %q: %w", p.ID, err)
	}
	if bytes.Contains(out.Bytes()[from:], []byte("<h2")) {
		c.Headed()
	}
	out.WriteString("</div>")
	return nil
}

// Checkout draws a part of a checkout by itself, such as its totals, by the name of the
// template in its view.
func (r *Renderer) Checkout(part string, values any) (string, error) {
	var out strings.Builder
	view := r.Registry.View(r.Registry.Schema().Named(func(t manuscript.Traits) bool { return t.Takes == manuscript.TakesOrder }))
	if view == nil {
		return "", errors.New("there is no checkout among the kinds of piece")
	}
	if err := view.ExecuteTemplate(&out, part, values); err != nil {
		return "", fmt.Errorf("draw the %s of a checkout: %w", part, err)
	}
	return out.String(), nil
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

func esc(s string) string { return template.HTMLEscapeString(s) }

const frame = `<!doctype html>
<html lang="en"{{if .Personal}} data-personal{{end}}><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>{{.Title}}</title>{{if .Description}}<meta name="description" content="{{.Description}}">{{end}}
{{.Meta}}
{{.First}}<link rel="icon" href="{{.Icon}}">{{range .Fonts}}<link rel="preload" href="{{.}}" as="font" type="font/woff2" crossorigin>{{end}}
<style>{{.Style}}</style>{{.Own.Head}}{{if not .Proof}}<script src="{{.Script}}" defer></script>{{end}}
</head><body>{{if .Head}}<header class="head"><div class="in"><a class="store" href="/">{{with .Logo}}{{if .Path}}<img src="{{.At 320}}" alt="{{$.Store}}" width="{{.Width}}" height="{{.Height}}">{{else}}{{$.Store}}{{end}}{{end}}</a>{{if .Menu}}<nav aria-label="Store">{{range .Menu}}<a href="/{{.Address}}">{{.Name}}</a> {{end}}</nav>{{end}}</div></header>{{end}}<main>
{{.Body}}</main>{{.Foot}}{{.Own.Foot}}</body></html>
`
