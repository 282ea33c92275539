package checkout_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"chrysagon/core/checkout"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

var sent = checkout.Sale{Sent: true, Home: "PT"}

func filled() map[string]string {
	return map[string]string{"name": "Ines Falk", "email": "ines@example.org", "street": "7 Lee Lane", "postcode": "1200-109", "town": "Lisbon", "country": "Portugal"}
}

func names(fields []checkout.Field) []string {
	var out []string
	for _, f := range fields {
		out = append(out, f.Name)
	}
	return out
}

func TestEveryFieldRefusesBadInputWithASentence(t *testing.T) {
	form := checkout.Form{Phone: checkout.Needed, Tax: checkout.Shown, Note: checkout.Shown, Questions: []checkout.Question{
		{Says: "Which hand?", Kind: checkout.Choice, Options: []string{"left", "right"}, Asks: checkout.Needed},
		{Says: "I can swim", Kind: checkout.Tick, Asks: checkout.Needed},
		{Says: "For whom?", Kind: checkout.Words, Asks: checkout.Needed},
	}}
	whole := func() map[string]string {
		v := filled()
		v["phone"], v["q1"], v["q2"], v["q3"] = "+351 210 000 000", "left", "1", "For Noa"
		return v
	}
	assert.Empty(t, form.Faults(sent, form.Clean(sent, whole())))
	bad := map[string][]string{
		"name":     {"", "12345", strings.Repeat("n", 121), "Ines\x00Falk"},
		"email":    {"", "ines", "ines@", "@example.org", "ines@example", "a@b@example.org", "ines falk@example.org", "Ines <ines@example.org>", "ines@-example.org", "ines@example..org", strings.Repeat("i", 65) + "@example.org", "i@" + strings.Repeat("e", 250) + ".org", "ines@example.org\r\nBcc: all@example.org"},
		"street":   {"", "7", strings.Repeat("s", 161), "\xff"},
		"postcode": {"", "<script>", strings.Repeat("1", 13), "10117"},
		"town":     {"", "77"},
		"country":  {"Atlantis", "portugal"},
		"phone":    {"", "none", "123", strings.Repeat("1", 16), "00+35121"},
		"tax":      {"<b>", strings.Repeat("1", 41)},
		"note":     {strings.Repeat("n", 1001), "\x00"},
		"q1":       {"", "both"},
		"q2":       {""},
		"q3":       {"", strings.Repeat("q", 401)},
	}
	for name, values := range bad {
		for _, value := range values {
			typed := whole()
			typed[name] = value
			faults := form.Faults(sent, form.Clean(sent, typed))
			assert.NotEmpty(t, faults[name], "%s = %q", name, value)
			if name != "country" {
				assert.Len(t, faults, 1, "%s = %q: %v", name, value, faults)
			}
		}
	}
}

// Addresses that RFC 5321 and RFC 5322 allow must not be turned away.
func TestAllowedAddressesPass(t *testing.T) {
	for _, email := range []string{"a@b.co", "first.last+kites@sub.example.org", "o'neil@example.org", strings.Repeat("i", 64) + "@example.org", "ines@münchen.example"} {
		typed := filled()
		typed["email"] = email
		assert.Empty(t, checkout.Form{}.Faults(sent, typed), email)
	}
}

func TestADigitalSaleAsksForNameAndEmailOnly(t *testing.T) {
	form, sale := checkout.Form{}, checkout.Sale{Home: "PT"}
	assert.Equal(t, []string{"name", "email"}, names(form.Fields(sale, nil)))
	assert.Empty(t, form.Faults(sale, form.Clean(sale, map[string]string{"name": " Ines ", "email": "ines@example.org", "street": "\x00"})))
	form.Name = checkout.Absent
	assert.Equal(t, []string{"email"}, names(form.Fields(sale, nil)))
	assert.Equal(t, []string{"email"}, names(checkout.Form{Name: checkout.Absent, Address: checkout.Absent}.Fields(sale, nil)))
}

