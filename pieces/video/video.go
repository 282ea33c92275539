// Package video is a video of the store's own, which plays when it is asked to.
package video

import (
	"embed"

	"chrysagon/core/facts"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

// Kind declares the video.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "video", Role: m.Figure, Title: "Video", Traits: m.Traits{Silent: true}, Fields: []m.Field{
		{Name: "video", Label: "Play", Type: m.Video},
		{Name: "picture", Label: "showing until then", Type: m.Picture},
		{Name: "shape", Label: "in a frame that is", Type: m.Choice, Default: "wide", Options: []m.Option{
			{Value: "wide", Label: "wide, 16 to 9"}, {Value: "old", Label: "4 to 3"}, {Value: "square", Label: "square"}, {Value: "tall", Label: "tall, 9 to 16"},
		}},
		{Name: "name", Label: "What it shows", Type: m.Line, Empty: "Say in a line what can be seen"},
		{Name: "said", Label: "What is said in it", Type: m.Prose, Empty: "Write down what is said, for those who cannot hear it"},
	}},
	Files: files,
	View: func(c *pieces.Context, p m.Piece) any {
		clip, ok := c.Facts.Videos[p.Fields.Text("video")]
		if !ok {
			return nil
		}
		return shown{clip, c.Facts.Pictures[p.Fields.Text("picture")], pieces.Or(p.Fields.Text("shape"), "wide"), pieces.Or(p.Fields.Text("name"), clip.Name), p.Fields.Text("said")}
	},
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		clip, ok := c.Facts.Videos[p.Fields.Text("video")]
		if !ok {
			return pieces.Lack("video", "Video", "is not chosen yet")
		}
		return pieces.Say("video", "Video", " “"+clip.Name+"”")
	},
}

type shown struct {
	Video       facts.Video
	Poster      facts.Picture
	Shape       string
	Label, Said string
}
