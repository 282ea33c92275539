package robots_test

import (
	"fmt"
	"strings"
	"testing"

	"chrysagon/internal/robots"
	"chrysagon/web"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Names that their makers publish (from memory), and those of browsers.
func TestRobotsAreKnownByTheirNames(t *testing.T) {
	k, err := robots.New(web.Robots())
	require.NoError(t, err)
	for name, want := range map[string]bool{
		"": true,
		"Mozilla/5.0 (compatible; Googlebot/2.1; +http://www.google.com/bot.html)":  true,
		"Mozilla/5.0 (compatible; bingbot/2.0; +http://www.bing.com/bingbot.htm)":   true,
		"facebookexternalhit/1.1 (+http://www.facebook.com/externalhit_uatext.php)": true,
		"curl/8.5.0":           true,
		"python-requests/2.31": true,
		"Go-http-client/1.1":   true,
		"W3C_Validator/1.3 http://validator.w3.org/services":                                                                                      true,
		"Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) HeadlessChrome/130.0.0.0 Safari/537.36":                           true,
		"Mozilla/5.0 (Windows NT 10.0; Win64; x64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Safari/537.36":                         false,
		"Mozilla/5.0 (iPhone; CPU iPhone OS 17_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.5 Mobile/15E148 Safari/604.1": false,
		"Mozilla/5.0 (X11; Linux x86_64; rv:128.0) Gecko/20100101 Firefox/128.0":                                                                  false,
		"Mozilla/5.0 (Linux; Android 14; Pixel 8) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/130.0.0.0 Mobile Safari/537.36":                   false,
	} {
		for range 2 { // asked anew and remembered
			assert.Equal(t, want, k.Is(name), name)
		}
	}
	assert.NotPanics(t, func() { k.Is(strings.Repeat("a(", 1<<16)) })
}

func ExampleKnown_Is() {
	k, _ := robots.New([]string{"(?<! cu)bots?"})
	fmt.Println(k.Is("SomeBot/1.0"), k.Is("Firefox/128.0"))
	// Output: true false
}
