package house_test

import (
	"net/url"
	"regexp"
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// links are the texts of the header's menu, in their order.
func links(t *testing.T, body string) []string {
	t.Helper()
	nav := regexp.MustCompile(`(?s)<nav aria-label="Store">(.*?)</nav>`).FindStringSubmatch(body)
	if nav == nil {
		return nil
	}
	var out []string
	for _, m := range regexp.MustCompile(`<a href="([^"]*)">([^<]*)</a>`).FindAllStringSubmatch(nav[1], -1) {
		out = append(out, m[2]+" "+m[1])
	}
	return out
}

// rows are the fields of a menu's form, each row as "words|page|address".
func rows(name string, list ...string) url.Values {
	out := url.Values{}
	for _, r := range list {
		part := strings.Split(r, "|")
		out.Add(name+"_text", part[0])
		out.Add(name+"_page", part[1])
		out.Add(name+"_address", part[2])
	}
	return out
}

func TestMenusAreChosenAndOrderedByHand(t *testing.T) {
	shop := testkit.Open(t)
	shop.Follow(t)
	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Get(d.At("/store")).Body, "it fills itself with the live pages")
	require.Contains(t, d.Send("/pages/night-flight/dress", url.Values{"purpose": {"sales"}, "layout": {"full"}}).Header.Get("HX-Refresh"), "true")
	proof := func() string { return d.Get(d.At("/pages/night-flight/proof")).Body }
	filled := links(t, proof())

	byHand := rows("menu", "The kite|night-flight|", "The club||https://club.example/", "Ring||tel:+351255000111", "||")
	assert.Contains(t, d.Send("/store/menus", byHand).Body, "Every page has them now.")
	assert.Equal(t, []string{"The kite /night-flight", "The club https://club.example/", "Ring tel:&#43;351255000111"}, links(t, proof()))
	byHand.Set("menu_up", "2")
	d.Send("/store/menus", byHand)
	assert.Equal(t, []string{"The kite /night-flight", "Ring tel:&#43;351255000111", "The club https://club.example/"}, links(t, proof()))
	foot := rows("foot", "Imprint||https://club.example/imprint")
	for k, v := range byHand {
		foot[k] = v
	}
	d.Send("/store/menus", foot)
	assert.Regexp(t, `(?s)<footer.*href="/privacy".*href="https://club.example/imprint">Imprint</a>`, proof())

	for why, bad := range map[string]string{"without words": "|night-flight|", "that leads nowhere": "Nowhere||", "a script": "Press||javascript:alert(1)", "a checkout, which not every page has": "Buy||checkout"} {
		said := d.Send("/store/menus", rows("menu", bad)).Body
		assert.Regexp(t, `role="alert"`, said, why)
		assert.NotContains(t, said, "Every page has them now", why)
	}
	assert.Len(t, links(t, proof()), 3, "what was refused changes nothing")
	d.Send("/store/menus", url.Values{})
	assert.Equal(t, filled, links(t, proof()), "taken back, it fills itself again")
}
