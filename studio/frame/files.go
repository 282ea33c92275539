package frame

import (
	"fmt"
	"io"
	"mime/multipart"

	"chrysagon/core/refusal"

	"github.com/gofiber/fiber/v3"
)

// ReadPart reads an uploaded file of up to so many bytes.
func ReadPart(h *multipart.FileHeader, most int64) ([]byte, error) {
	if h.Size > most {
		return nil, refusal.Refusal{Kind: refusal.ErrInvalid, Say: fmt.Sprintf("“%s” is %d MB; at most %d MB fit.", h.Filename, h.Size>>20, most>>20)}
	}
	f, err := h.Open()
	if err != nil {
		return nil, err
	}
	defer func() { _ = f.Close() }()
	return io.ReadAll(io.LimitReader(f, most))
}

// SendFile hands a file out under a name.
func SendFile(c fiber.Ctx, name, kind string, raw []byte) error {
	c.Set("Content-Disposition", `attachment; filename="`+name+`"`)
	c.Set("Content-Type", kind)
	return c.Send(raw)
}
