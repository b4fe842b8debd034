package picture

import "zealousknot/internal/core/gear"

// A Kind is the kind of path that a rope takes through a device.
type Kind string

const (
	CamAndPost  Kind = "cam and post"
	SheaveBrake Kind = "sheave with a swinging brake and a fixed post"
	ToothedCam  Kind = "toothed cam"
	PinchingCam Kind = "pinching cam"
	RollingLock Kind = "wheel that locks"
	Drum        Kind = "winding drum with a guide"
	Capture     Kind = "sheave with a toothed cam"
	Coils       Kind = "coils of a hitch"
)

// built are the kinds of the paths that a model can say.
var built = map[gear.RopePath]Kind{
	gear.CamAndPost: CamAndPost, gear.SheaveAndBrake: SheaveBrake, gear.ToothedCam: ToothedCam, gear.PinchingCam: PinchingCam,
	gear.LockingWheel: RollingLock, gear.DrumPath: Drum, gear.CaptureSheave: Capture, gear.CoilsPath: Coils,
}

// KindOf is the kind of a model's rope path: what it says itself, else by its class; "" for
// what no rope runs through.
func KindOf(m *gear.Model) Kind {
	if m.Device != nil && m.Device.Looks != nil {
		return built[m.Device.Looks.RopePath]
	}
	switch m.Class {
	case gear.Descender:
		return CamAndPost
	case gear.AnchorBrake:
		return SheaveBrake
	case gear.ChestAscender, gear.HandAscender, gear.RopeGrab:
		return ToothedCam
	case gear.WindingDev:
		return Drum
	case gear.CapturePulley:
		return Capture
	case gear.Hitch:
		return Coils
	case gear.BackupDevice:
		if m.Backup != nil && m.Backup.Kind == gear.Wheel {
			return RollingLock
		}
		return PinchingCam
	}
	return ""
}

// The box of a loading picture. Kinds are drawn in it with the loaded strand going up on the
// right, as on a person, seen from the front.
const (
	wide = 270.0
	high = 320.0
)

// An outline is a kind's drawing: its rope, its rope where it is misthreaded, and its parts
// from the back to the front.
type outline struct {
	rope, wrong *path
	parts       []Shape
	paths       []*path
	// plate is what opens, about the point that it turns on; eye is where the connector is.
	plate     *path
	eye, hand [2]float64
	// turns: it has a handle, on its pivot. through: the rope runs straight through it, and no
	// hand holds it below. missed is where a misthreaded rope should run.
	turns, through bool
	pivot, missed  [2]float64
}

func (o *outline) part(name string, ink Ink, width float64, p *path) {
	o.parts, o.paths = append(o.parts, Shape{Ink: ink, Width: width, Part: name}), append(o.paths, p)
}

// outlines are the drawings of the kinds. None is of any product: each shows what its words
// say and no more.
var outlines = map[Kind]func(second bool) *outline{
	CamAndPost:  camAndPost,
	SheaveBrake: sheaveBrake,
	ToothedCam:  func(bool) *outline { return toothedCam() },
	PinchingCam: func(bool) *outline { return pinchingCam() },
	RollingLock: func(bool) *outline { return rollingLock() },
	Drum:        func(bool) *outline { return drum() },
	Capture:     func(bool) *outline { return capture() },
	Coils:       func(bool) *outline { return coils() },
}

