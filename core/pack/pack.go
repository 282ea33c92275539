// Package pack reads and writes page packages: a page with all that it says,
// and its pictures, in one zip file, docs/formats/page.md. What it names and does not
// contain (goods, deadlines, shelves) goes along by name, so that the store
// that takes it can find its own.
package pack

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"regexp"
	"slices"
	"strings"
	"time"

	"chrysagon/core/deadline"
	"chrysagon/core/goods"
	"chrysagon/core/manuscript"
	"chrysagon/core/offer"
)

// Version is the version of the format that this program writes.
const Version = 1

// Limits that keep a hostile file from harm.
const (
	MaxFile    = 80 << 20  // bytes of the package as it comes
	MaxJSON    = 5 << 20   // bytes of page.json
	MaxPicture = 20 << 20  // bytes of one picture
	MaxAll     = 200 << 20 // bytes of everything, unpacked
	MaxEntries = 300
)

const pageFile = "page.json"

// Page is a page as a package holds it.
type Page struct {
	Version     int    `json:"version"`               // 1
	ID          string `json:"id,omitempty"`          // in the store it comes from
	Name        string `json:"name"`                  // in the studio
	Address     string `json:"address"`               // where visitors find it, without the slash
	Purpose     string `json:"purpose"`               // what it is for, such as sales
	Layout      string `json:"layout,omitempty"`      // bare when empty, header or full
	Title       string `json:"title,omitempty"`       // for tabs and search results
	Description string `json:"description,omitempty"` // for search results
	// Manuscript is the page itself.
	Manuscript manuscript.Page `json:"manuscript"`
	// Pictures are those it shows; their files lie in the folder pictures.
	Pictures []Picture `json:"pictures,omitempty"`
	// Names are what it refers to and does not contain.
	Names []Name `json:"names,omitempty"`
	// Facts are what it shows beside, for a launch check without the store.
	Facts Facts `json:"facts,omitzero"`
}

// Picture is one picture of the package.
type Picture struct {
	ID   string `json:"id"`
	File string `json:"file"` // in the folder pictures
	Name string `json:"name"`
	Alt  string `json:"alt,omitempty"`
	// Focus is what stays in view, in percent across and down; none: the middle.
	Focus *[2]int `json:"focus,omitempty"`
	Crop  [4]int  `json:"crop,omitzero"` // what is cut out: x, y, width, height in thousandths; zeros: all
}

// Name is something that the page refers to.
type Name struct {
	Type string `json:"type"` // product, deadline, shelf, group, video, file or link (a page)
	ID   string `json:"id"`
	Name string `json:"name"`          // of a page: its address
	SKU  string `json:"sku,omitempty"` // of a product
}

// Facts are the goods, offers and deadlines a page shows, as they stood when it
// was packed. Costs stay in the store, and so do offers that need a code.
type Facts struct {
	Currency  string              `json:"currency,omitempty"`
	Zone      string              `json:"zone,omitempty"`  // IANA name
	Phone     string              `json:"phone,omitempty"` // of the store
	Email     string              `json:"email,omitempty"`
	At        time.Time           `json:"at,omitzero"` // when it was packed
	Goods     []goods.Product     `json:"goods,omitempty"`
	Offers    []offer.Offer       `json:"offers,omitempty"`
	Deadlines []deadline.Deadline `json:"deadlines,omitempty"`
}

// Package is a page with the files of its pictures, by their names.
type Package struct {
	Page  Page
	Files map[string][]byte
}

// Fault is a place in a package and what is wrong there.
type Fault struct{ Place, Reason string }

func (f Fault) Error() string { return f.Place + ": " + f.Reason }

func fault(place, reason string, args ...any) error {
	return Fault{place, fmt.Sprintf(reason, args...)}
}

// Write packs a page. The same page gives the same bytes.
func Write(p Package) ([]byte, error) {
	p.Page.Version = Version
	raw, err := json.MarshalIndent(p.Page, "", "  ")
	if err != nil {
		return nil, fmt.Errorf("write the page: %w", err)
	}
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	put := func(name string, content []byte) error {
		w, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Deflate}) // no time: the same page, the same bytes
		if err == nil {
			_, err = w.Write(content)
		}
		return err
	}
	if err := put(pageFile, append(raw, '\n')); err != nil {
		return nil, fmt.Errorf("pack the page: %w", err)
	}
	for _, name := range slices.Sorted(maps.Keys(p.Files)) {
		if err := put("pictures/"+name, p.Files[name]); err != nil {
			return nil, fmt.Errorf("pack %s: %w", name, err)
		}
	}
	if err := z.Close(); err != nil {
		return nil, fmt.Errorf("pack: %w", err)
	}
	return out.Bytes(), nil
}

