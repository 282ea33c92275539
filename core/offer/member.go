package offer

import (
	"cmp"
	"fmt"
	"iter"
	"strconv"
	"strings"

	"chrysagon/core/money"

	"github.com/shopspring/decimal"
)

// Entry says how a member of an offer is typed.
type Entry string

// The ways of typing.
const (
	Percentage Entry = "percentage" // 25, or 12.5
	Sum        Entry = "sum"        // an amount in the store's currency
	Whole      Entry = "whole"      // a whole number
	Ladder     Entry = "ladder"     // 3: 10%, 6: 20%
	OneOf      Entry = "one"        // the ID of one of the goods
	Counted    Entry = "counted"    // some of the goods, each with a quantity: ember×1, line-30×2
)

// Member is one thing that an offer says of what it does, as a form asks it.
type Member struct {
	Name     string // as in JSON
	Label    string // the words before it
	Hint     string // what stands in the empty field
	Entry    Entry
	Optional bool // may be left empty
	Positive bool // never zero, where it is typed

	has   func(o *Offer) bool
	read  func(o *Offer, typed, currency string) (wrong string)
	write func(o Offer) string
	goods func(o Offer) []string // those that it names
	none  string                 // what is said where it names none that there are
}

// or is the member as another kind asks it: with other words, and not always.
func (m Member) or(label string) Member {
	m.Label, m.Optional = label, true
	return m
}

// Read takes what was typed into the offer. What is wrong comes back as a
// sentence, or "".
func (m Member) Read(o *Offer, typed, currency string) string {
	typed = strings.TrimSpace(typed)
	if typed == "" && m.Optional {
		return ""
	}
	return m.read(o, typed, currency)
}

// Write is what would be typed for the offer: the inverse of [Member.Read].
func (m Member) Write(o Offer) string {
	if !m.has(&o) {
		return ""
	}
	return m.write(o)
}

// Goods are the goods that the member names, by their ID.
func (m Member) Goods(o Offer) []string {
	if m.goods == nil {
		return nil
	}
	return m.goods(o)
}

// None is what is said where the member names none of the goods there are.
func (m Member) None() string { return m.none }

// every lists all members once, each with the words of the first kind that asks it.
var every = func() []Member {
	var out []Member
	seen := map[string]bool{}
	for _, r := range listed {
		for _, m := range r.members {
			if !seen[m.Name] {
				seen[m.Name] = true
				out = append(out, m)
			}
		}
	}
	return out
}()

var percentMember = Member{
	Name: "percent", Label: "percent", Entry: Percentage, Positive: true,
	has: func(o *Offer) bool { return !o.Percent.IsZero() },
	read: func(o *Offer, typed, _ string) string {
		p, err := decimal.NewFromString(strings.Replace(strings.TrimSpace(strings.TrimSuffix(typed, "%")), ",", ".", 1))
		if err != nil || !p.IsPositive() || p.GreaterThan(decimal.NewFromInt(100)) || p.Exponent() < -4 {
			return "Write a percentage above 0 and at most 100, such as 25."
		}
		o.Percent = p
		return ""
	},
	write: func(o Offer) string { return o.Percent.String() },
}

// amountMember is an amount of at least so many minor units.
func amountMember(least int64) Member {
	return Member{
		Name: "amount", Entry: Sum, Positive: least > 0,
		has: func(o *Offer) bool { return o.Amount.Currency != "" || o.Amount.Minor != 0 },
		read: func(o *Offer, typed, currency string) string {
			m, err := money.Parse(typed, currency)
			if err != nil || m.Minor < least {
				return "Write an amount above zero, such as " + money.Of(500, currency).Plain() + "."
			}
			o.Amount = m
			return ""
		},
		write: func(o Offer) string { return o.Amount.Plain() },
	}
}

var buyMember = wholeMember("buy", func(o *Offer) *int { return &o.Buy })
var getMember = wholeMember("get", func(o *Offer) *int { return &o.Get })

