package studio

import (
	"encoding/json"
	"fmt"
	"html/template"
	"strings"
	"time"

	"chrysagon/app/drafts"
	"chrysagon/app/find"
	"chrysagon/app/pages"
	"chrysagon/core/check"
	"chrysagon/core/deadline"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
	"chrysagon/core/purpose"
	"chrysagon/core/reading"
	"chrysagon/core/rich"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/render"

	"github.com/gofiber/fiber/v3"
)

// sheet is a manuscript as it is shown for editing.
type sheet struct {
	Draft drafts.Draft
	Bands []bandRow
	Words int
	Reads string      // how long it takes to read, and how easy it is
	Kinds []bandGroup // that can be added
	Beats []manuscript.Beat
	Tones []manuscript.Tone
	find.BandChoices
	AtZeros     []atZero
	Pieces      []manuscript.Kind // that can be added
	Proportions [][]int
	Missing     string // beats of its purpose that no band serves
	Purposes    []purpose.Purpose
	Layouts     []manuscript.Option
	Templates   []all.Template
	Sharing     shownAs
	Own         map[string]any // form of the page's own code
}

// bandGroup is bands that can be added, under a title.
type bandGroup struct {
	Title string
	List  []all.Arrangement
}

func bandGroups(of string) []bandGroup {
	fitting, others := all.ArrangementsFor(of)
	if len(fitting) == 0 {
		return []bandGroup{{List: others}}
	}
	return []bandGroup{{"For a " + purpose.Of(of).Title, fitting}, {"Any other", others}}
}

// atZero is what can happen to a band at its deadline, in words.
type atZero struct {
	Value manuscript.AtZero
	Label string
}

var atZeros = []atZero{
	{manuscript.Stays, "nothing happens"}, {manuscript.Hides, "this band is gone"}, {manuscript.Appears, "this band appears"},
	{manuscript.Closes, "its checkout closes"}, {manuscript.Leads, "the page leads on"},
}

type bandRow struct {
	manuscript.Band
	Index  int
	Last   bool
	Pieces []pieceRow
	Widths []int
	Zero   string // what happens to it at its deadline
}

type pieceRow struct {
	manuscript.Piece
	Title   string
	Texts   []textField
	Lists   []listField
	Telling *pieces.Telling
	Column  int // in which it stands, and where there
	Index   int
	Columns int // of its band
}

type textField struct {
	manuscript.Field
	Value   string
	Look    string // how it reads in the sheet
	Chooser *chooser
}

// Shown is what stands in the sheet: words, or copy with its structure.
func (t textField) Shown() any {
	if t.Type != manuscript.Rich {
		return t.Value
	}
	return template.HTML(rich.HTML(t.Value, 2, func(target string) (string, bool) { return target, true })) //nolint:gosec // rich writes elements of copy and escapes all words
}

type listField struct {
	manuscript.Field
	Items []listItem
	JSON  string
	Blank string // one more item, in JSON
}

type listItem struct {
	Index   int
	Texts   []textField
	Choices []textField
}

// draw is a draft with all that is computed to show it.
type draw struct {
	drafts.Draft
	context *pieces.Context
	input   render.Input
	follows map[string]manuscript.Piece // the pieces as they follow what the page sells
}

func (s *Studio) draw(c fiber.Ctx, d drafts.Draft, asOf time.Time) (draw, error) {
	registry := s.App.Render.Registry
	names := registry.Schema().Names(d.Tree)
	if check.Count(d.Tree, "receipt") > 0 { // shows an example of what is sold elsewhere
		sold, err := s.App.Publishing.SoldIn(c, d.CampaignID)
		if err != nil {
			return draw{}, err
		}
		names.Products = append(names.Products, sold...)
	}
	f, err := s.App.Facts.DraftFacts(c, d.ID, names)
	if err != nil {
		return draw{}, err
	}
	seeAs(c, &f, asOf)
	in := render.Input{
		Page: d.Tree, Title: d.Title, Description: d.Description, Facts: f, Moment: asOf, Proof: true, Layout: d.Layout,
		Place: pieces.Place{Address: d.Address, Upsell: purpose.Of(d.Purpose).Step == route.UpsellAt, Till: s.App.Origins.Till},
	}
	follows := map[string]manuscript.Piece{}
	registry.Schema().Follow(d.Tree).Walk(func(_ manuscript.Band, p manuscript.Piece) { follows[p.ID] = p })
	return draw{Draft: d, context: s.App.Render.Context(in), input: in, follows: follows}, nil
}

