package manuscript

import (
	"slices"
	"strings"
)

// Only says for whom alone a band is shown, by what they bought or by the product that the
// page is about; "": for everybody.
type Only string

// By what was bought. An order can be several of these.
const (
	OnlySent       Only = "sent"       // something of it goes by parcel
	OnlyCollected  Only = "collected"  // it is fetched
	OnlyDownloaded Only = "downloaded" // something of it is downloaded
	OnlyBooked     Only = "booked"     // there is a seat in it
)

// Onlys are those by what was bought, in the order in which they are offered.
var Onlys = []Only{OnlySent, OnlyCollected, OnlyDownloaded, OnlyBooked}

// ofShelf begins what names a shelf.
const ofShelf = "shelf:"

// OnlyOf is for the goods that stand on a shelf.
func OnlyOf(shelf string) Only { return Only(ofShelf + shelf) }

// Shelf is the ID of the shelf on which the product must stand; false: it is not by that.
func (o Only) Shelf() (string, bool) { return strings.CutPrefix(string(o), ofShelf) }

func (o Only) known() bool {
	if id, shelf := o.Shelf(); shelf {
		return id != "" && len(id) <= 40
	}
	return o == "" || slices.Contains(Onlys, o)
}
