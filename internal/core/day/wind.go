package day

import (
	"fmt"
	"math"

	"zealousknot/internal/core/finding"
	"zealousknot/internal/core/quantity"
)

// profile is the exponent of the wind over height: v(z) = v(r) (z/r)^0.2, the power law for
// land with trees and single buildings. It errs low over edges and beside buildings, high in
// open country.
const profile = 0.2

// atWork raises a wind to the height of the work where it is stated for a lower one; it is
// never lowered.
func (b *board) atWork(v quantity.MetresPerSecond, top quantity.Metres) quantity.MetresPerSecond {
	if b.WindAtM <= 0 || top <= b.WindAtM {
		return v
	}
	return v * quantity.MetresPerSecond(math.Pow(float64(top/b.WindAtM), profile))
}

// stands is until when a row of the wind stands: the next row, an hour at most.
func (b *board) stands(i int) Span {
	from := b.Wind[i].At.Minutes()
	to := from + 60
	if i+1 < len(b.Wind) {
		to = min(to, b.Wind[i+1].At.Minutes())
	}
	return Span{from, to}
}

// limitOf is the lowest limit of a drop for gusts, and whose it is.
func (b *board) limitOf(o *onDrop, s *Slot) (limit quantity.MetresPerSecond, whose string) {
	limit, whose = b.day.GustMS, "the policy's limit for gusts"
	if s.GustMS > 0 && s.GustMS < limit {
		limit, whose = s.GustMS, "the site's own limit"
	}
	if o.wind != nil && *o.wind < limit {
		limit, whose = *o.wind, "the wind at which slack above "+o.windOf+" passes its limit"
	}
	return limit, whose
}

// shutBy says why a row of the wind stops a drop, with its figures; empty where it does not.
func (b *board) shutBy(i int, o *onDrop, s *Slot) (why string, at, limit quantity.MetresPerSecond) {
	w := &b.Wind[i]
	v := w.WindMS
	if w.GustMS != nil {
		v = *w.GustMS
	}
	at = b.atWork(v, o.doc.Geometry.TopM)
	limit, whose := b.limitOf(o, s)
	if w.Lightning {
		return "lightning", at, limit
	}
	if at <= limit {
		return "", at, limit
	}
	what := "gusts of"
	if w.GustMS == nil {
		what = "wind of"
	}
	now, most := quantity.Beside(at, limit)
	return fmt.Sprintf("%s %s at the height of the work, above %s, %s", what, now, most, whose), at, limit
}

// shut are the stretches of the day in which the weather stops a drop; those that follow each
// other are one, with the reason of the strongest.
func (b *board) shut(o *onDrop, s *Slot) []Shut {
	var list []Shut
	for i := range b.Wind {
		why, at, limit := b.shutBy(i, o, s)
		if why == "" {
			continue
		}
		now := Shut{b.stands(i), why, at, limit, b.Wind[i].Lightning}
		n := len(list) - 1
		if n < 0 || list[n].To != now.From {
			list = append(list, now)
			continue
		}
		was := &list[n]
		if was.To = now.To; now.Lightning && !was.Lightning || now.Lightning == was.Lightning && at > was.GustMS {
			was.Why, was.GustMS, was.Lightning = why, at, now.Lightning
		}
	}
	return list
}

// unknown are the stretches of a span for which no wind is stated.
func (b *board) unknown(span Span) []Span {
	var list []Span
	at := span.From
	for i := range b.Wind {
		row := b.stands(i)
		if row.To <= at || row.From >= span.To {
			continue
		}
		if row.From > at {
			list = append(list, Span{at, row.From})
		}
		at = row.To
	}
	if at < span.To {
		list = append(list, Span{at, span.To})
	}
	return list
}

// gustless counts the rows within a span that state a wind without its gusts.
func (b *board) gustless(span Span) (n int) {
	for i := range b.Wind {
		if b.Wind[i].GustMS == nil && b.stands(i).meets(span, 0) {
			n++
		}
	}
	return n
}

// windy is day.wind: one finding a drop, of the worst row within its hours.
func windy(b *board) []finding.Finding {
	var found []finding.Finding
	for _, t := range b.turns() {
		worst, rows := -1, 0
		var most quantity.MetresPerSecond
		for i := range b.Wind {
			why, at, _ := b.shutBy(i, t.onDrop, t.slot)
			if why == "" || !b.stands(i).meets(t.span, 0) {
				continue
			}
			if rows++; worst < 0 || at > most || b.Wind[i].Lightning && !b.Wind[worst].Lightning {
				worst, most = i, at
			}
		}
		if worst < 0 {
			continue
		}
		why, at, limit := b.shutBy(worst, t.onDrop, t.slot)
		found = append(found, finding.Finding{
			Severity: finding.Stop, Subject: t.subject(),
			What:    fmt.Sprintf("At %s: %s; in %d of the stated hours of %s.", b.Wind[worst].At, why, rows, t.doc.Name),
			Figures: []finding.Figure{finding.Fig("gust at work", at), finding.Fig("limit", limit)},
			Why:     "Wind draws slack into backups, swings people, and takes away what they hear; gusts are past before anybody is down.",
			Remedy:  "Move the drop to other hours, or wait.",
			Source:  "the policy " + b.policy.Name + ", the site, and the drop's own rig",
			Working: b.working(worst, t.onDrop),
		})
	}
	return found
}

// working is how the wind at the height of the work was got.
func (b *board) working(i int, o *onDrop) []finding.Working {
	if b.WindAtM <= 0 {
		return nil
	}
	w := &b.Wind[i]
	v := w.WindMS
	if w.GustMS != nil {
		v = *w.GustMS
	}
	return []finding.Working{finding.Work("gust at the height of the work", "v (z / r)^0.2, never less than v", b.atWork(v, o.doc.Geometry.TopM),
		"low over edges and beside buildings; high in open country", finding.Fig("v", v), finding.Fig("z", o.doc.Geometry.TopM), finding.Fig("r", b.WindAtM))}
}
