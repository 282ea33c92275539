package pack_test

import (
	"testing"

	"chrysagon/core/pack"
)

// Whatever package comes in, it is read and can be written again, or refused.
func FuzzRead(f *testing.F) {
	good, err := pack.Write(sample())
	if err != nil {
		f.Fatal(err)
	}
	for _, seed := range [][]byte{good, {}, []byte("PK\x03\x04"), good[:len(good)/2]} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		p, err := pack.Read(raw, schema)
		if err != nil {
			return
		}
		if _, err := pack.Write(p); err != nil {
			t.Fatalf("what was read cannot be written: %v", err)
		}
	})
}
