package shelf_test

import (
	"net/url"
	"testing"

	"chrysagon/core/goods"
	"chrysagon/core/shelf"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func drawView(t *rapid.T) shelf.View {
	word := rapid.StringMatching(`[a-z0-9 &=%éß/+'"]{1,12}`)
	v := shelf.View{By: rapid.SampledFrom([]string{"", "cheap", "dear", "new", "name"}).Draw(t, "by")}
	if n := rapid.IntRange(1, shelf.MostPages).Draw(t, "page"); n > 1 {
		v.Page = n
	}
	for range rapid.IntRange(0, 3).Draw(t, "narrowings") {
		v = v.With(rapid.SampledFrom([]string{"lines", "skill", shelf.ByCategory}).Draw(t, "in"), word.Draw(t, "value")).On(v.Page)
	}
	if len(v.In) == 0 {
		v.In = nil
	}
	return v
}

// A view's address reads as the view, always the same address; what is wanted twice is let
// go.
func TestAViewIsItsAddress(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		v := drawView(t)
		query, err := url.ParseQuery(v.String())
		require.NoError(t, err)
		again := shelf.ReadView(query)
		assert.Equal(t, v.String(), again.String())
		assert.Equal(t, v.String() == "", v.Plain())
		twice := v.With("skill", "expert").With("skill", "expert")
		assert.Equal(t, v.On(0).String(), twice.String())
		assert.Equal(t, !v.Wants("skill", "expert"), v.With("skill", "expert").Wants("skill", "expert"))
	})
}

// Whatever stands in an address, it is bounded and never fails.
func TestAnAddressThatIsNoView(t *testing.T) {
	long := url.Values{"page": {"99999999999999999999"}, "by": {"'; drop"}, "in-": {"x"}, "in-lines": {"", "2", "2"}}
	for i := range 100 {
		long["in-"+string(rune('a'+i%26))+string(rune('a'+i/26))] = []string{"v"}
	}
	v := shelf.ReadView(long)
	assert.Zero(t, v.Page)
	assert.Empty(t, v.By)
	assert.LessOrEqual(t, len(v.In), 6)
	for _, page := range []string{"-1", "0", "1", "x", "1.5", "2001"} {
		assert.True(t, shelf.ReadView(url.Values{"page": {page}}).Plain(), page)
	}
	values := url.Values{}
	for i := range 100 {
		values.Add("in-lines", string(rune('0'+i)))
	}
	assert.LessOrEqual(t, len(shelf.ReadView(values).In["lines"]), 20)
}

// Narrowed by two things, a good stands on the list that has one of the values wanted of
// each; what is no value of its type picks nothing.
func TestAViewNarrows(t *testing.T) {
	attributes := map[string]goods.Attribute{"lines": {Name: "lines", Type: goods.Number}, "skill": {Name: "skill", Type: goods.Text}}
	by := []string{"lines", "skill", shelf.ByCondition}
	kite := func(lines, skill string) shelf.Entry {
		return entry("k", 100, func(e *shelf.Entry) {
			e.Attributes = map[string]goods.Value{"lines": goods.NumberOf(lines), "skill": goods.TextOf(skill)}
		})
	}
	v := shelf.View{}.With("lines", "2").With("lines", "4").With("skill", "expert")
	rule := v.Narrow(by, "", attributes)
	for _, c := range []struct {
		lines, skill string
		stands       bool
	}{{"2", "expert", true}, {"4.0", "expert", true}, {"1", "expert", false}, {"2", "beginner", false}} {
		assert.Equal(t, c.stands, rule.Meets(kite(c.lines, c.skill), shelf.Sight{}), c)
	}
	assert.True(t, v.Narrow(by, "skill", attributes).Meets(kite("2", "beginner"), shelf.Sight{}), "but for one")
	assert.False(t, shelf.View{}.With("lines", "two").Narrow(by, "", attributes).Meets(kite("2", "expert"), shelf.Sight{}))
	assert.True(t, shelf.View{}.With("colour", "red").Narrow(by, "", attributes).Meets(kite("2", "expert"), shelf.Sight{}), "what the owner does not narrow by narrows nothing")
	assert.True(t, shelf.View{}.With(shelf.ByCondition, "new").Narrow(by, "", attributes).Meets(kite("2", "expert"), shelf.Sight{}))
}
