package moves

import (
	"fmt"
	"slices"

	"zealousknot/internal/core/gear"
	"zealousknot/internal/core/stance"
)

// slack is rope that an untied loop has freed above a backup device: if everything else
// goes, the device catches so much lower. Drawn up it is gone; behind a knot it cannot
// be drawn up, and stays until the body is so much lower.
type slack struct {
	tool  int
	span  int8 // that the loop was tied in
	by    stance.Cm
	from  stance.Cm // height of the body as the loop came out
	stays bool
}

// slacks are of all loops that were untied.
type slacks []slack

// freed gives the slack that untying the loop of a stance leaves above each backup device
// below it.
func freed(sc *stance.Scene, at *stance.Stance) (list slacks) {
	l := &at.Loop
	for i := range sc.Tools {
		h := &at.Holds[i]
		if h.There && h.Clip == stance.NoClip && sc.Tools[i].Class == gear.BackupDevice && h.Line == l.Line && h.At < l.At && sc.SideOfHold(h) == sc.SideID(int(l.Line), int(l.Span)) {
			list = append(list, slack{i, l.Span, sc.Lines[l.Line].LoopRope, at.At, h.Span != l.Span})
		}
	}
	return list
}

// after gives what is left after a further step, and what that step frees. A loop that is
// tied again in the same stretch takes up what the first one left there.
func (list slacks) after(s *stance.Stance, frees slacks) (left slacks) {
	for _, k := range list {
		again := slices.ContainsFunc(frees, func(f slack) bool { return f.tool == k.tool && f.span == k.span })
		if k.stays && s.Holds[k.tool].There && !s.Grounded && k.from-s.At < k.by && !again {
			left = append(left, k)
		}
	}
	return append(left, frees...)
}

// failOne is the table of single failures with the slack in it.
func (list slacks) failOne(sc *stance.Scene, s *stance.Stance) []stance.Lost {
	loose := *s
	for _, k := range list {
		loose.Holds[k.tool].At -= min(k.by, k.by-(k.from-s.At))
	}
	return sc.FailOne(&loose)
}

// untying says how a loop comes out.
func untying(sc *stance.Scene, list slacks) (words, reason string) {
	if len(list) == 0 {
		return "Untie the loop.", "The backup's way is clear."
	}
	k := list[0]
	switch {
	case k.stays:
		return fmt.Sprintf("Untie the loop. What it frees, about %v, stays as slack above the knot over %s: go on at once.", k.by.M(), sc.Tools[k.tool].Label),
			"Until you are so much lower the backup catches so much later."
	}
	return fmt.Sprintf("Untie the loop; draw what it frees, about %v, up through %s until its rope is tight.", k.by.M(), sc.Tools[k.tool].Label),
		"Until it is drawn up the backup catches so much later."
}
