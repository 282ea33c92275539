package compose

import m "chrysagon/core/manuscript"

// notice is one line across the page.
var notice = Family{Name: "notice", Title: "Announcement", is: func(h Holds) bool { return h.has(m.Notice) && h.only(m.Notice, m.Clock) }, alone: []Manner{
	{Name: "centred", Title: "In the middle", Sketch: "n0,5,24,6 l6,7,12,2", What: "the line in the middle"},
	{Name: "start", Title: "At the left", Sketch: "n0,5,24,6 l1,7,12,2", What: "in line with what stands under it", Leans: true},
	{Name: "spaced", Title: "Capitals", Sketch: "n0,5,24,6 l5,8,2,1 l8,8,3,1 l12,8,2,1 l15,8,4,1", What: "small, in spaced capitals"},
}}

// opening holds the headline.
var opening = Family{Name: "opening", Title: "Opening", is: func(h Holds) bool { return h.Opens }, alone: []Manner{
	{Name: "centred", Title: "In the middle", Sketch: "h4,3,16,3 t6,7,12,3 b9,11,6,2", What: "headline, words and button in the middle"},
	{Name: "split", Title: "Headline and words", Sketch: "h1,5,11,6 t14,6,9,3 b14,10,5,2", What: "the headline at the left, the rest beside its foot", Leans: true},
	{Name: "poster", Title: "Poster", Sketch: "n0,0,24,16 l2,7,15,4 l2,12,9,1", What: "tall and large, the words at the lower left", Leans: true},
	{Name: "letter", Title: "Letter", Sketch: "r5,2,4,0 h5,4,13,2 t5,7,14,6", What: "in the measure of what one reads, after a rule"},
}, best: func(h Holds) string {
	if h.Columns == 1 && h.only(m.Head, m.Words) && h.Words > 0 && h.Roles[m.Head] > 1 {
		return "letter"
	}
	return ""
}}

// story is copy, with pictures or without.
var story = Family{Name: "story", Title: "Story", is: func(Holds) bool { return true }, alone: []Manner{
	{Name: "column", Title: "Column", Sketch: "h5,2,9,2 t5,5,14,9", What: "one measure in the middle"},
	{Name: "margin", Title: "Heading at the side", Sketch: "h1,2,6,2 t9,2,14,11", What: "the heading at the left, the copy beside it", Leans: true},
	{Name: "columns", Title: "Two columns", Sketch: "h1,1,12,2 t1,5,10,9 t13,5,10,9", What: "the copy in two columns", fits: func(h Holds) bool { return h.Words > 500 }},
	{Name: "initial", Title: "Large initial", Sketch: "h7,1,10,2 h5,5,3,4 t9,5,10,4 t5,10,14,4", What: "the heading in the middle, the copy begins large"},
}}

// reasons are short points that stand beside each other.
var reasons = Family{Name: "reasons", Title: "Reasons", is: func(h Holds) bool {
	return h.has(m.Reasons) && !h.has(m.Cost, m.One) && (!h.has(m.Figure) || !h.Paired)
}, alone: []Manner{
	{Name: "ruled", Title: "Between rules", Sketch: "h1,1,10,2 h1,6,5,1 t1,8,5,5 v8,5,0,9 h9,6,5,1 t9,8,5,5 v16,5,0,9 h17,6,5,1 t17,8,5,5", What: "columns with rules between them"},
	{Name: "lines", Title: "Lines", Sketch: "r3,1,18,0 h3,2,6,2 t11,2,10,2 r3,6,18,0 h3,7,6,2 t11,7,10,2 r3,11,18,0 h3,12,6,2 t11,12,10,2", What: "a line each, with rules between"},
	{Name: "margin", Title: "Heading at the side", Sketch: "h1,2,6,2 h9,2,5,1 t9,4,6,3 h17,2,5,1 t17,4,6,3 h9,9,5,1 t9,11,6,3 h17,9,5,1 t17,11,6,3", What: "the heading at the left, the points beside it", Leans: true},
	{Name: "numbers", Title: "Numbered", Sketch: "h1,3,2,4 t1,9,5,5 h9,3,2,4 t9,9,5,5 h17,3,2,4 t17,9,5,5", What: "a large number before each"},
}}

