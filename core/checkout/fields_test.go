package checkout_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/checkout"

	"github.com/stretchr/testify/assert"
)

func filled() map[string]string {
	return map[string]string{"name": "Ines Falk", "email": "ines@example.org", "street": "7 Lee Lane", "postcode": "1200-109", "town": "Lisbon", "country": "Portugal"}
}

func TestEveryFieldRefusesBadInputWithASentence(t *testing.T) {
	assert.Empty(t, checkout.Faults(filled(), true, nil))
	bad := map[string][]string{
		"name":     {"", "12345", strings.Repeat("n", 121), "Ines\x00Falk"},
		"email":    {"", "ines", "ines@", "@example.org", "ines@example", "a@b@example.org", "ines falk@example.org", "Ines <ines@example.org>", "ines@-example.org", "ines@example..org", strings.Repeat("i", 65) + "@example.org", "i@" + strings.Repeat("e", 250) + ".org", "ines@example.org\r\nBcc: all@example.org"},
		"street":   {"", "7", strings.Repeat("s", 161)},
		"postcode": {"", "<script>", strings.Repeat("1", 13)},
		"town":     {"", "77"},
		"country":  {"", "Atlantis", "portugal"},
	}
	for name, values := range bad {
		for _, value := range values {
			typed := filled()
			typed[name] = value
			faults := checkout.Faults(checkout.Clean(typed, true, nil), true, nil)
			assert.Len(t, faults, 1, "%s = %q", name, value)
			assert.NotEmpty(t, faults[name], "%s = %q", name, value)
		}
	}
}

// Addresses that RFC 5321 and RFC 5322 allow must not be turned away.
func TestAllowedAddressesPass(t *testing.T) {
	for _, email := range []string{"a@b.co", "first.last+kites@sub.example.org", "o'neil@example.org", strings.Repeat("i", 64) + "@example.org", "ines@münchen.example"} {
		typed := filled()
		typed["email"] = email
		assert.Empty(t, checkout.Faults(typed, true, nil), email)
	}
}

func TestADigitalSaleAsksForNameAndEmailOnly(t *testing.T) {
	assert.Len(t, checkout.Fields(false, nil), 2)
	assert.Empty(t, checkout.Faults(checkout.Clean(map[string]string{"name": " Ines ", "email": "ines@example.org", "street": "\x00"}, false, nil), false, nil))
}

func ExampleFaults() {
	typed := filled()
	typed["email"] = "ines.example.org"
	fmt.Println(checkout.Faults(typed, true, nil)["email"])
	// Output: An email address has an @ in it. Write it like name@example.org.
}
