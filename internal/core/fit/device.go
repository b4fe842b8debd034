package fit

import (
	"fmt"
	"slices"
	"strings"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

var wrongLoading = map[string]string{
	"locks":   "Loaded that way it locks and cannot be moved under load.",
	"slips":   "Loaded that way it slips and holds nothing.",
	"nothing": "Loaded that way nothing shows until it is needed.",
	"":        "The instructions as entered do not say what it then does.",
}

// DeviceDirection is device.direction: the arrow or load side is the right way
// and the rope on its path.
func DeviceDirection(h *rig.HoldView, _ *Context) []finding.Finding {
	words := map[rig.Threaded]string{
		rig.ThreadedReversed: "the wrong way round: its load side does not face the anchor as its picture shows",
		rig.ThreadedWrong:    "misthreaded: the rope is not on the path its picture shows",
	}
	word, wrong := words[h.Threaded]
	if !wrong {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s is %s.", h.Device.Item.Label, word),
		Figures: []finding.Figure{finding.State("rope lies", string(h.Threaded)), finding.State("should be", string(rig.ThreadedRight))},
		Why:     wrongLoading[h.Device.Model.Device.WrongLoading],
		Remedy:  "Take it off the rope, lay the rope as its picture shows for this role, shut it, and prove it.",
		Source:  manufacturer(h.Device.Model),
	})
}

// DeviceMode is device.mode: with hands off, the device must stop by itself in
// the position it is left in.
func DeviceMode(h *rig.HoldView, _ *Context) []finding.Finding {
	if h.Position.HandsOff == gear.Stops {
		return nil
	}
	var holds, parked []string
	for _, p := range h.Device.Model.Device.Positions {
		if p.HandsOff == gear.Stops {
			holds = append(holds, p.Name)
		}
		if p.Parked {
			parked = append(parked, p.Name)
		}
	}
	if parked != nil {
		holds = parked
	}
	remedy := "Put it in " + strings.Join(holds, " or ") + " before the hand leaves."
	if holds == nil {
		remedy = "It holds in no position by itself: tie it off, and keep a hand on the control strand."
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s is left in %q, where with hands off it %s.", h.Device.Item.Label, h.Position.Name, h.Position.HandsOff),
		Figures: []finding.Figure{finding.State("position", h.Position.Name), finding.State("hands off", string(h.Position.HandsOff))},
		Why:     "A hand that slips or is needed elsewhere must not let the body go.",
		Remedy:  remedy,
		Source:  manufacturer(h.Device.Model),
	})
}

// DeviceOpen is device.open: plates and catches are shut and clicked.
func DeviceOpen(h *rig.HoldView, _ *Context) []finding.Finding {
	if !h.Open {
		return nil
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("A side plate or catch of %s is not shut.", h.Device.Item.Label),
		Figures: []finding.Figure{finding.State("side plate or catch", "open")},
		Why:     "The rope or the connector can come out under load.",
		Remedy:  "Shut it until it clicks, the connector through both plates and locked.",
		Source:  manufacturer(h.Device.Model),
	})
}

// DevicePoint is device.point: a backup device hangs from a point marked A for
// fall arrest; descender and chest ascender from the ventral point. Where no
// harness is stated, sternal and dorsal points are taken as marked A. Where one is, no hold is on a
// point that it has not.
func DevicePoint(h *rig.HoldView, _ *Context) []finding.Finding {
	if o := h.Person.Harness; o != nil {
		if has, _ := o.Model.Harness.Has(h.Point); !has {
			return noPoint(h, o)
		}
	}
	if PointFor(h) == h.Point {
		return nil
	}
	wants := "the ventral point"
	if h.Role() == rig.ToBackUp {
		wants = "a point marked A"
	}
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s hangs from the %s point; it belongs on %s.", h.Device.Item.Label, h.Point, wants),
		Figures: []finding.Figure{finding.State("point", string(h.Point)), finding.State("belongs on", wants)},
		Why:     "A fall on another point turns the body over or hurts it; a seat load on another point cannot be sat in.",
		Remedy:  "Move it to " + wants + ".",
		Source:  "the marks on the harness, and the manufacturer's instructions",
	})
}

