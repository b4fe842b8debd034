package care

import (
	"slices"
	"strings"

	"zealousknot/internal/core/gear"
)

// A Recall names the things that somebody asks about: of a model, all of them, or those with
// some serials or of some lots, or those made between two days.
type Recall struct {
	Model    string
	Serials  []string
	Lots     []string
	From, To gear.Date
}

// Affects reports whether a thing is meant. Serials are held against each other without
// spaces, hyphens and case; what was cut off a rope is meant with the rope. One whose lot, or
// day of manufacture, is not known is meant.
func (r *Recall) Affects(i *gear.Item) bool {
	switch {
	case i.Model != r.Model || i.State == gear.Retired:
		return false
	case len(r.Serials) > 0:
		return slices.ContainsFunc(r.Serials, func(s string) bool {
			return bare(s) == bare(i.Serial) || bare(s) == bare(uncut(i.Serial))
		})
	case len(r.Lots) > 0:
		return i.Lot == "" || slices.ContainsFunc(r.Lots, func(l string) bool { return bare(l) == bare(i.Lot) })
	case r.From == "" && r.To == "":
		return true
	case i.MadeOn == "":
		return true
	}
	return (r.From == "" || i.MadeOn >= r.From) && (r.To == "" || i.MadeOn <= r.To)
}

// uncut is the serial of the rope that a part was cut off: without the /B, /B2 and so on that
// parts have behind theirs.
func uncut(serial string) string {
	for {
		i := strings.LastIndex(serial, "/B")
		if i < 0 || strings.Trim(serial[i+2:], "0123456789") != "" {
			return serial
		}
		serial = serial[:i]
	}
}

func bare(serial string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", "-", "", "/", "", ".", "").Replace(serial))
}
