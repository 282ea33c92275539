package catalogue_test

import (
	"testing"

	"chrysagon/core/catalogue"
)

// Whatever file comes in, it is read to its end or refused: no row panics, a stray
// quote in the first column least of all.
func FuzzOpen(f *testing.F) {
	for _, seed := range []string{"sku,name,price\nKITE-1,Kite,68.00\n", "sku;name;price\n\"KITE-1;Kite;68,00\n", "sku,name\n\"x\"y,z\n", "\ufeffsku\tname\nA\tB\n", "a,b\n\xff,\x00\n", "name,price\n\"\n"} {
		f.Add([]byte(seed))
	}
	f.Fuzz(func(t *testing.T, raw []byte) {
		s, err := catalogue.Open(raw)
		if err != nil {
			return
		}
		m := make(catalogue.Mapping, len(s.Header))
		for i, match := range catalogue.Guess(s.Header, nil) {
			m[i] = match.Column
		}
		_ = s.Rows(m, "EUR", func(catalogue.Row) {}, func(catalogue.Fault) {})
	})
}

// One stray quote in the first column is that line's fault and nobody else's.
func TestAStrayQuoteIsItsLinesFault(t *testing.T) {
	s, err := catalogue.Open([]byte("sku,name,price\nKITE-1,Kite,68.00\n\"KITE-2,Gull,29.00\n"))
	if err != nil {
		t.Fatal(err)
	}
	rows, faults := 0, 0
	if err := s.Rows(catalogue.Mapping{"sku", "name", "price"}, "EUR", func(catalogue.Row) { rows++ }, func(catalogue.Fault) { faults++ }); err != nil {
		t.Fatal(err)
	}
	if rows != 1 || faults != 1 {
		t.Fatalf("%d rows and %d faults", rows, faults)
	}
}
