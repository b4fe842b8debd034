package picture

import (
	"encoding/json"
	"fmt"
	"math"
	"strings"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/mechanics"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/reeving"
	"zealousknot/internal/core/strict"
	"zealousknot/internal/core/team"
)

// The box of a figure's picture.
const (
	figureWide = 300.0
	figureHigh = 220.0
	middle     = figureWide / 2
)

// sentences joins what a picture says.
func sentences(says []string) string {
	var b strings.Builder
	for _, s := range says {
		b.WriteString(strings.ToUpper(s[:1]) + s[1:] + ". ")
	}
	return strings.TrimSpace(b.String())
}

// sketch is a drawing in the making.
type sketch struct {
	*Drawing
	says []string
}

func (s *sketch) rope(p *path)  { s.draw(turn{}, p, Shape{Ink: Rope, Width: 5, Part: "rope"}) }
func (s *sketch) thin(p *path)  { s.draw(turn{}, p, Shape{Ink: Soft, Width: 2, Dashed: true}) }
func (s *sketch) thing(p *path) { s.draw(turn{}, p, Shape{Ink: Outline, Width: 3}) }
func (s *sketch) anchor(x, y float64) {
	s.draw(turn{}, from(x-10, y-16).line(x+10, y-16).line(x, y).shut(), Shape{Ink: Sign, Width: 1, Filled: true, Part: "anchor"})
}
func (s *sketch) words(x, y float64, format string, a ...any) {
	s.Labels = append(s.Labels, Label{X: math.Round(x), Y: math.Round(y), Words: fmt.Sprintf(format, a...), Anchor: "middle"})
}

// arrow points from one place to another.
func (s *sketch) arrow(x1, y1, x2, y2 float64) {
	a := math.Atan2(y2-y1, x2-x1)
	head := func(by float64) (x, y float64) { return x2 - 12*math.Cos(a+by), y2 - 12*math.Sin(a+by) }
	ax, ay := head(0.5)
	bx, by := head(-0.5)
	s.draw(turn{}, from(x1, y1).line(x2, y2).move(ax, ay).line(x2, y2).line(bx, by), Shape{Ink: Moving, Width: 3.5, Part: "arrow"})
}

func (s *sketch) say(format string, a ...any) { s.says = append(s.says, fmt.Sprintf(format, a...)) }

// Figure draws the thing of a calc contract with its figures: what goes in is read as the
// contract reads it, so that a *strict.Error names what was refused.
func Figure(name string, in []byte) (*Drawing, error) {
	c := calc.Find(name)
	if c == nil {
		return nil, &strict.Error{Faults: []strict.Fault{{Pointer: "/figure", Detail: fmt.Sprintf("there is no figure %q; there are %s", name, calc.Names())}}}
	}
	answer, err := c.Run(in)
	if err != nil {
		return nil, err
	}
	i := new(values)
	if err := json.Unmarshal(in, i); err != nil {
		return nil, err // the contract has read it
	}
	s := &sketch{Drawing: &Drawing{Width: figureWide, Height: figureHigh, Shapes: []Shape{}, Labels: []Label{}}}
	switch out := answer.Out.(type) {
	case *mechanics.AnchorOut:
		s.legs(i, out)
	case *mechanics.RedirectOut:
		s.redirect(i, out)
	case *mechanics.HaulOut:
		s.haul(i, out)
	case *mechanics.LowerOut:
		s.lower(i, out)
	case *mechanics.HeatOut:
		s.heat(i, out)
	case *mechanics.StretchOut:
		s.stretch(i, out)
	case *mechanics.TimedFallOut:
		s.fall(i, &out.FallOut)
	case *mechanics.ShareOut:
		s.share(i)
	case *mechanics.WindOut:
		s.wind(i, out)
	case *mechanics.SwingOut:
		s.swing(i, out)
	case *mechanics.RopeOut:
		s.strand(i, out)
	}
	if len(s.says) == 0 {
		return nil, fmt.Errorf("picture: no drawing of %T", answer.Out)
	}
	s.Text = sentences(s.says)
	return s.Drawing, nil
}

