package shelf

import (
	"html/template"
	"slices"
	"strconv"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	rules "chrysagon/core/shelf"
	"chrysagon/pieces"
)

// list is a list in pages.
type list struct{ *facts.List }

// listed is the page of the list that is looked at; nil: it is not shown in pages.
func listed(c *pieces.Context, p m.Piece) *list {
	if _, paged := Paged(p.Fields); !paged {
		return nil
	}
	l := c.Facts.Shelves[p.Fields.Text("shelf")].List
	if l == nil || (c.Paged != "" && c.Paged != p.ID) {
		return nil
	}
	return &list{l}
}

// words says how many goods there are.
func (l *list) words() string {
	switch {
	case l.More:
		return "more than " + strconv.Itoa(l.Total) + " goods"
	case l.Total == 1:
		return "1 product"
	}
	return strconv.Itoa(l.Total) + " goods"
}

// lead is a link, or a press, to another view of the list.
type lead struct {
	Words, Why string
	Href       template.URL // with what leads there by a form
	At         bool         // it is where one stands
}

// lookedAt is a list as it is drawn around its cards.
type lookedAt struct {
	Order  string // ID of the form that takes what is put in; "": none
	Words  string
	Sorts  []lead
	Facets []facetShown
	Pages  []lead
	Back   *lead
	On     *lead
	All    *lead // the list as it is, where it is narrowed
}

type facetShown struct {
	Label  string
	Values []lead
}

// looked lays out what leads to other views of a list. Where its goods are put into an
// order, each is a press of the order's form: what was put in and typed goes along.
func looked(c *pieces.Context, p m.Piece, l *list, order string) lookedAt {
	to := func(v rules.View, words, why string, at bool) lead {
		href := "/" + c.Place.Address
		if order != "" {
			href += "/checkout"
		}
		if query := v.String(); query != "" {
			href += "?" + query
		}
		return lead{words, why, template.URL(href + "#" + p.ID), at} //nolint:gosec // our own address; View.String escapes what a visitor wrote
	}
	out := lookedAt{Order: order, Words: l.words()}
	v := l.View
	out.Sorts = append(out.Sorts, to(v.Sorted(""), "as they stand", "", v.By == ""))
	for _, s := range rules.Sorts {
		out.Sorts = append(out.Sorts, to(v.Sorted(s.Name), s.Words, "", v.By == s.Name))
	}
	for _, f := range l.Facets {
		one := facetShown{Label: f.Label}
		for _, value := range f.Values {
			goods := ""
			if f.Counted {
				goods = strconv.Itoa(value.Goods)
			}
			one.Values = append(one.Values, to(v.With(f.By, value.Value), value.Words, goods, value.Wanted))
		}
		out.Facets = append(out.Facets, one)
	}
	if len(v.In) > 0 {
		all := to(rules.View{By: v.By}, "Show all", "", false)
		out.All = &all
	}
	for _, n := range near(l.Page, l.Pages) {
		out.Pages = append(out.Pages, to(v.On(n), strconv.Itoa(n), "", n == l.Page))
	}
	if l.Page > 1 {
		back := to(v.On(l.Page-1), "Back", "", false)
		out.Back = &back
	}
	if l.Page < l.Pages {
		on := to(v.On(l.Page+1), "On", "", false)
		out.On = &on
	}
	if l.Pages < 2 {
		out.Pages = nil
	}
	return out
}

// near are the pages that are led to: the first, the last, and those about where one is.
func near(at, of int) []int {
	var out []int
	for _, n := range []int{1, at - 2, at - 1, at, at + 1, at + 2, of} {
		if n >= 1 && n <= of && !slices.Contains(out, n) {
			out = append(out, n)
		}
	}
	slices.Sort(out)
	return out
}