// noPoint is of a hold on a point that the harness has not.
func noPoint(h *rig.HoldView, harness *rig.Piece) []finding.Finding {
	return one(finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		What:    fmt.Sprintf("%s hangs from the %s point, and %s has none.", h.Device.Item.Label, h.Point, harness.Item.Label),
		Figures: []finding.Figure{finding.State("point", string(h.Point)), finding.State("points of the harness", harness.Model.Harness.Words())},
		Why:     "What is clipped in elsewhere hangs from nothing that was made for it.",
		Remedy:  "Look what it is clipped into, and correct it; or wear a harness with that point.",
		Source:  manufacturer(harness.Model),
	})
}

// PointFor is the point that a hold belongs on: its own where that may be, "" where the harness
// has none for it.
func PointFor(h *rig.HoldView) gear.Point {
	fits := func(p gear.Point) bool { return p == gear.Sternal || p == gear.Dorsal }
	if o := h.Person.Harness; o != nil {
		fits = func(p gear.Point) bool {
			_, arrest := o.Model.Harness.Has(p)
			return arrest
		}
	}
	switch role := h.Role(); {
	case role == rig.ToDescend || role == rig.ToAscend:
		return gear.Ventral
	case role != rig.ToBackUp || fits(h.Point):
		return h.Point
	}
	for _, p := range []gear.Point{gear.Sternal, gear.Dorsal, gear.Ventral} {
		if fits(p) {
			return p
		}
	}
	return ""
}

// DeviceLanyard is device.lanyard: every lanyard, sling and absorber between a
// backup device and the harness is on the device's list, and together they are
// not longer than the list allows. With none of them the shortest entry is not
// exceeded, so nothing fires.
func DeviceLanyard(h *rig.HoldView, c *Context) []finding.Finding {
	b := h.Device.Model.Backup
	if b == nil {
		return nil
	}
	var found []finding.Finding
	_, soft := h.LinksLength(c.Policy.ConnectorM)
	if absorbers := slices.DeleteFunc(slices.Clone(h.Links), func(l rig.LinkView) bool { return l.Model.Absorber == nil }); len(absorbers) > 1 {
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: h.LinkSubject(absorbers[1].Piece), Source: manufacturer(h.Device.Model),
			What:    fmt.Sprintf("%s and %s are both in the links of %s.", absorbers[0].Item.Label, absorbers[1].Item.Label, h.Device.Item.Label),
			Figures: []finding.Figure{finding.Fig("absorbers", quantity.Count(len(absorbers)))},
			Why:     "Two absorbers in a row extend one after the other: the fall is longer than either was proved for.",
			Remedy:  "Take one out.",
		})
	}
	for _, l := range h.Links {
		if l.Model.Connector != nil {
			continue
		}
		allowed, listed := allowedLink(b, l.Model.ID)
		f := finding.Finding{
			Severity: finding.Stop, Subject: h.LinkSubject(l.Piece), Source: manufacturer(h.Device.Model),
			Why:    "A longer or other link makes a longer fall than the device was proved with.",
			Remedy: fmt.Sprintf("Use a lanyard or absorber on the list of %s.", h.Device.Model.Title()),
		}
		switch {
		case !listed:
			f.What = fmt.Sprintf("%s is not on the list of %s.", l.Item.Label, h.Device.Item.Label)
			f.Figures = []finding.Figure{finding.State("on the list", "no"), finding.Fig("length", l.Model.LengthM)}
		case soft > allowed:
			length, longest := quantity.Beside(soft, allowed)
			f.What = fmt.Sprintf("It is %s from %s to the harness; with %s at most %s is allowed.", length, h.Device.Item.Label, l.Item.Label, longest)
			f.Figures = []finding.Figure{finding.Fig("length", soft), finding.Fig("longest allowed", allowed)}
		default:
			continue
		}
		found = append(found, f)
	}
	return found
}

func allowedLink(b *gear.Backup, model string) (quantity.Metres, bool) {
	for _, a := range b.Links {
		if a.Model == model {
			return a.MaxM, true
		}
	}
	return 0, false
}

// height is the height of a device above the ventral point.
func height(h *rig.HoldView) quantity.Metres { return rig.PointHeight(h.Point) + h.AboveM }

