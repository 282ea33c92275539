package all_test

import (
	"testing"

	"chrysagon/core/compose"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces/all"
	"chrysagon/render/scene"
	"chrysagon/web"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Forty arrangements and more, each in three manners or more, each manner with a style
// sheet of its own, and all families among them.
func TestArrangementsCanBeComposedInManyManners(t *testing.T) {
	assets, err := web.Open()
	require.NoError(t, err)
	list := all.Arrangements()
	assert.GreaterOrEqual(t, len(list), 40)
	families, names := map[string]bool{}, map[string]bool{}
	for _, a := range list {
		require.False(t, names[a.Name], a.Name)
		names[a.Name] = true
		b := a.Band(schema(t), ids())
		manners := compose.Manners(schema(t), b)
		assert.GreaterOrEqual(t, len(manners), 3, a.Name)
		families[compose.Of(schema(t), b).Family.Name] = true
		sheets := map[string]string{}
		for _, manner := range manners {
			b.Manner = manner.Name
			set := compose.Of(schema(t), b)
			require.Equal(t, manner.Name, set.Manner.Name)
			places := set.Sheets()
			css := assets.Sheet("compose/" + replaced(places[len(places)-1]))
			require.NotEmpty(t, css, "%s has no style sheet %v", a.Name, places)
			assert.Empty(t, sheets[css], "%s and %s are the same", manner.Name, sheets[css])
			sheets[css] = manner.Name
		}
	}
	for _, f := range compose.Families {
		assert.True(t, families[f.Name], "no arrangement is a %s", f.Title)
	}
}

func replaced(place string) string {
	out := []byte(place)
	for i, c := range out {
		if c == '/' {
			out[i] = '.'
		}
	}
	return string(out)
}

// A template names only manners that its bands have, and scenes whose words are read there.
func TestTemplatesNameWhatThereIs(t *testing.T) {
	for _, tpl := range all.Templates() {
		for _, a := range tpl.Bands {
			b := a.Band(schema(t), ids())
			if a.Manner != "" {
				assert.Equal(t, a.Manner, compose.Of(schema(t), b).Manner.Name, "%s, %s", tpl.Name, a.Title)
			}
			if a.Scene != "" {
				s, known := scene.Of(a.Scene)
				require.True(t, known, a.Scene)
				assert.Equal(t, b.Tone != m.Night, s.Light, "%s on %s", tpl.Name, a.Scene)
			}
		}
	}
}

// No two templates begin alike.
func TestEachTemplateHasACompositionOfItsOwn(t *testing.T) {
	seen := map[string]string{}
	for _, tpl := range all.Templates() {
		var composed string
		for _, b := range tpl.Page(schema(t), ids()).Bands {
			set := compose.Of(schema(t), b)
			composed += set.Class() + " " + string(b.Tone) + " " + b.Look["scene"] + "\n"
		}
		assert.Empty(t, seen[composed], "%s is composed as %s", tpl.Name, seen[composed])
		seen[composed] = tpl.Name
	}
}
