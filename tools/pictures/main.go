// Command pictures writes every drawing onto one sheet, for looking: each kind in each role,
// from both sides, with what may be wrong, with what each proof moves; the picture of
// each figure's example; every knot with its wrong form, from both sides; and the rig of a team
// half way through each move.
package main

import (
	"context"
	"fmt"
	"os"

	"zealousknot/internal/core/calc"
	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/knot"
	"zealousknot/internal/core/procedure"
	"zealousknot/internal/core/rig"
	"zealousknot/internal/core/site"
	"zealousknot/internal/core/stance"
	"zealousknot/internal/core/team"
	"zealousknot/internal/demo"
	"zealousknot/internal/picture"
	"zealousknot/internal/picture/svg"
	"zealousknot/internal/publish"
)

func main() {
	if err := write("bin/pictures.svg"); err != nil {
		fmt.Fprintln(os.Stderr, "pictures:", err)
		os.Exit(1)
	}
	fmt.Println("bin/pictures.svg")
}

func write(name string) error {
	if err := os.MkdirAll("bin", 0o755); err != nil {
		return err
	}
	list := every()
	for _, c := range calc.All {
		d, err := picture.Figure(c.Name, []byte(publish.Example(c.Name)))
		if err != nil {
			return err
		}
		list = append(list, d)
	}
	for i := range picture.Knots {
		k, in := &picture.Knots[i], picture.Tying{DiameterMM: 10.5, Table: knot.Shipped()}
		list = append(list, k.Draw(in, false), k.Draw(in, true))
		in.Back = true
		list = append(list, k.Draw(in, false))
	}
	steps, err := steps()
	if err != nil {
		return err
	}
	list = append(list, steps...)
	f, err := os.Create(name)
	if err != nil {
		return err
	}
	if err := svg.Sheet(f, list, 8); err != nil {
		return err
	}
	return f.Close()
}

// steps draws the rig of a team half way through each move, with the worst failure.
func steps() (list []*picture.Drawing, err error) {
	s, err := site.Open(demo.Drops()["basin-wall"])
	if err != nil {
		return nil, err
	}
	r := team.On(s)
	to := r.EdgeM / 2
	for _, m := range team.Catalogue {
		p, err := r.For(context.Background(), team.Ask{Move: m.Name, ToM: &to})
		if err != nil {
			continue // what this rig has nothing for
		}
		st := &p.Steps[len(p.Steps)/2]
		var lost *stance.Lost
		if len(st.FailOne) > 0 {
			lost = &st.FailOne[0]
		}
		list = append(list, picture.Team(r, &st.After, lost))
	}
	figures := r.Figures()
	return append(list, picture.Forces(figures.Lowering, true, figures.Weakest())), nil
}

// every draws one model of each kind.
func every() []*picture.Drawing {
	var list []*picture.Drawing
	drawn := map[picture.Kind]bool{}
	for _, m := range demo.Models() {
		kind := picture.KindOf(&m)
		if kind == "" || drawn[kind] {
			continue
		}
		drawn[kind] = true
		right := picture.Loading{Label: m.Name, Kind: kind, Side: gear.Right, Threaded: rig.ThreadedRight, Point: gear.Ventral, Fixed: m.Class == gear.AnchorBrake || kind == picture.Capture || kind == picture.Coils}
		if m.Device != nil && len(m.Device.Positions) > 1 {
			right.Position, right.Holds = m.Device.Positions[0].Name, true
		}
		list = append(list, right.Draw())
		for _, change := range []func(l *picture.Loading){
			func(l *picture.Loading) { l.Back = true },
			func(l *picture.Loading) { l.Side = gear.Left },
			func(l *picture.Loading) { l.Fixed = !l.Fixed },
			func(l *picture.Loading) { l.Fixed, l.Lying = true, true },
			func(l *picture.Loading) { l.Second = true },
			func(l *picture.Loading) { l.Engraved, l.Posts = "front", true },
			func(l *picture.Loading) { l.Threaded = rig.ThreadedReversed },
			func(l *picture.Loading) { l.Threaded = rig.ThreadedWrong },
			func(l *picture.Loading) { l.Open, l.Holds = true, false },
		} {
			l := right
			change(&l)
			list = append(list, l.Draw())
		}
		for _, p := range procedure.Of(&m) {
			list = append(list, right.Proof(p.Sign))
		}
	}
	return list
}