// DeviceHeight is device.height: a backup device is not below its harness
// attachment, nor below a descender or chest ascender of the same person. Level
// is allowed.
func DeviceHeight(h *rig.HoldView, _ *Context) []finding.Finding {
	if h.Role() != rig.ToBackUp {
		return nil
	}
	f := finding.Finding{
		Severity: finding.Stop, Subject: h.Subject(),
		Why:    "A low backup means a longer fall before it grips, onto a device that may be under the body.",
		Source: byRule,
	}
	// What clears it clears both.
	low := max(0, -h.AboveM)
	for _, o := range h.Person.Holds {
		if role := o.Role(); role == rig.ToDescend || role == rig.ToAscend {
			low = max(low, height(o)-height(h))
		}
	}
	f.Remedy = fmt.Sprintf("Raise the backup device by at least %s, no higher than you reach.", quantity.Up(low))
	if h.AboveM < 0 {
		f.What = fmt.Sprintf("%s is %v below its harness attachment.", h.Device.Item.Label, -h.AboveM)
		f.Figures = []finding.Figure{finding.Fig("height above the attachment", h.AboveM)}
		return one(f)
	}
	for _, o := range h.Person.Holds {
		if role := o.Role(); role != rig.ToDescend && role != rig.ToAscend || height(h) >= height(o)-hair {
			continue
		}
		f.What = fmt.Sprintf("%s is %v below %s.", h.Device.Item.Label, height(o)-height(h), o.Device.Item.Label)
		f.Figures = []finding.Figure{finding.Fig("backup above the ventral point", height(h)), finding.Fig("other device", height(o))}
		return one(f)
	}
	return nil
}

// DeviceFoul is device.foul: a lever must not reach a device that opens when
// pushed. Within its reach a stop; within the policy's gap beyond it a look.
func DeviceFoul(p *rig.PersonView, c *Context) []finding.Finding {
	var found []finding.Finding
	for _, lever := range p.Holds {
		reach := lever.Device.Model.Device.LeverReachM
		for _, o := range p.Holds {
			if reach == 0 || o == lever || !o.Device.Model.Device.OpensIfPushed {
				continue
			}
			apart := max(height(lever)-height(o), height(o)-height(lever))
			if apart >= reach+c.Policy.FoulGapM-hair {
				continue
			}
			f := finding.Finding{
				Severity: finding.Look, Subject: o.Subject(),
				What:    fmt.Sprintf("The lever of %s reaches %v; %s, which opens when pushed, is %v away.", lever.Device.Item.Label, reach, o.Device.Item.Label, apart),
				Figures: []finding.Figure{finding.Fig("apart", apart), finding.Fig("reach of the lever", reach), finding.Fig("required gap", c.Policy.FoulGapM)},
				Why:     "A lever that presses on a cam lets it go.",
				Remedy:  fmt.Sprintf("Keep them at least %s apart.", quantity.Up(reach+c.Policy.FoulGapM)),
				Source:  manufacturer(lever.Device.Model),
			}
			if apart < reach {
				f.Severity = finding.Stop
			}
			found = append(found, f)
		}
	}
	return found
}