func camAndPost(second bool) *outline {
	o := &outline{
		rope:  from(165, 0).line(165, 160).curve(165, 204, 107, 204, 107, 160).line(107, 124).curve(107, 98, 77, 98, 77, 124).line(77, 320),
		wrong: from(165, 0).line(165, 160).curve(165, 204, 107, 204, 107, 180).line(90, 220).line(77, 320),
		plate: round(22, 66, 88, 150, 78, 196, 120, 186, 212, 140, 250, 84, 208), eye: [2]float64{140, 226}, hand: [2]float64{77, 284},
		turns: true, pivot: [2]float64{136, 160}, missed: [2]float64{92, 124},
	}
	o.part("body", Outline, 2.5, round(22, 66, 88, 150, 78, 196, 120, 186, 212, 140, 250, 84, 208))
	o.part("post", Outline, 2.5, circle(92, 124, 12))
	o.part("cam", Outline, 2.5, circle(136, 160, 26))
	o.part("cam", Outline, 2.5, circle(136, 160, 4))
	if second {
		o.rope = from(165, 0).line(165, 160).curve(165, 204, 107, 204, 107, 160).line(107, 124).curve(107, 98, 77, 98, 77, 124).line(77, 196).curve(77, 218, 53, 218, 53, 240).line(53, 320)
		o.hand = [2]float64{53, 284}
		o.part("second post", Outline, 2.5, circle(65, 218, 9))
	}
	return o
}

func sheaveBrake(second bool) *outline {
	o := &outline{
		rope:  from(170, 0).line(170, 150).curve(170, 202, 98, 202, 98, 150).line(98, 116).curve(98, 90, 66, 90, 66, 116).line(66, 320),
		wrong: from(170, 0).line(170, 150).curve(170, 202, 98, 202, 98, 180).line(76, 224).line(66, 320),
		plate: round(30, 54, 78, 186, 78, 204, 150, 176, 236, 134, 254, 70, 208), eye: [2]float64{134, 232}, hand: [2]float64{66, 284},
		turns: true, pivot: [2]float64{134, 150}, missed: [2]float64{82, 116},
	}
	o.part("body", Outline, 2.5, round(30, 54, 78, 186, 78, 204, 150, 176, 236, 134, 254, 70, 208))
	o.part("post", Outline, 2.5, circle(82, 116, 13))
	o.part("sheave", Outline, 2.5, circle(134, 150, 33))
	o.part("sheave", Soft, 2, circle(134, 150, 22))
	o.part("brake", Outline, 2.5, from(176, 184).line(194, 150).line(178, 142).shut())
	if second {
		o.part("second post", Outline, 2.5, circle(82, 200, 10))
		o.rope = from(170, 0).line(170, 150).curve(170, 202, 98, 202, 98, 150).line(98, 116).curve(98, 90, 66, 90, 66, 116).line(66, 176).curve(66, 200, 96, 192, 96, 214).line(96, 320)
		o.hand = [2]float64{96, 284}
	}
	return o
}

func toothedCam() *outline {
	o := &outline{
		rope: from(150, 0).line(150, 320), wrong: from(150, 0).line(150, 90).line(196, 130).line(196, 320),
		plate: round(10, 138, 92, 180, 92, 180, 214, 138, 214), eye: [2]float64{104, 240}, hand: [2]float64{150, 290},
		pivot: [2]float64{112, 158}, through: true, missed: [2]float64{142, 150},
	}
	o.part("body", Outline, 2.5, round(14, 88, 96, 132, 86, 166, 88, 168, 216, 122, 252, 88, 252))
	o.part("cam", Outline, 2.5, from(112, 170).line(118, 128).line(142, 134).line(137, 140).line(143, 145).line(137, 151).line(143, 156).line(136, 162).line(141, 168).shut())
	o.part("cam", Outline, 2.5, circle(114, 168, 4))
	return o
}

func pinchingCam() *outline {
	o := &outline{
		rope: from(160, 0).line(160, 320), wrong: from(160, 0).line(160, 90).line(206, 130).line(206, 320),
		plate: round(10, 148, 112, 192, 112, 192, 206, 148, 206), eye: [2]float64{66, 172}, hand: [2]float64{160, 290},
		pivot: [2]float64{134, 158}, through: true, missed: [2]float64{150, 158},
	}
	o.part("body", Outline, 2.5, round(14, 118, 104, 190, 104, 190, 212, 118, 212))
	o.part("cam", Outline, 2.5, from(150, 138).curve(162, 150, 156, 172, 144, 176).line(66, 184).line(60, 170).line(130, 146).shut())
	o.part("cam", Outline, 2.5, circle(134, 158, 4))
	o.part("cord", Soft, 2.5, from(124, 176).curve(112, 214, 122, 236, 116, 262))
	o.part("cord", Soft, 2.5, circle(116, 269, 7))
	return o
}

