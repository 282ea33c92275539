// Package render turns a manuscript, its facts and a moment into a page, and
// says until when that page holds.
package render

import (
	"bytes"
	"cmp"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"fmt"
	"html/template"
	"slices"
	"strings"
	"sync"
	"time"

	"chrysagon/core/compose"
	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
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
	Composition int           // in which it is drawn; 0: [compose.Version]
}

// composition is the one in which it is drawn.
func (in Input) composition() int { return cmp.Or(in.Composition, compose.Version) }

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
		Composition: in.composition(), Icon: r.Assets.Icon, Ornament: ornament(in.Facts.Store.House), Seal: seal, Leading: r.Registry.Schema().Leading(in.Page),
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
	atHand, err := r.bar(c, in.Page, body)
	if err != nil {
		return Result{}, fmt.Errorf("draw the price bar: %w", err)
	}
	sum, code := sha256.Sum256([]byte(css)), owned(in)
	var out bytes.Buffer
	err = r.frame.Execute(&out, map[string]any{
		"Title": pieces.Or(in.Title, in.Facts.Store.Name), "Description": in.Description, "Style": template.CSS(css), //nolint:gosec // built from our own styles
		"Body": body, "Icon": r.icon(in.Facts), "Script": r.Assets.Path("page.js"), "Proof": in.Proof, "Personal": c.Personal(), "Foot": foot, "Bar": atHand,
		"Meta": r.meta(c, in), "Head": in.Layout == "header" || in.Layout == "full", "Store": in.Facts.Store.Name, "Logo": in.Facts.Pictures[in.Facts.Store.House.Logo], "Menu": c.Menu(),
		"Fonts": r.fonts(in.Facts.Store.House), "Own": code, "First": first,
	})
	if err != nil {
		return Result{}, fmt.Errorf("draw the page's frame: %w", err)
	}
	return Result{HTML: out.Bytes(), Until: c.Until(), Personal: c.Personal(), Lead: c.Lead(), Own: code, Style: base64.StdEncoding.EncodeToString(sum[:])}, nil
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

func esc(s string) string { return template.HTMLEscapeString(s) }

const frame = `<!doctype html>
<html lang="en"{{if .Personal}} data-personal{{end}}><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1">
<title>{{.Title}}</title>{{if .Description}}<meta name="description" content="{{.Description}}">{{end}}
{{.Meta}}
{{.First}}<link rel="icon" href="{{.Icon}}">{{range .Fonts}}<link rel="preload" href="{{.}}" as="font" type="font/woff2" crossorigin>{{end}}
<style>{{.Style}}</style>{{.Own.Head}}{{if not .Proof}}<script src="{{.Script}}" defer fetchpriority="low"></script>{{end}}
</head><body>{{if .Head}}<header class="head"><div class="in"><a class="store" href="/">{{with .Logo}}{{if .Path}}<img src="{{.At 320}}" alt="{{$.Store}}" width="{{.Width}}" height="{{.Height}}">{{else}}{{$.Store}}{{end}}{{end}}</a>{{if .Menu}}<nav aria-label="Store">{{range .Menu}}<a href="{{.Href}}">{{.Label}}</a> {{end}}</nav>{{end}}</div></header>{{end}}<main>
{{.Body}}</main>{{.Foot}}{{.Bar}}{{.Own.Foot}}</body></html>
`
