package strict

import (
	"fmt"
	"math"
	"reflect"
	"strconv"

	"zealousknot/internal/core/quantity"
)

func setFigure(v reflect.Value, f float64) {
	if v.CanInt() {
		v.SetInt(int64(f))
	} else {
		v.SetFloat(f)
	}
}

func (r *reader) figure(v reflect.Value, p *plan, l *limits) bool {
	s, ok := r.scanNumber()
	if !ok {
		return false
	}
	f, err := strconv.ParseFloat(s, 64)
	if err != nil || math.Abs(f) >= quantity.Limit {
		r.report("%.40s is too large a figure", s)
		return true
	}
	if wrong := l.wrongFigure(f); wrong != "" {
		r.report("%s", wrong)
	}
	if p.kind == reflect.Float64 {
		v.SetFloat(f)
		return true
	}
	if f != math.Trunc(f) {
		r.report("must be a whole number, not %s", s)
		return true
	}
	if v.OverflowInt(int64(f)) {
		r.report("%s is too large a figure", s)
		return true
	}
	v.SetInt(int64(f))
	return true
}

func (l *limits) wrongFigure(f float64) string {
	switch {
	case l == nil:
		return ""
	case l.exclusiveMin != nil && f <= *l.exclusiveMin:
		return fmt.Sprintf("must be more than %v, not %v", *l.exclusiveMin, f)
	case l.min != nil && f < *l.min:
		return fmt.Sprintf("must be %v or more, not %v", *l.min, f)
	case l.max != nil && f > *l.max:
		return fmt.Sprintf("must be %v or less, not %v", *l.max, f)
	}
	return ""
}

// scanNumber reads a number of the JSON grammar.
func (r *reader) scanNumber() (string, bool) {
	start := r.pos
	if r.data[r.pos] == '-' {
		r.pos++
	}
	first := r.pos
	whole := r.digits()
	ok := whole > 0 && (whole == 1 || r.data[first] != '0')
	if ok && r.pos < len(r.data) && r.data[r.pos] == '.' {
		r.pos++
		ok = r.digits() > 0
	}
	if ok && r.pos < len(r.data) && (r.data[r.pos] == 'e' || r.data[r.pos] == 'E') {
		r.pos++
		if r.pos < len(r.data) && (r.data[r.pos] == '+' || r.data[r.pos] == '-') {
			r.pos++
		}
		ok = r.digits() > 0
	}
	if !ok {
		return "", r.fail("not a number as JSON writes them")
	}
	return r.data[start:r.pos], true
}

func (r *reader) digits() int {
	start := r.pos
	for r.pos < len(r.data) && r.data[r.pos] >= '0' && r.data[r.pos] <= '9' {
		r.pos++
	}
	return r.pos - start
}

func beginsFigure(c byte) bool { return c == '-' || c >= '0' && c <= '9' }
