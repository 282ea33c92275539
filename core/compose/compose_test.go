package compose_test

import (
	"fmt"
	"slices"
	"testing"

	"chrysagon/core/compose"
	m "chrysagon/core/manuscript"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

// kinds are those of the tests: one for each role.
var kinds = func() m.Schema {
	s := m.Schema{"title": {Name: "title", Role: m.Head, Traits: m.Traits{Heads: true}, Fields: []m.Field{{Name: "level"}}}}
	for _, r := range roles {
		s["a-"+string(r)] = m.Kind{Name: "a-" + string(r), Role: r, Fields: []m.Field{{Name: "text"}, {Name: "items", Type: m.List}}}
	}
	return s
}()

var roles = []m.Role{m.Words, m.Head, m.Figure, m.Press, m.Cost, m.One, m.Goods, m.Grouped, m.Reasons, m.Voices, m.Clock, m.Table, m.Questions, m.Ask, m.Till, m.Foot, m.Notice, m.Rule}

func band(columns ...[]m.Role) m.Band {
	b := m.Band{ID: "b"}
	for _, c := range columns {
		column := m.Column{Width: 1}
		for _, r := range c {
			column.Pieces = append(column.Pieces, m.Piece{Kind: "a-" + string(r), Fields: m.Fields{}})
		}
		b.Columns = append(b.Columns, column)
	}
	return b
}

// next is the manner after (or, by -1, before) the one in which a band is set, by turns,
// as the desk's key goes through them.
func next(b m.Band, by int) compose.Manner {
	list, now := compose.Manners(kinds, b), compose.Of(kinds, b).Manner
	at := slices.IndexFunc(list, func(m compose.Manner) bool { return m.Name == now.Name })
	return list[(at+by+len(list))%len(list)]
}

func ExampleOf() {
	words, picture := []m.Role{m.Head, m.Words, m.Cost}, []m.Role{m.Figure}
	for _, b := range []m.Band{band(words, picture), band([]m.Role{m.Head, m.Goods}), band([]m.Role{m.Clock})} {
		set := compose.Of(kinds, b)
		fmt.Println(set.Family.Title+":", set.Manner.What)
	}
	// Output:
	// Offer: words and picture as their columns stand
	// Goods: one is a feature, two face each other, more stand in rows of three or four
	// Time left: large figures in the middle
}

// What a band holds says what it is.
func TestABandIsOfTheFamilyOfWhatItHolds(t *testing.T) {
	for want, held := range map[string][]m.Role{
		"notice": {m.Notice}, "offer": {m.Head, m.Cost}, "goods": {m.Head, m.Goods}, "groups": {m.Grouped}, "reasons": {m.Head, m.Reasons}, "proof": {m.Head, m.Voices},
		"story": {m.Head, m.Words, m.Voices}, "clock": {m.Clock}, "questions": {m.Head, m.Questions}, "catching": {m.Head, m.Words, m.Ask}, "till": {m.Head, m.Till},
		"table": {m.Head, m.Table}, "closing": {m.Head, m.Words, m.Press}, "footer": {m.Foot, m.Foot},
	} {
		assert.Equal(t, want, compose.Of(kinds, band(held)).Family.Name, "%v", held)
	}
	opening := band([]m.Role{m.Words, m.Ask})
	opening.Columns[0].Pieces = append(opening.Columns[0].Pieces, m.Piece{Kind: "title", Fields: m.Fields{"level": "1"}})
	assert.Equal(t, "opening", compose.Of(kinds, opening).Family.Name, "the headline says so, whatever stands beside it")
}

// Laws of every band, whatever it holds: there are three manners or more, the one it is
// set in is among them and can be named, turning on and back again ends where it began,
// and turning on and on comes to each once.
func TestEveryBandHasMannersToChooseFrom(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		var columns [][]m.Role
		for range rapid.IntRange(1, 4).Draw(t, "columns") {
			columns = append(columns, rapid.SliceOfN(rapid.SampledFrom(roles), 0, 4).Draw(t, "pieces"))
		}
		b := band(columns...)
		b.Manner = rapid.SampledFrom([]string{"", "beside", "row", "nowhere", "margin"}).Draw(t, "manner")
		list := compose.Manners(kinds, b)
		assert.GreaterOrEqual(t, len(list), 3)
		seen := map[string]bool{}
		for range list {
			now := compose.Of(kinds, b).Manner
			assert.False(t, seen[now.Name], now.Name)
			seen[now.Name] = true
			turned := next(b, 1)
			b.Manner = turned.Name
			assert.Equal(t, turned.Name, compose.Of(kinds, b).Manner.Name, "a manner that is offered is taken")
			assert.Equal(t, now.Name, next(b, -1).Name)
		}
		for _, one := range list {
			assert.True(t, seen[one.Name], one.Name)
			assert.NotEmpty(t, one.Boxes(), "%s has no sketch", one.Name)
			for _, box := range one.Boxes() {
				assert.LessOrEqual(t, box.X+box.Width, compose.SketchWidth, one.Name)
				assert.LessOrEqual(t, box.Y+box.Height, compose.SketchHeight, one.Name)
			}
		}
	})
}

// A manner that a band's family does not have is as good as none; the words stay.
func TestAMannerOfAnotherFamilyIsPassedOver(t *testing.T) {
	b := band([]m.Role{m.Clock})
	best := compose.Of(kinds, b).Manner.Name
	b.Manner = "pricelist"
	assert.Equal(t, best, compose.Of(kinds, b).Manner.Name)
	b.Manner = "line"
	assert.Equal(t, "line", compose.Of(kinds, b).Manner.Name)
}
