package server

import (
	"context"

	"github.com/gin-gonic/gin"

	"whitebarn/internal/api"
	"whitebarn/internal/barn"
	"whitebarn/internal/barn/ask"
	"whitebarn/internal/barn/fire"
	"whitebarn/internal/barn/gate"
	"whitebarn/internal/barn/match"
	"whitebarn/internal/barn/plan"
	"whitebarn/internal/barn/prep"
	"whitebarn/internal/barn/rest"
	"whitebarn/internal/barn/settle"
	"whitebarn/internal/barn/table"
	"whitebarn/internal/barn/trials"
	"whitebarn/internal/barn/undo"
)

type partsQuery struct {
	barn.ByID
	Of []trials.Part `form:"of" binding:"max=7"` // none is all
}

func (s *Server) registerTrials(a *api.Routes, r *rooms) {
	read(s, a, r.crew, "/trials", "getTrials", func(c context.Context, _ *barn.Barn) ([]trials.TrialLine, error) { return s.Trials.List(c) })
	readBy(s, a, r.crew, "/trials/:id", "getTrial", func(c context.Context, _ *barn.Barn, id int64) (trials.TrialView, error) { return s.Trials.Of(c, id) })
	work(s, a, r.crew, "GET", "/trials/:id/parts", "getParts", func(c context.Context, _ *barn.Barn, in *partsQuery) (trials.TrialParts, error) {
		return s.Trials.Parts(c, in.ID, in.Of...)
	})
	read(s, a, r.crew, "/home", "getHome", func(c context.Context, _ *barn.Barn) (trials.Home, error) { return s.Trials.Home(c) })
	api.Handle(a, r.master, "POST", "/trials", "createTrial", 201, func(c *gin.Context, in *ask.NewInput) (trials.TrialView, error) {
		id, err := barn.Own(c, s.Barn, who(c), in, s.Book.Ask)
		if err != nil {
			return trials.TrialView{}, err
		}
		s.tell(c, id, trials.All...)
		return s.Trials.Of(c, id)
	})
	alter(s, a, r.crew, "POST", "/trials/:id/unvoid", "unvoid", 200, undo.Void, trials.All...)
}

func (s *Server) registerAsk(a *api.Routes, r *rooms) {
	alter(s, a, r.master, "PUT", "/trials/:id/ask", "setAsk", 200, ask.Set, trials.Ask, trials.Steps, trials.Cuts, trials.Cooks)
	work(s, a, r.crew, "POST", "/design/review", "reviewAsk", func(c context.Context, b *barn.Barn, in *ask.Reviewed) (ask.Reading, error) {
		return ask.Review(c, b, s.Desk, in.Body)
	})
	work(s, a, r.crew, "GET", "/trials/:id/draft", "getDraft", ask.Draft)
	read(s, a, r.crew, "/catalogue", "getCatalogue", ask.AllOf)
	own(s, a, r.master, "POST", "/catalogue/factors", "addFactor", 201, ask.AddFactor, "catalogue")
	own(s, a, r.master, "POST", "/catalogue/factors/:id/levels", "addLevel", 201, ask.AddLevel, "catalogue")
	own(s, a, r.master, "POST", "/catalogue/factors/:id/merge", "mergeFactor", 200, ask.MergeFactor, "catalogue")
	own(s, a, r.master, "POST", "/catalogue/factors/:id/retire", "retireFactor", 200, ask.RetireFactor, "catalogue")
	own(s, a, r.master, "POST", "/catalogue/levels/:id/retire", "retireLevel", 200, ask.RetireLevel, "catalogue")
	own(s, a, r.master, "POST", "/catalogue/levels/:id/merge", "mergeLevel", 200, ask.MergeLevel, "catalogue")
	own(s, a, r.master, "PUT", "/catalogue/levels/:id/key", "setLevelKey", 200, ask.SetLevelKey, "catalogue")
	own(s, a, r.master, "PUT", "/catalogue/products/:id", "setProduct", 200, ask.SetProduct, "catalogue")
}

