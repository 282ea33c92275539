package typeface

import (
	"bytes"
	"compress/zlib"
	"io"

	"github.com/andybalholm/brotli"
)

// most is how many bytes of a file's tables are unpacked, whatever it says of their size.
const most = 32 << 20

func wanted(tag string) bool { return tag == tagName || tag == tagMetrics || tag == tagAxes }

// fromSFNT finds the tables of a TTF or OTF file (OpenType 1.9, Organization of an OpenType
// Font).
func fromSFNT(raw []byte) (map[string][]byte, error) {
	out := map[string][]byte{}
	for i := range int(u16(raw, 4)) {
		at := 12 + i*16
		if at+16 > len(raw) {
			return nil, errBroken
		}
		from, size := u32(raw, at+8), u32(raw, at+12)
		if from+size > len(raw) {
			return nil, errBroken
		}
		if tag := string(raw[at : at+4]); wanted(tag) {
			out[tag] = raw[from : from+size]
		}
	}
	return out, nil
}

// fromWOFF unpacks the tables of a WOFF file (W3C, WOFF File Format 1.0, sections 3 to 5).
func fromWOFF(raw []byte) (map[string][]byte, error) {
	out := map[string][]byte{}
	for i := range int(u16(raw, 12)) {
		at := 44 + i*20
		if at+20 > len(raw) {
			return nil, errBroken
		}
		from, packed, size := u32(raw, at+4), u32(raw, at+8), u32(raw, at+12)
		if from+packed > len(raw) || size > most || packed > size {
			return nil, errBroken
		}
		tag := string(raw[at : at+4])
		if !wanted(tag) {
			continue
		}
		table := raw[from : from+packed]
		if packed < size {
			from, err := zlib.NewReader(bytes.NewReader(table))
			if err != nil {
				return nil, errBroken
			}
			if table, err = io.ReadAll(io.LimitReader(from, int64(size))); err != nil {
				return nil, errBroken
			}
		}
		out[tag] = table
	}
	return out, nil
}

// known are the tags that a WOFF2 directory names by a number (W3C, WOFF File Format 2.0, 4.1).
var known = []string{
	"cmap", "head", "hhea", "hmtx", "maxp", "name", "OS/2", "post", "cvt ", "fpgm", "glyf", "loca", "prep", "CFF ", "VORG", "EBDT",
	"EBLC", "gasp", "hdmx", "kern", "LTSH", "PCLT", "VDMX", "vhea", "vmtx", "BASE", "GDEF", "GPOS", "GSUB", "EBSC", "JSTF", "MATH",
	"CBDT", "CBLC", "COLR", "CPAL", "SVG ", "sbix", "acnt", "avar", "bdat", "bloc", "bsln", "cvar", "fdsc", "feat", "fmtx", "fvar",
	"gvar", "hsty", "just", "lcar", "mort", "morx", "opbd", "prop", "trak", "Zapf", "Silf", "Glat", "Gloc", "Feat", "Sill",
}

// fromWOFF2 unpacks the tables of a WOFF2 file (W3C, WOFF File Format 2.0, sections 4 and 5).
// Only tables that are kept as they are are read, so that no outline is built anew.
func fromWOFF2(raw []byte) (map[string][]byte, error) {
	type entry struct {
		tag  string
		size int
	}
	var entries []entry
	at, total := 48, 0
	for range int(u16(raw, 12)) {
		if at >= len(raw) {
			return nil, errBroken
		}
		flags := raw[at]
		at++
		var e entry
		if n := int(flags & 0x3f); n < len(known) {
			e.tag = known[n]
		} else if at+4 <= len(raw) {
			e.tag = string(raw[at : at+4])
			at += 4
		}
		var ok bool
		if e.size, at, ok = base128(raw, at); !ok {
			return nil, errBroken
		}
		version := flags >> 6
		transformed := version != 0
		if e.tag == "glyf" || e.tag == "loca" {
			transformed = version != 3
		}
		if transformed {
			if e.size, at, ok = base128(raw, at); !ok {
				return nil, errBroken
			}
		}
		if total += e.size; total > most {
			return nil, errBroken
		}
		entries = append(entries, e)
	}
	packed := u32(raw, 20)
	if at+packed > len(raw) {
		return nil, errBroken
	}
	all, err := io.ReadAll(io.LimitReader(brotli.NewReader(bytes.NewReader(raw[at:at+packed])), int64(total)))
	if err != nil || len(all) < total {
		return nil, errBroken
	}
	out := map[string][]byte{}
	from := 0
	for _, e := range entries {
		if wanted(e.tag) {
			out[e.tag] = all[from : from+e.size]
		}
		from += e.size
	}
	return out, nil
}

// base128 reads a number of seven bits to the byte (section 4.1: UIntBase128).
func base128(raw []byte, at int) (n, next int, ok bool) {
	for i := range 5 {
		if at+i >= len(raw) || (i == 0 && raw[at] == 0x80) || n > 1<<25 {
			return 0, at, false
		}
		b := raw[at+i]
		n = n<<7 | int(b&0x7f)
		if b&0x80 == 0 {
			return n, at + i + 1, true
		}
	}
	return 0, at, false
}
