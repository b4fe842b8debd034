package moves

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/quantity"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/strict"
)

// ShownStance is a stance as it is written.
type ShownStance struct {
	Grounded bool            `json:"grounded,omitempty"`
	AtM      quantity.Metres `json:"at_m" minimum:"-50" maximum:"2500" doc:"height of the ventral point"`
	XM       quantity.Metres `json:"x_m,omitempty" minimum:"-1000" maximum:"1000" doc:"where the body hangs sideways; off the ground it follows from what bears"`
	Bears    string          `json:"bears,omitempty" doc:"item that bears the weight; loop: the slack loop of a re-belay"`
	Standing bool            `json:"standing,omitempty"`
	Holds    []StanceHold    `json:"holds" maxItems:"20"`
	LoopOn   string          `json:"loop_on,omitempty" doc:"strand with a temporary loop"`
	LoopAtM  quantity.Metres `json:"loop_at_m,omitempty" minimum:"-50" maximum:"2500"`
	// Isolated are damage marks that a knot takes out of the line by now, Eyes those of
	// them whose knot leaves an eye.
	Isolated []string `json:"isolated,omitempty"`
	Eyes     []string `json:"eyes,omitempty"`
	Worked   bool     `json:"worked,omitempty"`
	// Held is how many holds of the two-line rule there are.
	Held int `json:"held,omitempty" doc:"told, not read"`
}

// StanceHold is one hold of a stance as it is written.
type StanceHold struct {
	Item     string          `json:"item"`
	Strand   string          `json:"strand"`
	Span     int             `json:"span"`
	AtM      quantity.Metres `json:"at_m" minimum:"-50" maximum:"2500"`
	Into     string          `json:"into,omitempty" enum:"mark,loop"`
	Unlocked bool            `json:"unlocked,omitempty"`
	Unproved bool            `json:"unproved,omitempty"`
	Parked   bool            `json:"parked,omitempty"`
	Tied     bool            `json:"tied,omitempty"`
}

func show(sc *stance.Scene, s *stance.Stance) ShownStance {
	out := ShownStance{Grounded: s.Grounded, AtM: s.At.M(), XM: s.X.M(), Standing: s.Standing, Worked: s.Worked, Held: sc.Held(s), Holds: []StanceHold{}}
	switch {
	case s.Bears >= 0:
		out.Bears = sc.Tools[s.Bears].Item
	case s.Bears == stance.InStrop:
		out.Bears = "loop"
	}
	for i := range sc.Tools {
		h := &s.Holds[i]
		if !h.There {
			continue
		}
		into := map[stance.ClipKind]string{stance.IntoMark: "mark", stance.IntoLoop: "loop"}[h.Clip]
		out.Holds = append(out.Holds, StanceHold{
			Item: sc.Tools[i].Item, Strand: sc.Lines[h.Line].ID, Span: int(h.Span), AtM: h.At.M(), Into: into,
			Unlocked: !h.Locked, Unproved: !h.Proved, Parked: h.Parked, Tied: h.Tied,
		})
	}
	out.Isolated, out.Eyes = sc.Damage(s.Isolated), sc.Damage(s.Eyed)
	if s.Loop.There {
		out.LoopOn, out.LoopAtM = sc.Lines[s.Loop.Line].ID, s.Loop.At.M()
	}
	return out
}

// Read gives the stance that is written.
func (w *ShownStance) Read(sc *stance.Scene) (s stance.Stance, err error) {
	s = stance.Stance{Grounded: w.Grounded, At: stance.ToCm(w.AtM), X: stance.ToCm(w.XM), Standing: w.Standing, Worked: w.Worked, Bears: stance.NoTool}
	s.Sat = s.At
	for n := range w.Holds {
		if err := w.Holds[n].read(sc, &s, fmt.Sprintf("/start/holds/%d", n)); err != nil {
			return s, err
		}
	}
	switch i := sc.Tool(w.Bears); {
	case i >= 0 && s.Holds[i].There && !w.Grounded:
		s.Bears = int8(i)
	case w.Bears == "loop" && !w.Grounded:
		s.Bears = stance.InStrop
	case w.Bears != "":
		return s, strict.Faultf("/start/bears", "%q holds nobody", w.Bears)
	case !w.Grounded:
		return s, strict.Faultf("/start/bears", "missing: what bears the weight off the ground")
	}
	for name, list := range map[string][]string{"isolated": w.Isolated, "eyes": w.Eyes} {
		bits, unknown := sc.DamageBits(list)
		switch {
		case unknown != "":
			return s, strict.Faultf("/start/"+name, "%q is no damage on a strand", unknown)
		case name == "isolated":
			s.Isolated = bits
		default:
			s.Eyed = bits
		}
	}
	switch line := sc.Line(w.LoopOn); {
	case line >= 0 && sc.Lines[line].Role != stance.Structure:
		span, at, _ := place(sc, line, stance.ToCm(w.LoopAtM))
		s.Loop = stance.Loop{There: true, Line: int8(line), Span: int8(span), At: at}
	case w.LoopOn != "":
		return s, strict.Faultf("/start/loop_on", "no strand %q", w.LoopOn)
	}
	s.Side = sc.SideOf(&s)
	if s.Bears >= 0 {
		// Where a body hangs follows from what bears it.
		s.X = sc.XOf(&s.Holds[s.Bears])
	}
	sc.Start(&s)
	return s, nil
}

// read puts a hold that is written into a stance.
func (h *StanceHold) read(sc *stance.Scene, s *stance.Stance, at string) error {
	t, line := sc.Tool(h.Item), sc.Line(h.Strand)
	switch {
	case t < 0:
		return strict.Faultf(at+"/item", "%s", sc.NotThere(h.Item))
	case line < 0:
		return strict.Faultf(at+"/strand", "no strand %q", h.Strand)
	case h.Span < 0 || h.Span > len(sc.Lines[line].Marks):
		return strict.Faultf(at+"/span", "%s has no span %d", sc.Lines[line].Name, h.Span)
	case h.Into == "mark" && h.Span == 0:
		return strict.Faultf(at+"/span", "no mark is above span 0 to clip into")
	case h.Into == "" && sc.Lines[line].Role == stance.Structure:
		return strict.Faultf(at+"/into", "nothing rides on the structure")
	case (h.Into == "") != (sc.Tools[t].Class != gear.Lanyard):
		return strict.Faultf(at+"/into", "a lanyard is clipped into something, a device rides on a strand")
	}
	clip := map[string]stance.ClipKind{"mark": stance.IntoMark, "loop": stance.IntoLoop}[h.Into]
	s.Holds[t] = stance.Hold{
		There: true, Line: int8(line), Span: int8(h.Span), Clip: clip, At: stance.ToCm(h.AtM), Locked: !h.Unlocked, Proved: !h.Unproved, Parked: h.Parked, Tied: h.Tied,
	}
	return nil
}
