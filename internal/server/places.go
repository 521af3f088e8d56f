package server

import (
	"context"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/pits"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/watch"
)

// RehearsalInput starts a rehearsal of a cook at a speed.
type RehearsalInput struct {
	Rate float64 `json:"rate"`
}

// Rehearsal names the copy that is played.
type Rehearsal struct {
	TrialID int64 `json:"trial_id"`
}

func (s *Server) registerPits(a *api.Routes, r *rooms) {
	read(s, a, r.crew, "/pits", "getPits", pits.List)
	read(s, a, r.crew, "/burns", "getBurns", pits.LastBurns)
	work(s, a, r.crew, "GET", "/trials/:id/set-ups", "getSetUps", pits.SetUps)
	own(s, a, r.pits, "PUT", "/pits/:id/set-up", "useSetUp", 200, pits.Use, "pits")
	own(s, a, r.pits, "POST", "/pits", "addPit", 201, pits.Add, "pits")
	own(s, a, r.pits, "PUT", "/pits/:id/grate", "setGrate", 200, pits.SetGrate, "pits")
	own(s, a, r.pits, "PUT", "/pits/:id/burn", "setBurn", 200, pits.SetBurn, "pits")
	read(s, a, r.crew, "/holders", "getHolders", pits.Holders)
	own(s, a, r.pits, "POST", "/holders", "addHolder", 201, pits.AddHolder, "holders")
	own(s, a, r.pits, "PUT", "/holders/:id", "setHolder", 200, pits.SetHolder, "holders")
	readBy(s, a, r.crew, "/holders/:id", "getHolder", pits.HolderOf)
	own(s, a, r.pits, "POST", "/holders/:id/calibrations", "putPanIn", 201, pits.PutPanIn, "holders")
	own(s, a, r.pits, "POST", "/calibrations/:id/save", "savePan", 200, pits.SavePan, "holders")
	own(s, a, r.pits, "POST", "/calibrations/:id/void", "voidPan", 200, pits.VoidPan, "holders")
	read(s, a, r.crew, "/families", "getFamilies", pits.AllFamilies)
	own(s, a, r.master, "POST", "/families", "keepFamily", 200, pits.KeepFamily, "families")
	own(s, a, r.master, "POST", "/families/:key/retire", "retireFamily", 200, pits.RetireFamily, "families")
	read(s, a, r.crew, "/devices", "getDevices", pits.Devices)
	readBy(s, a, r.crew, "/devices/:id/refusals", "getRefusals", pits.Refusals)
	own(s, a, r.master, "POST", "/devices", "addDevice", 201, pits.AddDevice, "devices")
	own(s, a, r.master, "POST", "/devices/:id/token", "renewDevice", 200, pits.RenewDevice, "devices")
	own(s, a, r.master, "POST", "/devices/:id/retire", "retireDevice", 204, pits.RetireDevice, "devices")
	read(s, a, r.crew, "/scales", "getScales", pits.Scales)
}

// registerWatch adds what is worked out of a cook under way.
func (s *Server) registerWatch(a *api.Routes, r *rooms) {
	readBy(s, a, r.crew, "/cooks/:id/forecast", "getForecast", func(c context.Context, b *barn.Barn, id int64) ([]watch.Outlook, error) {
		return s.Watcher.Forecast(c, id, b.Now())
	})
	readBy(s, a, r.crew, "/cooks/:id/ways", "getWays", func(c context.Context, b *barn.Barn, id int64) ([]watch.WaysOut, error) {
		return s.Watcher.Ways(c, id, b.Now())
	})
	readBy(s, a, r.crew, "/cooks/:id/so-far", "getSoFar", func(c context.Context, b *barn.Barn, id int64) (watch.Delivered, error) {
		return s.Watcher.SoFar(c, id, b.Now())
	})
	readBy(s, a, r.crew, "/cooks/:id/rest", "getRest", func(c context.Context, b *barn.Barn, id int64) (watch.RestView, error) {
		return s.Watcher.Rest(c, id, b.Now())
	})
	readBy(s, a, r.crew, "/cooks/:id/clocks", "getClocks", func(c context.Context, b *barn.Barn, id int64) ([]watch.Clock, error) {
		return s.Watcher.Clocks(c, id, b.Now())
	})
}

func (s *Server) registerRehearsals(a *api.Routes, r *rooms) {
	api.Handle(a, r.crew, "POST", "/cooks/:id/rehearse", "rehearse", 201, func(c *gin.Context, in *barn.With[RehearsalInput]) (Rehearsal, error) {
		id, err := s.Player.Rehearse(c, who(c).ID, in.ID, max(in.Body.Rate, 1))
		if err == nil {
			s.tell(c, id, trials.All...)
		}
		return Rehearsal{id}, err
	})
	played := func(c *gin.Context, cookID int64, change func() error) (trials.TrialParts, error) {
		id, err := s.Player.TrialOf(c, cookID)
		if err == nil {
			err = change()
		}
		if err != nil {
			return trials.TrialParts{}, err
		}
		s.tell(c, id, trials.Cooks)
		return s.Trials.Parts(c, id, trials.Cooks)
	}
	api.Handle(a, r.crew, "PUT", "/cooks/:id/rate", "setRate", 200, func(c *gin.Context, in *barn.With[RehearsalInput]) (trials.TrialParts, error) {
		return played(c, in.ID, func() error { return s.Player.SetRate(c, in.ID, in.Body.Rate) })
	})
	api.Handle(a, r.crew, "POST", "/cooks/:id/stop", "stopRehearsal", 200, func(c *gin.Context, in *barn.ByID) (trials.TrialParts, error) {
		return played(c, in.ID, func() error { return s.Player.Stop(c, in.ID) })
	})
}
