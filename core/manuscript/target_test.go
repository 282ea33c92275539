package manuscript_test

import (
	"strings"
	"testing"

	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestTargetsAreRead(t *testing.T) {
	for text, want := range map[string]m.Target{
		"":                          {},
		"checkout":                  {Kind: m.ToCheckout},
		"home":                      {Kind: m.ToHome},
		"page:night-flight":         {Kind: m.ToPage, Value: "night-flight"},
		"yes":                       {Kind: m.ToYes},
		"no":                        {Kind: m.ToNo},
		"appointment":               {Kind: m.ToAppointment},
		"product:ember":             {Kind: m.ToProduct, Value: "ember"},
		"file:size-chart":           {Kind: m.ToFile, Value: "size-chart"},
		"band:why":                  {Kind: m.ToBand, Value: "why"},
		"tel:":                      {Kind: m.ToPhone},
		"tel:+351 (255) 000-111":    {Kind: m.ToPhone, Value: "+351255000111"},
		"mailto:hello@example.org":  {Kind: m.ToMail, Value: "hello@example.org"},
		"https://example.org/a?b=c": {Kind: m.Outside, Value: "https://example.org/a?b=c"},
		"http://example.org":        {Kind: m.Outside, Value: "http://example.org"},
	} {
		got, err := m.ParseTarget(text)
		require.NoError(t, err, text)
		assert.Equal(t, want, got, text)
	}
}

// What a browser would run, or what hides where it leads, is no target.
func TestHostileTargetsAreRefused(t *testing.T) {
	for _, text := range []string{
		"javascript:alert(1)", "JavaScript:alert(1)", " javascript:alert(1)", "data:text/html,x", "vbscript:x", "file:///etc/passwd",
		"//example.org", "https:", "https://", "https:///path", "https://shop@example.org", "checkout:x", "yes:x", "file:", "file:../etc/passwd", "product:a/b", "page:", "page:a b", "band:../x",
		"mailto:a@b@c", "mailto:a@b?subject=x", "tel:call me", "blob:https://example.org", "https://" + strings.Repeat("a", 500),
	} {
		_, err := m.ParseTarget(text)
		require.Error(t, err, text)
	}
}

// Whatever is accepted can stand in an href: it has no scheme but those named.
func TestAcceptedTargetsHaveAKnownScheme(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.OneOf(rapid.String(), rapid.StringMatching(`(?i)(java|vb)?script:.*|[a-z]{1,8}:.{0,20}|https?://.{0,20}`)).Draw(t, "text")
		got, err := m.ParseTarget(text)
		if err == nil && got.Kind == m.Outside {
			assert.Regexp(t, `^https?://`, got.Value)
		}
	})
}
