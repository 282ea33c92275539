package pictures

import (
	"strconv"
	"strings"

	"chrysagon/app/pictures"
	"chrysagon/core/refusal"
	"chrysagon/internal/media"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// picturesShown is how many pictures one page of the shelf shows.
const picturesShown = 48

// picturesPlace is the shelf of pictures: where each is shown, what nobody sees,
// what is missing.
func (place *Place) picturesPlace(c fiber.Ctx) error {
	body, err := place.picturesBody(c)
	if err != nil {
		return err
	}
	if c.Get("HX-Request") != "" {
		return place.Fragment(c, "pictures-list", body)
	}
	return place.Show(c, "pictures", "Pages", body)
}

func (place *Place) picturesBody(c fiber.Ctx) (map[string]any, error) {
	shelf, err := place.Pictures.Collection(c)
	if err != nil {
		return nil, err
	}
	only, find := frame.Typed(c, "only"), strings.ToLower(frame.Typed(c, "find"))
	var list []pictures.Owned
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
func (place *Place) onPicture(do func(c fiber.Ctx, id string) error) fiber.Handler {
	return func(c fiber.Ctx) error {
		id := strings.Clone(c.Params("id"))
		if err := do(c, id); err != nil {
			return err
		}
		shelf, err := place.Pictures.Collection(c)
		if err != nil {
			return err
		}
		for _, p := range shelf.Pictures {
			if p.ID == id {
				return place.Fragment(c, "picture-card", map[string]any{"P": p, "Shelf": shelf})
			}
		}
		return c.SendString("")
	}
}

func (place *Place) describePicture(c fiber.Ctx, id string) error {
	return place.Pictures.Describe(c, id, pictures.Picturing{Name: frame.Typed(c, "name"), Alt: frame.Typed(c, "alt"), ComesFrom: frame.Typed(c, "comes_from"), Permission: frame.Typed(c, "permission"), FocusX: number(c, "focus_x"), FocusY: number(c, "focus_y")})
}

func (place *Place) cropPicture(c fiber.Ctx, id string) error {
	return place.Pictures.Crop(c, id, number(c, "x"), number(c, "y"), number(c, "w"), number(c, "h"))
}

func (place *Place) replacePicture(c fiber.Ctx, id string) error {
	return place.Pictures.ReplacePicture(c, id, frame.Typed(c, "other"))
}

func (place *Place) dropPicture(c fiber.Ctx, id string) error {
	return place.Pictures.DropPicture(c, id)
}

// number reads a whole number that a form sent; -1 when it is none.
func number(c fiber.Ctx, name string) int {
	n, err := strconv.Atoi(frame.Typed(c, name))
	if err != nil {
		return -1
	}
	return n
}

// wholePicture is the file as it came, for choosing a part of it.
func (place *Place) wholePicture(c fiber.Ctx) error {
	mime, raw, err := place.Pictures.WholePicture(c, strings.Clone(c.Params("id")))
	if err != nil {
		return err
	}
	c.Set("Content-Type", mime)
	c.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox")
	return c.Send(raw)
}

func (place *Place) uploadVideo(c fiber.Ctx) error {
	return place.receive(c, "video", pictures.MaxVideoBytes, func(name string, raw []byte) (string, string, error) {
		v, err := place.Pictures.UploadVideo(c, name, raw)
		return v.ID, v.Name, err
	})
}

func (place *Place) uploadFile(c fiber.Ctx) error {
	return place.receive(c, "file", pictures.MaxHandoutBytes, func(name string, raw []byte) (string, string, error) {
		f, err := place.Pictures.UploadFile(c, name, raw)
		return f.ID, f.Name, err
	})
}

// receive takes one file of a form and answers with what it is kept as.
func (place *Place) receive(c fiber.Ctx, field string, most int64, keep func(name string, raw []byte) (id, kept string, err error)) error {
	header, err := c.FormFile(field)
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a file first."}
	}
	raw, err := frame.ReadPart(header, most)
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
func (place *Place) takeFeed(c fiber.Ctx) error {
	header, err := c.FormFile("feed")
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose a feed file first."}
	}
	raw, err := frame.ReadPart(header, 5<<20)
	if err != nil {
		return err
	}
	said, err := place.Desk.TakeFeed(c, frame.Who(c).User.ID, strings.Clone(c.Params("id")), strings.Clone(c.Params("piece")), strings.Clone(c.Params("field")), raw)
	if err != nil {
		return err
	}
	return c.JSON(map[string]string{"said": said})
}

func (place *Place) picture(c fiber.Ctx) error { return media.Picture(c, place.Pictures, "private") }

func (place *Place) video(c fiber.Ctx) error { return media.Video(c, place.Pictures, "private") }
