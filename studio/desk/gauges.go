package desk

import (
	"fmt"
	"slices"

	"chrysagon/core/check"
	"chrysagon/core/manuscript"
	"chrysagon/render"
	"chrysagon/studio/frame"
	"chrysagon/studio/proof"

	"github.com/gofiber/fiber/v3"
)

// gauges is the row along the foot: each tells one thing of the page, and opens
// the list of what it tells of.
type gauges struct {
	Words       int
	Reads       string
	Ways, Legal []gaugeLine // ways out, and the legal links apart
	Calls       []gaugeLine
	Goals       string // to how many places the calls lead, in words
	Description int
	Limit       int
	Bytes       int  // of the first view, compressed
	Letter      bool // it is of a letter, as it is
	Subject     int  // characters of a letter's subject
	Loads       []gaugeLine
	Readings    []check.Reading
	Findings    []check.Finding
	Drifts      []driftRow
	CanUndo     bool
	CanRedo     bool
}

// gaugeLine is one line of a gauge's list.
type gaugeLine struct {
	What, Says string
	PieceID    string
}

// Weight writes the first view's bytes in kilobytes with one digit.
func (g gauges) Weight() string { return kilobytes(g.Bytes) }

func kilobytes(n int) string { return fmt.Sprintf("%.1f", float64(n)/1024) }

// Weakest is the reading that has the least of what it needs; nil where nothing
// is written.
func (g gauges) Weakest() *check.Reading {
	if len(g.Readings) == 0 {
		return nil
	}
	return &g.Readings[0]
}

func (place *Place) gauges(c fiber.Ctx, d proof.Draw, sh sheet) (gauges, error) {
	page := place.Publishing.CheckPage(d.Draft, d.Input.Facts)
	g := gauges{Words: sh.Words, Reads: sh.Reads, Description: len([]rune(d.Description)), Limit: check.DescriptionLimit, Readings: check.Readings(page)}
	var err error
	if g.CanUndo, g.CanRedo, err = place.Desk.CanStep(c, frame.Who(c).User.ID, d.ID); err != nil {
		return g, err
	}
	place.ways(&g, page)
	place.calls(&g, d, page)
	if g.Drifts, err = place.drifts(d.Tree); err != nil {
		return g, err
	}
	if d.Mails() {
		g.Bytes, g.Letter, g.Subject = page.FirstView, true, len([]rune(d.Title))
		g.Limit = check.PreviewShown
		g.Findings, err = place.Publishing.CheckBy(c, d.Draft, d.Input.Facts, g.Bytes)
		return g, err
	}
	in := d.Input
	in.Proof = false
	published, err := place.Render.Page(in)
	if err != nil {
		return g, err
	}
	g.Bytes = published.Weight()
	g.Findings, err = place.Publishing.CheckBy(c, d.Draft, d.Input.Facts, g.Bytes)
	g.Loads = loads(d, published.Weights())
	return g, err
}

func (place *Place) ways(g *gauges, page check.Page) {
	for _, w := range check.Ways(page) {
		line := gaugeLine{What: place.titleOf(page.Manuscript, w.PieceID), Says: w.To, PieceID: w.PieceID}
		if w.Legal {
			g.Legal = append(g.Legal, line)
		} else {
			g.Ways = append(g.Ways, line)
		}
	}
}

func (place *Place) calls(g *gauges, d proof.Draw, page check.Page) {
	for _, call := range check.Calls(page) {
		g.Calls = append(g.Calls, gaugeLine{What: "“" + call.Says + "”", Says: d.Context.Leads(call.Target.String()), PieceID: call.PieceID})
	}
	switch n := check.Goals(page); {
	case len(g.Calls) == 0:
	case n == 1:
		g.Goals = "one goal"
	default:
		g.Goals = fmt.Sprintf("%d goals", n)
	}
}

// titleOf names what a piece is, for whoever looks for it in the sheet.
func (place *Place) titleOf(page manuscript.Page, id string) string {
	if id == "" {
		return "The frame"
	}
	piece, _ := page.Piece(id)
	kind, _ := place.Render.Registry.Kind(piece.Kind)
	return kind.Title
}

// loads tells what the first view's bytes are spent on, and what comes after.
func loads(d proof.Draw, w render.Weights) []gaugeLine {
	out := []gaugeLine{
		{What: "Words and structure", Says: kilobytes(w.Words) + " KB"},
		{What: "Styles", Says: kilobytes(w.Styles) + " KB"},
	}
	var pictures []gaugeLine
	seen := map[string]bool{}
	d.Tree.Walk(func(_ manuscript.Band, p manuscript.Piece) {
		pic, ok := d.Input.Facts.Pictures[p.Fields.Text("picture")]
		if ok && pic.Weight > 0 && !seen[pic.ID] {
			seen[pic.ID] = true
			pictures = append(pictures, gaugeLine{What: "Picture “" + pic.Name + "”, afterwards", Says: kilobytes(pic.Weight) + " KB on a phone", PieceID: p.ID})
		}
	})
	return slices.Concat(out, pictures)
}
