// Package faq is questions with answers that unfold.
package faq

import (
	"embed"
	"fmt"
	"html/template"

	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the questions.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "faq", Role: m.Questions, Title: "Questions", Traits: m.Traits{Asked: true}, Fields: []m.Field{
		{Name: "items", Label: "Questions", Type: m.List, Items: []m.Field{
			{Name: "question", Label: "Question", Type: m.Line, Empty: "What do they ask?"},
			{Name: "answer", Label: "Answer", Type: m.Rich, Empty: "Answer it"},
		}},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		list := asked(c, p)
		if list == nil {
			return nil
		}
		return list
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		return pieces.Say("help-circle", "Questions", fmt.Sprintf(": %d with an answer", len(asked(c, p))))
	},
}

type question struct {
	Question string
	Answer   template.HTML
}

func asked(c *pieces.Context, p m.Piece) []question {
	var list []question
	for _, item := range p.Fields.List("items") {
		if item.Text("question") != "" && item.Text("answer") != "" {
			list = append(list, question{item.Text("question"), c.Rich(item.Text("answer"))})
		}
	}
	return list
}
