package web

import (
	"context"
	"errors"
	"net/http"
	"strconv"
	"strings"

	"zealousknot/internal/core/strict"
	"zealousknot/internal/store"
)

type rowsIn struct {
	OnlyRight bool `query:"only_right" doc:"write the rows that are right although others are not; otherwise one that is wrong keeps all back"`
	DryRun    bool `query:"dry_run" doc:"write nothing: say what would become of the rows, and which plans would go back to draft"`
	RawBody   []byte
}

type rowsOut struct {
	Body struct {
		Rows  []store.RowOutcome `json:"rows" doc:"one for each that was sent"`
		Plans []string           `json:"plans,omitempty" doc:"ids of drops whose plan goes back to draft by it"`
	}
}

// right tells the entries of a list that were read rightly from those that were not.
type right struct {
	faults map[int][]strict.Fault
}

// newRight sorts the faults that point into the entries of a list.
func newRight(err error, list string) *right {
	r := &right{map[int][]strict.Fault{}}
	var refused *strict.Error
	if !errors.As(err, &refused) {
		return r
	}
	for _, f := range refused.Faults {
		if rest, ok := strings.CutPrefix(f.Pointer, "/"+list+"/"); ok {
			index, _, _ := strings.Cut(rest, "/")
			if i, err := strconv.Atoi(index); err == nil {
				r.faults[i] = append(r.faults[i], f)
			}
		}
	}
	return r
}

// pick gives the entries that are right, and notes the others as refused.
func pick[T any](r *right, kind string, list []T, put *store.Put, id func(*T) string) (fine []T) {
	for i := range list {
		if f := r.faults[i]; len(f) > 0 {
			put.Refused = append(put.Refused, store.RowOutcome{Kind: kind, ID: id(&list[i]), State: "refused", Errors: f})
			continue
		}
		fine = append(fine, list[i])
	}
	return fine
}

// rightEnough gives err where something is wrong that keeps everything back: a row, unless
// the right ones alone are needed, or what is no row.
func rightEnough(err error, put *store.Put, lists ...*right) error {
	if err == nil || !put.OnlyRight {
		return err
	}
	var refused *strict.Error
	if !errors.As(err, &refused) {
		return err
	}
	n := 0
	for _, l := range lists {
		for _, f := range l.faults {
			n += len(f)
		}
	}
	if n < len(refused.Faults) {
		return err
	}
	return nil
}

// answerRows says what became of rows. Where one that was wrong kept all back it is a
// problem that has the rows too.
func answerRows(ctx context.Context, rows []store.RowOutcome, plans []string, err error) (*rowsOut, error) {
	var wrong *store.RowsError
	if errors.As(err, &wrong) {
		p := NewProblem(http.StatusConflict, wrong.Error()+"; nothing was changed")
		p.Rows = wrong.Rows
		for _, r := range wrong.Rows {
			p.Errors = append(p.Errors, r.Errors...)
		}
		return nil, p
	}
	if err != nil {
		return nil, failed(ctx, err)
	}
	out := &rowsOut{}
	out.Body.Rows, out.Body.Plans = append([]store.RowOutcome{}, rows...), plans
	return out, nil
}