// values are what of the figures' inputs is drawn. They were read strictly before.
type values struct {
	LoadKN       quantity.Kilonewtons     `json:"load_kN"`
	System       string                   `json:"system"`
	Reeving      []reeving.Rope           `json:"reeving"`
	Legs         []mechanics.AnchorLeg    `json:"legs"`
	T1KN         quantity.Kilonewtons     `json:"t1_kN"`
	T2KN         quantity.Kilonewtons     `json:"t2_kN"`
	IncludedDeg  quantity.Degrees         `json:"included_angle_deg"`
	LoadKg       quantity.Kilograms       `json:"load_kg"`
	WrapsDeg     []quantity.Degrees       `json:"wraps_deg"`
	SpeedMS      quantity.MetresPerSecond `json:"speed_m_s"`
	AmbientC     quantity.Celsius         `json:"ambient_C"`
	LimitC       quantity.Celsius         `json:"limit_C"`
	LengthM      quantity.Metres          `json:"length_m"`
	DeviceAboveM quantity.Metres          `json:"device_above_attachment_m"`
	MassKg       quantity.Kilograms       `json:"mass_kg"`
	Share        quantity.Ratio           `json:"share"`
	WindMS       quantity.MetresPerSecond `json:"wind_m_s"`
	RopeLengthM  quantity.Metres          `json:"rope_length_m"`
	OffsetM      quantity.Metres          `json:"offset_m"`
	DropM        quantity.Metres          `json:"drop_m"`
	ReserveM     quantity.Metres          `json:"reserve_m"`
	StretchM     quantity.Metres          `json:"stretch_m"`
}

func (s *sketch) legs(in *values, out *mechanics.AnchorOut) {
	far := 0.1
	for _, l := range in.Legs {
		far = max(far, math.Abs(float64(l.X)), math.Abs(float64(l.Y)))
	}
	for i, l := range in.Legs {
		x, y := middle+110*float64(l.X)/far, 160-120*float64(l.Y)/far
		s.rope(from(middle, 160).line(x, y))
		s.thing(circle(x, y, 6))
		s.words(x, y-12, "%s %v", l.ID, out.Legs[i].TensionKN)
		s.say("leg %s bears %v", l.ID, out.Legs[i].TensionKN)
	}
	s.arrow(middle, 166, middle, 206)
	s.words(middle+50, 202, "%v", in.LoadKN)
	s.say("the widest angle is %v", out.WidestAngleDeg)
}

func (s *sketch) redirect(in *values, out *mechanics.RedirectOut) {
	half := float64(in.IncludedDeg) * math.Pi / 360
	for i, side := range []float64{-1, 1} {
		x, y := middle+side*150*math.Sin(half), 60+150*math.Cos(half)
		s.rope(from(middle, 60).line(x, min(y, 212)))
		s.words(middle+side*(52+84*math.Sin(half)), 92+70*math.Cos(half), "%v", []quantity.Kilonewtons{in.T1KN, in.T2KN}[i])
	}
	s.thing(circle(middle, 60, 9))
	s.anchor(middle, 22)
	s.thin(from(middle, 22).line(middle, 51))
	s.words(middle+62, 40, "bears %v", out.ResultantKN)
	s.say("the rope turns by parts %v apart; the point bears %v", in.IncludedDeg, out.ResultantKN)
}

// haul lays the reeving out, with the tension of each part while it is hauled.
func (s *sketch) haul(in *values, out *mechanics.HaulOut) {
	ropes := in.Reeving
	if len(ropes) == 0 {
		ropes = reeving.Named(in.System)
	}
	*s.Drawing = *Forces(team.HaulAlone(in.LoadKg, ropes, out), true, team.Load{})
	s.says = []string{
		fmt.Sprintf("%v on a haul of ratio %s, actual %s; the pull is %v", in.LoadKg, quantity.Text(out.IdealRatio), quantity.Text(out.ActualRatio), out.HandKN),
		strings.TrimSuffix(s.Text, "."),
	}
}

