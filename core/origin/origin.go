// Package origin names the addresses under which the parts of the program are reached.
package origin

// Origins are the addresses under which the parts of the program are reached.
type Origins struct {
	Studio, Shop, Till, Letterbox, Book string
}
