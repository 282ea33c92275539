package people

import (
	"strings"

	"chrysagon/core/catalogue"
)

// Guarded is a row of a table, each field guarded.
func Guarded(fields []string) []string {
	for i := range fields {
		fields[i] = guard(fields[i])
	}
	return fields
}

// guard keeps a spreadsheet from taking a visitor's words for a formula. No
// number stands in this table, so a minus is one more sign that begins one.
func guard(field string) string {
	if strings.HasPrefix(field, "-") {
		return "'" + field
	}
	return catalogue.Guard(field)
}
