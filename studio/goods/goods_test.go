package goods_test

import (
	"encoding/json"
	"net/http"
	"net/url"
	"strings"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestTheGoodsTableFindsFiltersAndSorts(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	rows := func(query string) string {
		body := d.Get(d.At("/goods?" + query)).Body
		_, table, _ := strings.Cut(body, "goods-table\">")
		_, table, _ = strings.Cut(table, "<tbody>")
		table, _, _ = strings.Cut(table, "</tbody>")
		return table
	}
	assert.Equal(t, 24, strings.Count(rows(""), "<tr "))
	assert.Equal(t, 2, strings.Count(rows("find=GULL"), "<tr "), "whatever the case")
	assert.Equal(t, 2, strings.Count(rows("find=gk-gul"), "<tr "), "by the beginning of the SKU")
	assert.Equal(t, 0, strings.Count(rows("find=%25"), "<tr "), "a percent sign is a percent sign")
	assert.Equal(t, 2, strings.Count(rows("condition=ex-demo&category=Dual-%20and%20four-line%20kites"), "<tr "))
	assert.Equal(t, 3, strings.Count(rows("shelf=back-and-shown"), "<tr "))
	dearest := rows("sort=price&down=1&col=name&col=price")
	assert.Less(t, strings.Index(dearest, "Tramontane"), strings.Index(dearest, "Loom"))
	assert.NotContains(t, dearest, "GK-TRA-3", "only the chosen columns")
	assert.Contains(t, rows("find=ember"), `<b class="good">51.00</b>`, "what is asked now")
	assert.Contains(t, d.Get(d.At("/goods?find=zeppelin")).Body, "Nothing is found for “zeppelin”")
}

func TestPricesOfManyArePreviewedAndChanged(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	for change, want := range map[string]string{
		"-10%": "26.10", "+5": "34.00", "−5,50": "23.50", "=19.90": "19.90", "+ 2.5 %": "29.73",
		"": "for one price", "10%": "for one price", "-110%": "for one price", "=x": "for one price", "+1.999": "for one price",
	} {
		assert.Contains(t, d.Send("/goods/preview", url.Values{"id": {"gull"}, "change": {change}}).Body, want, change)
	}
	assert.Contains(t, d.Send("/goods/preview", url.Values{"change": {"-10%"}}).Body, "Tick the goods")
	assert.Contains(t, d.Send("/goods/preview", url.Values{"every": {"1"}, "find": {"kite"}, "change": {"-90%"}}).Body, "under cost")
	assert.Contains(t, d.Send("/goods/change", url.Values{"every": {"1"}, "shelf": {"back-and-shown"}, "change": {"-1"}}).Body, "3 prices changed")
	assert.Equal(t, int64(2200), shop.Number(`SELECT price_minor FROM variants WHERE id = 'gull-back'`))
}

func TestCellsSayWhatIsWrong(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	kept := d.Send("/goods/gull/cell", url.Values{"column": {"stock"}, "value": {"7"}})
	assert.Contains(t, kept.Body, "Kept.")
	bad := d.Send("/goods/gull/cell", url.Values{"column": {"price"}, "value": {"<b>"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	assert.Contains(t, bad.Body, "Price is not a number.")
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/goods/gull/cell", url.Values{"column": {"price_minor; DROP TABLE"}, "value": {"1"}}).Status)
}

func TestFilesOfGoodsComeInThroughTheirDryRun(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	lead := d.Upload("/goods/import", "file", nil, map[string]string{"x.csv": "sku,name,price\nNEW-9,Skylark,39.90\n"})
	at := lead.Header.Get("HX-Redirect")
	require.Contains(t, at, "/goods/import/")
	assert.Contains(t, d.Get(d.At(at)).Body, "NEW-9")
	refused := d.Upload("/goods/import", "file", nil, map[string]string{"x.csv": "\x00\x01\x02"})
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Body, "cannot be imported")
	remapped := d.Send(at, url.Values{"map": {"sku", "", "price"}})
	assert.Contains(t, remapped.Body, "is new and has no name")
	assert.Contains(t, d.Send(at, url.Values{"map": {"sku", "sku", "price"}}).Body, "Two columns are sku")
	d.Send(at+"/apply", url.Values{"map": {"sku", "name", "price"}})
	told := ""
	for !strings.Contains(told, "Applied.") && !strings.Contains(told, "not under way") { // a request at a time, until it is done
		told = d.Get(d.At(at + "/progress")).Body
	}
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM variants WHERE sku = 'NEW-9' AND price_minor = 3990`))
	assert.Contains(t, d.Get(d.At("/goods/goods.csv")).Body, "NEW-9,NEW-9,Skylark")
	var out struct{ Goods []struct{ SKU string } }
	require.NoError(t, json.Unmarshal([]byte(d.Get(d.At("/goods/goods.json")).Body), &out))
	assert.Len(t, out.Goods, 25)
}

func TestShelfSentences(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	line := func(pairs ...string) url.Values {
		form := url.Values{"name": {"A shelf"}, "join": {"all"}, "c_field": {"condition"}, "c_name": {""}, "c_not": {""}, "c_is": {"returned, ex-demo"}, "c_min": {""}, "c_max": {""}, "c_days": {""}, "c_since": {""}}
		for i := 0; i < len(pairs); i += 2 {
			form.Set(pairs[i], pairs[i+1])
		}
		return form
	}
	for want, form := range map[string]url.Values{
		"5 now.": line(), "19 now.": line("c_not", "not"), "Goods whose condition is returned or ex-demo.": line(),
		"at least one bound":             line("c_field", "price", "c_is", ""),
		"is not a number":                line("c_field", "stock", "c_min", "many"),
		"Write which category":           line("c_field", "category", "c_is", " , "),
		"over how many days":             line("c_field", "sales", "c_min", "1"),
		"Choose the day since":           line("c_field", "added"),
		"the first 2.":                   line("limit", "2"),
		"as a whole number":              line("limit", "some"),
		"0 now.":                         line("by_hand", "1"),
		"Leave “whose condition is lost": line("c_is", "lost"),
	} {
		assert.Contains(t, d.Send("/shelves/look", form).Body, want)
	}
	kept := d.Send("/shelves", line("order", "price"))
	require.Contains(t, kept.Header.Get("HX-Redirect"), "/shelves?shelf=")
	page := d.Get(d.At(kept.Header.Get("HX-Redirect"))).Body
	assert.Contains(t, page, "Goods whose condition is returned or ex-demo, ordered by price.")
	shop.Exec(`UPDATE shelves SET shelf = '{"rule": {"any": [{"all": [{"field": "stock", "at_least": 1}, {"field": "price", "at_most": 2000}]}]}}' WHERE name = 'A shelf'`)
	deep := d.Get(d.At(kept.Header.Get("HX-Redirect"))).Body
	assert.Contains(t, deep, "groups within groups, which this sentence cannot write")
	form := url.Values{"id": {strings.TrimPrefix(kept.Header.Get("HX-Redirect"), "/shelves?shelf=")}, "name": {"Deep"}, "limit": {"3"}}
	d.Send("/shelves", form)
	assert.Equal(t, int64(1), shop.Number(`SELECT count(*) FROM shelves WHERE name = 'Deep' AND shelf #>> '{rule,any,0,all,0,field}' = 'stock' AND shelf ->> 'limit' = '3'`), "kept as it was")
	assert.NotEmpty(t, d.Send("/groups", url.Values{"shelf": {"light-wind"}, "name": {"Light"}, "picture": {"dunes"}}).Header.Get("HX-Redirect"))
	assert.Contains(t, d.Get(d.At("/shelves?shelf=light-wind")).Body, "<b>Light</b>")
}

func TestTheSeasonPlace(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	page := d.Get(d.At("/season?year=2026")).Body
	for _, want := range []string{"Black Friday", "First Sunday of Advent", "Imaculada Conceição", "Frost Lanterns: 20 November to 27 November, 8 days", "Lantern Friday, Friday 27 November 2026, 23:59", "Sun 20 Dec"} {
		assert.Contains(t, page, want)
	}
	kept := d.Send("/season/campaigns?year=2026", url.Values{"name": {"Twelve days"}, "from_day": {"christmas_eve"}, "from_offset": {"-11"}, "to_day": {"christmas_eve"}, "goods": {"ember"}})
	assert.Contains(t, kept.Body, "Twelve days: 13 December to 24 December, 12 days")
	assert.NotContains(t, kept.Body, "are both on")
	clash := d.Send("/season/campaigns?year=2026", url.Values{"name": {"Clash"}, "from": {"2026-11-26"}, "to": {"2026-12-14"}, "goods": {"ember"}})
	assert.Contains(t, clash.Body, "Clash and Frost Lanterns are both on Ember 180, with lantern and line, 26 November to 27 November.")
	assert.Contains(t, d.Send("/season/campaigns?year=2026", url.Values{"name": {"x"}, "from": {"2026-12-26"}, "to": {"2026-12-14"}}).Body, `role="alert"`)
	assert.Contains(t, d.Send("/season/year?year=2026", url.Values{"handling": {"2"}, "transit": {"5"}, "country": {"US", "CA"}}).Body, "Christmas Eve, to CA")
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/season/year", url.Values{"handling": {"2"}, "transit": {"5"}}).Status)
	key := shop.Number(`SELECT length(calendar_key) FROM store`)
	assert.Equal(t, int64(26), key)
	var path string
	require.NoError(t, shop.Store.DB.Raw("SELECT '/calendar/' || calendar_key || '.ics' FROM store").Scan(&path).Error)
	stranger := shop.Browser()
	assert.Contains(t, stranger.Get(shop.App.Origins.Studio+path).Body, "BEGIN:VCALENDAR", "subscribed to without a session")
	assert.Equal(t, http.StatusNotFound, stranger.Get(shop.App.Origins.Studio+"/calendar/guess.ics").Status)
	came := d.Upload("/season/calendar?year=2026", "file", nil, map[string]string{"x.ics": "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Kite day\r\nDTSTART;VALUE=DATE:20261010\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"})
	assert.Contains(t, came.Body, "Kite day: 10 October, 1 days")
}

func TestRatesAreTriedBesideTheirTables(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	page := d.Get(d.At("/rates")).Body
	assert.Contains(t, page, "home,Portugal,PT,weight,0,3.90,30.00,")
	tried := d.Send("/rates/parcel", url.Values{"weight": {"2500"}, "total": {"29,99"}}).Body
	assert.Contains(t, tried, "€6.90")
	assert.Contains(t, tried, "€24.00", "everywhere else")
	assert.Contains(t, d.Send("/rates/parcel", url.Values{"weight": {"heavy"}}).Body, "whole grams")
	bad := d.Send("/rates/tax", url.Values{"table": {"country,region,class,percent,name\nPT,,,many,\n"}}).Body
	assert.Contains(t, bad, "Line 2: &#34;many&#34; is not a percentage.")
	assert.Contains(t, bad, "PT,,,many", "what was typed is kept")
	assert.Contains(t, d.Send("/rates/rules", url.Values{"included": {"1"}, "floor": {"20"}, "regime": {"us_former_price"}}).Body, "Kept.")
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/rates/rules", url.Values{"regime": {"moon"}}).Status)
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/rates/rules", url.Values{"floor": {"200"}}).Status)
}

func TestDeadlinesOfEveryKindAreWritten(t *testing.T) {
	d := testkit.SignIn(t, testkit.Open(t))
	for want, form := range map[string]url.Values{
		"as 2026-12-24 ends where the visitor is":      {"kind": {"visitor_midnight"}, "day": {"2026-12-24"}},
		"next on Friday 27 November 2026, 18:00":       {"kind": {"repeating"}, "start": {"2026-11-06T18:00"}, "rule": {"FREQ=WEEKLY"}, "runs_hours": {"48"}},
		"45m0s after a visitor’s first sight":          {"kind": {"span"}, "span_minutes": {"45"}},
		"is not a rule of RFC 5545":                    {"kind": {"repeating"}, "start": {"2026-11-06T18:00"}, "rule": {"FREQ=NEVER"}},
		"Must be from one minute to 366 days":          {"kind": {"span"}, "span_minutes": {"0"}},
		"is not a day; write it like":                  {"kind": {"visitor_midnight"}, "day": {"Christmas"}},
		"Must be from 0 to 24 hours":                   {"kind": {"visitor_midnight"}, "grace_minutes": {"9999"}},
		"Write the day and time it ends":               {"kind": {"fixed"}, "at": {"soon"}},
		"Give the deadline a name of at most 80 chara": {"kind": {"span"}, "span_minutes": {"45"}, "name": {""}},
	} {
		if form.Get("name") == "" && form["name"] == nil {
			form.Set("name", "One")
		}
		assert.Contains(t, d.Send("/deadlines", form).Words(), want)
	}
}

func TestCodesAndEndsOfOffers(t *testing.T) {
	shop := testkit.Open(t)
	d := testkit.SignIn(t, shop)
	assert.Contains(t, d.Send("/offers/bag-with-order/codes", url.Values{"codes": {"12"}, "prefix": {"bag"}, "uses": {"1"}}).Body, "12 codes made.")
	assert.Equal(t, 13, strings.Count(d.Get(d.At("/offers/bag-with-order/codes.csv")).Body, "\r\n"))
	assert.Equal(t, http.StatusUnprocessableEntity, d.Send("/offers/bag-with-order/codes", url.Values{"codes": {"many"}}).Status)
	assert.Contains(t, d.Send("/offers/lantern-week/end", url.Values{}).Body, "Ended. The list prices hold again")
	assert.Equal(t, int64(6800), shop.Number(`SELECT now_minor FROM variants WHERE id = 'ember'`))
	assert.Equal(t, http.StatusNotFound, d.Send("/offers/none/end", url.Values{}).Status)
}