// proof is what others say.
var proof = Family{Name: "proof", Title: "Voices", is: func(h Holds) bool {
	return h.has(m.Voices) && (!h.has(m.Words) || h.Items > 1)
}, alone: []Manner{
	{Name: "voice", Title: "One large", Sketch: "h1,3,13,2 h1,6,11,2 h1,9,12,2 v16,2,0,12 t18,3,5,4 t18,9,5,4", What: "the first set large, the others beside it"},
	{Name: "row", Title: "Beside each other", Sketch: "t1,3,5,9 v8,2,0,12 t9,3,6,9 v16,2,0,12 t18,3,5,9", What: "columns with rules between them"},
	{Name: "centred", Title: "In the middle", Sketch: "h4,2,16,2 h6,5,12,2 t2,10,9,4 t13,10,9,4", What: "the first large in the middle, the others under it"},
	{Name: "notes", Title: "Notes", Sketch: "c1,2,6,11 t2,4,4,6 c9,4,6,11 t10,6,4,6 c17,2,6,11 t18,4,4,6", What: "each on a slip of paper"},
}}

// questions are those that stand between a reader and the order.
var questions = Family{Name: "questions", Title: "Questions", is: func(h Holds) bool { return h.has(m.Questions) }, alone: []Manner{
	{Name: "column", Title: "Column", Sketch: "h5,1,9,2 r5,5,14,0 t5,6,10,1 r5,8,14,0 t5,9,10,1 r5,11,14,0 t5,12,10,1", What: "one measure in the middle"},
	{Name: "margin", Title: "Heading at the side", Sketch: "h1,2,6,2 r9,2,14,0 t9,4,10,1 r9,7,14,0 t9,9,10,1 r9,12,14,0", What: "the heading at the left, the questions beside it", Leans: true},
	{Name: "pairs", Title: "Two columns", Sketch: "h1,1,9,2 r1,5,10,0 t1,7,8,1 r1,10,10,0 t1,12,8,1 r13,5,10,0 t13,7,8,1 r13,10,10,0 t13,12,8,1", What: "the questions in two columns"},
}}

// table is facts in rows.
var table = Family{Name: "table", Title: "Facts", is: func(h Holds) bool { return h.has(m.Table) }, alone: []Manner{
	{Name: "column", Title: "Column", Sketch: "h5,1,9,2 t5,5,6,9 t15,5,4,9", What: "one measure in the middle"},
	{Name: "margin", Title: "Heading at the side", Sketch: "h1,2,6,2 t9,2,7,12 t19,2,4,12", What: "the heading at the left, the rows beside it", Leans: true},
	{Name: "plate", Title: "Plate", Sketch: "c3,1,18,14 t5,4,7,9 t15,4,4,9", What: "on a framed plate", On: OnCard},
}}

// footer says who the store is.
var footer = Family{Name: "footer", Title: "Footer", is: func(h Holds) bool { return h.has(m.Foot) && h.only(m.Foot, m.Words, m.Rule) }, alone: []Manner{
	{Name: "line", Title: "One line", Sketch: "r0,4,24,0 t1,7,9,2 t16,7,2,1 t19,7,2,1 t22,7,2,1", What: "who sells at the left, links at the right", Leans: true},
	{Name: "centred", Title: "In the middle", Sketch: "r10,3,4,0 t6,6,12,2 t8,10,8,1", What: "all in the middle, under a short rule"},
	{Name: "stacked", Title: "One under another", Sketch: "r0,3,24,0 t1,5,9,2 t1,9,9,1", What: "at the left, in the measure of the page", Leans: true},
}}
