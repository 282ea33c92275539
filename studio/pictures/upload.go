package pictures

import (
	"encoding/json"

	"chrysagon/app/factbook"
	"chrysagon/app/pictures"
	"chrysagon/core/refusal"
	"chrysagon/studio/frame"

	"github.com/gofiber/fiber/v3"
)

// uploadPictures takes many pictures at once, and puts them on a product when
// one is named.
func (place *Place) uploadPictures(c fiber.Ctx) error {
	form, err := c.MultipartForm()
	if err != nil {
		return refusal.Refusal{Kind: refusal.ErrInvalid, Say: "Choose pictures first."}
	}
	type answer struct {
		Name  string `json:"name"`
		ID    string `json:"id,omitempty"`
		Path  string `json:"path,omitempty"`
		Error string `json:"error,omitempty"`
		// Judged is what is to be known of it before it is put on a page.
		Judged []string `json:"judged,omitempty"`
	}
	var out []answer
	product := frame.Typed(c, "product")
	for _, h := range form.File["pictures"] {
		one := answer{Name: h.Filename}
		raw, err := frame.ReadPart(h, pictures.MaxPictureBytes+1)
		if err == nil {
			pic, failed := place.Pictures.Upload(c, h.Filename, raw)
			err = failed
			if err == nil {
				one.ID, one.Path = pic.ID, factbook.PicturePath(pic)
				for _, j := range factbook.PictureFacts(pic).Judged() {
					one.Judged = append(one.Judged, j.Says)
				}
				if product != "" {
					err = place.Pictures.ShowOn(c, product, pic.ID)
				}
			}
		}
		var refusal refusal.Refusal
		switch {
		case frame.AsRefusal(err, &refusal):
			one.Error = refusal.Say
		case err != nil:
			return err
		}
		out = append(out, one)
	}
	raw, err := json.Marshal(out)
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(raw)
}
