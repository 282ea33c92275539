package offers

import (
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/offers"
	"chrysagon/core/offer"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// asked is a member as the form asks it: once, for all kinds that have it.
type asked struct {
	offer.Member
	Kinds  string // all that ask it, as data-for reads them
	Labels []label
}

// label is what some kinds call a member.
type label struct{ Words, Kinds string }

// members lists every member of every kind once, in the order of the kinds.
var members = func() []asked {
	var out []asked
	for _, k := range offer.Kinds() {
		for _, m := range k.Members() {
			i := slices.IndexFunc(out, func(a asked) bool { return a.Name == m.Name })
			if i < 0 {
				i, out = len(out), append(out, asked{Member: m})
			}
			out[i].add(k, m.Label)
		}
	}
	return out
}()

func (a *asked) add(k offer.Kind, words string) {
	a.Kinds = strings.TrimSpace(a.Kinds + " " + string(k))
	i := slices.IndexFunc(a.Labels, func(l label) bool { return l.Words == words })
	if i < 0 {
		i, a.Labels = len(a.Labels), append(a.Labels, label{Words: words})
	}
	a.Labels[i].Kinds = strings.TrimSpace(a.Labels[i].Kinds + " " + string(k))
}

// kindsThat lists kinds as data-for and data-not read them.
func kindsThat(is func(offer.Kind) bool) string {
	var out []string
	for _, k := range offer.Kinds() {
		if is(k) {
			out = append(out, string(k))
		}
	}
	return strings.Join(out, " ")
}

// counting is what the name of a field begins with in which a quantity of one
// of the goods is typed.
const counting = "of-"

// typedMembers reads what was typed for the members of all kinds: what another
// kind asks is kept too, while the form is open.
func typedMembers(c fiber.Ctx) map[string]string {
	out := map[string]string{}
	for _, a := range members {
		if a.Entry != offer.Counted {
			out[a.Name] = frame.Typed(c, a.Name)
			continue
		}
		var some []string
		for name, typed := range c.Request().PostArgs().All() {
			id, is := strings.CutPrefix(string(name), counting+a.Name+"-")
			if n, err := strconv.Atoi(strings.TrimSpace(string(typed))); is && err == nil && n > 0 {
				some = append(some, fmt.Sprintf("%s×%d", id, n))
			}
		}
		out[a.Name] = strings.Join(some, ", ")
	}
	return out
}

// read is the offer that is typed, as far as it can be read.
func read(in offers.OfferInput, currency string) offer.Offer {
	o := offer.Offer{Kind: offer.Kind(in.Kind)}
	for _, m := range o.Kind.Members() {
		m.Read(&o, in.Members[m.Name], currency)
	}
	return o
}

// counted are the goods that the kind being typed counts, each with its quantity.
func counted(in offers.OfferInput) map[string]int {
	out := map[string]int{}
	for _, m := range offer.Kind(in.Kind).Members() {
		if m.Entry == offer.Counted {
			maps.Insert(out, offer.EachCounted(in.Members[m.Name]))
		}
	}
	return out
}

// counts are goods with quantities as they are typed in one member.
func counts(typed string) map[string]int { return maps.Collect(offer.EachCounted(typed)) }
