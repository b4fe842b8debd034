package picture

import (
	"maps"
	"slices"

	"zealousknot/internal/core/gear"
)

// Icons are the small outlines of the things that bear, by their class, and by the way of the
// rope of a model that says it.
func Icons() map[string]*Drawing {
	icons := map[string]*Drawing{}
	for path, kind := range built {
		icons[string(path)] = kindIcon(kind)
	}
	for class, draw := range plainIcons {
		icons[string(class)] = thingIcon(draw())
	}
	for _, class := range []gear.Class{gear.Descender, gear.AnchorBrake, gear.ChestAscender, gear.HandAscender, gear.RopeGrab, gear.WindingDev, gear.CapturePulley, gear.Hitch, gear.BackupDevice} {
		icons[string(class)] = kindIcon(KindOf(&gear.Model{Class: class}))
	}
	return icons
}

// IconNames are their names in order.
func IconNames() []string { return slices.Sorted(maps.Keys(Icons())) }

// kindIcon is the outline of a kind, with its rope, in strokes that are seen when it is small.
func kindIcon(k Kind) *Drawing {
	d := &Drawing{Width: wide, Height: high, Shapes: []Shape{}, Labels: []Label{}, Text: string(k)}
	o := outlines[k](false)
	for i, s := range o.parts {
		if s.Ink == Outline {
			d.draw(turn{}, o.paths[i], Shape{Ink: Outline, Width: 12})
		}
	}
	d.draw(turn{}, o.rope, Shape{Ink: Rope, Width: 20})
	return d
}

// plainIcons are what no rope runs through.
var plainIcons = map[gear.Class]func() (name string, main, more *path){
	gear.Rope: func() (string, *path, *path) {
		return "rope", from(40, 60).curve(140, 0, 140, 120, 230, 60).curve(140, 0, 140, 240, 40, 160), from(40, 160).curve(140, 240, 140, 200, 230, 260)
	},
	gear.Connector: func() (string, *path, *path) {
		return "connector", from(180, 100).curve(180, 30, 80, 30, 80, 100).line(80, 220).curve(80, 300, 190, 290, 190, 220), from(180, 100).line(190, 220)
	},
	gear.Lanyard: func() (string, *path, *path) {
		return "lanyard", from(135, 90).line(135, 230), from(135, 90).curve(70, 20, 200, 20, 135, 90).move(135, 230).curve(70, 300, 200, 300, 135, 230)
	},
	gear.Sling: func() (string, *path, *path) {
		return "sling", round(60, 95, 20, 175, 20, 175, 300, 95, 300), from(95, 150).line(95, 176)
	},
	gear.Absorber: func() (string, *path, *path) {
		return "absorber", round(16, 85, 100, 185, 100, 185, 220, 85, 220), from(135, 20).line(135, 100).move(135, 220).line(135, 300).move(105, 130).line(165, 150).line(105, 170).line(165, 190)
	},
	gear.Swivel: func() (string, *path, *path) {
		return "swivel", circle(135, 95, 55), from(135, 150).line(135, 176).move(190, 230).curve(190, 300, 80, 300, 80, 230).curve(80, 160, 190, 160, 190, 230)
	},
	gear.RiggingPlate: func() (string, *path, *path) {
		return "plate with holes", round(30, 135, 40, 245, 260, 25, 260), circle(135, 110, 22)
	},
	gear.Harness: func() (string, *path, *path) {
		return "harness", round(20, 30, 80, 240, 80, 240, 130, 30, 130), circle(85, 230, 60).move(245, 230).curve(245, 310, 125, 310, 125, 230).curve(125, 150, 245, 150, 245, 230)
	},
	gear.Pulley: func() (string, *path, *path) {
		return "pulley", circle(135, 180, 80), from(135, 40).line(135, 180)
	},
}

func thingIcon(name string, main, more *path) *Drawing {
	d := &Drawing{Width: wide, Height: high, Shapes: []Shape{}, Labels: []Label{}, Text: name}
	d.draw(turn{}, main, Shape{Ink: Outline, Width: 14})
	if more != nil {
		d.draw(turn{}, more, Shape{Ink: Outline, Width: 14})
	}
	return d
}
