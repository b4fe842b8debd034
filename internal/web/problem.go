package web

import (
	"context"
	"encoding/json"
	"errors"
	"log/slog"
	"net/http"
	"strconv"
	"strings"

	"github.com/danielgtaylor/huma/v2"

	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

// Problem is an RFC 9457 problem: every error of the API is one.
type Problem struct {
	Type   string             `json:"type" doc:"always about:blank: the status and the errors say it all"`
	Title  string             `json:"title"`
	Status int                `json:"status"`
	Detail string             `json:"detail,omitempty"`
	Errors []strict.Fault     `json:"errors,omitempty" doc:"one for each field that was refused"`
	Rows   []store.RowOutcome `json:"rows,omitempty" doc:"of rows that were sent together: what is with each"`
	// RequestID is the one that the log's lines about this request have.
	RequestID string `json:"request_id,omitempty" doc:"id of the request, as the log has it"`
}

func (p *Problem) Error() string { return p.Title + ": " + p.Detail }

// GetStatus and ContentType make it an error that huma writes as it is.
func (p *Problem) GetStatus() int            { return p.Status }
func (p *Problem) ContentType(string) string { return "application/problem+json" }

// NewProblem is the problem of a status, with what was refused.
func NewProblem(status int, detail string, errs ...strict.Fault) *Problem {
	return &Problem{Type: "about:blank", Title: http.StatusText(status), Status: status, Detail: detail, Errors: errs}
}

func init() {
	// A list that is there is never null, in either direction.
	huma.DefaultArrayNullable = false
	huma.NewError = func(status int, detail string, errs ...error) huma.StatusError {
		p := NewProblem(status, detail)
		for _, err := range errs {
			p.Errors = append(p.Errors, fieldProblem(err))
		}
		return p
	}
}

// fieldProblem turns an error about a parameter into one that points at it. The
// value that was sent is not repeated.
func fieldProblem(err error) strict.Fault {
	var d *huma.ErrorDetail
	if !errors.As(err, &d) {
		return strict.Fault{Detail: err.Error()}
	}
	pointer := strings.NewReplacer(".", "/", "[", "/", "]", "").Replace(d.Location)
	if pointer != "" {
		pointer = "/" + pointer
	}
	return strict.Fault{Pointer: pointer, Detail: d.Message}
}

// failed turns an error from below into a problem.
func failed(ctx context.Context, err error) error {
	var refused *strict.Error
	var conflict *store.ConflictError
	switch {
	case errors.As(err, &refused):
		return NewProblem(http.StatusUnprocessableEntity, "the document was refused; nothing was changed", refused.Faults...)
	case errors.As(err, &conflict):
		p := NewProblem(http.StatusPreconditionFailed, "changed by somebody else meanwhile: version "+strconv.Itoa(conflict.Version)+" is there now")
		return huma.ErrorWithHeaders(p, http.Header{"Etag": {etag(conflict.Version)}})
	case errors.Is(err, store.ErrUnknown):
		slog.ErrorContext(ctx, "not known whether it was kept", "error", err)
		p := NewProblem(http.StatusServiceUnavailable, "it is not known whether this was kept: send it again, which is harmless, or look")
		return huma.ErrorWithHeaders(p, http.Header{"Retry-After": {"2"}})
	case errors.Is(err, errBusy):
		return huma.ErrorWithHeaders(NewProblem(http.StatusServiceUnavailable, errBusy.Error()+"; try again in a moment, nothing was changed"), http.Header{"Retry-After": {"2"}})
	case errors.Is(err, context.DeadlineExceeded):
		slog.WarnContext(ctx, "took too long", "error", err)
		return huma.ErrorWithHeaders(NewProblem(http.StatusServiceUnavailable, "this took too long and was stopped; nothing was changed"), http.Header{"Retry-After": {"5"}})
	case errors.Is(err, store.ErrNotFound):
		return NewProblem(http.StatusNotFound, "there is no such thing in this team")
	case errors.Is(err, store.ErrExists), errors.Is(err, store.ErrRefused), errors.Is(err, store.ErrConflict), errors.Is(err, store.ErrAway), errors.Is(err, store.ErrLive):
		return NewProblem(http.StatusConflict, err.Error())
	}
	slog.ErrorContext(ctx, "request failed", "error", err)
	return NewProblem(http.StatusInternalServerError, "something went wrong here; it is in the log, nothing was changed")
}

// writeProblem writes a problem outside of huma's operations.
func writeProblem(w http.ResponseWriter, p *Problem) {
	p.RequestID = w.Header().Get(requestIDHeader)
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(p.Status)
	_ = json.NewEncoder(w).Encode(p)
}
