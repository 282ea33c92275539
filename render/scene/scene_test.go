package scene_test

import (
	"bytes"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"regexp"
	"testing"

	"chrysagon/core/style"
	"chrysagon/render/scene"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// What a drawing may name: no script, no address, nothing that a browser would fetch.
var allowed = map[string]bool{"svg": true, "path": true, "rect": true, "circle": true, "ellipse": true, "g": true, "linearGradient": true, "stop": true, "pattern": true}

var tint = regexp.MustCompile(`\{[a-z-]+\}`)

func TestEverySceneIsSoundSmallAndTinted(t *testing.T) {
	assert.GreaterOrEqual(t, len(scene.All), 60)
	seen := map[string]bool{}
	for _, s := range scene.All {
		require.False(t, seen[s.Name], s.Name)
		seen[s.Name] = true
		assert.NotEmpty(t, s.Title, s.Name)
		assert.Contains(t, scene.Subjects, s.Of, s.Name)
		for _, phone := range []bool{false, true} {
			drawn := s.Draw(style.House{}, phone)
			assert.Less(t, len(drawn), 24_000, s.Name)
			assert.NotRegexp(t, tint, string(drawn), "%s names a colour that no house has", s.Name)
			assert.NotContains(t, string(drawn), "%!", s.Name)
			decoder := xml.NewDecoder(bytes.NewReader(drawn))
			for {
				token, err := decoder.Token()
				if errors.Is(err, io.EOF) {
					break
				}
				require.NoError(t, err, s.Name)
				if start, is := token.(xml.StartElement); is {
					assert.True(t, allowed[start.Name.Local], "%s draws a %s", s.Name, start.Name.Local)
				}
			}
		}
	}
	for _, of := range scene.Subjects {
		n := 0
		for _, s := range scene.All {
			if s.Of == of {
				n++
			}
		}
		assert.GreaterOrEqual(t, n, 7, of)
	}
}

// An address holds all that a drawing depends on: another house has another, and what is
// found there is what was drawn.
func TestAnAddressSaysWhatIsFoundThere(t *testing.T) {
	rose := style.House{Palette: map[string]string{"night": "#4a1530", "action": "#d06a8a"}}
	for _, s := range scene.All {
		for _, phone := range []bool{false, true} {
			path := s.Path(rose, phone)
			assert.NotEqual(t, path, s.Path(style.House{}, phone))
			found, house, small, ok := scene.Find(path)
			require.True(t, ok, path)
			assert.Equal(t, s.Name, found.Name)
			assert.Equal(t, phone, small)
			assert.Equal(t, string(s.Draw(rose, phone)), string(found.Draw(house, small)))
		}
	}
	for _, hostile := range []string{
		"/scenes/", "/scenes/lantern-night.svg", "/scenes/../x.wide.0.0.svg", "/scenes/lantern-night.wide.00000000.zz.svg",
		"/scenes/nowhere.wide.00000000.17332effffffaf7f0c8951aa93a2223705f15324d0.svg", "/scenes/lantern-night.tall.00000000.17332efffffffaf7f0c8951aa93a2223705f15324d.svg",
		"/scenes/lantern-night.wide.00000000.\"><script>ffffffaf7f0c8951aa93a2223705f15324d.svg",
	} {
		_, _, _, ok := scene.Find(hostile)
		assert.False(t, ok, hostile)
	}
}

// Words can be read on every ground that a scene says it has, in any house whose own
// colours can be read.
func TestTheWordsOfASceneAreRead(t *testing.T) {
	house := style.House{}
	for _, s := range scene.All {
		words := house.Shade("on-night")
		if s.Light {
			words = house.Colour("ink")
		}
		assert.GreaterOrEqual(t, style.Worst(words, s.Grounds(house)...), style.ForText, s.Name)
	}
}

func ExampleOf() {
	s, _ := scene.Of("lantern-night")
	fmt.Println(s.Title, "for words in ink:", s.Light)
	// Output: A lantern kite by night for words in ink: false
}
