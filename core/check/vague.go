package check

import (
	"fmt"
	"strings"
)

// sayNothing are the words of calls that do not tell what follows: read out of their
// place, as a list of links is, nobody knows where they lead (WCAG 2.2, 2.4.4 and 2.4.9).
// Which words those are is common practice, no source.
var sayNothing = map[string]bool{
	"here": true, "click": true, "click here": true, "press here": true, "more": true, "read more": true, "learn more": true, "find out more": true,
	"this": true, "link": true, "submit": true, "ok": true, "go": true, "continue": true,
}

// vague finds calls to action that do not say what follows.
func vague(p Page) []Finding {
	var out []Finding
	for _, c := range Calls(p) {
		words := strings.ToLower(strings.Trim(strings.TrimSpace(c.Says), " .!…→>»"))
		if sayNothing[words] {
			out = append(out, Finding{What: fmt.Sprintf("“%s” does not say what follows.", c.Says), Remedy: "Say what the reader gets, such as “Send me my lantern kite”.", PieceID: c.PieceID, Gravity: Notice})
		}
	}
	return out
}
