// Command looks draws pages to be looked at and measured.
// It draws every template and every arrangement, in any manner, house and amount of goods, without a database. It serves
// on loopback until it is stopped; bench/looks/looks.mjs walks it.
package main

import (
	"encoding/json"
	"errors"
	"fmt"
	"log"
	"net"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/compose"
	"chrysagon/core/manuscript"
	"chrysagon/core/style"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/render"
	"chrysagon/render/scene"
	"chrysagon/web"
)

func main() {
	if err := run(); err != nil {
		log.Fatal(err)
	}
}

func run() error {
	assets, err := web.Open()
	if err != nil {
		return err
	}
	registry, err := all.Registry()
	if err != nil {
		return err
	}
	draws := drawer{render.New(registry, assets)}
	mux := http.NewServeMux()
	mux.Handle("/assets/", http.StripPrefix("/assets/", http.FileServerFS(assets.Served())))
	mux.Handle("/demo/", http.StripPrefix("/demo/", http.FileServer(http.Dir("demo/pictures"))))
	mux.HandleFunc("/clock", func(w http.ResponseWriter, _ *http.Request) { _, _ = fmt.Fprint(w, noon.UnixMilli()) })
	mux.HandleFunc("/scenes/", draws.scene)
	mux.HandleFunc("/pages", draws.list)
	mux.HandleFunc("/", draws.page)
	listener, err := net.Listen("tcp", "127.0.0.1:"+os.Getenv("PORT"))
	if err != nil {
		return err
	}
	fmt.Println("http://" + listener.Addr().String())
	return http.Serve(listener, mux) //nolint:gosec // for our own browser, as long as a run takes
}

type drawer struct{ *render.Renderer }

// listed is what can be drawn.
type listed struct {
	Templates    []string            `json:"templates"`
	Arrangements map[string][]string `json:"arrangements"` // and their manners
	Houses       []string            `json:"houses"`
}