func (s *Server) registerMatch(a *api.Routes, r *rooms) {
	cuts := []trials.Part{trials.Cuts, trials.Steps}
	laid := []trials.Part{trials.Cuts, trials.Steps, trials.Cooks} // what lies on a run says its levels
	alter(s, a, r.crew, "POST", "/trials/:id/cuts", "addCut", 201, match.AddCut, cuts...)
	alter(s, a, r.crew, "PUT", "/cuts/:id", "setCut", 200, match.SetCut, laid...)
	alter(s, a, r.crew, "POST", "/cuts/:id/void", "voidCut", 200, match.VoidCut, laid...)
	alter(s, a, r.arms, "POST", "/cuts/:id/divide", "divideCut", 201, match.DivideCut, cuts...)
	alter(s, a, r.crew, "PUT", "/cuts/:id/dimensions", "setDimension", 200, match.SetDimension, cuts...)
	alter(s, a, r.arms, "POST", "/trials/:id/allotment", "drawArms", 201, match.DrawArms, laid...)
	alter(s, a, r.arms, "POST", "/trials/:id/allotment/back", "backToDraw", 201, match.BackToDraw, laid...)
	alter(s, a, r.arms, "PUT", "/trials/:id/arms", "setArms", 200, match.SetArms, laid...)
	alter(s, a, r.arms, "POST", "/trials/:id/blocks", "pairUp", 201, match.PairUp, cuts...)
	alter(s, a, r.arms, "PUT", "/trials/:id/positions", "setPositions", 200, match.SetPositions, laid...)
	alter(s, a, r.arms, "POST", "/trials/:id/positions/draw", "drawPositions", 201, match.DrawPositions, laid...)
	alter(s, a, r.arms, "POST", "/trials/:id/runs/swap", "swapSetups", 200, match.SwapSetups, laid...)
	alter(s, a, r.arms, "POST", "/trials/:id/accepted", "acceptFinding", 201, match.AcceptFinding, trials.Cuts)
	alter(s, a, r.arms, "POST", "/accepted/:id/void", "voidAccepted", 200, match.VoidAccepted, trials.Cuts)
	r.crew.Handle("GET", "/cuts/:id/qr.png", s.cutQR)
}

func (s *Server) registerPlan(a *api.Routes, r *rooms) {
	work(s, a, r.crew, "POST", "/trials/:id/plan", "workPlan", s.Planner.Work)
	work(s, a, r.crew, "POST", "/trials/:id/phases", "usualPhases", plan.UsualPhases)
	planned := []trials.Part{trials.Cooks, trials.Cuts, trials.Steps}
	alter(s, a, r.master, "PUT", "/trials/:id/outline", "setOutline", 200, plan.SetOutline, trials.Cooks)
	alter(s, a, r.master, "POST", "/trials/:id/cooks", "createCook", 201, plan.CreateCook, planned...)
	alter(s, a, r.master, "PUT", "/cooks/:id", "setCook", 200, plan.SetCook, planned...)
	alter(s, a, r.master, "POST", "/trials/:id/burns", "planBurns", 201, plan.PlanBurns, planned...)
	alter(s, a, r.master, "PUT", "/cooks/:id/burn", "setPlannedBurn", 200, plan.SetBurn, planned...)
	alter(s, a, r.master, "POST", "/cooks/:id/burn/void", "dropBurn", 200, plan.DropBurn, planned...)
	readBy(s, a, r.crew, "/cooks/:id/due", "getDue", func(c context.Context, b *barn.Barn, id int64) (plan.DueView, error) {
		return s.Planner.Due(c, id, b.Now())
	})
	give(s, a, r.crew, "POST", "/cooks/:id/due/later", "putOff", 200, s.Planner.PutOff(), "due")
	api.Handle(a, r.crew, "GET", "/cooks/:id/calendar", "getCalendarLink", 200, s.calendarLink)
	r.link.Handle("GET", "/calendar/:token", s.calendar)
}

func (s *Server) registerPrep(a *api.Routes, r *rooms) {
	readBy(s, a, r.crew, "/trials/:id/prep", "getPrep", func(c context.Context, _ *barn.Barn, id int64) (prep.PrepView, error) { return s.Prep.Of(c, id) })
	then(s, a, r.crew, "POST", "/trials/:id/prep-marks", "markPrep", 200, prep.Mark, func(c context.Context, id int64, _ barn.None) (prep.PrepView, error) {
		return s.Prep.Of(c, id)
	}, trials.Steps, "prep")
	read(s, a, r.crew, "/pantry", "getPantry", prep.PantryOf)
	own(s, a, r.pantry, "POST", "/ingredients", "addIngredient", 201, prep.AddIngredient, "pantry")
	own(s, a, r.pantry, "PUT", "/ingredients/:id", "setIngredient", 200, prep.SetIngredient, "pantry")
	own(s, a, r.pantry, "POST", "/ingredients/:id/retire", "retireIngredient", 200, prep.RetireIngredient, "pantry")
	own(s, a, r.pantry, "POST", "/recipes", "addRecipe", 201, prep.AddRecipe, "pantry")
	own(s, a, r.pantry, "PUT", "/recipes/:id", "setRecipe", 200, prep.SetRecipe, "pantry")
	own(s, a, r.pantry, "POST", "/recipes/:id/retire", "retireRecipe", 200, prep.RetireRecipe, "pantry")
}

