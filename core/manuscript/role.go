package manuscript

// Role is what a piece is to the composition of the band it stands in (core/compose).
type Role string

// The roles. A kind that names none is words.
const (
	Words     Role = ""
	Head      Role = "head"      // names what stands under it
	Figure    Role = "figure"    // is looked at
	Press     Role = "press"     // is pressed
	Cost      Role = "cost"      // says what something costs, or how much is left
	One       Role = "one"       // one thing that is offered, with all that belongs to it
	Goods     Role = "goods"     // several things that are offered
	Grouped   Role = "groups"    // leads to groups of goods
	Reasons   Role = "reasons"   // short points that stand beside each other
	Voices    Role = "voices"    // what others say
	Clock     Role = "clock"     // how long there is
	Table     Role = "table"     // facts in rows
	Questions Role = "questions" // questions with their answers
	Ask       Role = "ask"       // is filled in
	Till      Role = "till"      // is where one orders
	Foot      Role = "foot"      // who the store is, and where its other pages are
	Notice    Role = "notice"    // one line across the page
	Rule      Role = "rule"      // parts what stands above from what stands below
)
