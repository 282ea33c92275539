package strict

import (
	"reflect"
	"strconv"
	"strings"
	"sync"
	"unicode/utf8"
)

// member is one member of an object.
type member struct {
	name   string
	of     reflect.Type
	needed bool
	bounds bounds
}

// known are the members of types that were asked for.
var known sync.Map

// members lists what a struct is written as, those of embedded structs too.
func members(t reflect.Type) []member {
	if list, ok := known.Load(t); ok {
		return list.([]member)
	}
	list := readMembers(t)
	known.Store(t, list)
	return list
}

func readMembers(t reflect.Type) []member {
	var out []member
	for i := range t.NumField() {
		f := t.Field(i)
		tag, tagged := f.Tag.Lookup("json")
		name, options, _ := strings.Cut(tag, ",")
		switch {
		case f.Anonymous && !tagged:
			out = append(out, members(f.Type)...)
		case !f.IsExported() || tag == "-":
		default:
			if name == "" {
				name = f.Name
			}
			out = append(out, member{name: name, of: f.Type, needed: !strings.Contains(options, "omit"), bounds: boundsOf(f.Tag.Get("jsonschema"))})
		}
	}
	return out
}

func names(list []member) []string {
	var out []string
	for _, m := range list {
		out = append(out, m.name)
	}
	return out
}

// bounds are those of the tag jsonschema, as the schema has them.
type bounds struct {
	least, most           *int64
	leastItems, mostItems *int64
	shortest, longest     *int64
}

func boundsOf(tag string) bounds {
	var b bounds
	for part := range strings.SplitSeq(tag, ",") {
		key, value, _ := strings.Cut(part, "=")
		n, err := strconv.ParseInt(value, 10, 64)
		if err != nil {
			continue
		}
		switch key {
		case "minimum":
			b.least = &n
		case "maximum":
			b.most = &n
		case "minItems":
			b.leastItems = &n
		case "maxItems":
			b.mostItems = &n
		case "minLength":
			b.shortest = &n
		case "maxLength":
			b.longest = &n
		}
	}
	return b
}

func (b bounds) number(place string, n int64) error {
	if (b.least != nil && n < *b.least) || (b.most != nil && n > *b.most) {
		return at(place, "%d; it must be %s", n, span(b.least, b.most))
	}
	return nil
}

func (b bounds) real(place string, n float64) error {
	if (b.least != nil && n < float64(*b.least)) || (b.most != nil && n > float64(*b.most)) {
		return at(place, "%v; it must be %s", n, span(b.least, b.most))
	}
	return nil
}

func (b bounds) size(place string, n int, of string) error {
	if (b.leastItems != nil && int64(n) < *b.leastItems) || (b.mostItems != nil && int64(n) > *b.mostItems) {
		return at(place, "%d %s; there must be %s", n, of, span(b.leastItems, b.mostItems))
	}
	return nil
}

func (b bounds) text(place, text string) error {
	n := int64(utf8.RuneCountInString(text))
	switch {
	case b.shortest != nil && n < *b.shortest:
		return at(place, "empty")
	case b.longest != nil && n > *b.longest:
		return at(place, "%d characters; at most %d fit", n, *b.longest)
	}
	return nil
}

func span(least, most *int64) string {
	switch {
	case least == nil:
		return "at most " + strconv.FormatInt(*most, 10)
	case most == nil:
		return "at least " + strconv.FormatInt(*least, 10)
	}
	return "from " + strconv.FormatInt(*least, 10) + " to " + strconv.FormatInt(*most, 10)
}
