package address

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	lib "github.com/Boostport/address"
)

// postcode is what postcodes look like, in all of a country and in parts of it.
type postcode struct {
	whole *regexp.Regexp
	parts map[string]*regexp.Regexp // by the region's ID; each holds the beginning
}

func patterns(data lib.PostCodeRegexData) *postcode {
	if data.Regex == "" {
		return nil
	}
	p := &postcode{whole: regexp.MustCompile("(?i)" + data.Regex), parts: map[string]*regexp.Regexp{}}
	for id, of := range data.SubdivisionRegex {
		if of.Regex != "" {
			p.parts[id] = regexp.MustCompile("(?i)" + of.Regex)
		}
	}
	return p
}

// digits tells whether a pattern lets through digits only, so that a phone may show its
// keys for them.
func digits(pattern string) bool {
	return pattern != "" && !strings.ContainsAny(strings.NewReplacer(`\d`, "").Replace(pattern), `ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz -\`)
}

// Faults says, field by field, what is wrong with an address in this country. where
// says what is missing without it, such as “the parcel should go to”.
func (f Form) Faults(values map[string]string, where string) map[Name]string {
	faults := map[Name]string{}
	for _, field := range f.Fields {
		if what := f.fault(field, values, where); what != "" {
			faults[field.Name] = what
		}
	}
	return faults
}

func (f Form) fault(field Field, values map[string]string, where string) string {
	value := values[string(field.Name)]
	thing := strings.ToLower(field.Label[:1]) + field.Label[1:]
	if field.Label == strings.ToUpper(field.Label) || strings.HasPrefix(field.Label, "ZIP") || strings.HasPrefix(field.Label, "PIN") {
		thing = field.Label
	}
	switch {
	case value == "" && !field.Needed:
		return ""
	case value == "" && len(field.Options) > 0:
		return "Choose the " + thing + " " + where + "."
	case value == "":
		return "Write the " + thing + " " + where + "."
	case Unreadable(value):
		return "This contains characters that cannot be read. Type it again."
	case utf8.RuneCountInString(value) > field.Most:
		return fmt.Sprintf("This is %d characters long; at most %d fit. Shorten it.", utf8.RuneCountInString(value), field.Most)
	case len(field.Options) > 0 && !slices.Contains(field.Options, value):
		return "Choose one of the list."
	}
	switch field.Name {
	case Street, Town:
		if !strings.ContainsFunc(value, unicode.IsLetter) {
			return "This has no letters in it. Write the " + thing + " " + where + "."
		}
	case Postcode:
		return f.ofPostcode(value, values[string(Region)])
	case Person, Company, Extra, District, Region, Sorting, Country:
	}
	return ""
}

// ofPostcode says what is wrong with a postcode. One that would fit with its spaces and
// hyphens placed otherwise is taken: posts read it.
func (f Form) ofPostcode(value, region string) string {
	if f.postcode == nil {
		if strings.ContainsFunc(value, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) && r != ' ' && r != '-' }) {
			return "A postcode has only letters, digits, spaces and hyphens."
		}
		return ""
	}
	written := f.Tidy(value)
	if !f.postcode.whole.MatchString(written) {
		return fmt.Sprintf("Postcodes in %s do not look like this. Look at it once more.", NameOf(f.Code))
	}
	if id := f.regions[region]; id != "" {
		if of := f.postcode.parts[id]; of != nil && !of.MatchString(written) {
			return fmt.Sprintf("This postcode is not one of %s. Look at both once more.", region)
		}
	}
	return ""
}

// Tidy writes a postcode as its country does, where its letters and digits make one:
// in capitals, with the space or hyphen that belongs there.
func (f Form) Tidy(value string) string {
	value = strings.ToUpper(strings.Join(strings.Fields(value), " "))
	if f.postcode == nil || f.postcode.whole.MatchString(value) {
		return value
	}
	bare := strings.NewReplacer(" ", "", "-", "").Replace(value)
	if f.postcode.whole.MatchString(bare) {
		return bare
	}
	for at := 1; at < len(bare); at++ {
		for _, glue := range []string{" ", "-"} {
			if with := bare[:at] + glue + bare[at:]; f.postcode.whole.MatchString(with) {
				return with
			}
		}
	}
	return value
}

// Unreadable tells whether a text has bytes or signs in it that nobody typed.
func Unreadable(value string) bool {
	return !utf8.ValidString(value) || strings.ContainsFunc(value, unicode.IsControl)
}
