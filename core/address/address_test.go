package address_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/address"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func of(country string, pairs ...string) map[string]string {
	out := map[string]string{"country": country}
	for i := 0; i+1 < len(pairs); i += 2 {
		out[pairs[i]] = pairs[i+1]
	}
	return out
}

// Postcodes as the posts themselves write them. The six British ones are the shapes of
// the Government Data Standards Catalogue's table; the others are a known address of
// each country. All from memory.
func TestPostcodesOfTheWorldPass(t *testing.T) {
	for code, list := range map[string][]string{
		"GB": {"M1 1AA", "M60 1NW", "CR2 6XH", "DN55 1PT", "W1A 1HQ", "EC1A 1BB"},
		"PT": {"1200-109", "4000-322"}, "DE": {"10117", "01067"}, "US": {"20500", "94043-1351"}, "CA": {"K1A 0B1"}, "NL": {"1012 JS"},
		"IE": {"D02 X285", "A65 F4E2"}, "JP": {"100-0001"}, "SE": {"114 55"}, "PL": {"00-950"}, "CH": {"8001"}, "BR": {"01310-100"}, "AU": {"2000"},
	} {
		for _, postcode := range list {
			assert.Empty(t, address.Of(code).Faults(of(address.NameOf(code), "postcode", postcode), "the parcel should go to")[address.Postcode], "%s %s", code, postcode)
		}
	}
}

func TestPostcodesOfNoCountryAreRefused(t *testing.T) {
	for code, list := range map[string][]string{
		"GB": {"M1", "1200-109", "QQQ 111"}, "PT": {"1200", "10117-1"}, "DE": {"1011", "D-10117x"}, "US": {"2050", "K1A 0B1"}, "CA": {"20500", "Z9Z 9Z9"},
	} {
		for _, postcode := range list {
			said := address.Of(code).Faults(of(address.NameOf(code), "postcode", postcode), "the parcel should go to")[address.Postcode]
			assert.Contains(t, said, "do not look like this", "%s %s", code, postcode)
		}
	}
}

// A postcode is written down as its country writes it, however it was typed.
func TestPostcodesAreTidied(t *testing.T) {
	for typed, want := range map[[2]string]string{
		{"PT", "1200109"}: "1200-109", {"PT", "1200 109"}: "1200-109", {"NL", "1012js"}: "1012JS", {"CA", "k1a0b1"}: "K1A0B1", {"PL", "00950"}: "00-950",
		{"GB", "ec1a  1bb"}: "EC1A 1BB", {"DE", " 10117 "}: "10117", {"DE", "none"}: "NONE",
	} {
		assert.Equal(t, want, address.Of(typed[0]).Tidy(typed[1]), "%v", typed)
	}
}

func TestAPostcodeBelongsToItsRegion(t *testing.T) {
	us := address.Of("US")
	assert.Empty(t, us.Faults(of("United States", "street", "1600 Pennsylvania Avenue NW", "town", "Washington", "region", "District of Columbia", "postcode", "20500"), "it goes to"))
	faults := us.Faults(of("United States", "street", "1 Main Street", "town", "Los Angeles", "region", "California", "postcode", "20500"), "it goes to")
	assert.Equal(t, map[address.Name]string{address.Postcode: "This postcode is not one of California. Look at both once more."}, faults)
	assert.Equal(t, "Choose one of the list.", us.Faults(of("United States", "region", "Ruritania"), "it goes to")[address.Region])
}

// What is asked differs: a state in the United States, a county nobody must know in
// Ireland, no postcode in Hong Kong, no town in Singapore.
func TestCountriesAskForWhatTheirPostsNeed(t *testing.T) {
	needs := func(code string) string {
		var out []string
		for _, f := range address.Of(code).Fields {
			if f.Needed {
				out = append(out, f.Label)
			}
		}
		return strings.Join(out, ", ")
	}
	assert.Equal(t, "Street and number, Postcode, Town", needs("PT"))
	assert.Equal(t, "Street and number, Town, State, ZIP code", needs("US"))
	assert.Equal(t, "Street and number, Post town, Postcode", needs("GB"))
	assert.Equal(t, "Street and number, Town", needs("IE"))
	assert.Equal(t, "Street and number, Area", needs("HK"))
	assert.Equal(t, "Street and number, Postcode", needs("SG"))
	assert.Equal(t, "Street and number, Prefecture, Postcode", needs("JP"))
	f, ok := address.Of("IE").Field(address.Postcode)
	assert.True(t, ok && !f.Needed)
	assert.Equal(t, "Eircode", f.Label)
	_, ok = address.Of("SG").Field(address.Town)
	assert.False(t, ok)
}

