package pair

import (
	"cmp"
	"context"
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
)

// Lacks says why a pick-off that was not found is none: what it is short of by itself, else
// what with which there would be one, else the first rule that the start already breaks.
func (sc *Scene) Lacks(ctx context.Context, start State) string {
	b := sc.R.First(gear.Descender)
	switch {
	case b < 0:
		return sc.R.Name + " has no descender"
	case !rates(sc.R, b, sc.Mass()):
		return fmt.Sprintf("%s is not rated for two of %v", sc.R.Tools[b].Label, sc.Mass())
	case sc.LongTool < 0:
		return sc.R.Name + " carries no lanyard for the casualty"
	}
	try := func(change func(*Scene)) bool {
		more := *sc
		change(&more)
		_, _, err := more.search(ctx, start)
		return err == nil
	}
	const many = 8
	switch {
	case !sc.CanLift && try(func(o *Scene) { o.CanLift = true }):
		return fmt.Sprintf("%s hangs in what grips: %s", sc.C.Name, cmp.Or(sc.LiftLacks, "a hand ascender, a foot loop and a pulley are needed to take their weight off"))
	case try(func(o *Scene) { o.Connectors = max(o.Connectors, 0) + many }):
		return fmt.Sprintf("the chain to %s and the bend need more than the %s to spare", sc.C.Name, quantity.Count(max(0, sc.Connectors)).Of("connector"))
	case sc.StrapCm == 0 && try(func(o *Scene) { o.StrapCm, o.Connectors = stance.ToCm(0.6), max(o.Connectors, 0)+many }):
		return fmt.Sprintf("no chain of connectors reaches %s: a short lanyard or sling is needed", sc.C.Name)
	case !sc.CanLift && try(func(o *Scene) { o.CanLift, o.Connectors, o.StrapCm = true, max(o.Connectors, 0)+many, stance.ToCm(0.6) }):
		return fmt.Sprintf("a hand ascender, a foot loop and a pulley, connectors and a short sling are needed for %s", sc.C.Name)
	}
	if found := sc.Check(&start); stance.Stops(found) {
		return found[0].Why
	}
	return "no order of the steps of a pick-off keeps every rule"
}
