package goods

import (
	"bytes"
	"encoding/json"
	"fmt"
	"unicode/utf8"

	"github.com/shopspring/decimal"
)

// Type says what an attribute holds.
type Type string

// The types of attribute.
const (
	Number Type = "number" // with a unit that the attribute names
	Text   Type = "text"
	YesNo  Type = "yes_no"
)

// Types lists all types.
var Types = []Type{Number, Text, YesNo}

// Attribute declares one property that goods can have.
type Attribute struct {
	Name  string `json:"name"` // as rules and columns call it, such as wingspan
	Label string `json:"label,omitempty"`
	Type  Type   `json:"type"`
	Unit  string `json:"unit,omitempty"` // of a number, such as cm
}

// Value is what one of the goods has for an attribute. In JSON it is a number,
// a text, or true or false.
type Value struct {
	Type   Type
	Number decimal.Decimal
	Text   string
	Yes    bool
}

// MaxValue is the length, in characters, that a text value may have.
const MaxValue = 200

// NumberOf makes a number.
func NumberOf(n string) Value { return Value{Type: Number, Number: decimal.RequireFromString(n)} }

// TextOf makes a text.
func TextOf(s string) Value { return Value{Type: Text, Text: s} }

// YesOf makes a yes or a no.
func YesOf(yes bool) Value { return Value{Type: YesNo, Yes: yes} }

// ParseValue reads what [Value.String] writes of a value of a type.
func ParseValue(text string, of Type) (Value, error) {
	switch of {
	case Number:
		n, err := decimal.NewFromString(text)
		if err != nil || len(text) > 40 || n.Exponent() > 30 || n.Exponent() < -30 {
			return Value{}, fmt.Errorf("%q is not a number", text)
		}
		return Value{Type: Number, Number: n}, nil
	case Text:
		if text == "" || !utf8.ValidString(text) || utf8.RuneCountInString(text) > MaxValue {
			return Value{}, fmt.Errorf("%q is not a text of 1 to %d characters", text, MaxValue)
		}
		return TextOf(text), nil
	case YesNo:
		if text == YesOf(true).String() || text == YesOf(false).String() {
			return YesOf(text == YesOf(true).String()), nil
		}
		return Value{}, fmt.Errorf("%q is neither yes nor no", text)
	}
	return Value{}, fmt.Errorf("there is no type %q", of)
}

// Equal tells whether two values are the same: numbers by size, so 2 is 2.0.
func (v Value) Equal(o Value) bool {
	if v.Type != o.Type {
		return false
	}
	switch v.Type {
	case Number:
		return v.Number.Equal(o.Number)
	case YesNo:
		return v.Yes == o.Yes
	case Text:
		return v.Text == o.Text
	}
	return true
}

// String writes the value as a reader would.
func (v Value) String() string {
	switch v.Type {
	case Number:
		return v.Number.String()
	case YesNo:
		if v.Yes {
			return "yes"
		}
		return "no"
	case Text:
	}
	return v.Text
}

// MarshalJSON writes the value as a JSON scalar.
func (v Value) MarshalJSON() ([]byte, error) {
	switch v.Type {
	case Number:
		return []byte(v.Number.String()), nil
	case YesNo:
		return json.Marshal(v.Yes)
	case Text:
	}
	return json.Marshal(v.Text)
}

// UnmarshalJSON reads a JSON scalar.
func (v *Value) UnmarshalJSON(raw []byte) error {
	raw = bytes.TrimSpace(raw)
	switch {
	case len(raw) == 0:
		return fmt.Errorf("a value is missing")
	case raw[0] == '"':
		v.Type = Text
		if err := json.Unmarshal(raw, &v.Text); err != nil {
			return err
		}
		if utf8.RuneCountInString(v.Text) > MaxValue {
			return fmt.Errorf("a text of over %d characters cannot be a value", MaxValue)
		}
		return nil
	case bytes.Equal(raw, []byte("true")), bytes.Equal(raw, []byte("false")):
		v.Type, v.Yes = YesNo, raw[0] == 't'
		return nil
	}
	n, err := decimal.NewFromString(string(raw))
	if err != nil || len(raw) > 40 || n.Exponent() > 30 || n.Exponent() < -30 {
		return fmt.Errorf("%.40s is neither a number, a text, nor true or false", raw)
	}
	v.Type, v.Number = Number, n
	return nil
}

// Words are a value as one reads it: with its unit.
func (a Attribute) Words(v Value) string {
	if a.Unit != "" {
		return v.String() + " " + a.Unit
	}
	return v.String()
}
