package desk

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
	"chrysagon/core/manuscript"
	"chrysagon/core/purpose"
	"chrysagon/core/reading"
	"chrysagon/core/rich"
	"chrysagon/core/route"
	"chrysagon/pieces"
	"chrysagon/pieces/all"
	"chrysagon/studio/choose"
	"chrysagon/studio/proof"
	"chrysagon/studio/snippets"

	"github.com/gofiber/fiber/v3"
)

// missing says which beats of its purpose a page does not serve yet.
func missing(d drafts.Draft) string {
	var names []string
	for _, b := range purpose.Of(d.Purpose).Missing(d.Tree) {
		names = append(names, string(b))
	}
	return strings.Join(names, ", ")
}

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
	Onlys       []only
	Pieces      []manuscript.Kind // that can be added
	Proportions [][]int
	Missing     string // beats of its purpose that no band serves
	Purposes    []purpose.Purpose
	Layouts     []manuscript.Option
	Templates   []all.Template
	Letter      bool // it goes out by mail
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

// only is for whom alone a band can be shown, in words.
type only struct{ Value, Label string }

var onlys = map[manuscript.Only]string{
	manuscript.OnlySent: "to whom a parcel is sent", manuscript.OnlyCollected: "to whoever collects", manuscript.OnlyDownloaded: "to whoever downloads", manuscript.OnlyBooked: "to whoever has a seat",
}

// onlysOf are those that make sense on a page: by what was bought after the payment, else by
// the shelf on which its product stands.
func onlysOf(purposeName string, shelves []find.Choice) []only {
	out := []only{{"", "to everybody"}}
	switch step := purpose.Of(purposeName).Step; {
	case step.AfterPayment():
		for _, o := range manuscript.Onlys {
			out = append(out, only{string(o), onlys[o]})
		}
	case step == route.Sales:
		for _, s := range shelves {
			out = append(out, only{string(manuscript.OnlyOf(s.ID)), "for goods of “" + s.Name + "”"})
		}
	}
	return out
}

type bandRow struct {
	manuscript.Band
	Manners []manner
	Index   int
	Last    bool
	Pieces  []pieceRow
	Widths  []int
	Zero    string // what happens to it at its deadline
	Whom    string // for whom alone it is shown
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
	Chooser *choose.Chooser
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

// Room tells whether one more item fits.
func (l listField) Room() bool { return l.Most == 0 || len(l.Items) < l.Most }

type listItem struct {
	Index   int
	Texts   []textField
	Choices []textField
}

func (place *Place) sheet(c fiber.Ctx, d proof.Draw) (sheet, error) {
	sh := sheet{Draft: d.Draft, Kinds: bandGroups(d.Purpose), Beats: manuscript.Beats, Tones: manuscript.Tones, AtZeros: atZeros, Proportions: manuscript.Proportions, Missing: missing(d.Draft), Purposes: purpose.Pages(), Layouts: pages.Layouts, Templates: all.Templates(), Letter: d.Mails()}
	for _, name := range place.Render.Registry.Names() {
		kind, _ := place.Render.Registry.Kind(name)
		sh.Pieces = append(sh.Pieces, kind.Kind)
	}
	var err error
	if sh.BandChoices, err = place.Find.BandChoices(c, d.CampaignID); err != nil {
		return sh, err
	}
	sh.Onlys = onlysOf(d.Purpose, sh.Shelves)
	sh.Sharing, sh.Own = place.sharing(d, check.DescriptionLimit), snippets.OwnForm("/pages/"+d.ID+"/own", d.Tree.Own)
	if len(d.Tree.Own)+len(d.Input.Facts.Store.Own) > 0 {
		sh.Own["Ran"] = "/pages/" + d.ID + "/ran"
	}
	var read reading.Text
	for i, b := range d.Tree.Bands {
		row := bandRow{Band: b, Index: i, Last: i == len(d.Tree.Bands)-1, Manners: manners(place.Render.Registry.Schema(), b)}
		for j, col := range b.Columns {
			row.Widths = append(row.Widths, col.Width)
			for k, p := range col.Pieces {
				one := place.pieceRow(d, p, sh)
				one.Column, one.Index, one.Columns = j, k, len(b.Columns)
				row.Pieces = append(row.Pieces, one)
			}
		}
		for _, p := range row.Pieces {
			read = read.Add(counted(p))
		}
		if at, ok := d.Context.Deadline(b.Deadline); ok && b.AtZero != manuscript.Stays {
			for _, z := range atZeros {
				if z.Value == b.AtZero {
					row.Zero = at.Name + ", " + at.Short() + ": " + z.Label
				}
			}
		}
		for _, o := range sh.Onlys {
			if o.Value == string(b.Only) && o.Value != "" {
				row.Whom = "only " + o.Label
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

func (place *Place) pieceRow(d proof.Draw, p manuscript.Piece, sh sheet) pieceRow {
	kind, _ := place.Render.Registry.Kind(p.Kind)
	row := pieceRow{Piece: p, Title: kind.Title, Telling: place.telling(d, p)}
	for _, f := range kind.Fields {
		switch { // all other fields are chosen in the slip
		case f.Written():
			row.Texts = append(row.Texts, textField{Field: f, Value: p.Fields.Text(f.Name), Look: look(kind.Traits, p)})
		case f.Type == manuscript.List:
			row.Lists = append(row.Lists, listOf(d, p, f, sh))
		}
	}
	return row
}

// look names the style in which a text stands in the sheet.
func look(of manuscript.Traits, p manuscript.Piece) string {
	switch {
	case of.Heads:
		return of.Reads + pieces.Or(p.Fields.Text("level"), "2")
	case of.Reads != "":
		return pieces.Or(p.Fields.Text("look"), of.Reads)
	}
	return "small"
}

func listOf(d proof.Draw, p manuscript.Piece, f manuscript.Field, sh sheet) listField {
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
				if t.Options = sh.inItems(sub); choose.ChosenBySearch(sub.Type) {
					by := choose.ChooserOf(d.Context, d.ID, sub, t.Value)
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
