package demo

// said is what Gustwell says of its products, wherever one is shown by itself.
var said = map[string]string{
	"ember":        "<p>A diamond of ripstop with a lantern at its keel. It goes up at dusk in a wind you hardly feel on land, and hangs there until the cell is empty, which takes some five hours.</p><h3>In the box</h3><ul><li>Ember 180, sewn and tried</li><li>One lantern cell, charged</li><li>30 m of line on a reel</li><li>A card with the seven knots</li></ul><p>Fly it over sand or grass, <b>never near wires</b>, and keep a hand’s breadth between your glove and the running line.</p>",
	"quiver":       "Waxed canvas, two straps and a lid that keeps sand out. Three kites lie side by side with their spars in, so that none has to be built up again on the beach.\nThe seams are doubled where straps pull.",
	"lantern-cell": "Fits the keel of every Ember. It charges in an hour from any USB socket and lights for five.",
	"gull":         "<p>The kite most people here began with. Two spars, one line, and a tail that forgives everything.</p><ul><li>Up in five minutes, down in two</li><li>Packs to the length of an umbrella</li><li>Mended for as long as you fly it</li></ul>",
	"line-30":      "Braided polyester, 30 m, good for 60 kg. It runs off the reel without a twist, and does not cut a glove.",
	"plans":        "<p>Seven plans, from a sled of one sheet to a delta with a keel, drawn at full size on pages that any printer takes.</p><ol><li>Print them without scaling; a ruler on each page tells whether it worked.</li><li>Tape the pages edge to edge.</li><li>Cut cloth, then spars.</li></ol>",
	"petrel":       "<p>The first kite with two lines for whoever has outgrown one. It turns on its tip and waits for you.</p><p>Ready-rigged, with two lines of 25 m and straps.</p>",
	"shearwater":   "<p>Built for corners. Stiff carbon along the leading edge, a slack bridle, and nothing that flaps.</p><p>It wants hands that know what they do: from <i>some fifty hours</i> on two lines.</p>",
	"loom":         "Four lines, four handles’ worth of patience, and then it flies backwards, stands still, and writes its name. Comes with lines of 20 m and a bag.",
	"mistral":      "<p>Two square metres that pull you across the sand on your heels.</p><p><b>Wear a helmet.</b> Read the card about the safety leash before the first flight.</p>",
	"tramontane":   "<p>Three and a half square metres for buggy and board, with a bar that lets go when you do.</p><p><b>Not a first kite.</b> Ring us before you order it as one.</p>",
	"wisp":         "180 grams with all its spars. It flies in a hall, behind a walk, and in the last breath of an evening.",
	"tern":         "It lives in a coat pocket and needs no spar: the wind holds it open. Comes with 15 m of line on a card.",
	"line-set-2":   "Two lines of 25 m, pre-stretched and of equal length to the centimetre, with sleeves at their ends and a winder.",
	"reel":         "Turned of one piece of beech and oiled. It takes 60 m and sits in a glove.",
	"spar-kit":     "Six spars of glass fibre, 82 cm, with their end caps. They fit Gull, Ember and Petrel; saw them to length with a file.",
	"repair":       "Cloth in four colours, thread, two needles, a spare ferrule and a card that says how. All in a tin that shuts.",
	"build-kit":    "<p>Everything for a Gull but the afternoon: cloth cut to shape, spars, line and reel, and the plan at full size.</p><p>From ten years on with somebody to hold the ruler.</p>",
	"seat":         "<p>Two hours at the long table on Sailmakers’ Row, for eight people at most. You sew a sled, rig it, and take it home.</p><p>Tea is there. Bring a jumper: the doors are open.</p>",
}
