package checkout

import (
	"strconv"
	"strings"

	rules "chrysagon/core/checkout"
	"chrysagon/core/facts"
	"chrysagon/core/mailing"
	m "chrysagon/core/manuscript"
	"chrysagon/pieces"
)

// Form is what a checkout asks, by what its piece says.
func Form(fields m.Fields) rules.Form {
	says := func(name string) rules.Asks { return rules.Asks(fields.Text(name)) }
	parts, err := strconv.Atoi(pieces.Or(fields.Text("parts"), "1"))
	if err != nil {
		parts = 1
	}
	f := rules.Form{
		Parts: parts, Name: says("name"), Phone: says("phone"), Company: says("company"), Extra: says("extra"), Payer: says("payer"), Tax: says("tax"),
		Note: says("note"), Consent: fields.Text("consent"), Address: says("address"),
	}
	if f.Address == "sent" {
		f.Address = ""
	}
	for _, b := range strings.Fields(fields.Text("order")) {
		f.Before = append(f.Before, rules.Block(b))
	}
	for _, item := range fields.List("questions") {
		if item.Text("says") == "" {
			continue
		}
		q := rules.Question{Says: item.Text("says"), Kind: rules.Kind(item.Text("kind")), Asks: rules.Asks(item.Text("asks"))}
		for option := range strings.SplitSeq(item.Text("options"), "/") {
			if option = strings.TrimSpace(option); option != "" {
				q.Options = append(q.Options, option)
			}
		}
		if q.Kind == rules.Choice && len(q.Options) == 0 {
			q.Kind = rules.Words // nothing could be chosen
		}
		f.Questions = append(f.Questions, q)
	}
	return f
}

// Agreeing are the words beside the tick by which a buyer joins a list: the owner's, with
// what the list itself says of it.
func Agreeing(words string, l mailing.List) string {
	return pieces.Or(words, "Write to me.") + " " + l.Agreed()
}

// For is what a form is filled in for, where what is bought travels or not.
func For(f facts.Facts, travels bool) rules.Sale {
	return rules.Sale{Sent: travels, Sends: SendsTo(f), Home: f.Store.Country, Unmailed: f.Store.Unmailed}
}

// SendsTo tells where the store sends.
func SendsTo(f facts.Facts) rules.Sends {
	if f.Shipping == nil {
		return nil
	}
	return func(code string) bool {
		_, ok := f.Shipping.Zone(code)
		return ok
	}
}
