package strict

import (
	"reflect"
	"strings"
)

// reader walks the input once. Methods that return a bool return false when
// reading cannot go on; the reason is then among the problems.
type reader struct {
	// data is the whole input; texts that are read are parts of it.
	data string
	// valid is set where all of data is UTF-8.
	valid  bool
	pos    int
	depth  int
	path   []step
	faults Faults
}

// step is one part of the path to where the reader is: a member, or an index
// where the name is empty and index is not negative.
type step struct {
	name  string
	index int
}

// pointer is the JSON Pointer of where the reader is.
func (r *reader) pointer(more ...any) string {
	var parts []any
	for _, s := range r.path {
		if s.index >= 0 {
			parts = append(parts, s.index)
		} else {
			parts = append(parts, s.name)
		}
	}
	return Pointer(append(parts, more...)...)
}

func (r *reader) report(format string, args ...any) {
	r.faults.Addf(r.pointer(), format, args...)
}

// fail reports a problem after which nothing more can be read.
func (r *reader) fail(format string, args ...any) bool {
	line := 1 + strings.Count(r.data[:min(r.pos, len(r.data))], "\n")
	r.report(format+" (line %d)", append(args, line)...)
	return false
}

func (r *reader) space() {
	for r.pos < len(r.data) {
		switch r.data[r.pos] {
		case ' ', '\t', '\n', '\r':
			r.pos++
		default:
			return
		}
	}
}

// peek gives the next byte that is not white space, 0 at the end.
func (r *reader) peek() byte {
	r.space()
	if r.pos < len(r.data) {
		return r.data[r.pos]
	}
	return 0
}

func (r *reader) end() bool {
	r.space()
	if r.pos < len(r.data) {
		return r.fail("more text after the end of the value")
	}
	return true
}

// open enters an object or a list.
func (r *reader) open() bool {
	if r.depth++; r.depth > MaxDepth {
		return r.fail("nested deeper than %d", MaxDepth)
	}
	r.pos++
	return true
}

func (r *reader) shut() {
	r.depth--
	r.pos++
}

func (r *reader) value(v reflect.Value, p *plan, l *limits) bool {
	if r.faults.full() {
		return false
	}
	c := r.peek()
	if c == 'n' && strings.HasPrefix(r.data[r.pos:], "null") && (l != nil && l.null || p.kind == reflect.Pointer && p.elem.null) {
		return r.skip()
	}
	if p.kind == reflect.Pointer {
		v.Set(reflect.New(v.Type().Elem()))
		return r.value(v.Elem(), p.elem, l)
	}
	if p.union {
		return r.either(v, p, c)
	}
	switch {
	case c == '{' && p.kind == reflect.Struct:
		return r.object(p, v)
	case c == '{' && p.kind == reflect.Map:
		return r.table(v, p, l)
	case c == '[' && p.kind == reflect.Slice:
		return r.list(v, p, l)
	case c == '"' && p.kind == reflect.String:
		return r.text(v, l)
	case (c == 't' || c == 'f') && p.kind == reflect.Bool:
		v.SetBool(c == 't')
		return r.skip()
	case beginsFigure(c) && (p.kind == reflect.Float64 || p.kind == reflect.Int):
		return r.figure(v, p, l)
	}
	return r.mismatch(p, c)
}

// mismatch reports a value of the wrong type and passes over it.
func (r *reader) mismatch(p *plan, c byte) bool {
	wants := map[reflect.Kind]string{
		reflect.Struct: "an object", reflect.Map: "an object", reflect.Slice: "a list", reflect.String: "text",
		reflect.Bool: "true or false", reflect.Float64: "a plain number", reflect.Int: "a whole number",
	}[p.kind]
	start, at := r.pos, len(r.faults.list)
	if !r.skip() {
		return false
	}
	if len(r.faults.list) > at {
		return true
	}
	got := r.data[start:r.pos]
	switch {
	case c == 'n':
		r.report("must be %s; leave the field out when there is none", wants)
	case c == '"' && (p.kind == reflect.Float64 || p.kind == reflect.Int):
		r.report("must be %s in the unit its name gives, not text %.40s", wants, got)
	case c == '{' || c == '[':
		// What is in it may be a secret; the kind says enough.
		r.report("must be %s, not %s", wants, map[byte]string{'{': "an object", '[': "a list"}[c])
	default:
		r.report("must be %s, not %.40s", wants, got)
	}
	return true
}

// members calls each for every member of an object, in order; its name is then
// the last step of the path. Field is the member's place in the plan, -1 where
// the plan has none; each reads the value.
func (r *reader) members(p *plan, each func(field int) bool) bool {
	if !r.open() {
		return false
	}
	last := -1
	for first := true; ; first = false {
		c := r.peek()
		if c == '}' && first {
			r.shut()
			return true
		}
		if c != '"' {
			return r.fail("a field name is expected here")
		}
		name, field, ok := r.member(p, last)
		if !ok {
			return false
		}
		if r.peek() != ':' {
			return r.fail("a colon is expected after %q", name)
		}
		r.pos++
		r.path = append(r.path, step{name, -1})
		last = max(last, field)
		if !each(field) {
			return false
		}
		r.path = r.path[:len(r.path)-1]
		switch r.peek() {
		case ',':
			r.pos++
		case '}':
			r.shut()
			return true
		default:
			return r.fail("a comma or } is expected here")
		}
	}
}

