package pictures

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/draw"
)

// orientation is how a camera held when it took a JPEG: the Exif tag 274
// (CIPA DC-008, Exif 2.32, 4.6.4): 1 as it is stored, 2 to 8 turned or mirrored.
// Anything that cannot be read is 1.
func orientation(raw []byte) int {
	if !bytes.HasPrefix(raw, []byte{0xff, 0xd8}) {
		return 1
	}
	for at := 2; at+4 <= len(raw) && raw[at] == 0xff; {
		marker, length := raw[at+1], int(binary.BigEndian.Uint16(raw[at+2:]))
		if marker == 0xda || length < 2 || at+2+length > len(raw) { // the picture itself begins
			return 1
		}
		if segment := raw[at+4 : at+2+length]; marker == 0xe1 && bytes.HasPrefix(segment, []byte("Exif\x00\x00")) {
			return exifOrientation(segment[6:])
		}
		at += 2 + length
	}
	return 1
}

// exifOrientation reads it from the first directory of a TIFF structure.
func exifOrientation(tiff []byte) int {
	if len(tiff) < 8 {
		return 1
	}
	var order binary.ByteOrder = binary.BigEndian
	if tiff[0] == 'I' {
		order = binary.LittleEndian
	}
	from := int64(order.Uint32(tiff[4:]))
	if from < 8 || from+2 > int64(len(tiff)) {
		return 1
	}
	directory := tiff[from:]
	for i := range int(order.Uint16(directory)) {
		entry := 2 + 12*i
		if entry+12 > len(directory) {
			return 1
		}
		if order.Uint16(directory[entry:]) == 274 {
			if o := int(order.Uint16(directory[entry+8:])); o >= 1 && o <= 8 {
				return o
			}
			return 1
		}
	}
	return 1
}

// upright turns a picture the way its camera was held.
func upright(full image.Image, o int) image.Image {
	if o == 1 {
		return full
	}
	b := full.Bounds()
	w, h := b.Dx(), b.Dy()
	in := image.NewRGBA(image.Rect(0, 0, w, h))
	draw.Draw(in, in.Bounds(), full, b.Min, draw.Src)
	size := image.Rect(0, 0, w, h)
	if o >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewRGBA(size)
	for y := range h {
		for x := range w {
			toX, toY := x, y
			switch o {
			case 2:
				toX = w - 1 - x
			case 3:
				toX, toY = w-1-x, h-1-y
			case 4:
				toY = h - 1 - y
			case 5:
				toX, toY = y, x
			case 6:
				toX, toY = h-1-y, x
			case 7:
				toX, toY = h-1-y, w-1-x
			case 8:
				toX, toY = y, w-1-x
			}
			copy(out.Pix[out.PixOffset(toX, toY):][:4], in.Pix[in.PixOffset(x, y):][:4])
		}
	}
	return out
}
