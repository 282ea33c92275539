package manuscript

import (
	"encoding/json"
	"strings"
	"unicode/utf8"

	"chrysagon/core/own"
	"chrysagon/core/words"
)

// What SetPage can set.
const (
	Keywords = "keywords" // a text
	Shared   = "picture"  // ID of the picture a shared card shows
	OwnCode  = "own"      // a list of snippets; see package own

	Name        = "name" // of the page, and the rest of its naming
	Address     = "address"
	Title       = "title"
	Description = "description"
)

// naming is the part of a page's naming that a field sets.
func (p *Page) naming(field string) *string {
	n := &p.Naming
	return map[string]*string{Name: &n.Name, Address: &n.Address, Title: &n.Title, Description: &n.Description}[field]
}

// name sets a part of a page's naming. An address is one word, so the later of
// two holds; of all else both stay.
func (p *Page) name(c Command, text string) (Command, error) {
	part := p.naming(c.Field)
	inverse := Command{Op: SetPage, Field: c.Field, Value: *part}
	if c.Field == Address {
		*part = strings.ToLower(text)
	} else {
		*part = words.Tidy(c.merged(*part, text))
	}
	inverse.Was = *part
	if say := p.Naming.Faults()[c.Field]; say != "" {
		return Command{}, Fault{Place: "page." + c.Field, Reason: say}
	}
	return inverse, nil
}

// setPage sets one thing that is said of the page as a whole.
func setPage(p *Page, c Command) (Command, error) {
	inverse := Command{Op: SetPage, Field: c.Field}
	text, _ := c.Value.(string)
	switch c.Field {
	case Name, Address, Title, Description:
		return p.name(c, strings.Map(legible, strings.TrimSpace(text)))
	case Keywords:
		inverse.Value, p.Sharing.Keywords = p.Sharing.Keywords, strings.TrimSpace(c.merged(p.Sharing.Keywords, text))
	case Shared:
		inverse.Value, p.Sharing.Picture = p.Sharing.Picture, text
	case OwnCode:
		inverse.Value = p.Own
		code, err := codeOf(c.Value)
		if err != nil {
			return Command{}, err
		}
		if c.Guard {
			was, err := codeOf(c.Was)
			if err != nil {
				return Command{}, err
			}
			code = own.Merge(was, code, p.Own)
		}
		if p.Own = code; len(code) == 0 {
			p.Own = nil
		}
	default:
		return Command{}, fault("command.field", "a page has no %q", c.Field)
	}
	inverse.Was = p.said(c.Field)
	return inverse, nil
}

// codeOf reads own code from a command's value.
func codeOf(value any) (own.Code, error) {
	var code own.Code
	raw, err := json.Marshal(value)
	if err == nil {
		err = json.Unmarshal(raw, &code)
	}
	if err != nil {
		return nil, fault("command.value", "own code is a list of snippets with name, kind and text")
	}
	return code, nil
}

// said is what [SetPage] sets, as it stands.
func (p Page) said(field string) any {
	switch field {
	case Keywords:
		return p.Sharing.Keywords
	case Shared:
		return p.Sharing.Picture
	case OwnCode:
		return p.Own
	}
	return nil
}

// ofPage refuses what is said of a page as a whole and cannot be.
func (p Page) ofPage() error {
	if !utf8.ValidString(p.Sharing.Keywords) || strings.ContainsRune(p.Sharing.Keywords, 0) || utf8.RuneCountInString(p.Sharing.Keywords) > MaxKeywords {
		return fault("sharing.keywords", "must be readable text of at most %d characters", MaxKeywords)
	}
	if id := p.Sharing.Picture; id != "" && !identifier.MatchString(id) {
		return fault("sharing.picture", "is not the ID of a picture")
	}
	if err := p.Own.Validate(); err != nil {
		return fault("own", "%s", err.Error())
	}
	return nil
}
