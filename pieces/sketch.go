package pieces

import "chrysagon/core/manuscript"

// Sketch is a picture of a piece in its slip: what it is made of stands in it as it will
// stand on the page, and is switched and moved there. Every switch sets one field.
type Sketch struct {
	In     Switch // how many sheets it is in
	Sheets []SketchSheet
	Beside []Switch // what stands about the sheets
	Side   string   // where the sum stands: the value of its switch
}

// SketchSheet is one sheet of it.
type SketchSheet struct {
	Title  string
	Blocks []SketchBlock
}

// SketchBlock is what stands together on a sheet and moves together.
type SketchBlock struct {
	Title    string
	Field    string // which a move sets; "": it stays where it is
	Up, Down string // to what; "": there is nothing to pass
	Boxes    []SketchBox
}

// SketchBox is one thing of a block: with a field it is switched, without it stands.
type SketchBox struct {
	Label, Says string
	State       string // of those in [Switch.Options]; "needed", "shown" and "absent" are drawn
	Switch      *Switch
}

// Switch is a field with all that it can be.
type Switch struct {
	Field, Label, Value string
	Options             []manuscript.Option
}

// Next is what one press makes of it.
func (s Switch) Next() manuscript.Option {
	for i, o := range s.Options {
		if o.Value == s.Value {
			return s.Options[(i+1)%len(s.Options)]
		}
	}
	return s.Options[0]
}

// Says is what it is now, in words.
func (s Switch) Says() string { return Label(s.Options, s.Value, "") }

// SwitchOf is the switch of a field of a piece.
func SwitchOf(k manuscript.Kind, p manuscript.Piece, name string) Switch {
	f, _ := k.Field(name)
	return Switch{Field: name, Label: f.Label, Value: Or(p.Fields.Text(name), f.Default), Options: f.Options}
}