// member reads a name and looks it up in a plan. Most input has its members in
// the order of the plan, so those after the last are tried first.
func (r *reader) member(p *plan, last int) (name string, field int, ok bool) {
	if p != nil {
		for i := last + 1; i < len(p.fields); i++ {
			if f := &p.fields[i]; strings.HasPrefix(r.data[r.pos:], f.quoted) {
				r.pos += len(f.quoted)
				return f.name, i, true
			}
		}
	}
	quoted, escaped, ok := r.scanText()
	if !ok {
		return "", -1, false
	}
	name, ok = r.unquote(quoted, escaped)
	if p != nil {
		if i, known := p.names[name]; known {
			return name, i, ok
		}
	}
	return name, -1, ok
}

// either reads the alternative of a union that takes values of this kind; where
// none does, the first says so.
func (r *reader) either(v reflect.Value, p *plan, c byte) bool {
	for i := range p.fields {
		f := &p.fields[i]
		if f.plan.takes(c) || i == len(p.fields)-1 {
			return r.value(v.Field(f.index), f.plan, &f.limits)
		}
	}
	return false
}

// takes reports whether a value that begins with c may be of the plan's kind.
func (p *plan) takes(c byte) bool {
	switch p.kind {
	case reflect.Pointer:
		return p.elem.takes(c)
	case reflect.Struct, reflect.Map:
		return c == '{'
	case reflect.Slice:
		return c == '['
	case reflect.String:
		return c == '"'
	default:
		return c == '-' || c >= '0' && c <= '9'
	}
}

// object reads an object whose fields are those of one struct, or of several.
func (r *reader) object(p *plan, targets ...reflect.Value) bool {
	var seen uint64
	ok := r.members(p, func(i int) bool {
		if i < 0 {
			r.report("%s", p.unknown(r.path[len(r.path)-1].name))
			return r.skip()
		}
		if seen&(1<<i) != 0 {
			r.report("given twice")
			return r.skip()
		}
		seen |= 1 << i
		f := &p.fields[i]
		return r.value(targets[f.target].Field(f.index), f.plan, &f.limits)
	})
	if !ok {
		return false
	}
	for i := range p.fields {
		switch f := &p.fields[i]; {
		case seen&(1<<i) != 0:
		case f.required:
			r.faults.Addf(r.pointer(f.name), "missing")
		case f.fallback != nil:
			setFigure(targets[f.target].Field(f.index), *f.fallback)
		}
	}
	return true
}

func (r *reader) table(v reflect.Value, p *plan, l *limits) bool {
	v.Set(reflect.MakeMap(v.Type()))
	return r.members(nil, func(int) bool {
		key := reflect.ValueOf(r.path[len(r.path)-1].name).Convert(v.Type().Key())
		if v.MapIndex(key).IsValid() {
			r.report("given twice")
			return r.skip()
		}
		e := reflect.New(v.Type().Elem()).Elem()
		if !r.value(e, p.elem, l) {
			return false
		}
		v.SetMapIndex(key, e)
		return v.Len() <= maxItems || r.fail("more than %d entries", maxItems)
	})
}

func (r *reader) list(v reflect.Value, p *plan, l *limits) bool {
	if !r.open() {
		return false
	}
	most := maxItems
	if l != nil {
		most = l.maxItems
	}
	v.Set(reflect.MakeSlice(v.Type(), 0, 4))
	n := 0
	for ; ; n++ {
		if r.peek() == ']' && n == 0 {
			break
		}
		if n == most {
			return r.fail("more than %d entries", most)
		}
		v.Grow(1)
		v.SetLen(n + 1)
		r.path = append(r.path, step{index: n})
		if !r.value(v.Index(n), p.elem, l) {
			return false
		}
		r.path = r.path[:len(r.path)-1]
		c := r.peek()
		if c == ']' {
			n++
			break
		}
		if c != ',' {
			return r.fail("a comma or ] is expected here")
		}
		r.pos++
	}
	r.shut()
	if l != nil && n < l.minItems {
		r.report("needs at least %d", l.minItems)
	}
	return true
}

// skip passes over one value of any type, checking only that it is JSON.
func (r *reader) skip() bool {
	switch c := r.peek(); {
	case c == '{':
		return r.members(nil, func(int) bool { return r.skip() })
	case c == '[':
		return r.skipList()
	case c == '"':
		quoted, escaped, ok := r.scanText()
		if ok {
			_, ok = r.unquote(quoted, escaped)
		}
		return ok
	case c == '-' || c >= '0' && c <= '9':
		_, ok := r.scanNumber()
		return ok
	}
	for _, word := range []string{"true", "false", "null"} {
		if strings.HasPrefix(r.data[r.pos:], word) {
			r.pos += len(word)
			return true
		}
	}
	return r.notJSON()
}

func (r *reader) skipList() bool {
	if !r.open() {
		return false
	}
	if r.peek() == ']' {
		r.shut()
		return true
	}
	for r.skip() {
		switch r.peek() {
		case ',':
			r.pos++
		case ']':
			r.shut()
			return true
		default:
			return r.fail("a comma or ] is expected here")
		}
	}
	return false
}

func (r *reader) notJSON() bool {
	rest := r.data[r.pos:min(len(r.data), r.pos+12)]
	switch {
	case rest == "":
		return r.fail("the text ends too early")
	case strings.HasPrefix(rest, "NaN"), strings.HasPrefix(rest, "Inf"), strings.HasPrefix(rest, "inf"), strings.HasPrefix(rest, "nan"):
		return r.fail("%s is not a figure", strings.TrimRight(rest, " ,}\n"))
	}
	return r.fail("not JSON: %q", rest)
}
