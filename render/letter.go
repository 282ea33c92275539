package render

import (
	"bytes"
	_ "embed"
	"fmt"
	"html/template"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/facts"
	"chrysagon/core/mailing"
	"chrysagon/core/style"
	"chrysagon/core/words"
	"chrysagon/pieces"
)

// Addressed is for whom a letter is written, and what stands beneath it.
type Addressed struct {
	Posting string // ID of the one letter to the one person, which its links carry; empty: a proof
	Name    string // of the person; empty: not known
	Why     string // why they get it
	From    string // who writes
	Wishes  string // whole address of the page where they say what they want; empty: a proof, or about an order
	Order   string // what their order is called, where the letter is about one; empty: it is not
	Counts  bool   // it bears a picture that tells when it is looked at
	Sent    bool   // it goes to somebody, and is no proof
}

// Letter is a letter as it is sent.
type Letter struct {
	Subject string
	Preview string // what inboxes show after the subject
	HTML    string
	Text    string
	Until   time.Time // until when what it says of prices and deadlines holds; zero: for good
	Bands   []Band    // its bands by themselves, as a proof is redrawn from them
	Style   string
}

//go:embed letter.html
var letterHTML string

var letterTemplate = template.Must(template.New("letter").Parse(letterHTML))

// Letter writes a page as a letter: as HTML that mail programs show, made of tables and
// styles in place, and as plain text of the same blocks. What it says of prices is computed
// as of the moment, and says until when it holds; its links are whole and carry whose letter
// it is.
func (r *Renderer) Letter(in Input, to Addressed) (Letter, error) {
	c := r.Context(in)
	c.Whole = func(href string) string { return whole(in.Origin, href, to.Posting) }
	bands := r.Registry.Letter(c, in.Page)
	return written(in, to, bands, c.Until())
}

// Made writes a letter whose words are the program's own, in the house's style: the title is
// its subject. Whole addresses are given with its blocks.
func (r *Renderer) Made(in Input, to Addressed, blocks ...pieces.Block) (Letter, error) {
	return written(in, to, []pieces.Written{{Band: "made", Pieces: []pieces.WrittenPiece{{ID: "made", Blocks: blocks}}}}, time.Time{})
}

// written writes what bands come to, which holds until a moment.
func written(in Input, to Addressed, bands []pieces.Written, until time.Time) (Letter, error) {
	view := letterView{
		Store: in.Facts.Store, Why: to.Why, Wishes: to.Wishes, Proof: to.Posting == "" && !to.Sent, Owed: to.Order != "", Counts: seenAt(in.Origin, to), Look: in.Facts.Store.House.Letter(), Dark: in.Facts.Store.House.LetterInTheDark(), Origin: in.Origin,
	}
	person := map[string]string{"name": to.Name, "order": to.Order}
	for _, b := range bands {
		for i := range b.Pieces {
			for j := range b.Pieces[i].Blocks {
				fill(&b.Pieces[i].Blocks[j], person)
			}
			view.blocks = append(view.blocks, b.Pieces[i].Blocks...)
		}
		view.Bands = append(view.Bands, letterBand{b, view.Proof, view.Look, view.Origin})
	}
	l := Letter{Subject: words.Tidy(mailing.Fill(in.Title, person, nil)), Preview: words.Tidy(mailing.Fill(in.Description, person, nil)), Until: until}
	view.Subject, view.Preview = l.Subject, l.Preview
	if !l.Until.IsZero() && priced(view.blocks) {
		view.Holds = fmt.Sprintf("Prices as of %s; they hold until %s at the latest.", deadline.Short(in.Moment, view.Store.Zone), deadline.Told(l.Until, view.Store.Zone))
	}
	var out bytes.Buffer
	if err := letterTemplate.Execute(&out, view); err != nil {
		return l, fmt.Errorf("write a letter: %w", err)
	}
	l.HTML, l.Text = out.String(), plainLetter(view)
	for _, b := range view.Bands {
		var one strings.Builder
		if err := letterTemplate.ExecuteTemplate(&one, "band", b); err != nil {
			return l, fmt.Errorf("write a band of a letter: %w", err)
		}
		l.Bands = append(l.Bands, Band{ID: b.Band, HTML: template.HTML(one.String())}) //nolint:gosec // html/template wrote it
	}
	var style strings.Builder
	if err := letterTemplate.ExecuteTemplate(&style, "style", view); err != nil {
		return l, fmt.Errorf("write the style of a letter: %w", err)
	}
	l.Style = style.String()
	return l, nil
}

// letterView is what the template of letters shows.
type letterView struct {
	Subject, Preview, Why, Wishes, Holds, Origin string
	Counts                                       string // address of the picture that tells when it is looked at; empty: none
	Store                                        facts.Store
	Bands                                        []letterBand
	Look, Dark                                   style.LetterColours
	Proof, Owed                                  bool
	blocks                                       []pieces.Block
}

// seenAt is the address of the picture that tells when a letter is looked at.
func seenAt(origin string, to Addressed) string {
	if !to.Counts || to.Posting == "" {
		return ""
	}
	return origin + "/letters/seen/" + to.Posting
}

// Imprint is who writes, by law.
func (v letterView) Imprint() string {
	if v.Store.LegalAddress == "" {
		return v.Store.LegalName
	}
	return v.Store.LegalName + ", " + v.Store.LegalAddress
}

type letterBand struct {
	pieces.Written
	Proof  bool
	Look   style.LetterColours
	Origin string
}

// priced tells whether prices or deadlines stand among blocks, which may change.
func priced(blocks []pieces.Block) bool {
	for _, b := range blocks {
		if b.Price != nil || b.As == pieces.Moment {
			return true
		}
	}
	return false
}

// whole makes an address of the shop whole, and lets it carry whose letter it stands in.
func whole(origin, href, posting string) string {
	if !strings.HasPrefix(href, "/") {
		return href
	}
	path, at, _ := strings.Cut(href, "#")
	if posting != "" {
		join := "?"
		if strings.Contains(path, "?") {
			join = "&"
		}
		path += join + "letter=" + posting
	}
	if at != "" {
		path += "#" + at
	}
	return origin + path
}

// fill puts what is known of the reader into a block.
func fill(b *pieces.Block, person map[string]string) {
	for _, text := range []*string{&b.Text, &b.Second} {
		*text = mailing.Fill(*text, person, nil)
	}
	b.Copy = template.HTML(mailing.Fill(string(b.Copy), person, template.HTMLEscapeString)) //nolint:gosec // drawn by Rich; what is put in is escaped
	for i := range b.Points {
		b.Points[i] = mailing.Fill(b.Points[i], person, nil)
	}
}
