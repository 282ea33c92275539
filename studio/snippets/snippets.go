// Package snippets is the form of one's own code, on a page or on all.
package snippets

import (
	"cmp"
	"encoding/json"
	"strings"

	"chrysagon/core/own"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// Form is the form of own code.
type Form struct {
	*frame.Frame
}

// OwnForm is the form in which own code is written: what there is, and one
// empty line more.
func OwnForm(to string, code own.Code) map[string]any {
	was, err := json.Marshal(code)
	if err != nil {
		was = []byte("null")
	}
	return map[string]any{"To": to, "Was": string(was), "Code": append(append(own.Code{}, code...), own.Snippet{Kind: own.Styles}), "Kinds": own.Kinds, "Any": len(code) > 0}
}

// askedOwn is what that form holds; what is empty is left out.
func askedOwn(c fiber.Ctx) own.Code {
	names, kinds, texts := frame.AllTyped(c, "own_name"), frame.AllTyped(c, "own_kind"), frame.AllTyped(c, "own_text")
	var code own.Code
	for i, name := range names {
		if i < len(kinds) && i < len(texts) && strings.TrimSpace(name+texts[i]) != "" {
			code = append(code, own.Snippet{Name: strings.TrimSpace(name), Kind: own.Kind(kinds[i]), Text: strings.ReplaceAll(texts[i], "\r\n", "\n")})
		}
	}
	return code
}

// SaveOwn keeps what the form holds, with what it was made from, and shows what
// it has come to.
func (f *Form) SaveOwn(c fiber.Ctx, to, said string, keep func(was, mine own.Code) (own.Code, error)) error {
	mine := askedOwn(c)
	var was own.Code
	if err := json.Unmarshal([]byte(cmp.Or(frame.Typed(c, "own_was"), "null")), &was); err != nil {
		return fiber.ErrBadRequest
	}
	code, err := keep(was, mine)
	values := OwnForm(to, code)
	if err != nil { // what was typed stays, and what it was made from
		values = OwnForm(to, mine)
		values["Was"] = frame.Typed(c, "own_was")
	}
	return f.keptOwn(c, values, err, said)
}

// keptOwn answers with the form: what was refused stays in it.
func (f *Form) keptOwn(c fiber.Ctx, values map[string]any, err error, said string) error {
	var refusal refusal.Refusal
	switch {
	case frame.AsRefusal(err, &refusal):
		values["Fault"] = refusal.Say
	case err != nil:
		return err
	default:
		values["Said"] = said
	}
	return f.Fragment(c, "own-form", values)
}