// pictureFile is what a picture's file may be called: no folder, no dots before.
var pictureFile = regexp.MustCompile(`^[A-Za-z0-9_-]{1,60}\.(jpg|png|gif|webp|svg)$`)

// Read unpacks a package and validates all of it, or says what is wrong and
// where. Nothing is believed of what the file says about its own sizes.
func Read(raw []byte, schema manuscript.Schema) (Package, error) {
	p := Package{Files: map[string][]byte{}}
	if len(raw) > MaxFile {
		return p, fault("package", "is %d MB; at most %d MB fit", len(raw)>>20, MaxFile>>20)
	}
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return p, fault("package", "is no zip file, or a damaged one")
	}
	if len(z.File) > MaxEntries {
		return p, fault("package", "has %d files; at most %d fit", len(z.File), MaxEntries)
	}
	var page []byte
	seen, left := map[string]bool{}, MaxAll
	for _, f := range z.File {
		name := f.Name
		if name == "pictures/" {
			continue
		}
		place := fmt.Sprintf("%.80q", name)
		picture, inFolder := strings.CutPrefix(name, "pictures/")
		switch {
		case seen[name]:
			return p, fault(place, "is in the package twice")
		case !f.Mode().IsRegular():
			return p, fault(place, "is no plain file")
		case name != pageFile && (!inFolder || !pictureFile.MatchString(picture)):
			return p, fault(place, "does not belong here: a package has %s, and pictures in the folder pictures named with letters, digits, _ and -", pageFile)
		}
		seen[name] = true
		most := MaxPicture
		if name == pageFile {
			most = MaxJSON
		}
		content, err := unpack(f, min(most, left))
		if err != nil {
			return p, fault(place, "%s", err.Error())
		}
		left -= len(content)
		if name == pageFile {
			page = content
		} else {
			p.Files[picture] = content
		}
	}
	if page == nil {
		return p, fault("package", "has no %s", pageFile)
	}
	p.Page, err = parse(page, schema)
	if err != nil {
		return p, err
	}
	return p, p.whole()
}

// unpack reads one file, and no more of it than fits, whatever it says of itself.
func unpack(f *zip.File, most int) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, fmt.Errorf("cannot be unpacked: %w", err)
	}
	defer func() { _ = r.Close() }()
	content, err := io.ReadAll(io.LimitReader(r, int64(most)+1))
	if err != nil {
		return nil, fmt.Errorf("is damaged: %w", err)
	}
	if len(content) > most {
		return nil, fmt.Errorf("is larger than %d MB unpacked, or all of the package is larger than %d MB", most>>20, MaxAll>>20)
	}
	return content, nil
}

func parse(raw []byte, schema manuscript.Schema) (Page, error) {
	var p struct {
		Page
		Manuscript json.RawMessage `json:"manuscript"`
	}
	dec := json.NewDecoder(bytes.NewReader(raw))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&p); err != nil {
		return Page{}, fault(pageFile, "before character %d: %v", dec.InputOffset(), err)
	}
	if p.Version != Version {
		return Page{}, fault(pageFile+" version", "is %d; this program reads version %d", p.Version, Version)
	}
	tree, err := schema.Parse(p.Manuscript)
	if err != nil {
		return Page{}, fault(pageFile+" manuscript", "%s", err.Error())
	}
	page := p.Page
	page.Manuscript = tree
	return page, nil
}

// whole tells whether the page and the files belong together.
func (p Package) whole() error {
	listed, ids := map[string]bool{}, map[string]bool{}
	for i, pic := range p.Page.Pictures {
		place := fmt.Sprintf("%s pictures[%d]", pageFile, i)
		if !pictureFile.MatchString(pic.File) || p.Files[pic.File] == nil {
			return fault(place, "names the file %.80q, which is not in the folder pictures", pic.File)
		}
		if ids[pic.ID] || pic.ID == "" {
			return fault(place, "has no ID, or one that another picture has")
		}
		listed[pic.File], ids[pic.ID] = true, true
	}
	for name := range p.Files {
		if !listed[name] {
			return fault(fmt.Sprintf("%q", "pictures/"+name), "is not named by %s", pageFile)
		}
	}
	return nil
}
