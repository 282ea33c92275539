// Package strict reads JSON into Go values and refuses what a lenient decoder
// lets through: members that are not known, twice there, in other case or
// missing, null, text that is not UTF-8, and anything after the value. Each
// refusal names its place as a path, such as cart[3].quantity.
//
// What a type takes is read from the type itself, by the same rules by which its
// schema is written: a member is needed unless its tag says omitempty or
// omitzero, and the tag jsonschema bounds numbers, text and lists.
package strict

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"math"
	"reflect"
	"slices"
	"strconv"
	"strings"
	"unicode/utf8"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"
)

// Scalar says what a type with a JSON of its own takes: nil, or what could stand
// there.
type Scalar func(Node) error

// Reader reads values.
type Reader struct {
	Most    int64                     // bytes
	Enums   map[reflect.Type][]string // the values of types that have few; the empty one stands for a member left out
	Scalars map[reflect.Type]Scalar
}

// Node is one JSON value.
type Node struct {
	Kind  jsontext.Kind // 'n', 't', 'f', '"', '0', '{' or '['
	Text  string        // of a string, or the digits of a number
	names []string
	nodes []Node
}

// what names a value's kind in our words.
func (n Node) what() string {
	switch n.Kind { //nolint:exhaustive // what is left is a list
	case 'n':
		return "null"
	case 't', 'f':
		return "true or false"
	case '"':
		return "text"
	case '0':
		return "a number"
	case '{':
		return "an object"
	}
	return "a list"
}

// Read reads one value.
func (r Reader) Read(in io.Reader, into any) error {
	raw, err := io.ReadAll(io.LimitReader(in, r.Most+1))
	if err != nil {
		return err
	}
	if int64(len(raw)) > r.Most {
		return fmt.Errorf("it is larger than %d bytes, which is the most that is read", r.Most)
	}
	node, err := parse(raw)
	if err != nil {
		return err
	}
	if err := r.fits(node, reflect.TypeOf(into).Elem(), "", bounds{}); err != nil {
		return err
	}
	if err := json.Unmarshal(raw, into); err != nil {
		var semantic *json.SemanticError
		if errors.As(err, &semantic) {
			return at(path(semantic.JSONPointer), "it cannot be read as what stands there")
		}
		return errors.New("it cannot be read")
	}
	return nil
}

// at puts a place before a reason. The place of the whole is left out.
func at(place, say string, args ...any) error {
	if place == "" {
		place = "standard input"
	}
	return fmt.Errorf("%s: %s", place, fmt.Sprintf(say, args...))
}

// path writes a JSON Pointer (RFC 6901) as a path.
func path(p jsontext.Pointer) string {
	var b strings.Builder
	for token := range p.Tokens() {
		if _, err := strconv.Atoi(token); err == nil {
			b.WriteString("[" + token + "]")
			continue
		}
		if b.Len() > 0 {
			b.WriteByte('.')
		}
		b.WriteString(token)
	}
	return b.String()
}

// parse reads the grammar (RFC 8259), and says in our words where it breaks.
func parse(raw []byte) (Node, error) {
	if len(bytes.TrimSpace(raw)) == 0 {
		return Node{}, at("", "it is empty; hand in one JSON value")
	}
	d := jsontext.NewDecoder(bytes.NewReader(raw))
	n, err := value(d)
	if err != nil {
		return n, broken(err, raw)
	}
	switch _, err := d.ReadToken(); {
	case errors.Is(err, io.EOF):
		return n, nil
	default:
		return n, at("", "something follows after the first JSON value, at character %d", character(raw, d.InputOffset()))
	}
}

func value(d *jsontext.Decoder) (Node, error) {
	token, err := d.ReadToken()
	if err != nil {
		return Node{}, err
	}
	n := Node{Kind: token.Kind()}
	switch n.Kind { //nolint:exhaustive // the others are their token
	case '"', '0':
		n.Text = token.String()
	case '{', '[':
		for d.PeekKind() != n.Kind+2 { // } and ] stand two behind { and [
			if n.Kind == '{' {
				name, err := d.ReadToken()
				if err != nil {
					return n, err
				}
				n.names = append(n.names, name.String())
			}
			one, err := value(d)
			if err != nil {
				return n, err
			}
			n.nodes = append(n.nodes, one)
		}
		_, err = d.ReadToken()
	}
	return n, err
}

