package manuscript

import (
	"bytes"
	"cmp"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"chrysagon/core/rich"
	"chrysagon/core/style"
	"chrysagon/core/target"
)

// FieldType says what a field holds. Every value is stored as a text, but for
// lists; the type says what the text must be.
type FieldType string

// The types of field.
const (
	Line     FieldType = "line"     // one line of text, edited in place
	Prose    FieldType = "prose"    // text of several lines, edited in place
	Rich     FieldType = "rich"     // copy with structure, edited in place; see package rich
	Picture  FieldType = "picture"  // ID of a picture
	Product  FieldType = "product"  // ID of a product
	Deadline FieldType = "deadline" // ID of a deadline
	Shelf    FieldType = "shelf"    // ID of a shelf
	// Attribute is what goods are told apart by: the name of one of the store's attributes, or
	// one of those that all goods have (package shelf).
	Attribute FieldType = "attribute"
	Group     FieldType = "group"   // ID of a group of goods
	Video     FieldType = "video"   // ID of a video
	Mailing   FieldType = "mailing" // ID of a list of people that letters go to
	File      FieldType = "file"    // ID of a file; no field holds one, links lead to them
	Slots     FieldType = "slots"   // length of appointments in minutes, one of Options
	Sign      FieldType = "sign"    // an icon, a picture or a typed sign; see [Signed]
	Choice    FieldType = "choice"  // one of Options
	Link      FieldType = "link"    // where a link leads; see package target
	List      FieldType = "list"    // items with fields of their own
)

// Option is one value of a choice.
type Option struct {
	Value string `json:"value"`
	Label string `json:"label"`
}

// Field declares one field of a kind of piece. The slip, validation and the
// schema all come from it.
type Field struct {
	Name    string    `json:"name"`
	Label   string    `json:"label"` // the words before the value in the slip's sentence
	Type    FieldType `json:"type"`
	Options []Option  `json:"options,omitempty"`
	Items   []Field   `json:"items,omitempty"`
	Default string    `json:"default,omitempty"`
	Empty   string    `json:"empty,omitempty"` // what the sheet shows while nothing is written
	Feed    bool      `json:"feed,omitempty"`  // its items can be taken from a feed file
	Most    int       `json:"most,omitempty"`  // items that a list can have; 0: [MaxItems]
	Bare    bool      `json:"-"`               // a new piece begins with none of them
	Drawn   bool      `json:"-"`               // its slip draws it itself: see pieces.Kind
}

// Kind declares one kind of piece.
type Kind struct {
	Name   string  `json:"name"`
	Title  string  `json:"title"`
	Role   Role    `json:"-"` // what pieces of it are to the composition of a band
	Fields []Field `json:"fields"`
	// Undrawn are properties of looks that change nothing of this kind, such as the
	// weight of words where there are none: its slip leaves them out.
	Undrawn []string `json:"-"`
	Traits  Traits   `json:"-"`
}

// Takes tells whether a property of looks changes anything of pieces of the kind.
func (k Kind) Takes(p style.Property) bool {
	if slices.Contains(k.Undrawn, p.Name) {
		return false
	}
	switch p.Needs {
	case style.Prices:
		return k.Traits.Priced
	case style.Pressed:
		return k.Traits.Button || k.Traits.Pressed
	case style.Pictured:
		return k.Traits.Pictured
	case style.Marked:
		signed := false
		for _, f := range k.Fields {
			signed = signed || f.Type == Sign || slices.ContainsFunc(f.Items, func(one Field) bool { return one.Type == Sign })
		}
		return signed
	}
	return true
}

// Field returns the declaration of a field.
func (k Kind) Field(name string) (Field, bool) {
	for _, f := range k.Fields {
		if f.Name == name {
			return f, true
		}
	}
	return Field{}, false
}

// eachField calls visit for every declared field of a piece that is no list,
// and for those of every item of its lists.
func eachField(declared []Field, values Fields, visit func(Field, Fields)) {
	for _, f := range declared {
		if f.Type != List {
			visit(f, values)
			continue
		}
		for _, item := range values.List(f.Name) {
			eachField(f.Items, item, visit)
		}
	}
}

// Schema is the set of kinds a manuscript may use, by name.
type Schema map[string]Kind