// DeviceDescentLimit is device.descent-limit, for holds that descend and for the brakes
// of a team: the
// longest descent on the strand against the mode's, the policy's speed against
// the device's, and the temperature at the end against the sheath's.
func DeviceDescentLimit(h *rig.HoldView, c *Context) []finding.Finding {
	if h.Role() != rig.ToDescend && h.Role() != rig.ToLower {
		return nil
	}
	var found []finding.Finding
	add := func(what, why, remedy, source string, working []finding.Working, figures ...finding.Figure) {
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: h.Subject(), What: what, Figures: figures, Why: why, Remedy: remedy, Source: source, Working: working,
		})
	}
	length, most := descentFrom(h, c.Rig)-h.Strand.ToM, h.Mode.MaxDescentM
	if most > 0 && length > most {
		height, longest := quantity.Beside(length, most)
		add(fmt.Sprintf("The drop is %s; %s may descend %s at a time in mode %q.", height, h.Device.Item.Label, longest, h.Mode.Name),
			"Longer descents heat and wear it beyond what it was proved for.",
			"Use a device rated for the length, or plan a stop on another hold and let it cool.", manufacturer(h.Device.Model), nil,
			finding.Fig("descent", length), finding.Fig("longest", most))
	}
	speed, fastest := c.Policy.DescentSpeedMS, h.Device.Model.Device.MaxSpeedMS
	if h.Role() == rig.ToLower && c.Rig.Team.SpeedMS > 0 {
		speed = c.Rig.Team.SpeedMS
	}
	if fastest > 0 && speed > fastest {
		planned, limit := quantity.Beside(speed, fastest)
		add(fmt.Sprintf("The planned %s is faster than the %s of %s.", planned, limit, h.Device.Item.Label),
			"A faster descent heats the device and wears the rope.",
			fmt.Sprintf("Plan %s or slower.", quantity.Down(fastest)), manufacturer(h.Device.Model), nil,
			finding.Fig("speed", speed), finding.Fig("fastest", fastest))
	}
	for _, r := range h.Strand.Ropes {
		t, limit := h.Figures.EndTemperature, r.Model.Rope.SheathLimitC
		if t == nil || limit == 0 || t.Value <= limit {
			continue
		}
		hot, stands := quantity.Beside(t.Value, limit)
		add(fmt.Sprintf("At the end of the drop %s would be at %s; the limit of the sheath of %s is %s.", h.Device.Item.Label, hot, r.Item.Label, stands),
			"A hot device melts the sheath where it stops.",
			slower(h)+" or use a heavier device.", manufacturer(r.Model), t.Working(),
			finding.Fig("temperature", t.Value), finding.Fig("sheath limit", limit))
	}
	return found
}

// descentFrom is the height that the longest descent on a strand begins at: where people
// sit, not where it is anchored.
func descentFrom(h *rig.HoldView, r *rig.Rig) quantity.Metres {
	if h.Role() == rig.ToLower {
		return r.Geometry.TopM
	}
	return max(h.Person.AtM, min(h.Strand.TopM(), r.Geometry.TopM))
}

// slower says how slow a descent must be not to heat the device beyond what the
// sheaths stand.
func slower(h *rig.HoldView) string {
	if v := h.Figures.Fastest; v != nil && *v > 0 {
		return fmt.Sprintf("Go no faster than %s all the way,", quantity.Down(*v))
	}
	return "Stop on another hold on the way and let it cool,"
}

// DeviceTurned is device.turned, for models whose load strand leaves one side
// when the device is fixed to the anchor and the other when it rides on the
// person: the side must be given, and be the one for a device that rides.
func DeviceTurned(h *rig.HoldView, _ *Context) []finding.Finding {
	sides := h.Device.Model.Device.Sides
	if sides == nil || sides.Anchored == sides.Riding {
		return nil
	}
	f := finding.Finding{
		Severity: finding.Look, Subject: h.Subject(),
		Why:    "The same device is laid one way at the anchor and the other on the body; and left and right change when seen from behind.",
		Remedy: fmt.Sprintf("See from the front that the strand to the anchor leaves on the %s, and record it.", sides.Riding),
		Source: manufacturer(h.Device.Model),
	}
	if h.Leaves == nil {
		f.What = fmt.Sprintf("On %s the strand to the anchor leaves on the %s when it rides on a person, seen from the front; nobody has recorded the side.", h.Device.Item.Label, sides.Riding)
		f.Figures = []finding.Figure{finding.State("side", "not recorded"), finding.State("belongs", string(sides.Riding))}
		return one(f)
	}
	seen := h.Leaves.Side
	if h.Leaves.SeenFrom == "back" {
		seen = seen.Other()
	}
	if seen == sides.Riding {
		return nil
	}
	f.What = fmt.Sprintf("The strand was seen to leave %s on the %s from the %s: that is the side for a device fixed to the anchor, not for one that rides.",
		h.Device.Item.Label, h.Leaves.Side, h.Leaves.SeenFrom)
	f.Figures = []finding.Figure{finding.State("side, from the front", string(seen)), finding.State("belongs", string(sides.Riding))}
	return one(f)
}
