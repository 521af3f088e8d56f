package api

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"net/http"
	"reflect"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/gin-gonic/gin/binding"
	"github.com/go-playground/validator/v10"

	"whitebarn/core/fault"
	"whitebarn/core/safety"
	"whitebarn/internal/barn"
	"whitebarn/internal/store"
)

// Problem is the one shape of an error (RFC 9457): what, which field, and what
// would do.
type Problem struct {
	Status int          `json:"status"`
	Title  string       `json:"title"`
	Remedy string       `json:"remedy"`
	Errors []FieldError `json:"errors"`
}

// FieldError is one field that was refused.
type FieldError struct {
	Field   string `json:"field"`
	Problem string `json:"problem"`
	Remedy  string `json:"remedy"`
}

// Refusal is an error with a status and words for a person.
type Refusal struct {
	Status int
	Title  string
	Remedy string
}

func (r *Refusal) Error() string { return r.Title }

// Refuse makes a Refusal.
func Refuse(status int, title, remedy string) error {
	return &Refusal{Status: status, Title: title, Remedy: remedy}
}

// Fail answers with the problem behind err. What is not meant for a person is
// logged and answered as an internal error.
func Fail(c *gin.Context, err error) {
	p := problemOf(err)
	if p.Status == http.StatusServiceUnavailable {
		c.Header("Retry-After", retryAfter)
	}
	if p.Status == http.StatusInternalServerError || p.Title == unfit {
		slog.ErrorContext(c, "request failed", "route", c.FullPath(), "error", err)
	}
	c.Header("Content-Type", "application/problem+json")
	c.AbortWithStatusJSON(p.Status, p)
}

// statusOf says how a ground of refusal is answered.
var statusOf = map[barn.Ground]int{
	barn.AsThingsStand: http.StatusConflict, barn.NotYours: http.StatusForbidden, barn.NotSignedIn: http.StatusUnauthorized,
	barn.NotThere: http.StatusNotFound, barn.TooOften: http.StatusTooManyRequests,
}

// unfit is said of what only the record itself refused.
const unfit = "A value does not fit the record. Nothing was changed."

// away is answered while the record cannot be reached.
var away = Problem{Status: http.StatusServiceUnavailable, Title: "The record cannot be reached just now.",
	Remedy: "Try again in a moment: what is sent again counts once.", Errors: []FieldError{}}

// Away answers, outside of the router, that the record cannot be reached just now.
func Away(w http.ResponseWriter) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.Header().Set("Retry-After", retryAfter)
	w.WriteHeader(away.Status)
	_ = json.NewEncoder(w).Encode(away)
}

// retryAfter is how long a client waits before it sends again what the record could not take, s.
const retryAfter = "2"

func problemOf(err error) Problem {
	p := Problem{Errors: []FieldError{}}
	var refusal *Refusal
	var refused *barn.Refusal
	var many fault.List
	var one *fault.Error
	add := func(e *fault.Error) {
		p.Errors = append(p.Errors, FieldError{e.Field, e.Problem, e.Remedy})
	}
	switch {
	case errors.As(err, &refusal):
		p.Status, p.Title, p.Remedy = refusal.Status, refusal.Title, refusal.Remedy
	case errors.As(err, &refused):
		p.Status, p.Title, p.Remedy = statusOf[refused.Ground], refused.Title, refused.Remedy
	case errors.As(err, &many):
		p.Status = http.StatusUnprocessableEntity
		for _, e := range many {
			add(e)
		}
	case errors.As(err, &one):
		p.Status = http.StatusUnprocessableEntity
		add(one)
	case errors.Is(err, store.ErrNotFound):
		p.Status, p.Title, p.Remedy = http.StatusNotFound, "There is no such thing here.", "It may have been voided. Load the page again."
	case errors.Is(err, store.ErrConflict):
		p.Status, p.Title, p.Remedy = http.StatusConflict, "Somebody was there first.", "Load the page again."
	case store.OutOfRoom(err):
		p.Status, p.Title = http.StatusInsufficientStorage, "The disk takes nothing more. Nothing was changed; all can be read."
		p.Remedy = "Make room on the disk of the database; whitebarn doctor says more. It goes on by itself."
	case store.Unreachable(err), errors.Is(err, context.Canceled): // or whoever asked is gone, or this server ends
		p = away
	case store.Unfit(err):
		p.Status, p.Title, p.Remedy = http.StatusUnprocessableEntity, unfit,
			"Check what is given; whoever keeps the machine finds more in the server's log."
	default:
		p.Status, p.Title, p.Remedy = http.StatusInternalServerError, "Something went wrong on the server. Nothing was changed.", "Try again; if it stays, look into the server's log."
	}
	if p.Title == "" && len(p.Errors) > 0 {
		p.Title = p.Errors[0].Problem
		p.Remedy = p.Errors[0].Remedy
	}
	return p
}

func init() {
	engine := binding.Validator.Engine().(*validator.Validate)
	engine.RegisterTagNameFunc(func(f reflect.StructField) string {
		return strings.SplitN(f.Tag.Get("json"), ",", 2)[0]
	})
	if err := engine.RegisterValidation("reason", func(f validator.FieldLevel) bool { return safety.CheckReason(f.Field().String()) == nil }); err != nil {
		panic(err) // the tag is written above
	}
}

// tagErrors names the fields of a struct of some type that were at fault.
func tagErrors(of string, err error) error {
	var wrong validator.ValidationErrors
	if !errors.As(err, &wrong) {
		return err
	}
	var out fault.List
	for _, e := range wrong {
		field := strings.TrimPrefix(e.Namespace(), of+".")
		field = strings.TrimPrefix(field, "Body.")
		remedy := map[string]string{
			"required": "fill it in", "max": "keep it to " + e.Param(), "min": "give at least " + e.Param(), "oneof": "use one of " + e.Param(),
			"reason": "say it in words, three letters or more",
		}[e.Tag()]
		value := "nothing is written"
		if !reflect.ValueOf(e.Value()).IsZero() {
			value = fmt.Sprintf("%.40q does not do", fmt.Sprint(e.Value()))
		}
		out.Add(field, value, remedy)
	}
	return out.Err()
}
