package mailing

import (
	"slices"
	"strings"
	"unicode/utf8"

	"chrysagon/core/checkout"
	"chrysagon/core/words"
)

// Columns say in which columns of a table a person stands; -1: in none.
type Columns struct{ Email, Name, First, Last int }

// ColumnsOf finds them by what their heads say; false where no column holds addresses.
func ColumnsOf(header []string) (Columns, bool) {
	find := func(names ...string) int {
		return slices.IndexFunc(header, func(h string) bool {
			h = strings.ToLower(strings.NewReplacer("-", "", "_", " ", "\ufeff", "").Replace(strings.TrimSpace(h)))
			return slices.Contains(names, h)
		})
	}
	c := Columns{
		Email: find("email", "email address", "mail", "address", "email addresses"), Name: find("name", "full name", "contact"),
		First: find("first name", "firstname", "given name"), Last: find("last name", "lastname", "surname", "family name"),
	}
	return c, c.Email >= 0
}

// Person reads a person from a line of the table; fault says what is wrong with it.
func (c Columns) Person(fields []string) (email, name, fault string) {
	at := func(i int) string {
		if i < 0 || i >= len(fields) {
			return ""
		}
		return words.Tidy(fields[i])
	}
	email, name = at(c.Email), at(c.Name)
	if name == "" {
		name = strings.TrimSpace(at(c.First) + " " + at(c.Last))
	}
	if email == "" {
		return "", name, "There is no address in this line."
	}
	if fault := checkout.EmailFault(email); fault != "" {
		return email, name, fault
	}
	if utf8.RuneCountInString(name) > 100 {
		return email, name, "The name is longer than 100 characters."
	}
	return email, name, ""
}
