package pass_test

import (
	"fmt"
	"testing"
	"time"

	"chrysagon/core/pass"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func Example() {
	text := pass.Write([]byte("key"), pass.Pass{Walk: "w1", Step: "lamps", At: noon})
	p, err := pass.Read([]byte("key"), text, noon.Add(time.Hour))
	fmt.Println(p.Walk, p.Step, err)
	// Output: w1 lamps <nil>
}

// A pass that was changed in any place, signed by another key or is too old is
// refused; and it holds to the second.
func TestAForgedOrOldPassIsRefused(t *testing.T) {
	text := pass.Write([]byte("key"), pass.Pass{Walk: "w1", Step: "lamps", At: noon})
	rapid.Check(t, func(t *rapid.T) {
		i := rapid.IntRange(0, len(text)-1).Draw(t, "place")
		to := rapid.ByteRange('!', 'z').Draw(t, "sign")
		forged := text[:i] + string(to) + text[i+1:]
		p, err := pass.Read([]byte("key"), forged, noon)
		if err == nil { // the last sign of base64 may hold bits that say nothing
			assert.Equal(t, "w1", p.Walk)
			assert.True(t, forged == text || i == len(text)-1)
		}
	})
	_, err := pass.Read([]byte("other"), text, noon)
	require.ErrorIs(t, err, pass.ErrForged)
	_, err = pass.Read([]byte("key"), "", noon)
	require.ErrorIs(t, err, pass.ErrForged)
	_, err = pass.Read([]byte("key"), text, noon.Add(pass.Lasts))
	require.NoError(t, err)
	_, err = pass.Read([]byte("key"), text, noon.Add(pass.Lasts+time.Second))
	require.ErrorIs(t, err, pass.ErrOld)
}

func TestHosts(t *testing.T) {
	for address, want := range map[string]bool{
		"https://lamps.example/offer": true, "http://LAMPS.example": true, "https://lamps.example:8443/": true, "https://harbour.example:8610": true, "https://harbour.example": false,
		"https://evil.example": false, "https://lamps.example.evil.example": false, "https://notlamps.example": false, "javascript:lamps.example": false, "lamps.example": false, "": false,
	} {
		assert.Equal(t, want, pass.Listed("lamps.example\nharbour.example:8610\n", address), address)
	}
	hosts, wrong := pass.Hosts("https://Lamps.example/\n\n harbour.example:8610")
	assert.Empty(t, wrong)
	assert.Equal(t, []string{"lamps.example", "harbour.example:8610"}, hosts)
	for _, text := range []string{"*.example", "lamps.example/path", "https://", "a@b"} {
		_, wrong = pass.Hosts(text)
		assert.NotEmpty(t, wrong, text)
	}
	assert.Equal(t, "https://lamps.example/?a=1&walk=new", pass.Carry("https://lamps.example/?a=1&walk=old", "new"))
}
