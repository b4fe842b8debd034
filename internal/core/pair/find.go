package pair

import (
	"context"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/search"
	"zealousknot/internal/core/stance"
)

// space is what is searched in.
type space struct {
	search.Plain[State]
	sc   *Scene
	list []Action
}

// The methods that search.Space asks for.

func (sp *space) Actions(p *State) []Action {
	sp.list = sp.list[:0]
	add := func(a Action) { sp.list = append(sp.list, a) }
	sc := sp.sc
	if b := p.R.Bears; b >= 0 && sc.R.Tools[b].Class == gear.Descender {
		h := &p.R.Holds[b]
		switch {
		case h.Tied:
			add(Action{Do: UntieOff})
		case h.Parked:
			add(Action{Do: TieOff})
			add(Action{Do: Unpark})
		default:
			add(Action{Do: Park})
		}
	}
	if !p.Clear {
		add(Action{Do: ClearAll})
	}
	if p.Long == Apart {
		add(Action{Do: LongOn})
	}
	if p.Chain == Apart {
		if sc.StrapCm > 0 && sc.slack(p, 1, true) >= 0 {
			add(Action{Do: ChainOn, Links: 1, Strap: true})
		}
		for links := 1; links <= min(8, sc.Connectors); links++ {
			if sc.slack(p, links, false) >= 0 {
				add(Action{Do: ChainOn, Links: links})
				break
			}
		}
	}
	for _, whose := range []Strand{Rescuers, Casualtys} {
		if p.Hand != whose {
			add(Action{Do: TakeStrand, Strand: whose})
		}
	}
	sp.theirs(p, add)
	if p.Bend == Nobodys && p.R.Bears >= 0 {
		if _, bend := sc.R.Tools[p.R.Bears].Rated(2, sc.Mass()); bend {
			add(Action{Do: Bend, Strand: Rescuers})
		}
	}
	return sp.list
}

// theirs proposes what is done to what the casualty hangs on.
func (sp *space) theirs(p *State, add func(Action)) {
	sc := sp.sc
	if p.Bears == ByOwn && p.C.Bears >= 0 {
		if sc.C.Tools[p.C.Bears].Class == gear.Descender {
			do := LowerTheirs
			if p.C.Holds[p.C.Bears].Parked {
				do = FreeTheirs
			}
			add(Action{Do: do})
		} else if !p.Lift {
			add(Action{Do: RigLift})
		} else {
			add(Action{Do: Lift})
		}
	}
	if p.Bears == ByLift {
		add(Action{Do: LetUp})
	}
	for i := range sc.C.Tools {
		if p.C.Holds[i].There && int(p.C.Bears) != i {
			add(Action{Do: TakeOff, Item: sc.C.Tools[i].Item})
		}
	}
}

func (sp *space) Do(p *State, a *Action, next *State) (float64, bool) {
	to, found, err := sp.sc.do(*p, *a)
	if err != nil || stance.Stops(found) {
		return 0, false
	}
	*next = to
	handled := 0.0
	if a.Do == TakeOff || a.Do == LongOn || a.Do == ChainOn {
		handled = handledS
	}
	return sp.sc.Seconds(p, next, a) + handled, true
}

// Judge asks the two-line rule only where what holds either of them has changed.
func (sp *space) Judge(next, before *State, _ *Action) (float64, bool) {
	if next.Long == before.Long && next.Chain == before.Chain && next.Bears == before.Bears && next.C.Bears == before.C.Bears && next.C.Holds == before.C.Holds && next.R.Holds == before.R.Holds {
		return 0, true
	}
	return 0, !stance.Stops(sp.sc.Check(next))
}

