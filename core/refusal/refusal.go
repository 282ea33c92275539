// Package refusal is how something is turned down: with a sentence for the person at the screen.
package refusal

import (
	"errors"
	"fmt"
	"strings"
)

// Kinds of refusal. The edge turns each into a page, a fragment or a problem
// document; the error's text is the sentence shown.
var (
	ErrNotFound = errors.New("not found")
	ErrInvalid  = errors.New("invalid")
	ErrConflict = errors.New("conflict")
	ErrRefused  = errors.New("refused")
	ErrTooMany  = errors.New("too many tries")
	ErrGone     = errors.New("gone") // it was here, and is not any more
)

// Refusal is an error whose text is meant for the person at the screen.
type Refusal struct {
	Kind error
	Say  string
}

func (r Refusal) Error() string { return r.Say }

func (r Refusal) Unwrap() error { return r.Kind }

// Of turns something down with a sentence.
func Of(kind error, say string, args ...any) error {
	return Refusal{Kind: kind, Say: fmt.Sprintf(say, args...)}
}

// As is the sentence of a refusal, "" of any other error.
func As(err error) string {
	var r Refusal
	if errors.As(err, &r) {
		return r.Say
	}
	return ""
}

// Sentence makes a sentence of an error's text.
func Sentence(err error) string {
	text := err.Error()
	return strings.ToUpper(text[:1]) + text[1:] + "."
}

// CutPlace parts an error's text into its field and the reason.
func CutPlace(text string) (field, say string) {
	field, say, found := strings.Cut(text, ": ")
	if !found {
		return "name", text + "."
	}
	return field, strings.ToUpper(say[:1]) + say[1:] + "."
}