func (s *sketch) lower(in *values, out *mechanics.LowerOut) {
	s.anchor(120, 24)
	s.thing(circle(120, 60, 30))
	s.rope(from(150, 60).line(150, 170))
	s.thing(round(8, 126, 170, 174, 170, 174, 206, 126, 206))
	s.words(150, 192, "%v", in.LoadKg)
	p := from(150, 60).curve(150, 16, 90, 16, 90, 60)
	x := 90.0
	for range in.WrapsDeg {
		p.line(x, 110).curve(x, 138, x-26, 138, x-26, 110).line(x-26, 96)
		s.thing(circle(x-13, 108, 7))
		x -= 26
	}
	s.rope(p.line(x, 180))
	s.arrow(x, 150, x, 196)
	s.words(x, 214, "hand %v", out.HandKN)
	s.say("%v on a rope over the brake and %s; the hand holds %v", in.LoadKg, quantity.Count(len(in.WrapsDeg)).Of("added bend"), out.HandKN)
}

func (s *sketch) heat(in *values, out *mechanics.HeatOut) {
	s.anchor(70, 24)
	s.rope(from(70, 24).line(70, 210))
	s.thing(round(8, 52, 120, 88, 120, 88, 160, 52, 160))
	s.arrow(110, 40, 110, 110)
	s.words(150, 80, "%v", in.SpeedMS)
	part := math.Max(0, math.Min(1.2, float64(out.EndC-in.AmbientC)/math.Max(1, float64(in.LimitC-in.AmbientC))))
	s.thing(round(6, 220, 30, 250, 30, 250, 200, 220, 200))
	ink := Moving
	if out.EndC > in.LimitC {
		ink = Wrong
	}
	s.draw(turn{}, from(224, 198).line(246, 198).line(246, 198-140*part).line(224, 198-140*part).shut(), Shape{Ink: ink, Width: 1, Filled: true})
	s.thin(from(212, 58).line(258, 58))
	s.words(235, 22, "%v of %v", out.EndC, in.LimitC)
	s.say("at the end the device is at %v; the limit is %v", out.EndC, in.LimitC)
}

func (s *sketch) stretch(in *values, out *mechanics.StretchOut) {
	by := 120 * math.Min(0.5, float64(out.StretchM/in.LengthM)*3)
	for i, x := range []float64{90, 200} {
		end := 120 + float64(i)*by
		s.anchor(x, 24)
		s.rope(from(x, 24).line(x, end))
		if i == 1 {
			s.thing(round(8, x-26, end, x+26, end, x+26, end+30, x-26, end+30))
			s.words(x, end+20, "%v", in.LoadKg)
		}
	}
	s.thin(from(70, 120).line(240, 120))
	s.words(90, 146, "%v", in.LengthM)
	s.words(252, 124+by/2, "%v", out.StretchM)
	s.say("%v of rope stretch by %v", in.LengthM, out.StretchM)
}

func (s *sketch) fall(in *values, out *mechanics.FallOut) {
	whole := math.Max(1, float64(out.ClearanceNeededM)+math.Max(0, float64(in.DeviceAboveM)))
	y := func(m quantity.Metres) float64 { return 60 + 140*float64(m)/whole }
	top := y(quantity.Metres(math.Max(0, float64(in.DeviceAboveM))))
	device := top - 140*float64(in.DeviceAboveM)/whole
	s.anchor(110, 24)
	s.rope(from(110, 24).line(110, 210))
	s.thing(round(5, 98, device-12, 122, device-12, 122, device+12, 98, device+12))
	s.thing(circle(160, top, 7))
	s.thin(from(122, device).line(160, top))
	fallen := top + 140*float64(out.BeforeArrestM)/whole
	s.arrow(190, top, 190, fallen)
	s.words(236, (top+fallen)/2+5, "fall %v", out.BeforeArrestM)
	s.thin(from(60, top+140*float64(out.ClearanceNeededM)/whole).line(280, top+140*float64(out.ClearanceNeededM)/whole))
	s.words(60, 16, "peak %v", out.PeakKN)
	s.say("the device is %v above the attachment; the fall until it has locked is %v, the peak %v; %v must be free below", in.DeviceAboveM, out.BeforeArrestM, out.PeakKN, out.ClearanceNeededM)
}

