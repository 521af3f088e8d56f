package server

import (
	"bytes"
	"compress/gzip"
	"crypto/sha256"
	"encoding/hex"
	"io/fs"
	"mime"
	"net/http"
	"path"
	"strings"
	"sync"

	"github.com/gin-gonic/gin"
)

// site is the built front end; what is asked for is compressed once.
type site struct{ files map[string]asset }

type asset struct {
	kind, tag string
	plain     []byte
	small     func() []byte // nil where it would not get smaller
}

func newSite(dist fs.FS) *site {
	s := &site{files: map[string]asset{}}
	_ = fs.WalkDir(dist, ".", func(name string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() {
			return err
		}
		data, err := fs.ReadFile(dist, name)
		if err != nil {
			return err
		}
		sum := sha256.Sum256(data)
		a := asset{kind: mime.TypeByExtension(path.Ext(name)), tag: `"` + hex.EncodeToString(sum[:12]) + `"`, plain: data}
		switch path.Ext(name) {
		case ".webmanifest":
			a.kind = "application/manifest+json"
		case ".woff2":
			a.kind = "font/woff2"
		case ".png":
		default:
			a.small = sync.OnceValue(func() []byte { return gzipped(data) })
		}
		s.files[name] = a
		return nil
	})
	return s
}

func gzipped(data []byte) []byte {
	var b bytes.Buffer
	z := gzip.NewWriter(&b)
	_, _ = z.Write(data)
	_ = z.Close()
	return b.Bytes()
}

func (s *site) serve(c *gin.Context) {
	name := strings.TrimPrefix(path.Clean(c.Request.URL.Path), "/")
	file, there := s.files[name]
	hashed := strings.HasPrefix(name, "assets/")
	switch {
	case strings.HasPrefix(name, "api/"), c.Request.Method != http.MethodGet && c.Request.Method != http.MethodHead:
		noRoute(c)
		return
	case there && hashed:
		c.Header("Cache-Control", "public, max-age=31536000, immutable")
	case there:
		c.Header("Cache-Control", "no-cache")
	case hashed: // an old page asking for a gone part must not get HTML
		c.Header("Cache-Control", "no-store")
		c.String(http.StatusNotFound, "gone")
		return
	default:
		if file, there = s.files["index.html"]; !there {
			c.String(http.StatusServiceUnavailable, "The front end is not built. Run make.")
			return
		}
		c.Header("Cache-Control", "no-cache")
	}
	c.Header("Vary", "Accept-Encoding")
	c.Header("ETag", file.tag)
	if c.GetHeader("If-None-Match") == file.tag {
		c.Status(http.StatusNotModified)
		return
	}
	if file.small != nil && strings.Contains(c.GetHeader("Accept-Encoding"), "gzip") {
		c.Header("Content-Encoding", "gzip")
		c.Data(http.StatusOK, file.kind, file.small())
		return
	}
	c.Data(http.StatusOK, file.kind, file.plain)
}