// No parcel goes without an address, whatever the owner switched off.
func TestAParcelNeedsAnAddress(t *testing.T) {
	form := checkout.Form{Address: checkout.Absent}
	assert.Equal(t, []string{"name", "email", "country", "street", "postcode", "town"}, names(form.Fields(sent, nil)))
	assert.Len(t, form.Faults(sent, form.Clean(sent, map[string]string{"name": "Ines", "email": "ines@example.org", "country": "Portugal"})), 3)
}

func TestTheCountrySaysWhatIsAsked(t *testing.T) {
	form := checkout.Form{}
	assert.Equal(t, []string{"name", "email", "country", "street", "town", "region", "postcode"}, names(form.Fields(sent, map[string]string{"country": "United States"})))
	typed := filled()
	typed["country"], typed["town"], typed["postcode"], typed["region"] = "United States", "Nags Head", "27959", "North Carolina"
	assert.Empty(t, form.Faults(sent, typed))
	typed["region"] = "Texas"
	assert.Contains(t, form.Faults(sent, typed)["postcode"], "not one of Texas")
	only := checkout.Sale{Sent: true, Home: "PT", Sends: func(code string) bool { return code == "PT" || code == "ES" }}
	assert.Equal(t, "Choose one of the countries we send to.", form.Faults(only, typed)["country"])
	assert.Len(t, form.Fields(only, nil)[2].Options, 2)
	away := checkout.Sale{Sent: true, Home: "PT", Sends: func(code string) bool { return code == "ES" }}
	assert.Empty(t, form.Fields(away, nil)[2].First, "nothing is chosen beforehand to which nothing is sent")
	assert.Equal(t, "Portugal", form.Fields(sent, nil)[2].First)
}

func TestWhoeverPaysHasAnAddressOfTheirOwn(t *testing.T) {
	form := checkout.Form{Payer: checkout.Shown}
	typed := filled()
	assert.Empty(t, form.Faults(sent, form.Clean(sent, typed)))
	assert.NotContains(t, form.Clean(sent, typed), "payer_name", "what is folded away is not asked")
	typed["apart"], typed["payer_country"] = "1", "Germany"
	faults := form.Faults(sent, form.Clean(sent, typed))
	assert.Equal(t, "Write the postcode the invoice should go to.", faults["payer_postcode"])
	assert.Len(t, faults, 4)
	typed["payer_name"], typed["payer_street"], typed["payer_postcode"], typed["payer_town"] = "Falk GmbH", "Am Wind 4", "10117", "Berlin"
	assert.Empty(t, form.Faults(sent, form.Clean(sent, typed)))
	digital := checkout.Form{Payer: checkout.Needed}
	assert.Contains(t, names(digital.Fields(checkout.Sale{}, nil)), "payer_street", "a download can have an invoice")
}

func TestPartsOfAForm(t *testing.T) {
	split := func(f checkout.Form, s checkout.Sale) string {
		var out []string
		for _, p := range f.Split(f.Fields(s, nil)) {
			out = append(out, fmt.Sprint(p.Blocks))
		}
		return strings.Join(out, " ")
	}
	asking := checkout.Form{Note: checkout.Shown}
	assert.Equal(t, "[who where more pay]", split(asking, sent))
	asking.Parts = 2
	assert.Equal(t, "[who] [where more pay]", split(asking, sent))
	asking.Parts = 3
	assert.Equal(t, "[who] [where more] [pay]", split(asking, sent))
	asking.Before = []checkout.Block{checkout.More, checkout.Who, checkout.Where}
	assert.Equal(t, "[who] [more where] [pay]", split(asking, sent))
	asking.Parts = 1
	assert.Equal(t, "[more who where pay]", split(asking, sent))
	assert.Equal(t, "[who] [pay]", split(checkout.Form{Parts: 3}, checkout.Sale{}), "a part that asks nothing falls away")
}

