package checkout

import (
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"chrysagon/core/address"
	"chrysagon/core/words"
)

// Field is one field of the form.
type Field struct {
	Block        Block
	Name         string
	Label        string
	Why          string // shown beside the field
	Autocomplete string // tokens of the HTML standard's autofill field names
	Type         string // input type, or choice, or tick
	Mode         string // of the keys that a phone shows: the standard's inputmode
	Most         int    // characters
	Options      []string
	First        string // the option that stands before anything is chosen
	Asks         Asks
	Long         bool   // several lines
	Parcel       bool   // asked only because something travels
	Redraws      bool   // what is chosen says which other fields there are
	Of           string // the prefix of the address that it is of
	Apart        bool   // of whoever pays, where that is somebody else
	Opens        string // the fields that a tick opens
	Folded       bool   // asked only once they are

	goes string // what is missing without it: “the parcel should go to”
	in   string // the country whose rules it keeps
}

// Needed tells whether there is no order without it.
func (f Field) Needed() bool { return f.Asks == Needed }

// Tick tells whether it is ticked.
func (f Field) Tick() bool { return f.Type == string(Tick) }

// Choice tells whether it is chosen of a list.
func (f Field) Choice() bool { return f.Type == string(Choice) }

// Clean trims what was typed, cuts it to the fields asked for, and writes postcodes as
// their country does. A tick is what was agreed to, in its words.
func (f Form) Clean(s Sale, typed map[string]string) map[string]string {
	clean := map[string]string{}
	for _, field := range f.Fields(s, typed) {
		if field.Folded {
			continue
		}
		v := strings.TrimSpace(typed[field.Name])
		switch {
		case field.Tick() && v != "" && field.Opens == "":
			v = field.Label
		case field.Tick():
		case !field.Long:
			v = words.Tidy(v)
		}
		if field.is(address.Postcode) {
			v = address.Of(field.in).Tidy(v)
		}
		if v != "" || !field.Tick() {
			clean[field.Name] = v
		}
	}
	return clean
}

// is tells whether a field is one of an address.
func (f Field) is(name address.Name) bool {
	return f.Block == Where && strings.TrimPrefix(f.Name, "payer_") == string(name)
}

// Faults says, field by field, what must be mended before the order can be placed. An
// empty map means that all is well.
func (f Form) Faults(s Sale, values map[string]string) map[string]string {
	faults := map[string]string{}
	for _, field := range f.Fields(s, values) {
		if field.Folded {
			continue
		}
		if what := field.fault(values); what != "" {
			faults[field.Name] = what
		}
	}
	return faults
}

func (f Field) fault(values map[string]string) string {
	value := values[f.Name]
	if f.in != "" {
		return f.ofAddress(values)
	}
	if value == "" {
		if !f.Needed() {
			return ""
		}
		return f.missing()
	}
	if address.Unreadable(strings.NewReplacer("\r", "", "\n", "", "\t", "").Replace(value)) || (!f.Long && address.Unreadable(value)) {
		return "This contains characters that cannot be read. Type it again."
	}
	if n := utf8.RuneCountInString(value); f.Most > 0 && n > f.Most {
		return fmt.Sprintf("This is %d characters long; at most %d fit. Shorten it.", n, f.Most)
	}
	if f.Choice() && !slices.Contains(f.Options, value) {
		if f.Redraws && f.Of == "" {
			return "Choose one of the countries we send to."
		}
		return "Choose one of the list."
	}
	switch f.Name {
	case "email":
		return EmailFault(value)
	case "name", "payer_name":
		if !strings.ContainsFunc(value, unicode.IsLetter) {
			return "This has no letters in it. " + f.missing()
		}
	case "phone":
		return phoneFault(value)
	case "tax":
		if strings.ContainsFunc(value, func(r rune) bool {
			return !unicode.IsLetter(r) && !unicode.IsDigit(r) && !strings.ContainsRune(" .-/", r)
		}) {
			return "A tax number has only letters, digits, spaces, points, hyphens and strokes."
		}
	}
	return ""
}

// ofAddress is what is wrong with a field of an address. One that nobody must give is
// held to its rules only once it is begun.
func (f Field) ofAddress(values map[string]string) string {
	own := map[string]string{}
	for _, name := range address.Names {
		own[string(name)] = values[f.Of+string(name)]
	}
	name := strings.TrimPrefix(f.Name, f.Of)
	if own[name] == "" && !f.Needed() {
		return ""
	}
	if own[name] == "" && name == string(address.Extra) {
		return "Write the flat or floor " + f.goes + "."
	}
	return address.Of(f.in).Faults(own, f.goes)[address.Name(name)]
}

// missing says what to do where nothing stands.
func (f Field) missing() string {
	switch f.Name {
	case "name":
		return "Write your name, as it should stand on the order."
	case "email":
		return "Write your email address, so that the confirmation reaches you."
	case "phone":
		return "Write a phone number on which you can be reached."
	case "company":
		return "Write the name of your company."
	case "payer_name":
		return "Write the name that should stand on the invoice."
	case "tax":
		return "Write your tax number, as it should stand on the invoice."
	case "note":
		return "Write what we should know of this order."
	}
	switch {
	case f.Redraws:
		return "Choose the country " + f.goes + "."
	case f.Tick():
		return "Tick this to go on."
	case f.Choice():
		return "Choose one of the list."
	}
	return "Please answer this."
}

// phoneFault says what is wrong with a phone number: at most fifteen digits (ITU-T
// E.164, 6.2.1), and at least five (common practice, no source).
func phoneFault(value string) string {
	digits := 0
	for i, r := range value {
		switch {
		case r >= '0' && r <= '9':
			digits++
		case r == '+' && i == 0, strings.ContainsRune(" ()-./", r):
		default:
			return "A phone number has digits, and a + before them where it is of another country."
		}
	}
	if digits < 5 || digits > 15 {
		return "A phone number has from 5 to 15 digits. Look at it once more."
	}
	return ""
}

// EmailFault says what is wrong with an email address, or nothing. It checks an address
// against the syntax of RFC 5322, through the standard library, and the lengths of RFC
// 5321, section 4.5.3.1.
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
