package server

import (
	"bytes"
	"image"
	_ "image/jpeg" // the two forms a photo may have
	_ "image/png"
	"net/http"

	"github.com/gin-gonic/gin"

	"whitebarn/core/fault"
	"whitebarn/internal/api"
	"whitebarn/internal/store"
)

// mostPhoto is the largest picture that is kept; a browser makes its own
// smaller before it sends them.
const (
	mostPhotoBytes = 4 << 20
	mostPhotoSide  = 4096
)

// PhotoKept is a photo that can now be logged.
type PhotoKept struct {
	ID int64 `json:"id"`
}

func (s *Server) addPhoto(c *gin.Context, in *struct {
	byID
	File api.File
}) (PhotoKept, error) {
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
	id, err := s.store.AddPhoto(c, who(c).ID, store.Photo{CookID: in.ID, Media: "image/" + form, Bytes: in.File.Data})
	return PhotoKept{id}, err
}

func (s *Server) photo(c *gin.Context) {
	var in byID
	if err := c.ShouldBindUri(&in); err != nil {
		api.Fail(c, api.Refuse(http.StatusNotFound, "There is no such photo.", "Check the address."))
		return
	}
	p, err := s.store.Photo(c, in.ID)
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Header("Cache-Control", "private, max-age=31536000, immutable")
	c.Data(http.StatusOK, p.Media, p.Bytes)
}