func forms() *rapid.Generator[checkout.Form] {
	return rapid.Custom(func(t *rapid.T) checkout.Form {
		way := rapid.SampledFrom([]checkout.Asks{"", checkout.Absent, checkout.Shown, checkout.Needed})
		f := checkout.Form{
			Parts: rapid.IntRange(0, checkout.MostParts).Draw(t, "parts"), Before: rapid.Permutation(checkout.Blocks).Draw(t, "order")[:rapid.IntRange(0, 4).Draw(t, "ordered")],
			Name: way.Draw(t, "name"), Address: way.Draw(t, "address"), Phone: way.Draw(t, "phone"), Company: way.Draw(t, "company"), Extra: way.Draw(t, "extra"),
			Payer: way.Draw(t, "payer"), Tax: way.Draw(t, "tax"), Note: way.Draw(t, "note"), Consent: rapid.SampledFrom([]string{"", "Write to me"}).Draw(t, "consent"),
		}
		for range rapid.IntRange(0, 3).Draw(t, "questions") {
			f.Questions = append(f.Questions, checkout.Question{Says: "Why?", Options: []string{"wind", "sky"}, Asks: way.Draw(t, "asks"), Kind: rapid.SampledFrom([]checkout.Kind{checkout.Words, checkout.Choice, checkout.Tick}).Draw(t, "kind")})
		}
		return f
	})
}

// Laws of every form: each field stands in one part and once, who buys comes first of
// several parts, one pays in the last, what is not asked does not come through, what is
// cleaned stays clean, and what is needed and empty is said.
func TestLawsOfForms(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		form := forms().Draw(t, "form")
		sale := checkout.Sale{Sent: rapid.Bool().Draw(t, "sent"), Home: rapid.SampledFrom([]string{"", "PT", "US", "SG"}).Draw(t, "home")}
		typed := rapid.MapOf(rapid.SampledFrom([]string{"name", "email", "phone", "country", "street", "town", "postcode", "region", "apart", "payer_country", "note", "q1", "q2", "consent", "role", "token"}),
			rapid.SampledFrom([]string{"", "1", "wind", "Ines", "Portugal", "Japan", " a  b ", "1200109", "\xff", "ines@example.org"})).Draw(t, "typed")
		fields := form.Fields(sale, typed)
		parts := form.Split(fields)
		seen := map[string]int{}
		for i, p := range parts {
			assert.Equal(t, i+1, p.Number)
			assert.NotEmpty(t, p.Title)
			assert.Equal(t, i == len(parts)-1, p.Last())
			for _, f := range p.Fields {
				seen[f.Name]++
			}
		}
		assert.LessOrEqual(t, len(parts), max(form.Parts, 1))
		if len(parts) > 1 {
			assert.Equal(t, []checkout.Block{checkout.Who}, parts[0].Blocks)
		}
		for _, f := range fields {
			assert.Equal(t, 1, seen[f.Name], f.Name)
			assert.NotEmpty(t, f.Label)
		}
		clean := form.Clean(sale, typed)
		for name := range clean {
			assert.Contains(t, seen, name)
		}
		assert.Equal(t, clean, form.Clean(sale, clean), "twice")
		faults := form.Faults(sale, clean)
		for _, f := range form.Fields(sale, clean) {
			if f.Needed() && !f.Folded && clean[f.Name] == "" {
				assert.NotEmpty(t, faults[f.Name], f.Name)
			}
		}
		if sale.Sent {
			assert.True(t, slices.ContainsFunc(fields, func(f checkout.Field) bool { return f.Name == "street" && f.Needed() }))
		}
	})
}

func ExampleForm_Faults() {
	form, sale := checkout.Form{}, checkout.Sale{Sent: true, Home: "PT"}
	typed := filled()
	typed["email"] = "ines.example.org"
	fmt.Println(form.Faults(sale, form.Clean(sale, typed))["email"])
	// Output: An email address has an @ in it. Write it like name@example.org.
}
