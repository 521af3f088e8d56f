package server

import (
	"errors"
	"fmt"
	"io"
	"net/http"
	"os"
	"path/filepath"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/notebook"
	"whitebarn/internal/barn/paste"
	"whitebarn/internal/barn/people"
	"whitebarn/internal/barn/records"
	"whitebarn/internal/barn/trials"
)

// registerRecords adds how the record is kept, brought out and taken in.
func (s *Server) registerRecords(a *api.Routes, r *rooms) {
	api.Handle(a, r.crew, "GET", "/records", "getRecords", 200, func(c *gin.Context, _ *api.None) (records.Keeping, error) {
		return records.Read(c, s.Barn, s.build, s.Disk, s.Backups)
	})
	api.Handle(a, r.master, "POST", "/records/backups", "backUp", 201, func(c *gin.Context, _ *api.None) (*records.KeptBackups, error) {
		return records.BackUp(c, s.Backups)
	})
	own(s, a, r.master, "PUT", "/records/thinning", "setThinning", 204, records.SetThin, "session")
	r.crew.Handle("GET", "/book/versions/:id/card.md", func(c *gin.Context) {
		if id, ok := numbered(c); ok {
			text, err := s.Book.Markdown(c, id)
			if err != nil {
				api.Fail(c, err)
				return
			}
			c.Header("Content-Disposition", fmt.Sprintf(`attachment; filename="card-%d.md"`, id))
			c.Data(http.StatusOK, "text/markdown; charset=utf-8", []byte(text))
		}
	})
	read(s, a, r.master, "/records/tokens", "getTokens", people.Tokens)
	own(s, a, r.master, "POST", "/records/tokens", "makeToken", 201, people.MakeToken, "session")
	own(s, a, r.master, "DELETE", "/records/tokens/:id", "endToken", 204, people.EndToken, "session")
	r.master.Handle("GET", "/records/barn.zip", func(c *gin.Context) { s.export(c, 0) })
	r.master.Handle("GET", "/trials/:id/trial.zip", func(c *gin.Context) {
		if id, ok := numbered(c); ok {
			s.export(c, id)
		}
	})
	api.Handle(a, r.master, "POST", "/notebook", "writeUp", 201, func(c *gin.Context, in *barn.Of[notebook.Page]) (notebook.WrittenUp, error) {
		out, err := barn.Own(c, s.Barn, who(c), in, notebook.Write)
		if err != nil {
			return out, err
		}
		s.tell(c, out.ID, trials.All...)
		_, err = s.Desk.Lines(c, []int64{out.ID})
		return out, err
	})
	r.crew.Handle("GET", "/openapi.json", func(c *gin.Context) { s.describe(c, func(doc []byte) ([]byte, error) { return doc, nil }) })
	r.crew.Handle("GET", "/schemas/report.json", func(c *gin.Context) { s.describe(c, ReportSchema) })
	pasted(s, a, r.crew, "POST", "/trials/:id/paste/cuts", "pasteCuts", paste.Cuts, trials.Cuts, trials.Steps)
	pasted(s, a, r.crew, "POST", "/trials/:id/paste/weights", "pasteWeights", paste.Weights, trials.Cuts, trials.Steps)
	pasted(s, a, r.crew, "POST", "/flights/:id/paste/scores", "pasteScores", paste.Scores, trials.Table, trials.Steps)
	r.master.Handle("POST", "/records/look", func(c *gin.Context) {
		s.takeArchive(c, func(path string) (records.Found, error) { return records.Look(path) })
	})
	r.master.Handle("POST", "/records/trials", func(c *gin.Context) {
		s.takeArchive(c, func(path string) (records.Found, error) {
			out, err := records.TakeIn(c, s.Barn, who(c), path)
			if err == nil {
				s.tell(c, out.TrialID, trials.All...)
			}
			return out, err
		})
	})
}

// ReportSchema is the JSON Schema of a trial's report, from the description of the API.
func ReportSchema(openAPI []byte) ([]byte, error) {
	return api.JSONSchema(openAPI, "Report", "https://whitebarn.example/schemas/report.json", "The report of a trial")
}

// describe answers with the description of the API, or what is made of it.
func (s *Server) describe(c *gin.Context, make func([]byte) ([]byte, error)) {
	doc, err := s.described()
	if err == nil {
		doc, err = make(doc)
	}
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.Data(http.StatusOK, "application/json", doc)
}

// pasted registers a table that is pasted: what was only to be looked at is answered as what
// was kept.
func pasted(s *Server, a *api.Routes, g *room, method, path, id string, use barn.Case[barn.With[paste.Pasted], paste.PasteReport],
	parts ...trials.Part) {
	s.doors[method+" "+g.BasePath()+path] = use.Door
	api.Handle(a, g, method, path, id, 200, func(c *gin.Context, in *barn.With[paste.Pasted]) (paste.PasteReport, error) {
		trialID, out, err := use.Do(c, s.Barn, who(c), in)
		if report, only := paste.Only(err); only {
			return report, nil
		}
		if err == nil {
			s.tell(c, trialID, parts...)
		}
		return out, err
	})
}

// export sends an archive once it is written whole: what goes wrong is answered, not sent torn.
func (s *Server) export(c *gin.Context, trial int64) {
	dir, err := os.MkdirTemp("", "white-barn-")
	if err != nil {
		api.Fail(c, err)
		return
	}
	defer os.RemoveAll(dir)
	name := records.Name(trial, s.Barn.Now())
	path := filepath.Join(dir, name)
	if err := records.Export(c, s.Barn, trial, path); err != nil {
		api.Fail(c, err)
		return
	}
	c.FileAttachment(path, name)
}

// mostArchive bounds an archive that is sent.
const mostArchive = 512 << 20

// takeArchive keeps what is sent in a file for as long as it is read.
func (s *Server) takeArchive(c *gin.Context, read func(path string) (records.Found, error)) {
	f, err := os.CreateTemp("", "white-barn-*.zip")
	if err != nil {
		api.Fail(c, err)
		return
	}
	defer os.Remove(f.Name())
	_, err = io.Copy(f, http.MaxBytesReader(c.Writer, c.Request.Body, mostArchive))
	err = errors.Join(err, f.Close())
	var large *http.MaxBytesError
	switch {
	case errors.As(err, &large):
		err = api.Refuse(http.StatusRequestEntityTooLarge, fmt.Sprintf("The archive is over %d MB.", mostArchive>>20),
			"Take it in on the machine itself: whitebarn import FILE.")
	case err != nil:
		err = barn.Refuse("The upload broke off.", "Send it again.")
	}
	var out records.Found
	if err == nil {
		out, err = read(f.Name())
	}
	if err != nil {
		api.Fail(c, err)
		return
	}
	c.JSON(http.StatusOK, out)
}