func (s *sketch) share(in *values) {
	for i, x := range []float64{110, 190} {
		s.anchor(x, 24)
		s.draw(turn{}, from(x, 24).line(middle, 150), Shape{Ink: Rope, Width: 2 + 8*[]float64{float64(in.Share), 1 - float64(in.Share)}[i], Part: "rope"})
	}
	s.thing(round(8, middle-24, 150, middle+24, 150, middle+24, 190, middle-24, 190))
	s.words(middle, 174, "%v", in.MassKg)
	s.words(60, 80, "%.0f %%", 100*float64(in.Share))
	s.words(240, 80, "%.0f %%", 100*(1-float64(in.Share)))
	s.say("one strand bears %.0f %%, the other %.0f %%", 100*float64(in.Share), 100*(1-float64(in.Share)))
}

func (s *sketch) wind(in *values, out *mechanics.WindOut) {
	s.anchor(120, 24)
	bulge := math.Min(70, 8+6*float64(in.WindMS))
	s.rope(from(120, 24).curve(120+bulge, 70, 120+bulge, 120, 120, 160).line(120, 210))
	s.thing(round(5, 106, 150, 134, 150, 134, 172, 106, 172))
	for _, y := range []float64{60, 90, 120} {
		s.arrow(30, y, 84, y)
	}
	s.words(52, 46, "%v", in.WindMS)
	s.words(222, 100, "draws %v", out.SlackM)
	s.say("a wind of %v draws %v of slack above the device", in.WindMS, out.SlackM)
}

func (s *sketch) swing(in *values, out *mechanics.SwingOut) {
	a := float64(out.AngleDeg) * math.Pi / 180
	x, y := middle+170*math.Sin(a), 24+170*math.Cos(a)
	s.anchor(middle, 24)
	s.thin(from(middle, 24).line(middle, 194))
	s.rope(from(middle, 24).line(x, y))
	s.thing(circle(x, y, 9))
	s.draw(turn{}, from(x, y+14).bend((x+middle)/2, 24+190, middle, 208), Shape{Ink: Moving, Width: 3, Part: "arrow"})
	s.words(middle+86, 40, "%v, %v aside", in.RopeLengthM, in.OffsetM)
	s.words(middle-66, 206, "%v", out.SpeedMS)
	s.say("let go %v aside on %v of rope, it passes below the anchor at %v", in.OffsetM, in.RopeLengthM, out.SpeedMS)
}

func (s *sketch) strand(in *values, out *mechanics.RopeOut) {
	x := 20.0
	for _, p := range []struct {
		name string
		m    quantity.Metres
		ink  Ink
	}{{"drop", in.DropM, Rope}, {"knots and more", max(0, out.LengthNeededM-in.DropM-in.ReserveM-in.StretchM), Moving}, {"stretch", in.StretchM, Soft}, {"reserve", in.ReserveM, Outline}} {
		long := 260 * float64(p.m) / math.Max(1e-9, float64(out.LengthNeededM))
		s.draw(turn{}, from(x, 110).line(x+long, 110), Shape{Ink: p.ink, Width: 12, Part: "rope"})
		x += long
	}
	s.words(middle, 90, "%v", out.LengthNeededM)
	s.words(middle, 140, "%v down, %v in reserve", in.DropM, in.ReserveM)
	s.say("%v of rope: %v for the drop, %v in reserve, the rest for knots, edges and stretch", out.LengthNeededM, in.DropM, in.ReserveM)
}
