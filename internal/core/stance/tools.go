package stance

import (
	"cmp"
	"fmt"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/rig"
)

// Tool is something that can be made a hold, with what belongs to it.
type Tool struct {
	Item, Label string
	Class       gear.Class
	Model       *gear.Model
	// Length is from where it is to the harness point: of a lanyard its own, of a
	// backup device its links.
	Length Cm
	// Absorber is in a backup device's links; nil for none.
	Absorber *gear.Model
	// Connectors are how many the tool takes from the kit while it is a hold.
	Connectors int
	// Stands says that there is a foot loop on it.
	Stands bool
	// One: it counts as rated for one person alone.
	One bool
	// Modes are the modes it may be used in, as bits; 0: all.
	Modes uint32
	// Shared is of a hand ascender: the lanyard that keeps it, where that is a clip-in
	// lanyard too; NoTool for its own.
	Shared int
}

// MaxTools bounds what a body may work with at once.
const MaxTools = 16

// addTools finds what of the kit can be made a hold. Each backup device gets the
// links it hangs from now; a further one the first of its allowed links that
// nothing else uses.
func (sc *Scene) addTools(p *rig.PersonView, connector quantity.Metres) {
	used, feet := map[string]bool{}, 0
	for _, h := range p.Holds {
		for _, l := range h.Links {
			used[l.Item.ID] = true
		}
		t := toolOf(h.Device)
		if t.Class == gear.BackupDevice {
			all, _ := h.LinksLength(connector)
			t.Length = ToCm(all)
			for _, l := range h.Links {
				if l.Model.Absorber != nil {
					t.Absorber = l.Model
				}
			}
		}
		// The connectors it hangs from are its own.
		t.Connectors = 0
		sc.Tools = append(sc.Tools, t)
	}
	for _, c := range p.Carries {
		switch {
		case c.Model.Class == gear.Connector && c.Model.Connector != nil && c.Model.Connector.Locks():
			sc.Connectors++
		case c.Model.Class == gear.FootLoop:
			feet++
		}
	}
	for _, c := range p.Carries {
		t := toolOf(c)
		switch c.Model.Class {
		case gear.BackupDevice:
			// Without a link on its list it is no backup.
			link := slices.IndexFunc(p.Carries, func(o *rig.Piece) bool { return !used[o.Item.ID] && allowed(c.Model, o.Model) })
			if link < 0 {
				continue
			}
			o := p.Carries[link]
			used[o.Item.ID] = true
			t.Connectors, t.Length = 2, 2*ToCm(connector)+ToCm(o.Model.LengthM)
			if o.Model.Absorber != nil {
				t.Absorber = o.Model
			}
		case gear.Descender, gear.ChestAscender, gear.HandAscender:
		case gear.Lanyard:
			if used[c.Item.ID] {
				continue
			}
			t.Length = ToCm(c.Model.LengthM)
		default:
			continue
		}
		sc.Tools = append(sc.Tools, t)
	}
	sc.addFeet(feet)
}

// addFeet gives foot loops to hand ascenders, then to lanyards, the longest first;
// and hand ascenders their lanyards.
func (sc *Scene) addFeet(feet int) {
	var lanyards []int
	for i := range sc.Tools {
		t := &sc.Tools[i]
		if t.Class == gear.HandAscender && feet > 0 {
			t.Stands = true
			feet--
		}
		if t.Class == gear.Lanyard {
			lanyards = append(lanyards, i)
		}
	}
	slices.SortStableFunc(lanyards, func(a, b int) int { return cmp.Compare(sc.Tools[b].Length, sc.Tools[a].Length) })
	for n, i := range lanyards {
		sc.Tools[i].Stands = n < feet
	}
	for i := range sc.Tools {
		if t := &sc.Tools[i]; t.Class == gear.HandAscender {
			t.Length = sc.Up
			if sc.Schools.HandLanyard == "shared" && len(lanyards) > 0 {
				t.Shared, t.Length = lanyards[0], min(sc.Up, sc.Tools[lanyards[0]].Length)
			}
		}
	}
}

func allowed(b, link *gear.Model) bool {
	return b.Backup != nil && (link.Absorber != nil || link.Class == gear.Lanyard) &&
		slices.ContainsFunc(b.Backup.Links, func(a gear.AllowedLink) bool { return a.Model == link.ID })
}

func toolOf(p *rig.Piece) Tool {
	t := Tool{Item: p.Item.ID, Label: p.Item.Label, Class: p.Model.Class, Model: p.Model, Connectors: 1, Shared: NoTool}
	if t.Class == gear.ChestAscender {
		t.Connectors = 0
	}
	return t
}

// Alike reports whether two tools are the same but for the item: of one model, used in
// one way, and neither shared with another tool.
func (sc *Scene) Alike(t, u int) bool {
	for i := range sc.Tools {
		if o := sc.Tools[i].Shared; o == t || o == u {
			return false
		}
	}
	a, b := sc.Tools[t], sc.Tools[u]
	a.Item, a.Label, b.Item, b.Label = "", "", "", ""
	return a == b
}

// taut is how far the ventral point is below a tool that bears.
func (t *Tool) taut() Cm {
	switch t.Class {
	case gear.BackupDevice:
		return t.Length + Sternal
	case gear.Lanyard, gear.HandAscender:
		return t.Length
	}
	return DeviceLen
}

// ToolOf makes a tool of an item that is not in the kit yet.
func ToolOf(p *rig.Piece, connector quantity.Metres) Tool {
	t := toolOf(p)
	switch t.Class {
	case gear.BackupDevice:
		t.Connectors, t.Length = 2, 2*ToCm(connector)
		if b := p.Model.Backup; b != nil {
			t.Label += fmt.Sprintf(" with a link of %v that is on its list, and %d connectors", b.Links[0].MaxM, t.Connectors)
			t.Length += ToCm(b.Links[0].MaxM)
		}
	case gear.Lanyard:
		t.Length = ToCm(p.Model.LengthM)
	case gear.HandAscender:
		t.Stands = true
	}
	return t
}
