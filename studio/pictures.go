package studio

import (
	"strconv"
	"strings"

	"chrysagon/app/pictures"
	"chrysagon/core/refusal"

	"github.com/gofiber/fiber/v3"
)

// picturesShown is how many pictures one page of the shelf shows.
const picturesShown = 48

// picturesPlace is the shelf of pictures: where each is shown, what nobody sees,
// what is missing.
func (s *Studio) picturesPlace(c fiber.Ctx) error {
	body, err := s.picturesBody(c)
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return s.fragment(c, "pictures-list", body)
	}
	return s.place(c, "pictures", "Pages", body)
}

func (s *Studio) picturesBody(c fiber.Ctx) (map[string]any, error) {
	shelf, err := s.App.Pictures.PictureShelf(c)
	if err != nil {
		return nil, err
	}
	only, find := typed(c, "only"), strings.ToLower(typed(c, "find"))
	var list []pictures.ShelfPicture
	for _, p := range shelf.Pictures {
		switch {
		case only == "spare" && !p.Spare(), only == "wordless" && p.Alt != "", only == "unproved" && !p.Unproved():
		case find != "" && !strings.Contains(strings.ToLower(p.Name+" "+p.Alt), find):
		default:
			list = append(list, p)
		}
	}
	found := len(list)
	return map[string]any{"Title": "Pictures", "Shelf": shelf, "List": list[:min(found, picturesShown)], "Found": found, "All": len(shelf.Pictures), "Only": only, "Find": find}, nil
}

// onPicture carries out something on one picture and shows its card anew.
func (s *Studio) onPicture(do func(c fiber.Ctx, id string) error) fiber.Handler {
	return func(c fiber.Ctx) error {
		id := strings.Clone(c.Params("id"))
		if err := do(c, id); err != nil {
			return err
		}
		shelf, err := s.App.Pictures.PictureShelf(c)
		if err != nil {
			return err
		}
		for _, p := range shelf.Pictures {
			if p.ID == id {
				return s.fragment(c, "picture-card", map[string]any{"P": p, "Shelf": shelf})
			}
		}
		return c.SendString("")
	}
}

func (s *Studio) describePicture(c fiber.Ctx, id string) error {
	return s.App.Pictures.Describe(c, id, pictures.Picturing{Name: typed(c, "name"), Alt: typed(c, "alt"), ComesFrom: typed(c, "comes_from"), Permission: typed(c, "permission"), FocusX: number(c, "focus_x"), FocusY: number(c, "focus_y")})
}

func (s *Studio) cropPicture(c fiber.Ctx, id string) error {
	return s.App.Pictures.Crop(c, id, number(c, "x"), number(c, "y"), number(c, "w"), number(c, "h"))
}

func (s *Studio) replacePicture(c fiber.Ctx, id string) error {
	return s.App.Pictures.ReplacePicture(c, id, typed(c, "other"))
}

func (s *Studio) dropPicture(c fiber.Ctx, id string) error { return s.App.Pictures.DropPicture(c, id) }

// number reads a whole number that a form sent; -1 when it is none.
func number(c fiber.Ctx, name string) int {
	n, err := strconv.Atoi(typed(c, name))
	if err != nil {
		return -1
	}
	return n
}

// wholePicture is the file as it came, for choosing a part of it.
func (s *Studio) wholePicture(c fiber.Ctx) error {
	mime, raw, err := s.App.Pictures.WholePicture(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	c.Set("Content-Type", mime)
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
	return c.Send(raw)
}

func (s *Studio) uploadVideo(c fiber.Ctx) error {
	return s.receive(c, "video", pictures.MaxVideoBytes, func(name string, raw []byte) (string, string, error) {
		v, err := s.App.Pictures.UploadVideo(c, name, raw)
		return v.ID, v.Name, err
	})
}

func (s *Studio) uploadFile(c fiber.Ctx) error {
	return s.receive(c, "file", pictures.MaxHandoutBytes, func(name string, raw []byte) (string, string, error) {
		f, err := s.App.Pictures.UploadFile(c, name, raw)
		return f.ID, f.Name, err
	})
}

// receive takes one file of a form and answers with what it is kept as.
func (s *Studio) receive(c fiber.Ctx, field string, most int64, keep func(name string, raw []byte) (id, kept string, err error)) error {
	header, err := c.FormFile(field)
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a file first."}
	}
	raw, err := readPart(header, most)
	if err != nil {
		return err
	}
	id, name, err := keep(header.Filename, raw)
	if err != nil {
		return err
	}
	return c.JSON(map[string]string{"id": id, "name": name})
}

// takeFeed fills a list of posts from a feed file.
func (s *Studio) takeFeed(c fiber.Ctx) error {
	header, err := c.FormFile("feed")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a feed file first."}
	}
	raw, err := readPart(header, 5<<20)
	if err != nil {
		return err
	}
	said, err := s.App.Desk.TakeFeed(c, who(c).User.ID, strings.Clone(c.Params("id")), strings.Clone(c.Params("piece")), strings.Clone(c.Params("field")), raw)
	if err != nil {
		return err
	}
	return c.JSON(map[string]string{"said": said})
}
