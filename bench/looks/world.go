package main

import (
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"chrysagon/core/appointment"
	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/goods"
	"chrysagon/core/mailing"
	"chrysagon/core/manuscript"
	"chrysagon/core/money"
	"chrysagon/core/offer"
	"chrysagon/core/style"

	"github.com/shopspring/decimal"
)

// noon is the moment as of which everything is drawn: the demo's first Monday.
var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

// some are goods of the demo store, with a short name and a long one.
var some = []struct {
	id, short, long, picture string
	cents                    int64
}{
	{"ember", "Ember 180", "Ember 180, with lantern, thirty metres of line and a beech reel", "ember", 6800},
	{"petrel", "Petrel 160", "Petrel 160, dual line, for evenings that are nearly without wind", "petrel", 8900},
	{"line", "Line", "Line on a reel, thirty metres, twisted and waxed by hand", "line", 1400},
	{"quiver", "Quiver bag", "Quiver bag for three kites, with pockets for line and lantern cells", "bag", 3400},
	{"gull", "Gull 90", "Gull 90, single line, the one with which most people begin", "gull", 2900},
	{"loom", "Loom", "Loom, four line, for whoever has flown everything else", "loom", 18500},
	{"reel", "Beech reel", "Beech reel, turned in Gustwell, oiled once a year", "reel", 2200},
	{"repair", "Repair kit", "Repair kit in a tin: ripstop in six colours, needles, spar ends", "repair", 1100},
	{"tern", "Tern 60", "Tern 60, a pocket kite that flies from a bicycle", "tern", 1900},
}

// world is what pages are drawn from.
type world struct {
	goods int  // on the shelf, and groups that lead to more
	long  bool // names and words
	dark  bool // pictures
	house style.House
}

func (w world) facts() facts.Facts {
	end := noon.Add(107*time.Hour + 59*time.Minute)
	f := facts.Facts{
		Store: facts.Store{
			Name: "Gustwell Kiteworks", Currency: "EUR", Zone: "Europe/Lisbon", LegalName: "Gustwell Kiteworks, owner Marta Venn", LegalAddress: "4 Sailmakers’ Row, Gustwell",
			ContactEmail: "hello@gustwell.example", Phone: "+351 255 000 111", House: w.house, Country: "PT",
		},
		Products: map[string]goods.Product{}, Pictures: map[string]facts.Picture{}, Groups: map[string]facts.Group{}, Shelves: map[string]facts.Shelf{}, Described: map[string]facts.Described{},
		Deadlines: map[string]deadline.Deadline{"friday": {ID: "friday", Name: "Lantern Friday", At: end, Zone: "Europe/Lisbon"}},
		Slots:     map[string][]appointment.Slot{},
		Offers: []offer.Offer{{ID: "week", Name: "Lantern week", Kind: offer.PercentOff, Percent: decimal.NewFromInt(25), ProductID: "ember",
			Conditions: offer.Conditions{Starts: noon.Add(-time.Hour), Ends: end}}},
		Menu: []facts.Page{{ID: "a", Name: "Night flight", Address: "night-flight"}, {ID: "b", Name: "For light wind", Address: "light-wind"}},
	}
	for _, minutes := range []int{15, 30, 45, 60} {
		for day := range 3 {
			for _, hour := range []int{10, 11, 14, 16} {
				at := noon.Add(time.Duration(day*24+hour-12+24) * time.Hour)
				f.Slots[fmt.Sprint(minutes)] = append(f.Slots[fmt.Sprint(minutes)], appointment.Slot{At: at, Minutes: minutes})
			}
		}
	}
	var ids []string
	for i, g := range some {
		name := g.short
		if w.long {
			name = g.long
		}
		f.Products[g.id] = goods.Product{ID: g.id, Name: name, Price: money.Of(g.cents, "EUR"), Stock: 3, Form: goods.Physical, PictureID: g.picture}
		f.Described[g.id] = facts.Described{Text: "<p>Ripstop in four ambers, two spars of carbon, and a bridle that is set once and never again.</p>", Has: []facts.Has{{Label: "Wingspan", Words: "180 cm"}, {Label: "Wind", Words: "2 to 5 Beaufort"}, {Label: "Lines", Words: "1"}}}
		f.Pictures[g.picture] = pictured(g.picture)
		if i < w.goods {
			ids = append(ids, g.id)
			id := fmt.Sprintf("group%d", i)
			f.Groups[id] = facts.Group{ID: id, Name: []string{"For light wind", "Stood long", "For beginners", "Parts and line", "Power", "Night", "Pocket", "Kits", "Plans"}[i], Address: "x", Picture: pictured(g.picture)}
		}
	}
	for _, name := range []string{"dunes", "night-dunes", "ember-night"} {
		f.Pictures[name] = pictured(name)
	}
	f.Mailings = map[string]mailing.List{"guide": {ID: "guide", Name: "The guide", Why: "You get this because you asked for the wind guide.", Confirmed: true}}
	f.Videos = map[string]facts.Video{"flight": {ID: "flight", Name: "First flight", Path: "/demo/none.mp4", Mime: "video/mp4"}}
	f.Shelves[manuscript.Its] = facts.Shelf{ID: manuscript.Its, Name: "Beside it", Goods: ids}
	f.Shelves["stood"] = facts.Shelf{ID: "stood", Name: "For light wind", Goods: ids}
	return f
}

// pictured is a picture of the demo's.
func pictured(name string) facts.Picture {
	p := facts.Picture{ID: name, Name: name, Alt: strings.ReplaceAll(name, "-", " "), Path: "/demo/" + name + ".svg", Width: 480, Height: 480, Focus: facts.Focus{X: 50, Y: 50}}
	raw, err := os.ReadFile(filepath.Join("demo/pictures", name+".svg"))
	if err == nil {
		_, size, _ := strings.Cut(string(raw), ` width="`)
		_, _ = fmt.Sscanf(size, `%d" height="%d"`, &p.Width, &p.Height)
	}
	return p
}