func (s *Studio) sheet(c fiber.Ctx, d draw) (sheet, error) {
	sh := sheet{Draft: d.Draft, Kinds: bandGroups(d.Purpose), Beats: manuscript.Beats, Tones: manuscript.Tones, AtZeros: atZeros, Proportions: manuscript.Proportions, Missing: missing(d.Draft), Purposes: purpose.All, Layouts: pages.Layouts, Templates: all.Templates()}
	for _, name := range s.App.Render.Registry.Names() {
		kind, _ := s.App.Render.Registry.Kind(name)
		sh.Pieces = append(sh.Pieces, kind.Kind)
	}
	var err error
	if sh.BandChoices, err = s.App.Find.BandChoices(c, d.CampaignID); err != nil {
		return sh, err
	}
	sh.Sharing, sh.Own = s.sharing(d, check.DescriptionLimit), ownForm("/pages/"+d.ID+"/own", d.Tree.Own)
	if len(d.Tree.Own)+len(d.input.Facts.Store.Own) > 0 {
		sh.Own["Ran"] = "/pages/" + d.ID + "/ran"
	}
	var read reading.Text
	for i, b := range d.Tree.Bands {
		row := bandRow{Band: b, Index: i, Last: i == len(d.Tree.Bands)-1}
		for j, col := range b.Columns {
			row.Widths = append(row.Widths, col.Width)
			for k, p := range col.Pieces {
				one := s.pieceRow(d, p, sh)
				one.Column, one.Index, one.Columns = j, k, len(b.Columns)
				row.Pieces = append(row.Pieces, one)
			}
		}
		for _, p := range row.Pieces {
			read = read.Add(counted(p))
		}
		if at, ok := d.context.Deadline(b.Deadline); ok && b.AtZero != manuscript.Stays {
			for _, z := range atZeros {
				if z.Value == b.AtZero {
					row.Zero = at.Name + ", " + at.Short() + ": " + z.Label
				}
			}
		}
		sh.Bands = append(sh.Bands, row)
	}
	sh.Words, sh.Reads = read.Words, reads(read)
	return sh, nil
}

// counted counts what is written in a piece.
func counted(p pieceRow) reading.Text {
	var read reading.Text
	for _, t := range p.Texts {
		read = read.Add(reading.Count(rich.Text(t.Value)))
	}
	for _, l := range p.Lists {
		for _, item := range l.Items {
			for _, t := range item.Texts {
				read = read.Add(reading.Count(rich.Text(t.Value)))
			}
		}
	}
	return read
}

// reads says how much there is to read, for how long, and how easy it is.
func reads(t reading.Text) string {
	say := fmt.Sprintf("%d words", t.Words)
	if t.Words == 1 {
		say = "1 word"
	}
	ease, ok := t.Ease()
	if !ok {
		return say
	}
	minutes := max(1, int((t.Takes()+time.Minute/2)/time.Minute))
	return fmt.Sprintf("%s · %d min · %s", say, minutes, reading.Level(ease))
}

// inItems gives what can be chosen for a field of a list's item, where all of
// it can be shown.
func (sh sheet) inItems(f manuscript.Field) []manuscript.Option {
	if f.Type != manuscript.Group {
		return f.Options
	}
	list := []manuscript.Option{{Value: "", Label: "nothing yet"}}
	for _, g := range sh.Groups {
		list = append(list, manuscript.Option{Value: g.ID, Label: g.Name})
	}
	return list
}

func (s *Studio) pieceRow(d draw, p manuscript.Piece, sh sheet) pieceRow {
	kind, _ := s.App.Render.Registry.Kind(p.Kind)
	row := pieceRow{Piece: p, Title: kind.Title, Telling: s.telling(d, p)}
	for _, f := range kind.Fields {
		switch { // all other fields are chosen in the slip
		case f.Written():
			row.Texts = append(row.Texts, textField{Field: f, Value: p.Fields.Text(f.Name), Look: look(p)})
		case f.Type == manuscript.List:
			row.Lists = append(row.Lists, listOf(d, p, f, sh))
		}
	}
	return row
}

// look names the style in which a text stands in the sheet.
func look(p manuscript.Piece) string {
	switch p.Kind {
	case "heading":
		return "h" + pieces.Or(p.Fields.Text("level"), "2")
	case "text":
		return pieces.Or(p.Fields.Text("look"), "copy")
	}
	return "small"
}

