package style

import (
	"fmt"
	"slices"
	"strings"
	"unicode/utf8"
)

// Type is a font file of the store's own. Its licence is noted beside it: whoever puts a
// file on pages that everybody reads must be allowed to.
type Type struct {
	ID      string `json:"id"`      // type- and the hash of the file's content
	Name    string `json:"name"`    // as the file has it
	Generic string `json:"generic"` // serif or sans-serif: what stands in until it is there
	Least   int    `json:"least"`   // lightest and heaviest weight
	Most    int    `json:"most"`
	Format  string `json:"format"`  // woff2, woff, truetype or opentype
	Licence string `json:"licence"` // by what it may be used
}

// MostTypes is how many font files of its own a house can have.
const MostTypes = 6

// standIns are the faces that stand in for each generic family.
var standIns = map[string]string{"serif": "Georgia, serif", "sans-serif": "system-ui, sans-serif"}

// Family is the family of an ID: one of the store's own, of those that ship, or the house's
// for headings or copy by the names heads and body. Where it is gone, that of copy.
func (h House) Family(id string) Family {
	switch id {
	case "heads":
		return h.HeadFamily()
	case "body":
		return h.BodyFamily()
	}
	if f, ok := h.known(id); ok {
		return f
	}
	return h.BodyFamily()
}

func (h House) known(id string) (Family, bool) {
	for _, t := range h.Types {
		if t.ID == id {
			return Family{ID: t.ID, Name: t.Name, Generic: standIns[t.Generic], Least: t.Least, Most: t.Most, Format: t.Format}, true
		}
	}
	i := slices.IndexFunc(Families, func(f Family) bool { return f.ID == id })
	if i < 0 {
		return Family{}, false
	}
	return Families[i], true
}

// All are the families a page of the house can be set in, the store's own first.
func (h House) All() []Family {
	var out []Family
	for _, t := range h.Types {
		f, _ := h.known(t.ID)
		out = append(out, f)
	}
	return append(out, Families...)
}

// css is the family as a property has it: its name, then what stands in.
func (f Family) css() string { return "'" + f.Name + "'," + f.Generic }

// Own tells whether its file is one of the store's own.
func (f Family) Own() bool { return f.Format != "" }

// face declares the family's files; path gives the address of one that ships.
func (f Family) face(path func(string) string) string {
	if f.Own() {
		return fmt.Sprintf("@font-face{font-family:'%s';src:url(/types/%s) format('%s');font-weight:%d %d;font-display:optional}", f.Name, f.ID, f.Format, f.Least, f.Most)
	}
	var b strings.Builder
	for _, part := range []struct{ file, signs string }{{f.ID, ""}, {f.ID + "-ext", ";unicode-range:" + LatinExtended}} {
		fmt.Fprintf(&b, "@font-face{font-family:'%s';src:url(%s) format('woff2');font-weight:%d %d;font-display:optional%s}", f.Name, path(part.file+".woff2"), f.Least, f.Most, part.signs)
	}
	return b.String()
}

// Faces declares the files of the families that looks ask for beside those of the house.
func (h House) Faces(path func(string) string, looks ...Look) string {
	var b strings.Builder
	var done []string
	for _, f := range h.Fonts() {
		done = append(done, f.ID)
	}
	for _, l := range looks {
		for _, key := range []string{"family", Wide + "family"} {
			if l[key] == "" {
				continue
			}
			if f := h.Family(l[key]); !slices.Contains(done, f.ID) {
				done = append(done, f.ID)
				b.WriteString(f.face(path))
			}
		}
	}
	return b.String()
}

// named keeps a family's name to what may stand in quotes in a style sheet.
func named(name string) bool {
	return name != "" && utf8.ValidString(name) && utf8.RuneCountInString(name) <= 60 && !strings.ContainsAny(name, "'\"\\<>{};\n\r\x00")
}

func (h House) typeFault() error {
	var seen []string
	if len(h.Types) > MostTypes {
		return fmt.Errorf("types: at most %d font files of your own fit", MostTypes)
	}
	for _, t := range h.Types {
		switch {
		case !strings.HasPrefix(t.ID, "type-") || !family.MatchString(t.ID) || slices.Contains(seen, t.ID):
			return fmt.Errorf("types.%s: it is there twice, or no font file of yours", t.ID)
		case !named(t.Name):
			return fmt.Errorf("types.%s: %q cannot be the name of a family", t.ID, t.Name)
		case standIns[t.Generic] == "" || !slices.Contains([]string{"woff2", "woff", "truetype", "opentype"}, t.Format):
			return fmt.Errorf("types.%s: it is of no kind that is known", t.ID)
		case t.Least < 1 || t.Most > 1000 || t.Least > t.Most:
			return fmt.Errorf("types.%s: its weights must be from 1 to 1000", t.ID)
		case utf8.RuneCountInString(strings.TrimSpace(t.Licence)) < 3 || utf8.RuneCountInString(t.Licence) > 300:
			return fmt.Errorf("types.%s: note by what licence you may use it, in 3 to 300 characters", t.ID)
		}
		seen = append(seen, t.ID)
	}
	return nil
}

// Sample is a style sheet that shows each family by its own letters: a class in-ID for each.
func (h House) Sample(path func(string) string) string {
	var b strings.Builder
	for _, f := range h.All() {
		face := strings.ReplaceAll(f.face(path), "font-display:optional", "font-display:swap") // it is looked at until it is there
		b.WriteString(face + ".in-" + f.ID + "{font-family:" + f.css() + "}")
	}
	return b.String()
}
