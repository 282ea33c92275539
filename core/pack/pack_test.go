package pack_test

import (
	"archive/zip"
	"bytes"
	"fmt"
	"io/fs"
	"strings"
	"testing"

	"chrysagon/core/manuscript"
	"chrysagon/core/pack"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var schema = manuscript.Schema{
	"text":    {Name: "text", Fields: []manuscript.Field{{Name: "text", Type: manuscript.Rich}, {Name: "to", Type: manuscript.Link}}},
	"picture": {Name: "picture", Fields: []manuscript.Field{{Name: "picture", Type: manuscript.Picture}}},
}

func sample() pack.Package {
	return pack.Package{
		Page: pack.Page{
			Name: "Night flight", Address: "night-flight", Purpose: "sales", Title: "Ember", Pictures: []pack.Picture{{ID: "ember", File: "ember.png", Name: "Ember", Focus: &[2]int{20, 80}}},
			Names: []pack.Name{{Type: "link", ID: "about", Name: "about-us"}},
			Manuscript: manuscript.Page{Version: 1, Bands: []manuscript.Band{{ID: "a", Name: "A", Tone: manuscript.Card, Columns: []manuscript.Column{{Width: 1, Pieces: []manuscript.Piece{
				{ID: "t", Kind: "text", Fields: manuscript.Fields{"text": `<p>Fly <a href="page:about">with us</a> 🪁 שלום</p>`}}, {ID: "p", Kind: "picture", Fields: manuscript.Fields{"picture": "ember"}},
			}}}}}},
		},
		Files: map[string][]byte{"ember.png": []byte("the bytes of a picture")},
	}
}

func TestAPackageComesInAsItWentOut(t *testing.T) {
	raw, err := pack.Write(sample())
	require.NoError(t, err)
	again, err := pack.Write(sample())
	require.NoError(t, err)
	assert.Equal(t, raw, again, "the same page, the same bytes")
	got, err := pack.Read(raw, schema)
	require.NoError(t, err)
	want := sample()
	want.Page.Version = pack.Version
	assert.Equal(t, want, got)
	// The zip is one that others read (APPNOTE.TXT 6.3, by the standard library's reader).
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	require.NoError(t, err)
	assert.Equal(t, "page.json pictures/ember.png", z.File[0].Name+" "+z.File[1].Name)
}

type entry struct {
	name, content string
	mode          fs.FileMode
}

func zipped(t testing.TB, entries ...entry) []byte {
	t.Helper()
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, e := range entries {
		h := &zip.FileHeader{Name: e.name, Method: zip.Deflate}
		if e.mode != 0 {
			h.SetMode(e.mode)
		}
		w, err := z.CreateHeader(h)
		require.NoError(t, err)
		_, err = w.Write([]byte(e.content))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return out.Bytes()
}

func TestHostilePackagesAreRefusedWithTheirPlace(t *testing.T) {
	page := `{"version":1,"name":"A","address":"a","purpose":"plain","manuscript":{"version":1,"bands":[]}}`
	with := func(old, fresh string) string { return strings.Replace(page, old, fresh, 1) }
	bomb := strings.Repeat("\x00", pack.MaxPicture+10)
	var many []entry
	for i := range pack.MaxEntries + 1 {
		many = append(many, entry{name: fmt.Sprintf("pictures/%d.png", i)})
	}
	for want, entries := range map[string][]entry{
		"has no page.json":                              {},
		`"../page.json": does not belong`:               {{name: "../page.json", content: page}},
		`"/etc/passwd": does not belong`:                {{name: "/etc/passwd"}},
		`"pictures/../../x.png": does not belong`:       {{name: "pictures/../../x.png"}},
		`"pictures/.png": does not belong`:              {{name: "pictures/.png"}},
		`"pictures/a.html": does not belong`:            {{name: "pictures/a.html"}},
		`"pictures/sub/a.png": does not belong`:         {{name: "pictures/sub/a.png"}},
		`"pictures\\a.png": does not belong`:            {{name: `pictures\a.png`}},
		"is no plain file":                              {{name: "pictures/a.png", content: "/etc/passwd", mode: fs.ModeSymlink | 0o777}},
		"is in the package twice":                       {{name: "page.json", content: page}, {name: "page.json", content: page}},
		`"pictures/bomb.png": is larger than 20 MB`:     {{name: "page.json", content: page}, {name: "pictures/bomb.png", content: bomb}},
		`"page.json": is larger than 5 MB`:              {{name: "page.json", content: strings.Repeat(" ", pack.MaxJSON+1)}},
		"has 301 files":                                 many,
		`"pictures/a.png": is not named by page.json`:   {{name: "page.json", content: page}, {name: "pictures/a.png"}},
		`page.json pictures[0]: names the file "a.png"`: {{name: "page.json", content: with(`"manuscript"`, `"pictures":[{"id":"x","file":"a.png","name":"x"}],"manuscript"`)}},
		"page.json: before character":                   {{name: "page.json", content: with(`"name"`, `"surprise":1,"name"`)}},
		"page.json version: is 7":                       {{name: "page.json", content: with(`"version":1`, `"version":7`)}},
		`manuscript: bands[0].columns[0].pieces[0].kind: there is no piece of kind "applet"`: {{name: "page.json", content: with(`"bands":[]`, `"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"x","kind":"applet","fields":{}}]}]}]`)}},
		"holds more than copy may have": {{name: "page.json", content: with(`"bands":[]`, `"bands":[{"id":"a","name":"","tone":"card","columns":[{"width":1,"pieces":[{"id":"x","kind":"text","fields":{"text":"<p onclick=x>hi</p><script>alert(1)</script>"}}]}]}]`)}},
		"manuscript: own: own code":     {{name: "page.json", content: with(`"bands":[]`, `"bands":[],"own":[{"name":"x","kind":"head","text":"</script>"}]`)}},
	} {
		_, err := pack.Read(zipped(t, entries...), schema)
		require.ErrorContains(t, err, want)
	}
	_, err := pack.Read([]byte("PK\x03\x04 and no more"), schema)
	require.ErrorContains(t, err, "is no zip file")
	_, err = pack.Read(make([]byte, pack.MaxFile+1), schema)
	require.ErrorContains(t, err, "at most 80 MB fit")
}

// A zip whose directory lies about sizes is not believed.
func TestABombThatLiesAboutItsSizeIsRefused(t *testing.T) {
	raw := zipped(t, entry{name: "page.json", content: strings.Repeat(" ", pack.MaxJSON+1)})
	at := bytes.LastIndex(raw, []byte("PK\x01\x02"))
	copy(raw[at+24:], []byte{10, 0, 0, 0}) // uncompressed size in the central directory
	_, err := pack.Read(raw, schema)
	require.Error(t, err)
}

// Whatever bytes come in, they are read or refused, and nothing else happens.
func TestAnyBytesAreReadOrRefused(t *testing.T) {
	good, err := pack.Write(sample())
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		raw := bytes.Clone(good)
		for range rapid.IntRange(1, 8).Draw(t, "bites") {
			raw[rapid.IntRange(0, len(raw)-1).Draw(t, "at")] = rapid.Byte().Draw(t, "byte")
		}
		p, err := pack.Read(raw[:rapid.IntRange(0, len(raw)).Draw(t, "cut")], schema)
		if err == nil {
			require.NoError(t, schema.Validate(p.Page.Manuscript))
		}
	})
}

func TestWhatIsReferredToIsFoundUnderAnotherName(t *testing.T) {
	page := sample().Page.Manuscript
	page.Sharing.Picture = "ember"
	page.Bands[0].Look = map[string]string{"picture": "ember"}
	got := schema.Refer(page, func(of manuscript.FieldType, id string) string {
		return map[string]string{"picture ember": "e2", "link about": "a2"}[string(of)+" "+id]
	})
	assert.Equal(t, "e2", got.Sharing.Picture)
	assert.Equal(t, "e2", got.Bands[0].Look["picture"])
	piece, _ := got.Piece("t")
	assert.Equal(t, `<p>Fly <a href="page:a2">with us</a> 🪁 שלום</p>`, piece.Fields.Text("text"))
	none := schema.Refer(page, func(manuscript.FieldType, string) string { return "" })
	piece, _ = none.Piece("t")
	assert.Equal(t, `<p>Fly with us 🪁 שלום</p>`, piece.Fields.Text("text"), "a link to nowhere keeps its words")
	assert.Empty(t, none.Bands[0].Look)
	require.NoError(t, schema.Validate(none))
}
