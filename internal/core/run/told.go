package run

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/quantity"
)

// badness orders how somebody is reached, the best first.
var badness = map[string]int{"covered": 0, "slow": 1, "last-resort": 2, "undecided": 3, "uncovered": 4}

// Planned is how somebody is reached at the height that was planned for them; nil where no
// rescue was planned.
func (d *Document) Planned(p *Person) *Reach { return d.reachAt(p.ID, p.AtM) }

// reachAt is how somebody is reached at a height, as it was planned: the worse of the metres
// within a metre of it, and of two alike the slower; nil where none was planned.
func (d *Document) reachAt(person string, at quantity.Metres) (worst *Reach) {
	for i := range d.Cover {
		r := &d.Cover[i]
		if r.Person != person || max(r.AtM-at, at-r.AtM) > 1 {
			continue
		}
		if worst == nil || badness[r.State] > badness[worst.State] || r.State == worst.State && r.Seconds > worst.Seconds {
			worst = r
		}
	}
	return worst
}

// Told is what is said of a reading beside what was predicted.
type Told struct {
	Words string `json:"words"`
	// Bad asks for somebody to act or to look.
	Bad bool `json:"bad,omitempty"`
}

// Tell says of a reading of a channel whether it is inside what was predicted, outside, or
// above the ceiling; of wind, whether it is past the drop's lowest limit.
func (d *Document) Tell(channel string, value float64) Told {
	if !strings.HasSuffix(channel, ".force") {
		limit := d.GustLimitMS
		switch {
		case limit == 0:
			return Told{Words: "no limit is known"}
		case value > float64(limit):
			return Told{fmt.Sprintf("past the drop's limit, %v (%s): stop, secure; the supervisor decides", limit, d.GustLimitOf), true}
		}
		return Told{Words: fmt.Sprintf("the drop's limit is %v", limit)}
	}
	for i := range d.Bands {
		b := &d.Bands[i]
		if b.Channel != channel {
			continue
		}
		band := fmt.Sprintf("%v to %v at rest", b.LowKN, b.HighKN)
		switch {
		case b.CeilingKN > 0 && value > float64(b.CeilingKN):
			return Told{fmt.Sprintf("ABOVE the ceiling, %v", b.CeilingKN), true}
		case value < float64(b.LowKN) || value > float64(b.HighKN):
			return Told{"outside what was predicted, " + band, true}
		}
		return Told{Words: "inside what was predicted, " + band}
	}
	return Told{Words: "nothing was predicted of this channel"}
}
