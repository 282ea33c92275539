package shelves

import (
	"net/url"
	"strconv"
	"strings"

	"chrysagon/app/offers"
	"chrysagon/app/pages"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/shelf"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
	"github.com/shopspring/decimal"
)

// readShelf reads the sentence. A fault is a sentence, too.
func (f shelfForm) read(currency string, attributes []goods.Attribute) (shelf.Shelf, string) {
	s := shelf.Shelf{ByHand: f.ByHand, Pinned: f.Pinned, LeftOut: f.LeftOut}
	if f.Order != "" {
		s.Order = []shelf.Order{{By: shelf.Field(f.Order), Down: f.Down}}
	}
	if f.Limit != "" {
		n, err := strconv.Atoi(f.Limit)
		if err != nil || n < 1 || n > shelf.MaxLimit {
			return s, "Write how many goods it shows at most as a whole number, or leave it empty."
		}
		s.Limit = n
	}
	if f.Deep {
		s.Rule = f.kept
		return s, ""
	}
	var rules []shelf.Rule
	for _, c := range f.Clauses {
		r, fault := c.rule(currency, attributes)
		if fault != "" {
			return s, fault
		}
		if c.Not {
			r = shelf.Rule{None: []shelf.Rule{r}}
		}
		rules = append(rules, r)
	}
	if f.Join == "any" && len(rules) > 0 {
		s.Rule.Any = rules
	} else if len(rules) > 0 {
		s.Rule.All = rules
	}
	if err := s.Validate(); err != nil {
		return s, "This cannot be read: " + err.Error() + "."
	}
	return s, ""
}

func (c clause) rule(currency string, attributes []goods.Attribute) (shelf.Rule, string) {
	r := shelf.Rule{Field: shelf.Field(c.Field)}
	switch r.Field { //nolint:exhaustive // all others have bounds
	case shelf.Category, shelf.Condition, shelf.Tag:
		for v := range strings.SplitSeq(c.Is, ",") {
			if v = strings.TrimSpace(v); v != "" {
				r.Is = append(r.Is, goods.TextOf(v))
			}
		}
		if r.Is == nil {
			return r, "Write which " + c.Field + " the goods should have, or take the line away."
		}
		return r, ""
	case shelf.Added:
		r.Since = c.Since
		if c.Since == "" {
			return r, "Choose the day since when the goods were added."
		}
		return r, ""
	case shelf.Sales:
		r.Days, _ = strconv.Atoi(c.Days) // 0 is refused below
		if r.Days < 1 {
			return r, "Write over how many days sales are counted."
		}
	case shelf.Attribute:
		r.Name = c.Name
		for _, a := range attributes {
			if a.Name == c.Name && (a.Type != goods.Number || strings.TrimSpace(c.Is) != "") {
				return c.among(r, a)
			}
		}
	}
	bound := func(text string) (*decimal.Decimal, bool) {
		text = strings.TrimSpace(text)
		if text == "" {
			return nil, true
		}
		if r.Field.IsMoney() {
			m, err := money.Parse(text, currency)
			d := decimal.NewFromInt(m.Minor)
			return &d, err == nil
		}
		d, err := decimal.NewFromString(strings.Replace(text, ",", ".", 1))
		return &d, err == nil
	}
	var okMin, okMax bool
	r.AtLeast, okMin = bound(c.Min)
	r.AtMost, okMax = bound(c.Max)
	if !okMin || !okMax {
		return r, "“" + c.Min + c.Max + "” is not a number."
	}
	if r.AtLeast == nil && r.AtMost == nil {
		return r, "Write at least one bound, or take the line away."
	}
	return r, ""
}

// among reads the values of an attribute by its type.
func (c clause) among(r shelf.Rule, a goods.Attribute) (shelf.Rule, string) {
	for v := range strings.SplitSeq(c.Is, ",") {
		if v = strings.TrimSpace(v); v == "" {
			continue
		}
		switch a.Type {
		case goods.Number:
			d, err := decimal.NewFromString(v)
			if err != nil {
				return r, "“" + v + "” is not a number."
			}
			r.Is = append(r.Is, goods.Value{Type: goods.Number, Number: d})
		case goods.YesNo:
			r.Is = append(r.Is, goods.YesOf(strings.EqualFold(v, "yes") || strings.EqualFold(v, "true")))
		case goods.Text:
			r.Is = append(r.Is, goods.TextOf(v))
		}
	}
	if r.Is == nil {
		return r, "Write what " + a.Label + " should be, or take the line away."
	}
	return r, ""
}

func (p *Place) shelvesPlace(c fiber.Ctx) error {
	shelves, err := p.Shelves.Shelves(c)
	if err != nil {
		return err
	}
	chosen := c.Query("shelf")
	f := shelfForm{Join: "all", Clauses: []clause{{Field: "category"}}}
	for i, h := range shelves {
		if h.ID == chosen || (chosen == "" && i == 0) {
			f = formOfShelf(h.ID, h.Name, h.Shelf, p.Currency())
		}
	}
	values, err := p.shelfValues(c, f)
	if err != nil {
		return err
	}
	values["Title"], values["Into"] = "Shelves", strings.Clone(c.Query("into"))
	if values["Shelves"], err = p.Shelves.CountShelves(c, shelves); err != nil {
		return err
	}
	if values["Groups"], err = p.Shelves.Groups(c); err != nil {
		return err
	}
	choices, err := p.Offers.Choices(c, offers.Wanted{Pictures: true})
	if err != nil {
		return err
	}
	values["Pictures"] = choices.Pictures
	return p.Show(c, "shelves", "Goods", values)
}

