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
	for _, says := range []string{"Tue 24 Nov, 10:00", "Wed 25 Nov, 10:00", "Thu 26 Nov, 17:00", "Two bridles, one sky", "All of it comes in time.", "It begins for who joins The guide.", "by this follow-up."} {
		assert.Contains(t, page.Words(), says)
	}
	late := d.Get(d.At("/audience?at=2026-11-26T14:05")).Words()
	assert.Contains(t, late, "“Until midnight”, Sun 29 Nov, 17:00: it would come after the end.")
	for _, path := range []string{"/audience/people", "/audience/people?q=ana&did=on_list&of=the-guide", "/audience/people?did=not:spent&least=x&days=y&since=z", "/audience/lists/the-guide", "/audience/lists/new", "/audience?followup=new", "/audience/people.csv", "/pages/two-bridles", "/pages/two-bridles/proof", "/pages/two-bridles/proof?as=text"} {
		assert.Equal(t, http.StatusOK, d.Get(d.At(path)).Status, path)
	}
	assert.Less(t, d.Get(d.At("/audience/people?q=%ff&did=%27&of=%ff&did=bought&of=%ff&days=9999999999999999999")).Status, http.StatusInternalServerError)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At("/audience?followup=nothing")).Status)
	assert.NotContains(t, d.Get(d.At("/pages")).Body, "Two bridles", "letters stand in Audience")
	assert.Contains(t, d.Get(d.At("/pages/two-bridles/proof?as=text")).Body, "Ember 180")
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
	form := url.Values{"name": {"Winter line"}, "list": {list}, "letter": {id, "what-the-wind-says", ""}, "days": {"0", "one", ""}, "hours": {"", "", ""}, "clock": {"", "ten", ""}, "whom": {"", "has", ""}, "did": {"clicked", "bought:ember", ""}}
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
	shown := d.Get(d.At("/audience?followup=" + line))
	assert.Contains(t, shown.Words(), "is for who has bought “Ember 180", "it is told for whom the letter is")
	assert.NotContains(t, shown.Words(), "Not sent:")
	assert.Contains(t, shown.Words(), `<option value="bought:ember" selected>`)
	form["id"], form["did"], form["whom"] = []string{line}, []string{"", "bought:gone", ""}, []string{"", "has_not", ""}
	gone := d.Send("/audience/followups", form)
	assert.Equal(t, http.StatusUnprocessableEntity, gone.Status)
	assert.Contains(t, gone.Words(), "Choose again to whom step 2 is sent")
	assert.Contains(t, gone.Words(), `<option value="bought:gone" selected>done something that is gone`, "it is not changed unasked")
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
		{"name": {"x"}, "list": {"the-guide"}, "letter": {"two-bridles"}, "whom": {"has"}, "did": {"wrote:\x00"}}, {"name": {"x"}, "list": {"the-guide"}, "letter": {"two-bridles"}, "whom": {"'"}, "did": {"joined:'"}},
	} {
		assert.Less(t, d.Send("/audience/followups", v).Status, http.StatusInternalServerError, v)
	}
}

// A letter to all is written as a sentence that says whom it reaches and how long it takes;
// it is sent off by a press, held by another, and what cannot be is said.
func TestALetterToAllAtOnce(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	assert.Equal(t, http.StatusOK, d.Get(d.At("/audience/broadcasts/new")).Status)
	bad := d.Send("/audience/broadcasts", url.Values{"letter": {"two-bridles"}, "list": {"the-guide"}, "pace": {"fast"}})
	assert.Equal(t, http.StatusUnprocessableEntity, bad.Status)
	assert.Contains(t, bad.Words(), "Write the pace as a whole number.")
	kept := d.Send("/audience/broadcasts", url.Values{"letter": {"two-bridles"}, "list": {"the-guide"}, "segment": {"asked-never-clicked"}, "pace": {"5"}})
	require.Equal(t, http.StatusSeeOther, kept.Status)
	page := d.Get(d.At(kept.Location)).Words()
	assert.Regexp(t, `Send it to \d+ people`, page)
	assert.Regexp(t, `\d+ people, some \d+ seconds`, page)
	require.Equal(t, http.StatusSeeOther, d.Send(kept.Location, url.Values{"do": {"send"}}).Status)
	assert.Contains(t, d.Get(d.At(kept.Location)).Words(), "It goes at its moment.")
	require.Equal(t, http.StatusSeeOther, d.Send(kept.Location, url.Values{"do": {"stop"}}).Status)
	require.Equal(t, http.StatusSeeOther, d.Send(kept.Location, url.Values{"do": {"remove"}}).Status)
	assert.Equal(t, http.StatusNotFound, d.Get(d.At(kept.Location)).Status)
	assert.Equal(t, http.StatusNotFound, d.Send("/audience/broadcasts/nothing", url.Values{"do": {"send"}}).Status)
}

// People are found by a sentence whose conditions are read back as they were asked, and kept
// under a name; what cannot be read is said.
func TestPeopleByASentence(t *testing.T) {
	shop := testkit.OpenSeason(t)
	d := testkit.SignIn(t, shop)
	page := d.Get(d.At("/audience/people?did=bought&of=ember&least=&days=&since=2026-10-01&did=not:clicked&of=&least=&days=60&since="))
	assert.Contains(t, page.Words(), "who bought “Ember 180, with lantern and line” since 2026-10-01, and who clicked nothing for 60 days")
	assert.Contains(t, page.Body, `value="not:clicked" selected`)
	bad := d.Get(d.At("/audience/people?did=spent&of=&least=much&days=&since="))
	assert.Contains(t, bad.Words(), "“much” is no amount.")
	kept := d.Send("/audience/segments", url.Values{"name": {"Ember people"}, "rule": {`{"all":[{"did":"bought","of":"ember"}]}`}})
	require.Equal(t, http.StatusSeeOther, kept.Status)
	assert.Contains(t, d.Get(d.At(kept.Location)).Words(), "It is kept, and picks whoever it fits from now on.")
	assert.Contains(t, d.Get(d.At("/audience")).Words(), "Ember people")
	assert.Less(t, d.Send("/audience/segments", url.Values{"name": {"x"}, "rule": {"{"}}).Status, http.StatusInternalServerError)
	up := d.Upload("/audience/lists/the-guide/people", "file", url.Values{"look": {"1"}}, map[string]string{"people.csv": "email\nzoe@readers.example\nnobody\n"})
	assert.Contains(t, up.Words(), "It would bring 1 new person.")
	assert.Contains(t, up.Words(), "1 line cannot be taken")
}
