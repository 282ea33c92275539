package catalogue_test

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"strings"
	"testing"

	"chrysagon/core/catalogue"
	"chrysagon/core/goods"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/text/encoding/charmap"
	"pgregory.net/rapid"
)

var attributes = []goods.Attribute{{Name: "wingspan", Label: "Wingspan", Type: goods.Number, Unit: "cm"}, {Name: "skill", Label: "Skill", Type: goods.Text}, {Name: "indoor", Label: "Indoor", Type: goods.YesNo}}

func read(t testing.TB, raw []byte) (rows []catalogue.Row, faults []catalogue.Fault, s *catalogue.Sheet) {
	t.Helper()
	s, err := catalogue.Open(raw)
	require.NoError(t, err)
	s.Attributes = attributes
	var m catalogue.Mapping
	for _, match := range catalogue.Guess(s.Header, attributes) {
		m = append(m, match.Column)
	}
	require.NoError(t, s.Rows(m, "EUR", func(r catalogue.Row) { rows = append(rows, r) }, func(f catalogue.Fault) { faults = append(faults, f) }))
	return rows, faults, s
}

// RFC 4180, section 2: quotes, doubled quotes, line breaks and separators
// inside quotes, CRLF or LF, the last line with or without a break.
func TestTheGrammarOfRFC4180(t *testing.T) {
	rows, faults, _ := read(t, []byte("sku,name,price\r\nA,\"Ember, \"\"the\nlit one\"\"\",68.00\r\nB,Gull,29"))
	assert.Empty(t, faults)
	assert.Equal(t, "Ember, \"the\nlit one\"", rows[0].Name)
	assert.Equal(t, int64(2900), rows[1].Price)
}

func TestWhatSpreadsheetsWriteIsRecognised(t *testing.T) {
	latin, err := charmap.Windows1252.NewEncoder().String("SKU;Bezeichnung;Preis\nA;Flügel für Böen – 12 €;1.234,50 €\n")
	require.NoError(t, err)
	for name, c := range map[string]struct{ raw, encoding, name string }{
		"semicolons, decimal commas, Windows-1252": {latin, "Windows-1252", "Flügel für Böen – 12 €"},
		"a mark at the start":                      {"\ufeffsku,name,price\nA,Flügel,\"1,234.50\"\n", "UTF-8 with mark", "Flügel"},
		"tabs":                                     {"sku\tname\tprice\nA\tFlügel\t1234.5\n", "UTF-8", "Flügel"},
		"any order, other words, a slip":           {"Retail Price,Artcle Number,Title\n1234.50,A,Flügel\n", "UTF-8", "Flügel"},
		"quoted decimal commas between commas":     {"sku,name,price\nA,Flügel,\"1.234,50\"\nB,x,\"7,5\"\n", "UTF-8", "Flügel"},
		"thousands in spaces":                      {"sku;name;price\nA;Flügel;1 234,50\n", "UTF-8", "Flügel"},
	} {
		rows, faults, s := read(t, []byte(c.raw))
		require.Empty(t, faults, name)
		require.NotEmpty(t, rows, name)
		assert.Equal(t, c.encoding, s.Encoding, name)
		assert.Equal(t, "A", rows[0].SKU, name)
		assert.Equal(t, c.name, rows[0].Name, name)
		assert.Equal(t, int64(123450), rows[0].Price, name)
	}
}

func TestEachFaultyLineHasItsReason(t *testing.T) {
	_, faults, _ := read(t, []byte(`sku,name,price,stock,condition,received,wingspan,indoor
A,Kite,twelve,1,new,2026-01-01,180,yes
,Kite,1,1,new,,,
B,Kite,1.999,1,new,,,
C,Kite,-1,1,new,,,
D,Kite,1,1.5,new,,,
E,Kite,1,1,broken,,,
F,Kite,1,1,new,13/14/26,,
G,Kite,1,1,new,,wide,
H,Kite,1,1,new,,,maybe
I,Kite,1,1,new,,,,too many
J,,1,1,new,,,
K,Kite,"1,23,4",1,new,,,
L,Kite,1,1,new,,180 cm,no
`))
	var got []string
	for _, f := range faults {
		got = append(got, fmt.Sprintf("%d %s", f.Line, f.Column))
	}
	assert.Equal(t, []string{"2 price", "3 sku", "4 price", "5 price", "6 stock", "7 condition", "8 received", "9 wingspan", "10 indoor", "11 ", "12 name", "13 price"}, got)
	assert.Equal(t, "has more digits after the point than EUR", faults[2].Reason)
}

