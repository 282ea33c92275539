package compose

import m "chrysagon/core/manuscript"

// offer is one thing with its price.
var offer = Family{Name: "offer", Title: "Offer", is: func(h Holds) bool { return h.has(m.Cost, m.One) }, alone: []Manner{
	{Name: "centred", Title: "In the middle", Sketch: "h7,2,10,2 t6,5,12,3 h9,9,6,2 b9,12,6,2", What: "one thing under another, the price last"},
	{Name: "ticket", Title: "Ticket", Sketch: "c4,1,16,14 h6,3,9,2 t6,6,12,2 d4,9,16,0 h6,11,5,2", What: "on a card with a torn edge", On: OnCard},
	{Name: "margin", Title: "Name at the side", Sketch: "h1,2,6,2 t9,2,14,5 h9,9,5,2 b9,12,6,2", What: "its name at the left, the rest beside", Leans: true},
}}

// goods are several things, each with its price.
var goods = Family{Name: "goods", Title: "Goods", is: func(h Holds) bool { return h.has(m.Goods) }, alone: []Manner{
	{Name: "row", Title: "In a row", Sketch: "h1,1,9,2 p1,5,6,6 p9,5,6,6 p17,5,6,6 t1,12,5,2 t9,12,5,2 t17,12,5,2", What: "one is a feature, two face each other, more stand in rows of three or four"},
	{Name: "lead", Title: "First one large", Sketch: "p1,2,10,12 p13,2,4,5 p19,2,4,5 p13,9,4,5 p19,9,4,5", What: "the first large, the others beside and under it"},
	{Name: "pricelist", Title: "Price list", Sketch: "p2,1,3,3 t6,2,9,2 h19,2,3,1 r2,5,20,0 p2,6,3,3 t6,7,9,2 h19,7,3,1 r2,10,20,0 p2,11,3,3 t6,12,9,2 h19,12,3,1", What: "a line each, with the price at its end"},
	{Name: "swipe", Title: "One row that moves", Sketch: "h1,1,9,2 p1,5,7,8 p10,5,7,8 p19,5,5,8", What: "all in one row, a part of the next in sight"},
	{Name: "margin", Title: "Heading at the side", Sketch: "h1,2,6,2 p9,2,6,6 p17,2,6,6 p9,10,6,5 p17,10,6,5", What: "the heading at the left, the goods beside it", Leans: true},
}}

// groups lead to shelves.
var groups = Family{Name: "groups", Title: "Groups", is: func(h Holds) bool { return h.has(m.Grouped) }, alone: []Manner{
	{Name: "row", Title: "In a row", Sketch: "p1,2,5,7 p7,2,5,7 p13,2,5,7 p19,2,4,7 h1,11,4,1 h7,11,4,1 h13,11,4,1 h19,11,4,1", What: "picture over name"},
	{Name: "tiles", Title: "Tiles", Sketch: "p1,2,7,12 p9,2,7,12 p17,2,6,12 l2,11,4,1 l10,11,4,1 l18,11,4,1", What: "names on their pictures"},
	{Name: "index", Title: "Index", Sketch: "h2,2,11,2 p19,1,3,3 r2,5,20,0 h2,7,9,2 p19,6,3,3 r2,10,20,0 h2,12,12,2 p19,11,3,3", What: "large names, a line each"},
	{Name: "lead", Title: "First one large", Sketch: "p1,1,11,14 p14,1,4,6 p20,1,4,6 p14,9,4,6 p20,9,4,6", What: "the first large, the others beside it"},
}}

// clock is how long there is.
var clock = Family{Name: "clock", Title: "Time left", is: func(h Holds) bool { return h.has(m.Clock) && h.only(m.Head, m.Words, m.Clock, m.Cost, m.Rule) }, alone: []Manner{
	{Name: "display", Title: "Display", Sketch: "t9,2,6,1 h3,5,3,5 h9,5,3,5 h15,5,3,5 h20,5,2,5 t8,12,8,1", What: "large figures in the middle"},
	{Name: "line", Title: "One line", Sketch: "h1,6,6,3 h9,5,2,4 h12,5,2,4 h15,5,2,4 t19,7,4,2", What: "words, figures and the day beside each other"},
	{Name: "plate", Title: "Plate", Sketch: "c3,1,18,14 h6,5,3,4 h11,5,3,4 h16,5,3,4 t8,11,8,1", What: "on a framed plate", On: OnCard},
}}

// till is where one orders.
var till = Family{Name: "till", Title: "Checkout", is: func(h Holds) bool { return h.has(m.Till) }, alone: []Manner{
	{Name: "centred", Title: "The page’s goal", Sketch: "h7,1,10,2 c1,5,13,10 t3,7,9,4 b3,12,9,2 c16,5,7,7 t17,7,5,3", What: "heading in the middle, form and receipt on cards"},
	{Name: "plain", Title: "Plain", Sketch: "h1,1,10,2 t1,5,12,6 b1,12,12,2 c16,5,7,7 t17,7,5,3", What: "heading at the left, the form without a card"},
	{Name: "desk", Title: "On one sheet", Sketch: "h7,1,10,2 c1,4,22,11 t3,6,10,5 b3,12,10,2 v15,5,0,9 t17,6,5,4", What: "form and receipt together on one sheet"},
}}

// closing asks for the press.
var closing = Family{Name: "closing", Title: "Call", is: func(h Holds) bool { return h.has(m.Press) && h.only(m.Head, m.Words, m.Press, m.Rule) && h.Words < 300 }, alone: []Manner{
	{Name: "centred", Title: "In the middle", Sketch: "h4,4,16,3 b9,9,6,3", What: "large, the button under it"},
	{Name: "line", Title: "One line", Sketch: "h1,6,12,3 b17,6,6,3", What: "heading at the left, button at the right", Leans: true},
	{Name: "plate", Title: "Plate", Sketch: "n2,1,20,14 l6,4,12,2 b9,9,6,3", What: "on a plate of its own in the band", On: OnTurned},
}}

// catching asks for something to be filled in.
var catching = Family{Name: "catching", Title: "Form", is: func(h Holds) bool { return h.has(m.Ask) }, alone: []Manner{
	{Name: "card", Title: "Card", Sketch: "c6,1,12,14 h8,3,8,2 t8,6,8,3 b8,11,8,2", What: "form and words on a card in the middle", On: OnCard},
	{Name: "split", Title: "Words and form", Sketch: "h1,4,9,2 t1,7,8,4 c13,2,10,12 t14,4,8,4 b14,10,8,2", What: "words at the left, the form at the right", Leans: true},
	{Name: "line", Title: "One line", Sketch: "h6,3,12,2 c3,8,11,3 b15,8,6,3", What: "field and button beside each other, under the heading"},
}}
