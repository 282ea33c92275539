package typeface_test

import (
	"encoding/binary"
	"os"
	"path/filepath"
	"testing"

	"chrysagon/app/house/typeface"
	"chrysagon/core/style"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/font/gofont/goregular"
	"pgregory.net/rapid"
)

// shipped is the file of a family as its package has it.
func shipped(id string) string {
	return filepath.Join("..", "..", "..", "node_modules", "@fontsource-variable", id, "files", id+"-latin-wght-normal.woff2")
}

// The families that ship come from the package registry with their names and weights, which
// core/style says again: two tellings of one thing.
func TestTheFilesThatShipAreRead(t *testing.T) {
	for _, f := range style.Families {
		raw, err := os.ReadFile(shipped(f.ID))
		require.NoError(t, err)
		face, err := typeface.Read(raw)
		require.NoError(t, err, f.ID)
		assert.Equal(t, "woff2", face.Format)
		assert.Contains(t, face.Name, f.Name)
		assert.Equal(t, [2]int{f.Least, f.Most}, [2]int{face.Least, face.Most}, f.ID)
		assert.Regexp(t, "(?i)OFL|openfontlicense", face.Licence, f.ID)
	}
}

// Go's own typeface is a TTF file in a library that we have: its name, its one weight and its
// licence are told on go.dev/blog/go-fonts.
func TestATTFIsRead(t *testing.T) {
	face, err := typeface.Read(goregular.TTF)
	require.NoError(t, err)
	assert.Equal(t, "Go", face.Name)
	assert.Equal(t, "truetype", face.Format)
	assert.Equal(t, [2]int{400, 400}, [2]int{face.Least, face.Most})
	assert.Contains(t, face.Licence, "Copyright")
	assert.False(t, face.Serif)
}

func TestAFileThatForbidsEmbeddingIsRefused(t *testing.T) {
	raw := append([]byte(nil), goregular.TTF...)
	for i := range int(binary.BigEndian.Uint16(raw[4:])) {
		if at := 12 + i*16; string(raw[at:at+4]) == "OS/2" {
			binary.BigEndian.PutUint16(raw[binary.BigEndian.Uint32(raw[at+8:])+8:], 2)
		}
	}
	_, err := typeface.Read(raw)
	assert.ErrorContains(t, err, "must not be embedded")
}

// Whatever is cut off or changed in a file, reading it ends, and says why it does.
func TestWhatIsBrokenIsRefused(t *testing.T) {
	woff2, err := os.ReadFile(shipped("karla"))
	require.NoError(t, err)
	for _, none := range []string{"", "wOF2", "GIF89a and then some", "<svg xmlns='http://www.w3.org/2000/svg'/>"} {
		_, err := typeface.Read([]byte(none))
		require.Error(t, err, none)
	}
	rapid.Check(t, func(t *rapid.T) {
		raw := append([]byte(nil), rapid.SampledFrom([][]byte{woff2, goregular.TTF}).Draw(t, "file")...)
		raw = raw[:rapid.IntRange(4, len(raw)).Draw(t, "cut")]
		for range rapid.IntRange(0, 8).Draw(t, "changes") {
			raw[rapid.IntRange(0, min(len(raw), 400)-1).Draw(t, "at")] = rapid.Byte().Draw(t, "byte")
		}
		face, err := typeface.Read(raw)
		if err == nil {
			assert.True(t, face.Name != "" && face.Least >= 1 && face.Least <= face.Most && face.Most <= 1000)
		}
	})
}
