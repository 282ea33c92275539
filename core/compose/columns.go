package compose

// pairs are the manners of words beside a picture.
var pairs = []Manner{
	{Name: "beside", Title: "Beside each other", Sketch: "h1,3,10,2 t1,6,10,4 b1,11,5,2 p14,2,9,12", What: "words and picture as their columns stand"},
	{Name: "opposite", Title: "Changed over", Sketch: "p1,2,9,12 h13,3,10,2 t13,6,10,4 b13,11,5,2", What: "the other one first"},
	{Name: "bleed", Title: "To the edge", Sketch: "h1,3,9,2 t1,6,9,4 b1,11,5,2 p12,0,12,16", What: "the picture fills its half, to the edge of the screen", Leans: true},
	{Name: "under", Title: "Picture under", Sketch: "h7,1,10,2 t8,4,8,2 b10,7,4,1 p5,9,14,6", What: "words in the middle, the picture wide under them"},
	{Name: "lapped", Title: "Card over picture", Sketch: "p7,1,17,14 c1,4,10,9 h2,5,7,2 t2,8,8,3", What: "the words on a card that lies over a wide picture", Leans: true, On: OnCard},
	{Name: "hung", Title: "Over the edge", Sketch: "h1,3,10,2 t1,6,10,3 r0,13,24,0 p14,4,9,12", What: "the picture hangs over the band’s lower edge"},
}

// sides are the manners of columns of which none is a picture alone.
var sides = []Manner{
	{Name: "level", Title: "Level", Sketch: "h1,2,9,2 t1,5,9,8 h14,2,9,2 t14,5,9,5", What: "columns that begin at one height"},
	{Name: "ruled", Title: "Ruled", Sketch: "h1,2,9,2 t1,5,9,8 v12,1,0,14 h14,2,9,2 t14,5,9,8", What: "with a rule between them"},
	{Name: "opposite", Title: "Changed over", Sketch: "h1,2,9,2 t1,5,9,4 h14,2,9,2 t14,5,9,8", What: "the last column first"},
	{Name: "stacked", Title: "One under another", Sketch: "h7,1,10,2 t7,4,10,3 h7,9,10,2 t7,12,10,3", What: "all in one column, in the middle"},
	{Name: "panels", Title: "Panels", Sketch: "c0,1,11,14 h1,3,8,2 t1,6,8,5 c13,1,11,14 h14,3,8,2 t14,6,8,5", What: "each column on a card", On: OnCard},
}