func TestAnAddressIsWrittenAsItsCountryDoes(t *testing.T) {
	for _, c := range []struct {
		values map[string]string
		want   []string
	}{
		{of("Portugal", "street", "7 Lee Lane", "postcode", "1200-109", "town", "Lisbon"), []string{"7 Lee Lane", "1200-109 Lisbon", "Portugal"}},
		{of("Germany", "street", "Am Wind 4", "extra", "bei Falk", "postcode", "10117", "town", "Berlin"), []string{"Am Wind 4", "bei Falk", "10117 Berlin", "Germany"}},
		// United States Postal Service, Publication 28, section 213: town, two letters, ZIP code.
		{of("United States", "street", "1 Kite Road", "town", "Nags Head", "region", "North Carolina", "postcode", "27959"), []string{"1 Kite Road", "Nags Head, NC 27959", "United States"}},
		{of("United Kingdom", "street", "2 Gale Row", "town", "Whitby", "postcode", "YO21 3PZ"), []string{"2 Gale Row", "Whitby", "YO21 3PZ", "United Kingdom"}},
		{of("Singapore", "street", "3 Marina View", "postcode", "018960"), []string{"3 Marina View", "SINGAPORE 018960", "Singapore"}},
		{of("Switzerland", "street", "Seilweg 1", "postcode", "8001", "town", "Zürich"), []string{"Seilweg 1", "8001 Zürich", "Switzerland"}},
		{of("Singapore", "street", "3 Marina View", "postcode", "018960", "town", "Marina"), []string{"3 Marina View", "SINGAPORE 018960", "Marina", "Singapore"}},
		{of("Atlantis", "street", "Under the sea", "town", "Deep"), []string{"Under the sea", "Deep", "Atlantis"}},
		{map[string]string{}, nil},
	} {
		assert.Equal(t, c.want, address.Lines(c.values))
	}
}

// Whatever stands in an address stands on its label.
func TestNothingOfAnAddressIsLost(t *testing.T) {
	lands := address.Lands(nil)
	rapid.Check(t, func(t *rapid.T) {
		land := rapid.SampledFrom(lands).Draw(t, "land")
		values := of(land.Name)
		for _, name := range address.Names {
			if name != address.Country && rapid.Bool().Draw(t, string(name)) {
				values[string(name)] = "«" + string(name) + "»"
			}
		}
		label := strings.Join(address.Lines(values), "\n")
		for name, v := range values {
			assert.Equal(t, 1, strings.Count(label, v), "%s of %s in %q", name, land.Name, label)
		}
		for _, f := range address.Of(land.Code).Fields {
			assert.NotEmpty(t, f.Label)
			assert.NotEmpty(t, f.Autocomplete)
			assert.Positive(t, f.Most)
		}
	})
}

// Every country has a form that can be filled in, and its name leads back to it.
func TestEveryCountryCanBeChosen(t *testing.T) {
	lands := address.Lands(nil)
	assert.Greater(t, len(lands), 240)
	for _, l := range lands {
		assert.Equal(t, l.Code, address.Code(l.Name))
		assert.Equal(t, l.Name, address.NameOf(l.Code))
		f := address.Of(l.Code)
		_, ok := f.Field(address.Street)
		assert.True(t, ok, l.Name)
		assert.NotEmpty(t, f.Faults(of(l.Name), "it goes to"), l.Name)
	}
	assert.Len(t, address.Lands(func(code string) bool { return code == "PT" || code == "ES" }), 2)
	assert.Empty(t, address.Code("Atlantis"))
	assert.Equal(t, "??", address.NameOf("??"))
}

func TestWhatCannotBeReadIsRefused(t *testing.T) {
	faults := address.Of("PT").Faults(of("Portugal", "street", "7\x00", "town", "77", "postcode", "\xff", "extra", strings.Repeat("x", 121)), "it goes to")
	assert.Contains(t, faults[address.Street], "cannot be read")
	assert.Contains(t, faults[address.Town], "no letters")
	assert.Contains(t, faults[address.Postcode], "cannot be read")
	assert.Contains(t, faults[address.Extra], "at most 120 fit")
}

func ExampleLines() {
	for _, line := range address.Lines(map[string]string{"street": "1 Kite Road", "town": "Nags Head", "region": "North Carolina", "postcode": "27959", "country": "United States"}) {
		fmt.Println(line)
	}
	// Output:
	// 1 Kite Road
	// Nags Head, NC 27959
	// United States
}
