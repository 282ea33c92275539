package studio

import (
	"net/url"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/pages"
	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/shelf"

	"github.com/gofiber/fiber/v3"
	"github.com/shopspring/decimal"
)

// clause is one condition of a shelf's sentence as it is typed.
type clause struct {
	Field, Name, Min, Max, Is, Days, Since string
	Not                                    bool
}

// shelfForm is a shelf as it is typed: one sentence.
type shelfForm struct {
	ID, Name, Join string // Join: all or any
	Clauses        []clause
	Order          string
	Down           bool
	Limit          string
	ByHand         bool
	Pinned         []string
	LeftOut        []string
	Deep           bool // the rule is deeper than the sentence can write
	kept           shelf.Rule
}

// clauseFields are what a clause can look at, in the words of the sentence.
var clauseFields = []struct{ Value, Label string }{
	{"category", "the category"}, {"condition", "the condition"}, {"tag", "the tag"}, {"price", "the price asked now"}, {"list_price", "the list price"},
	{"saving_percent", "the saving in percent"}, {"saving", "the saving"}, {"attribute", "the attribute"}, {"days_in_stock", "days in stock"}, {"stock", "pieces in stock"},
	{"sales", "pieces sold"}, {"days_listed", "days since added"}, {"added", "the day it was added"},
}

var shelfOrders = []struct{ Value, Label string }{
	{"", "nothing in particular"}, {"name", "name"}, {"price", "price asked now"}, {"saving_percent", "saving in percent"}, {"days_in_stock", "days in stock"}, {"stock", "stock"}, {"days_listed", "days since added"},
}

// formOfShelf writes a shelf as a sentence to be filled in.
func formOfShelf(id, name string, s shelf.Shelf, currency string) shelfForm {
	f := shelfForm{ID: id, Name: name, Join: "all", ByHand: s.ByHand, Pinned: s.Pinned, LeftOut: s.LeftOut, Limit: whole(s.Limit), kept: s.Rule}
	if len(s.Order) > 0 {
		f.Order, f.Down = string(s.Order[0].By), s.Order[0].Down
	}
	group := s.Rule.All
	switch {
	case s.Rule.Field != "":
		group = []shelf.Rule{s.Rule}
	case s.Rule.Any != nil:
		f.Join, group = "any", s.Rule.Any
	case s.Rule.None != nil:
		group = []shelf.Rule{s.Rule}
	}
	for _, r := range group {
		not := len(r.None) == 1 && r.Field == ""
		if not {
			r = r.None[0]
		}
		if r.Field == "" {
			f.Deep = true
			return f
		}
		f.Clauses = append(f.Clauses, clauseOf(r, not, currency))
	}
	return f
}

func clauseOf(r shelf.Rule, not bool, currency string) clause {
	c := clause{Field: string(r.Field), Name: r.Name, Days: whole(r.Days), Since: r.Since, Not: not}
	bound := func(d *decimal.Decimal) string {
		switch {
		case d == nil:
			return ""
		case r.Field.IsMoney():
			return money.Of(d.IntPart(), currency).Plain()
		}
		return d.String()
	}
	c.Min, c.Max = bound(r.AtLeast), bound(r.AtMost)
	var values []string
	for _, v := range r.Is {
		values = append(values, v.String())
	}
	c.Is = strings.Join(values, ", ")
	return c
}

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

// typedShelf reads the form.
func typedShelf(c fiber.Ctx) shelfForm {
	one := func(name string) string { return typed(c, name) }
	all := func(name string) []string {
		out := allTyped(c, name)
		for i := range out {
			out[i] = strings.TrimSpace(out[i])
		}
		return out
	}
	f := shelfForm{ID: one("id"), Name: one("name"), Join: one("join"), Order: one("order"), Down: one("down") != "", Limit: one("limit"), ByHand: one("by_hand") != "", Pinned: all("pinned"), LeftOut: all("left_out")}
	names, mins, maxes, is, days, since, nots := all("c_name"), all("c_min"), all("c_max"), all("c_is"), all("c_days"), all("c_since"), all("c_not")
	at := func(list []string, i int) string {
		if i < len(list) {
			return list[i]
		}
		return ""
	}
	drop := one("drop")
	for i, field := range all("c_field") {
		if field == "" || strconv.Itoa(i) == drop {
			continue
		}
		f.Clauses = append(f.Clauses, clause{Field: field, Name: at(names, i), Min: at(mins, i), Max: at(maxes, i), Is: at(is, i), Days: at(days, i), Since: deadline.Entered(at(since, i)), Not: at(nots, i) == "not"})
	}
	if pin := one("pin"); pin != "" {
		f.Pinned = append(f.Pinned, pin)
	}
	if leave := one("leave"); leave != "" {
		f.LeftOut = append(f.LeftOut, leave)
	}
	if back := one("back"); back != "" {
		f.Pinned, f.LeftOut = without(f.Pinned, back), without(f.LeftOut, back)
	}
	if one("another") != "" {
		f.Clauses = append(f.Clauses, clause{Field: "category"})
	}
	return f
}