func rollingLock() *outline {
	o := &outline{
		rope: from(158, 0).line(158, 320), wrong: from(158, 0).line(158, 90).line(212, 130).line(212, 320),
		plate: round(10, 148, 110, 196, 110, 196, 210, 148, 210), eye: [2]float64{92, 218}, hand: [2]float64{158, 290},
		pivot: [2]float64{126, 158}, through: true, missed: [2]float64{151, 158},
	}
	o.part("body", Outline, 2.5, round(16, 84, 112, 150, 100, 200, 106, 200, 214, 140, 220, 76, 232))
	o.part("wheel", Outline, 2.5, circle(126, 158, 25))
	o.part("wheel", Outline, 2.5, from(126, 140).line(126, 176).move(108, 158).line(144, 158))
	o.part("wheel", Outline, 2.5, circle(176, 158, 10))
	return o
}

func drum() *outline {
	o := &outline{
		rope:  from(178, 0).line(178, 150).curve(178, 214, 90, 214, 90, 150).curve(90, 96, 172, 96, 172, 150).curve(172, 206, 96, 206, 84, 226).line(84, 320),
		wrong: from(178, 0).line(178, 150).curve(178, 206, 110, 206, 108, 222).line(108, 320),
		plate: round(26, 66, 90, 202, 90, 202, 214, 134, 250, 66, 240), eye: [2]float64{140, 232}, hand: [2]float64{84, 288},
		turns: true, pivot: [2]float64{134, 150}, missed: [2]float64{78, 232},
	}
	o.part("body", Outline, 2.5, round(26, 66, 90, 202, 90, 202, 214, 134, 250, 66, 240))
	o.part("drum", Outline, 2.5, circle(134, 150, 34))
	o.part("drum", Soft, 2, circle(134, 150, 66))
	o.part("guide", Outline, 2.5, circle(100, 234, 9))
	return o
}

func capture() *outline {
	o := &outline{
		rope: from(170, 0).line(170, 150).curve(170, 202, 98, 202, 98, 150).line(98, 0), wrong: from(170, 0).line(170, 150).curve(170, 232, 66, 232, 66, 150).line(66, 0),
		plate: round(24, 76, 104, 192, 104, 192, 212, 134, 250, 76, 212), eye: [2]float64{134, 228}, hand: [2]float64{98, 34},
		pivot: [2]float64{134, 150}, missed: [2]float64{98, 128},
	}
	o.part("body", Outline, 2.5, round(24, 76, 104, 192, 104, 192, 212, 134, 250, 76, 212))
	o.part("sheave", Outline, 2.5, circle(134, 150, 33))
	o.part("sheave", Soft, 2, circle(134, 150, 22))
	o.part("cam", Outline, 2.5, from(178, 176).line(196, 128).line(176, 118).line(180, 126).line(175, 132).line(180, 139).line(175, 145).line(179, 152).line(174, 158).shut())
	return o
}

func coils() *outline {
	o := &outline{
		rope: from(150, 0).line(150, 320), wrong: from(150, 0).line(150, 320), eye: [2]float64{84, 196}, hand: [2]float64{150, 290}, pivot: [2]float64{150, 150}, through: true, missed: [2]float64{150, 150},
	}
	for i := range 6 {
		y := 112 + 13*float64(i)
		o.part("coils", Outline, 5, from(138, y).line(162, y+7))
	}
	o.part("coils", Outline, 5, from(138, 138).curve(110, 150, 92, 168, 84, 190))
	o.part("coils", Outline, 5, from(138, 152).curve(118, 164, 96, 180, 86, 198))
	return o
}