func listOf(d draw, p manuscript.Piece, f manuscript.Field, sh sheet) listField {
	l := listField{Field: f, JSON: "[]", Blank: "{}"}
	if raw, err := json.Marshal(all.BlankItem(f)); err == nil {
		l.Blank = string(raw)
	}
	if raw, err := json.Marshal(p.Fields[f.Name]); err == nil && string(raw) != "null" {
		l.JSON = string(raw)
	}
	for i, fields := range p.Fields.List(f.Name) {
		item := listItem{Index: i}
		for _, sub := range f.Items {
			t := textField{Field: sub, Value: fields.Text(sub.Name)}
			if !sub.Written() {
				if t.Options = sh.inItems(sub); chosenBySearch(sub.Type) {
					by := chooserOf(d.context, d.ID, sub, t.Value)
					by.Sub = sub.Name
					t.Chooser = &by
				}
				item.Choices = append(item.Choices, t)
			} else {
				t.Look = map[bool]string{true: "strong", false: "copy"}[len(item.Texts) == 0]
				item.Texts = append(item.Texts, t)
			}
		}
		l.Items = append(l.Items, item)
	}
	return l
}

// proofParts is what a proof is redrawn from.
type proofParts struct {
	Bands []render.Band `json:"bands"`
	CSS   string        `json:"css"`
	Says  string        `json:"says"` // price, timer and checkout in words
	When  string        `json:"when"` // the moment, written out
}

func (s *Studio) parts(d draw) (proofParts, error) {
	bands, err := s.App.Render.Bands(d.context, d.Tree)
	return proofParts{
		Bands: append([]render.Band{}, bands...), CSS: s.App.Render.Style(d.input), Says: s.says(d),
		When: deadline.Written(d.input.Moment, d.input.Facts.Store.Zone),
	}, err
}

// says sums up what a proof shows: the price, the timer, the checkout.
func (s *Studio) says(d draw) string {
	var said []string
	seen := map[string]bool{}
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		if seen[p.Kind] {
			return
		}
		p = d.follows[p.ID]
		kind, _ := s.App.Render.Registry.Kind(p.Kind)
		switch p.Kind {
		case "price":
			item := offer.Item{ProductID: p.Fields.Text("product"), Quantity: 1, Via: d.context.Via()}
			if q, err := d.context.Quote(item); err == nil {
				said = append(said, q.Total.String())
			}
		case "timer":
			said = append(said, map[bool]string{true: "timer shown", false: "timer gone"}[kind.View(d.context, p) != nil])
		case "checkout":
			if sale, ok := kind.View(d.context, p).(interface{ Open() bool }); ok {
				said = append(said, map[bool]string{true: "checkout open", false: "checkout closed"}[sale.Open()])
			}
		default:
			return
		}
		seen[p.Kind] = true
	})
	return strings.Join(said, " · ")
}

// track is the as-of slider: its span and the moments at which the page changes.
type track struct {
	From, To, Now int64 // Unix seconds
	Marks         []mark
}

type mark struct {
	At    int64  `json:"at"`
	Label string `json:"label"`
	When  string `json:"when"`
}

func (s *Studio) track(d draw, now time.Time) track {
	zone := d.input.Facts.Store.Zone
	at := map[time.Time][]string{}
	add := func(t time.Time, what string) {
		if !t.IsZero() {
			at[t] = append(at[t], what)
		}
	}
	for _, o := range d.input.Facts.Offers {
		add(o.Starts, o.Name+" begins")
		add(o.Ends, o.Name+" ends")
	}
	for id := range d.input.Facts.Deadlines {
		if dl, ok := d.input.Facts.Deadline(id, now); ok {
			add(dl.At, dl.Name)
		}
	}
	first, last := now, now
	tr := track{Now: now.Unix()}
	for t, what := range at {
		if t.Before(first) {
			first = t
		}
		if t.After(last) {
			last = t
		}
		tr.Marks = append(tr.Marks, mark{At: t.Unix(), Label: strings.Join(what, ", "), When: deadline.Short(t, zone)})
	}
	margin := max(last.Sub(first)/5, 24*time.Hour)
	tr.From, tr.To = first.Add(-margin).Unix(), last.Add(margin).Unix()
	sortMarks(tr.Marks)
	return tr
}
