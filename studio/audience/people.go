package audience

import (
	"encoding/json"
	"net/url"
	"slices"
	"strconv"
	"strings"

	"chrysagon/app/audience"
	"chrysagon/core/money"
	"chrysagon/core/refusal"
	"chrysagon/core/segment"
	"chrysagon/core/words"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// clauseForm is a condition as it is typed.
type clauseForm struct {
	Not, Did, Of, Least, Days, Since string
	Choices                          []struct{ ID, Name string }
	Counts, Money                    bool
}

// deeds are what a condition can look at, in the words of the sentence: that they did, and
// that they did not.
var deeds = []struct {
	Did     segment.Deed
	Yes, No string
}{
	{segment.Bought, "bought", "did not buy"}, {segment.OnList, "are on the list", "are not on the list"}, {segment.Clicked, "clicked in", "clicked nothing in"},
	{segment.Sent, "were sent", "were not sent"}, {segment.Ordered, "ordered at least", "ordered fewer times than"}, {segment.Spent, "spent at least", "spent less than"},
	{segment.CameBy, "came by the link", "did not come by the link"}, {segment.Known, "are known", "are not known"},
}

// typedRule reads a sentence, and what of it cannot be read.
func typedRule(c fiber.Ctx, currency string) (segment.Rule, []string) {
	all := func(name string) []string {
		var out []string
		for _, v := range c.Request().URI().QueryArgs().PeekMulti(name) {
			out = append(out, strings.TrimSpace(strings.ToValidUTF8(string(v), "")))
		}
		return out
	}
	at := func(list []string, i int) string {
		if i < len(list) {
			return list[i]
		}
		return ""
	}
	var r segment.Rule
	var faults []string
	of, least, days, since := all("of"), all("least"), all("days"), all("since")
	for i, typed := range all("did") {
		did, not := strings.CutPrefix(typed, "not:")
		if did == "" {
			continue
		}
		one := segment.Clause{Did: segment.Deed(did), Not: not, Of: at(of, i), Since: at(since, i)}
		if n := at(days, i); n != "" {
			var err error
			if one.Days, err = strconv.Atoi(n); err != nil {
				faults = append(faults, "“"+n+"” is no number of days.")
			}
		}
		if text := at(least, i); text != "" && one.Did == segment.Spent {
			sum, err := money.Parse(text, currency)
			if err != nil {
				faults = append(faults, "“"+text+"” is no amount.")
			}
			one.AtLeast = sum.Minor
		} else if text != "" && one.Did == segment.Ordered {
			n, err := strconv.ParseInt(text, 10, 32)
			if err != nil {
				faults = append(faults, "“"+text+"” is no whole number.")
			}
			one.AtLeast = n
		}
		if one.Did == segment.Ordered || one.Did == segment.Spent || one.Did == segment.Known {
			one.Of = ""
		}
		r.All = append(r.All, one)
	}
	return r, append(faults, r.Faults()...)
}

// formsOf writes a rule as conditions to be filled in, with one more that is blank.
func formsOf(r segment.Rule, names audience.Choosable, currency string) []clauseForm {
	var out []clauseForm
	for _, c := range r.All {
		f := clauseForm{Did: string(c.Did), Of: c.Of, Since: c.Since, Days: frame.Whole(c.Days), Choices: names[c.Did], Counts: c.Did == segment.Ordered, Money: c.Did == segment.Spent}
		if c.Not {
			f.Not = "not:"
		}
		switch {
		case c.AtLeast > 0 && f.Money:
			f.Least = money.Of(c.AtLeast, currency).Plain()
		case c.AtLeast > 0:
			f.Least = strconv.FormatInt(c.AtLeast, 10)
		}
		if !slices.ContainsFunc(f.Choices, func(one struct{ ID, Name string }) bool { return one.ID == c.Of }) && c.Of != "" {
			f.Choices = append(slices.Clone(f.Choices), struct{ ID, Name string }{c.Of, "something that is gone"})
		}
		out = append(out, f)
	}
	return append(out, clauseForm{})
}

// people lists who they are, found by a word and a sentence.
func (p *Place) people(c fiber.Ctx) error {
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	find := strings.TrimSpace(strings.ToValidUTF8(strings.Clone(c.Query("q")), ""))
	rule, faults := typedRule(c, shop.Currency)
	segments, err := p.Audience.Segments(c)
	if err != nil {
		return err
	}
	name := ""
	for _, s := range segments {
		if s.ID == c.Query("segment") {
			rule, faults, name = s.Rule, nil, s.Name
		}
	}
	names, err := p.Audience.Choosable(c)
	if err != nil {
		return err
	}
	asked := rule
	if len(faults) > 0 {
		asked = segment.Rule{}
	}
	rows, count, err := p.Audience.People(c, find, asked)
	if err != nil {
		return err
	}
	raw, err := json.Marshal(asked)
	if err != nil {
		return err
	}
	values := map[string]any{
		"Title": "People", "Rows": rows, "Count": count, "Find": find, "Store": shop, "Clauses": formsOf(rule, names, shop.Currency), "Deeds": deeds, "Faults": faults,
		"Says": names.Say(asked, shop.Currency), "Rule": string(raw), "Asked": len(asked.All) > 0, "Segments": segments, "Name": name, "Counting": counting(c, count), "CSRF": frame.Who(c).CSRF, "Said": saids[c.Query("said")],
	}
	if c.Query("counted") != "" {
		n, err := p.Audience.Count(c, find, asked)
		if err != nil {
			return err
		}
		return c.SendString(words.Count(n, "person"))
	}
	if c.Get("HX-Request") != "" {
		return p.Fragment(c, "people-body", values)
	}
	return p.Show(c, "people", "Audience", values)
}

// counting is where all are counted, where they are more than are counted at once; else "".
func counting(c fiber.Ctx, count int) string {
	if count <= audience.CountedTo {
		return ""
	}
	asked := string(c.Request().URI().QueryString())
	return "/audience/people?" + strings.TrimPrefix(asked+"&counted=1", "&")
}

// saveSegment keeps the sentence that was asked.
func (p *Place) saveSegment(c fiber.Ctx) error {
	var rule segment.Rule
	if err := json.Unmarshal([]byte(frame.Typed(c, "rule")), &rule); err != nil {
		return refusal.Of(refusal.ErrInvalid, "The sentence did not come through. Write it again.")
	}
	id, err := p.Audience.SaveSegment(c, frame.Typed(c, "name"), rule)
	if err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/people?segment="+id+"&said=segment")
}

func (p *Place) removeSegment(c fiber.Ctx) error {
	if err := p.Audience.RemoveSegment(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/people")
}

// person shows all that is known of one.
func (p *Place) person(c fiber.Ctx) error {
	known, err := p.Audience.Known(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	shop, err := p.Store.Shop(c)
	if err != nil {
		return err
	}
	return p.Show(c, "person", "Audience", map[string]any{"Title": known.Contact.Email, "P": known, "Store": shop})
}

// note keeps a note of somebody, or a task for them.
func (p *Place) note(c fiber.Ctx) error {
	id := strings.Clone(c.Params("id"))
	if err := p.Audience.Note(c, audience.Noting{ContactID: id, Says: frame.Typed(c, "says"), DueOn: frame.Typed(c, "due"), By: frame.Who(c).User.Name}); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience/people/"+id)
}

// done says that a task is done, or that it is not.
func (p *Place) done(c fiber.Ctx) error {
	if err := p.Audience.Done(c, strings.Clone(c.Params("id")), frame.Typed(c, "done") != ""); err != nil {
		return err
	}
	if whose := frame.Typed(c, "contact"); whose != "" {
		return frame.SeeOther(c, "/audience/people/"+url.PathEscape(whose))
	}
	return frame.SeeOther(c, "/audience")
}

func (p *Place) exportOne(c fiber.Ctx) error {
	c.Set("Content-Disposition", `attachment; filename="person.json"`)
	c.Type("json", "utf-8")
	return p.Audience.ExportOne(c, strings.Clone(c.Params("id")), c.Response().BodyWriter())
}

func (p *Place) export(c fiber.Ctx) error {
	c.Set("Content-Disposition", `attachment; filename="people.csv"`)
	c.Type("csv", "utf-8")
	return p.Audience.Export(c, c.Response().BodyWriter())
}

func (p *Place) erase(c fiber.Ctx) error {
	if err := p.Audience.Erase(c, strings.Clone(c.Params("id"))); err != nil {
		return err
	}
	return frame.SeeOther(c, "/audience?said=erased")
}
