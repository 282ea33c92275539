// Package form asks a visitor for something: an email for something given, a
// subscription, or a message. What comes in is kept as a lead with its source.
package form

import (
	"embed"

	"chrysagon/core/compose"
	"chrysagon/core/lead"
	"chrysagon/core/mailing"
	m "chrysagon/core/manuscript"
	"chrysagon/core/target"
	"chrysagon/pieces"
)

//go:embed view.html
var files embed.FS

var kinds = []m.Option{
	{Value: string(lead.OptIn), Label: "an email, for something given"}, {Value: string(lead.Newsletter), Label: "an email, for a newsletter"}, {Value: string(lead.Message), Label: "a message to the store"},
}

// Kind declares the form.
var Kind = pieces.Kind{
	Kind: m.Kind{Name: "form", Role: m.Ask, Title: "Form", Traits: m.Traits{Pressed: true, Asks: true, Acts: true, Calls: func(f m.Fields) []m.Call {
		return []m.Call{{Says: pieces.Or(f.Text("label"), "Send"), Target: m.Here}}
	}, Mails: func(f m.Fields) bool {
		return f.Text("asks") == "message" || f.Text("gives") != "" || f.Text("list") != ""
	}}, Fields: []m.Field{
		{Name: "asks", Label: "Asks for", Type: m.Choice, Default: string(lead.OptIn), Options: kinds},
		{Name: "name", Label: "and for the name", Type: m.Choice, Default: "no", Options: []m.Option{{Value: "no", Label: "no"}, {Value: "yes", Label: "yes"}}},
		{Name: "label", Label: "Button", Type: m.Line, Empty: "Words of its button"},
		{Name: "list", Label: "and puts them on the list", Type: m.Mailing},
		{Name: "consent", Label: "Consent", Type: m.Line, Empty: "What they agree to with a tick; empty: no tick is asked"},
		{Name: "thanks", Label: "Afterwards", Type: m.Line, Empty: "What they read once it is sent"},
		{Name: "gives", Label: "hands out the file", Type: m.Link},
		{Name: "target", Label: "afterwards leads to", Type: m.Link},
	}},
	Files: files,
	View:  view,
	Tell: func(c *pieces.Context, p m.Piece) pieces.Telling {
		after := ", then says thank you"
		if l, ok := Joins(c, p); ok {
			after = ", puts them on the list “" + l.Name + "”" + after
			if l.Confirmed {
				after = ", puts them on the list “" + l.Name + "” once they confirm it by mail, then says thank you"
			}
		}
		if f, ok := c.Facts.Files[Gives(p)]; ok {
			after = ", then hands out “" + f.Name + "”, by mail too"
		}
		if _, ok := c.Href(p.Fields.Text("target")); ok {
			after = ", then leads to " + c.Leads(p.Fields.Text("target"))
		}
		return pieces.Say("mail", "Form", " asks for "+pieces.Label(kinds, string(kindOf(p)), string(lead.OptIn))+after)
	},
}

func kindOf(p m.Piece) lead.Kind {
	return lead.Kind(pieces.Or(p.Fields.Text("asks"), string(lead.OptIn)))
}

// Confirming is the subject of the mail in which somebody is asked to confirm a list.
func Confirming(from string) string { return "Please confirm: letters from " + from }

// Asked is what a form asks for, by what its piece says.
func Asked(p m.Piece) lead.Form {
	return lead.Form{Kind: kindOf(p), Name: p.Fields.Text("name") == "yes" || kindOf(p) == lead.Message, Consent: p.Fields.Text("consent")}
}

// Joins is the list that a form puts people on; false: none, or one that is gone. Who
// writes a message joins nothing by it.
func Joins(c *pieces.Context, p m.Piece) (mailing.List, bool) {
	l, ok := c.Facts.Mailings[p.Fields.Text("list")]
	return l, ok && kindOf(p) != lead.Message
}

// Gives is the ID of the file that a form hands out, or "": what is asked for a
// message hands out nothing.
func Gives(p m.Piece) string {
	to, err := target.Parse(p.Fields.Text("gives"))
	if err != nil || to.Kind != target.File || kindOf(p) == lead.Message {
		return ""
	}
	return to.Value
}

type field struct {
	lead.Field
	Value, Error, ID string
}

func view(c *pieces.Context, p m.Piece) any {
	asked := Asked(p)
	mine := c.Form.Piece == p.ID
	if mine && c.Form.Sent {
		said := map[string]any{"Sent": pieces.Or(p.Fields.Text("thanks"), "Thank you. We have it."), "Icon": c.Icon("circle-check")}
		if l, ok := Joins(c, p); ok && l.Confirmed && !c.Facts.Store.Unmailed {
			said["Asked"] = Confirming(pieces.Or(l.FromName, c.Facts.Store.Name))
		}
		if f, ok := c.Facts.Files[Gives(p)]; ok {
			said["File"] = f
			if href, leads := c.Href(p.Fields.Text("target")); leads {
				said["Next"] = href
			}
		}
		return said
	}
	var fields []field
	for _, f := range asked.Fields() {
		one := field{Field: f, ID: p.ID + "-" + f.Name}
		if mine {
			one.Value, one.Error = c.Form.Values[f.Name], c.Form.Errors[f.Name]
		}
		fields = append(fields, one)
	}
	values := map[string]any{"Piece": p.ID, "Address": c.Place.Address, "Fields": fields, "Consent": asked.Consent, "Button": pieces.Or(p.Fields.Text("label"), asked.Button()), "Proof": c.Proof, "Link": c.Form.Values["link"], "Trap": c.Composition != compose.First}
	if l, ok := Joins(c, p); ok {
		values["Agreed"] = l.Agreed()
	}
	if mine {
		values["Meant"], values["Typed"] = c.Form.Values["meant"], c.Form.Values["email"]
		values["Notice"], values["ConsentError"] = c.Form.Notice, c.Form.Errors["consent"]
		values["Ticked"] = c.Form.Values["consent"] != ""
		values["Came"] = c.Form.Values["came"]
	}
	return values
}