func (d drawer) list(w http.ResponseWriter, _ *http.Request) {
	out := listed{Arrangements: map[string][]string{}}
	for _, m := range style.Houses {
		out.Houses = append(out.Houses, m.Name)
	}
	for _, t := range all.Templates() {
		out.Templates = append(out.Templates, t.Name)
	}
	schema := d.Registry.Schema()
	for _, a := range all.Arrangements() {
		for _, m := range compose.Manners(schema, a.Band(schema, ids())) {
			out.Arrangements[a.Name] = append(out.Arrangements[a.Name], m.Name)
		}
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(out)
}

func (d drawer) page(w http.ResponseWriter, r *http.Request) {
	in, err := d.input(r)
	if err == nil {
		var drawn render.Result
		if drawn, err = d.Page(in); err == nil {
			w.Header().Set("Content-Type", "text/html; charset=utf-8")
			w.Header().Set("X-Weight", strconv.Itoa(drawn.Weight()))
			_, _ = w.Write(drawn.HTML)
			return
		}
	}
	http.Error(w, err.Error(), http.StatusNotFound)
}

func (d drawer) scene(w http.ResponseWriter, r *http.Request) {
	s, house, phone, ok := scene.Find(r.URL.Path)
	if !ok {
		http.NotFound(w, r)
		return
	}
	w.Header().Set("Content-Type", "image/svg+xml")
	_, _ = w.Write(s.Draw(house, phone)) //nolint:gosec // a drawing of ours, in colours that were read as such
}

func houseOf(name string) style.House {
	made, _ := style.HouseOf(name)
	return made.House
}

func ids() func() string {
	n := 0
	return func() string {
		n++
		return fmt.Sprintf("i%d", n)
	}
}

// input reads what is asked: ?template=, or ?arrangement= with ?manner= and ?tone=; and
// for both what [moved] reads, ?goods=, ?composition=1, ?words=long, ?pictures=dark and ?house=.
func (d drawer) input(r *http.Request) (render.Input, error) {
	asked, schema := r.URL.Query(), d.Registry.Schema()
	in := world{goods: 4, long: asked.Get("words") == "long", dark: asked.Get("pictures") == "dark", house: houseOf(asked.Get("house"))}
	if n, err := strconv.Atoi(asked.Get("goods")); err == nil {
		in.goods = min(max(n, 1), len(some))
	}
	var page manuscript.Page
	layout := "bare"
	if name := asked.Get("template"); name != "" {
		t, ok := all.TemplateOf(name)
		if !ok {
			return render.Input{}, errors.New("there is no such template")
		}
		page, layout = t.Page(schema, ids()), t.Layout
	} else {
		id := ids()
		for _, a := range all.Arrangements() {
			if name := asked.Get("arrangement"); a.Name != name && name != "" {
				continue
			}
			b := a.Band(schema, id)
			if manner := asked.Get("manner"); manner != "" {
				b.Manner = manner
			}
			if name := asked.Get("scene"); name != "" {
				b.Look = style.Look{"scene": name}
			}
			if tone := asked.Get("tone"); tone != "" {
				b.Tone = manuscript.Tone(tone)
			}
			page.Bands = append(page.Bands, b)
		}
	}
	page.Walk(func(_ manuscript.Band, p manuscript.Piece) { in.fill(schema[p.Kind], p) })
	moved(&page, schema, asked)
	f := in.facts()
	composition, _ := strconv.Atoi(asked.Get("composition"))
	return render.Input{Composition: composition, Page: page, Title: "Looked at", Facts: f, Moment: noon, Layout: layout, Place: pieces.Place{Address: "looked-at"}}, nil
}

// moved puts what the hand moved on every band and piece that takes it: ?band.rim=torn,
// ?piece.breadth=60, and with wide. before the name for wider screens.
func moved(page *manuscript.Page, schema manuscript.Schema, asked url.Values) {
	put := func(look *style.Look, on style.Scope, prefix string, takes func(style.Property) bool) {
		for key := range asked {
			name, is := strings.CutPrefix(key, prefix)
			p, known := style.PropertyOf(strings.TrimPrefix(name, style.Wide))
			one := style.Look{name: asked.Get(key)}
			if !is || !known || !takes(p) || one.Validate(on) != nil {
				continue
			}
			if *look == nil {
				*look = style.Look{}
			}
			(*look)[name] = asked.Get(key)
		}
	}
	for i := range page.Bands {
		b := &page.Bands[i]
		put(&b.Look, style.OnBand, "band.", func(style.Property) bool { return true })
		for j := range b.Columns {
			for k := range b.Columns[j].Pieces {
				p := &b.Columns[j].Pieces[k]
				put(&p.Look, style.OnPiece, "piece.", schema[p.Kind].Takes)
			}
		}
	}
}

// fill puts the demo's goods, days and words where nothing stands yet.
func (w world) fill(kind manuscript.Kind, p manuscript.Piece) {
	picture := "ember"
	if w.dark {
		picture = "night-dunes"
	}
	w.fields(kind.Fields, p.Fields, picture)
}

var names = map[string]string{"icon": "feather", "average": "4.8", "count": "212", "source": "our counter", "opens": "9:30", "closes": "18:00", "days": "weekdays", "who": "Rita Sol", "where": "who flies off the north mole", "code": "FROST", "first": "yes", "second": "no", "price": ""}

func (w world) fields(declared []manuscript.Field, values manuscript.Fields, picture string) {
	for i, f := range declared {
		if text, set := values[f.Name].(string); set && text != "" {
			continue
		}
		switch f.Type {
		case manuscript.Line, manuscript.Prose, manuscript.Rich:
			values[f.Name] = w.words(f, i)
		case manuscript.Product:
			values[f.Name] = "ember"
		case manuscript.Shelf:
			values[f.Name] = "stood"
		case manuscript.Deadline:
			values[f.Name] = "friday"
		case manuscript.Picture:
			values[f.Name] = picture
		case manuscript.Group:
			values[f.Name] = "group0"
		case manuscript.Sign:
			values[f.Name] = "feather"
		case manuscript.Link:
			values[f.Name] = "home"
		case manuscript.List:
			w.list(f, values)
		case manuscript.Video:
			values[f.Name] = "flight"
		case manuscript.Mailing:
			values[f.Name] = "guide"
		case manuscript.File, manuscript.Choice, manuscript.Slots, manuscript.Attribute:
		}
	}
}

// list fills the items of a list: groups and pictures by the amount of goods, others as
// they stand.
func (w world) list(f manuscript.Field, values manuscript.Fields) {
	items := values.List(f.Name)
	of := func(t manuscript.FieldType) bool {
		return slices.ContainsFunc(f.Items, func(sub manuscript.Field) bool { return sub.Type == t })
	}
	if of(manuscript.Group) || (of(manuscript.Picture) && !of(manuscript.Prose)) {
		for len(items) < w.goods && !f.Bare {
			items = append(items, all.BlankItem(f))
		}
		items = items[:min(len(items), w.goods)]
	}
	var out []any
	for i, item := range items {
		if of(manuscript.Group) {
			item["group"] = fmt.Sprintf("group%d", i)
		}
		w.fields(f.Items, item, some[i%len(some)].picture)
		out = append(out, map[string]any(item))
	}
	if out != nil {
		values[f.Name] = out
	}
}

func (w world) words(f manuscript.Field, i int) string {
	if word, is := names[f.Name]; is {
		return word
	}
	short := []string{"Four knots are enough", "Light that leaves you the stars", "Sewn again, not thrown away", "Flown off the north mole"}[i%4]
	if f.Type == manuscript.Line && !w.long {
		return short
	}
	long := "A kite that carries its own lantern, sewn on the coast where the night wind never rests, and mended for as long as you fly it"
	if f.Type == manuscript.Line {
		return long
	}
	if w.long {
		long = strings.Repeat(long+". ", 3)
	}
	if f.Type == manuscript.Rich {
		return "<p>" + long + ".</p>"
	}
	return long + "."
}
