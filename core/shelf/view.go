package shelf

import (
	"net/url"
	"slices"
	"strconv"
	"strings"

	"chrysagon/core/goods"
)

// View is how a visitor looks at a list: at which of its pages, in which order, narrowed
// to what. The zero View is the list as its owner has it.
type View struct {
	Page int                 // from 1; 0 is 1
	By   string              // one of [Sorts]; "": as the shelf has it
	In   map[string][]string // values wanted, by what they narrow
}

// What a view can be bounded by: an address that asks for more is read in part.
const (
	MostPages  = 2000 // of a list
	mostIn     = 6    // things it is narrowed by
	mostValues = 20   // of each
)

// Sort is an order that a visitor can choose.
type Sort struct {
	Name, Words string
	Order       Order
}

// Sorts are those that there are.
var Sorts = []Sort{
	{"cheap", "the cheapest first", Order{By: Price}},
	{"dear", "the dearest first", Order{By: Price, Down: true}},
	{"new", "the newest first", Order{By: Added, Down: true}},
	{"name", "by name", Order{By: Name}},
}

// in begins the names of parameters that narrow.
const in = "in-"

// ReadView reads a view from an address's parameters. What is none is left aside.
func ReadView(query url.Values) View {
	v := View{By: query.Get("by")}
	if !slices.ContainsFunc(Sorts, func(s Sort) bool { return s.Name == v.By }) {
		v.By = ""
	}
	if n, err := strconv.Atoi(query.Get("page")); err == nil && n > 1 && n <= MostPages {
		v.Page = n
	}
	for name, values := range query {
		by, is := strings.CutPrefix(name, in)
		if !is || by == "" || len(by) > 40 || len(v.In) >= mostIn {
			continue
		}
		for _, value := range values {
			if value != "" && len(value) <= 4*goods.MaxValue && len(v.In[by]) < mostValues && !slices.Contains(v.In[by], value) {
				if v.In == nil {
					v.In = map[string][]string{}
				}
				v.In[by] = append(v.In[by], value)
			}
		}
		slices.Sort(v.In[by])
	}
	return v
}

// Plain tells whether it is the list as its owner has it, from its beginning.
func (v View) Plain() bool { return v.Page <= 1 && v.By == "" && len(v.In) == 0 }

// Own tells whether search engines need not know it: it is other views' goods in another
// order, or some of them.
func (v View) Own() bool { return v.By != "" || len(v.In) > 0 }

// String is the view as an address's parameters, always the same for the same view.
func (v View) String() string {
	query := url.Values{}
	if v.Page > 1 {
		query.Set("page", strconv.Itoa(v.Page))
	}
	if v.By != "" {
		query.Set("by", v.By)
	}
	for by, values := range v.In {
		query[in+by] = slices.Sorted(slices.Values(values))
	}
	return query.Encode()
}

// On is the view at another page.
func (v View) On(page int) View {
	v.Page = page
	return v
}

// Sorted is the view in another order, from its beginning.
func (v View) Sorted(by string) View {
	v.Page, v.By = 0, by
	return v
}

// With is the view with a value wanted that was not, or without one that was, from its
// beginning.
func (v View) With(by, value string) View {
	next := View{By: v.By, In: map[string][]string{}}
	for name, values := range v.In {
		next.In[name] = slices.Clone(values)
	}
	if i := slices.Index(next.In[by], value); i >= 0 {
		next.In[by] = slices.Delete(next.In[by], i, i+1)
	} else {
		next.In[by] = append(next.In[by], value)
	}
	if len(next.In[by]) == 0 {
		delete(next.In, by)
	}
	return next
}

// Wants tells whether a value is wanted.
func (v View) Wants(by, value string) bool { return slices.Contains(v.In[by], value) }

// What a list can be narrowed by beside attributes.
const (
	ByCategory  = "@category"
	ByCondition = "@condition"
)

// Narrow is what a view wants as a rule, but for one thing by which it narrows; attributes
// are those of the store.
func (v View) Narrow(by []string, but string, attributes map[string]goods.Attribute) Rule {
	all := Rule{All: []Rule{}}
	for _, name := range by {
		if name == but || len(v.In[name]) == 0 {
			continue
		}
		r := Rule{Field: Attribute, Name: name}
		switch name {
		case ByCategory:
			r = Rule{Field: Category}
		case ByCondition:
			r = Rule{Field: Condition}
		}
		r.Is = []goods.Value{} // of values that are none nothing is picked
		for _, text := range v.In[name] {
			if r.Field != Attribute {
				r.Is = append(r.Is, goods.TextOf(text))
			} else if value, err := goods.ParseValue(text, attributes[name].Type); err == nil {
				r.Is = append(r.Is, value)
			}
		}
		all.All = append(all.All, r)
	}
	return all
}

// Order is that in which a view shows a shelf.
func (v View) Order(s Shelf) Shelf {
	for _, sort := range Sorts {
		if sort.Name == v.By {
			s.Order, s.Pinned = []Order{sort.Order}, nil
		}
	}
	return s
}
