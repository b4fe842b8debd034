package web

import (
	"maps"
	"net/http"
	"slices"
	"strings"
	"unicode/utf8"

	"zealousknot/internal/core/strict"
)

// legible refuses an address with characters that nobody writes and the database does not keep:
// a NUL, or bytes that are no UTF-8.
func legible(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		var faults []strict.Fault
		const detail = "has characters that are no text"
		if !isText(r.URL.Path) {
			faults = append(faults, strict.Fault{Pointer: "/path", Detail: detail})
		}
		query := r.URL.Query()
		for _, name := range slices.Sorted(maps.Keys(query)) {
			if !isText(name) {
				faults = append(faults, strict.Fault{Pointer: "/query", Detail: detail})
			} else if slices.ContainsFunc(query[name], func(v string) bool { return !isText(v) }) {
				faults = append(faults, strict.Fault{Pointer: strict.Pointer("query", name), Detail: detail})
			}
		}
		if faults != nil {
			writeProblem(w, NewProblem(http.StatusUnprocessableEntity, "the address was refused; nothing was changed", faults...))
			return
		}
		next.ServeHTTP(w, r)
	})
}

func isText(s string) bool { return utf8.ValidString(s) && !strings.ContainsRune(s, 0) }