// Fault is a place in a manuscript and what is wrong there.
type Fault struct{ Place, Reason string }

func (f Fault) Error() string { return f.Place + ": " + f.Reason }

// Say is the fault for whoever has just written there, and so needs no place.
func (f Fault) Say() string {
	if first, _ := utf8.DecodeRuneInString(f.Reason); unicode.IsUpper(first) {
		return f.Reason
	}
	return "This was not kept: " + f.Reason + "."
}

func fault(place, reason string, args ...any) error {
	return Fault{Place: place, Reason: fmt.Sprintf(reason, args...)}
}

// Parse reads a stored manuscript and validates it. Unknown members are refused.
func (s Schema) Parse(raw []byte) (Page, error) {
	var p Page
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&p); err != nil {
		return Page{}, fault("manuscript", "it is not the JSON of a manuscript: %v", err)
	}
	p.renamed()
	if err := s.Validate(p); err != nil {
		return Page{}, err
	}
	for i := range p.Bands {
		p.Bands[i].fill()
	}
	return p, nil
}

// fill gives every piece its fields, so that taking the last one back leaves
// the same bytes as before it was set.
func (b *Band) fill() {
	for i := range b.Columns {
		if len(b.Columns[i].Pieces) == 0 {
			b.Columns[i].Pieces = nil
		}
		for j := range b.Columns[i].Pieces {
			if b.Columns[i].Pieces[j].Fields == nil {
				b.Columns[i].Pieces[j].Fields = Fields{}
			}
		}
	}
}

// Validate refuses a page that does not keep to its schema, with the first
// place that breaks it.
func (s Schema) Validate(p Page) error {
	if p.Version != Version {
		return fault("version", "is %d; this program reads version %d", p.Version, Version)
	}
	if len(p.Bands) > MaxBands {
		return fault("bands", "%d of them; at most %d fit on a page", len(p.Bands), MaxBands)
	}
	if err := p.Look.Validate(style.OnPage); err != nil {
		return fault("page", "%s", err.Error())
	}
	if err := p.ofPage(); err != nil {
		return err
	}
	ids, pieces := map[string]bool{}, 0
	for i, b := range p.Bands {
		n, err := s.band(fmt.Sprintf("bands[%d]", i), b, ids)
		if err != nil {
			return err
		}
		if pieces += n; pieces > MaxPieces {
			return fault("bands", "more than %d pieces on one page", MaxPieces)
		}
	}
	return nil
}

func (s Schema) band(place string, b Band, ids map[string]bool) (int, error) {
	if err := once(place, b.ID, ids); err != nil {
		return 0, err
	}
	if !slices.Contains(Beats, b.Beat) {
		return 0, fault(place+".beat", "%q is not a beat", b.Beat)
	}
	if !slices.Contains(Tones, b.Tone) {
		return 0, fault(place+".tone", "%q is not a tone", b.Tone)
	}
	if !slices.Contains(AtZeros, b.AtZero) {
		return 0, fault(place+".at_zero", "%q is not something that happens at zero", b.AtZero)
	}
	if b.Manner != "" && !manner.MatchString(b.Manner) {
		return 0, fault(place+".manner", "%q is not the name of a manner", b.Manner)
	}
	if !b.Only.known() {
		return 0, fault(place+".only", "%q does not say for whom a band is shown", b.Only)
	}
	if len(b.Deadline) > 40 || len(b.LeadTo) > 40 {
		return 0, fault(place+".deadline", "is not the ID of a deadline, or lead_to not that of a page")
	}
	if !utf8.ValidString(b.Name) || strings.ContainsRune(b.Name, 0) || utf8.RuneCountInString(b.Name) > 80 {
		return 0, fault(place+".name", "a band's name has at most 80 characters")
	}
	if len(b.Columns) < 1 || len(b.Columns) > 4 {
		return 0, fault(place+".columns", "a band has 1 to 4 columns, not %d", len(b.Columns))
	}
	if err := b.Look.Validate(style.OnBand); err != nil {
		return 0, fault(place, "%s", err.Error())
	}
	pieces := 0
	for j, c := range b.Columns {
		if c.Width < 1 || c.Width > 12 {
			return 0, fault(fmt.Sprintf("%s.columns[%d].width", place, j), "must be from 1 to 12")
		}
		for k, piece := range c.Pieces {
			at := fmt.Sprintf("%s.columns[%d].pieces[%d]", place, j, k)
			if err := once(at, piece.ID, ids); err != nil {
				return 0, err
			}
			kind, known := s[piece.Kind]
			if !known {
				return 0, fault(at+".kind", "there is no piece of kind %q", piece.Kind)
			}
			if err := checkFields(at, kind.Fields, piece.Fields); err != nil {
				return 0, err
			}
			if err := piece.Look.Validate(style.OnPiece); err != nil {
				return 0, fault(at, "%s", err.Error())
			}
			pieces++
		}
	}
	return pieces, nil
}

