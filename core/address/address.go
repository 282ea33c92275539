// Package address says how addresses are written: which fields a country's have, in
// which order, which of them are needed, and what a postcode there looks like.
//
// Its data is that of an address library, which has it from the metadata that the
// world's posts publish by country.
package address

import (
	"slices"
	"strings"
	"sync"

	lib "github.com/Boostport/address"
)

// Name is the name of a field of an address, as forms and orders have it.
type Name string

// The fields of an address. Country holds the country's name in English.
const (
	Country  Name = "country"
	Street   Name = "street"
	Extra    Name = "extra"    // a second line: flat, floor, at whose house
	District Name = "district" // part of a town
	Town     Name = "town"
	Region   Name = "region" // state, province, prefecture …
	Postcode Name = "postcode"
	Sorting  Name = "sorting" // a sorting code such as CEDEX

	Person  Name = "name"    // whose it is; it stands on a label, and is no field of the form
	Company Name = "company" // at which they are; likewise
)

// Names are all that an address can have.
var Names = []Name{Person, Company, Street, Extra, District, Town, Region, Postcode, Sorting, Country}

// Field is one field of an address in one country.
type Field struct {
	Name         Name
	Label        string
	Autocomplete string // token of the HTML standard's autofill field names
	Needed       bool
	Most         int      // characters
	Options      []string // what can be chosen, by name; none: it is typed
	Digits       bool     // it holds nothing but digits
}

// Form is how an address is written in a country.
type Form struct {
	Code   string  // of the country
	Fields []Field // in the order in which they are written there, the country left out

	lines    []string // of the library's format
	postcode *postcode
	regions  map[string]string // the region's ID by its name
}

var (
	mu    sync.Mutex
	forms = map[string]Form{} // by code, as they were first asked for
)

// Of is the form of a country, by its two letters. A country that the library does not
// know has the fields that most have.
func Of(code string) Form {
	mu.Lock()
	defer mu.Unlock()
	f, known := forms[code]
	if !known {
		f = read(code)
		forms[code] = f
	}
	return f
}

// keys are the library's letters for fields, and what each is with us.
var keys = map[string]Name{"N": Person, "O": Company, "A": Street, "D": District, "C": Town, "S": Region, "Z": Postcode, "X": Sorting}

func read(code string) Form {
	data := lib.GetCountry(code)
	format := data.LatinizedFormat
	if format == "" {
		format = data.Format
	}
	f := Form{Code: code, lines: strings.Split(format, "%n"), postcode: patterns(data.PostCodeRegex), regions: map[string]string{}}
	needed := map[Name]bool{}
	for _, field := range data.Required {
		needed[keys[field.Key()]] = true
	}
	for _, part := range strings.Split(format, "%")[1:] {
		name, ok := keys[part[:1]]
		if _, twice := f.Field(name); !ok || twice || name == Person || name == Company {
			continue
		}
		field := Field{Name: name, Label: label(name, data), Autocomplete: autocomplete[name], Most: most[name], Needed: needed[name]}
		switch name {
		case Region:
			for _, area := range areas(data) {
				field.Options = append(field.Options, area.Name)
				f.regions[area.Name] = area.ID
			}
		case Postcode:
			field.Digits = digits(data.PostCodeRegex.Regex)
		case Person, Company, Street, Extra, District, Town, Sorting, Country:
		}
		f.Fields = append(f.Fields, field)
		if name == Street {
			f.Fields = append(f.Fields, Field{Name: Extra, Label: "Flat or floor", Autocomplete: autocomplete[Extra], Most: most[Extra]})
		}
	}
	return f
}

// areas are a country's regions as Latin letters write them, where that is known.
func areas(data lib.CountryData) []lib.AdministrativeAreaData {
	if list, ok := data.AdministrativeAreas["en"]; ok {
		return list
	}
	return data.AdministrativeAreas[data.DefaultLanguage]
}

var autocomplete = map[Name]string{
	Street: "address-line1", Extra: "address-line2", District: "address-level3", Town: "address-level2", Region: "address-level1",
	Postcode: "postal-code", Sorting: "off", Country: "country-name",
}