// LowerBound is what must still be done in any case: each of it once, by its own time.
func (sp *space) LowerBound(p *State) float64 {
	sc, t, left := sp.sc, sp.sc.Times, 0.0
	if !p.Clear {
		left += t[ClearAll]
	}
	if p.Long == Apart {
		left += t[LongOn] + handledS
	}
	if p.Chain == Apart {
		left += t[ChainOn] + handledS
	}
	for i := range sc.C.Tools {
		if p.C.Holds[i].There && (sc.C.Tools[i].Class != gear.BackupDevice || !sc.keeps(p)) {
			left += t[TakeOff] + handledS
		}
	}
	if b := p.R.Bears; b >= 0 {
		if _, bend := sc.R.Tools[b].Rated(2, sc.Mass()); bend && p.Bend == Nobodys {
			left += t[Bend]
		}
		if p.R.Holds[b].Tied {
			left += t[UntieOff]
		}
		if p.R.Holds[b].Parked {
			left += t[Unpark]
		}
	}
	switch {
	case p.Bears == ByLift:
		left += t[LetUp]
	case p.Bears != ByOwn || p.C.Bears < 0:
	case sc.C.Tools[p.C.Bears].Class == gear.Descender:
		left += t[LowerTheirs]
		if p.C.Holds[p.C.Bears].Parked {
			left += t[FreeTheirs]
		}
	default:
		left += t[Lift] + t[LetUp]
		if !p.Lift {
			left += t[RigLift]
		}
	}
	return left
}

// handledS is what putting on and taking off counts beside its time.
const handledS = 10

// Reached: the casualty hangs on the chain alone, or with their backup by school, and
// the rescuer's descender is ready to run.
func (sp *space) Reached(p *State) bool {
	sc := sp.sc
	if p.Bears != ByChain || p.R.Bears < 0 || p.R.Holds[p.R.Bears].Parked || p.Hand != Rescuers && !sc.FromAnchor || p.Lift {
		return false
	}
	for i := range sc.C.Tools {
		keep := sc.C.Tools[i].Class == gear.BackupDevice && sc.keeps(p)
		if p.C.Holds[i].There != keep {
			return false
		}
	}
	return true
}

// keeps reports whether the casualty's backup stays on until the landing: by school, or
// because the rescuer's is not rated for two.
func (sc *Scene) keeps(p *State) bool {
	b := hold(sc.R, &p.R, gear.BackupDevice)
	return sc.KeepBackup || b < 0 || !rates(sc.R, b, sc.Mass())
}

// maxPairs bounds a search.
const maxPairs = 10_000

// Find plans from a pair to where both hang ready to go down. search.ErrNone is
// returned where there is no way.
func (sc *Scene) Find(ctx context.Context, way string, start State) (*Plan, error) {
	list, n, err := sc.search(ctx, start)
	if err != nil {
		return nil, err
	}
	p, _ := sc.Walk(way, start, list)
	p.Looked = n
	return p, nil
}

// Cost is how long a pick-off takes, without its words, and the pair as it ends.
func (sc *Scene) Cost(ctx context.Context, start State) (sum float64, end State, err error) {
	list, _, err := sc.search(ctx, start)
	end = start
	for i := range list {
		next, _, err := sc.do(end, list[i])
		if err != nil {
			return 0, end, err
		}
		sum += sc.Seconds(&end, &next, &list[i])
		end = next
	}
	return sum, end, err
}

func (sc *Scene) search(ctx context.Context, start State) ([]Action, int, error) {
	if !sc.hopes(&start) {
		return nil, 0, search.ErrNone
	}
	steps, n, err := search.Find[State, State, Action](ctx, &space{sc: sc.begun(&start)}, start, maxPairs)
	list := make([]Action, len(steps))
	for i := range steps {
		list[i] = steps[i].Action
	}
	return list, n, err
}

// hopes reports whether what every pick-off wants is there at all.
func (sc *Scene) hopes(p *State) bool {
	b := p.R.Bears
	if b < 0 || sc.LongTool < 0 || !rates(sc.R, int(b), sc.Mass()) {
		return false
	}
	if c := p.C.Bears; p.Bears == ByOwn && c >= 0 && sc.C.Tools[c].Class != gear.Descender && !sc.CanLift {
		return false
	}
	spare := sc.Connectors
	if _, bend := sc.R.Tools[b].Rated(2, sc.Mass()); bend && !sc.FromAnchor {
		spare--
	}
	return p.Chain != Apart || spare > 0 && (sc.slack(p, min(spare, 8), false) >= 0 || sc.StrapCm > 0 && sc.slack(p, 1, true) >= 0)
}
