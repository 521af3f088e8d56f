package fire

import (
	"bytes"
	"context"
	"image"
	"image/jpeg"
	"image/png"

	"whitebarn/core/fault"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// mostPhoto is the largest picture that is kept; a browser makes its own
// smaller before it sends them.
const (
	mostPhotoBytes = 4 << 20
	mostPhotoSide  = 4096
	photoQuality   = 88
)

// PhotoKept is a photo that can now be logged.
type PhotoKept struct {
	ID int64 `json:"id"`
}

// PhotoOf is a photo for a cook.
type PhotoOf struct {
	barn.ByID
	File barn.File
}

func addPhoto(ctx context.Context, a *barn.Act, in *PhotoOf) (PhotoKept, error) {
	if len(in.File.Data) > mostPhotoBytes {
		return PhotoKept{}, fault.New("file", "the photo is over 4 MB", "send it smaller")
	}
	size, form, err := image.DecodeConfig(bytes.NewReader(in.File.Data))
	if err != nil {
		return PhotoKept{}, fault.New("file", "it is not a JPEG or PNG picture", "take a photo, or choose another file")
	}
	if max(size.Width, size.Height) > mostPhotoSide {
		return PhotoKept{}, fault.New("file", "the photo is wider or higher than 4096 dots", "send it smaller")
	}
	picture, err := anew(in.File.Data, form)
	if err != nil {
		return PhotoKept{}, fault.New("file", "the picture is torn: it ends before it is whole", "send it again, or take another")
	}
	id, err := a.Store.AddPhoto(ctx, a.Who.ID, store.Photo{CookID: in.ID, Media: "image/" + form, Bytes: picture})
	return PhotoKept{id}, err
}

// anew decodes a picture and writes it again, so that only its dots are kept:
// not where it was taken, nor what stands behind its end. A camera's note of
// which way is up goes too; a browser turns the picture before it sends it.
func anew(data []byte, form string) ([]byte, error) {
	picture, _, err := image.Decode(bytes.NewReader(data))
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if form == "png" {
		err = png.Encode(&out, picture)
	} else {
		err = jpeg.Encode(&out, picture, &jpeg.Options{Quality: photoQuality})
	}
	return out.Bytes(), err
}