func without(list []string, id string) []string {
	return slices.DeleteFunc(list, func(v string) bool { return v == id })
}

func (s *Studio) shelvesPlace(c fiber.Ctx) error {
	shelves, err := s.App.Shelves.Shelves(c)
	if err != nil {
		return err
	}
	chosen := c.Query("shelf")
	f := shelfForm{Join: "all", Clauses: []clause{{Field: "category"}}}
	for i, h := range shelves {
		if h.ID == chosen || (chosen == "" && i == 0) {
			f = formOfShelf(h.ID, h.Name, h.Shelf, s.currency())
		}
	}
	values, err := s.shelfValues(c, f)
	if err != nil {
		return err
	}
	values["Title"], values["Into"] = "Shelves", strings.Clone(c.Query("into"))
	if values["Shelves"], err = s.App.Shelves.CountShelves(c, shelves); err != nil {
		return err
	}
	if values["Groups"], err = s.App.Shelves.Groups(c); err != nil {
		return err
	}
	choices, err := s.App.Offers.Choices(c)
	if err != nil {
		return err
	}
	values["Pictures"] = choices.Pictures
	return s.place(c, "shelves", "Goods", values)
}

// shelfValues computes what stands on a shelf while its sentence is written.
func (s *Studio) shelfValues(c fiber.Ctx, f shelfForm) (map[string]any, error) {
	attributes, err := s.App.Shelves.AttributeList(c)
	if err != nil {
		return nil, err
	}
	if f.ID != "" && len(f.Clauses) == 0 && !f.ByHand {
		if kept, err := s.deep(c, f.ID); err == nil && kept.Deep {
			f.Deep, f.kept = true, kept.kept
		}
	}
	categories, err := s.App.Goods.Categories(c)
	if err != nil {
		return nil, err
	}
	values := map[string]any{"Form": f, "Attributes": attributes, "Fields": clauseFields, "Orders": shelfOrders, "Categories": categories, "CSRF": who(c).CSRF}
	read, fault := f.read(s.currency(), attributes)
	if fault != "" {
		values["Fault"] = fault
		return values, nil
	}
	stand, err := s.App.Shelves.Look(c, read)
	values["Stand"] = stand
	return values, err
}

// deep reads a kept shelf whose rule the sentence cannot write.
func (s *Studio) deep(c fiber.Ctx, id string) (shelfForm, error) {
	shelves, err := s.App.Shelves.Shelves(c)
	h, found := shelves.Find(id)
	if err != nil || !found {
		return shelfForm{}, err
	}
	return formOfShelf(h.ID, h.Name, h.Shelf, s.currency()), nil
}

// lookShelf shows what stands on a shelf as its sentence is changed; with rows
// added or taken away the sentence itself is drawn anew.
func (s *Studio) lookShelf(c fiber.Ctx) error {
	f := typedShelf(c)
	if path := c.FormValue("loosen"); path != "" {
		f.loosen(path, c.FormValue("to"), s.currency())
	}
	values, err := s.shelfValues(c, f)
	if err != nil {
		return err
	}
	view := "shelf-stand"
	if c.FormValue("redraw") != "" {
		view = "shelf-writing"
	}
	return s.render(c, fiber.StatusOK, view, values)
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

func (s *Studio) saveShelf(c fiber.Ctx) error {
	f := typedShelf(c)
	attributes, err := s.App.Shelves.AttributeList(c)
	if err != nil {
		return err
	}
	if kept, err := s.deep(c, f.ID); f.ID != "" && err == nil && kept.Deep && len(f.Clauses) == 0 {
		f.Deep, f.kept = true, kept.kept
	}
	read, fault := f.read(s.currency(), attributes)
	if fault != "" {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: fault}
	}
	id, err := s.App.Shelves.SaveShelf(c, f.ID, f.Name, read)
	if err != nil {
		return err
	}
	if into := typed(c, "into"); into != "" {
		if err := s.putInto(c, into, id); err != nil {
			return err
		}
		page, _, _ := strings.Cut(into, "/")
		return leadTo(c, "/pages/"+url.PathEscape(page))
	}
	if typed(c, "page") == "" {
		return leadTo(c, "/shelves?shelf="+id)
	}
	d, faults, err := s.App.Pages.AddPage(c, pages.NewPage{CampaignID: atHand(c), Purpose: "shelf", Name: f.Name, Layout: "full", Template: "clearance", ShelfID: id})
	if err != nil {
		return err
	}
	for _, fault := range faults {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "The shelf is kept. No page could be made of it: " + fault}
	}
	return leadTo(c, "/pages/"+d.ID)
}

func (s *Studio) saveGroup(c fiber.Ctx) error {
	shelfID := typed(c, "shelf")
	if drop := typed(c, "drop"); drop != "" {
		if err := s.App.Shelves.DropGroup(c, drop); err != nil {
			return err
		}
	} else if err := s.App.Shelves.SaveGroup(c, shelfID, typed(c, "name"), typed(c, "picture")); err != nil {
		return err
	}
	return leadTo(c, "/shelves?shelf="+url.QueryEscape(shelfID))
}
