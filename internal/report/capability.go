package report

import (
	"fmt"
	"strings"

	"zealousknot/internal/core/callout"
	"zealousknot/internal/core/quantity"
)

// calloutLoads are the loads as a card says them.
var calloutLoads = map[string]string{"one": "one person", "two": "two persons", "stretcher": "stretcher, attendant"}

// dated says of which day a card is, and until when what it counts is in date.
func dated(c *callout.Capability) string {
	if c.Until == "" {
		return fmt.Sprintf("Worked out for %s. Until when what it counts is in date is not known.", c.On)
	}
	return fmt.Sprintf("Worked out for %s. Void after %s: then ends the %s.", c.On, c.Until, c.UntilFor)
}

// CapabilityCard is the card for the lid of a kit, on A5.
func CapabilityCard(c *callout.Capability) *List {
	l := &List{Title: c.Kit + ": what it can do", Small: true, About: []string{
		fmt.Sprintf("Card %s. Void as soon as anything in the kit changes: the kit's page then shows another number.", c.Number),
		fmt.Sprintf("With the anchors %v to %v back, over any edge, each line on an anchor of its own. Figures are the worst of that; anchors and function checks are yours.", c.NearM, c.BackM),
	}}
	l.About = append(l.About, dated(c))
	if s := c.Seal; s != nil {
		stands := "it stands until the seal is broken."
		if c.SealUndone != "" {
			stands = "NOT OF WHAT IS IN IT NOW: " + c.SealUndone + "."
		}
		l.About = append(l.About, fmt.Sprintf("Sealed %s: %d counted and checked by %s on %s; %s", s.Number, s.Items, s.By, s.On, stands))
	}
	if c.Why != "" {
		l.About = append(l.About, c.Why)
		return l
	}
	reach := ListPart{Heading: "How far down", Widths: []float64{60, 40}, Head: []string{"", "from the edge"}, Rows: [][]string{{"main and belay, no knot", c.SingleM.String()}}}
	if c.JoinedM > 0 {
		reach.Rows = append(reach.Rows, []string{"ropes joined, a knot is passed", c.JoinedM.String()})
	}
	for _, m := range c.Largest {
		words := "none"
		if m.MassKg > 0 {
			words = m.MassKg.String()
		}
		reach.Rows = append(reach.Rows, []string{"largest load, " + quantity.Count(m.Persons).Of("person"), words})
	}
	raise := ListPart{Heading: "Who pull, and by what", Widths: []float64{16, 28, 28, 28}, Head: []string{"pull"}}
	for _, load := range []string{"one", "two", "stretcher"} {
		raise.Head = append(raise.Head, calloutLoads[load])
	}
	for _, r := range c.Raises {
		row := []string{fmt.Sprint(r.Haulers)}
		for _, w := range r.Of {
			if w.System == "" {
				row = append(row, "not by these")
				continue
			}
			row = append(row, fmt.Sprintf("%s, %.0f min", w.System, w.Seconds/60))
		}
		raise.Rows = append(raise.Rows, row)
	}
	friction := ListPart{Heading: "Friction", Widths: []float64{34, 22, 44}, Head: []string{"brake, rope", "load", "put in: left for the hand"}}
	for _, f := range c.Friction {
		for i, h := range f.Of {
			what := ""
			if i == 0 {
				what = f.Brake + ", " + f.Rope
			}
			words := h.Add
			if h.HandKN > 0 {
				words += ": " + h.HandKN.String()
			}
			if !h.Held {
				words += "; NOT HELD for long"
			}
			if h.Stiff {
				words += "; the lightest hardly runs"
			}
			friction.Rows = append(friction.Rows, []string{what, calloutLoads[h.Load], words})
		}
	}
	l.Parts = []ListPart{reach, raise, friction, {Heading: "Counted", Widths: []float64{100}, Head: []string{"in the kit"}, Rows: [][]string{{strings.Join(c.Items, ", ")}}}}
	return l
}