// manner keeps the name of a manner to what may stand in a class. Which there are is
// said where bands are composed (core/compose), by what a band holds; one that there is
// not is as good as none.
var manner = regexp.MustCompile(`^[a-z]{1,20}$`)

// identifier keeps IDs to what may stand in addresses and selectors as it is.
var identifier = regexp.MustCompile(`^[A-Za-z0-9_-]{1,40}$`)

func once(place, id string, ids map[string]bool) error {
	if !identifier.MatchString(id) || ids[id] {
		return fault(place+".id", "%q is used twice, or not made of 1 to 40 letters, digits, _ and -", id)
	}
	ids[id] = true
	return nil
}

func checkFields(place string, declared []Field, values Fields) error {
	for name, value := range values {
		i := slices.IndexFunc(declared, func(f Field) bool { return f.Name == name })
		if i < 0 {
			return fault(place+"."+name, "this piece has no such field")
		}
		if err := declared[i].check(place+"."+name, value); err != nil {
			return err
		}
	}
	return nil
}

// Written tells whether a field is typed in place.
func (f Field) Written() bool { return f.Type == Line || f.Type == Prose || f.Type == Rich }

// legible drops signs that control a machine and say nothing to a reader.
func legible(r rune) rune {
	if unicode.IsControl(r) && r != '\n' && r != '\t' {
		return -1
	}
	return r
}

// Clean brings a value as it was typed or pasted into the form in which it is
// kept: copy loses what copy may not have.
func (f Field) Clean(value any) any {
	switch v := value.(type) {
	case string:
		if f.Type == Rich {
			return rich.Clean(v, target.Leads)
		}
		return strings.Map(legible, v)
	case []any:
		if f.Type != List {
			return value
		}
		for _, item := range v {
			fields, _ := item.(map[string]any)
			for _, sub := range f.Items {
				if one, ok := fields[sub.Name]; ok {
					fields[sub.Name] = sub.Clean(one)
				}
			}
		}
	}
	return value
}

func (f Field) check(place string, value any) error {
	if f.Type == List {
		items, ok := value.([]any)
		if most := cmp.Or(f.Most, MaxItems); !ok || len(items) > most {
			return fault(place, "must be a list of at most %d items", most)
		}
		for i, item := range items {
			fields, ok := item.(map[string]any)
			if !ok {
				return fault(fmt.Sprintf("%s[%d]", place, i), "must be an item with fields")
			}
			if err := checkFields(fmt.Sprintf("%s[%d]", place, i), f.Items, fields); err != nil {
				return err
			}
		}
		return nil
	}
	text, ok := value.(string)
	if !ok {
		return fault(place, "must be a text")
	}
	if !utf8.ValidString(text) || strings.ContainsRune(text, 0) || utf8.RuneCountInString(text) > MaxText {
		return fault(place, "must be readable text of at most %d characters", MaxText)
	}
	if f.Type == Rich && rich.Clean(text, target.Leads) != text {
		return fault(place, "holds more than copy may have: paragraphs, sub-headings, lists, strong and emphatic words, and links")
	}
	if f.Type == Link {
		if _, err := target.Parse(text); err != nil {
			return fault(place, "%s", err.Error())
		}
	}
	if _, ok := SignOf(text); f.Type == Sign && text != "" && !ok {
		return fault(place, "%q is neither an icon, nor a picture, nor a sign of at most %d characters", text, MostTyped)
	}
	if (f.Type == Choice || f.Type == Slots) && !slices.ContainsFunc(f.Options, func(o Option) bool { return o.Value == text }) {
		return fault(place, "%q is not one of its choices", text)
	}
	return nil
}
