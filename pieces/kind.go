// Package pieces is the kit from which kinds of piece are made. A kind is a
// folder: its declaration and view model in Go, its view.html, its style.scss
// and, where it moves, its script. The list in package all is the only other
// place that names it.
package pieces

import (
	"embed"
	"fmt"
	"html/template"
	"strings"

	"chrysagon/core/facts"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
)

// Kind is one kind of piece: what it declares and how it is drawn and told.
type Kind struct {
	manuscript.Kind
	// Files holds view.html, which draws the value that View returns.
	Files embed.FS
	// View computes what the template shows; nil draws nothing.
	View func(*Context, manuscript.Piece) any
	// Tell sums the piece up in one line for the sheet.
	Tell func(*Context, manuscript.Piece) Telling
	// Letter is what the piece comes to in a letter; nil: it cannot stand in one.
	Letter func(*Context, manuscript.Piece) []Block
	// Sketch is a picture of the piece for its slip, which switches the fields that are
	// declared as drawn; nil: the slip is sentences alone.
	Sketch func(*Context, manuscript.Piece) Sketch
	// Cart is what its press would order, as the form stands; nil: it orders nothing.
	Cart func(*Context, manuscript.Piece) []offer.Item
	// Lists are the IDs of the goods that it lists, each with its price; nil: it is no list.
	Lists func(*Context, manuscript.Piece) []string
	// Filling is what of the page's lists stands in its order, as the form has it; nil, as
	// what it answers: nothing is put into it.
	Filling func(*Context, manuscript.Piece) *Filling
	// Collects tells whether what its order holds is fetched, as the form has it; nil: never.
	Collects func(*Context, manuscript.Piece) bool
	// Live marks a piece whose content changes with time or stock; a page that
	// is open in a browser fetches it anew when that happens.
	Live bool
}

// Telling is a piece in one line: a thumbnail and a sentence. Strong parts
// carry the values.
type Telling struct {
	Thumb   string // icon name, or a picture's address when it begins with /
	Parts   []Part
	Trouble bool // something here keeps the page from working
}

// String is a telling's words.
func (t Telling) String() string {
	var out strings.Builder
	for _, p := range t.Parts {
		out.WriteString(p.Text)
	}
	return out.String()
}

// Part is a run of words in a telling.
type Part struct {
	Text   string
	Strong bool
	Struck bool
}

// Say makes a telling from alternating plain and strong texts.
func Say(thumb string, texts ...string) Telling {
	t := Telling{Thumb: thumb}
	for i, text := range texts {
		if text != "" {
			t.Parts = append(t.Parts, Part{Text: text, Strong: i%2 == 0})
		}
	}
	return t
}

// Lack tells that something must be chosen before the piece can be shown.
func Lack(thumb, name, what string) Telling {
	t := Say(thumb, name, " "+what)
	t.Trouble = true
	return t
}

// Registry is the set of kinds a program knows.
type Registry struct {
	kinds  map[string]Kind
	names  []string
	views  map[string]*template.Template
	schema manuscript.Schema
}

// NewRegistry makes a registry and parses every view.
func NewRegistry(kinds ...Kind) (*Registry, error) {
	r := &Registry{kinds: map[string]Kind{}, views: map[string]*template.Template{}, schema: manuscript.Schema{}}
	for _, k := range kinds {
		if _, twice := r.kinds[k.Name]; twice {
			return nil, fmt.Errorf("two kinds of piece are named %q", k.Name)
		}
		view, err := template.New("view.html").Funcs(funcs).ParseFS(k.Files, "view.html")
		if err != nil {
			return nil, fmt.Errorf("view of piece %q: %w", k.Name, err)
		}
		r.kinds[k.Name], r.views[k.Name], r.schema[k.Name] = k, view, k.Kind
		r.names = append(r.names, k.Name)
	}
	return r, nil
}

// Kind returns a kind by name.
func (r *Registry) Kind(name string) (Kind, bool) {
	k, ok := r.kinds[name]
	return k, ok
}

// Names lists the kinds in the order they were registered.
func (r *Registry) Names() []string { return r.names }

// Schema returns what manuscripts are validated against.
func (r *Registry) Schema() manuscript.Schema { return r.schema }

// View returns a kind's template.
func (r *Registry) View(name string) *template.Template { return r.views[name] }

// funcs are what every view may call: no arithmetic, only writing.
var funcs = template.FuncMap{
	"lines": Lines,
	"sums":  facts.Sums,
	"nudge": facts.Nudge,
	"look":  look,
}

// led is something that leads on, by a link or by the form of an order.
type led struct {
	Order string
	To    any
}

func look(order string, to any) led { return led{order, to} }