var most = map[Name]int{Street: 160, Extra: 120, District: 80, Town: 80, Region: 80, Postcode: 12, Sorting: 20, Country: 60}

// label names a field as the country does: a post town, a ZIP code, a prefecture.
func label(name Name, data lib.CountryData) string {
	switch name {
	case Street:
		return "Street and number"
	case Town:
		return called(data.LocalityNameType, "Town")
	case District:
		return called(data.DependentLocalityNameType, "District")
	case Region:
		return called(data.AdministrativeAreaNameType, "Region")
	case Postcode:
		return called(data.PostCodeNameType, "Postcode")
	case Sorting:
		return "Sorting code"
	case Person, Company, Extra, Country:
	}
	return "Country"
}

// called is how the library's name for a field reads; what it calls by the commonest
// name has ours.
func called(t lib.FieldName, ours string) string {
	said := map[lib.FieldName]string{
		lib.Area: "Area", lib.County: "County", lib.Department: "Department", lib.District: "District", lib.DoSi: "Do or si", lib.Eircode: "Eircode",
		lib.Emirate: "Emirate", lib.Island: "Island", lib.Neighborhood: "Neighbourhood", lib.Oblast: "Oblast", lib.PINCode: "PIN code",
		lib.Parish: "Parish", lib.PostTown: "Post town", lib.Prefecture: "Prefecture", lib.Province: "Province", lib.State: "State",
		lib.Suburb: "Suburb", lib.Townland: "Townland", lib.VillageTownship: "Village or township", lib.ZipCode: "ZIP code",
	}[t]
	if said == "" {
		return ours
	}
	return said
}

// Field is the field of a name; false where addresses there have none.
func (f Form) Field(name Name) (Field, bool) {
	i := slices.IndexFunc(f.Fields, func(field Field) bool { return field.Name == name })
	if i < 0 {
		return Field{}, false
	}
	return f.Fields[i], true
}

// Lines writes an address as its country does, line by line, with whose it is and the
// country last. What
// addresses there do not have stands where it was written all the same, before the
// country: nothing that somebody typed is lost.
func Lines(values map[string]string) []string {
	f := Of(Code(values[string(Country)]))
	written := map[Name]bool{Country: true}
	var lines []string
	for _, line := range f.lines {
		lines = append(lines, f.line(line, values, written)...)
	}
	for _, name := range Names {
		if v := values[string(name)]; v != "" && !written[name] {
			lines = append(lines, v)
		}
	}
	if v := values[string(Country)]; v != "" {
		lines = append(lines, v)
	}
	return lines
}

// line writes one line of a format. Words between two fields stand where both do, and
// words before the first where they are words, such as the town of a town that is its
// country: not the country's letters before a postcode.
func (f Form) line(format string, values map[string]string, written map[Name]bool) []string {
	parts := strings.Split(format, "%")
	out, glue := "", ""
	if strings.HasSuffix(parts[0], " ") {
		glue = parts[0]
	}
	var more []string
	for _, part := range parts[1:] {
		name, v := f.stands(part[:1], values)
		if again := written[name]; v != "" && !again { // some countries write one at both ends of a line
			out, glue = out+glue+v, ""
		}
		written[name] = true
		if extra := values[string(Extra)]; name == Street && extra != "" {
			more, written[Extra] = append(more, extra), true
		}
		if out != "" {
			glue += part[1:]
		}
	}
	if out == "" {
		return more
	}
	return append([]string{out}, more...)
}

// abbreviates are countries whose posts want a region by its letters: CA and not
// California (United States Postal Service, Publication 28, section 213).
const abbreviates = "US CA AU BR IT"

// stands is what stands for a letter of the library's format.
func (f Form) stands(key string, values map[string]string) (Name, string) {
	name := keys[key]
	v := values[string(name)]
	if id := f.regions[v]; name == Region && id != "" && strings.Contains(abbreviates, f.Code) {
		v = id
	}
	return name, v
}