// shelfValues computes what stands on a shelf while its sentence is written.
func (p *Place) shelfValues(c fiber.Ctx, f shelfForm) (map[string]any, error) {
	attributes, err := p.Shelves.AttributeList(c)
	if err != nil {
		return nil, err
	}
	if f.ID != "" && len(f.Clauses) == 0 && !f.ByHand {
		if kept, err := p.deep(c, f.ID); err == nil && kept.Deep {
			f.Deep, f.kept = true, kept.kept
		}
	}
	categories, err := p.Goods.Categories(c)
	if err != nil {
		return nil, err
	}
	values := map[string]any{"Form": f, "Attributes": attributes, "Fields": clauseFields, "Orders": shelfOrders, "Categories": categories, "CSRF": frame.Who(c).CSRF}
	read, fault := f.read(p.Currency(), attributes)
	if fault != "" {
		values["Fault"] = fault
		return values, nil
	}
	stand, err := p.Shelves.Evaluate(c, read)
	values["Stand"] = stand
	return values, err
}

// deep reads a kept shelf whose rule the sentence cannot write.
func (p *Place) deep(c fiber.Ctx, id string) (shelfForm, error) {
	shelves, err := p.Shelves.Shelves(c)
	h, found := shelves.Find(id)
	if err != nil || !found {
		return shelfForm{}, err
	}
	return formOfShelf(h.ID, h.Name, h.Shelf, p.Currency()), nil
}

// lookShelf shows what stands on a shelf as its sentence is changed; with rows
// added or taken away the sentence itself is drawn anew.
func (p *Place) lookShelf(c fiber.Ctx) error {
	f := typedShelf(c)
	if path := c.FormValue("loosen"); path != "" {
		f.loosen(path, c.FormValue("to"), p.Currency())
	}
	values, err := p.shelfValues(c, f)
	if err != nil {
		return err
	}
	view := "shelf-stand"
	if c.FormValue("redraw") != "" {
		view = "shelf-writing"
	}
	return p.Send(c, fiber.StatusOK, view, values)
}

// loosen follows an advice: widen one clause's bound, or leave it away.
func (f *shelfForm) loosen(path, to, currency string) {
	i := 0
	if at := strings.LastIndexByte(path, '['); at >= 0 {
		i, _ = strconv.Atoi(strings.TrimSuffix(path[at+1:], "]"))
	}
	if i >= len(f.Clauses) {
		return
	}
	if to == "" {
		f.Clauses = append(f.Clauses[:i:i], f.Clauses[i+1:]...)
		return
	}
	if shelf.Field(f.Clauses[i].Field).IsMoney() {
		if n, err := strconv.ParseInt(to, 10, 64); err == nil {
			to = money.Of(n, currency).Plain()
		}
	}
	if f.Clauses[i].Max != "" {
		f.Clauses[i].Max = to
	} else {
		f.Clauses[i].Min = to
	}
}

func (p *Place) saveShelf(c fiber.Ctx) error {
	f := typedShelf(c)
	attributes, err := p.Shelves.AttributeList(c)
	if err != nil {
		return err
	}
	if kept, err := p.deep(c, f.ID); f.ID != "" && err == nil && kept.Deep && len(f.Clauses) == 0 {
		f.Deep, f.kept = true, kept.kept
	}
	read, fault := f.read(p.Currency(), attributes)
	if fault != "" {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: fault}
	}
	id, err := p.Shelves.SaveShelf(c, f.ID, f.Name, read)
	if err != nil {
		return err
	}
	if into := frame.Typed(c, "into"); into != "" {
		if err := p.Desk.PutInto(c, frame.Who(c).User.ID, into, id); err != nil {
			return err
		}
		page, _, _ := strings.Cut(into, "/")
		return frame.LeadTo(c, "/pages/"+url.PathEscape(page))
	}
	if frame.Typed(c, "page") == "" {
		return frame.LeadTo(c, "/shelves?shelf="+id)
	}
	d, faults, err := p.Pages.AddPage(c, pages.NewPage{CampaignID: frame.AtHand(c), Purpose: "shelf", Name: f.Name, Layout: "full", Template: "clearance", ShelfID: id})
	if err != nil {
		return err
	}
	for _, fault := range faults {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "The shelf is kept. No page could be made of it: " + fault}
	}
	return frame.LeadTo(c, "/pages/"+d.ID)
}

func (p *Place) saveGroup(c fiber.Ctx) error {
	shelfID := frame.Typed(c, "shelf")
	if drop := frame.Typed(c, "drop"); drop != "" {
		if err := p.Shelves.DropGroup(c, drop); err != nil {
			return err
		}
	} else if err := p.Shelves.SaveGroup(c, shelfID, frame.Typed(c, "name"), frame.Typed(c, "picture")); err != nil {
		return err
	}
	return frame.LeadTo(c, "/shelves?shelf="+url.QueryEscape(shelfID))
}
