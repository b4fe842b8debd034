package moves

import (
	"fmt"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/stance"
)

// slack is rope that an untied loop has freed above a backup device: if everything else
// goes, the device catches so much lower. Drawn up it is gone; behind a knot it cannot
// be drawn up, and stays until the body is so much lower.
type slack struct {
	tool  int
	by    stance.Cm
	from  stance.Cm // height of the body as the loop came out
	stays bool
}

// freed gives the slack that untying the loop of a stance leaves; nil for none below.
func freed(sc *stance.Scene, at *stance.Stance) *slack {
	l := &at.Loop
	for i := range sc.Tools {
		h := &at.Holds[i]
		if h.There && h.Clip == stance.NoClip && sc.Tools[i].Class == gear.BackupDevice && h.Line == l.Line && h.At < l.At && sc.SideOfHold(h) == sc.SideID(int(l.Line), int(l.Span)) {
			return &slack{i, sc.Lines[l.Line].LoopRope, at.At, h.Span != l.Span}
		}
	}
	return nil
}

// after gives what is left of it after a further step; nil for nothing.
func (k *slack) after(s *stance.Stance) *slack {
	if k == nil || !k.stays || !s.Holds[k.tool].There || s.Grounded || k.from-s.At >= k.by {
		return nil
	}
	return k
}

// failOne is the table of single failures with the slack in it.
func (k *slack) failOne(sc *stance.Scene, s *stance.Stance) []stance.Lost {
	loose := *s
	if k != nil {
		loose.Holds[k.tool].At -= min(k.by, k.by-(k.from-s.At))
	}
	return sc.FailOne(&loose)
}

// untying says how a loop comes out.
func untying(sc *stance.Scene, k *slack) (words, reason string) {
	switch {
	case k == nil:
		return "Untie the loop.", "The backup's way is clear."
	case k.stays:
		return fmt.Sprintf("Untie the loop. What it frees, about %v, stays as slack above the knot over %s: go on at once.", k.by.M(), sc.Tools[k.tool].Label),
			"Until you are so much lower the backup catches so much later."
	}
	return fmt.Sprintf("Untie the loop; draw what it frees, about %v, up through %s until its rope is tight.", k.by.M(), sc.Tools[k.tool].Label),
		"Until it is drawn up the backup catches so much later."
}
