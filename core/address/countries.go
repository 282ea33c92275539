package address

import (
	"sync"

	"chrysagon/core/country"

	lib "github.com/Boostport/address"
)

// Land is a country to which post goes: its two letters (ISO 3166-1) and its name in
// English (Unicode CLDR).
type Land struct{ Code, Name string }

// lands are all of them, by name.
var lands = sync.OnceValue(func() []Land {
	var list []Land
	for _, c := range lib.ListCountries("en") {
		if country.Known(c.Code) {
			list = append(list, Land{c.Code, c.Name})
		}
	}
	return list
})

var codes, names = sync.OnceValue(func() map[string]string { return index(func(l Land) (string, string) { return l.Name, l.Code }) }),
	sync.OnceValue(func() map[string]string { return index(func(l Land) (string, string) { return l.Code, l.Name }) })

func index(of func(Land) (key, value string)) map[string]string {
	list := lands()
	out := make(map[string]string, len(list))
	for _, l := range list {
		key, value := of(l)
		out[key] = value
	}
	return out
}

// Lands lists the countries for which sends holds, by name; nil: all.
func Lands(sends func(code string) bool) []Land {
	var list []Land
	for _, l := range lands() {
		if sends == nil || sends(l.Code) {
			list = append(list, l)
		}
	}
	return list
}

// Code is the two letters of a country by its name, or "".
func Code(name string) string { return codes()[name] }

// NameOf is the name of a country by its two letters; the letters where it is none to
// which post goes.
func NameOf(code string) string {
	if name := names()[code]; name != "" {
		return name
	}
	return code
}
