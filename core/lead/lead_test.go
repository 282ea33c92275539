package lead_test

import (
	"strings"
	"testing"

	"chrysagon/core/lead"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestFormsAskForLittle(t *testing.T) {
	assert.Len(t, lead.Form{Kind: lead.OptIn}.Fields(), 1, "an email is enough")
	assert.Len(t, lead.Form{Kind: lead.Message, Name: true}.Fields(), 3)
	for _, k := range []lead.Kind{lead.OptIn, lead.Newsletter, lead.Message} {
		assert.NotEmpty(t, lead.Form{Kind: k}.Button())
	}
}

func TestWhatIsWrongIsSaidByField(t *testing.T) {
	f := lead.Form{Kind: lead.Message, Name: true, Consent: "You may answer me."}
	_, faults := f.Read(map[string]string{"email": "ines@", "message": strings.Repeat("x", 5001)})
	assert.Contains(t, faults["name"], "Please write your name")
	assert.NotEmpty(t, faults["email"])
	assert.Contains(t, faults["message"], "too long")
	assert.Contains(t, faults["consent"], "nothing is sent without it")
	values, faults := f.Read(map[string]string{"name": " Inês  Prado ", "email": "ines@example.org", "message": "Two\nlines", "consent": "1", "is_admin": "1"})
	assert.Empty(t, faults)
	assert.Equal(t, map[string]string{"name": "Inês Prado", "email": "ines@example.org", "message": "Two\nlines", "consent": "You may answer me."}, values)
}

// Nothing that was not asked for comes through, and what comes through is
// readable text of a bounded length.
func TestOnlyWhatWasAskedComesThrough(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := lead.Form{Kind: rapid.SampledFrom([]lead.Kind{lead.OptIn, lead.Newsletter, lead.Message}).Draw(t, "kind"), Name: rapid.Bool().Draw(t, "name")}
		typed := rapid.MapOf(rapid.SampledFrom([]string{"email", "name", "message", "role", "consent"}), rapid.String()).Draw(t, "typed")
		values, faults := f.Read(typed)
		asked := map[string]int{}
		for _, field := range f.Fields() {
			asked[field.Name] = field.Most
		}
		for name, value := range values {
			most, ok := asked[name]
			assert.True(t, ok, name)
			if faults[name] == "" {
				assert.LessOrEqual(t, len([]rune(value)), most)
				assert.NotEmpty(t, value)
			}
		}
	})
}