func TestGarbageIsRefused(t *testing.T) {
	for want, raw := range map[string]string{
		"empty": " \n ", "binary characters": "PK\x03\x04\x00\x00", "only one column": "hello\nworld\n",
	} {
		_, err := catalogue.Open([]byte(raw))
		assert.ErrorContains(t, err, want)
	}
	s, err := catalogue.Open([]byte("name,price\nKite,1\n"))
	require.NoError(t, err)
	err = s.Rows(catalogue.Mapping{"name", "price"}, "EUR", func(catalogue.Row) {}, func(catalogue.Fault) {})
	assert.ErrorContains(t, err, "no column is the SKU")
	rapid.Check(t, func(t *rapid.T) { // whatever the bytes, it ends without panic
		if s, err := catalogue.Open(rapid.SliceOf(rapid.Byte()).Draw(t, "bytes")); err == nil {
			m := make(catalogue.Mapping, len(s.Header))
			m[0] = catalogue.SKU
			_ = s.Rows(m, "EUR", func(catalogue.Row) {}, func(catalogue.Fault) {})
		}
	})
}

func TestTooManyRowsAreRefused(t *testing.T) {
	s, err := catalogue.Open([]byte("sku,name\n" + strings.Repeat("A,Kite\n", catalogue.MaxRows+1)))
	require.NoError(t, err)
	err = s.Rows(catalogue.Mapping{"sku", "name"}, "EUR", func(catalogue.Row) {}, func(catalogue.Fault) {})
	assert.ErrorContains(t, err, "more than 500000 rows")
}

// What is written comes back in unchanged.
func TestRoundTrip(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringMatching(`[A-Za-zäé=+@'",;. -]{0,12}[a-z]`)
		row := catalogue.Row{
			SKU: rapid.StringMatching(`[A-Z0-9-]{1,10}`).Draw(t, "sku"), Product: "p", Name: strings.TrimSpace(text.Draw(t, "name")), Label: strings.TrimSpace(text.Draw(t, "label")),
			Form: goods.Digital, Category: strings.TrimSpace(text.Draw(t, "category")), Tags: []string{"night", "gift"}, Price: rapid.Int64Range(0, 1e12).Draw(t, "price"),
			Stock: rapid.IntRange(0, 1e6).Draw(t, "stock"), Condition: goods.Returned, Received: "2026-02-03", TaxClass: "reduced", Perishable: rapid.Bool().Draw(t, "perishable"),
			Attributes: map[string]goods.Value{"wingspan": goods.NumberOf("180.5"), "skill": goods.TextOf("expert"), "indoor": goods.YesOf(false)},
		}
		if rapid.Bool().Draw(t, "cost") {
			cost := rapid.Int64Range(0, 1e6).Draw(t, "minor")
			row.Cost = &cost
		}
		var out bytes.Buffer
		w := csv.NewWriter(&out)
		require.NoError(t, w.Write(catalogue.Header(attributes)))
		fields := row.Fields("EUR", attributes)
		for i := range fields {
			fields[i] = catalogue.Guard(fields[i])
		}
		require.NoError(t, w.Write(fields))
		w.Flush()
		s, err := catalogue.Open(out.Bytes())
		require.NoError(t, err)
		s.Attributes = attributes
		var m catalogue.Mapping
		for _, match := range catalogue.Guess(s.Header, attributes) {
			require.True(t, match.Sure)
			m = append(m, match.Column)
		}
		var back []catalogue.Row
		require.NoError(t, s.Rows(m, "EUR", func(r catalogue.Row) { back = append(back, r) }, func(f catalogue.Fault) { t.Fatalf("%+v in %q", f, out.String()) }))
		require.Len(t, back, 1)
		back[0].Line, back[0].Set = 0, nil
		for name, v := range row.Attributes {
			require.True(t, v.Equal(back[0].Attributes[name]))
		}
		back[0].Attributes = row.Attributes
		require.Equal(t, row, back[0])
	})
}

// In a row of people's own words a minus begins a formula too.
func TestPeoplesWordsAreNoFormula(t *testing.T) {
	assert.Equal(t, []string{"'-1+1", "'=1+1", "'@x", "Ana", ""}, catalogue.Guarded([]string{"-1+1", "=1+1", "@x", "Ana", ""}))
}
