package store

import (
	"strings"
)

// Pattern turns what was typed into a pattern for LIKE.
func Pattern(text string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(strings.TrimSpace(text)) + "%"
}
