package selling

import (
	"encoding/json"
	"errors"
	"strings"

	"chrysagon/core/address"
	rules "chrysagon/core/checkout"
	"chrysagon/store"
)

// wrote puts what a buyer wrote where an order has it: who they are, where it goes, who
// pays, and what was asked besides, each in the words in which it was asked.
func wrote(o *store.Order, fields []rules.Field, values map[string]string) error {
	place, payer, said := map[string]string{}, map[string]string{}, []store.Said{}
	for _, f := range fields {
		v, written := values[f.Name]
		switch {
		case !written || f.Folded || f.Name == "name" || f.Name == "email" || f.Opens != "":
		case f.Apart:
			payer[strings.TrimPrefix(f.Name, "payer_")] = v
		case f.Block == rules.Where:
			place[f.Name] = v
		case v != "":
			said = append(said, store.Said{Name: f.Name, Asks: f.Label, Says: v})
		}
	}
	if place[string(address.Street)] != "" && values["company"] != "" {
		place[string(address.Company)] = values["company"] // it stands on the parcel
	}
	var errs [3]error
	o.Name, o.Email = values["name"], values["email"]
	o.Address, errs[0] = json.Marshal(place)
	o.Payer, errs[1] = json.Marshal(payer)
	o.Said, errs[2] = json.Marshal(said)
	return errors.Join(errs[:]...)
}
