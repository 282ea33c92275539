// Package typeface reads what a font file says of itself: its name, its weights, its licence,
// and whether it may be put on pages.
package typeface

import (
	"cmp"
	"encoding/binary"
	"errors"
	"strings"
	"unicode/utf16"

	"chrysagon/core/words"
)

// Face is what a file says.
type Face struct {
	Name    string // of the family
	Serif   bool
	Least   int // lightest and heaviest weight, by the scale of OpenType, 1 to 1000
	Most    int
	Licence string // as the file has it; "": it says nothing
	Format  string // as a style sheet names it: woff2, woff, truetype or opentype
	Mime    string // RFC 8081
}

var (
	errNone    = errors.New("it is no font file: WOFF2, WOFF, TTF and OTF can be used")
	errBroken  = errors.New("it is cut short or damaged; fetch it again from where you have it")
	errForbids = errors.New("it says itself that it must not be embedded (its OS/2 table, fsType); ask its maker for one for the web")
)

// The tables that are read (OpenType 1.9), and no others.
const (
	tagName    = "name"
	tagMetrics = "OS/2"
	tagAxes    = "fvar"
)

// Read reads a font file.
func Read(raw []byte) (Face, error) {
	var tables map[string][]byte
	var face Face
	var err error
	switch {
	case len(raw) < 12:
		return Face{}, errNone
	case string(raw[:4]) == "wOF2":
		face.Format, face.Mime = "woff2", "font/woff2"
		tables, err = fromWOFF2(raw)
	case string(raw[:4]) == "wOFF":
		face.Format, face.Mime = "woff", "font/woff"
		tables, err = fromWOFF(raw)
	case string(raw[:4]) == "\x00\x01\x00\x00" || string(raw[:4]) == "true":
		face.Format, face.Mime = "truetype", "font/ttf"
		tables, err = fromSFNT(raw)
	case string(raw[:4]) == "OTTO":
		face.Format, face.Mime = "opentype", "font/otf"
		tables, err = fromSFNT(raw)
	default:
		return Face{}, errNone
	}
	if err != nil {
		return Face{}, err
	}
	metrics := tables[tagMetrics]
	if len(metrics) < 42 {
		return Face{}, errBroken
	}
	// fsType, bit 1: restricted licence embedding; it holds where none of the freer bits
	// 2 and 3 is set (OpenType 1.9, OS/2, fsType).
	if kind := u16(metrics, 8); kind&0x000e == 0x0002 {
		return Face{}, errForbids
	}
	face.Least = min(max(int(u16(metrics, 4)), 1), 1000)
	face.Most = face.Least
	// PANOSE, first two bytes: Latin text (2), and serifs of the styles 2 to 10.
	face.Serif = metrics[32] == 2 && metrics[33] >= 2 && metrics[33] <= 10
	if least, most, ok := axis(tables[tagAxes], "wght"); ok {
		face.Least, face.Most = least, most
	}
	names := namesOf(tables[tagName])
	face.Name = cmp.Or(strings.TrimSpace(names[16]), strings.TrimSpace(names[1]))
	face.Licence = words.Tidy(names[13] + " " + names[14])
	if runes := []rune(face.Licence); len(runes) > 300 {
		face.Licence = string(runes[:299]) + "…"
	}
	if face.Name == "" {
		return Face{}, errBroken
	}
	return face, nil
}

func u16(b []byte, at int) uint16 {
	if at < 0 || at+2 > len(b) {
		return 0
	}
	return binary.BigEndian.Uint16(b[at:])
}

func u32(b []byte, at int) int {
	if at < 0 || at+4 > len(b) {
		return 0
	}
	return int(binary.BigEndian.Uint32(b[at:]))
}

// axis is the range of an axis of variation, in whole steps (OpenType 1.9, fvar).
func axis(fvar []byte, tag string) (least, most int, ok bool) {
	if len(fvar) < 16 {
		return 0, 0, false
	}
	from, many, size := int(u16(fvar, 4)), int(u16(fvar, 8)), int(u16(fvar, 10))
	for i := range many {
		at := from + i*size
		if size < 20 || at+20 > len(fvar) {
			return 0, 0, false
		}
		if string(fvar[at:at+4]) == tag { // 16.16 fixed
			least, most = int(u16(fvar, at+4)), int(u16(fvar, at+12))
			return least, most, least >= 1 && most <= 1000 && least <= most
		}
	}
	return 0, 0, false
}

// namesOf reads the names by their number, of Windows (UTF-16, English before others) or
// else of Macintosh Roman as far as it is ASCII (OpenType 1.9, name).
func namesOf(table []byte) map[int]string {
	out, rank := map[int]string{}, map[int]int{}
	texts := int(u16(table, 4))
	for i := range int(u16(table, 2)) {
		at := 6 + i*12
		if at+12 > len(table) {
			break
		}
		platform, language, number := u16(table, at), u16(table, at+4), int(u16(table, at+6))
		size, from := int(u16(table, at+8)), texts+int(u16(table, at+10))
		if from+size > len(table) || from < 0 {
			continue
		}
		text, good := table[from:from+size], 1
		var name string
		switch platform {
		case 0, 3:
			units := make([]uint16, 0, size/2)
			for j := 0; j+1 < size; j += 2 {
				units = append(units, u16(text, j))
			}
			name, good = string(utf16.Decode(units)), 2
			if language == 0x0409 || platform == 0 {
				good = 3
			}
		case 1:
			name = strings.Map(func(r rune) rune {
				if r > 126 || r < 32 {
					return -1
				}
				return r
			}, string(text))
		default:
			continue
		}
		if good > rank[number] {
			out[number], rank[number] = name, good
		}
	}
	return out
}