func (s *Server) registerFire(a *api.Routes, r *rooms) {
	give(s, a, r.crew, "POST", "/cooks/:id/events", "logEvent", 201, fire.LogEvent(s.Planner), trials.Log, trials.Steps)
	alter(s, a, r.crew, "POST", "/cooks/:id/runs", "beginRun", 201, fire.BeginRun, trials.Cooks)
	give(s, a, r.crew, "PUT", "/events/:id", "correctEvent", 200, fire.CorrectEvent, trials.Log, trials.Steps)
	give(s, a, r.crew, "PUT", "/presses/:press", "correctPress", 200, fire.CorrectPress, trials.Log, trials.Steps)
	give(s, a, r.crew, "POST", "/presses/:press/void", "voidPress", 200, fire.VoidPress, trials.Log, trials.Steps)
	give(s, a, r.crew, "POST", "/cooks/:id/photos", "addPhoto", 201, fire.AddPhoto)
	r.crew.Handle("GET", "/photos/:id", s.photo)
	work(s, a, r.crew, "POST", "/cooks/:id/logs/preview", "previewLog", fire.PreviewLog)
	give(s, a, r.crew, "POST", "/cooks/:id/logs", "importLog", 201, fire.ImportLog, trials.Imports, "traces")
	alter(s, a, r.crew, "POST", "/imports/:id/void", "voidImport", 200, fire.VoidImport, trials.Imports, "traces")
	work(s, a, r.crew, "GET", "/cooks/:id/traces", "getTraces", fire.TracesOf)
	readBy(s, a, r.crew, "/cooks/:id/probes", "getProbes", fire.Probes)
	give(s, a, r.crew, "PUT", "/cooks/:id/probes/:probe", "assignProbe", 200, fire.AssignProbe, "traces", trials.Cooks)
	readBy(s, a, r.crew, "/cooks/:id/alarms", "getAlarms", fire.Alarms)
	own(s, a, r.crew, "POST", "/alarms/:id/seen", "seeAlarm", 200, fire.SeeAlarm, "alarms")
	read(s, a, r.crew, "/burning", "getBurning", fire.Burning)
}

func (s *Server) registerRest(a *api.Routes, r *rooms) {
	weighed := []trials.Part{trials.Cuts, trials.Steps}
	alter(s, a, r.crew, "POST", "/cuts/:id/weighings", "weigh", 201, rest.Weigh, weighed...)
	alter(s, a, r.crew, "POST", "/weighings/:id/void", "voidWeighing", 200, rest.VoidWeighing, weighed...)
	alter(s, a, r.crew, "POST", "/cuts/:id/weigh-outs", "weighOut", 201, rest.WeighOut, weighed...)
	alter(s, a, r.crew, "POST", "/weigh-outs/:id/void", "voidWeighOut", 200, rest.VoidWeighOut, weighed...)
	alter(s, a, r.crew, "PUT", "/cooks/:id/left", "leave", 200, rest.Leave, trials.Cooks)
	alter(s, a, r.master, "PUT", "/cooks/:id/meal", "moveMeal", 200, plan.MoveMeal, trials.Cooks, trials.Steps)
	readBy(s, a, r.crew, "/trials/:id/costs", "getCosts", rest.Costs)
	alter(s, a, r.crew, "PUT", "/cuts/:id/measures", "setMeasure", 200, rest.SetMeasure, weighed...)

	readBy(s, a, r.crew, "/trials/:id/gate", "getGate", func(c context.Context, _ *barn.Barn, id int64) (gate.GateView, error) { return s.Gate.Of(c, id) })
	alter(s, a, r.crew, "PUT", "/trials/:id/meat", "setMeat", 200, gate.SetMeat, trials.Ask, trials.Cuts, trials.Steps, "gate")
	alter(s, a, r.master, "POST", "/trials/:id/gate-reason", "setGateReason", 201, gate.SetReason, trials.Cuts, trials.Steps, "gate")
	alter(s, a, r.master, "POST", "/trials/:id/gate-reason/undo", "undoGateReason", 200, gate.UndoReason, trials.Cuts, trials.Steps, "gate", "table")
	alter(s, a, r.crew, "POST", "/pending-changes/:id/sign", "signChange", 200, gate.SignChange, trials.Log, trials.Steps, "gate")
	read(s, a, r.crew, "/safety-lines", "getLines", gate.BarnLines)
	own(s, a, r.master, "POST", "/safety-lines", "setLines", 201, gate.SetBarnLines, "safety-lines")
}

