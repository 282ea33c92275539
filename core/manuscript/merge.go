package manuscript

import (
	"chrysagon/core/merge"
	"chrysagon/core/rich"
	"chrysagon/core/target"
)

// merge brings what one writer made of a field's value together with what
// others made of it meanwhile. Of a choice, the later one holds.
func (f Field) merge(was, mine, theirs any) any {
	if f.Type == List {
		return f.mergeItems(was, mine, theirs)
	}
	if !f.Written() {
		return mine
	}
	w, _ := was.(string)
	m, _ := mine.(string)
	t, _ := theirs.(string)
	if f.Type == Rich && (rich.IsRich(w) || rich.IsRich(m) || rich.IsRich(t)) {
		// Held against each other in one form: a plain text was made copy by the first who wrote in it.
		return merge.Copy(rich.Structured(w, target.Leads), rich.Structured(m, target.Leads), rich.Structured(t, target.Leads))
	}
	return merge.Words(w, m, t)
}

func (f Field) mergeItems(was, mine, theirs any) any {
	w, _ := was.([]any)
	m, mineIsOne := mine.([]any)
	t, _ := theirs.([]any)
	if !mineIsOne && mine != nil {
		return mine // no list at all: the schema says so
	}
	return merge.Items(w, m, t, func(name string, was, mine, theirs any) any {
		switch sub, known := (Kind{Fields: f.Items}).Field(name); {
		case !known || same(mine, theirs) || same(theirs, was):
			return mine
		case same(mine, was):
			return theirs
		default:
			return sub.merge(was, mine, theirs)
		}
	})
}

// merged is a text of a band or page as it comes to stand now: as the command
// has it, with what others wrote since its writer saw it.
func (c Command) merged(now, value string) string {
	if !c.Guard {
		return value
	}
	was, _ := c.Was.(string)
	return merge.Words(was, value, now)
}