// broken says what is wrong with the text.
func broken(err error, raw []byte) error {
	var syntax *jsontext.SyntacticError
	if !errors.As(err, &syntax) {
		if errors.Is(err, io.ErrUnexpectedEOF) || errors.Is(err, io.EOF) {
			return at("", "it ends in the middle of the JSON value")
		}
		return at("", "it is not JSON (RFC 8259)")
	}
	place := path(syntax.JSONPointer)
	switch n := character(raw, syntax.ByteOffset); {
	case errors.Is(err, jsontext.ErrDuplicateName):
		return at(place, "it stands there twice; leave one")
	case !utf8.Valid(raw):
		return at(place, "character %d is not text in UTF-8", n)
	case errors.Is(err, io.ErrUnexpectedEOF):
		return at("", "it ends in the middle of the JSON value")
	default:
		return at(place, "at character %d it is not JSON (RFC 8259)", n)
	}
}

// character counts characters from 1, not bytes.
func character(raw []byte, offset int64) int {
	return utf8.RuneCount(raw[:min(int(offset), len(raw))]) + 1
}

// fits tells whether a value can stand where a type is wanted.
func (r Reader) fits(n Node, t reflect.Type, place string, b bounds) error {
	if t.Kind() == reflect.Pointer {
		return r.fits(n, t.Elem(), place, b)
	}
	if n.Kind == 'n' {
		return at(place, "null cannot stand here; leave the member out")
	}
	if scalar := r.Scalars[t]; scalar != nil {
		if err := scalar(n); err != nil {
			return at(place, "%s", err.Error())
		}
		return nil
	}
	if values := r.Enums[t]; values != nil {
		if n.Kind != '"' {
			return at(place, "%s cannot stand here; it must be %s", n.what(), list(values))
		}
		if !slices.Contains(values, n.Text) {
			return at(place, "%q; it must be %s", n.Text, list(values))
		}
		return nil
	}
	switch t.Kind() {
	case reflect.Struct:
		return r.object(n, t, place)
	case reflect.Slice:
		if n.Kind != '[' {
			return at(place, "%s cannot stand here; it must be a list", n.what())
		}
		if err := b.size(place, len(n.nodes), "entries"); err != nil {
			return err
		}
		for i, one := range n.nodes {
			if err := r.fits(one, t.Elem(), fmt.Sprintf("%s[%d]", place, i), bounds{}); err != nil {
				return err
			}
		}
	case reflect.Map:
		if n.Kind != '{' {
			return at(place, "%s cannot stand here; it must be an object", n.what())
		}
		for i, one := range n.nodes {
			if err := r.fits(one, t.Elem(), join(place, n.names[i]), b); err != nil {
				return err
			}
		}
	case reflect.String:
		if n.Kind != '"' {
			return at(place, "%s cannot stand here; it must be text", n.what())
		}
		return b.text(place, n.Text)
	case reflect.Bool:
		if n.Kind != 't' && n.Kind != 'f' {
			return at(place, "%s cannot stand here; it must be true or false", n.what())
		}
	case reflect.Int, reflect.Int64:
		whole, err := strconv.ParseInt(n.Text, 10, 64)
		if n.Kind != '0' {
			return at(place, "%s cannot stand here; it must be a whole number", n.what())
		}
		if err != nil {
			return at(place, "%.30s; it must be a whole number, written without a point or an exponent", n.Text)
		}
		return b.number(place, whole)
	case reflect.Float64: // shares and chances; amounts are never written so
		n64, err := strconv.ParseFloat(n.Text, 64)
		if n.Kind != '0' {
			return at(place, "%s cannot stand here; it must be a number", n.what())
		}
		if err != nil || math.IsInf(n64, 0) {
			return at(place, "%.30s; that is no number that can be computed with", n.Text)
		}
		return b.real(place, n64)
	case reflect.Interface: // anything, such as the fields of a piece
	default:
		return at(place, "%s cannot stand here", n.what())
	}
	return nil
}

func join(place, name string) string {
	if place == "" {
		return name
	}
	return place + "." + name
}

// object tells whether every member is known and none is missing.
func (r Reader) object(n Node, t reflect.Type, place string) error {
	if n.Kind != '{' {
		return at(place, "%s cannot stand here; it must be an object", n.what())
	}
	these := members(t)
	for i, name := range n.names {
		j := slices.IndexFunc(these, func(m member) bool { return m.name == name })
		if j < 0 {
			return at(join(place, name), "there is no such member here; there are %s", list(names(these)))
		}
		if err := r.fits(n.nodes[i], these[j].of, join(place, name), these[j].bounds); err != nil {
			return err
		}
	}
	for _, m := range these {
		if m.needed && !slices.Contains(n.names, m.name) {
			return at(join(place, m.name), "missing")
		}
	}
	return nil
}

func list(values []string) string {
	var named []string
	for _, v := range values {
		if v != "" {
			named = append(named, v)
		}
	}
	if len(named) < 2 {
		return strings.Join(named, "")
	}
	last := len(named) - 1
	return strings.Join(named[:last], ", ") + " or " + named[last]
}