// wholeMember is a number of units.
func wholeMember(name string, at func(*Offer) *int) Member {
	return Member{
		Name: name, Label: name, Entry: Whole,
		has: func(o *Offer) bool { return *at(o) != 0 },
		read: func(o *Offer, typed, _ string) string {
			n, err := strconv.Atoi(cmp.Or(typed, "0"))
			if err != nil || n < 0 || n > MaxGroup {
				return fmt.Sprintf("Write a whole number of at most %d.", MaxGroup)
			}
			*at(o) = n
			return ""
		},
		write: func(o Offer) string { return strconv.Itoa(*at(&o)) },
	}
}

var stepsMember = Member{
	Name: "steps", Label: "from a quantity:", Hint: "3: 10%, 6: 20%", Entry: Ladder,
	has: func(o *Offer) bool { return len(o.Steps) > 0 },
	read: func(o *Offer, typed, currency string) (wrong string) {
		o.Steps, wrong = readSteps(typed, currency)
		return wrong
	},
	write: func(o Offer) string {
		var out []string
		for _, s := range o.Steps {
			value := s.Percent.String() + "%"
			if s.Amount != nil {
				value = s.Amount.Plain()
			}
			out = append(out, fmt.Sprintf("%d: %s", s.From, value))
		}
		return strings.Join(out, ", ")
	},
}

// readSteps reads “3: 10%, 6: 20%” or “3: 12.60 each”.
func readSteps(text, currency string) ([]Step, string) {
	const say = "Write steps like 3: 10%, 6: 20% — or 3: 12.60, 6: 11.90 for a price each."
	var out []Step
	for part := range strings.SplitSeq(strings.ReplaceAll(text, ";", ","), ",") {
		if strings.TrimSpace(part) == "" {
			continue
		}
		from, value, ok := strings.Cut(part, ":")
		n, err := strconv.Atoi(strings.TrimSpace(from))
		if !ok || err != nil {
			return nil, say
		}
		s := Step{From: n}
		value = strings.TrimSpace(value)
		if p, isPercent := strings.CutSuffix(value, "%"); isPercent {
			if s.Percent, err = decimal.NewFromString(strings.TrimSpace(p)); err != nil {
				return nil, say
			}
		} else {
			m, err := money.Parse(strings.TrimSuffix(value, " each"), currency)
			if err != nil {
				return nil, say
			}
			s.Amount = &m
		}
		out = append(out, s)
	}
	if len(out) == 0 {
		return nil, say
	}
	return out, ""
}

var giftMember = Member{
	Name: "gift_id", Label: "the gift is", Entry: OneOf, none: "Choose what is given.",
	has:   func(o *Offer) bool { return o.GiftID != "" },
	read:  func(o *Offer, typed, _ string) string { o.GiftID = typed; return "" },
	write: func(o Offer) string { return o.GiftID },
	goods: func(o Offer) []string { return []string{o.GiftID} },
}

var partsMember = Member{
	Name: "parts", Label: "its parts", Entry: Counted, none: "Choose the goods of the set.",
	has: func(o *Offer) bool { return len(o.Parts) > 0 },
	read: func(o *Offer, typed, _ string) string {
		o.Parts = nil
		for id, n := range EachCounted(typed) {
			o.Parts = append(o.Parts, Part{ProductID: id, Quantity: n})
		}
		return ""
	},
	write: func(o Offer) string {
		var out []string
		for _, p := range o.Parts {
			out = append(out, fmt.Sprintf("%s×%d", p.ProductID, p.Quantity))
		}
		return strings.Join(out, ", ")
	},
	goods: func(o Offer) []string {
		var out []string
		for _, p := range o.Parts {
			out = append(out, p.ProductID)
		}
		return out
	},
}

// EachCounted reads “ember×1, line-30×2”, goods with quantities. Where none is
// written it is one.
func EachCounted(typed string) iter.Seq2[string, int] {
	return func(yield func(string, int) bool) {
		for part := range strings.SplitSeq(typed, ",") {
			id, count, _ := strings.Cut(strings.TrimSpace(part), "×")
			if id = strings.TrimSpace(id); id == "" {
				continue
			}
			n, err := strconv.Atoi(strings.TrimSpace(count))
			if err != nil {
				n = 1
			}
			if !yield(id, n) {
				return
			}
		}
	}
}