func (s *Server) registerTable(a *api.Routes, r *rooms) {
	seats := []trials.Part{trials.Table, trials.Steps}
	alter(s, a, r.crew, "POST", "/trials/:id/tasters", "addTaster", 201, table.AddTaster, seats...)
	alter(s, a, r.crew, "POST", "/tasters/:id/void", "voidTaster", 200, table.VoidTaster, seats...)
	alter(s, a, r.master, "POST", "/tasters/:id/free", "freePhone", 200, table.FreePhone, trials.Table)
	api.Handle(a, r.crew, "GET", "/trials/:id/links", "getLinks", 200, func(c *gin.Context, in *barn.ByID) (table.Links, error) {
		return table.LinksOf(c, s.Barn, who(c), in.ID)
	})
	api.Handle(a, r.master, "POST", "/trials/:id/share", "shareScores", 204, func(c *gin.Context, in *barn.With[table.ShareInput]) (api.None, error) {
		_, err := barn.Own(c, s.Barn, who(c), in, table.Share)
		if err == nil {
			s.tell(c, in.ID, trials.Table)
		}
		return api.None{}, err
	})
	alter(s, a, r.master, "POST", "/trials/:id/door", "openDoor", 201, table.OpenDoor, trials.Table)
	alter(s, a, r.master, "POST", "/trials/:id/door/shut", "shutDoor", 200, table.ShutDoor, trials.Table)
	alter(s, a, r.master, "POST", "/trials/:id/flights", "serveFlight", 201, table.ServeFlight, append(seats, "gate")...)
	alter(s, a, r.master, "POST", "/flights/:id/void", "voidFlight", 200, table.VoidFlight, append(seats, "gate")...)
	alter(s, a, r.master, "POST", "/flights/:id/plates", "addPlate", 201, table.AddPlate, seats...)
	alter(s, a, r.master, "POST", "/flights/:id/pace", "setPace", 200, table.SetPace, trials.Table)
	alter(s, a, r.master, "POST", "/flights/:id/leave-out", "leaveOut", 200, table.LeaveOut, seats...)
	alter(s, a, r.master, "POST", "/flights/:id/close", "closeFlight", 200, table.CloseFlight, seats...)
	alter(s, a, r.crew, "POST", "/flights/:id/turned", "turnCups", 200, table.TurnCups, seats...)
	give(s, a, r.crew, "POST", "/flights/:id/plated", "markPlated", 200, table.Plated)
	give(s, a, r.crew, "POST", "/flights/:id/paper", "typeBallot", 200, table.TypeBallot, seats...)
	readBy(s, a, r.crew, "/flights/:id/paper", "getPapers", table.Papers)
	api.Handle(a, r.crew, "GET", "/flights/:id/key", "getKey", 200, func(c *gin.Context, in *barn.ByID) ([]table.KeyLine, error) {
		return table.Key(c, s.Barn, who(c), in.ID)
	})
	api.Handle(a, r.crew, "GET", "/trials/:id/panel", "getPanel", 200, func(c *gin.Context, in *barn.ByID) (table.PanelResults, error) {
		return table.Results(c, s.Barn, who(c), in.ID)
	})
	api.Handle(a, r.crew, "GET", "/people/:id/record", "getRecord", 200, func(c *gin.Context, in *barn.ByID) (table.TasterRecord, error) {
		return table.RecordOf(c, s.Barn, who(c), in.ID)
	})
	work(s, a, r.crew, "GET", "/trials/:id/tells", "getTells", table.TellsOf)
	shut := []trials.Part{trials.Ask, trials.Steps, trials.Table}
	alter(s, a, r.master, "POST", "/trials/:id/reveal", "reveal", 200, table.Reveal, shut...)
	alter(s, a, r.master, "POST", "/trials/:id/end", "endTrial", 200, table.End, shut...)
	alter(s, a, r.master, "POST", "/trials/:id/end/undo", "undoEnd", 200, table.Unend, shut...)
	alter(s, a, r.master, "POST", "/trials/:id/looks/name", "nameLook", 201, table.NameLook, trials.Table)
	alter(s, a, r.master, "POST", "/trials/:id/looks", "openCook", 201, table.OpenCook, seats...)
	r.crew.Handle("GET", "/tasters/:id/qr.png", s.tasterQR)
	r.crew.Handle("GET", "/trials/:id/door.png", s.doorQR)
}

func (s *Server) registerSettle(a *api.Routes, r *rooms) {
	readBy(s, a, r.crew, "/trials/:id/settle", "getSettle", func(c context.Context, _ *barn.Barn, id int64) (settle.View, error) { return s.Desk.Read(c, id) })
	readBy(s, a, r.crew, "/trials/:id/verdicts", "getVerdicts", s.Desk.Versions)
	work(s, a, r.crew, "POST", "/trials/:id/weigh", "weighContext", s.Desk.Weigh)
	work(s, a, r.crew, "GET", "/trials/:id/working", "getWorking", s.Desk.Work)
}
