// Package checkout holds the rules of the form in which a buyer orders: which
// fields a sale needs, why each is asked, and what may stand in it.
package checkout

import (
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Field is one field of the form.
type Field struct {
	Name         string
	Label        string
	Why          string // shown beside the field
	Autocomplete string // token of the HTML standard's autofill field names
	Type         string // input type
	Most         int    // characters
	Countries    []string
	Parcel       bool // asked only where something travels
}

// Fields lists what a sale must ask. Goods that are sent need an address;
// what is downloaded needs a name and an email.
func Fields(sent bool, to To) []Field {
	fields := []Field{
		{Name: "name", Label: "Your name", Why: "Goes on the order.", Autocomplete: "name", Type: "text", Most: 120},
		{Name: "email", Label: "Email", Why: "Your confirmation goes here.", Autocomplete: "email", Type: "email", Most: 254},
	}
	if !sent {
		return fields
	}
	return append(fields,
		Field{Name: "street", Label: "Street and number", Why: "Where the parcel goes.", Autocomplete: "address-line1", Type: "text", Most: 160, Parcel: true},
		Field{Name: "postcode", Label: "Postcode", Autocomplete: "postal-code", Type: "text", Most: 12, Parcel: true},
		Field{Name: "town", Label: "Town", Autocomplete: "address-level2", Type: "text", Most: 80, Parcel: true},
		Field{Name: "country", Label: "Country", Autocomplete: "country-name", Type: "text", Most: 60, Countries: to.names(), Parcel: true},
	)
}

// To tells whether the store sends to a country, by its two letters. Nil means
// everywhere.
type To func(code string) bool

func (t To) names() []string {
	var names []string
	for _, c := range countries {
		if t == nil || t(c.code) {
			names = append(names, c.name)
		}
	}
	return names
}

// countries are those a buyer can choose (ISO 3166-1), by name.
var countries = []struct{ code, name string }{
	{"AT", "Austria"}, {"BE", "Belgium"}, {"HR", "Croatia"}, {"CZ", "Czechia"}, {"DK", "Denmark"}, {"EE", "Estonia"},
	{"FI", "Finland"}, {"FR", "France"}, {"DE", "Germany"}, {"GR", "Greece"}, {"HU", "Hungary"}, {"IE", "Ireland"},
	{"IT", "Italy"}, {"LV", "Latvia"}, {"LT", "Lithuania"}, {"LU", "Luxembourg"}, {"NL", "Netherlands"}, {"NO", "Norway"},
	{"PL", "Poland"}, {"PT", "Portugal"}, {"RO", "Romania"}, {"SK", "Slovakia"}, {"SI", "Slovenia"}, {"ES", "Spain"},
	{"SE", "Sweden"}, {"CH", "Switzerland"}, {"GB", "United Kingdom"}, {"US", "United States"},
}

// CountryCode is the two letters of a country chosen by name, or "".
func CountryCode(name string) string {
	for _, c := range countries {
		if c.name == name {
			return c.code
		}
	}
	return ""
}

// CountryName is the name of a country by its two letters; the letters where
// it is not among those a buyer can choose.
func CountryName(code string) string {
	for _, c := range countries {
		if c.code == code {
			return c.name
		}
	}
	return code
}

// Clean trims what was typed and cuts it to the fields asked for.
func Clean(typed map[string]string, sent bool, to To) map[string]string {
	clean := map[string]string{}
	for _, f := range Fields(sent, to) {
		clean[f.Name] = strings.TrimSpace(typed[f.Name])
	}
	return clean
}

// Faults says, field by field, what must be mended before the order can be
// placed. An empty map means that all is well.
func Faults(values map[string]string, sent bool, to To) map[string]string {
	faults := map[string]string{}
	for _, f := range Fields(sent, to) {
		if what := f.fault(values[f.Name]); what != "" {
			faults[f.Name] = what
		}
	}
	return faults
}

func (f Field) fault(value string) string {
	if value == "" {
		return missing[f.Name]
	}
	if !utf8.ValidString(value) || strings.ContainsFunc(value, unicode.IsControl) {
		return "This contains characters that cannot be read. Type it again."
	}
	if n := utf8.RuneCountInString(value); n > f.Most {
		return fmt.Sprintf("This is %d characters long; at most %d fit. Shorten it.", n, f.Most)
	}
	switch f.Name {
	case "email":
		return EmailFault(value)
	case "name", "street", "town":
		if !strings.ContainsFunc(value, unicode.IsLetter) {
			return "This has no letters in it. " + missing[f.Name]
		}
	case "postcode":
		if strings.ContainsFunc(value, func(r rune) bool {
			return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != ' ' && r != '-'
		}) {
			return "A postcode has only letters, digits, spaces and hyphens."
		}
	case "country":
		if !slices.Contains(f.Countries, value) {
			return "Choose one of the countries we send to."
		}
	}
	return ""
}

var missing = map[string]string{
	"name":     "Write your name, as it should stand on the order.",
	"email":    "Write your email address, so that the confirmation reaches you.",
	"street":   "Write the street and number the parcel should go to.",
	"postcode": "Write the postcode the parcel should go to.",
	"town":     "Write the town the parcel should go to.",
	"country":  "Choose the country the parcel should go to.",
}

// EmailFault says what is wrong with an email address, or nothing. It checks an address against the syntax of RFC 5322, through the
// standard library, and the lengths of RFC 5321, section 4.5.3.1.
func EmailFault(value string) string {
	const form = "Write it like name@example.org."
	local, domain, ok := strings.Cut(value, "@")
	if !ok {
		return "An email address has an @ in it. " + form
	}
	parsed, err := mail.ParseAddress(value)
	if err != nil || parsed.Address != value {
		return "This is not an email address. " + form
	}
	if at := strings.LastIndexByte(value, '@'); at >= 0 {
		local, domain = value[:at], value[at+1:]
	}
	if len(local) > 64 || len(value) > 254 {
		return "This is longer than an email address can be. " + form
	}
	labels := strings.Split(domain, ".")
	if len(labels) < 2 || slices.ContainsFunc(labels, func(l string) bool {
		return l == "" || len(l) > 63 || strings.HasPrefix(l, "-") || strings.HasSuffix(l, "-")
	}) {
		return "The part after the @ is not a mail domain. " + form
	}
	return ""
}
