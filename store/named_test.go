package store

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestOnlyNamesOfColumnsLoseTheirUnderscores(t *testing.T) {
	for text, want := range map[string]string{
		`[[{"a_b": "c_d", "e_f_g": {"h_i": [1, "j_k"]}, "l": null}, {"m_": []}], []]`: `[[{"ab": "c_d", "efg": {"h_i": [1, "j_k"]}, "l": null}, {"m": []}], []]`,
		`[[{"a_b": "quote \" and _ {[,", "c_d": 1}]]`:                                 `[[{"ab": "quote \" and _ {[,", "cd": 1}]]`,
		`[]`: `[]`,
	} {
		assert.Equal(t, want, string(named([]byte(text))))
	}
}
