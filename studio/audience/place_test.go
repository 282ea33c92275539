package audience_test

import (
	"net/http"
	"net/url"
	"testing"

	"chrysagon/internal/testkit"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The place shows each letter of the line with its day, and what came of it.
func TestTheLineIsDrawnWithItsDays(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	page := d.Get(d.At("/audience?at=2026-11-23T14:05"))
	require.Equal(t, http.StatusOK, page.Status)
	for _, says := range []string{"Tue 24 Nov, 10:00", "Wed 25 Nov, 10:00", "Thu 26 Nov, 17:00", "Two bridles, one sky", "All of it comes in time.", "Whoever joins The guide begins it.", "by this follow-up."} {
		assert.Contains(t, page.Words(), says)
	}
	late := d.Get(d.At("/audience?at=2026-11-26T14:05")).Words()
	assert.Contains(t, late, "“Until midnight”, Sun 29 Nov, 17:00: it would come after the end.")
	for _, path := range []string{"/audience/people", "/audience/people?q=ana&list=the-guide", "/audience/lists/the-guide", "/audience/lists/new", "/audience?followup=new", "/audience/people.csv", "/pages/two-bridles", "/pages/two-bridles/proof", "/pages/two-bridles/proof?plain=1"} {
		assert.Equal(t, http.StatusOK, d.Get(d.At(path)).Status, path)
	}
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/audience?followup=nothing")).Status)
	assert.NotContains(t, d.Get(d.At("/pages")).Body, "Two bridles", "letters stand in Audience")
	assert.Contains(t, d.Get(d.At("/pages/two-bridles/proof?plain=1")).Body, "Ember 180")
}

// A newcomer makes a list for a form, letters, and a line; what cannot be is said, and
// nothing that was typed is lost.
func TestFromNothingToALine(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	bad := d.Send("/audience/lists", url.Values{"name": {"Winter"}, "confirmed": {"1"}, "tells": {"never"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	assert.Contains(t, bad.Words(), "Say in one sentence why they get your letters")
	assert.Contains(t, bad.Body, `value="Winter"`)
	made := d.Send("/audience/lists", url.Values{"name": {"Winter"}, "why": {"You asked for winter news."}, "confirmed": {"1"}, "tells": {"never"}, "into": {"seven-knots/k-form/list"}})
	require.Equal(t, http.StatusSeeOther, made.Status)
	assert.Equal(t, "/pages/seven-knots", made.Location)
	assert.Equal(t, int64(1), shop.Number("SELECT count(*) FROM pages p, lists l WHERE p.id = 'seven-knots' AND l.name = 'Winter' AND p.manuscript::text LIKE '%\"list\": \"' || l.id || '\"%'"))

	letter := d.Send("/audience/letters", url.Values{"name": {"First snow"}, "template": {"mail-useful"}})
	require.Equal(t, http.StatusSeeOther, letter.Status)
	assert.Contains(t, d.Get(d.At(letter.Location)).Words(), "One thing worth knowing")
	assert.Contains(t, d.Get(d.At("/publish")).Words(), "First snow")

	var list string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM lists WHERE name = 'Winter'").Scan(&list).Error)
	id := letter.Location[len("/pages/"):]
	form := url.Values{"name": {"Winter line"}, "list": {list}, "letter": {id, "what-the-wind-says", ""}, "days": {"0", "one", ""}, "hours": {"", "", ""}, "clock": {"", "ten", ""}, "only": {"", "", ""}}
	bad = d.Send("/audience/followups", form)
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	assert.Contains(t, bad.Words(), "“one” is no whole number.")
	assert.Contains(t, bad.Words(), "“ten” is no time of the day; write it as 10:00.")
	assert.Contains(t, bad.Body, `value="Winter line"`)
	form["days"], form["clock"] = []string{"0", "1", ""}, []string{"", "10:00", ""}
	kept := d.Send("/audience/followups", form)
	require.Equal(t, http.StatusSeeOther, kept.Status)
	var line string
	require.NoError(t, shop.Store.DB.Raw("SELECT id FROM followups WHERE name = 'Winter line'").Scan(&line).Error)
	refused := d.Send("/audience/followups/"+line+"/begins", url.Values{"on": {"1"}})
	assert.Equal(t, http.StatusUnprocessableEntity, refused.Status)
	assert.Contains(t, refused.Words(), "“First snow” is not published yet.")
	assert.Equal(t, http.StatusSeeOther, d.Send("/audience/followups/"+line+"/remove", url.Values{}).Status)
	assert.Equal(t, http.StatusNotFound, d.Send("/audience/followups/"+line+"/remove", url.Values{}).Status)
}

// Whatever is typed for a line is kept or refused with a sentence; nothing breaks.
func TestHostileLines(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	for _, v := range []url.Values{
		{}, {"name": {"x"}}, {"name": {"\xff\x00"}, "list": {"the-guide"}}, {"name": {"x"}, "list": {"nothing"}, "letter": {"nothing"}},
		{"name": {"x"}, "list": {"the-guide"}, "letter": {"two-bridles"}, "days": {"99999999999999999999"}}, {"name": {"x"}, "list": {"the-guide"}, "deadline": {"nothing"}},
		{"name": {"x"}, "list": {"the-guide"}, "from": {"20:00"}, "to": {"8:00"}}, {"id": {"nothing"}, "name": {"x"}, "list": {"the-guide"}},
	} {
		assert.Less(t, d.Send("/audience/followups", v).Status, http.StatusInternalServerError, v)
	}
}
