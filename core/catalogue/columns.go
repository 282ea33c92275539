package catalogue

import (
	"slices"
	"strings"
	"unicode"

	"chrysagon/core/goods"
)

// Column is what a column of a table means.
type Column string

// The columns. An attribute's column is its name.
const (
	Ignore     Column = ""
	SKU        Column = "sku"
	Product    Column = "product" // what several variants have in common
	Name       Column = "name"
	Label      Column = "variant"
	Form       Column = "form"
	Category   Column = "category"
	Tags       Column = "tags"
	Price      Column = "price"
	Cost       Column = "cost"
	Stock      Column = "stock"
	Weight     Column = "weight_grams"
	Condition  Column = "condition"
	Received   Column = "received"
	TaxClass   Column = "tax_class"
	Perishable Column = "perishable"
	// Description is copy, with structure where it begins with a mark of HTML.
	Description Column = "description"
)

// Columns lists all that every store has, in the order in which they are
// written.
var Columns = []Column{SKU, Product, Name, Label, Form, Category, Tags, Price, Cost, Stock, Weight, Condition, Received, TaxClass, Perishable, Description}

// synonyms are words that tables use for the columns (common practice, no source).
var synonyms = map[Column][]string{
	SKU: {"article", "article number", "item number", "itemno", "code", "reference", "ref", "part number"}, Product: {"product id", "handle", "group", "parent", "parent sku"},
	Name: {"title", "product name", "item", "bezeichnung", "nome", "nombre"}, Label: {"option", "variation", "colour", "color", "size", "variant name"},
	Form: {"type", "product type", "kind"}, Category: {"categories", "department", "section", "categoria"}, Tags: {"labels", "keywords"},
	Price: {"list price", "retail price", "selling price", "rrp", "amount", "preis", "preço", "precio", "prix"}, Cost: {"cost price", "purchase price", "unit cost", "buying price"},
	Stock: {"quantity", "qty", "on hand", "available", "inventory", "units", "bestand"}, Weight: {"weight", "grams", "weight g", "shipping weight"},
	Condition: {"state"}, Received: {"received on", "received date", "date received", "in stock since", "arrival"}, TaxClass: {"tax", "vat class", "tax code"}, Perishable: {"short life"},
	Description: {"body", "body html", "long description", "details", "beschreibung", "descrição", "descripción"},
}

// Match is a column of a file with what it seems to mean.
type Match struct {
	Header string `json:"header"`
	Column Column `json:"column"` // what it is taken for; empty: left out
	Sure   bool   `json:"sure"`   // it bears the very name
	Sample string `json:"sample,omitempty"`
}

// Mapping says, for each column of a file, what it means.
type Mapping []Column

// Guess matches a file's columns, each meaning at most once: the very names
// first, then other words for them, then words that differ by a slip.
func Guess(header []string, attributes []goods.Attribute) []Match {
	out := make([]Match, len(header))
	taken := map[Column]bool{}
	names := slices.Clone(Columns)
	for _, a := range attributes {
		names = append(names, Column(a.Name))
	}
	label := map[Column]string{}
	for _, a := range attributes {
		label[Column(a.Name)] = plain(a.Label)
	}
	try := func(sure bool, fits func(h string, c Column) bool) {
		for i, h := range header {
			if out[i].Column != Ignore || h == "" {
				continue
			}
			for _, c := range names {
				if !taken[c] && fits(plain(h), c) {
					out[i].Column, out[i].Sure, taken[c] = c, sure, true
					break
				}
			}
		}
	}
	for i, h := range header {
		out[i].Header = h
	}
	try(true, func(h string, c Column) bool { return h == plain(string(c)) || (label[c] != "" && h == label[c]) })
	try(false, func(h string, c Column) bool { return slices.Contains(synonyms[c], h) })
	try(false, func(h string, c Column) bool {
		if len(h) > 4 && slip(h, plain(string(c))) <= 2 {
			return true
		}
		return slices.ContainsFunc(synonyms[c], func(s string) bool { return len(s) > 5 && slip(h, s) <= 2 })
	})
	return out
}

// plain is a header without case, signs and units.
func plain(h string) string {
	h, _, _ = strings.Cut(h, "(")
	return strings.Join(strings.FieldsFunc(strings.ToLower(h), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }), " ")
}

// slip is the edit distance of two words (Levenshtein, 1966).
func slip(a, b string) int {
	x, y := []rune(a), []rune(b)
	before := make([]int, len(y)+1)
	for j := range before {
		before[j] = j
	}
	for i := range x {
		now := make([]int, len(y)+1)
		now[0] = i + 1
		for j := range y {
			cost := 1
			if x[i] == y[j] {
				cost = 0
			}
			now[j+1] = min(before[j+1]+1, now[j]+1, before[j]+cost)
		}
		before = now
	}
	return before[len(y)]
}
