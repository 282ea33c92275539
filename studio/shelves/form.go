package shelves

import (
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/deadline"
	"chrysagon/core/money"
	"chrysagon/core/shelf"
	"chrysagon/studio/frame"

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
	f := shelfForm{ID: id, Name: name, Join: "all", ByHand: s.ByHand, Pinned: s.Pinned, LeftOut: s.LeftOut, Limit: frame.Whole(s.Limit), kept: s.Rule}
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
	c := clause{Field: string(r.Field), Name: r.Name, Days: frame.Whole(r.Days), Since: r.Since, Not: not}
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

// typedShelf reads the form.
func typedShelf(c fiber.Ctx) shelfForm {
	one := func(name string) string { return frame.Typed(c, name) }
	all := func(name string) []string {
		out := frame.AllTyped(c, name)
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
