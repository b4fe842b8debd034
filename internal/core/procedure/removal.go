package procedure

import (
	"strings"

	"zealousknot/internal/core/gear"
)

// Removal gives the steps by which a device comes off its rope, in their order: what is
// unloaded first, what keeps it from being dropped, and that it is shut again before it
// is stowed. Nothing for a class that is not opened on a rope.
func Removal(m *gear.Model) []string {
	var steps []string
	switch m.Class {
	case gear.Descender, gear.AnchorBrake, gear.WindingDev:
		steps = []string{"see that its rope is slack", "open it", "rope out"}
	case gear.ChestAscender, gear.HandAscender, gear.RopeGrab:
		steps = []string{"slide it up until the teeth are free", "catch open", "rope out"}
	case gear.BackupDevice, gear.CapturePulley:
		steps = []string{"see that its links are slack", "open it", "rope out"}
	default:
		return nil
	}
	if m.Device != nil && !m.Device.OpensOnConnector && m.Class != gear.HandAscender {
		steps = append([]string{"its tether on before the connector leaves it"}, steps...)
	}
	return append(steps, "shut", "stowed")
}

// Off tells a removal in a sentence's part.
func Off(m *gear.Model) string {
	steps := Removal(m)
	if len(steps) == 0 {
		return "off, stowed"
	}
	return "off: " + strings.Join(steps, ", ")
}
