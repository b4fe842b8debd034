// Package strict reads JSON from outside into Go values and refuses whatever it
// does not fully understand: unknown, missing and repeated fields, wrong types,
// figures that are not finite or too large, text in the place of a figure, deep
// nesting and large input. Every problem carries the JSON Pointer (RFC 6901) of
// the place it is at.
//
// What a field accepts is declared once, in the struct tags from which the
// published JSON Schema is made too: required unless omitempty, omitzero or default,
// minimum, exclusiveMinimum, maximum, enum, minLength, maxLength, minItems,
// maxItems, pattern, format:"date", format:"date-time", default (of a figure) and nullable, where
// null means the same as leaving the field out. A type with a method Enum() []string lists
// its values itself.
//
// It knows JSON and tags. It knows nothing of the job.
package strict

import (
	"cmp"
	"encoding/json"
	"errors"
	"fmt"
	"reflect"
	"strings"
	"unicode/utf8"
)

const (
	// MaxBytes is the largest input that is read.
	MaxBytes = 1 << 20
	// MaxDepth is the deepest nesting that is read.
	MaxDepth = 32
	// MaxFaults is how many problems are gathered before reading stops.
	MaxFaults = 20

	maxText  = 2000
	maxItems = 2000
)

// A Fault is one thing wrong with the input and where it is.
type Fault struct {
	Pointer string `json:"pointer" doc:"JSON Pointer of the place; empty for the whole input"`
	Detail  string `json:"detail"`
}

// Error is returned for input that was refused; nothing of it is to be used.
type Error struct {
	Faults []Fault
}

func (e *Error) Error() string {
	lines := make([]string, len(e.Faults))
	for i, p := range e.Faults {
		at := p.Pointer
		if at == "" {
			at = "input"
		}
		lines[i] = at + ": " + p.Detail
	}
	return strings.Join(lines, "\n")
}

// Faults gathers what is wrong with a value that was read; the zero value is
// ready to use.
type Faults struct {
	// Most is how many are gathered; 0: MaxFaults.
	Most int

	list []Fault
}

func (p *Faults) full() bool { return len(p.list) >= cmp.Or(p.Most, MaxFaults) }

// Add records a problem. Pointer parts are strings and ints.
func (p *Faults) Add(detail string, pointer ...any) {
	if !p.full() {
		p.list = append(p.list, Fault{Pointer: Pointer(pointer...), Detail: detail})
	}
}

// Addf is Add with a format; the pointer comes first.
func (p *Faults) Addf(pointer string, format string, args ...any) {
	if !p.full() {
		p.list = append(p.list, Fault{Pointer: pointer, Detail: fmt.Sprintf(format, args...)})
	}
}

// Err is an *Error holding the problems, or nil when there are none.
func (p *Faults) Err() error {
	if len(p.list) == 0 {
		return nil
	}
	return &Error{Faults: p.list}
}

// Refused reports whether an error names what was refused, as *Error.
func Refused(err error) bool {
	var refused *Error
	return errors.As(err, &refused)
}

// Faultf is the error of a single fault: Addf and Err in one.
func Faultf(pointer, format string, args ...any) error {
	var p Faults
	p.Addf(pointer, format, args...)
	return p.Err()
}

// Pointer writes a JSON Pointer from its parts.
func Pointer(parts ...any) string {
	var b strings.Builder
	for _, part := range parts {
		b.WriteByte('/')
		s := fmt.Sprint(part)
		s = strings.ReplaceAll(s, "~", "~0")
		b.WriteString(strings.ReplaceAll(s, "/", "~1"))
	}
	return b.String()
}

// A Union is a struct that stands for one of several kinds of value: the first of
// its fields that takes the kind that is there gets it.
type Union interface{ Union() }

var unionType = reflect.TypeFor[Union]()

// Has reports whether text is a JSON object with a field of a name; of text that is none, it
// reports that it has not.
func Has(text []byte, name string) bool {
	var fields map[string]json.RawMessage
	return json.Unmarshal(text, &fields) == nil && fields[name] != nil
}

// Read reads one JSON value into the value that into points to; into several
// structs, one object that has the fields of all. On any problem it returns an
// *Error; nothing of into must then be used.
func Read(data []byte, into ...any) error {
	var faults Faults
	ReadWith(&faults, data, into...)
	return faults.Err()
}

// ReadWith is Read for lists of which each entry counts by itself: it adds its problems to
// faults. Whole is false where reading could not go on to the end; entries that no problem
// points into may be used where it is true.
func ReadWith(faults *Faults, data []byte, into ...any) (whole bool) {
	if len(data) > MaxBytes {
		faults.Addf("", "too large: %d bytes, at most %d are read", len(data), MaxBytes)
		return false
	}
	r := &reader{data: string(data), valid: utf8.Valid(data), faults: *faults}
	defer func() { *faults = r.faults }()
	values := make([]reflect.Value, len(into))
	for i, v := range into {
		values[i] = reflect.ValueOf(v).Elem()
	}
	return r.top(values) && r.end() && !r.faults.full()
}

func (r *reader) top(values []reflect.Value) bool {
	if len(values) == 1 {
		return r.value(values[0], planOf(values[0].Type()), nil)
	}
	p := joined(values)
	if c := r.peek(); c != '{' {
		return r.mismatch(p, c)
	}
	return r.object(p, values...)
}
