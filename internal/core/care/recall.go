package care

import (
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
)

// A Recall names the things that somebody asks about: of a model, all of them, or those with
// some serials, or those made between two days.
type Recall struct {
	Model    string
	Serials  []string
	From, To gear.Date
}

// Affects reports whether a thing is meant. Serials are held against each other without
// spaces, hyphens and case; one whose day of manufacture is not known is meant.
func (r *Recall) Affects(i *gear.Item) bool {
	switch {
	case i.Model != r.Model || i.State == gear.Retired:
		return false
	case len(r.Serials) > 0:
		return slices.ContainsFunc(r.Serials, func(s string) bool { return bare(s) == bare(i.Serial) })
	case r.From == "" && r.To == "":
		return true
	case i.MadeOn == "":
		return true
	}
	return (r.From == "" || i.MadeOn >= r.From) && (r.To == "" || i.MadeOn <= r.To)
}

func bare(serial string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", "-", "", "/", "", ".", "").Replace(serial))
}
